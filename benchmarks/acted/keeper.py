"""The shop as the open window keeps it: outlooks of what was touched, a plan that looks after the one before."""

from __future__ import annotations

import time
from collections.abc import Collection
from datetime import date, datetime

from ravden.app.better_plan import better
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.app.shop_days import ShopDays, days_of
from ravden.app.shop_ends import Ends, waits_over, with_ends, with_waits
from ravden.app.shop_plan import planned, snapshot, stands
from ravden.app.shop_problem import Steps
from ravden.core.ahead.outlook import Outlook, redated
from ravden.core.errors import InputError
from ravden.core.schedule.hold import same

ROUNDS, LATE = 3, 120


class Keeper:
    """days: the plan as it is shown; failed: outlooks that raised, by instrument; fresh: when each was worked out."""

    def __init__(self, session: ShopSession, clock: HandClock) -> None:
        self.session, self.clock = session, clock
        self.days = ShopDays()
        self.outlooks: dict[str, Outlook] = {}
        self.fresh: dict[str, datetime] = {}
        self.failed: dict[str, str] = {}
        self.taken = 0  # offers of a better plan, which this finisher always takes
        self.told: set[str] = set()  # instruments whose work was moved since the last look, with a reason
        self._last = 0
        self._ends: Ends = {}
        self._promised: tuple[object, ...] = ()
        self._offered: date | None = None

    def ask(self, instrument: str) -> Outlook | None:
        """An outlook now, dated by the plan at hand."""
        try:
            found = self.session.request(instrument).run()
        except InputError as error:
            self.failed[instrument] = str(error)
            self.outlooks.pop(instrument, None)
            return None
        self.outlooks[instrument], self.fresh[instrument] = found, self.clock.now()
        return found

    def settle(self, touched: set[str]) -> float:
        """What is shown once all has come; how long that took [s]."""
        began = time.perf_counter()
        racked = self.session.shop.racked
        self.outlooks = {i: f for i, f in self.outlooks.items() if i in racked}
        for instrument in racked:
            if instrument in touched or instrument not in self.outlooks:
                self.ask(instrument)
        made_of = self.days.made.asked.outlooks.keys() if self.days.made is not None else ()
        self._rounds(touched, made_of)
        if self._offered != self.clock.now().date():
            self._offered = self.clock.now().date()  # once a day is what a rest between two acts finds
            self._take_offer()
        self.days, self._ends = with_ends(self.days, self.outlooks), waits_over(self.outlooks)
        self.session.held = with_waits(self.session.held, self._ends)
        return time.perf_counter() - began

    def _rounds(self, touched: set[str], made_of: Collection[str]) -> None:
        racked = self.session.shop.racked
        for _ in range(ROUNDS + 1):
            made = self.days.made
            if made is not None and not touched and made_of == racked.keys() and stands(made, self.outlooks):
                break
            made_of = racked.keys()
            touched = set()
            self._plan()

    def _take_offer(self) -> None:
        made = self.days.made
        if made is None or made.plan is None:
            return
        found = better(made)
        if found is not None:
            self.taken += 1
            self.told |= set(made.parts)
            self._plan(made.steps_of(found.plan))
            self._rounds(set(), self.session.shop.racked.keys())

    def _plan(self, taken: Steps | None = None) -> None:
        shop, now = self.session.shop, self.clock.now()
        made = self.days.made
        standing = {} if made is None else {k: s for k, s in made.steps.items() if k[0] in shop.racked}
        fresh = [e for e in self.session.entries[-LATE:] if e.id > self._last and not e.body.by_machine]
        promised = tuple((i, r.instrument.promised_h, r.weight, r.firm) for i, r in shop.racked.items())
        pressed = "promise" if promised != self._promised else ""
        asked = snapshot(
            shop, now, self.outlooks, standing if taken is None else taken, pressed=pressed,
            touched=frozenset(e.instrument for e in fresh),
        )  # fmt: skip
        self._last, self._promised = self.session.entries[-1].id if self.session.entries else 0, promised
        self.days = days_of(planned(asked))
        self.told |= {move.instrument for move in self.days.moves}
        made = self.days.made
        assert made is not None
        self.session.held = with_waits(made.held, self._ends)
        for instrument, found in self.outlooks.items():
            held = made.held.get(instrument, {})
            if not same(found.held, held):
                self.outlooks[instrument] = redated(found, self.session.held.get(instrument, {}))

    def ends(self) -> dict[str, datetime]:
        """When the plan is over with each instrument."""
        from ravden.core.schedule.problem import job_end

        made = self.days.made
        if made is None or made.problem is None or made.as_shown is None:
            return {}
        from ravden.app.shop_problem import Clock

        clock = Clock(made.asked.hours, made.asked.now)
        return {
            job.id: clock.moment(job_end(made.problem, made.as_shown, j)) for j, job in enumerate(made.problem.jobs)
        }
