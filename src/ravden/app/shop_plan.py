"""The plan of the whole shop: who is there, what is left of every instrument, and the plan that stood before. No Qt.

A plan that is kept is looked through and repaired as an offer, never moved by itself; one that follows along is
repaired around what happened. It is made from nothing where there is none, where a step finds no place in the one that
stands, and where a promise that was told since could not be kept otherwise.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Mapping
from dataclasses import replace as with_fields
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app import booth_air
from ravden.app.giving_way import giving_way
from ravden.app.gun_in_hand import gun_in_hand
from ravden.app.repaired_plan import Repaired, repaired
from ravden.app.shop_problem import OFF_MIN, OFF_SHARE, Clock, Key, ShopAsked, Steps, eased, problem_of, wall_of
from ravden.core.method.slots import BY_PLACE, as_now
from ravden.journal.crew import Kept, KeptStep
from ravden.journal.entry import iso

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.climate.series import Cabinet
    from ravden.core.schedule.jobs import Left
    from ravden.core.schedule.problem import Placed, Plan, Problem
    from ravden.core.schedule.why_moved import Shift
    from ravden.journal.shop import Shop

MOST = 60  # instruments one plan is made of


class NoDay(Struct, frozen=True, kw_only=True):
    """An instrument no day was found for. film: its film never gets there, or does not bear what comes next; else a
    piece of its work is longer than any hours the shop has."""

    instrument: str
    name: str
    film: bool


class ShopPlanned(Struct, frozen=True, kw_only=True, dict=True):
    """A plan. parts: what is left, by instrument, in the order of the problem's jobs; plan: None where nobody has
    anything to do; broken: steps of a kept plan that cannot stand; unplanned: instruments no day was found for;
    loose_pins: pins that cannot stand, which do not count; anew: it was made from nothing; shifts: where it has work
    otherwise than the one before, and why; shown: what is shown in its place, a plan that is kept as it
    stood, though some of it cannot stand."""

    asked: ShopAsked
    parts: Mapping[str, Left]
    problem: Problem | None
    plan: Plan | None
    broken: tuple[tuple[str, str], ...] = ()
    unplanned: tuple[NoDay, ...] = ()
    loose_pins: tuple[tuple[str, str], ...] = ()
    anew: bool = True
    shifts: tuple[Shift, ...] = ()
    shown: Plan | None = None

    @property
    def as_shown(self) -> Plan | None:
        """The plan as it is shown."""
        return self.plan if self.shown is None else self.shown

    @functools.cached_property
    def steps(self) -> Steps:
        """The plan as it is shown, as it is kept in the journal."""
        return {} if self.as_shown is None else self.steps_of(self.as_shown)

    def steps_of(self, shown: Plan) -> Steps:
        """A plan of the same problem as it is kept in the journal."""
        assert self.problem is not None
        at = Clock(self.asked.hours, self.asked.now)
        out = {}
        for (j, k), placed in sorted(shown.placed.items()):
            job = self.problem.jobs[j]
            name = job.steps[k].id
            out[job.id, name] = KeptStep(
                instrument=job.id, step=name, who=placed.who,
                starts=tuple(iso(at.moment(m)) for m in placed.starts_min),
                scuff=iso(at.moment(placed.scuff_min)) if placed.scuff_min is not None else "",
                scuff_who=placed.scuff_who or "", cabinet=placed.cabinet,
            )  # fmt: skip
        return out

    @functools.cached_property
    def held(self) -> Mapping[str, Held]:
        """Where the plan has hands on each instrument, in its own hours."""
        from ravden.core.schedule.hold import held_of

        plan = self.as_shown
        if plan is None:
            return {}
        out = {}
        for j, (name, left) in enumerate(self.parts.items()):
            placed = tuple(plan.placed[j, k] for k in range(len(left.job.steps)))
            out[name] = held_of(left, placed, wall_of(self.asked, name))
        return out

    @functools.cached_property
    def stays(self) -> Mapping[str, tuple[Cabinet, ...]]:
        """When the plan has each instrument in the warm cabinet, those that are never there left out."""
        from ravden.core.schedule.hold import stays_of

        temp_C, out = self.asked.crew.stations.cabinet_C, {}
        for name, left in self.parts.items():
            found = stays_of(left, placed_of(self, name), wall_of(self.asked, name), temp_C)
            if found:
                out[name] = found
        return out

    def including(self, unplanned: list[NoDay], loose: list[tuple[str, str]]) -> ShopPlanned:
        """The same with what is in no plan, and pins that do not count."""
        return replace(self, unplanned=tuple(unplanned), loose_pins=tuple(loose))

    def worked_out(self) -> ShopPlanned:
        """The same with all it is asked for worked out, so that nobody waits for it later."""
        assert self.steps is not None and self.held is not None and self.stays is not None
        return self


def stretch_min(asked: ShopAsked, found: Outlook) -> int:
    """How long what is done at one go may be: as long as somebody has on a usual day who does all of it."""
    from ravden.core.schedule.jobs import usual_min

    hands = asked.crew.hands
    if not hands:
        return usual_min(found.hours.week)
    own = [(usual_min(h.week or found.hours.week), h.sprays, h.buffs) for h in hands]
    may = ([m for m, _, _ in own], [m for m, sprays, _ in own if sprays], [m for m, _, buffs in own if buffs])
    return min(max(some) for some in may if some)


def left_in(asked: ShopAsked, name: str, found: Outlook, *, warm: bool) -> Left | None:
    """What is left of an instrument in this shop; warm: it may stand in the cabinet, and what follows is dated as if it
    had."""
    from ravden.core.schedule.jobs import left_of

    wall, stretch, temp_C = wall_of(asked, name), stretch_min(asked, found), asked.crew.stations.cabinet_C
    stood_so = asked.sessions.get(name, {})
    if asked.crew.stations.cabinet_places == 0:
        return left_of(found, wall, stretch, sessions=stood_so)
    from ravden.core.ahead.warm import in_shop, stood, warm_windows
    from ravden.core.schedule.hold import stay_from, with_later

    cool = in_shop(found)
    plain = left_of(cool, wall, stretch, warm_windows(cool, temp_C) if warm else None, stood_so)
    stay = None if plain is None else stay_from(plain, cool, wall, temp_C)
    if plain is None or stay is None:
        return plain
    return with_later(plain, left_of(found if found.stays else stood(cool, (stay,)), wall, stretch, sessions=stood_so))


def snapshot(
    shop: Shop, at: datetime, outlooks: Mapping[str, Outlook], standing: Steps, *, pressed: str = "",
    touched: frozenset[str] = frozenset(),
) -> ShopAsked:  # fmt: skip
    """A shop at a moment, of instruments whose outlooks are known; standing: the plan before, where none is kept;
    pressed: by what was told since it was made, as for ShopAsked; touched: what hands have told something of since
    then."""
    now = shop.hours.local(at)
    some = {i: found for i, found in outlooks.items() if i in shop.racked}
    first = dict(sorted(some.items(), key=lambda one: _urgency(one[1]))[:MOST])
    before = standing if shop.kept is None else _kept_steps(shop, shop.kept)
    gun = booth_air.loaded(shop, now), ""
    if not gun[0]:
        gun = gun_in_hand(shop, now, before)
    return ShopAsked(
        outlooks=first, zeros={i: shop.hours.local(shop.on_rack(i).zero).date() for i in first}, hours=shop.hours,
        now=now, crew=shop.crew, pins={i: shop.on_rack(i).pins for i in first},
        promises={i: (shop.on_rack(i).weight, shop.on_rack(i).firm) for i in first},
        labels={m.id: m.label for m in shop.catalogue.materials.values()},
        standing=before, kept=shop.kept is not None,
        no_spray=booth_air.bad_air(shop, now), late_air=booth_air.of_late(shop, now), limits=booth_air.limits(shop),
        pressed=pressed, touched=touched, loaded=gun[0], loaded_by=gun[1], more=len(some) - len(first),
    )  # fmt: skip


def _kept_steps(shop: Shop, kept: Kept) -> Steps:
    """The steps of a plan that is kept; those written by their place are the ones that stood there then."""
    out: dict[tuple[str, str], KeptStep] = {}
    for (name, step), told in kept.steps.items():
        rack = shop.racked.get(name)
        old = rack is not None and BY_PLACE.fullmatch(step) is not None
        now = as_now(rack.stages_at(kept.since), step) if rack is not None and old else step
        out[name, now] = told if now == step else replace(told, step=now)
    return out


def _urgency(found: Outlook) -> tuple[bool, float]:
    """What is promised first, what there is most time for last."""
    promised = found.project.instrument.promised_h
    return promised is None, 0.0 if promised is None else promised - found.now_h


def planned(asked: ShopAsked) -> ShopPlanned:
    """The plan of the shop, at once."""
    parts, unplanned = _what_is_left(asked)
    cold: set[str] = set()  # for which there was no place in the cabinet
    loose: list[tuple[str, str]] = []
    while parts:
        problem = problem_of(asked, parts, loose)
        held = repaired(asked, parts, problem) if problem.previous else None
        made, stuck = held, None
        if held is None or (asked.pressed and not asked.kept):
            made, stuck = _made_anew(asked, parts, loose, held)
        if made is None:
            assert stuck is not None
            _give_way(asked, parts, loose, list(parts)[stuck[0]], unplanned)
            continue
        without = _without_place(made.problem, made.plan) - cold
        if without:
            cold |= without
            parts = _cooled(asked, parts, without)
            continue
        return _told_of(asked, parts, problem, made, held).including(unplanned, loose)
    return ShopPlanned(asked=asked, parts={}, problem=None, plan=None).including(unplanned, loose)


def _what_is_left(asked: ShopAsked) -> tuple[dict[str, Left], list[NoDay]]:
    """What is left of each instrument, and those whose film never gets there."""
    parts: dict[str, Left] = {}
    unplanned: list[NoDay] = []
    for name, found in asked.outlooks.items():
        left = left_in(asked, name, found, warm=True)
        if left is None or found.forward.refused is not None:
            unplanned.append(NoDay(instrument=name, name=found.project.instrument.name, film=True))
        if left is not None and left.job.steps:
            parts[name] = left
    return parts, unplanned


def _made_anew(
    asked: ShopAsked, parts: Mapping[str, Left], loose: list[tuple[str, str]], held: Repaired | None
) -> tuple[Repaired | None, Key | None]:
    """A plan from nothing. That which is held where it does as well: where a promise was told keeps the promises as
    well, where it was told who works here is better. The step that found no place."""
    plain = problem_of(asked, parts, loose, going_on=False)
    plan, stuck = _first(plain)
    if plan is None:
        return held, stuck
    if held is not None:
        one, other = _key(plain, plan), _key(held.problem, held.plan)
        if one > other or (asked.pressed == "promise" and one[:2] == other[:2]):
            return held, None
    return Repaired(problem=eased(problem_of(asked, parts, loose), parts) if asked.kept else plain, plan=plan), None


def _give_way(
    asked: ShopAsked, parts: dict[str, Left], loose: list[tuple[str, str]], name: str, unplanned: list[NoDay]
) -> None:
    """An instrument found no place: its pins do not count; without any it is in no plan."""
    pinned = [s for s in asked.pins.get(name, {}) if (name, s) not in loose]
    if pinned:
        loose += [(name, s) for s in pinned]
        return
    unplanned.append(NoDay(instrument=name, name=asked.outlooks[name].project.instrument.name, film=False))
    del parts[name]


def _told_of(
    asked: ShopAsked, parts: Mapping[str, Left], problem: Problem, made: Repaired, held: Repaired | None
) -> ShopPlanned:
    """A plan with what moved by it and why; one that is kept with what of it cannot stand. problem: with its waits as
    they are."""
    from ravden.core.schedule.repair import cannot_stand
    from ravden.core.schedule.why_moved import shifts

    anew = made.plan is not (None if held is None else held.plan)
    if asked.kept and made.problem.previous:
        fell = cannot_stand(made.problem)
        broken = tuple((made.problem.jobs[j].id, made.problem.jobs[j].steps[k].id) for j, k in sorted(fell))
        shown = _as_it_stood(made.problem, made.plan) if broken else None
        return ShopPlanned(
            asked=asked, parts=parts, problem=made.problem, plan=made.plan, broken=broken, shown=shown, anew=anew
        )
    moved = shifts(problem, made.plan, asked.now.hour * 60 + asked.now.minute)
    if anew:
        code = "anew" if held is None else asked.pressed
        moved = tuple(replace(s, code=code if s.code not in ("missed", "film") else s.code) for s in moved)
    return ShopPlanned(
        asked=asked, parts=parts, problem=made.problem, plan=made.plan, anew=anew, shifts=moved
    )  # fmt: skip


def _cooled(asked: ShopAsked, parts: Mapping[str, Left], names: set[str]) -> dict[str, Left]:
    """The same with some of them as they are without the cabinet."""
    again = {name: left_in(asked, name, asked.outlooks[name], warm=False) for name in names}
    return {name: again.get(name) or left for name, left in parts.items()}


def _key(problem: Problem, plan: Plan) -> tuple[int, ...]:
    from ravden.core.schedule.renew import FRESH

    return FRESH.key(problem, plan)


def _without_place(problem: Problem, plan: Plan) -> set[str]:
    """The instruments that could stand in the cabinet, and do not in a plan."""
    warm = {(j, k) for j, job in enumerate(problem.jobs) for k, s in enumerate(job.steps) if s.cabinet_wait_min}
    return {problem.jobs[j].id for j, k in warm if not plan.placed[j, k].cabinet}


def _as_it_stood(problem: Problem, plan: Plan) -> Plan:
    """A plan with every step of the one before where it stood, whether it can stand or not."""
    from ravden.core.schedule.problem import Plan as Made
    from ravden.core.schedule.repair import before_plan

    return Made(placed={**plan.placed, **before_plan(problem)}, sessions=plan.sessions)


def _first(problem: Problem) -> tuple[Plan | None, Key | None]:
    from ravden.core.schedule.improve import first_plan

    return first_plan(problem)


def placed_of(found: ShopPlanned, instrument: str) -> tuple[Placed, ...]:
    """An instrument's steps in the plan, in their order."""
    plan = found.as_shown
    if plan is None or instrument not in found.parts:
        return ()
    j = list(found.parts).index(instrument)
    return tuple(plan.placed[j, k] for k in range(len(found.parts[instrument].job.steps)))


