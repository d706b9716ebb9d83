"""Why a plan that was repaired has work elsewhere than it stood: of each instrument the first piece that moved."""

from __future__ import annotations

from msgspec import Struct

from ravden.core.schedule.problem import Before, Placed, Plan, Problem, Step, at_day, busy, end_of

TOLD_MIN = 60  # a smaller move wants no reason


class Shift(Struct, frozen=True, kw_only=True):
    """A piece of work that moved, by numbers of job and step. code: missed (it was to be done before now), film (its
    wait is over later, by_min), pin, away (its person is not there), air, taken (that person's hands are on another
    job, of), window (of recoating: it would have been shut), sooner, or rest (with what else moved)."""

    job: int
    step: int
    was_min: int
    now_min: int
    code: str
    by_min: int = 0
    of: int = -1


def shifts(problem: Problem, plan: Plan, now_min: int) -> tuple[Shift, ...]:
    """Of each instrument the first piece of work that stands otherwise than before by over an hour. problem: with the
    waits as they are, not eased to what stood; now_min: the moment itself, whatever is going on since before it."""
    first: dict[int, tuple[int, int]] = {}
    for (j, k), was in sorted(problem.previous.items(), key=lambda one: (one[1].starts_min, one[0])):
        placed = plan.placed.get((j, k))
        if placed is not None and abs(placed.starts_min[0] - was.starts_min[0]) > TOLD_MIN:
            first.setdefault(j, (j, k))
    return tuple(_shift(problem, plan, key, now_min) for key in first.values())


def _shift(problem: Problem, plan: Plan, key: tuple[int, int], now_min: int) -> Shift:
    code, by, of = _why(problem, plan, key, now_min)
    was, placed = problem.previous[key], plan.placed[key]
    return Shift(
        job=key[0], step=key[1], was_min=was.starts_min[0], now_min=placed.starts_min[0], code=code, by_min=by, of=of
    )


def _why(problem: Problem, plan: Plan, key: tuple[int, int], now_min: int) -> tuple[str, int, int]:
    step, was, placed = problem.step(key), problem.previous[key], plan.placed[key]
    at = was.starts_min[0]
    if at < now_min:
        return "missed", 0, -1
    if step.pin is not None:
        return "pin", 0, -1
    begins = _begins(problem, plan, key, step)
    over = begins + at_day(_rows(step, placed), begins // 1440) - at
    if over > 0:
        return "film", over, -1
    if placed.starts_min[0] < at:
        return "sooner", 0, -1
    there = next((p for p in problem.people if p.name == was.who), None)
    long = max(step.least_min, 1)
    if there is None or not any(a <= at and at + long <= b for a, b in problem.hours(there)):
        return "away", 0, -1
    if step.sprayed and any(a < at + long and at < b for a, b in problem.paint(step).no_spray):
        return "air", 0, -1
    taken = _taken(problem, plan, key[0], was, long)
    if taken is not None:
        return "taken", 0, taken
    if step.shuts_min is not None and at > begins + at_day(step.shuts_min, begins // 1440):
        return "window", 0, -1
    return "rest", 0, -1


def _begins(problem: Problem, plan: Plan, key: tuple[int, int], step: Step) -> int:
    """When what a step waits from is over."""
    if step.after is None:
        return step.since_min
    return end_of(problem.jobs[key[0]].steps[step.after], plan.placed[key[0], step.after])


def _rows(step: Step, placed: Placed) -> tuple[tuple[int, int], ...]:
    warm = placed.cabinet and step.cabinet_wait_min is not None
    return step.cabinet_wait_min if warm and step.cabinet_wait_min is not None else step.wait_min


def _taken(problem: Problem, plan: Plan, j: int, was: Before, long: int) -> int | None:
    """The other job that has the hands at the time."""
    at = was.starts_min[0]
    for other in sorted({n for n, _ in plan.placed} - {j}):
        mine = Plan(placed={key: p for key, p in plan.placed.items() if key[0] == other})
        if any(who == was.who and a < at + long and at < b for who, (a, b) in busy(problem, mine)):
            return other
    return None
