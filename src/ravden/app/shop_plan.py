"""The plan of the whole shop: who is there, what is left of every instrument, and the plan that stood before. No Qt.

A plan that is kept is looked through and repaired as an offer, never moved by itself; one that follows along is made
anew wherever that is better than what stood.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace as with_fields
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.errors import InputError
from ravden.journal.crew import Crew, KeptStep, Pinned
from ravden.journal.entry import iso
from ravden.journal.hours import ShopHours

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.schedule.jobs import Left, Wall
    from ravden.core.schedule.problem import Before, Paint, Person, Pin, Placed, Plan, Problem, Step

OVERDUE_MIN = 30  # past its planned end that a piece of work is taken to be going on
OFF_MIN, OFF_SHARE = 120, 0.03  # that a wait may come out otherwise before the plan is made again
MOST = 60  # instruments one plan is made of
WEATHER_DAYS = 14  # that a forecast is looked through for days without spraying
Steps = Mapping[tuple[str, str], KeptStep]
Key = tuple[int, int]


class ShopAsked(Struct, frozen=True, kw_only=True):
    """What a plan is made from: a snapshot, safe to hand to another thread. zeros: the day of each instrument's hour
    zero; pins, promises: by instrument, the latter its weight and whether it is firm; standing: the plan before; kept:
    whether nothing in it moves unasked; no_spray: stretches of bad air by material, in hours from today's midnight;
    afresh: something has been told since the plan before was made; loaded: material in a gun now; more:
    instruments there are beyond these."""

    outlooks: Mapping[str, Outlook]
    zeros: Mapping[str, date]
    hours: ShopHours
    now: datetime
    crew: Crew
    pins: Mapping[str, Mapping[str, Pinned]]
    promises: Mapping[str, tuple[int, bool]]
    labels: Mapping[str, str]
    standing: Steps
    kept: bool
    no_spray: Mapping[str, tuple[tuple[float, float], ...]]
    afresh: bool = False
    loaded: str = ""
    more: int = 0


class ShopPlanned(Struct, frozen=True, kw_only=True, dict=True):
    """A plan. parts: what is left, by instrument, in the order of the problem's jobs; plan: None where nobody has
    anything to do; broken: steps of a kept plan that cannot stand; aside: instruments whose film never gets there;
    too_long: those with a piece of work that no hours hold; loose_pins: pins that cannot stand, which do not count;
    moved: whether it is another than the plan before; shown: what is shown in its place, a plan that is kept as it
    stood, though some of it cannot stand."""

    asked: ShopAsked
    parts: Mapping[str, Left]
    problem: Problem | None
    plan: Plan | None
    broken: tuple[tuple[str, str], ...] = ()
    aside: tuple[str, ...] = ()
    too_long: tuple[str, ...] = ()
    loose_pins: tuple[tuple[str, str], ...] = ()
    moved: bool = True
    shown: Plan | None = None

    @property
    def as_shown(self) -> Plan | None:
        """The plan as it is shown."""
        return self.plan if self.shown is None else self.shown

    def steps(self, plan: Plan | None = None) -> Steps:
        """A plan, this one's unless another is given, as it is kept in the journal."""
        shown = self.as_shown if plan is None else plan
        if shown is None or self.problem is None:
            return {}
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


class Clock:
    """Minutes of a plan on the shop's wall."""

    def __init__(self, hours: ShopHours, now: datetime) -> None:
        self._hours, self._now = hours, now
        self.today = now.date()
        self._midnight = datetime.combine(self.today, time())

    def moment(self, minute: int) -> datetime:
        """A minute of the plan."""
        naive = self._midnight + timedelta(minutes=minute)
        try:
            return self._hours.on_the_wall(naive, self._now)
        except InputError:  # an hour the wall never shows
            return self._hours.on_the_wall(naive + timedelta(hours=1), self._now)

    def minute(self, moment: datetime) -> int:
        """A moment as a minute of the plan, on its grid."""
        from ravden.core.schedule.problem import GRID

        naive = self._hours.local(moment).replace(tzinfo=None)
        return round((naive - self._midnight).total_seconds() / 60 / GRID) * GRID


