"""The days of a plan made neat: work is drawn together where nothing is lost by it."""

from __future__ import annotations

from ravden.core.schedule.problem import (
    GRID,
    Placed,
    Plan,
    Problem,
    Session,
    Span,
    busy,
    day_idle,
    day_of,
    end_of,
    figures,
)
from ravden.core.schedule.verify import verify

SHOWN_DAYS = 14
ROUNDS = 3


def tidied(problem: Problem, plan: Plan, days: int = SHOWN_DAYS) -> Plan:
    """The same plan with sessions no longer than they are and gaps of a day closed, in the days that are shown."""
    plan = sessions_drawn_in(problem, plan)
    until = day_of(problem.now_min) + days
    for _ in range(ROUNDS):
        moved = False
        for key in sorted(plan.placed, key=lambda key: -plan.placed[key].starts_min[0]):
            step = problem.jobs[key[0]].steps[key[1]]
            if step.sprayed or step.hands_min == 0 or day_of(plan.placed[key].starts_min[0]) >= until:
                continue
            better = _beside(problem, plan, key)
            if better is not None:
                plan, moved = better, True
        if not moved:
            break
    return plan


def sessions_drawn_in(problem: Problem, plan: Plan) -> Plan:
    """Set up as late as the first coat allows, cleaned as soon as the last does."""
    sessions = list(plan.sessions)
    for n, session in enumerate(sessions):
        paint = problem.materials[session.material]
        coats = [
            (t, t + problem.jobs[j].steps[k].coat_min) for (j, k), p in plan.placed.items() for t in p.starts_min
            if problem.jobs[j].steps[k].material == session.material and day_of(t) == session.day
        ]  # fmt: skip
        if not coats:
            continue
        rest = Plan(placed=plan.placed, sessions=tuple(s for s in sessions if s is not session))
        others = [span for who, span in busy(problem, rest) if who == session.who]
        hours = problem.hours(next(p for p in problem.people if p.name == session.who))
        first, last = min(a for a, _ in coats), max(b for _, b in coats)
        opens: int | None = session.from_min
        if not session.loaded:
            opens = _free(others, hours, range(first - paint.setup_min, session.from_min - 1, -GRID), paint.setup_min)
        ends = _free(others, hours, range(last, session.to_min - paint.clean_min + 1, GRID), paint.clean_min)
        if opens is not None and ends is not None:
            sessions[n] = Session(
                material=session.material, who=session.who, from_min=opens, to_min=ends + paint.clean_min,
                loaded=session.loaded,
            )  # fmt: skip
    drawn = Plan(placed=plan.placed, sessions=tuple(sessions))
    return drawn if not verify(problem, drawn) or verify(problem, plan) else plan


def _free(others: list[Span], hours: tuple[Span, ...], at: range, long: int) -> int | None:
    for t in at:
        inside = any(a <= t and t + long <= b for a, b in hours) or long == 0
        if inside and not any(a < t + long and t < b for a, b in others):
            return t
    return None


def _beside(problem: Problem, plan: Plan, key: tuple[int, int]) -> Plan | None:
    """A step of hands moved to touch other work of its person that day, where less is idle then and nothing worse."""
    placed, step = plan.placed[key], problem.jobs[key[0]].steps[key[1]]
    at, day = placed.starts_min[0], day_of(placed.starts_min[0])
    mine = at, at + step.hands_min
    spans = [s for who, s in busy(problem, plan) if who == placed.who and day_of(s[0]) == day and s != mine]
    if not spans:
        return None
    hours = problem.hours(next(p for p in problem.people if p.name == placed.who))
    was = day_idle([*spans, mine], hours)
    ways = []
    for t in {a - step.hands_min for a, _ in spans} | {b for _, b in spans}:
        left = day_idle([*spans, (t, t + step.hands_min)], hours)
        free = all(b <= t or t + step.hands_min <= a for a, b in spans)
        if t != at and t >= problem.now_min and day_of(t) == day and left < was and free:
            ways.append((left, t))
    before = figures(problem, plan)
    for _, t in sorted(ways):
        moved = dict(plan.placed)
        moved[key] = Placed(who=placed.who, starts_min=(t,), cabinet=placed.cabinet)
        tried = Plan(placed=moved, sessions=plan.sessions)
        now = figures(problem, tried)
        worse = (now.late_days, now.moved, now.cost) > (before.late_days, before.moved, before.cost)
        if not worse and now.idle_min < before.idle_min and not verify(problem, tried):
            return tried
    return None


def end_min(problem: Problem, plan: Plan, j: int) -> int:
    """When a job is over."""
    return max(end_of(s, plan.placed[j, k]) for k, s in enumerate(problem.jobs[j].steps))
