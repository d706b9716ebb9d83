"""The user's own sequence judged (rules and figures: docs/maths.md, ENG)."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.grades import Abrasive, ambiguity, candidates, is_ambiguous
from ravden.core.abrasive.job import KEY, SAME_GRADE, Job, finishes, may_follow, roughest_start_um, sheen_after
from ravden.core.abrasive.ladder import evaluate, flatted, totals
from ravden.core.abrasive.scratch import Rung
from ravden.core.errors import InputError
from ravden.core.fact import Fact, fact

BACKWARD = 0.89  # grains in such a ratio go backwards
WASTE_MIN, WASTE_SHARE = 3.0, 0.03  # what leaving a rung out must save to be worth saying
COARSER_THAN = 0.9  # [A] of the texture: a first scratch so deep is coarser than is needed
SLOW = 2.0  # times the time of the best ladder


@dataclass(frozen=True, slots=True, kw_only=True)
class Remark:
    """Something to say of a sequence; at: the rung it is about, None for the whole; grave: it will not work so."""

    said: Fact
    at: int | None = None
    grave: bool = False

    @property
    def code(self) -> str:
        return self.said.code


def ambiguous(grades: Sequence[Abrasive], given: Sequence[str]) -> tuple[Remark, ...]:
    """A question for every bare number that scales read differently."""
    out = []
    for i, text in enumerate(given):
        if text.strip().lstrip("#").isdigit():
            meant = candidates(grades, text)
            if is_ambiguous(meant):
                out.append(Remark(said=fact("AMBIGUOUS_SYSTEM", asks=ambiguity(text, meant)), at=i, grave=True))
    return tuple(out)


def judge(job: Job, rungs: Sequence[Rung], drawer: Sequence[Rung] = ()) -> tuple[Remark, ...]:
    """Every remark on a sequence of the user's own, in the order of its rungs; the whole last."""
    ladder = evaluate(job, rungs)
    out: list[Remark] = []
    for i, rung in enumerate(rungs):
        before = rungs[i - 1] if i else job.after
        out += _start(job, rung, ladder) if before is None else _step(job, before, rung, i, ladder)
    wasteful = _wasteful(job, rungs, ladder)
    out += [wasteful] if wasteful else []
    out += _whole(job, rungs, ladder, drawer)
    return tuple(out)


def _start(job: Job, rung: Rung, ladder: Ladder) -> list[Remark]:
    name, pv = rung.abrasive.name, job.texture_um
    out = []
    if pv > roughest_start_um(rung):
        out.append(Remark(said=fact("START_SOFT"), at=0, grave=True))
    if rung.abrasive.kind != "wool" and rung.pit_um > COARSER_THAN * pv:
        out.append(Remark(said=fact("START_TOO_COARSE", grade=name, pit_um=rung.pit_um, texture_um=pv), at=0))
    remove, limit = ladder.steps[0].remove_um, rung.d_max_um
    if remove > limit:
        said = fact("START_TOO_FINE", grade=name, remove_um=remove, limit_um=limit)
        out.append(Remark(said=said, at=0, grave=True))
    return out


def _step(job: Job, before: Rung, rung: Rung, i: int, ladder: Ladder) -> list[Remark]:
    a, b = before.abrasive, rung.abrasive
    out = []
    ratio = a.d50_um / b.d50_um
    if a.coated and b.coated:
        if ratio < BACKWARD:
            out.append(Remark(said=fact("BACKWARD", first=a.name, then=b.name), at=i, grave=True))
        elif ratio <= SAME_GRADE:
            out.append(Remark(said=fact("SAME_SIZE", first=a.name, then=b.name), at=i))
        elif ratio > job.ratio_max + 1e-9:
            out.append(Remark(said=fact("JUMP_TOO_BIG", first=a.name, then=b.name, times=ratio), at=i))
    if a.kind == "wool":
        out.append(Remark(said=fact("AFTER_WOOL", grade=a.name), at=i, grave=True))
    remove, limit = ladder.steps[i].remove_um, rung.d_max_um
    if remove > limit:
        said = fact("CANNOT_ERASE", grade=b.name, before=a.name, remove_um=remove, limit_um=limit)
        out.append(Remark(said=said, at=i, grave=True))
    elif ladder.steps[i].tight:
        out.append(Remark(said=fact("TIGHT", grade=b.name, remove_um=remove, limit_um=limit), at=i))
    return out


def _wasteful(job: Job, rungs: Sequence[Rung], ladder: Ladder) -> Remark | None:
    """The rung whose leaving out saves most, if that is worth a word and everything still works."""
    best: tuple[float, float, int] | None = None
    for i in range(len(rungs) - 1):
        rest = [*rungs[:i], *rungs[i + 1 :]]
        found = totals(job, rest)
        if found is None or (i == 0 and not may_follow(job, rest[0], job.after)):
            continue
        after, before = rest[i], rest[i - 1] if i else job.after
        if before is not None and not may_follow(job, after, before):
            continue
        if job.removal_um(after, before) > 0.8 * after.d_max_um:
            continue
        saved = ladder.minutes - found[0]
        if saved > max(WASTE_MIN, WASTE_SHARE * ladder.minutes) and (best is None or saved > best[0]):
            best = (saved, ladder.film_used_um - found[1], i)
    if best is None:
        return None
    saved, film, i = best
    said = fact("WASTEFUL_RUNG", grade=rungs[i].abrasive.name, minutes=saved, film_um=film if film > 0.05 else None)
    return Remark(said=said, at=i)


def _whole(job: Job, rungs: Sequence[Rung], ladder: Ladder, drawer: Sequence[Rung]) -> list[Remark]:
    out = []
    last = rungs[-1]
    found = sheen_after(job, last, rungs[-2] if len(rungs) > 1 else job.after)
    if job.flatted and job.target != KEY:
        out.append(Remark(said=fact("FLATTED_FILM_WONT_POLISH", why=flatted(job.target)), grave=True))
    elif not finishes(job, last, rungs[-2] if len(rungs) > 1 else job.after):
        ends = fact("no-key", low_um=job.key_um[0], high_um=job.key_um[1])
        if job.target != KEY:
            ends = fact("other-sheen", gu60=found.gu60, sheen=found.name, target=job.target)
        said = fact("FINISH_MISSES_SHEEN", grade=last.abrasive.name, ends=ends)
        out.append(Remark(said=said, at=len(rungs) - 1))
    if drawer and not job.flatted:
        try:
            best = plan(job, drawer)
        except InputError:
            best = None
        if best is not None and ladder.minutes > SLOW * best.minutes:
            names = tuple(r.abrasive.name for r in best.rungs)
            out.append(Remark(said=fact("SLOW", times=ladder.minutes / best.minutes, grades=names)))
    for name in ladder.verdict.short:
        zone = next(z for z in job.zones if z.name == name)
        used = zone.film_um - ladder.steps[-1].film_left_um[name] + ladder.residual_um
        said = fact("FILM_CAP", zone=name, used_um=used, most_um=ladder.caps_um[name])
        out.append(Remark(said=said, grave=True))
    return out
