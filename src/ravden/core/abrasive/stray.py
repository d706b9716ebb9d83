"""A stray deep scratch found on the way: how far to step back, just there, and what it costs (docs/maths.md)."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.abrasive.job import Job
from ravden.core.abrasive.scratch import COVERAGE, Rung, deepest_factor, minutes
from ravden.core.errors import need

SPOT_CM2 = 30.0  # [A] a local patch, blended out
STEPS_BACK = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class StepBack:
    """Back to rung ``to`` on a patch, then up again: film it takes there [um], minutes, and the scratch it reckons
    with [um]."""

    to: int
    rungs: tuple[Rung, ...]
    depth_um: float
    film_um: float
    minutes: float


def step_back(job: Job, rungs: Sequence[Rung], at: int) -> StepBack:
    """The local step back for a stray scratch met on rung ``at``: one grade, or two where one cannot reach it.

    The scratch is taken to be the deepest that the rung before the last could have left over the whole area.
    """
    need(0 <= at < len(rungs), "at", f"must be between 0 and {len(rungs) - 1} (got {at})")
    culprit = rungs[max(at - 1, 0)]
    depth = deepest_factor(job.area_cm2, culprit.backing.gumbel_b) * culprit.pit_um
    for to in range(max(at - 1, 0), max(at - STEPS_BACK, 0) - 1, -1):
        if COVERAGE * max(depth - rungs[to].pit_um, rungs[to].pit_um) <= rungs[to].d_max_um:
            break
    removes = [COVERAGE * max(rungs[to].pit_um, depth - rungs[to].pit_um)]
    for i in range(to + 1, at + 1):
        old = deepest_factor(SPOT_CM2, rungs[i - 1].backing.gumbel_b) * rungs[i - 1].pit_um
        removes.append(COVERAGE * max(rungs[i].pit_um, old - rungs[i].pit_um))
    back = tuple(rungs[to : at + 1])
    return StepBack(
        to=to, rungs=back, depth_um=depth, film_um=sum(removes),
        minutes=sum(minutes(r, d, SPOT_CM2, first=False) for r, d in zip(back, removes, strict=True)),
    )  # fmt: skip
