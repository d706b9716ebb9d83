"""The days ahead in the shop: every instrument's next work in one plan, so that no two want the same hands. No Qt."""

from __future__ import annotations

import contextlib
import sys
from collections.abc import Callable, Iterator, Mapping
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.text.plan_words import BETWEEN_LABEL

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.schedule.jobs import Left, What
    from ravden.core.schedule.problem import Plan, Problem
    from ravden.journal.hours import ShopHours

TIDY_DAYS = 7  # that are shown
SAFE, UNLIKELY = 0.8, 0.3  # odds of a promise from which it is called safe, and below which unlikely
SAMPLES = 2000  # of the odds of a promise
GIVES_WAY_S = 0.0003
MOST = 60  # instruments one plan is made of


class Doing(Struct, frozen=True, kw_only=True):
    """A piece of work in the shop's days. instrument: its id, for a gun that of the one it is for first; name: of the
    instrument, or of what is in the gun; at: on the shop's wall; minutes: of hands; where: the place it is done
    from."""

    instrument: str
    name: str
    what: str
    at: datetime
    minutes: int
    where: str


class Promise(Struct, frozen=True, kw_only=True):
    """What becomes of a promise by this plan. promised, ends: on the shop's wall; odds: that it is kept, nobody
    planning anew; loose: the step whose wait is known least, empty where none is long."""

    instrument: str
    name: str
    promised: datetime
    ends: datetime
    odds: float
    loose: str

    @property
    def word(self) -> str:
        """safe, tight, or unlikely."""
        return "safe" if self.odds >= SAFE else "unlikely" if self.odds < UNLIKELY else "tight"


class ShopDays(Struct, frozen=True, kw_only=True):
    """The plan of the shop. aside: instruments that are in no plan, by name, since their film does not get there;
    too_long: those with a piece of work that none of the shop's hours holds; beyond: how many more there are than one
    plan is made of."""

    doings: tuple[Doing, ...] = ()
    promises: tuple[Promise, ...] = ()
    aside: tuple[str, ...] = ()
    too_long: tuple[str, ...] = ()
    beyond: int = 0

    def by_day(self, days: int, today: date) -> tuple[tuple[date, tuple[Doing, ...]], ...]:
        """The work of each of so many days from today on, as it follows; days without any are left out."""
        found: dict[date, list[Doing]] = {}
        for doing in self.doings:
            if doing.at.date() < today + timedelta(days=days):
                found.setdefault(doing.at.date(), []).append(doing)
        return tuple((day, tuple(found[day])) for day in sorted(found))


def asked(session: ShopSession, outlooks: Mapping[str, Outlook]) -> Callable[[], ShopDays]:
    """Work to be done off the GUI thread: the plan of all instruments whose outlooks are known."""
    shop, now = session.shop, session.local(session.now)
    some = {i: found for i, found in outlooks.items() if i in shop.racked}
    zeros = {i: session.local(shop.on_rack(i).zero).date() for i in some}
    labels = {m.id: m.label for m in session.catalogue.materials.values()}
    first = dict(sorted(some.items(), key=lambda one: _urgency(one[1]))[:MOST])

    def work() -> ShopDays:
        with _giving_way():
            return replace(_planned(first, zeros, shop.hours, now, labels), beyond=len(some) - len(first))

    return work


@contextlib.contextmanager
def _giving_way() -> Iterator[None]:
    """Work in plain Python lets whoever paints go on within a third of a millisecond: it asks for its turn again after
    every array it draws, and waits each time for as long as the interpreter lets one thread go on."""
    before = sys.getswitchinterval()
    sys.setswitchinterval(GIVES_WAY_S)
    try:
        yield
    finally:
        sys.setswitchinterval(before)


def _urgency(found: Outlook) -> tuple[bool, float]:
    """What is promised first, what there is most time for last."""
    promised = found.project.instrument.promised_h
    return promised is None, 0.0 if promised is None else promised - found.now_h


def _planned(
    outlooks: Mapping[str, Outlook], zeros: Mapping[str, date], hours: ShopHours, now: datetime,
    labels: Mapping[str, str],
) -> ShopDays:  # fmt: skip
    from ravden.core.schedule.dispatch import dispatch
    from ravden.core.schedule.jobs import Wall, left_of, likely_of, shop_of
    from ravden.core.schedule.odds import Draw, odds
    from ravden.core.schedule.tidy import tidied

    parts: dict[str, Left] = {}
    aside: list[str] = []
    too_long: list[str] = []
    for name, found in outlooks.items():
        left = left_of(found, Wall(hours=found.hours, today=(now.date() - zeros[name]).days))
        if left is None:
            aside.append(found.project.instrument.name)
        elif left.job.steps:
            parts[name] = left
    problem, plan = None, None
    while parts and plan is None:
        one = next(iter(parts))
        today = (now.date() - zeros[one]).days
        problem = shop_of(tuple(parts.values()), outlooks[one].hours, today, now.hour * 60 + now.minute)
        tried = dispatch(problem)
        plan = tried.plan
        if tried.stuck is not None:
            name = list(parts)[tried.stuck[0]]
            too_long.append(outlooks[name].project.instrument.name)
            del parts[name]
    if problem is None or plan is None:
        return ShopDays(aside=tuple(aside), too_long=tuple(too_long))
    plan = tidied(problem, plan, TIDY_DAYS)
    told = _Told(outlooks, tuple(parts.items()), hours, now)
    doings = sorted([*told.steps(problem, plan), *told.booth(problem, plan, labels)], key=lambda d: (d.at, d.name))
    chances = odds(likely_of(problem, tuple(parts.values())), plan, Draw(samples=SAMPLES))
    promises = told.promises(problem, plan, chances)
    return ShopDays(doings=tuple(doings), promises=promises, aside=tuple(aside), too_long=tuple(too_long))


