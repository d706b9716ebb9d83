"""Promises that cannot all be kept: which, and what giving way would cost."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.schedule import exact
from ravden.core.schedule.improve import Effort, first_plan, improve
from ravden.core.schedule.problem import Problem, figures
from ravden.core.schedule.renew import firm_missed
from ravden.core.schedule.squeeze import alone

PROBE_SECONDS = 5.0


class Clash(Struct, frozen=True, kw_only=True):
    """alone_min: of each firm job, when it could be over by itself (None: never); clash: jobs that cannot all keep
    theirs, one alone if it cannot by itself; relief_late_days: the least late days if none were firm; pin: job and step
    of a pin that cannot stand."""

    alone_min: dict[int, int | None]
    clash: tuple[int, ...] = ()
    relief_late_days: int | None = None
    pin: tuple[int, int] | None = None


def clash(problem: Problem, effort: Effort) -> Clash:
    """Why no plan keeps the firm promises, or the pins."""
    if (pin := impossible_pin(problem)) is not None:
        return Clash(alone_min={}, pin=pin)
    firm = [j for j, job in enumerate(problem.jobs) if job.firm and job.promised_min is not None and job.steps]
    ends = {j: alone(problem, j) for j in firm}
    for j in firm:
        end, promised = ends[j], problem.jobs[j].promised_min
        if end is None or (promised is not None and end > promised):
            return Clash(alone_min=ends, clash=(j,), relief_late_days=_relief(problem, effort))
    core = list(firm)
    for j in firm:
        fewer = [n for n in core if n != j]
        if len(fewer) > 1 and not _can(problem, fewer):
            core = fewer
    return Clash(alone_min=ends, clash=tuple(core), relief_late_days=_relief(problem, effort))


def _relief(problem: Problem, effort: Effort) -> int | None:
    eased = replace(problem, jobs=tuple(replace(job, firm=False) for job in problem.jobs))
    found = improve(eased, effort=effort)
    return None if found.plan is None else figures(eased, found.plan).late_days


def _can(problem: Problem, jobs: list[int]) -> bool:
    """Whether these alone can keep their promises."""
    only = replace(problem, jobs=tuple(problem.jobs[j] for j in jobs), previous={})
    found = improve(only, effort=Effort(seconds=PROBE_SECONDS))
    return found.plan is not None and not firm_missed(only, found.plan)


def impossible_pin(problem: Problem) -> tuple[int, int] | None:
    """A pin without which there is a plan, where there is none with it."""
    eased = replace(problem, jobs=tuple(replace(job, firm=False) for job in problem.jobs))
    if _any(eased):
        return None
    for j, job in enumerate(eased.jobs):
        for k, step in enumerate(job.steps):
            if step.pin is None:
                continue
            steps = tuple(replace(s, pin=None) if n == k else s for n, s in enumerate(job.steps))
            jobs = tuple(replace(job, steps=steps) if n == j else other for n, other in enumerate(eased.jobs))
            if _any(replace(eased, jobs=jobs)):
                return j, k
    return None


def _any(problem: Problem) -> bool:
    """Whether there is any plan."""
    plan, _ = first_plan(problem)
    if plan is not None:
        return True
    if not exact.available() or sum(bool(job.steps) for job in problem.jobs) > exact.MOST_JOBS:
        return False
    return exact.solve(problem, ("late_days",), seconds=PROBE_SECONDS).plan is not None