def redated(known: Mapping[str, Outlook], held: Mapping[str, Held], advised: str) -> Callable[[], dict[str, Outlook]]:
    """Work to be done off the GUI thread: outlooks dated by another plan; advised: the one that wants counsel."""

    def work() -> dict[str, Outlook]:
        from ravden.core.ahead.counsel import counsel
        from ravden.core.ahead.outlook import redated as again

        with giving_way():
            out = {name: again(found, held.get(name, {})) for name, found in known.items()}
            if advised in out:
                out[advised] = with_fields(out[advised], counsel=counsel(out[advised]))
            return out

    return work


def stands(found: ShopPlanned, outlooks: Mapping[str, Outlook]) -> bool:
    """Whether a plan is still one for outlooks that were dated by it: they have hands where it has them, and ask for
    no work later or sooner than it was made with."""
    from ravden.core.schedule.hold import kept_to, opens_min

    for name, left in found.parts.items():
        outlook = outlooks.get(name)
        if outlook is None or not kept_to(outlook):
            return False
        now = left_in(found.asked, name, outlook, warm=any(p.cabinet for p in placed_of(found, name)))
        if now is None or [s.id for s in now.job.steps] != [s.id for s in left.job.steps]:
            return False
        placed = placed_of(found, name)
        opens = zip(left.what, opens_min(now, placed), opens_min(left, placed), strict=True)
        for what, asked, made in opens:
            # Nobody's hands are booked around the end, which is where the outlook has it (shop_ends).
            if what.kind != "case" and abs(asked - made) > max(OFF_MIN, OFF_SHARE * made):
                return False
    return True
