"""A ladder of grits worked out rung by rung: film, time, sheen, odds, and what the film says to it."""

from collections.abc import Sequence
from dataclasses import replace

from ravden.core.abrasive import gloss, sandthrough
from ravden.core.abrasive.climb import Ladder, Step
from ravden.core.abrasive.job import SLACK, Job, sheen_after
from ravden.core.abrasive.reasons import shortage, to_measure
from ravden.core.abrasive.sandthrough import ZoneFilmLeft
from ravden.core.abrasive.scratch import Rung, minutes, per_pass_um, pieces_of_paper
from ravden.core.abrasive.verdict import judged
from ravden.core.errors import need
from ravden.core.fact import Fact, fact


def flatted(target: str) -> Fact:
    """Why a film dulled by particles is never rubbed up."""
    return fact("flatted-as-is") if target in ("matte", "satin") else fact("flatted-no-gloss", target=target)


def removes_of(job: Job, rungs: Sequence[Rung]) -> list[float]:
    """Film every rung of a sequence takes off the flats [um]."""
    return [job.removal_um(r, rungs[i - 1] if i else job.after) for i, r in enumerate(rungs)]


def totals(job: Job, rungs: Sequence[Rung]) -> tuple[float, float] | None:
    """Minutes and film of a sequence [min, um]; None where a step of it takes more than its grade can."""
    removes = removes_of(job, rungs)
    if any(d > r.d_max_um for d, r in zip(removes, rungs, strict=True)):
        return None
    time = sum(
        minutes(r, d, job.area_cm2, first=i == 0 and job.after is None)
        for i, (d, r) in enumerate(zip(removes, rungs, strict=True))
    )
    return time, sum(removes) + job.residual_um(rungs[-1])


def score(job: Job, rungs: Sequence[Rung]) -> float:
    """What a workable sequence costs by the job's objective."""
    found = totals(job, rungs)
    assert found is not None
    time_weight, film_weight = job.weight
    return time_weight * found[0] + film_weight * found[1]


def evaluate(job: Job, rungs: Sequence[Rung]) -> Ladder:
    """Work out a given sequence: film, time, sheen and odds, rung by rung, and the verdict of the film."""
    need(len(rungs) > 0, "sequence", "must name at least one grade")
    area = job.area_cm2
    removes = removes_of(job, rungs)
    residual = job.residual_um(rungs[-1])
    cv = max(r.backing.cv for r in rungs)
    verdict = judged(job, rungs, removes, cv)
    caps = {z.name: most_um(job, z, cv) for z in job.zones}
    spent = {z.name: 0.0 for z in job.zones}
    worked: set[str] = set()
    steps = []
    for i, (rung, remove) in enumerate(zip(rungs, removes, strict=True)):
        before = rungs[i - 1] if i else job.after
        last = i == len(rungs) - 1
        takes = {z.name: rung.backing.bears_on(z.kind) * z.share for z in job.zones}
        strokes = {
            z.name: sandthrough.safe_passes(caps[z.name], spent[z.name], per_pass_um(rung), takes[z.name])
            for z in job.zones
        }
        worked |= {n for n, k in verdict.joins.items() if k is not None and i >= k}
        for n in worked:
            spent[n] += remove * takes[n]
        own = job.residual_um(rung)
        found = sheen_after(job, rung, before)
        steps.append(
            Step(
                rung=rung,
                remove_um=remove,
                minutes=minutes(rung, remove, area, first=before is None),
                pieces=pieces_of_paper(rung, remove, area) if rung.abrasive.coated else 0.0,
                gu20=found.gu20,
                gu60=found.gu60,
                sheen=found.name,
                band=gloss.band(
                    gloss.rq_um(rung.rz_um), gloss.rq_um(before.rz_um) if before is not None else None,
                    rung.abrasive.covered, job.refractive_index,
                ),
                film_left_um={z.name: z.film_um - spent[z.name] for z in job.zones},
                odds={z.name: _odds(job, z, spent[z.name] + own, cv) if z.name in worked else 0.0 for z in job.zones},
                strokes=strokes,
                why=_why(job, rung, before, remove),
                look_for=_look_for(rung, before, last),
                tight=remove > SLACK * rung.d_max_um,
            )
        )  # fmt: skip
    ladder = Ladder(
        steps=tuple(steps),
        residual_um=residual,
        minutes=sum(s.minutes for s in steps),
        film_used_um=sum(removes) + residual,
        # A zone that is left alone runs no risk from this ladder.
        odds={z.name: _odds(job, z, spent[z.name] + residual, cv) if z.name in worked else 0.0 for z in job.zones},
        caps_um=caps,
        verdict=verdict,
        edges=tuple(z.name for z in job.zones if z.kind == "edge"),
    )
    reason = shortage(job, ladder) if verdict.short else to_measure(job, ladder)
    return replace(ladder, reason=reason) if reason else ladder


def most_um(job: Job, zone: ZoneFilmLeft, cv: float) -> float:
    """The most that may come off a zone of a job [um]."""
    return sandthrough.most_removal_um(zone, cv, job.min_film_um, job.limit(zone.kind))


def _odds(job: Job, zone: ZoneFilmLeft, removed_um: float, cv: float) -> float:
    return sandthrough.zone_odds(zone, removed_um, cv, job.min_film_um)


def _why(job: Job, rung: Rung, before: Rung | None, remove: float) -> Fact:
    limit = rung.d_max_um
    if before is None:
        return fact("levels", texture_um=job.texture_um, remove_um=remove, limit_um=limit)
    return fact(
        "takes-out", before=before.abrasive.name, remove_um=remove, limit_um=limit, near=remove > SLACK * limit
    )  # fmt: skip


def _look_for(rung: Rung, before: Rung | None, last: bool) -> Fact:
    """What to see before moving on."""
    kind = rung.abrasive.kind
    if before is None:
        return fact("look-level")
    if kind == "wool":
        return fact("look-wool")
    if kind == "powder":
        return fact("look-powder")
    if kind == "polish":
        return fact("look-gloss" if last else "look-polish")
    return fact("look-fine" if rung.rz_um < 2.0 else "look-paper")
