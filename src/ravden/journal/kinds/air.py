"""The shop's air: told by hand, read from a logger or a forecast, and the usual for the month."""

from __future__ import annotations

import math
from datetime import datetime, timedelta
from typing import ClassVar

from ravden.core.errors import need, need_in
from ravden.core.record import Air
from ravden.core.record.acts import MAX_HOURS
from ravden.journal.air import AirRow, ShopAir
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_ROWS = 20_000
SENSOR = "hygrometer"  # the name of what a sensor that is listened to writes


class OfAir(OfShop, frozen=True):
    """Tells of the shop's air. It holds for every instrument."""

    part: ClassVar[str] = "air"

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return shop.with_air(self.onto_air(shop.air, at))

    def onto_air(self, air: ShopAir, at: datetime) -> ShopAir:
        """The air with it."""
        raise NotImplementedError

    def rows(self, at: datetime) -> list[AirRow]:
        """Its readings by moment; none where it tells no readings."""
        return []

    def _check_values(self, temp_C: tuple[float, ...], rh: tuple[float, ...]) -> None:
        need(len(temp_C) == len(rh), "rh", "must have as many values as temp_C")
        for temp, share in {(f(temp_C), f(rh)) for f in (min, max)} if temp_C else ():
            Air(at_h=0.0, temp_C=temp, rh=share)
        need(not any(map(math.isnan, (*temp_C, *rh))), "temp_C", "must be a number")


class AirLogged(OfAir, frozen=True, tag="air"):
    """The shop's air from then on: C and relative humidity as a share. It holds for every instrument."""

    temp_C: float
    rh: float = 0.5

    def limits(self) -> None:
        self._check_values((self.temp_C,), (self.rh,))

    def rows(self, at: datetime) -> list[AirRow]:
        return [(at, self.temp_C, self.rh, "told")]

    def onto_air(self, air: ShopAir, at: datetime) -> ShopAir:
        return air.with_rows(self.rows(at))


class AirSeries(OfAir, frozen=True, tag="air-series"):
    """Readings of a logger, or a forecast (the newest counts): hours after the entry's own time, C, humidity [-]."""

    source: str
    hours: tuple[float, ...]
    temp_C: tuple[float, ...]
    rh: tuple[float, ...]
    name: str = ""

    def limits(self) -> None:
        need(self.source in ("log", "forecast"), "source", f"must be log or forecast (got {self.source})")
        need(0 < len(self.hours) <= MOST_ROWS, "hours", f"must have between 1 and {MOST_ROWS} rows")
        self._check_values(self.temp_C, self.rh)
        need_in(self.hours[0], -MAX_HOURS, MAX_HOURS, "hours", "h")
        need_in(self.hours[-1], -MAX_HOURS, MAX_HOURS, "hours", "h")
        need(len(self.hours) == len(self.temp_C), "hours", "must have as many values as temp_C")
        need(all(a <= b for a, b in zip(self.hours, self.hours[1:], strict=False)), "hours", "run backwards")

    @property
    def by_machine(self) -> bool:
        return self.name == SENSOR

    def until(self, at: datetime) -> datetime:
        return at + timedelta(hours=self.hours[-1]) if self.source == "log" and self.hours else at

    def _moments(self, at: datetime) -> list[AirRow]:
        rows = zip(self.hours, self.temp_C, self.rh, strict=True)
        return [(at + timedelta(hours=h), temp, rh, self.source) for h, temp, rh in rows]

    def rows(self, at: datetime) -> list[AirRow]:
        return self._moments(at) if self.source == "log" else []

    def onto_air(self, air: ShopAir, at: datetime) -> ShopAir:
        if self.source == "log":
            return air.with_rows(self.rows(at))
        return air.with_forecast([row[:3] for row in self._moments(at)])


class AirUsual(OfAir, frozen=True, tag="air-usual"):
    """The shop's usual air, January to December: C and humidity as a share."""

    temp_C: tuple[float, ...]
    rh: tuple[float, ...]

    def limits(self) -> None:
        self._check_values(self.temp_C, self.rh)
        need(len(self.temp_C) == 12, "temp_C", "must have a value for each month")

    def onto_air(self, air: ShopAir, at: datetime) -> ShopAir:
        return air.with_usual(tuple(zip(self.temp_C, self.rh, strict=True)))
