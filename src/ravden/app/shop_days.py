"""The days ahead in the shop: every instrument's next work in one plan, so that no two want the same hands. No Qt."""

from __future__ import annotations

import functools
import re
from collections.abc import Callable, Iterator, Mapping
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.giving_way import giving_way
from ravden.app.looks_asked import Look, looks
from ravden.app.plan_moves import Move, moves_of
from ravden.app.session import ShopSession
from ravden.app.shop_plan import NoDay, ShopPlanned, planned, snapshot
from ravden.app.shop_problem import Clock, Steps, wall_of
from ravden.app.step_words import step_said
from ravden.core.method.slots import place_of
from ravden.text import wait_words
from ravden.text.plan_words import BETWEEN_LABEL

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.schedule.jobs import What
    from ravden.core.schedule.problem import Plan, Problem

TIDY_DAYS = 7  # that are shown
Work = Callable[[], "ShopDays"]
SAFE, UNLIKELY = 0.8, 0.3  # odds of a promise from which it is called safe, and below which unlikely
SAMPLES = 2000  # of the odds of a promise


class Doing(Struct, frozen=True, kw_only=True):
    """A piece of work in the shop's days. instrument: its id, for a gun that of the one it is for first; name: of the
    instrument, or of what is in the gun; at: on the shop's wall; minutes: of hands; where: the place it is done
    from; who: whose hands; step: its id in the plan, empty for a gun; kind: hands, wheel, coats, scuff, light, case or
    gun; broken: it cannot stand; pinned: it is held by hand, loose: and its pin cannot stand, so that it does not
    count; first: nothing else comes before it on its instrument; own_coat: a coat of the instrument's own finish;
    measure: the zone to measure before it, empty: none."""

    instrument: str
    name: str
    what: str
    at: datetime
    minutes: int
    where: str
    who: str = ""
    step: str = ""
    kind: str = "hands"
    broken: bool = False
    pinned: bool = False
    loose: bool = False
    first: bool = False
    own_coat: bool = False
    measure: str = ""

    @property
    def ends(self) -> datetime:
        return self.at + timedelta(minutes=self.minutes)


class Stay(Struct, frozen=True, kw_only=True):
    """An instrument in the warm cabinet."""

    instrument: str
    name: str
    at: datetime
    until: datetime


class Sitting(Struct, frozen=True, kw_only=True):
    """A session in the booth, set-up and cleaning in it. instruments: in the order of their first coats."""

    material: str
    label: str
    who: str
    at: datetime
    until: datetime
    instruments: tuple[str, ...]


class Promise(Struct, frozen=True, kw_only=True):
    """What becomes of a promise by this plan. promised, ends: on the shop's wall; odds: that it is kept, nobody
    planning anew; loose: the step whose wait is known least, empty where none is long; repaired: the plan that is kept
    cannot stand, so that this is with the fewest changes to it; firm: it has to be met."""

    instrument: str
    name: str
    promised: datetime
    ends: datetime
    odds: float
    loose: str
    repaired: bool = False
    firm: bool = False

    @property
    def word(self) -> str:
        """safe, tight, or unlikely."""
        return "safe" if self.odds >= SAFE else "unlikely" if self.odds < UNLIKELY else "tight"


class ShopDays(Struct, frozen=True, kw_only=True, dict=True):
    """The plan of the shop. made: from what and how, None where there is none yet; moves: what was moved of the one
    before, and why; unplanned: instruments no day was
    found for, with why; looks: that would tell how fast a finish dries here; beyond: how many more there are than one
    plan is made of; proves: whether there is what proves a plan best."""

    made: ShopPlanned | None = None
    moves: tuple[Move, ...] = ()
    doings: tuple[Doing, ...] = ()
    sittings: tuple[Sitting, ...] = ()
    stays: tuple[Stay, ...] = ()
    promises: tuple[Promise, ...] = ()
    unplanned: tuple[NoDay, ...] = ()
    looks: tuple[Look, ...] = ()
    beyond: int = 0
    proves: bool = True

    @functools.cached_property
    def by_instrument(self) -> dict[str, tuple[Doing, ...]]:
        """The work on each instrument, as it follows; what is done to a gun is left out."""
        found: dict[str, list[Doing]] = {}
        for doing in self.doings:
            if doing.kind != "gun":
                found.setdefault(doing.instrument, []).append(doing)
        return {name: tuple(mine) for name, mine in found.items()}

    def hands_on(self, instrument: str) -> str:
        """Whose hands are on an instrument next; empty: nobody's, or nobody is named."""
        from ravden.core.schedule.shop import HANDS

        mine = self.by_instrument.get(instrument, ())
        return mine[0].who if mine and mine[0].who != HANDS else ""

    def by_day(self, days: int, today: date) -> tuple[tuple[date, tuple[Doing, ...]], ...]:
        """The work of each of so many days from today on, as it follows; days without any, and without a look that is
        asked for, are left out."""
        found: dict[date, list[Doing]] = {}
        for doing in self.doings:
            if doing.at.date() < today + timedelta(days=days):
                found.setdefault(doing.at.date(), []).append(doing)
        for look in self.looks:
            if look.at.date() < today + timedelta(days=days):
                found.setdefault(look.at.date(), [])
        return tuple((day, tuple(found[day])) for day in sorted(found))


