"""The shop's air as the journal tells it: by hand, by logger, by forecast, and the usual for the month."""

import functools
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ravden.core.climate.series import Gap, merged
from ravden.core.errors import need
from ravden.core.record import Air
from ravden.journal.entries import AirLogged, AirSeries, AirUsual, Entry

AHEAD_DAYS = 400  # how far the usual air is laid out


@dataclass(frozen=True, kw_only=True)
class ShopAir:
    """Everything told about the air, by moment; usual: twelve (C, humidity), empty where nobody said."""

    told: tuple[tuple[datetime, float, float, str], ...] = ()
    forecast: tuple[tuple[datetime, float, float], ...] = ()
    usual: tuple[tuple[float, float], ...] = ()

    @functools.cached_property
    def last(self) -> datetime | None:
        """The moment of the newest reading."""
        return max((at for at, *_ in self.told), default=None)

    def series(self, zero: datetime, now: datetime) -> tuple[tuple[Air, ...], tuple[Gap, ...]]:
        """The air in hours from zero, known up to now and expected after it, and the gaps in it."""

        def hours(moment: datetime) -> float:
            return (moment - zero).total_seconds() / 3600.0

        told = [Air(at_h=hours(at), temp_C=c, rh=rh, source=source) for at, c, rh, source in self.told]
        ahead = [Air(at_h=hours(at), temp_C=c, rh=rh, source="forecast") for at, c, rh in self.forecast]
        return merged(told, self._months(zero, now, hours), ahead, hours(now))

    def _months(self, zero: datetime, now: datetime, hours: object) -> list[Air]:
        if not self.usual:
            return []
        start = (
            min([zero, *(at for at, *_ in self.told)])
            .astimezone()
            .replace(day=1, hour=0, minute=0, second=0, microsecond=0)
        )
        out, at = [], start
        while at < now.astimezone() + timedelta(days=AHEAD_DAYS):
            temp, rh = self.usual[at.month - 1]
            out.append(Air(at_h=hours(at), temp_C=temp, rh=rh, source="usual"))  # type: ignore[operator]
            at = (at + timedelta(days=32)).replace(day=1)
        return out


def shop_air(entries: Sequence[Entry]) -> ShopAir:
    """Fold the entries that count."""
    told: list[tuple[datetime, float, float, str]] = []
    forecast: tuple[tuple[datetime, float, float], ...] = ()
    usual: tuple[tuple[float, float], ...] = ()
    for e in entries:
        body = e.body
        if isinstance(body, AirLogged):
            told.append((e.at, body.temp_C, body.rh, "told"))
        elif isinstance(body, AirUsual):
            usual = tuple(zip(body.temp_C, body.rh, strict=True))
        elif isinstance(body, AirSeries):
            rows = [
                (e.at + timedelta(hours=h), c, rh) for h, c, rh in zip(body.hours, body.temp_C, body.rh, strict=True)
            ]
            if body.source == "forecast":
                forecast = tuple(rows)
            else:
                told += [(at, c, rh, "log") for at, c, rh in rows]
    return ShopAir(told=tuple(sorted(told)), forecast=forecast, usual=usual)


def check_air(body: AirSeries | AirUsual) -> None:
    """Refuse air that cannot be."""
    need(len(body.temp_C) == len(body.rh), "rh", "must have as many values as temp_C")
    for temp, rh in zip(body.temp_C, body.rh, strict=True):
        Air(at_h=0.0, temp_C=temp, rh=rh)
    if isinstance(body, AirUsual):
        need(len(body.temp_C) == 12, "temp_C", "must have a value for each month")
        return
    need(body.source in ("log", "forecast"), "source", f"must be log or forecast (got {body.source})")
    need(0 < len(body.hours) <= 20_000, "hours", "must have between 1 and 20000 rows")
    need(len(body.hours) == len(body.temp_C), "hours", "must have as many values as temp_C")
    need(all(a <= b for a, b in zip(body.hours, body.hours[1:], strict=False)), "hours", "run backwards")
