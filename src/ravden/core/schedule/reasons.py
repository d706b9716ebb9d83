"""Why an instrument is over when it is: one chain, walked back from its end."""

from __future__ import annotations

from msgspec import Struct

from ravden.core.schedule.problem import DAY, Plan, Problem, at_day, busy, day_of, end_of

MOST_LINKS = 6


class Link(Struct, frozen=True, kw_only=True):
    """A link: a step, when it begins, and what it waited for longest. code: film (the wait), hands (its person did
    something else: other), shut (nobody was there), air, company (a session of others), day (it was
    free, and the day's work is kept together), pin, needs, begin (nothing:
    it began at once); wait_min: how long it stood after it could have begun."""

    step: str
    at_min: int
    code: str
    wait_min: int = 0
    film_min: int = 0
    other: str = ""


def because(problem: Problem, plan: Plan, j: int) -> tuple[Link, ...]:
    """The chain of a job, its last step first."""
    job = problem.jobs[j]
    if not job.steps:
        return ()
    k: int | None = max(range(len(job.steps)), key=lambda n: end_of(job.steps[n], plan.placed[j, n]))
    out: list[Link] = []
    while k is not None and len(out) < MOST_LINKS:
        link, k = _link(problem, plan, j, k)
        out.append(link)
    return tuple(out)


def _link(problem: Problem, plan: Plan, j: int, k: int) -> tuple[Link, int | None]:
    job = problem.jobs[j]
    step, placed = job.steps[k], plan.placed[j, k]
    first = placed.starts_min[0]
    before = step.since_min if step.after is None else end_of(job.steps[step.after], plan.placed[j, step.after])
    rows = step.cabinet_wait_min if placed.cabinet and step.cabinet_wait_min is not None else step.wait_min
    film = at_day(rows, before // DAY)
    ready, follows, code = max(before + film, problem.now_min), step.after, "film"
    for need in step.needs:
        end = end_of(job.steps[need], plan.placed[j, need])
        if end > ready:
            ready, follows, code, film = end, need, "needs", 0
    stood = first - ready
    if step.pin is not None and stood > 0:
        return Link(step=step.id, at_min=first, code="pin", wait_min=stood, film_min=film), follows
    if stood <= 0:
        named = code if film > 0 or code == "needs" else "begin"
        return Link(step=step.id, at_min=first, code=named, film_min=film), follows
    why, other = _stood(problem, plan, j, k, ready, first)
    return Link(step=step.id, at_min=first, code=why, wait_min=stood, film_min=film, other=other), follows


def _stood(problem: Problem, plan: Plan, j: int, k: int, ready: int, first: int) -> tuple[str, str]:
    """What took most of the time between when a step could have begun and when it did."""
    step, placed = problem.jobs[j].steps[k], plan.placed[j, k]
    person = next(p for p in problem.people if p.name == placed.who)
    open_min = sum(max(0, min(b, first) - max(a, ready)) for a, b in problem.hours(person))
    shut = (first - ready) - open_min
    if step.sprayed:
        bad = sum(max(0, min(b, first) - max(a, ready)) for a, b in problem.paint(step).no_spray)
        if bad >= max(open_min, 1) / 2 and bad > 0:
            return "air", step.material
    if shut >= open_min:
        return "shut", ""
    with_other = [
        (min(b, first) - max(a, ready), who) for who, (a, b) in busy(problem, plan)
        if who == placed.who and a < first and b > ready
    ]  # fmt: skip
    if step.sprayed and day_of(first) > day_of(ready) and sum(t for t, _ in with_other) < open_min / 2:
        return "company", step.material
    if not with_other:
        return "day", ""
    return "hands", placed.who
