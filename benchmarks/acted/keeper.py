"""The shop as the open window keeps it: outlooks of what was touched, a plan that looks after the one before."""

from __future__ import annotations

import time
from datetime import datetime

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.app.shop_days import ShopDays, days_of
from ravden.app.shop_ends import with_ends
from ravden.app.shop_plan import planned, snapshot, stands
from ravden.core.ahead.outlook import Outlook, redated
from ravden.core.errors import InputError
from ravden.core.schedule.hold import same

ROUNDS = 3


class Keeper:
    """days: the plan as it is shown; failed: outlooks that raised, by instrument; fresh: when each was worked out."""

    def __init__(self, session: ShopSession, clock: HandClock) -> None:
        self.session, self.clock = session, clock
        self.days = ShopDays()
        self.outlooks: dict[str, Outlook] = {}
        self.fresh: dict[str, datetime] = {}
        self.failed: dict[str, str] = {}
        self._last = 0

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
        for _ in range(ROUNDS + 1):
            made = self.days.made
            if made is not None and not touched and made_of == racked.keys() and stands(made, self.outlooks):
                break
            made_of = racked.keys()
            touched = set()
            self._plan()
        self.days = with_ends(self.days, self.outlooks)
        return time.perf_counter() - began

    def _plan(self) -> None:
        shop, now = self.session.shop, self.clock.now()
        made = self.days.made
        last = self.session.entries[-1].id if self.session.entries else 0
        standing = {} if made is None else {k: s for k, s in made.steps.items() if k[0] in shop.racked}
        asked = snapshot(shop, now, self.outlooks, standing, afresh=last != self._last)
        self._last = last
        self.days = days_of(planned(asked))
        made = self.days.made
        assert made is not None
        self.session.held = dict(made.held)
        for instrument, found in self.outlooks.items():
            held = made.held.get(instrument, {})
            if not same(found.held, held):
                self.outlooks[instrument] = redated(found, held)

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
