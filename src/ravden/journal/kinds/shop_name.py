"""The name of the shop."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop


class ShopNamed(OfShop, frozen=True, tag="shop"):
    """The shop's name."""

    name: str

    part: ClassVar[str] = "name"

    @property
    def bears_on_plans(self) -> bool:
        return False

    def limits(self) -> None:
        need(self.name.strip() != "", "name", "give the shop a name")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return replace(shop, name=self.name)
