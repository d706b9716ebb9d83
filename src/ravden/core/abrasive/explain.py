"""Why each rung of a ladder is there, and why its neighbours in the drawer are not."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.job import KEY, Job, may_follow
from ravden.core.abrasive.ladder import totals
from ravden.core.abrasive.scratch import Rung
from ravden.core.fact import Fact, fact


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """What putting a rung in, or leaving one out, would do: minutes and film more (or less); needed: why it cannot be
    left out; at: where it would stand in the sequence."""

    rung: Rung
    at: int
    used: bool
    minutes: float = 0.0
    film_um: float = 0.0
    needed: Fact | None = None


def changes(job: Job, ladder: Ladder, drawer: Sequence[Rung]) -> tuple[Change, ...]:
    """One change for every rung of the drawer, coarsest first. Grades that cannot stand anywhere are left out."""
    rungs = list(ladder.rungs)
    base = (ladder.minutes, ladder.film_used_um)
    out = []
    for rung in sorted((r for r in drawer if r.abrasive.on_film), key=lambda r: (r.abrasive.kind == "wool", -r.rz_um)):
        at = next((i for i, r in enumerate(rungs) if r.abrasive.id == rung.abrasive.id), None)
        if at is not None:
            out.append(_without(job, rungs, at, base))
            continue
        place = sum(r.rz_um > rung.rz_um for r in rungs)
        if rung.abrasive.kind == "wool" or place == len(rungs):
            continue  # a finer last rung is another sheen, not a neighbour
        with_it = [*rungs[:place], rung, *rungs[place:]]
        if not all(may_follow(job, r, with_it[i - 1] if i else job.after) for i, r in enumerate(with_it)):
            continue
        found = totals(job, with_it)
        if found is not None:
            out.append(Change(rung=rung, at=place, used=False, minutes=found[0] - base[0], film_um=found[1] - base[1]))
    return tuple(out)


def _without(job: Job, rungs: list[Rung], at: int, base: tuple[float, float]) -> Change:
    rung, rest = rungs[at], [*rungs[:at], *rungs[at + 1 :]]

    def needed(code: str, **values: object) -> Change:
        return Change(rung=rung, at=at, used=True, needed=fact(code, **values))

    if not rest:
        return needed("only-rung")
    if at == len(rest):
        return needed("leaves-key" if job.target == KEY else "leaves-sheen")
    after, before = rest[at], rest[at - 1] if at else job.after
    remove = job.removal_um(after, before)
    if remove > after.d_max_um:
        return needed("needed-for", grade=after.abrasive.name, remove_um=remove, limit_um=after.d_max_um)
    if not may_follow(job, after, before):
        return needed("needed-jump")
    found = totals(job, rest)
    if found is None:
        return needed("needed-after")
    return Change(rung=rung, at=at, used=True, minutes=found[0] - base[0], film_um=found[1] - base[1])
