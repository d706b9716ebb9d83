"""The Rack among the places."""

from __future__ import annotations

from ravden.app.session import ShopSession
from ravden.text.tables import Table
from ravden.ui.places.rack import presenter
from ravden.ui.places.rack.view import RackView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.place import Place


class RackPlace(Place):
    """All instruments, from the outlooks known by now, and the days ahead of them together."""

    def __init__(self, session: ShopSession, view: RackView, around: Around) -> None:
        super().__init__(session, view, view.lanes)
        self._outlooks, self._days = around.outlooks, around.days
        remembered = around.shell.remembered
        view.arrange(remembered.rack_density, remembered.rack_grouped)
        view.arranged.connect(self._arranged)
        view.days_asked.connect(self._turned)
        view.started.connect(lambda instrument, where: around.shell.guarded(lambda: self._start(instrument, where)))
        self._remembered, self._shell = remembered, around.shell

    def planned(self) -> None:
        self.show()

    def show(self) -> None:
        if self.view.isHidden():
            return
        view, known, planned = self.view, dict(self._outlooks()), self._days()
        promises = None if planned is None else planned.promises
        shown = presenter.show(
            self.session, known, grouped=view.group.isChecked(), typed=view.sought.text(), promises=promises
        )
        view.show_rack(shown, self.session.selected)
        if not view.days_ahead.isChecked() or not shown.many:
            view.show_days(None)
            return
        from ravden.ui.places.rack import days

        view.show_days(days.show(planned, shown.now))

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.rack.tables import days_table, tables

        grouped, typed = self.view.group.isChecked(), self.view.sought.text()
        known = dict(self._outlooks())
        shown = presenter.show(self.session, known, grouped=grouped, typed=typed)
        lanes, planned = tables(shown), self._days()
        if planned is None:
            return lanes
        ahead = days_table(shown.shop, planned, shown.now)
        return (ahead, *lanes) if self.view.days_ahead.isChecked() else (*lanes, ahead)

    def _start(self, instrument: str, where: str) -> None:
        """To the place a line's work is done from, on its instrument."""
        self.session.select(instrument, "days")
        self._shell.turn_to(where)

    def _turned(self) -> None:
        """To the days ahead, or back to the lanes."""
        self.show()
        shown = self.view.days
        to_days = self.view.days_ahead.isChecked() and shown is not None
        (shown.list if to_days else self.view.lanes).setFocus()

    def _arranged(self) -> None:
        """Lanes are found, grouped, or closer to one another; the last two are remembered."""
        self._remembered.rack_density = self.view.density.currentData()
        self._remembered.rack_grouped = self.view.group.isChecked()
        self.show()


def build(around: Around) -> RackPlace:
    """The Rack; its view was painted before anything else was there."""
    return RackPlace(around.session, around.shell.rack, around)