def asked(
    session: ShopSession, outlooks: Mapping[str, Outlook], standing: Steps | None = None, *, pressed: str = "",
    touched: frozenset[str] = frozenset(),
) -> Work:  # fmt: skip
    """Work to be done off the GUI thread: the plan of all instruments whose outlooks are known, and its days. standing:
    the plan before, where the shop keeps none; pressed, touched: since it was made, as for a snapshot."""
    now = snapshot(session.shop, session.now, outlooks, standing or {}, pressed=pressed, touched=touched)
    told = session.kept.foretold()

    def work() -> ShopDays:
        with giving_way():
            days = days_of(planned(now))
            hands = {name: mine[0].at for name, mine in days.by_instrument.items()}
            days = replace(days, looks=looks(now, hands, told))
            if days.made is not None:
                days.made.worked_out()
            return days

    return work


def days_of(found: ShopPlanned) -> ShopDays:
    """A plan as work of named instruments at the shop's hours. The days that are shown are tidied where it was made
    from nothing: in one that stands that would move work at every act."""
    from ravden.core.schedule import exact
    from ravden.core.schedule.odds import Draw, odds
    from ravden.core.schedule.shop import likely_of
    from ravden.core.schedule.tidy import tidied

    aside = ShopDays(proves=exact.available(), made=found, unplanned=found.unplanned, beyond=found.asked.more)
    problem, plan = found.problem, found.plan
    if problem is None or plan is None:
        return aside
    if not found.asked.kept and found.anew:
        plan = tidied(problem, plan, TIDY_DAYS)
        found = replace(found, plan=plan)
    told = _Told(found)
    shown = found.as_shown or plan
    doings = sorted([*told.steps(problem, shown), *told.booth(problem, shown)], key=lambda d: (d.at, d.who, d.name))
    chances = odds(likely_of(problem, tuple(found.parts.values())), plan, Draw(samples=SAMPLES))
    return replace(
        aside, made=found, moves=moves_of(found), doings=tuple(doings), sittings=tuple(told.sittings(problem, shown)),
        stays=tuple(told.stays(problem, shown)), promises=told.promises(problem, plan, chances),
    )  # fmt: skip


def calendars(days: ShopDays, now: datetime) -> dict[str, bytes]:
    """The plan as a calendar for everybody's hands: an event a step, coats of a session together."""
    from ravden.exchange.calendar import of_hands

    events: dict[str, dict[str, tuple[str, datetime, datetime]]] = {}
    for doing in days.doings:
        if doing.kind == "case":
            continue
        what = f"{doing.step.removesuffix('s')}s" if doing.kind == "scuff" else doing.step
        what = re.sub(r"[^A-Za-z0-9]+", "-", what)  # a step may be called anything, an event may not
        uid = f"{doing.instrument}-{what or f'gun-{doing.at:%Y%m%d%H%M}'}"
        mine = events.setdefault(doing.who, {})
        was = mine.get(uid)
        said = f"{doing.name}: {doing.what}" if was is None else f"{was[0]}, {doing.what[:1].lower()}{doing.what[1:]}"
        mine[uid] = (said, doing.at if was is None else was[1], doing.ends)
    return {
        who: of_hands(((uid, *event) for uid, event in mine.items()), now) for who, mine in sorted(events.items())
    }  # fmt: skip


