"""The user's own sequence judged: every remark in words (rules and figures: docs/maths.md, ENG)."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.grades import Abrasive, ambiguous_words, candidates, is_ambiguous
from ravden.core.abrasive.job import KEY, SAME_GRADE, Job, finishes, may_follow, roughest_start_um, sheen_after
from ravden.core.abrasive.ladder import evaluate, flatted_words, totals
from ravden.core.abrasive.scratch import Rung, removal_um
from ravden.core.errors import InputError

BACKWARD = 0.89  # grains in such a ratio go backwards
WASTE_MIN, WASTE_SHARE = 3.0, 0.03  # what leaving a rung out must save to be worth saying
COARSER_THAN = 0.9  # [A] of the texture: a first scratch so deep is coarser than is needed
SLOW = 2.0  # times the time of the best ladder


@dataclass(frozen=True, slots=True, kw_only=True)
class Remark:
    """Something to say of a sequence; at: the rung it is about, None for the whole; grave: it will not work so."""

    code: str
    text: str
    at: int | None = None
    grave: bool = False


def ambiguous(grades: Sequence[Abrasive], given: Sequence[str]) -> tuple[Remark, ...]:
    """A question for every bare number that scales read differently."""
    out = []
    for i, text in enumerate(given):
        if text.strip().lstrip("#").isdigit():
            meant = candidates(grades, text)
            if is_ambiguous(meant):
                out.append(Remark(code="AMBIGUOUS_SYSTEM", text=ambiguous_words(text, meant), at=i, grave=True))
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
        text = "Soft backing follows the bumps. It will shine the orange peel, not level it."
        out.append(Remark(code="START_SOFT", text=text, at=0, grave=True))
    if rung.abrasive.kind != "wool" and rung.pit_um > COARSER_THAN * pv:
        text = (
            f"{name} is coarser than this surface needs: its scratches are {rung.pit_um:.0f} um deep, the texture only "
            f"{pv:.0f} um."
        )
        out.append(Remark(code="START_TOO_COARSE", text=text, at=0))
    remove, limit = ladder.steps[0].remove_um, rung.d_max_um
    if remove > limit:
        text = (
            f"{name} is too fine to level this texture: {remove:.0f} um to remove, {limit:.0f} um is its limit. "
            "Start coarser."
        )
        out.append(Remark(code="START_TOO_FINE", text=text, at=0, grave=True))
    return out


def _step(job: Job, before: Rung, rung: Rung, i: int, ladder: Ladder) -> list[Remark]:
    a, b = before.abrasive, rung.abrasive
    out = []
    ratio = a.d50_um / b.d50_um
    if a.coated and b.coated:
        if ratio < BACKWARD:
            text = (
                f"{a.name} then {b.name} goes backwards: the second has the coarser grain. Swap them or leave it out."
            )
            out.append(Remark(code="BACKWARD", text=text, at=i, grave=True))
        elif ratio <= SAME_GRADE:
            text = f"{a.name} and {b.name} are the same size within their tolerances. One of them is enough."
            out.append(Remark(code="SAME_SIZE", text=text, at=i))
        elif ratio > job.ratio_max + 1e-9:
            text = (
                f"{a.name} to {b.name} is a big jump ({ratio:.1f} times). Put a grade between, or expect to chase "
                f"{a.name} scratches later."
            )
            out.append(Remark(code="JUMP_TOO_BIG", text=text, at=i))
    if a.kind == "wool":
        text = f"Nothing is worked after {a.name}: wool ends a ladder."
        out.append(Remark(code="AFTER_WOOL", text=text, at=i, grave=True))
    remove, limit = ladder.steps[i].remove_um, rung.d_max_um
    if remove > limit:
        text = (
            f"{b.name} cannot take out {a.name} scratches: about {remove:.1f} um to remove, {limit:.1f} um is its "
            "practical limit. Add a finer paper before it."
        )
        out.append(Remark(code="CANNOT_ERASE", text=text, at=i, grave=True))
    elif ladder.steps[i].tight:
        text = f"{b.name} is close to what it can do: about {remove:.1f} of {limit:.1f} um."
        out.append(Remark(code="TIGHT", text=text, at=i))
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
        if removal_um(after, before, job.texture_um) > 0.8 * after.d_max_um:
            continue
        saved = ladder.minutes - found[0]
        if saved > max(WASTE_MIN, WASTE_SHARE * ladder.minutes) and (best is None or saved > best[0]):
            best = (saved, ladder.film_used_um - found[1], i)
    if best is None:
        return None
    saved, film, i = best
    um = f" and {film:.1f} um" if film > 0.05 else ""
    text = f"You could leave out {rungs[i].abrasive.name}: about {saved:.0f} minutes{um} saved."
    return Remark(code="WASTEFUL_RUNG", text=text, at=i)


def _whole(job: Job, rungs: Sequence[Rung], ladder: Ladder, drawer: Sequence[Rung]) -> list[Remark]:
    out = []
    last = rungs[-1]
    found = sheen_after(job, last, rungs[-2] if len(rungs) > 1 else job.after)
    if job.flatted and job.target != KEY:
        words = flatted_words(job.target)
        out.append(Remark(code="FLATTED_FILM_WONT_POLISH", text=words[0].upper() + words[1:] + ".", grave=True))
    elif not finishes(job, last, rungs[-2] if len(rungs) > 1 else job.after):
        if job.target == KEY:
            text = (
                f"Ending at {last.abrasive.name} leaves no key for the next coat: end on a paper of "
                f"{job.key_um[0]:.0f} to {job.key_um[1]:.0f} um grain."
            )
        else:
            text = (
                f"Ending at {last.abrasive.name} leaves about {found.gu60:.0f} gloss units at 60 degrees "
                f"({found.name}). That is not {job.target}."
            )
        out.append(Remark(code="FINISH_MISSES_SHEEN", text=text, at=len(rungs) - 1))
    if drawer and not job.flatted:
        try:
            best = plan(job, drawer)
        except InputError:
            best = None
        if best is not None and ladder.minutes > SLOW * best.minutes:
            names = ", ".join(r.abrasive.name for r in best.rungs)
            text = f"This works but takes about {ladder.minutes / best.minutes:.1f} times as long as {names}."
            out.append(Remark(code="SLOW", text=text))
    for name in ladder.verdict.short:
        zone = next(z for z in job.zones if z.name == name)
        used = zone.film_um - ladder.steps[-1].film_left_um[name] + ladder.residual_um
        text = f"Too much film: {name} {used:.0f} um used, {ladder.caps_um[name]:.0f} um allowed by its odds."
        out.append(Remark(code="FILM_CAP", text=text, grave=True))
    return out
