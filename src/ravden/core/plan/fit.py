"""How many coats a method needs on this instrument: its counts stretched to what the film ledger asks for."""

import math
from dataclasses import dataclass, replace

from ravden.core.film.coats import coats_left
from ravden.core.method.steps import Stage
from ravden.core.plan.held import deciding, thin_when_done
from ravden.core.plan.outlook import Outlook

ODDS_WANTED = 0.90  # [A] of holding the least film once all sanding is done
OF_MOST = 0.9  # [A] share of a finish's greatest film that a plan may go to


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """The steps with their coats fitted: coats of its own in all and before, the odds of the least film with them, the
    zone that decides, and whether the finish's greatest film allows no more."""

    stage: tuple[Stage, ...]
    coats: int
    before: int
    odds: float
    zone: str
    capped: bool


def fitted(found: Outlook, odds: float = ODDS_WANTED) -> Fit | None:
    """The coats that hold the least film on every zone of its own finish, sanding included, at these odds.

    None where nothing asks for any: no least film, every own zone masked, or the build is over. Coats already laid
    stay; what is left of the stages of coats is stretched alike, one of each at least.
    """
    project, method = found.project, found.method
    own = tuple(z.name for z in project.zones if z.name not in project.bare)
    floor = project.instrument.min_film_um
    ahead = [i for i in range(found.progress.index, len(method.stage)) if _own(method.stage[i])]
    if not own or floor <= 0 or not ahead:
        return None
    removals = {z.name: sum(s.share(z) for s in found.forward.sandings) for z in project.zones if z.name in own}
    thin, asked = thin_when_done(found), deciding(found)
    coat_um = project.material.coat_dry_um
    counts = [method.stage[i].count for i in ahead]
    if ahead[0] == found.progress.index:
        counts[0] -= found.progress.coats_in_stage
    planned = sum(counts)
    needed = coats_left(found.ledger, coat_um, removals, floor, planned, odds, asked, thin)
    room = OF_MOST * project.material.max_film_um - max(found.ledger.mean_um(n) for n in own)
    most = max(int(room / (coat_um * max(z.k_mean for z in project.zones if z.name in own))), len(ahead))
    wanted = most if needed.coats is None else needed.coats
    total = max(min(wanted, most), len(ahead))
    stages = list(method.stage)
    for i, count, was in zip(ahead, _shared(total, counts), counts, strict=True):
        stages[i] = replace(stages[i], count=stages[i].count - was + count)
    held = coats_left(found.ledger, coat_um, removals, floor, total, odds, asked, thin)
    return Fit(
        stage=tuple(stages), coats=sum(s.count for s in stages if _own(s)), before=method.coats, odds=held.odds_planned,
        zone=held.zone, capped=wanted > most,
    )  # fmt: skip


def _own(stage: Stage) -> bool:
    return stage.kind == "coats" and not stage.finish


def _shared(total: int, counts: list[int]) -> list[int]:
    """So many coats shared out as these were, one of each at least.

    >>> _shared(14, [3, 6, 1]), _shared(3, [9, 9, 1])
    ([4, 9, 1], [1, 1, 1])
    """
    spare = total - len(counts)
    weight = sum(max(c - 1, 0) for c in counts) or len(counts)
    exact = [spare * (max(c - 1, 0) if sum(counts) > len(counts) else 1) / weight for c in counts]
    out = [1 + math.floor(e) for e in exact]
    by_rest = sorted(range(len(counts)), key=lambda i: -(exact[i] - math.floor(exact[i])))
    for i in by_rest[: total - sum(out)]:
        out[i] += 1
    return out
