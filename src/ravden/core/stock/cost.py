"""What was drawn out of cans, in money."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec import Struct, field

from ravden.core.stock.lots import Draw, Stock, Stocked

LITRE_ML = 1000.0


class Spent(Struct, frozen=True, kw_only=True):
    """money: of what has a price, in the shop's own; unpriced_ml: by finish, what has none."""

    money: float
    unpriced_ml: Mapping[str, float] = field(default_factory=dict)

    def __add__(self, other: Spent) -> Spent:
        unpriced = dict(self.unpriced_ml)
        for material, ml in other.unpriced_ml.items():
            unpriced[material] = unpriced.get(material, 0.0) + ml
        return Spent(money=self.money + other.money, unpriced_ml=unpriced)


NOTHING = Spent(money=0.0)


def spent(
    stock: Stock, found: Stocked, draws: Sequence[Draw], of: str, per_litre: Mapping[str, float]
) -> Spent:  # fmt: skip
    """What an instrument took, each draw at the price of the can it came from, or else at what a litre of it costs.

    found: of just these draws. Thinner, paper and compound without a price cost nothing that is known, and are not
    named.
    """
    money, unpriced = 0.0, dict[str, float]()
    for draw, (finish, thinner) in zip(draws, found.drawn, strict=True):
        if draw.of != of:
            continue
        price = _price(stock, finish[0], per_litre.get(draw.material))
        if price is None and draw.kind != "finish":
            continue
        if price is None:
            unpriced[draw.material] = unpriced.get(draw.material, 0.0) + draw.ml
        else:
            money += draw.ml * price
        money += thinner[1] * (_price(stock, thinner[0], None) or 0.0)
    return Spent(money=money, unpriced_ml=unpriced)


def _price(stock: Stock, lot: int, per_litre: float | None) -> float | None:
    """Of a millilitre out of a can."""
    told = stock.lots[lot] if lot else None
    if told is not None and told.price is not None:
        return told.price / told.ml
    return None if per_litre is None else per_litre / LITRE_ML


def planned(wanted_ml: Mapping[str, float], per_litre: Mapping[str, float]) -> Spent:
    """What is still to be laid, by finish as supplied."""
    priced = {m: ml for m, ml in wanted_ml.items() if m in per_litre}
    rest = {m: ml for m, ml in wanted_ml.items() if m not in per_litre}
    return Spent(money=sum(ml * per_litre[m] / LITRE_ML for m, ml in priced.items()), unpriced_ml=rest)
