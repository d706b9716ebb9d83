"""What a litre costs."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop


class PriceSet(OfShop, frozen=True, tag="price"):
    """What a litre of a material costs the shop from then on, in its own money."""

    material: str
    per_litre: float

    part: ClassVar[str] = "prices"

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        shop.catalogue.material(self.material)

    def limits(self) -> None:
        need(0 < self.per_litre < 1e6, "per_litre", "must be a price above nothing")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return replace(shop, prices={**shop.prices, self.material: self.per_litre})
