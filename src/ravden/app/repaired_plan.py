"""A plan that is repaired around what happened, never made again unasked: what stands is kept, what something came
between is put elsewhere, and whatever else would be better is offered (better_plan.py). No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.shop_problem import ShopAsked, eased

if TYPE_CHECKING:
    from ravden.core.schedule.jobs import Left
    from ravden.core.schedule.problem import Before, Plan, Problem


class Repaired(Struct, frozen=True, kw_only=True):
    """A plan that was kept as far as it can stand, and the problem it is one of: with waits eased to what stands."""

    problem: Problem
    plan: Plan


def repaired(asked: ShopAsked, parts: Mapping[str, Left], problem: Problem) -> Repaired | None:
    """The plan before with as little changed as what happened asks for; None where a step finds no place. problem: with
    its waits as they are."""
    from ravden.core.schedule.repair import keep

    soft = eased(problem, parts)
    plan = keep(soft)
    if plan is None:
        return None
    found = Repaired(problem=soft, plan=plan)
    if not asked.kept:
        for j, job in enumerate(problem.jobs):
            if job.id in asked.touched:
                found = drawn_in(found, problem, j) or found
    return found


def drawn_in(held: Repaired, problem: Problem, j: int) -> Repaired | None:
    """The same with an instrument that something was told of placed anew, where it is ready a day sooner by that, no
    promise is worse kept, and nobody else moves."""
    from ravden.core.schedule.problem import DAY, job_end
    from ravden.core.schedule.renew import FRESH
    from ravden.core.schedule.repair import keep

    others = {key: before for key, before in as_before(held.plan).items() if key[0] != j}
    jobs = tuple(problem.jobs[n] if n == j else job for n, job in enumerate(held.problem.jobs))
    free = replace(held.problem, jobs=jobs, previous=others)
    plan = keep(free)
    if plan is None or any(plan.placed[key].starts_min != before.starts_min for key, before in others.items()):
        return None
    sooner = job_end(held.problem, held.plan, j) - job_end(free, plan, j)
    if sooner < DAY or FRESH.key(free, plan) > FRESH.key(held.problem, held.plan):
        return None
    return Repaired(problem=replace(free, previous=held.problem.previous), plan=plan)


def as_before(plan: Plan) -> dict[tuple[int, int], Before]:
    """A plan as what stood before the next."""
    from ravden.core.schedule.problem import Before

    return {
        key: Before(who=p.who, starts_min=p.starts_min, cabinet=p.cabinet) for key, p in plan.placed.items()
    }  # fmt: skip
