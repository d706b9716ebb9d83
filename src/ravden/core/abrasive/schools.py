"""Two habits of rubbing out, each as a ladder from the same drawer, to set beside the one proposed."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.job import SAME_GRADE, Job, finishes, is_soft, may_follow
from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.scratch import Rung, deepest_um
from ravden.core.abrasive.sequence import Path, affordable, cheapest

DEEPEST_START = 0.5  # [A] of the texture: what a coarse start may leave to be taken out


@dataclass(frozen=True, slots=True, kw_only=True)
class School:
    """A habit, coarse-start or fine-start, and its ladder; None: not from this drawer."""

    id: str
    ladder: Ladder | None


def schools(job: Job, drawer: Sequence[Rung]) -> tuple[School, School]:
    """Every grade by hand from a coarse start; few grades from a fine start."""
    return (
        School(
            id="coarse-start",
            ladder=_evaluated(job, every_grade(job, drawer)),
        ),
        School(
            id="fine-start",
            ladder=_evaluated(job, fine_start(job, drawer)),
        ),
    )


def _evaluated(job: Job, rungs: Path | None) -> Ladder | None:
    return None if rungs is None else evaluate(job, rungs)


def every_grade(job: Job, drawer: Sequence[Rung]) -> Path | None:
    """From the coarsest paper whose scratches stay within half the texture, every grade owned down to the sheen."""
    area, pv = job.area_cm2, job.texture_um
    usable = [r for r in drawer if r.abrasive.on_film and r.abrasive.kind not in ("wool", "powder")]
    usable.sort(key=lambda r: -r.rz_um)
    starts = [
        i
        for i, r in enumerate(usable)
        if may_follow(job, r, None)
        and not is_soft(r)
        and deepest_um(r, area) <= DEEPEST_START * pv
        and job.removal_um(r, None) <= r.d_max_um
    ]
    if not starts:  # a texture so fine that every paper owned scratches deeper: the finest that levels it at all
        starts = [i for i, r in enumerate(usable) if may_follow(job, r, None) and job.removal_um(r, None) <= r.d_max_um]
        starts = starts[-1:]
    if not starts and job.after is None:
        return None
    out = [] if job.after is not None else [usable[starts[0]]]
    rest = usable if job.after is not None else usable[starts[0] + 1 :]
    for rung in rest:
        before = out[-1] if out else job.after
        assert before is not None
        if finishes(job, before):
            break
        a, b = before.abrasive, rung.abrasive
        if b.kind == "foam" or (a.coated and b.coated and a.d50_um / b.d50_um < SAME_GRADE):
            continue  # foam-backed grades are no grade of a paper ladder; nor is the same grain again
        if may_follow(replace(job, ratio_max=5.0), rung, before):
            out.append(rung)
    return tuple(out) if out and finishes(job, out[-1]) else None


def fine_start(job: Job, drawer: Sequence[Rung]) -> Path | None:
    """The ladder that costs least film."""
    least = replace(job, objective="film", slack=1.0)
    return affordable(least, drawer) or cheapest(least, drawer)
