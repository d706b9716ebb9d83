"""What is asked for from the days ahead: acts on a line, and questions to the plan."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app import move_words, shop_acts, shop_questions
from ravden.app.forms import promise
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.text import written
from ravden.text.say import fault
from ravden.ui.places.rack import said
from ravden.ui.places.rack.answers import AnswerShown, WayShown
from ravden.ui.shell.around import Around
from ravden.ui.widgets.latest_job import LatestJob, Outcome

if TYPE_CHECKING:
    from ravden.app.shop_plan import ShopPlanned
    from ravden.app.shop_questions import Ready, WayOut
    from ravden.core.schedule.wire import SearchTold
    from ravden.ui.places.rack.days import DayRow
    from ravden.ui.places.rack.view import RackView

SEARCHING = "Searching …"
DRAG_DAYS = 60  # ahead that a block may be dragged to
ALIKE = "Searched: there is no better way than with the fewest changes."


class DayActs(QObject):
    """answer: what is shown under the days, None for nothing; changed: it is another."""

    changed = pyqtSignal()
    settled = pyqtSignal()
    failed = pyqtSignal(object)

    def __init__(self, session: ShopSession, view: RackView, around: Around) -> None:
        super().__init__(view)
        self._session, self._view, self._around = session, view, around
        self.answer: AnswerShown | None = None
        self._of: ShopPlanned | None = None  # the plan that was asked
        self._instrument = ""
        self._quick: Ready | None = None
        self._ways: list[WayOut] = []
        self._chain: tuple[str, tuple[str, ...]] = ("", ())
        self._offered = False  # whether it is the better plan that is shown
        self._job = LatestJob(self, around.pool)
        self._job.done.connect(self._answered)
        view.lanes.legal = self._legal
        view.lanes.dropped.connect(lambda *what: around.shell.guarded(lambda: self._dropped(*what)))
        view.day_asked.connect(lambda act, row: around.shell.guarded(lambda: self._act(act, row)))
        view.answered.connect(lambda what, of: around.shell.guarded(lambda: self._answer(what, of)))

    @property
    def busy(self) -> bool:
        return self._job.busy

    def forget(self) -> None:
        """The plan is another: what was answered of the last one does not hold."""
        made = None if self._around.planning.days is None else self._around.planning.days.made
        if self._of is not None and made is not self._of and not self._still(made):
            self._show(None)

    def _still(self, made: ShopPlanned | None) -> bool:
        """Whether the plan that was asked is still the same, made anew by the clock alone."""
        return made is not None and self._of is not None and made.steps == self._of.steps

    def _planned(self) -> ShopPlanned:
        days = self._around.planning.days
        if days is None or days.made is None or days.made.plan is None:
            raise InputError("", "the days are still being worked out")
        return days.made

    # a block dragged to another day

    def _legal(self, instrument: str, step: str) -> dict[date, str]:
        days = self._around.planning.days
        if days is None or days.made is None or instrument not in days.made.parts:
            return {}
        until = self._now.date() + timedelta(days=DRAG_DAYS)
        found = shop_questions.days_for(days.made, instrument, step, until)
        return {day: said.NOT_ON[why] for day, why in found.items()}

    def _dropped(self, instrument: str, step: str, day: date, why_not: str) -> None:
        if why_not:
            raise InputError("", why_not)
        shop_acts.pin_on(self._session, instrument, step, day)

    # acts

    def _act(self, act: str, row: DayRow) -> None:
        session, doing = self._session, row.doing
        if act == "start":
            self._start(row)
        elif act == "why":
            self._why(row.instrument)
        elif act == "ready":
            self._ask_day(row.instrument)
        elif doing is not None:
            acts: dict[str, Callable[[], object]] = {
                "later": lambda: shop_acts.later(session, doing),
                "else": lambda: shop_acts.someone_else(session, doing),
                "done": lambda: shop_acts.done_already(session, doing),
                "pin": lambda: shop_acts.pin_here(session, doing), "unpin": lambda: shop_acts.unpin(session, doing),
            }  # fmt: skip
            acts[act]()

    def _start(self, row: DayRow) -> None:
        """To the place a line's work is done from, on its instrument; the Booth with its session in it."""
        days, doing = self._around.planning.days, row.doing
        names = () if days is None or doing is None else shop_acts.in_session(days, doing)
        self._session.select(row.instrument, "days")
        if names and row.where == "booth":
            self._around.shell.begin_session(names)
        else:
            self._around.shell.turn_to(row.where)

    def _answer(self, what: str, of: object) -> None:
        if what == "keep":
            kept = self._session.shop.kept is not None
            shop_acts.follow(self._session) if kept else shop_acts.keep(self._session, self._planned())
        elif what == "print":
            self._around.files.save_days(self._write)
        elif what == "leave":
            offered = self._offered
            self._show(None)
            if offered:
                self._around.planning.leave_offer()
            self._around.planning.answered()
        elif what == "offer":
            self._show_offer()
        elif what == "promise" and self._quick is not None:
            instrument, by = self._quick.instrument, self._quick.by
            self._show(None)
            shop_acts.promise(self._session, instrument, by, firm=bool(of))
        elif what == "ways":
            self._offer()
        elif what == "day" and isinstance(of, str):
            self._ready(of)
        elif what == "take" and isinstance(of, int):
            self._take(of)

    def _write(self, path: Path) -> None:
        from ravden.ui.places.rack.day_sheet import write

        days = self._around.planning.days
        assert days is not None
        write(self._session.shop.name, days, self._now, self._view.span, path)

    # questions

    @property
    def _now(self) -> datetime:
        return self._session.local(self._session.now)

    def _show(self, answer: AnswerShown | None) -> None:
        self.answer, self._offered = answer, False
        if answer is None:
            self._of, self._quick, self._ways = None, None, []
        self.changed.emit()

    def _show_offer(self) -> None:
        """The better plan that is offered, with what it moves."""
        from ravden.app.better_plan import as_way

        offer = self._around.planning.offer
        if offer is None:
            return
        named = len(self._session.shop.crew.hands) > 1
        lines = said.way_lines(as_way(offer), self._now, named)
        self._of = offer.made
        ways = (WayShown(name=said.OFFERED, lines=lines),)
        self._show(AnswerShown(heading=said.BETTER, lines=(move_words.offered(offer),), ways=ways))
        self._offered = True

    def _why(self, instrument: str) -> None:
        made = self._planned()
        links = shop_questions.why(made, instrument)
        self._of = made
        name = made.asked.outlooks[instrument].project.instrument.name
        how = "" if made.shown is None else " with the fewest changes"
        lines = said.chain(links, self._now)
        if not made.asked.promises.get(instrument, (1, False))[1] or not shop_questions.firm_missed(made):
            self._show(AnswerShown(heading=f"{name}, back from its end{how}", lines=lines))
            return
        # A firm date that is not met: which others it clashes with is searched for.
        self._chain = (f"{name}, back from its end{how}", lines)
        self._show(AnswerShown(heading=self._chain[0], lines=(*lines, SEARCHING)))
        self._around.planning.search(shop_questions.clash_asked(made), self._clashed)

    def _clashed(self, told: SearchTold) -> None:
        if self._of is not None and told.clash is not None:
            found = said.clash_lines(shop_questions.clashing(self._of, told.clash), self._now)
            self._show(AnswerShown(heading=self._chain[0], lines=(*self._chain[1], *found)))

    def _ask_day(self, instrument: str) -> None:
        made = self._planned()
        shop_questions.job_of(made, instrument)
        self._of, self._instrument, self._quick = made, instrument, None
        name = made.asked.outlooks[instrument].project.instrument.name
        hint = written.typed_day(self._now.date())
        self._show(AnswerShown(heading=f"Can {name} be ready by …?", asks_day=True, hint=f"such as {hint}"))
        if self._view.days is not None:
            self._view.days.answer.day.setFocus()

    def _ready(self, typed: str) -> None:
        session, made = self._session, self._of
        assert made is not None
        try:
            text = promise(typed, self._now, session.shop.hours)
        except InputError as error:
            self._around.shell.say(fault(error, session.units))
            return
        if text is None:
            return
        by = session.local(datetime.fromisoformat(text))
        self._job.submit(shop_questions.ready(made, self._instrument, by))

    def _answered(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif outcome.serial == self._job.latest and self._of is not None:
            self._quick = outcome.value
            self._show_ready(outcome.value)
            request = shop_questions.ready_asked(self._of, self._instrument, outcome.value.by)
            self._around.planning.search(request, self._searched)
        self.settled.emit()

    def _show_ready(self, found: Ready) -> None:
        heading = f"Can {found.name} be ready by {written.day(found.by.date())}?"
        lines = said.ready_lines(found, self._now)
        rack = self._session.shop.on_rack(found.instrument)
        now_h = rack.instrument.promised_h
        same = now_h is not None and abs(now_h - rack.hours(found.by)) < 1
        day = written.day(found.by.date())
        does = f"Keep it for {day}" if same else f"Promise it for {day}"
        self._show(
            AnswerShown(heading=heading, lines=lines, asks_day=True, hint="another day", does=does, firm=rack.firm)
        )

    def _searched(self, told: SearchTold) -> None:
        if told.over and told.squeezed and self._of is not None and self._quick is not None:
            self._show_ready(shop_questions.answered(self._of, self._quick, told.alone_min, told.best))

    # ways out

    def _offer(self) -> None:
        """The ways out of a plan that cannot stand, side by side."""
        made = self._planned()
        assert made.plan is not None
        self._of = made
        self._ways = [shop_questions.way_out(made, made.plan, "changes")]
        self._show_ways(SEARCHING)
        self._around.planning.search(shop_questions.offers_asked(made), self._better)

    def _better(self, told: SearchTold) -> None:
        from ravden.core.schedule.wire import taken

        made = self._of
        if made is None or not self._ways or told.plan is None:
            return
        found = shop_questions.way_out(made, taken(told.plan), "late")
        first = self._ways[0].figures
        alike = found.figures.late_days >= first.late_days
        self._ways = self._ways[:1] if alike else [self._ways[0], found]
        self._show_ways("" if not told.over else ALIKE if alike else "", searching=not told.over)

    def _show_ways(self, note: str, *, searching: bool = True) -> None:
        named = len(self._session.shop.crew.hands) > 1
        ways = [WayShown(name=said.OFFERS[w.kind], lines=said.way_lines(w, self._now, named)) for w in self._ways]
        broken = 0 if self._of is None else len(self._of.broken)
        lines = (SEARCHING,) if searching else (note,) if note else ()
        self._show(AnswerShown(heading=said.cannot_stand(broken), lines=lines, ways=tuple(ways)))

    def _take(self, at: int) -> None:
        if self._offered:
            self._show(None)
            self._around.planning.take_offer()
            return
        made = self._of
        if made is None or at >= len(self._ways):
            return
        way = self._ways[at]
        self._show(None)
        shop_acts.keep(self._session, made, way.plan, way.kind)
        self._around.planning.answered()
