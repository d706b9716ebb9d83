"""The Shop among the places."""

from ravden.app.session import ShopSession
from ravden.ui.places.shop import presenter
from ravden.ui.places.shop.listening import Listening
from ravden.ui.places.shop.view import ShopView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.place import Place


class ShopPlace(Place):
    """Air, guns and rates of the shop."""

    def __init__(self, session: ShopSession, view: ShopView, around: Around) -> None:
        super().__init__(session, view, view.buttons["air"])
        self._outlooks = around.outlooks
        self.listening = Listening(session, view)
        self.listening.failed.connect(around.shell.say)

    def stop(self) -> None:
        self.listening.stop()
        super().stop()

    def show(self) -> None:
        if not self.view.isHidden():
            self.view.show_shop(presenter.show(self.session, dict(self._outlooks())), self.session.units)


def build(around: Around) -> ShopPlace:
    """The Shop, and what listens to its sensors."""
    view = ShopView()
    view.asked.connect(around.shell.shop_asked)
    return ShopPlace(around.session, view, around)
