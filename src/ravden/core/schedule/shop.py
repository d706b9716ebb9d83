"""A shop as a problem of the planner: who is there, what is in the booth, and what is left of every instrument."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec.structs import replace

from ravden.core.calendar.hours import Spans, WorkHours
from ravden.core.schedule.jobs import CLEAN_MIN, SETUP_MIN, Left
from ravden.core.schedule.problem import GRID, Paint, Person, Problem, Span

HORIZON_DAYS = 300
HANDS = "hands"  # of the one person a shop has that names nobody


def shop_of(
    parts: Sequence[Left], hours: WorkHours, today: int, now_min: int, people: Sequence[Person] = (),
    paints: Mapping[str, Paint] | None = None,
) -> Problem:  # fmt: skip
    """A shop with these instruments. today: the day of hours that is the shop's day 0; now_min: on its clock; people:
    none for one pair of hands in the shop's hours; paints: of materials that are sprayed otherwise than usual."""
    used = sorted({s.material for p in parts for s in p.job.steps if s.sprayed})
    usual = Paint(setup_min=SETUP_MIN, clean_min=CLEAN_MIN)
    return Problem(
        people=tuple(people) or (Person(name=HANDS, week=week_of(hours.week)),), jobs=tuple(p.job for p in parts),
        materials={m: (paints or {}).get(m, usual) for m in used},
        now_min=-(-now_min // GRID) * GRID, first_weekday=(hours.weekday_at_zero + today) % 7,
        horizon_days=HORIZON_DAYS, closed=frozenset(d - today for d in hours.closed if d >= today),
    )  # fmt: skip


def week_of(week: Sequence[Spans]) -> tuple[tuple[Span, ...], ...]:
    """Hours of each weekday as minutes of the day on the planner's grid."""
    return tuple(tuple((clock(a), clock(b)) for a, b in day) for day in week)


def clock(hour: float) -> int:
    """An hour of the day in minutes."""
    return round(hour * 60 / GRID) * GRID


def likely_of(problem: Problem, parts: Sequence[Left]) -> Problem:
    """The same shop with every wait as long as is likely: what the odds of a plan are drawn around."""
    jobs = []
    for job, part in zip(problem.jobs, parts, strict=True):
        steps = (replace(s, wait_min=((0, m),)) for s, m in zip(job.steps, part.likely_min, strict=True))
        jobs.append(replace(job, steps=tuple(steps)))
    return replace(problem, jobs=tuple(jobs))
