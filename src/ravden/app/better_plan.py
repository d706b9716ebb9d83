"""A better plan than the one that stands: offered with what it gains, and put in its place by hand alone. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.repaired_plan import Repaired, as_before, drawn_in
from ravden.app.shop_plan import ShopPlanned
from ravden.app.shop_problem import problem_of

if TYPE_CHECKING:
    from ravden.app.shop_questions import WayOut
    from ravden.core.schedule.problem import Plan, Problem

LEAST_GAIN, GAIN_SHARE = 3, 0.03  # [A] in days of cost: less is no reason to move work that stands


class Offer(Struct, frozen=True, kw_only=True):
    """A plan that could be taken in the place of the one that stands. made: that one; firm, late, cost: days by which
    firm promises, promises, and ends with set-ups are better; ends: instruments by name that are ready on another day,
    and by how many days sooner (later: under 0), the most first."""

    made: ShopPlanned
    plan: Plan
    firm: int
    late: int
    cost: int
    ends: tuple[tuple[str, int], ...]

    @property
    def gain(self) -> tuple[int, int, int]:
        return self.firm, self.late, self.cost


def offer(made: ShopPlanned, plan: Plan | None, declined: tuple[int, int, int] | None = None) -> Offer | None:
    """A plan as an offer, None where it is not worth moving work for; declined: what the last one that was left would
    have gained, of which it has to gain as much once more."""
    from ravden.core.schedule.problem import job_end

    if plan is None or made.problem is None or made.plan is None or set(plan.placed) != set(made.plan.placed):
        return None
    problem, names = made.problem, [made.asked.outlooks[i].project.instrument.name for i in made.parts]
    firm, late, cost = (b - a for a, b in zip(_key(problem, plan), _key(problem, made.plan), strict=True))
    ends = [
        (name, job_end(problem, made.plan, j) // 1440 - job_end(problem, plan, j) // 1440)
        for j, name in enumerate(names)
    ]
    found = Offer(
        made=made, plan=plan, firm=firm, late=late, cost=cost,
        ends=tuple(sorted((e for e in ends if e[1]), key=lambda e: -e[1])),
    )  # fmt: skip
    return found if _worth(found, declined) else None


def _worth(found: Offer, declined: tuple[int, int, int] | None) -> bool:
    """A firm promise or a late day saved, or days of ends and set-ups beyond what two plans of one shop differ by for
    nothing; or some ready a day sooner and none later."""
    assert found.made.problem is not None and found.made.plan is not None
    firm, late, cost = found.gain
    was = _key(found.made.problem, found.made.plan)[2]
    least = max(LEAST_GAIN, GAIN_SHARE * was)
    if declined is not None:
        if (firm, late) != declined[:2]:
            return (firm, late) > declined[:2]
        return cost >= declined[2] + least
    if firm or late:
        return (firm, late) > (0, 0)
    sooner = [days for _, days in found.ends]
    return cost >= least or (cost > 0 and min(sooner, default=0) > 0)


def better(made: ShopPlanned, declined: tuple[int, int, int] | None = None) -> Offer | None:
    """What can be offered in the place of a plan at once: each instrument drawn in where that is sooner and moves
    nobody else, or all of them planned by somebody who knows nothing of what stands; None: neither is worth it."""
    found = [offer(made, plan, declined) for plan in (_drawn(made), _from_nothing(made))]
    return max((o for o in found if o is not None), key=lambda o: o.gain, default=None)


def _from_nothing(made: ShopPlanned) -> Plan | None:
    from ravden.core.schedule.improve import first_plan

    if made.problem is None:
        return None
    return first_plan(problem_of(made.asked, made.parts, list(made.loose_pins), going_on=False))[0]


def _drawn(made: ShopPlanned) -> Plan | None:
    if made.problem is None or made.plan is None:
        return None
    plain = problem_of(made.asked, made.parts, list(made.loose_pins))
    held = Repaired(problem=made.problem, plan=made.plan)
    for j in range(len(plain.jobs)):
        held = drawn_in(held, plain, j) or held
    return held.plan


def as_way(found: Offer) -> WayOut:
    """What an offer would move of the plan that stands, and who is late by it."""
    from ravden.app.shop_questions import way_out

    made = found.made
    assert made.problem is not None and made.plan is not None
    stands = replace(made, problem=replace(made.problem, previous=as_before(made.plan)))
    return way_out(stands, found.plan, "better")


def _key(problem: Problem, plan: Plan) -> tuple[int, ...]:
    from ravden.core.schedule.renew import FRESH

    return FRESH.key(problem, plan)
