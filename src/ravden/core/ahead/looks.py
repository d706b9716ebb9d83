"""What looks and levellings say of when a film got ready: between which hours after its last coat."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from msgspec import Struct

from ravden.core.ahead.foretold import NOTICED_BY_NAIL, NOTICED_BY_PAPER
from ravden.core.record import NOTICES, Act, Coat, Mishap, Reading, Sanding

NOT_READY = ("nail-dents", "print", "smells")
SEEN_SOON_H = 72.0  # a print or a tacky film so soon after levelling says that it was not ready
TOO_SOON = ("print", "tacky", "clogs")


class Between(Struct, frozen=True, kw_only=True):
    """Hours after a coat between which its film got ready to be levelled: low_h, 0 where it was never found soft;
    high_h, inf where never found hard; noticed: the odds that a film still soft at high_h would have been noticed."""

    low_h: float
    high_h: float
    noticed: float


def films(acts: Iterable[Act]) -> list[tuple[Coat, list[Sanding], list[Reading]]]:
    """Every film that was levelled or looked at for it: its last coat, its levellings, and the looks before the next
    coat. acts: of one instrument."""
    acts = tuple(acts)
    coats = sorted((a for a in acts if isinstance(a, Coat) and not a.spot), key=lambda a: a.at_h)
    out = []
    for n, coat in enumerate(coats):
        until = coats[n + 1].at_h if n + 1 < len(coats) else float("inf")
        mine = [a for a in acts if coat.at_h < a.at_h < until]
        levels = [a for a in mine if isinstance(a, Sanding) and a.purpose == "level" and not (a.spot or a.mends)]
        looks = [a for a in mine if isinstance(a, Reading) and a.what in NOTICES]
        if levels or looks:
            out.append((coat, sorted(levels, key=lambda a: a.at_h), sorted(looks, key=lambda a: a.at_h)))
    return out


def ready_between(
    coat: Coat, levels: Sequence[Sanding], looks: Sequence[Reading], acts: Sequence[Act], over_h: float
) -> Between | None:
    """When a film got ready, as far as its looks and levellings tell; None: they tell nothing. acts: of the instrument,
    for trouble after a levelling; over_h: levellings after that may still turn out to have been too soon."""

    def went_well(level: Sanding) -> bool:
        return not any(
            isinstance(a, Mishap) and a.what in TOO_SOON and 0 <= a.at_h - level.at_h <= SEEN_SOON_H for a in acts
        )

    first = levels[0].at_h if levels else float("inf")
    # Once it was levelled well, what a nail leaves says nothing more of when it could be.
    seen = [a for a in looks if a.at_h <= first]
    soft = [a.at_h for a in seen if a.what in NOT_READY] + [a.at_h for a in levels if not went_well(a)]
    soft += [a.at_h for a in acts if isinstance(a, Mishap) and a.what == "clogs" and coat.at_h < a.at_h <= first]
    low = max(soft, default=coat.at_h)
    hard = [(a.at_h, NOTICED_BY_NAIL) for a in seen if a.what not in NOT_READY and a.at_h > low]
    hard += [(a.at_h, NOTICED_BY_PAPER) for a in levels if went_well(a) and low < a.at_h <= over_h]
    high, noticed = min(hard, default=(float("inf"), 1.0))
    if low <= coat.at_h and math.isinf(high):
        return None
    return Between(low_h=low - coat.at_h, high_h=high - coat.at_h, noticed=noticed)
