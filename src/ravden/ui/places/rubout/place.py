"""The Rub-out among the places."""

from ravden.ui.places.rubout.control import RubOutControl
from ravden.ui.places.rubout.view import RubOutView
from ravden.ui.shell.around import Around


def build(around: Around) -> RubOutControl:
    """The Rub-out, wired to logging and to its bench card."""
    view, shell, session = RubOutView(), around.shell, around.session
    view.head.instrument_picked.connect(lambda i: session.select(i, "chooser"))
    view.sanding_asked.connect(lambda: shell.guarded(lambda: around.anywhere.ask("sanding")))
    view.card_asked.connect(lambda: shell.guarded(around.files.bench_card))
    control = RubOutControl(session, view, around.pool, around)
    view.practise_asked.connect(lambda: shell.guarded(control.practise))
    view.look_asked.connect(lambda: shell.guarded(control.look_at_photos))
    return control
