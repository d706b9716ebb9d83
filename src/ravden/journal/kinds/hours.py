"""When the shop is open, and in which zone its clock stands."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.calendar.week import need_week
from ravden.core.errors import need
from ravden.journal.hours import DAYS, Closed, ShopHours, Spans, zone_of
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_CLOSED = 500


class HoursSet(OfShop, frozen=True, tag="hours"):
    """The shop's hours from now on: an IANA zone; hours of the day by weekday, a day that is not named being shut, none
    at all for the usual ones; and the days nobody is in. It takes the place of what was said before."""

    zone: str = ""
    week: dict[str, Spans] = {}
    closed: tuple[Closed, ...] = ()

    part: ClassVar[str] = "hours"

    @property
    def by_machine(self) -> bool:
        """The zone alone is what the program found on the machine the file was first worked with on."""
        return not self.week and not self.closed

    @property
    def bears_on_plans(self) -> bool:
        return not self.by_machine

    def limits(self) -> None:
        known = not self.zone or zone_of(self.zone) is not None
        need(known, "zone", f"there is no time zone {self.zone}; write one such as Europe/Rome")
        for day in self.week:
            need(day in DAYS, "week", f"{day} is no day; they are {', '.join(DAYS)}")
        if self.week:
            need_week(self._week())
        need(len(self.closed) <= MOST_CLOSED, "closed", f"at most {MOST_CLOSED} can be kept")
        for closed in self.closed:
            closed.span()

    def _week(self) -> tuple[Spans, Spans, Spans, Spans, Spans, Spans, Spans]:
        return tuple(self.week.get(d, ()) for d in DAYS)  # type: ignore[return-value]

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        hours = ShopHours(zone=self.zone, week=self._week() if self.week else (), closed=self.closed)
        return replace(shop, hours=hours).with_air(replace(shop.air, hours=hours))
