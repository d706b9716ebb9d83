"""The Rack among the places."""

from __future__ import annotations

from operator import is_not
from typing import TYPE_CHECKING

from ravden.app.session import ShopSession
from ravden.text.tables import Table
from ravden.ui.places.rack import presenter
from ravden.ui.places.rack.view import RackView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.place import Place

if TYPE_CHECKING:
    from ravden.app.shop_days import ShopDays


class RackPlace(Place):
    """All instruments, from the outlooks known by now, and the days ahead of them together."""

    def __init__(self, session: ShopSession, view: RackView, around: Around) -> None:
        super().__init__(session, view, view.lanes)
        self._outlooks, self._pending = around.outlooks, around.pending
        remembered = around.shell.remembered
        view.arrange(remembered.rack_density, remembered.rack_grouped)
        view.arranged.connect(self._arranged)
        view.days_asked.connect(self._turned)
        view.started.connect(lambda instrument, where: around.shell.guarded(lambda: self._start(instrument, where)))
        self._remembered, self._shell = remembered, around.shell
        self._days: ShopDays | None = None
        self._planned_from: tuple[object, ...] = ()  # the outlooks that the days are made of, or will be
        self._planning = LatestJob(self, around.pool)
        self._planning.done.connect(self._planned)

    @property
    def busy(self) -> bool:
        return self._planning.busy

    def show(self) -> None:
        if self.view.isHidden():
            return
        self._plan()
        view, known = self.view, dict(self._outlooks())
        promises = None if self._days is None else self._days.promises
        shown = presenter.show(
            self.session, known, grouped=view.group.isChecked(), typed=view.sought.text(), promises=promises
        )
        view.show_rack(shown, self.session.selected)
        if not view.days_ahead.isChecked() or not shown.many:
            view.show_days(None)
            return
        from ravden.ui.places.rack import days

        view.show_days(days.show(self._days, shown.now))

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.rack.tables import days_table, tables

        grouped, typed = self.view.group.isChecked(), self.view.sought.text()
        known = dict(self._outlooks())
        shown = presenter.show(self.session, known, grouped=grouped, typed=typed)
        lanes = tables(shown)
        if self._days is None:
            return lanes
        ahead = days_table(shown.shop, self._days, shown.now)
        return (ahead, *lanes) if self.view.days_ahead.isChecked() else (*lanes, ahead)

    def forget(self) -> None:
        if not self._outlooks():  # another file
            self._days, self._planned_from = None, ()

    def _plan(self) -> None:
        """Ask for the shop's plan once every instrument's outlook is known, and again when one of them is another: not
        while more are on their way, since it would be made anew for each."""
        known = self._outlooks()
        if not self.live or not known or self._pending() or any(i not in known for i in self.session.shop.racked):
            return
        # Of each outlook a small part stands for it, so that the whole of an old one is let go of.
        made_of = tuple(known[i].progress for i in self.session.shop.racked)
        if len(made_of) != len(self._planned_from) or any(map(is_not, made_of, self._planned_from)):
            from ravden.app.shop_days import asked

            self._planned_from = made_of
            self._planning.submit(asked(self.session, known))

    def _planned(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif outcome.serial == self._planning.latest:
            self._days = outcome.value
            self.show()
        self.settled.emit()

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
