"""The Rack among the places."""

from ravden.app.session import ShopSession
from ravden.ui.places.rack import presenter
from ravden.ui.places.rack.view import RackView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.place import Place


class RackPlace(Place):
    """All instruments, from the outlooks known by now."""

    def __init__(self, session: ShopSession, view: RackView, around: Around) -> None:
        super().__init__(session, view, view.lanes)
        self._outlooks = around.outlooks

    def show(self) -> None:
        if not self.view.isHidden():
            self.view.show_rack(presenter.show(self.session, dict(self._outlooks())), self.session.selected)


def build(around: Around) -> RackPlace:
    """The Rack; its view was painted before anything else was there."""
    return RackPlace(around.session, around.shell.rack, around)
