"""What an hour of hands costs."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need_in
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_PER_HOUR = 1e5


class HourPriced(OfShop, frozen=True, tag="hour-price"):
    """What an hour of hands costs from then on, in the shop's own money; 0: it is not reckoned."""

    per_hour: float

    part: ClassVar[str] = "per_hour"

    @property
    def bears_on_plans(self) -> bool:
        return False

    def limits(self) -> None:
        need_in(self.per_hour, 0, MOST_PER_HOUR, "per_hour")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return replace(shop, per_hour=self.per_hour)
