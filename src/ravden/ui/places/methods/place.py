"""The Methods place among the places."""

from ravden.ui.places.methods.control import MethodsControl
from ravden.ui.places.methods.view import MethodsView
from ravden.ui.shell.around import Around


def build(around: Around) -> MethodsControl:
    """The Methods place, wired to its files."""
    view, shell, session = MethodsView(), around.shell, around.session
    view.head.instrument_picked.connect(lambda i: session.select(i, "chooser"))
    view.save_asked.connect(lambda m: shell.guarded(lambda: around.files.save_method(m)))
    view.read_asked.connect(lambda: shell.guarded(around.files.read_method))
    made = MethodsControl(session, view, around.pool, around.outlooks)
    made.told.connect(shell.say)
    return made