def wall_of(asked: ShopAsked, instrument: str) -> Wall:
    """The shop's clock seen from an instrument."""
    from ravden.core.schedule.jobs import Wall

    hours = asked.outlooks[instrument].hours
    return Wall(hours=hours, today=(asked.now.date() - asked.zeros[instrument]).days)


def stretch_min(asked: ShopAsked, found: Outlook) -> int:
    """How long what is done at one go may be: as long as somebody has on a usual day who does all of it."""
    from ravden.core.schedule.jobs import usual_min

    hands = asked.crew.hands
    if not hands:
        return usual_min(found.hours.week)
    own = [(usual_min(h.week or found.hours.week), h.sprays, h.buffs) for h in hands]
    may = ([m for m, _, _ in own], [m for m, sprays, _ in own if sprays], [m for m, _, buffs in own if buffs])
    return min(max(some) for some in may if some)


def snapshot(
    session: ShopSession, outlooks: Mapping[str, Outlook], standing: Steps, *, afresh: bool = False
) -> ShopAsked:  # fmt: skip
    """The shop as it is now, of instruments whose outlooks are known; standing: the plan before, where none is kept;
    afresh: something has been told since it was made."""
    shop, now = session.shop, session.local(session.now)
    some = {i: found for i, found in outlooks.items() if i in shop.racked}
    first = dict(sorted(some.items(), key=lambda one: _urgency(one[1]))[:MOST])
    materials = {m.id: m for m in session.catalogue.materials.values()}
    return ShopAsked(
        outlooks=first, zeros={i: session.local(shop.on_rack(i).zero).date() for i in first}, hours=shop.hours, now=now,
        crew=shop.crew, pins={i: shop.on_rack(i).pins for i in first},
        promises={i: (shop.on_rack(i).weight, shop.on_rack(i).firm) for i in first},
        labels={m.id: m.label for m in materials.values()},
        standing=standing if shop.kept is None else shop.kept.steps, kept=shop.kept is not None,
        no_spray=_bad_air(session, now), afresh=afresh, loaded=_loaded(session), more=len(some) - len(first),
    )  # fmt: skip


def _urgency(found: Outlook) -> tuple[bool, float]:
    """What is promised first, what there is most time for last."""
    promised = found.project.instrument.promised_h
    return promised is None, 0.0 if promised is None else promised - found.now_h


def _bad_air(session: ShopSession, now: datetime) -> dict[str, tuple[tuple[float, float], ...]]:
    """Stretches of forecast air that a material is not sprayed in, by its own limits or those the shop has told."""
    shop = session.shop
    midnight = shop.hours.begins(now.date())
    rows = [r for r in shop.air.forecast if r[0] < midnight + timedelta(days=WEATHER_DAYS)]
    used = {
        s.finish or r.instrument.material for r in shop.racked.values() for s in r.method.stage if s.kind == "coats"
    }
    out: dict[str, tuple[tuple[float, float], ...]] = {}
    for name in sorted(used):
        material, gun = session.catalogue.material(name), shop.crew.guns.get(name)
        coldest = material.dries_C if gun is None or gun.coldest_C is None else gun.coldest_C
        dampest = material.dries_rh if gun is None or gun.dampest is None else gun.dampest
        spans: list[tuple[float, float]] = []
        for n, (at, temp_C, rh) in enumerate(rows):
            if temp_C < coldest or rh > dampest:
                ends = rows[n + 1][0] if n + 1 < len(rows) else at + timedelta(hours=3)
                a, b = ((m - midnight).total_seconds() / 3600.0 for m in (at, ends))
                if spans and a <= spans[-1][1]:
                    spans[-1] = (spans[-1][0], b)
                else:
                    spans.append((a, b))
        for day in shop.crew.struck:
            since = (day - now.date()).days * 24.0
            spans.append((since, since + 24.0))
        if spans:
            out[name] = tuple(sorted(spans))
    return out


