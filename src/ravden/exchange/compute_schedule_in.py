"""What ``ravden compute schedule`` takes: a whole shop, read into a problem."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Any, Literal

import msgspec

from ravden.core.errors import InputError, need, need_in
from ravden.core.schedule.problem import (
    DAY,
    GRID,
    Before,
    Job,
    OpenSession,
    Paint,
    Person,
    Pin,
    Problem,
    Rows,
    Scuff,
    Span,
    Step,
)
from ravden.exchange.case import Case

MOST_JOBS, MOST_STEPS, MOST_PEOPLE, MOST_SPANS = 60, 200, 40, 2000
FAR = 2 * 400 * DAY  # minutes before and after that anything may be told at


class PersonIn(Case):
    """Somebody with hands."""

    name: str
    week: list[list[list[int]]]
    away: list[list[int]] = []
    extra: list[list[int]] = []
    spray: bool = True
    buff: bool = True


class PaintIn(Case):
    """A material in the booth."""

    setup_min: int
    clean_min: int
    no_spray: list[list[int]] = []
    bad_odds: float = 0.0


class OpenIn(Case):
    """A gun that is loaded."""

    material: str
    who: str
    since_min: int


class CabinetIn(Case):
    """A place in the cabinet that is taken."""

    until_min: int


class ScuffIn(Case):
    """What a coat needs that comes too late."""

    wait_min: int
    hands_min: int
    good_min: int = DAY


class PinIn(Case):
    """Where a step is held."""

    at_min: int | None = None
    day: int | None = None
    not_before_min: int | None = None
    who: str | None = None


class StepIn(Case):
    """A step; which fields it takes depends on its kind."""

    id: str
    kind: Literal["hand", "coats"]
    after: str | None = ""
    needs: list[str] = []
    since_min: int | None = None
    wait_min: int | list[list[int]] = 0
    shuts_min: int | list[list[int]] | None = None
    cabinet_wait_min: int | list[list[int]] | None = None
    scuff: ScuffIn | None = None
    wait_sd: float = 0.2
    pin: PinIn | None = None
    hands_min: int | None = None
    arbor: bool | None = None
    material: str | None = None
    coats: int | None = None
    coat_min: int | None = None
    flash_min: list[int] | None = None
    wet_min: int | None = None


class InstrumentIn(Case):
    """An instrument with what is left to do on it."""

    id: str
    steps: list[StepIn]
    promised_min: int | None = None
    weight: int = 1
    firm: bool = False


class BeforeIn(Case):
    """A step of the plan before."""

    instrument: str
    step: str
    who: str
    starts_min: list[int]
    scuff_min: int | None = None
    scuff_who: str | None = None
    cabinet: bool = False


class PreviousIn(Case):
    """The plan before."""

    steps: list[BeforeIn]


class SqueezeIn(Case):
    """Can it be ready by then?"""

    instrument: str
    by_min: int


class EffortIn(Case):
    """How long to look for a better plan: seconds, or rounds for the same answer each time."""

    seconds: float | None = None
    rounds: int | None = None
    seed: int = 1


class OddsIn(Case):
    """How often it all holds, by drawing waits, days and hands."""

    samples: int = 2000
    seed: int = 1
    sick_odds: float = 0.015
    hand_sd: float = 0.15


class ScheduleIn(Case):
    """A shop."""

    people: list[PersonIn]
    instruments: list[InstrumentIn]
    now_min: int = 0
    first_weekday: int = 0
    horizon_days: int = 60
    closed_days: list[int] = []
    arbors: int = 1
    cabinet_places: int = 0
    in_cabinet: list[CabinetIn] = []
    drying_places: int | None = None
    materials: dict[str, PaintIn] = {}
    open_session: OpenIn | None = None
    setup_worth_days: int = 2
    previous: PreviousIn | None = None
    mode: Literal["fresh", "fewest_changes", "fewest_late_days"] = "fresh"
    squeeze: SqueezeIn | None = None
    effort: EffortIn = msgspec.field(default_factory=EffortIn)
    odds: OddsIn | None = None


HAND = ("hands_min", "arbor")
COATS = ("material", "coats", "coat_min", "flash_min", "wet_min")


def problem_of(case: ScheduleIn) -> Problem:
    """A case as a problem. Raises InputError with the path of what is wrong."""
    need(len(case.instruments) <= MOST_JOBS, "instruments", f"at most {MOST_JOBS} (got {len(case.instruments)})")
    need(1 <= len(case.people) <= MOST_PEOPLE, "people", f"between 1 and {MOST_PEOPLE} (got {len(case.people)})")
    need_in(case.horizon_days, 1, 400, "horizon_days")
    _on_grid(case.now_min, "now_min")
    need_in(case.now_min, 0, case.horizon_days * DAY, "now_min")
    need_in(case.setup_worth_days, 0, 1000, "setup_worth_days")
    for name in ("arbors", "cabinet_places"):
        need_in(getattr(case, name), 0, 1000, name)
    if case.drying_places is not None:
        need_in(case.drying_places, 0, 1000, "drying_places")
    for i, day in enumerate(case.closed_days):
        need_in(day, 0, 400, f"closed_days[{i}]")
    need(len(case.in_cabinet) <= case.cabinet_places, "in_cabinet", "more are in it than it has places")
    _once([p.name for p in case.people], "people", "name")
    people = tuple(_person(p, f"people[{i}]") for i, p in enumerate(case.people))
    paints = {name: _paint(p, f"materials.{name}") for name, p in case.materials.items()}
    _once([x.id for x in case.instruments], "instruments", "id")
    jobs = tuple(_job(x, f"instruments[{i}]", case, people) for i, x in enumerate(case.instruments))
    if any(s.sprayed for job in jobs for s in job.steps):
        need(any(p.spray for p in people), "people", "there are coats, and nobody sprays")
    opened = None
    if case.open_session is not None:
        one = case.open_session
        need(one.material in paints, "open_session.material", f"is not known ({one.material})")
        who = next((p for p in people if p.name == one.who), None)
        need(who is not None and who.spray, "open_session.who", f"nobody of that name sprays ({one.who})")
        _on_grid(one.since_min, "open_session.since_min")
        need(one.since_min // DAY == case.now_min // DAY and one.since_min <= case.now_min, "open_session.since_min",
             "must be of today, and not after now")  # fmt: skip
        opened = OpenSession(material=one.material, who=one.who, since_min=one.since_min)
    for i, place in enumerate(case.in_cabinet):
        need_in(place.until_min, 0, FAR, f"in_cabinet[{i}].until_min")
    return Problem(
        people=people, jobs=jobs, materials=paints, now_min=case.now_min, first_weekday=case.first_weekday,
        horizon_days=case.horizon_days, closed=frozenset(case.closed_days), arbors=case.arbors,
        cabinet_places=case.cabinet_places, in_cabinet=tuple(c.until_min for c in case.in_cabinet),
        drying_places=case.drying_places, open_session=opened, setup_worth_days=case.setup_worth_days,
        previous=_previous(case),
    )  # fmt: skip


def _person(person: PersonIn, at: str) -> Person:
    need(person.name.strip() != "", f"{at}.name", "must not be empty")
    need(len(person.week) == 7, f"{at}.week", f"must have seven days, Monday first (got {len(person.week)})")
    week = tuple(_spans(day, f"{at}.week[{d}]", 0, DAY) for d, day in enumerate(person.week))
    for d, day in enumerate(week):
        for a, b in itertools.pairwise(day):
            need(a[1] <= b[0], f"{at}.week[{d}]", "hours must follow one another")
    return Person(
        name=person.name, week=week, away=_spans(person.away, f"{at}.away", -FAR, FAR),
        extra=_spans(person.extra, f"{at}.extra", 0, FAR), spray=person.spray, buff=person.buff,
    )  # fmt: skip


def _spans(spans: list[list[int]], at: str, low: int, high: int) -> tuple[Span, ...]:
    need(len(spans) <= MOST_SPANS, at, f"at most {MOST_SPANS} (got {len(spans)})")
    out = []
    for i, span in enumerate(spans):
        need(len(span) == 2, f"{at}[{i}]", "must be from and to")
        a, b = span
        for minute in span:
            need_in(minute, low, high, f"{at}[{i}]")
            _on_grid(minute, f"{at}[{i}]")
        need(a < b, f"{at}[{i}]", f"must end after it begins (got {a} to {b})")
        out.append((a, b))
    return tuple(out)


def _paint(paint: PaintIn, at: str) -> Paint:
    for name in ("setup_min", "clean_min"):
        _minutes(getattr(paint, name), f"{at}.{name}", DAY)
    need_in(paint.bad_odds, 0, 1, f"{at}.bad_odds")
    air = _joined(_spans(paint.no_spray, f"{at}.no_spray", -FAR, FAR))
    return Paint(setup_min=paint.setup_min, clean_min=paint.clean_min, no_spray=air, bad_odds=paint.bad_odds)


def _joined(spans: Sequence[tuple[int, int]]) -> tuple[tuple[int, int], ...]:
    """The same stretches, those that overlap as one: a plan is looked for around each."""
    out: list[tuple[int, int]] = []
    for begins, ends in sorted(spans):
        if out and begins <= out[-1][1]:
            out[-1] = (out[-1][0], max(ends, out[-1][1]))
        else:
            out.append((begins, ends))
    return tuple(out)


def _job(job: InstrumentIn, at: str, case: ScheduleIn, people: tuple[Person, ...]) -> Job:
    need(job.id != "", f"{at}.id", "must not be empty")
    need(len(job.steps) <= MOST_STEPS, f"{at}.steps", f"at most {MOST_STEPS} (got {len(job.steps)})")
    _once([s.id for s in job.steps], f"{at}.steps", "id")
    need_in(job.weight, 0, 1000, f"{at}.weight")
    if job.promised_min is not None:
        need_in(job.promised_min, -FAR, FAR, f"{at}.promised_min")
    ids = {s.id: k for k, s in enumerate(job.steps)}
    steps: list[Step] = []
    for k, step in enumerate(job.steps):
        steps.append(_step(step, k, f"{at}.steps[{k}]", ids, case, people, steps))
    return Job(id=job.id, steps=tuple(steps), promised_min=job.promised_min, weight=job.weight, firm=job.firm)


def _step(
    step: StepIn, k: int, at: str, ids: dict[str, int], case: ScheduleIn, people: tuple[Person, ...], before: list[Step]
) -> Step:
    mine, others = (HAND, COATS) if step.kind == "hand" else (COATS, HAND)
    for name in others:
        need(getattr(step, name) is None, f"{at}.{name}", f"does not belong to {step.kind}")
    for name in mine:
        if name not in ("arbor", "wet_min"):
            need(getattr(step, name) is not None, f"{at}.{name}", f"is needed for {step.kind}")
    after = _after(step, k, at, ids)
    needs = tuple(_earlier(n, k, f"{at}.needs[{i}]", ids) for i, n in enumerate(step.needs))
    since = step.since_min
    if since is not None:
        need(after is None or k == 0 or step.after == "", f"{at}.since_min", "does not go with after")
        need_in(since, -FAR, FAR, f"{at}.since_min")
        if step.after == "":
            after = None
    wait = _rows(step.wait_min, f"{at}.wait_min")
    shuts = None if step.shuts_min is None else _rows(step.shuts_min, f"{at}.shuts_min")
    cabinet = None if step.cabinet_wait_min is None else _rows(step.cabinet_wait_min, f"{at}.cabinet_wait_min")
    if shuts is not None:
        days = {d for rows in (wait, shuts) for d, _ in rows}
        need(all(_at(shuts, d) >= _at(wait, d) for d in days), f"{at}.shuts_min", "shuts before it opens")
    need_in(step.wait_sd, 0, 3, f"{at}.wait_sd")
    scuff = None
    if step.scuff is not None:
        for name in ("wait_min", "hands_min", "good_min"):
            _minutes(getattr(step.scuff, name), f"{at}.scuff.{name}", FAR)
        scuff = Scuff(wait_min=step.scuff.wait_min, hands_min=step.scuff.hands_min, good_min=step.scuff.good_min)
    pin = _pin(step, at, people)
    made: dict[str, Any] = {}
    if step.kind == "hand":
        assert step.hands_min is not None
        _minutes(step.hands_min, f"{at}.hands_min", DAY)
        made = {"hands_min": step.hands_min, "arbor": bool(step.arbor)}
    else:
        made = _coats(step, at, case)
    done = Step(
        id=step.id, after=after, needs=needs, since_min=case.now_min if since is None else since, wait_min=wait,
        shuts_min=shuts, cabinet_wait_min=cabinet, scuff=scuff, wait_sd=step.wait_sd, pin=pin, **made,
    )  # fmt: skip
    if after is not None and before[after].sprayed:
        least = min(m for _, m in wait)
        wet = before[after].wet_min
        need(least >= wet, f"{at}.wait_min", f"is shorter than the coats before are wet ({least} of {wet})")
    may = [p for p in people if (p.spray if done.sprayed else p.buff or not done.arbor)]
    longest = max((b - a for p in may for day in (*p.week, p.extra) for a, b in day), default=0)
    if may or not done.sprayed:
        need(done.least_min <= longest, f"{at}.{'coats' if done.sprayed else 'hands_min'}",
             f"takes {done.least_min} minutes, longer than anybody who may do it is there ({longest})")  # fmt: skip
    return done


def _coats(step: StepIn, at: str, case: ScheduleIn) -> dict[str, Any]:
    assert step.coats is not None and step.coat_min is not None and step.flash_min is not None
    need_in(step.coats, 1, 100, f"{at}.coats")
    _minutes(step.coat_min, f"{at}.coat_min", DAY)
    need(step.coat_min > 0, f"{at}.coat_min", "must be greater than 0")
    need(len(step.flash_min) == 2, f"{at}.flash_min", "must be the least and the most")
    for minute in step.flash_min:
        _minutes(minute, f"{at}.flash_min", DAY)
    low, high = step.flash_min
    need(low <= high, f"{at}.flash_min", f"the least first (got {low} and {high})")
    need(step.material in case.materials, f"{at}.material", f"is not among the materials ({step.material})")
    wet = step.wet_min or 0
    _minutes(wet, f"{at}.wet_min", FAR)
    return {
        "material": step.material, "coats": step.coats, "coat_min": step.coat_min, "flash_min": (low, high),
        "wet_min": wet,
    }  # fmt: skip


def _after(step: StepIn, k: int, at: str, ids: dict[str, int]) -> int | None:
    if step.after is None:
        return None
    if step.after == "":
        return None if k == 0 else k - 1
    return _earlier(step.after, k, f"{at}.after", ids)


def _earlier(name: str, k: int, at: str, ids: dict[str, int]) -> int:
    if name not in ids:
        raise InputError(at, f"there is no such step ({name})")
    need(ids[name] < k, at, f"must be an earlier step ({name})")
    return ids[name]


def _pin(step: StepIn, at: str, people: tuple[Person, ...]) -> Pin | None:
    if step.pin is None:
        return None
    pin = step.pin
    if pin.at_min is not None:
        _on_grid(pin.at_min, f"{at}.pin.at_min")
        need_in(pin.at_min, 0, FAR, f"{at}.pin.at_min")
    if pin.day is not None:
        need_in(pin.day, 0, 400, f"{at}.pin.day")
    if pin.not_before_min is not None:
        need_in(pin.not_before_min, -FAR, FAR, f"{at}.pin.not_before_min")
    if pin.who is not None:
        need(any(p.name == pin.who for p in people), f"{at}.pin.who", f"nobody of that name ({pin.who})")
    return Pin(at_min=pin.at_min, day=pin.day, not_before_min=pin.not_before_min, who=pin.who)


def _rows(told: int | list[list[int]], at: str) -> Rows:
    if isinstance(told, int):
        _minutes(told, at, FAR, grid=False)
        return ((0, told),)
    need(len(told) > 0, at, "must have a row")
    out: list[tuple[int, int]] = []
    for i, row in enumerate(told):
        need(len(row) == 2, f"{at}[{i}]", "must be a day and minutes")
        need_in(row[0], -800, 800, f"{at}[{i}]")
        _minutes(row[1], f"{at}[{i}]", FAR, grid=False)
        if out:
            need(row[0] > out[-1][0], f"{at}[{i}]", "days must rise")
            fall = out[-1][1] - row[1]
            need(fall <= DAY * (row[0] - out[-1][0]), f"{at}[{i}]", "falls faster than a day a day")
        out.append((row[0], row[1]))
    return tuple(out)


def _at(rows: Rows, day: int) -> int:
    here = [m for since, m in rows if since <= day]
    return here[-1] if here else rows[0][1]


def _minutes(value: int, at: str, most: int, *, grid: bool = True) -> None:
    need_in(value, 0, most, at, "min")
    if grid:
        _on_grid(value, at)


def _on_grid(value: int, at: str) -> None:
    need(value % GRID == 0, at, f"must be a multiple of {GRID} minutes (got {value})")


def _once(names: list[str], at: str, field: str) -> None:
    for i, name in enumerate(names):
        need(name not in names[:i], f"{at}[{i}].{field}", f"is there twice ({name})")


def _previous(case: ScheduleIn) -> dict[tuple[int, int], Before]:
    if case.previous is None:
        need(case.mode == "fresh", "mode", "needs the plan before (previous)")
        return {}
    jobs = {x.id: (j, {s.id: k for k, s in enumerate(x.steps)}) for j, x in enumerate(case.instruments)}
    out: dict[tuple[int, int], Before] = {}
    for i, step in enumerate(case.previous.steps):
        if step.instrument not in jobs:
            raise InputError(f"previous.steps[{i}].instrument", f"there is no such instrument ({step.instrument})")
        j, steps = jobs[step.instrument]
        if step.step not in steps:
            raise InputError(f"previous.steps[{i}].step", f"there is no such step ({step.step})")
        need(len(step.starts_min) > 0, f"previous.steps[{i}].starts_min", "must not be empty")
        need(all(math.isfinite(t) for t in step.starts_min), f"previous.steps[{i}].starts_min", "must be minutes")
        key = j, steps[step.step]
        need(key not in out, f"previous.steps[{i}]", f"is there twice ({step.instrument}, {step.step})")
        out[key] = Before(who=step.who, starts_min=tuple(step.starts_min), cabinet=step.cabinet)
    return out
