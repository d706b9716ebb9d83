"""When the shop is open, and the clock on its wall."""

from __future__ import annotations

import functools
from datetime import UTC, date, datetime, timedelta, timezone, tzinfo

import msgspec
from msgspec import Struct

from ravden.core.errors import InputError, need

DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
MOST_CLOSED_DAYS = 400  # at a stretch
EARLIEST, LATEST = 1950, 2200  # years a shop can tell of
Spans = tuple[tuple[float, float], ...]


class Closed(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Days nobody is in, by ISO date, the last one too."""

    first: str
    last: str = ""
    name: str = ""

    def span(self) -> tuple[date, date]:
        """The first and the last day. Raises InputError for what is no date or runs backwards."""
        try:
            first, last = date.fromisoformat(self.first), date.fromisoformat(self.last or self.first)
        except ValueError:
            raise InputError("closed", f"{self.first} {self.last}".strip() + " is no date such as 2026-12-24") from None
        need(first.year >= EARLIEST and last.year < LATEST, "closed", f"{self.first} is out of this world")
        need(first <= last, "closed", f"{self.first} to {self.last} runs backwards")
        need((last - first).days < MOST_CLOSED_DAYS, "closed", f"{self.first} to {self.last} is longer than a year")
        return first, last


class ShopHours(Struct, frozen=True, kw_only=True, dict=True):
    """zone: IANA name, empty for that of the machine; week: hours of the day by weekday, Monday first, empty for the
    usual ones; closed: days nobody is in."""

    zone: str = ""
    week: tuple[Spans, ...] = ()
    closed: tuple[Closed, ...] = ()

    @functools.cached_property
    def clock(self) -> tzinfo | None:
        """The zone, where this machine knows it."""
        return zone_of(self.zone)

    @functools.cached_property
    def closed_days(self) -> frozenset[date]:
        """Every day nobody is in."""
        return frozenset(
            first + timedelta(days=i)
            for first, last in (c.span() for c in self.closed)
            for i in range((last - first).days + 1)
        )

    def by_weekday(self) -> dict[str, Spans] | None:
        """Hours by weekday's name; None: the usual ones."""
        return dict(zip(DAYS, self.week, strict=True)) if self.week else None

    def is_shut(self, day: date) -> bool:
        """Whether nobody is in all day, as work is planned by."""
        return day in self.closed_days or bool(self.week and not self.week[day.weekday()])

    def local(self, moment: datetime) -> datetime:
        """A moment on the shop's wall; its offset is that of the moment, so that two of them can be subtracted."""
        if self.clock is None:
            return moment.astimezone()
        there = moment.astimezone(self.clock)
        return there.replace(tzinfo=timezone(there.utcoffset() or timedelta()))

    def on_the_wall(self, naive: datetime, now: datetime) -> datetime:
        """When the wall shows this. Of an hour that comes twice, the later that is not after now. Raises InputError for
        one that is skipped."""
        both = [self._aware(naive, fold) for fold in (0, 1)]
        shown = [at for at in both if self.local(at).replace(tzinfo=None) == naive]
        if not shown:
            raise InputError("at", f"the clocks were put forward then: there was no {naive:%H:%M}")
        past = [at for at in shown if at <= now]
        return self.local(max(past) if past else min(shown))

    def begins(self, day: date) -> datetime:
        """Midnight of a day by the shop's clock, or what comes next where the clocks are put forward just then."""
        return self._aware(datetime(day.year, day.month, day.day), 0)

    def _aware(self, naive: datetime, fold: int) -> datetime:
        at = naive.replace(fold=fold)
        return (at.astimezone() if self.clock is None else at.replace(tzinfo=self.clock)).astimezone(UTC)

    def midnights(self, start: datetime, end: datetime, *, before: bool = False) -> list[datetime]:
        """The beginnings of the days between two moments, on the shop's wall; before: with the last one before them."""
        out, day = [], self.local(start).date() + timedelta(days=0 if before else 1)
        while (at := self.local(self._aware(datetime(day.year, day.month, day.day), 0))) < end:
            out.append(at)
            day += timedelta(days=1)
        return out


@functools.cache
def zone_of(name: str) -> tzinfo | None:
    """A time zone by name; None where there is none of that name here."""
    if not name:
        return None
    import zoneinfo  # the first paint of a shop without a zone can do without it

    try:
        return zoneinfo.ZoneInfo(name)
    except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
        return None