def _loaded(session: ShopSession) -> str:
    """What is in a gun now, as far as the journal tells: what was mixed for the session that is going on."""
    going_on = session.shop.session
    if going_on is None or not going_on.is_open(session.now) or not going_on.mixes:
        return ""
    return going_on.mixes[-1].material


def planned(asked: ShopAsked) -> ShopPlanned:
    """The plan of the shop, at once."""
    from ravden.core.schedule.jobs import left_of
    from ravden.core.schedule.repair import cannot_stand, keep

    parts: dict[str, Left] = {}
    aside: list[str] = []
    too_long: list[str] = []
    for name, found in asked.outlooks.items():
        left = left_of(found, wall_of(asked, name), stretch_min(asked, found))
        if left is None:
            aside.append(found.project.instrument.name)
        elif left.job.steps:
            parts[name] = left
    loose: list[tuple[str, str]] = []
    while parts:
        problem = problem_of(asked, parts, loose)
        plan, stuck = _first(problem)
        if plan is None and stuck is not None:
            name = list(parts)[stuck[0]]
            pinned = [s for s in asked.pins.get(name, {}) if (name, s) not in loose]
            if pinned:
                loose += [(name, s) for s in pinned]
            else:
                too_long.append(asked.outlooks[name].project.instrument.name)
                del parts[name]
            continue
        assert plan is not None
        broken: tuple[tuple[str, str], ...] = ()
        moved, shown = True, None
        if problem.previous:
            held = keep(problem)
            if asked.kept:
                fell = cannot_stand(problem)
                broken = tuple((problem.jobs[j].id, problem.jobs[j].steps[k].id) for j, k in sorted(fell))
                plan = plan if held is None else held
                shown = _as_it_stood(problem, plan) if broken else None
            elif held is not None and not _better(problem, plan, held, sooner=asked.afresh):
                plan, moved = (
                    held,
                    any(held.placed[key].starts_min != b.starts_min for key, b in problem.previous.items()),
                )
        return ShopPlanned(
            asked=asked, parts=parts, problem=problem, plan=plan, broken=broken, aside=tuple(aside),
            too_long=tuple(too_long), loose_pins=tuple(loose), moved=moved, shown=shown,
        )  # fmt: skip
    return ShopPlanned(
        asked=asked, parts={}, problem=None, plan=None, aside=tuple(aside), too_long=tuple(too_long),
        loose_pins=tuple(loose),
    )  # fmt: skip


def _as_it_stood(problem: Problem, plan: Plan) -> Plan:
    """A plan with every step of the one before where it stood, whether it can stand or not."""
    from ravden.core.schedule.problem import Plan as Made
    from ravden.core.schedule.repair import before_plan

    return Made(placed={**plan.placed, **before_plan(problem)}, sessions=plan.sessions)


def _first(problem: Problem) -> tuple[Plan | None, Key | None]:
    from ravden.core.schedule.improve import first_plan

    return first_plan(problem)


def _better(problem: Problem, plan: Plan, than: Plan, *, sooner: bool) -> bool:
    """Whether a plan is better than another; sooner: as good a one is, that has its work sooner."""
    from ravden.core.schedule.renew import FRESH

    one, other = FRESH.key(problem, plan), FRESH.key(problem, than)
    if not sooner or one != other:
        return one < other
    begun = (sum(p.starts_min[0] for p in which.placed.values()) for which in (plan, than))
    return next(begun) < next(begun)


