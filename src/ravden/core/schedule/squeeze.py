"""Can it be ready by then? Alone, first of all, and as the search makes it; with what becomes of the others."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.schedule import exact
from ravden.core.schedule.dispatch import dispatch, order_of
from ravden.core.schedule.improve import Effort, improve
from ravden.core.schedule.problem import Plan, Problem, job_end, late_days
from ravden.core.schedule.renew import FRESH

HEAVY = 100  # what the asked one weighs against the others
ALONE_SECONDS, SEARCH_SECONDS = 5.0, 5.0


class Other(Struct, frozen=True, kw_only=True):
    """Another instrument: late days then, and in the plan as it is."""

    job: int
    late_days: int
    before: int


class Way(Struct, frozen=True, kw_only=True):
    """When it would be over, and what becomes of the others."""

    end_min: int
    others: tuple[Other, ...]
    plan: Plan


class Squeezed(Struct, frozen=True, kw_only=True):
    """alone_min: when it could be over with the shop for itself, None: not at all; first: if it goes first; best: the
    better of that and of a search."""

    alone_min: int | None
    first: Way | None
    best: Way | None


def squeeze(problem: Problem, plan: Plan, j: int, by_min: int, effort: Effort) -> Squeezed:
    """What could be promised for a job."""
    asked = replace(problem.jobs[j], promised_min=by_min, weight=max(problem.jobs[j].weight, 1) * HEAVY)
    jobs = tuple(asked if n == j else job for n, job in enumerate(problem.jobs))
    pressed = replace(problem, jobs=jobs)
    first = first_way(pressed, plan, j, by_min)
    begin = plan if first is None else min((plan, first.plan), key=lambda p: FRESH.key(pressed, p))
    spent = replace(effort, seconds=min(effort.seconds, SEARCH_SECONDS))
    better = improve(pressed, FRESH, spent, begin)
    ways = [w for w in (first, None if better.plan is None else _way(problem, plan, better.plan, j)) if w is not None]
    return Squeezed(
        alone_min=alone(problem, j), first=first, best=min(ways, key=lambda w: _key(w, by_min), default=None)
    )


def first_way(problem: Problem, plan: Plan, j: int, by_min: int = 0) -> Way | None:
    """A job before all others, which are put into what is left in two orders."""
    first = None
    orders = [order_of(problem), sorted(range(len(problem.jobs)), key=lambda n: -problem.jobs[n].weight)]
    for order in orders:
        found = dispatch(problem, [j, *[n for n in order if n != j]])
        if found.plan is not None:
            way = _way(problem, plan, found.plan, j)
            if first is None or _key(way, by_min) < _key(first, by_min):
                first = way
    return first


def alone(problem: Problem, j: int) -> int | None:
    """When a job could be over with the shop for itself; on a machine too slow for the solver, as a plan made at once
    has it."""
    if exact.available() and len(problem.jobs[j].steps) <= 40:
        try:
            return exact.earliest_end(problem, j, ALONE_SECONDS)
        except exact.CutOffError:
            pass
    only = replace(problem, jobs=(replace(problem.jobs[j], firm=False),), previous={})
    found = dispatch(only).plan
    return None if found is None else job_end(only, found, 0)


def _way(problem: Problem, old: Plan, new: Plan, j: int) -> Way:
    others = []
    for n, job in enumerate(problem.jobs):
        if n != j and job.steps:
            now, was = (late_days(job, job_end(problem, p, n)) for p in (new, old))
            if now != was:
                others.append(Other(job=n, late_days=now, before=was))
    return Way(end_min=job_end(problem, new, j), others=tuple(others), plan=new)


def _key(way: Way, by_min: int) -> tuple[int, int, int]:
    """Met first, then as few days late of the others as can be, then soon."""
    met = 0 if way.end_min <= by_min else 1
    return met, sum(o.late_days - o.before for o in way.others), way.end_min