class _Told:
    """A plan of minutes and numbers as work of named instruments at the shop's hours."""

    def __init__(
        self, outlooks: Mapping[str, Outlook], parts: tuple[tuple[str, Left], ...], hours: ShopHours, now: datetime
    ) -> None:
        self._outlooks, self._parts, self._hours, self._now = outlooks, parts, hours, now

    def at(self, minute: int) -> datetime:
        """A minute of the plan on the shop's wall."""
        naive = datetime.combine(self._now.date(), time()) + timedelta(minutes=minute)
        try:
            return self._hours.on_the_wall(naive, self._now)
        except InputError:  # an hour the wall never shows
            return self._hours.on_the_wall(naive + timedelta(hours=1), self._now)

    def steps(self, problem: Problem, plan: Plan) -> Iterator[Doing]:
        """Work on the instruments, coat by coat."""
        for j, (name, left) in enumerate(self._parts):
            found, laid = self._outlooks[name], self._outlooks[name].progress.coats_done
            for k, what in enumerate(left.what):
                step, placed = problem.jobs[j].steps[k], plan.placed[j, k]
                stage = found.method.stage[what.place]
                own = stage.kind == "coats" and not stage.finish and what.kind in ("coats", "hands")
                if placed.scuff_min is not None and step.scuff is not None:
                    yield self._doing(name, BETWEEN_LABEL["scuff"], placed.scuff_min, step.scuff.hands_min, "film")
                for nth, minute in enumerate(placed.starts_min):
                    laid += own
                    said = f"Coat {laid} of {max(found.method.coats, laid)}" if own else _said(found, what, nth)
                    yield self._doing(name, said, minute, step.coat_min or step.hands_min, _where(stage.kind, what))

    def booth(self, problem: Problem, plan: Plan, labels: Mapping[str, str]) -> Iterator[Doing]:
        """Setting up and cleaning for each session; they lead to the instrument that is sprayed first in it."""
        from ravden.core.schedule.problem import DAY

        first: dict[tuple[str, int], tuple[int, str]] = {}
        for (j, k), placed in plan.placed.items():
            material, at = problem.jobs[j].steps[k].material, placed.starts_min[0]
            if material:
                there = material, at // DAY
                first[there] = min(first.get(there, (at, problem.jobs[j].id)), (at, problem.jobs[j].id))
        for session in plan.sessions:
            instrument = first[session.material, session.day][1]
            paint, label = problem.materials[session.material], labels.get(session.material, session.material)
            cleaned = session.to_min - paint.clean_min
            for said, minute, took in (
                ("Set up", session.from_min, paint.setup_min), ("Clean the gun", cleaned, paint.clean_min),
            ):  # fmt: skip
                yield Doing(
                    instrument=instrument, name=label, what=said, at=self.at(minute), minutes=took, where="booth"
                )

    def promises(self, problem: Problem, plan: Plan, chances: Mapping[int, float]) -> tuple[Promise, ...]:
        """Every instrument that was promised, the least likely to be kept first."""
        from ravden.core.schedule.problem import job_end

        out = []
        for j, (name, left) in enumerate(self._parts):
            promised = problem.jobs[j].promised_min
            if promised is not None:
                found = self._outlooks[name]
                loose = "" if left.loose is None else _waited_for(found, left.what[left.loose])
                out.append(
                    Promise(
                        instrument=name, name=found.project.instrument.name, promised=self.at(promised),
                        ends=self.at(job_end(problem, plan, j)), odds=chances[j], loose=loose,
                    )
                )  # fmt: skip
        return tuple(sorted(out, key=lambda p: (p.odds, p.promised)))

    def _doing(self, name: str, what: str, minute: int, minutes: int, where: str) -> Doing:
        item = self._outlooks[name].project.instrument
        return Doing(instrument=name, name=item.name, what=what, at=self.at(minute), minutes=minutes, where=where)


def _said(found: Outlook, what: What, nth: int) -> str:
    """Work that is no coat of the instrument's own finish."""
    label = found.method.stage[what.place].label
    if what.kind in BETWEEN_LABEL:
        return BETWEEN_LABEL[what.kind]
    if what.kind == "case":
        return f"{label}: over"
    if what.of > 1:
        return f"{label}, {what.nth + nth} of {what.of}"
    return label


def _waited_for(found: Outlook, what: What) -> str:
    """What the wait before a step is called in its method."""
    stages = found.method.stage
    if what.kind == "case":
        return stages[what.place].label
    before = what.place - 1
    return stages[before].label if before >= 0 and stages[before].kind == "wait" else stages[what.place].label


def _where(kind: str, what: What) -> str:
    """The place a piece of work is done from."""
    if kind == "coats" and what.kind in ("coats", "hands", "light"):
        return "booth"
    return "rubout" if kind in ("level", "rub-out") else "film"