def problem_of(asked: ShopAsked, parts: Mapping[str, Left], loose: list[tuple[str, str]]) -> Problem:
    """The shop as a problem of the planner. loose: pins that do not count, since they cannot stand."""
    from ravden.core.schedule.shop import shop_of

    one = next(iter(parts))
    wall = wall_of(asked, one)
    now_min = asked.now.hour * 60 + asked.now.minute
    first = shop_of(tuple(parts.values()), wall.hours, wall.today, now_min, _people(asked, wall), _paints(asked))
    clock, stations = Clock(asked.hours, asked.now), asked.crew.stations
    names = {p.name for p in first.people}
    jobs = []
    for job in first.jobs:
        pins = {s: _pin(p, clock, names) for s, p in asked.pins.get(job.id, {}).items() if (job.id, s) not in loose}
        weight, firm = asked.promises.get(job.id, (1, False))
        steps = tuple(replace(s, pin=pins[s.id]) if s.id in pins else s for s in job.steps)
        jobs.append(replace(job, steps=steps, weight=weight, firm=firm and job.promised_min is not None))
    problem = replace(
        first, jobs=tuple(jobs), arbors=max(stations.arbors, 1), cabinet_places=stations.cabinet_places,
        drying_places=stations.drying_places, setup_worth_days=asked.crew.company_days,
    )  # fmt: skip
    before = dict(_before(asked, problem, clock))
    going_on = [
        b.starts_min[0] - (problem.paint(problem.step(key)).setup_min if problem.step(key).sprayed else 0)
        for key, b in before.items() if _goes_on(problem.step(key), b, problem.now_min)
    ]  # fmt: skip
    if going_on:
        # What was to be done by now is being done: it stands where it stood.
        since = max(min(*going_on, problem.now_min), 0)
        jobs = [replace(job, steps=tuple(_since(s, since) for s in job.steps)) for job in problem.jobs]
        problem = replace(problem, now_min=since, jobs=tuple(jobs))
    return _eased(replace(problem, previous=before))


