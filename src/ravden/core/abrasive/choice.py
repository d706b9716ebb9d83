"""The ladder to propose: the usual one wherever the film pays for it, a gentler one where that helps.

.. code::

    usual  = the cheapest, whatever the film
    spared = small zones whose film does not bear the usual one
    for the film as known, then as if gauged; for all zones, then without the spared ones; with slack, then without:
        the cheapest these zones can pay for, if it costs at most half as much again as the usual one
    else the same once more with every zone as if gauged, and odds that a gauge would settle: it is measured first
    else the usual one, refused
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.job import KEY, Job, finishes, reachable
from ravden.core.abrasive.ladder import evaluate, flatted, removes_of, score
from ravden.core.abrasive.reasons import shortage
from ravden.core.abrasive.sandthrough import ODDS_LIMIT, most_removal_um
from ravden.core.abrasive.scratch import COVERAGE, PAPER_MOST, PAPER_MOST_EXPONENT, TEXTURE_SHARE, Rung
from ravden.core.abrasive.sequence import Path, affordable, cheapest, more_film_um
from ravden.core.abrasive.verdict import MEASURE, STILL_WITHIN, gauged, loss_um
from ravden.core.errors import InputError
from ravden.core.fact import Fact, fact
from ravden.core.record import SHEENS

MOST_COSTLY = 1.5  # [A] times the usual ladder: the most a gentler one may cost


def plan(job: Job, drawer: Sequence[Rung], *, explain: bool = True) -> Ladder:
    """The ladder for a job from what is in the drawer. Raises InputError, with what to do, when there is none.

    explain: where it is refused, with what could be done instead, which takes longer.
    """
    if not drawer:
        raise InputError("owned", "the drawer is empty: add the papers and compounds you have")
    if job.flatted and job.target != KEY:
        raise InputError("target", flatted(job.target))
    tight = replace(job, slack=1.0)
    usual = cheapest(job, drawer) or cheapest(tight, drawer)
    if usual is None:
        raise InputError("owned", _why_not(tight, drawer))
    for attempt in _attempts(job, usual):
        found = affordable(attempt, drawer)
        if found is not None and score(job, found) <= MOST_COSTLY * score(job, usual):
            return evaluate(job, found)
    ladder = evaluate(job, usual)
    if not ladder.verdict.short:
        return ladder
    for attempt in _attempts(job, usual, settled=True):
        found = affordable(attempt, drawer)
        if found is not None and score(job, found) <= MOST_COSTLY * score(job, usual):
            asks = evaluate(job, found)
            if asks.verdict.word == MEASURE:
                return asks
    return replace(ladder, reason=shortage(job, ladder, instead(job, drawer) if explain else None))


def _attempts(job: Job, usual: Path, *, settled: bool = False) -> Iterator[Job]:
    """The same job asked more and more gently. settled: with every zone as if gauged, up to the odds that are measured
    rather than refused."""
    removes, cv = removes_of(job, usual), max(r.backing.cv for r in usual)
    residual = job.residual_um(usual[-1])
    known = tuple(gauged(z) for z in job.zones)
    if settled:
        job = replace(job, odds_limit=tuple((k, max(job.limit(k), STILL_WITHIN)) for k in ODDS_LIMIT))
    for zones in dict.fromkeys((known,) if settled else (job.zones, known)):
        spared = frozenset(
            z.name
            for z in zones
            if job.small(z)
            and loss_um(z, usual, removes) + residual > most_removal_um(z, cv, job.min_film_um, job.limit(z.kind))
        )
        for out in (frozenset(), spared) if spared else (frozenset(),):
            for slack in dict.fromkeys((job.slack, 1.0)):
                yield replace(job, zones=zones, out=out, slack=slack)


def instead(job: Job, drawer: Sequence[Rung]) -> Fact:
    """What else could be done where the film does not carry the ladder: more film, a duller sheen, or filling."""
    tight = replace(job, slack=1.0, out=frozenset(z.name for z in job.zones if job.small(z)))
    duller = reversed(SHEENS[: SHEENS.index(job.target)]) if job.target in SHEENS else ()
    dull = next((n for n in duller if affordable(replace(tight, target=n), drawer) is not None), None)
    return fact("instead", more_um=more_film_um(tight, drawer), duller=dull)


def _why_not(job: Job, drawer: Sequence[Rung]) -> Fact:
    """The nearest thing that can be done, where no ladder reaches the target. job: with no slack kept."""
    usable = [r for r in drawer if r.abrasive.on_film]
    if not usable:
        return fact("nothing-for-film")
    if job.target == KEY and not any(finishes(job, r) for r in usable):
        return fact("no-key-paper", low_um=job.key_um[0], high_um=job.key_um[1])
    if job.after is not None and any(finishes(job, r, job.after) for r in usable):
        return fact("too-far-from", grade=job.after.abrasive.name, target=job.target)
    starts = [r for r in usable if reachable(job, r, job.after, last=False) is not None]
    if not starts and job.after is None:
        most = COVERAGE * TEXTURE_SHARE * job.texture_um
        need_um = (max(most, 1.0) / PAPER_MOST) ** (1.0 / PAPER_MOST_EXPONENT)
        return fact("nothing-levels", texture_um=job.texture_um, grain_um=need_um)
    nearest = _nearest_sheen(job, drawer)
    if not any(finishes(job, r, job.after or starts[0]) for r in usable):
        return fact("nothing-ends", target=job.target, nearest=nearest)
    return fact("too-far-apart", texture_um=job.texture_um, target=job.target, nearest=nearest)


def _nearest_sheen(job: Job, drawer: Sequence[Rung]) -> str | None:
    """The next duller sheen the drawer can reach."""
    if job.target not in SHEENS:
        return None
    for name in reversed(SHEENS[: SHEENS.index(job.target)]):
        if cheapest(replace(job, target=name), drawer) is not None:
            return name
    return None
