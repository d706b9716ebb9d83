"""The shop of a moment as a problem of the planner: hands, guns, pins, and the plan that stood before. No Qt."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Mapping
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.booth_air import bad_odds
from ravden.core.errors import InputError
from ravden.core.method.slots import DONE, MARK, parts
from ravden.journal.crew import Crew, KeptStep, Pinned
from ravden.journal.hours import ShopHours

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.schedule.jobs import Left, Wall
    from ravden.core.schedule.problem import Before, Paint, Person, Pin, Problem, Step
    from ravden.journal.air import AirRow

OVERDUE_MIN = 30  # past its planned end that a piece of work is taken to be going on
OFF_MIN, OFF_SHARE = 120, 0.03  # that a wait may come out otherwise before a plan is another
Steps = Mapping[tuple[str, str], KeptStep]
Key = tuple[int, int]


class ShopAsked(Struct, frozen=True, kw_only=True, dict=True):
    """What a plan is made from: a snapshot, safe to hand to another thread. zeros: the day of each instrument's hour
    zero; pins, promises: by instrument, the latter its weight and whether it is firm; standing: the plan before; kept:
    whether nothing in it moves unasked; no_spray: stretches of bad air by material, in hours from today's midnight;
    late_air, limits: readings of late, and the air each finish is laid in; pressed: what was told since the plan before
    was made that asks for another: crew (who works here, or when), promise, or nothing; touched: instruments that hands
    have told something of since then; loaded: material in a gun now, loaded_by: whose session it is for, where that is
    known; more: instruments beyond these."""

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
    late_air: tuple[AirRow, ...]
    limits: Mapping[str, tuple[float, float]]
    pressed: str = ""
    touched: frozenset[str] = frozenset()
    loaded: str = ""
    loaded_by: str = ""
    more: int = 0

    @functools.cached_property
    def sessions(self) -> dict[str, dict[str, list[tuple[int, int]]]]:
        """How coats go together in the plan before, by instrument and stage: the first and the last of each session.
        That is read from what stands, and never worked out anew by whoever looks."""
        out: dict[str, dict[str, list[tuple[int, int]]]] = {}
        for (instrument, name), kept in self.standing.items():
            stage, nth = parts(name)
            if nth.isdigit():
                span = (int(nth), int(nth) + len(kept.starts) - 1)
                out.setdefault(instrument, {}).setdefault(stage, []).append(span)
        return out

    @functools.cached_property
    def bad_odds(self) -> dict[str, float]:
        """The odds of a day of bad air beyond the forecast, by finish."""
        return bad_odds(self.late_air, self.hours, self.limits)


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


def problem_of(
    asked: ShopAsked, parts: Mapping[str, Left], loose: list[tuple[str, str]], *, going_on: bool = True
) -> Problem:  # fmt: skip
    """The shop as a problem of the planner, its waits as they are now. loose: pins that do not count, since they cannot
    stand; going_on: work that was to be going on now may stand where it stood, though it began before now."""
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
    problem = _with_gun(problem, asked.loaded, asked.loaded_by)
    before = dict(_before(asked, problem, clock))
    begun = {
        key: b.starts_min[0] - _set_up(problem, key) for key, b in before.items() if _goes_on(problem, key, b)
    }  # fmt: skip
    if going_on and begun:
        # What is going on stands where it stood; what was to be done before now, and is not, does not.
        since = max(min(*begun.values(), problem.now_min), 0)
        jobs = [
            replace(job, steps=tuple(_since(s, since) if (j, k) in begun else s for k, s in enumerate(job.steps)))
            for j, job in enumerate(problem.jobs)
        ]  # fmt: skip
        problem = replace(problem, now_min=since, jobs=tuple(jobs))
    return replace(problem, previous=before)


def eased(problem: Problem, parts: Mapping[str, Left]) -> Problem:
    """The same with waits that came out longer than the plan before was made with no reason to break it: a wait is
    placed where seven in ten are over, and what stands is held while it is a little off that, or likely to be over by
    then still."""
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
                still = begins + parts[job.id].likely_min[k] <= was.starts_min[0]
                if over > 0 and (still or over <= max(OFF_MIN, OFF_SHARE * wait)):
                    step = replace(step, wait_min=((0, max(wait - over, 0)),))
            steps.append(step)
        jobs.append(replace(job, steps=tuple(steps)))
    return replace(problem, jobs=tuple(jobs))


def _took(step: Step) -> int:
    return step.coat_min if step.sprayed else step.hands_min


def _with_gun(problem: Problem, material: str, by: str) -> Problem:
    """A gun that is loaded: nothing to set up, and cleaning owed today, where somebody who sprays is there for it; by:
    whose session it is in first."""
    from ravden.core.schedule.problem import DAY, OpenSession

    paint = problem.materials.get(material)
    if paint is None:
        return problem
    for person in sorted(problem.people, key=lambda p: p.name != by):
        today = [(max(a, problem.now_min), b) for a, b in problem.hours(person) if a < DAY and b > problem.now_min]
        if person.spray and any(b - a >= paint.clean_min for a, b in today):
            opened = OpenSession(material=material, who=person.name, since_min=problem.now_min)
            return replace(problem, open_session=opened)
    return problem


def _goes_on(problem: Problem, key: Key, before: Before) -> bool:
    """Whether a step is being done, or its gun set up."""
    begins, ends = before.starts_min[0] - _set_up(problem, key), before.starts_min[-1] + _took(problem.step(key))
    return begins < problem.now_min < ends + OVERDUE_MIN


def _set_up(problem: Problem, key: Key) -> int:
    step = problem.step(key)
    return problem.paint(step).setup_min if step.sprayed else 0


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
    for name in {*asked.crew.guns, *asked.no_spray, *asked.bad_odds}:
        gun = asked.crew.guns.get(name) or Gun()
        spans = tuple(
            (int(a * 60 // GRID) * GRID, -int(-b * 60 // GRID) * GRID) for a, b in asked.no_spray.get(name, ())
        )
        up = -(-gun.setup_min // GRID) * GRID, -(-gun.clean_min // GRID) * GRID
        odds = asked.bad_odds.get(name, 0.0)
        out[name] = Paint(setup_min=up[0], clean_min=up[1], no_spray=spans, bad_odds=odds)
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
        stage, nth = parts(name)
        for n, text in enumerate(kept.starts):
            each = f"{stage}{MARK}{int(nth) + n}" if len(kept.starts) > 1 and nth.isdigit() else name
            spots[instrument, each] = (kept.who, clock.minute(datetime.fromisoformat(text)), kept.cabinet)
    names = {p.name for p in problem.people}
    for j, job in enumerate(problem.jobs):
        for k, step in enumerate(job.steps):
            stage, nth = parts(step.id)
            if nth == DONE:
                continue  # no hands are booked for it: it is whenever its wait is over
            mine = [f"{stage}{MARK}{int(nth) + n}" for n in range(step.coats)] if step.sprayed else [step.id]
            found = [spots[job.id, name] for name in mine if (job.id, name) in spots]
            if len(found) != len(mine) or len({(who, day_of(at)) for who, at, _ in found}) != 1:
                continue
            who = found[0][0] if found[0][0] in names else problem.people[0].name
            yield (j, k), Before(who=who, starts_min=tuple(at for _, at, _ in found), cabinet=found[0][2])
