"""How far what is there goes, and what to buy."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime

from msgspec import Struct

from ravden.core.stock.product import Can

MOST_UNITS = 20_000  # of what all cans have in common that are weighed against one another
LEFT_BEHIND = 0.03  # [A] of a can that stays on its wall


class Need(Struct, frozen=True, kw_only=True):
    """What a step of a plan will take of one material as supplied [ml]; of: the instrument."""

    at: datetime
    ml: float
    of: str


class Reach(Struct, frozen=True, kw_only=True):
    """short_ml: what is wanted beyond what is there, 0 where it goes all the way; at, of: when it first does not reach,
    and for what; wanted_ml: in all; odds: that it is short though it should reach, from how surely it is known."""

    short_ml: float
    wanted_ml: float
    odds: float
    at: datetime | None = None
    of: str = ""


def reach(have_ml: float, sd_ml: float, needs: Sequence[Need]) -> Reach:
    """Whether what is there goes for all of it. needs: in the order of time; sd_ml: spread of what is there."""
    usable = max(have_ml, 0.0) * (1.0 - LEFT_BEHIND)
    wanted, at, of = 0.0, None, ""
    for need in needs:
        wanted += need.ml
        if at is None and wanted > usable:
            at, of = need.at, need.of
    spare = usable - wanted
    if not needs:
        odds = 0.0
    elif sd_ml <= 0:
        odds = 0.0 if spare >= 0 else 1.0
    else:
        odds = 0.5 * math.erfc(spare / sd_ml / math.sqrt(2.0))
    return Reach(short_ml=max(-spare, 0.0), wanted_ml=wanted, odds=odds, at=at, of=of)


class Purchase(Struct, frozen=True, kw_only=True):
    """cans: how many of each size offered, in their order; ml: in all; price: None where one of them has none;
    spoils_ml: what would be too old before it is used."""

    cans: tuple[int, ...]
    ml: float
    price: float | None
    spoils_ml: float


def cheapest(short_ml: float, cans: Sequence[Can], a_month_ml: float, keeps_months: float) -> Purchase | None:
    """What to buy so that it reaches, at the least cost of what is used and of what goes bad. None: no size is known.

    What is left over is worth its money only as far as it is used within the life of an open can, at what the shop uses
    a month. Where a size has no price, the least that reaches. Exact over all numbers of cans, up to what a shop wants
    at once.
    """
    if not cans or short_ml <= 0:
        return None
    grain = math.gcd(*(max(round(c.ml), 1) for c in cans))
    sizes = [max(round(c.ml), 1) // grain for c in cans]
    priced = all(c.price is not None for c in cans)
    prices = [c.price if priced and c.price is not None else float(size) for c, size in zip(cans, sizes, strict=True)]
    # Beyond what any shop wants at once it is the can that is cheapest by what is in it.
    bulk = min(range(len(sizes)), key=lambda i: (prices[i] / sizes[i], i))
    whole = max(math.ceil(short_ml / grain) - MOST_UNITS, 0) // sizes[bulk]
    short_ml -= whole * sizes[bulk] * grain
    least = math.ceil(short_ml / grain - 1e-9)
    most = least + max(sizes)
    best: list[tuple[float, int]] = [(0.0, -1)] + [(math.inf, -1)] * most
    for volume in range(1, most + 1):
        for i, (size, price) in enumerate(zip(sizes, prices, strict=True)):
            if size <= volume and best[volume - size][0] + price < best[volume][0] - 1e-12:
                best[volume] = (best[volume - size][0] + price, i)
    per_unit = min(p / s for p, s in zip(prices, sizes, strict=True))
    in_time = a_month_ml * keeps_months / grain

    def cost(volume: int) -> float:
        return best[volume][0] - min(volume - short_ml / grain, in_time) * (per_unit if priced else 0.0)

    volume = min(range(least, most + 1), key=lambda v: (round(cost(v), 9), v))
    counts = [0] * len(cans)
    at = volume
    while at > 0:
        i = best[at][1]
        counts[i] += 1
        at -= sizes[i]
    left_over = volume - short_ml / grain
    counts[bulk] += whole
    paid, got = best[volume][0] + whole * prices[bulk], volume + whole * sizes[bulk]
    return Purchase(
        cans=tuple(counts), ml=float(got * grain), price=paid if priced else None,
        spoils_ml=max(left_over - in_time, 0.0) * grain,
    )  # fmt: skip
