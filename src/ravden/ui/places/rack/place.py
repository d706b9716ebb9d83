"""The Rack among the places."""

from __future__ import annotations

from ravden.app.session import ShopSession
from ravden.text.tables import Table
from ravden.ui.places.rack import presenter
from ravden.ui.places.rack.day_acts import DayActs
from ravden.ui.places.rack.view import RackView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.place import Place


class RackPlace(Place):
    """All instruments, from the outlooks known by now, and the days ahead of them together."""

    def __init__(self, session: ShopSession, view: RackView, around: Around) -> None:
        super().__init__(session, view, view.lanes)
        self._outlooks, self._troubles, self._planning = around.outlooks, around.troubles, around.planning
        remembered = around.shell.remembered
        view.arrange(remembered.rack_density, remembered.rack_grouped)
        view.arranged.connect(self._arranged)
        shell = around.shell
        view.lanes.wrong_asked.connect(lambda i: shell.guarded(lambda: shell.something_wrong(i)))
        view.days_asked.connect(self._turned)
        view.ways_asked.connect(self._to_ways)
        self.acts = DayActs(session, view, around)
        self.acts.changed.connect(self.show)
        self.acts.failed.connect(self.failed)
        self.acts.settled.connect(self.settled)
        self._remembered, self._shell = remembered, around.shell

    @property
    def busy(self) -> bool:
        return self.acts.busy

    def planned(self) -> None:
        self.acts.forget()
        self.show()

    def show(self) -> None:
        if self.view.isHidden():
            return
        view, known, planned = self.view, dict(self._outlooks()), self._planning.days
        shown = presenter.show(
            self.session, known, grouped=view.group.isChecked(), typed=view.sought.text(), planned=planned,
            troubles=self._troubles(), offer=self._planning.offer,
        )  # fmt: skip
        if view.days is not None:
            view.days.answer.show_answer(self.acts.answer)
        view.show_rack(shown, self.session.selected)
        if not view.days_ahead.isChecked() or not shown.many:
            view.show_days(None, None)
            return
        from ravden.ui.places.rack import days

        moves = tuple(m for m in self._planning.moves if m.instrument in self.session.shop.racked)
        ahead = days.show(planned, shown.now, view.span, self.session.units, moves)
        view.show_days(ahead, self.acts.answer)

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.rack.tables import days_table, tables

        grouped, typed = self.view.group.isChecked(), self.view.sought.text()
        known = dict(self._outlooks())
        shown = presenter.show(self.session, known, grouped=grouped, typed=typed, troubles=self._troubles())
        lanes, planned = tables(shown), self._planning.days
        if planned is None:
            return lanes
        ahead = days_table(shown.shop, planned, shown.now)
        return (ahead, *lanes) if self.view.days_ahead.isChecked() else (*lanes, ahead)

    def _to_ways(self) -> None:
        """The ways out of a plan that cannot stand, or the better plan that is offered, under the days."""
        self.view.days_ahead.setChecked(True)
        self.view.answered.emit("ways" if self._planning.offer is None else "offer", None)

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
