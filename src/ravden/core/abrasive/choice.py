"""The ladder to propose: the usual one wherever the film pays for it, a gentler one where that helps.

.. code::

    usual  = the cheapest, whatever the film
    spared = small zones whose film does not bear the usual one
    for the film as known, then as if gauged; for all zones, then without the spared ones; with slack, then without:
        the cheapest these zones can pay for, if it costs at most half as much again as the usual one
    else the usual one, refused
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.job import KEY, Job, finishes, reachable
from ravden.core.abrasive.ladder import evaluate, flatted_words, removes_of, score
from ravden.core.abrasive.sandthrough import most_removal_um
from ravden.core.abrasive.scratch import COVERAGE, PAPER_MOST, PAPER_MOST_EXPONENT, TEXTURE_SHARE, Rung
from ravden.core.abrasive.sequence import Path, affordable, cheapest, more_film_um
from ravden.core.abrasive.verdict import gauged, loss_um
from ravden.core.abrasive.verdict_words import shortage
from ravden.core.errors import InputError
from ravden.core.record import SHEENS

MOST_COSTLY = 1.5  # [A] times the usual ladder: the most a gentler one may cost


def plan(job: Job, drawer: Sequence[Rung], *, explain: bool = True) -> Ladder:
    """The ladder for a job from what is in the drawer. Raises InputError, with what to do, when there is none.

    explain: where it is refused, with what could be done instead, which takes longer.
    """
    if not drawer:
        raise InputError("owned", "the drawer is empty: add the papers and compounds you have")
    if job.flatted and job.target != KEY:
        raise InputError("target", flatted_words(job.target))
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
    return replace(ladder, reason=shortage(job, ladder, instead(job, drawer) if explain else ""))


def _attempts(job: Job, usual: Path) -> Iterator[Job]:
    removes, cv = removes_of(job, usual), max(r.backing.cv for r in usual)
    residual = job.residual_um(usual[-1])
    for zones in dict.fromkeys((job.zones, tuple(gauged(z) for z in job.zones))):
        spared = frozenset(
            z.name
            for z in zones
            if job.small(z)
            and loss_um(z, usual, removes) + residual > most_removal_um(z, cv, job.min_film_um, job.limit(z.kind))
        )
        for out in (frozenset(), spared) if spared else (frozenset(),):
            for slack in dict.fromkeys((job.slack, 1.0)):
                yield replace(job, zones=zones, out=out, slack=slack)


def instead(job: Job, drawer: Sequence[Rung]) -> str:
    """What else could be done where the film does not carry the ladder: more film, a duller sheen, or filling."""
    tight = replace(job, slack=1.0, out=frozenset(z.name for z in job.zones if job.small(z)))
    more = more_film_um(tight, drawer)
    lay = f"Lay about {more:.0f} um more first" if more is not None else "Lay more first"
    duller = reversed(SHEENS[: SHEENS.index(job.target)]) if job.target in SHEENS else ()
    dull = next((n for n in duller if affordable(replace(tight, target=n), drawer) is not None), None)
    stop = f"stop at {dull}, which this film can pay for, " if dull else ""
    return f"{lay}, {stop}or fill the low spots so that less has to come off."


def _why_not(job: Job, drawer: Sequence[Rung]) -> str:
    """The nearest thing that can be done, where no ladder reaches the target. job: with no slack kept."""
    usable = [r for r in drawer if r.abrasive.on_film]
    if not usable:
        return "nothing in the drawer is for film: stones, loose grain and garnet are not; add papers or compounds"
    if job.target == KEY and not any(finishes(job, r) for r in usable):
        low, high = job.key_um
        return f"the next coat wants a key: add a paper of {low:.0f} to {high:.0f} um grain"
    if job.after is not None and any(finishes(job, r, job.after) for r in usable):
        return (
            f"the grades in the drawer are too far from {job.after.abrasive.name} to reach {job.target}: "
            "add one in between"
        )
    starts = [r for r in usable if reachable(job, r, job.after, last=False) is not None]
    if not starts and job.after is None:
        most = COVERAGE * TEXTURE_SHARE * job.texture_um
        need_um = (max(most, 1.0) / PAPER_MOST) ** (1.0 / PAPER_MOST_EXPONENT)
        return (
            f"nothing in the drawer can level {job.texture_um:.0f} um of texture: "
            f"a paper of about {need_um:.0f} um grain or coarser, on a firm block, is wanted first"
        )
    nearest = _nearest_sheen(job, drawer)
    if not any(finishes(job, r, job.after or starts[0]) for r in usable):
        near = f", or stop at {nearest}, which it can reach" if nearest else ""
        return f"nothing in the drawer ends at {job.target}; add a grade or compound that does{near}"
    near = f", or stop at {nearest}" if nearest else ""
    return (
        f"the grades in the drawer are too far apart to get from {job.texture_um:.0f} um of texture to {job.target}: "
        f"add one in between{near}"
    )


def _nearest_sheen(job: Job, drawer: Sequence[Rung]) -> str | None:
    """The next duller sheen the drawer can reach."""
    if job.target not in SHEENS:
        return None
    for name in reversed(SHEENS[: SHEENS.index(job.target)]):
        if cheapest(replace(job, target=name), drawer) is not None:
            return name
    return None