class _Told:
    """A plan of minutes and numbers as work of named instruments at the shop's hours."""

    def __init__(self, found: ShopPlanned) -> None:
        self._found = found
        self._outlooks, self._parts = found.asked.outlooks, tuple(found.parts.items())
        self._labels, self._pins = found.asked.labels, found.asked.pins
        self._loose = frozenset(found.loose_pins)
        self._broken, self._repaired = frozenset(found.broken), found.shown is not None
        self.at = Clock(found.asked.hours, found.asked.now).moment

    def steps(self, problem: Problem, plan: Plan) -> Iterator[Doing]:
        """Work on the instruments, coat by coat."""
        from ravden.core.ahead.refused import measured_first, sanding_next

        for j, (name, left) in enumerate(self._parts):
            found, laid = self._outlooks[name], self._outlooks[name].progress.coats_done
            measure = measured_first(found.method, found.progress.index, found.rub_out)
            before = sanding_next(found.method, found.progress.index)
            for k, what in enumerate(left.what):
                step, placed = problem.jobs[j].steps[k], plan.placed[j, k]
                stage = found.method.stage[what.place]
                own = stage.kind == "coats" and not stage.finish and what.kind in ("coats", "hands")
                if placed.scuff_min is not None and step.scuff is not None:
                    yield Doing(
                        instrument=name, name=found.project.instrument.name, what=BETWEEN_LABEL["scuff"],
                        at=self.at(placed.scuff_min), minutes=step.scuff.hands_min, where="film",
                        who=placed.scuff_who or placed.who, step=step.id, kind="scuff",
                    )  # fmt: skip
                for nth, minute in enumerate(placed.starts_min):
                    laid += own
                    said = f"Coat {laid} of {max(found.method.coats, laid)}" if own else step_said(found, what, nth)
                    if what.kind == "case":
                        said = over_by(self._found, name, step.id, self.at(minute))
                    yield Doing(
                        instrument=name, name=found.project.instrument.name, what=said, at=self.at(minute),
                        minutes=step.coat_min or step.hands_min, where=_where(stage.kind, what), who=placed.who,
                        step=step.id, kind=what.kind, broken=(name, step.id) in self._broken,
                        pinned=step.id in self._pins.get(name, {}), loose=(name, step.id) in self._loose,
                        first=k == 0 and nth == 0, own_coat=own,
                        measure=measure if what.place == before and what.nth == 1 else "",
                    )  # fmt: skip

    def booth(self, problem: Problem, plan: Plan) -> Iterator[Doing]:
        """Setting up and cleaning for each session; they lead to the instrument that is sprayed first in it."""
        from ravden.core.schedule.problem import DAY

        first: dict[tuple[str, int], tuple[int, str]] = {}
        for (j, k), placed in plan.placed.items():
            material, at = problem.jobs[j].steps[k].material, placed.starts_min[0]
            if material:
                there = material, at // DAY
                first[there] = min(first.get(there, (at, problem.jobs[j].id)), (at, problem.jobs[j].id))
        for session in plan.sessions:
            if (session.material, session.day) not in first:
                continue  # a gun that was loaded and has only to be cleaned
            instrument = first[session.material, session.day][1]
            paint, label = problem.materials[session.material], self._labels.get(session.material, session.material)
            cleaned = session.to_min - paint.clean_min
            acts = (("Set up", session.from_min, paint.setup_min), ("Clean the gun", cleaned, paint.clean_min))
            for said, minute, took in acts[session.loaded :]:
                yield Doing(
                    instrument=instrument, name=label, what=said, at=self.at(minute), minutes=took, where="booth",
                    who=session.who, kind="gun",
                )  # fmt: skip

    def stays(self, problem: Problem, plan: Plan) -> Iterator[Stay]:
        """Every stay in the cabinet."""
        from ravden.core.schedule.problem import end_of

        for (j, k), placed in sorted(plan.placed.items()):
            step = problem.jobs[j].steps[k]
            if placed.cabinet and step.cabinet_wait_min is not None:
                begins = step.since_min
                if step.after is not None:
                    begins = end_of(problem.jobs[j].steps[step.after], plan.placed[j, step.after])
                name, until = problem.jobs[j].id, begins + step.cabinet_wait_min[0][1]
                yield Stay(
                    instrument=name, name=self._outlooks[name].project.instrument.name, at=self.at(begins),
                    until=self.at(until),
                )  # fmt: skip

    def sittings(self, problem: Problem, plan: Plan) -> Iterator[Sitting]:
        """Every session in the booth with the instruments of it."""
        from ravden.core.schedule.problem import day_of

        of_day: dict[tuple[str, int], list[tuple[int, str]]] = {}
        for (j, k), placed in plan.placed.items():
            material, at = problem.jobs[j].steps[k].material, placed.starts_min[0]
            if material:
                of_day.setdefault((material, day_of(at)), []).append((at, problem.jobs[j].id))
        for session in plan.sessions:
            there = sorted(of_day.get((session.material, session.day), []))
            yield Sitting(
                material=session.material, label=self._labels.get(session.material, session.material), who=session.who,
                at=self.at(session.from_min), until=self.at(session.to_min),
                instruments=tuple(dict.fromkeys(name for _, name in there)),
            )  # fmt: skip

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
                        repaired=self._repaired, firm=problem.jobs[j].firm,
                    )
                )  # fmt: skip
        return tuple(sorted(out, key=lambda p: (p.odds, p.promised)))


def over_by(made: ShopPlanned, instrument: str, step: str, likely: datetime) -> str:
    """The wait an instrument ends with: likely over then, and nine times in ten by when."""
    found = made.asked.outlooks[instrument]
    place = place_of(found.method.stage, step)
    label = "" if place is None else found.method.stage[place].label
    late_h = next((w.late_h for w in found.forward.windows if w.label == label), None)
    clock, wall = Clock(made.asked.hours, made.asked.now), wall_of(made.asked, instrument)
    late = None if late_h is None else clock.moment(wall.minute(late_h))
    film_h = next((w.likely_h for w in found.forward.windows if w.label == label), None)
    film = likely if film_h is None else clock.moment(wall.minute(film_h))
    if film.date() > likely.date():  # it was planned for a day the film has come to be a little late for
        return f"{label}: a look, {wait_words.ready(film, late, made.asked.now)}"
    return f"{label}: likely over ({wait_words.by(likely, late, made.asked.now)})"


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
