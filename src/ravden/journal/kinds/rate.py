"""A drying rate of the shop's own, taken over from its witness cards."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from ravden.core.errors import need
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop


class RateAccepted(OfShop, frozen=True, tag="rate"):
    """From then on a material is taken to dry at this rate in this shop: mean and sd of ln of the factor."""

    material: str
    ln_mean: float
    ln_sd: float
    how: str = ""

    part: ClassVar[str] = "rates"

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        used = {r.instrument.material for r in shop.racked.values()} | {b.material for b in shop.book.values()}
        need(self.material in used or self.material in shop.rates, "material", "nothing is in it")

    def limits(self) -> None:
        need(-2 <= self.ln_mean <= 2 and 0 < self.ln_sd <= 1, "ln_mean", "is no rate a shop could have")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return shop.with_rates({**shop.rates, self.material: (self.ln_mean, self.ln_sd)})