def _eased(problem: Problem) -> Problem:
    """Waits that came out a little longer than the plan before was made with do not break it: they hold for the steps
    that stand in it."""
    from ravden.core.schedule.problem import DAY, at_day

    ends = {key: b.starts_min[-1] + _took(problem.step(key)) for key, b in problem.previous.items()}
    jobs = []
    for j, job in enumerate(problem.jobs):
        steps = []
        for k, step in enumerate(job.steps):
            was = problem.previous.get((j, k))
            begins = step.since_min if step.after is None else ends.get((j, step.after))
            if was is not None and begins is not None:
                wait = at_day(step.wait_min, begins // DAY)
                over = begins + wait - was.starts_min[0]
                if 0 < over <= max(OFF_MIN, OFF_SHARE * wait):
                    step = replace(step, wait_min=((0, max(wait - over, 0)),))
            steps.append(step)
        jobs.append(replace(job, steps=tuple(steps)))
    return replace(problem, jobs=tuple(jobs))


def _took(step: Step) -> int:
    return step.coat_min if step.sprayed else step.hands_min


def _goes_on(step: Step, before: Before, now_min: int) -> bool:
    return before.starts_min[0] < now_min < before.starts_min[-1] + _took(step) + OVERDUE_MIN


def _since(step: Step, since: int) -> Step:
    free = step.after is None and all(m == 0 for _, m in step.wait_min)
    return replace(step, since_min=min(step.since_min, since)) if free else step


def _people(asked: ShopAsked, wall: Wall) -> list[Person]:
    """Who is there, in minutes of the plan."""
    from ravden.core.schedule.problem import DAY, Person
    from ravden.core.schedule.shop import HANDS, clock, week_of

    today, crew = asked.now.date(), asked.crew
    usual = week_of(wall.hours.week)
    out = []
    for hand in crew.hands or (None,):
        away: list[tuple[int, int]] = []
        extra: list[tuple[int, int]] = []
        for off in crew.off:
            if off.person and (hand is None or off.person != hand.name):
                continue
            for n in range((off.last - off.first).days + 1):
                begins = ((off.first - today).days + n) * DAY
                if begins < 0:
                    continue
                there = [(begins + clock(a), begins + clock(b)) for a, b in off.hours]
                extra += there
                edges = [begins, *(edge for span in there for edge in span), begins + DAY]
                away += [(a, b) for a, b in zip(edges[::2], edges[1::2], strict=True) if b > a]
        out.append(
            Person(
                name=HANDS if hand is None else hand.name, week=week_of(hand.week) if hand and hand.week else usual,
                away=tuple(away), extra=tuple(extra), spray=hand is None or hand.sprays,
                buff=hand is None or hand.buffs,
            )
        )  # fmt: skip
    return out


def _paints(asked: ShopAsked) -> dict[str, Paint]:
    """What is sprayed: how long its gun takes, and the air it is not sprayed in."""
    from ravden.core.schedule.problem import GRID, Paint
    from ravden.journal.crew import Gun

    out = {}
    for name in {*asked.crew.guns, *asked.no_spray}:
        gun = asked.crew.guns.get(name) or Gun()
        spans = tuple(
            (int(a * 60 // GRID) * GRID, -int(-b * 60 // GRID) * GRID) for a, b in asked.no_spray.get(name, ())
        )
        up = -(-gun.setup_min // GRID) * GRID, -(-gun.clean_min // GRID) * GRID
        out[name] = Paint(setup_min=up[0], clean_min=up[1], no_spray=spans)
    return out


def _pin(pinned: Pinned, clock: Clock, names: set[str]) -> Pin:
    from ravden.core.schedule.problem import Pin

    return Pin(
        at_min=None if pinned.at is None else clock.minute(pinned.at),
        day=None if pinned.day is None else (pinned.day - clock.today).days,
        not_before_min=None if pinned.not_before is None else clock.minute(pinned.not_before),
        who=pinned.who if pinned.who in names else None,
    )  # fmt: skip


def _before(asked: ShopAsked, problem: Problem, clock: Clock) -> Iterator[tuple[Key, Before]]:
    """Where each step stood in the plan before: coats are known by their number, whatever session they were of."""
    from ravden.core.schedule.problem import Before, day_of

    spots: dict[tuple[str, str], tuple[str, int, bool]] = {}
    for (instrument, name), kept in asked.standing.items():
        place, _, nth = name.partition(".")
        for n, text in enumerate(kept.starts):
            each = f"{place}.{int(nth) + n}" if len(kept.starts) > 1 and nth.isdigit() else name
            spots[instrument, each] = (kept.who, clock.minute(datetime.fromisoformat(text)), kept.cabinet)
    names = {p.name for p in problem.people}
    for j, job in enumerate(problem.jobs):
        for k, step in enumerate(job.steps):
            place, _, nth = step.id.partition(".")
            if nth == "done":
                continue  # no hands are booked for it: it is whenever its wait is over
            mine = [f"{place}.{int(nth) + n}" for n in range(step.coats)] if step.sprayed else [step.id]
            found = [spots[job.id, name] for name in mine if (job.id, name) in spots]
            if len(found) != len(mine) or len({(who, day_of(at)) for who, at, _ in found}) != 1:
                continue
            who = found[0][0] if found[0][0] in names else problem.people[0].name
            yield (j, k), Before(who=who, starts_min=tuple(at for _, at, _ in found), cabinet=found[0][2])


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

        out = {name: again(found, held.get(name, {})) for name, found in known.items()}
        if advised in out:
            out[advised] = with_fields(out[advised], counsel=counsel(out[advised]))
        return out

    return work


def stands(found: ShopPlanned, outlooks: Mapping[str, Outlook]) -> bool:
    """Whether a plan is still one for outlooks that were dated by it: they have hands where it has them, and ask for
    no work later or sooner than it was made with."""
    from ravden.core.schedule.hold import kept_to, opens_min
    from ravden.core.schedule.jobs import left_of

    for name, left in found.parts.items():
        outlook = outlooks.get(name)
        if outlook is None or not kept_to(outlook):
            return False
        now = left_of(outlook, wall_of(found.asked, name), stretch_min(found.asked, outlook))
        if now is None or [s.id for s in now.job.steps] != [s.id for s in left.job.steps]:
            return False
        placed = placed_of(found, name)
        for asked, made in zip(opens_min(now, placed), opens_min(left, placed), strict=True):
            if abs(asked - made) > max(OFF_MIN, OFF_SHARE * made):
                return False
    return True
