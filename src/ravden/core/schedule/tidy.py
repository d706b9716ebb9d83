"""The days of a plan made neat: work is drawn together where nothing is lost by it."""

from __future__ import annotations

from ravden.core.schedule.packing import packed
from ravden.core.schedule.problem import GRID, Plan, Problem, Session, Span, busy, day_of
from ravden.core.schedule.verify import verify

SHOWN_DAYS = 14


def tidied(problem: Problem, plan: Plan, days: int = SHOWN_DAYS) -> Plan:
    """The same plan with sessions no longer than they are and gaps of a day closed, in the days that are shown."""
    plan = sessions_drawn_in(problem, plan)
    today = day_of(problem.now_min)
    for day in range(today, min(today + days, problem.horizon_days)):
        plan = packed(problem, plan, day)
    return sessions_drawn_in(problem, plan)


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
