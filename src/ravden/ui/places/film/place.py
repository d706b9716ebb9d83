"""The Film place: the film of the instrument turned to, on one of its zones."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from ravden.app.session import ShopSession
from ravden.catalogue.assemble import body
from ravden.core.ahead.outlook import Outlook
from ravden.text.tables import Table
from ravden.ui.places.film import advice, presenter
from ravden.ui.places.film.tryout import TryOut
from ravden.ui.places.film.view import FilmView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.place import Place

if TYPE_CHECKING:
    from ravden.app.troubles import Trouble


class FilmPlace(Place):
    """zone: the one looked at, empty for the usual one; spot: where on the outline was pointed at; found: the outlook
    shown, turned to that zone."""

    waits = True

    def __init__(self, session: ShopSession, view: FilmView, around: Around) -> None:
        super().__init__(session, view, view.timeline)
        self._troubles, self._planning, pool = around.troubles, around.planning, around.pool
        self.found: Outlook | None = None
        self.shown: presenter.FilmShown | None = None
        self.zone = ""
        self.cursor_h: float | None = None
        self.spot: tuple[str, float, float] | None = None
        self._turning = LatestJob(self, pool)
        self._turning.done.connect(self._turned)
        self.tryout = TryOut(session, view, pool)
        self.tryout.failed.connect(self.failed)
        self.tryout.settled.connect(self.settled)
        view.zone_picked.connect(self._zone_picked)
        view.cursor_moved.connect(self._cursor_moved)
        view.side.zones.placed.connect(self._placed)

    @property
    def busy(self) -> bool:
        return self._turning.busy or self.tryout.busy

    def forget(self) -> None:
        self.zone, self.cursor_h, self.found = "", None, None

    def take(self, found: Outlook) -> None:
        self.found, self.spot = found, None
        if self.zone in ("", found.zone):
            self.show()
        else:
            self._turn(found)

    def trouble(self, found: Trouble) -> None:
        """Nothing can be drawn: the entries themselves, the one that is to blame chosen, to correct or take back."""
        self.found = None
        rack = self.session.rack
        if self.view.isHidden() or rack is None:
            return
        self.view.show_trouble(advice.trouble(self.session, rack, found))

    def _zone_picked(self, zone: str) -> None:
        self.zone = zone
        if self.found is not None:
            self._turn(self.found)

    def _turn(self, found: Outlook) -> None:
        """The same outlook on the zone looked at: one zone's film, and nothing else, is worked out."""
        from ravden.core.ahead.counsel import look_at

        self._turning.submit(partial(look_at, found, self.zone))

    def _turned(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif self.found is not None and outcome.value.known is self.found.known:
            self.found = outcome.value
            self.show()
        self.settled.emit()

    def show(self) -> None:
        found = self.found
        wrong = self._troubles().get(self.session.selected)
        if wrong is not None:
            self.trouble(wrong)
            return
        self.view.no_trouble()
        if found is None or self.view.isHidden() or found.project.instrument.id not in self.session.shop.racked:
            return
        shape = body(found.project.instrument.measures)
        days = self._planning.days
        who = "" if days is None else days.hands_on(found.project.instrument.id)
        self.shown = presenter.show(self.session, found, shape, who)
        self.view.show_film(self.shown, self.session.units, self.cursor_h)
        self.tryout.show(found, self.shown)
        self._show_section()

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.film.tables import tables

        return () if self.shown is None or self.found is None else tables(self.session, self.shown, self.found)

    def _show_section(self) -> None:
        if self.shown is None:
            return
        at_h = self.shown.now_h if self.cursor_h is None else self.cursor_h
        self.view.show_section(presenter.section(self.session, self.shown, at_h), self.shown, at_h)

    def _placed(self, zone: str, along_mm: float, across_mm: float) -> None:
        self.spot = (zone, along_mm, across_mm)

    def _cursor_moved(self, at_h: float) -> None:
        now = self.shown.now_h if self.shown is not None else 0.0
        self.cursor_h = self.tryout.cursor_h = None if abs(at_h - now) < 1e-9 else at_h
        self._show_section()


def build(around: Around) -> FilmPlace:
    """The Film place, wired to logging and to the plan."""
    view, shell, anywhere, session = FilmView(), around.shell, around.anywhere, around.session
    guarded = shell.guarded
    view.head.instrument_picked.connect(lambda i: session.select(i, "chooser"))
    view.sanding_asked.connect(lambda: guarded(lambda: anywhere.ask("sanding")))
    view.coat_asked.connect(lambda: guarded(anywhere.log_coat))
    view.reading_asked.connect(lambda: guarded(lambda: anywhere.ask("reading")))
    view.light_asked.connect(lambda: guarded(lambda: anywhere.ask("light")))
    view.step_asked.connect(lambda: guarded(anywhere.step_done))
    view.step_picked.connect(shell.show_step)
    view.wrong_asked.connect(lambda: guarded(shell.something_wrong))
    log = view.side.log
    log.correct_asked.connect(lambda i: guarded(lambda: anywhere.correct(i)))
    log.back_asked.connect(lambda i: guarded(lambda: session.take_back(i, "log")))
    return FilmPlace(session, view, around)
