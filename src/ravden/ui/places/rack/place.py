"""The Rack among the places."""

from ravden.app.session import ShopSession
from ravden.text.tables import Table
from ravden.ui.places.rack import presenter
from ravden.ui.places.rack.view import RackView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.place import Place


class RackPlace(Place):
    """All instruments, from the outlooks known by now."""

    def __init__(self, session: ShopSession, view: RackView, around: Around) -> None:
        super().__init__(session, view, view.lanes)
        self._outlooks = around.outlooks
        remembered = around.shell.remembered
        view.arrange(remembered.rack_density, remembered.rack_grouped)
        view.arranged.connect(self._arranged)
        self._remembered = remembered

    def show(self) -> None:
        if not self.view.isHidden():
            view = self.view
            shown = presenter.show(
                self.session, dict(self._outlooks()), grouped=view.group.isChecked(), typed=view.sought.text()
            )
            view.show_rack(shown, self.session.selected)

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.rack.tables import tables

        grouped, typed = self.view.group.isChecked(), self.view.sought.text()
        return tables(presenter.show(self.session, dict(self._outlooks()), grouped=grouped, typed=typed))

    def _arranged(self) -> None:
        """Lanes are found, grouped, or closer to one another; the last two are remembered."""
        self._remembered.rack_density = self.view.density.currentData()
        self._remembered.rack_grouped = self.view.group.isChecked()
        self.show()


def build(around: Around) -> RackPlace:
    """The Rack; its view was painted before anything else was there."""
    return RackPlace(around.session, around.shell.rack, around)
