"""The shop's hours as typed, and as they are written into the fields again. No Qt."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from datetime import date

from ravden.core.errors import InputError, need
from ravden.journal.hours import DAYS, Closed, ShopHours, Spans
from ravden.journal.kinds.hours import HoursSet
from ravden.text import written

LABELS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
PRESETS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Day shop", ("8–12, 13–17",) * 5 + ("", "")),
    ("Evenings and Saturday", ("18–21:30",) * 5 + ("9–12, 13–18", "")),
    ("Every day, 8 to 20", ("8–20",) * 7),
)
A_BREAK = date(2026, 12, 24), date(2027, 1, 2)
_DAY = r"\d{4}-\d{1,2}-\d{1,2}|\d{1,2}[./-]\d{1,2}[./-]\d{4}"
_CLOSED = re.compile(rf"({_DAY})(?:\s*(?:to|–|-)\s*({_DAY}))?\s*(.*)")
_SPAN = re.compile(r"\s*(\S+?)\s*(?:-|–|to)\s*(\S+)\s*", re.IGNORECASE)
_HOUR = re.compile(r"(\d{1,2})(?:[:.](\d{2}))?\s*(am|pm)?", re.IGNORECASE)


def spans(text: str, day: str) -> Spans:
    """Hours of a day, such as 8-12, 13:30-18; empty: shut. Raises InputError at the day."""
    out = []
    for part in text.replace(";", ",").split(","):
        if not part.strip() or part.strip().lower() in ("shut", "closed"):
            continue
        found = _SPAN.fullmatch(part)
        if found is None:
            raise InputError(day, "write hours such as 8-12, 13:30-18, or leave it empty")
        out.append((_hour(found[1], day), _hour(found[2], day)))
    for a, b in out:
        need(a < b, day, "a stretch must end after it begins; work past midnight is the next day's")
    need(all(a[1] < b[0] for a, b in itertools.pairwise(out)), day, "its stretches must follow one another")
    return tuple(out)


def _hour(text: str, day: str) -> float:
    found = _HOUR.fullmatch(text)
    if found is None:
        raise InputError(day, f"{text} is no time of day such as 13:30")
    hour, minute, half = int(found[1]), int(found[2] or 0), (found[3] or "").lower()
    if half:
        need(1 <= hour <= 12, day, f"{text} is no time of day")
        hour = hour % 12 + (12 if half == "pm" else 0)
    need(minute < 60 and hour + minute / 60 <= 24, day, f"{text} is no time of day")
    return hour + minute / 60


def spelt(day: Spans) -> str:
    """Hours of a day as they are typed."""
    return ", ".join(f"{_clock(a)}–{_clock(b)}" for a, b in day)


def _clock(hour: float) -> str:
    whole, minutes = divmod(round(hour * 60), 60)
    return f"{whole}:{minutes:02d}" if minutes else f"{whole}"


def closed_lines(closed: tuple[Closed, ...]) -> str:
    """Closed days, a line each, as they are typed."""
    return "\n".join(
        f"{_typed(c.first)}{f' to {_typed(c.last)}' if c.last else ''}{f'  {c.name}' if c.name else ''}" for c in closed
    )


def _typed(day: str) -> str:
    return written.typed_day(date.fromisoformat(day))


def closed(text: str) -> tuple[Closed, ...]:
    """Closed days as typed: 2026-12-24 to 2027-01-02, or in the order of dates in force, each with a name if wished.

    Raises InputError."""
    out = []
    for line in (row.strip() for row in text.splitlines()):
        if not line:
            continue
        found = _CLOSED.fullmatch(line)
        days = [written.read_day(text) for text in found.groups()[:2] if text] if found else [None]
        if found is None or None in days:
            first, last = (written.typed_day(day) for day in A_BREAK)
            raise InputError("closed", f"“{line[:40]}”: begin with the day, such as {first} to {last} Christmas")
        told = [day.isoformat() for day in days if day is not None]
        one = Closed(first=told[0], last=told[1] if len(told) > 1 else "", name=found[3])
        one.span()
        out.append(one)
    return tuple(sorted(dict.fromkeys(out), key=lambda c: (c.first, c.last)))


def read(zone: str, typed: Mapping[str, str], days: str) -> HoursSet:
    """The entry the filled page stands for. Raises InputError at the field."""
    week = {day: spans(typed[day], day) for day in DAYS}
    need(any(week.values()), DAYS[0], "give at least one day some hours")
    return HoursSet(zone=zone.strip(), week={d: s for d, s in week.items() if s}, closed=closed(days))


def shown(hours: ShopHours, usual: Spans) -> dict[str, str]:
    """What stands in the fields of the days."""
    week = hours.week or (usual,) * 7
    return {day: spelt(s) for day, s in zip(DAYS, week, strict=True)}
