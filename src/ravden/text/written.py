"""How numbers, days and hours are written and read here: as the desktop has it, or as chosen.

One record, in force for the whole program: the window fills it in, the command line writes as the files do.
"""

from __future__ import annotations

import re
from datetime import date, datetime

from msgspec import Struct

from ravden.core.errors import InputError

THOUSANDS = re.compile(r"[+-]?[1-9]\d{0,2}[,.]\d{3}")
DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


class Written(Struct, frozen=True, kw_only=True):
    """decimal: point or comma; dates: dmy, mdy or ymd; clock: 24 or 12; currency: its sign, empty where it is not known;
    sign_first: whether it stands before the amount."""

    decimal: str = "point"
    dates: str = "dmy"
    clock: str = "24"
    currency: str = ""
    sign_first: bool = False


PLAIN = Written()
_now = PLAIN


def current() -> Written:
    """What is in force."""
    return _now


def use(written: Written) -> None:
    """Write like this from now on."""
    global _now
    _now = written


def number(value: float, digits: str = ".0f") -> str:
    """A number by a format of Python's, with the decimal sign in force.

    >>> number(12.34, ".1f")
    '12.3'
    """
    return signed(f"{value:{digits}}")


def signed(text: str) -> str:
    """A number already written, with the decimal sign in force."""
    return text.replace(".", ",") if _now.decimal == "comma" else text


def number_in(text: str, field: str, decimal: str = "") -> float:
    """A number as people type it, comma or point. decimal: the sign known to stand in it, point or comma; else that in
    force. Raises InputError at the field: also for one that two people would read differently, since the sign in it
    parts thousands here.

    >>> number_in("1.5", "x"), number_in("0,125", "x"), number_in("1,234.5", "x"), number_in("1.234.567", "x")
    (1.5, 0.125, 1234.5, 1234567.0)
    """
    clean = text.strip().replace("\u2212", "-").replace(" ", "").replace("\N{NO-BREAK SPACE}", "")
    signs, comma = [c for c in clean if c in ",."], (decimal or _now.decimal) == "comma"
    if len(set(signs)) == 2:  # the later one is the decimal sign
        clean = clean.replace("," if clean.rindex(".") > clean.rindex(",") else ".", "")
    elif len(signs) > 1 and re.fullmatch(r"[+-]?\d{1,3}([,.]\d{3})+", clean):
        clean = clean.replace(signs[0], "")
    elif signs and signs[0] != ("," if comma else ".") and THOUSANDS.fullmatch(clean):
        whole = clean.replace(signs[0], "")
        other = clean.replace(signs[0], "," if comma else ".")
        raise InputError(field, f"{text.strip()} can be read two ways: write {whole} or {other[:-1]}")
    try:
        return float(clean.replace(",", "."))
    except ValueError:
        raise InputError(field, f"{text.strip()} is not a number") from None


def money(value: float) -> str:
    """An amount in the money of this place; without a sign where nobody knows which.

    >>> money(12.5)
    '12.50'
    """
    text = number(value, ".2f")
    if not _now.currency:
        return text
    return f"{_now.currency}{text}" if _now.sign_first else f"{text}\N{NO-BREAK SPACE}{_now.currency}"


def clock(at: datetime) -> str:
    """14:30, or 2:30 pm."""
    if _now.clock == "24":
        return f"{at:%H:%M}"
    return f"{(at.hour - 1) % 12 + 1}:{at:%M} {'am' if at.hour < 12 else 'pm'}"


def day(at: date, *, weekday: bool = True, year: bool = False) -> str:
    """Sat 28 Nov, Sat Nov 28, or Sat 11-28; with the year where it is asked for."""
    month = MONTHS[at.month - 1]
    said = {
        "dmy": f"{at.day} {month}{f' {at.year}' if year else ''}",
        "mdy": f"{month} {at.day}{f', {at.year}' if year else ''}",
        "ymd": f"{f'{at.year}-' if year else ''}{at.month:02d}-{at.day:02d}",
    }[_now.dates]
    return f"{DAYS[at.weekday()]} {said}" if weekday else said


def typed_day(at: date) -> str:
    """A day as it is typed into a field: 2026-11-28, 28/11/2026 or 11/28/2026."""
    return {"ymd": f"{at:%Y-%m-%d}", "dmy": f"{at:%d/%m/%Y}", "mdy": f"{at:%m/%d/%Y}"}[_now.dates]


def typed_moment(at: datetime) -> str:
    """A moment as it is typed into a field."""
    return f"{typed_day(at)} {clock(at)}"


_ISO = re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})")
_LOCAL = re.compile(r"(\d{1,2})[./-](\d{1,2})[./-](\d{4})")
_HOUR = re.compile(r"(\d{1,2})[:.](\d{2})\s*(am|pm)?|(\d{1,2})\s*(am|pm)", re.IGNORECASE)


def read_day(text: str) -> date | None:
    """A day as typed: 2026-11-28 always, and in the order in force, 28/11/2026, 28.11.2026 or 11/28/2026; None: it is
    none. Day before month where a year comes first in this order of dates."""
    if found := _ISO.fullmatch(text.strip()):
        year, month, day = (int(part) for part in found.groups())
    elif found := _LOCAL.fullmatch(text.strip()):
        first, second, year = (int(part) for part in found.groups())
        month, day = (first, second) if _now.dates == "mdy" else (second, first)
    else:
        return None
    try:
        return date(year, month, day)
    except ValueError:
        return None


def read_hour(text: str) -> tuple[int, int] | None:
    """Hour and minute as typed: 14:30, 2:30 pm or 2 pm; None: it is none."""
    found = _HOUR.fullmatch(text.strip())
    if found is None:
        return None
    hour, minute = int(found[1] or found[4]), int(found[2] or 0)
    half = (found[3] or found[5] or "").lower()
    if half:
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if half == "pm" else 0)
    return (hour, minute) if hour < 24 and minute < 60 else None


def example(when: datetime) -> str:
    """How a moment may be typed, for a hint: 14:30, yesterday 14:30, or with its day."""
    hour = clock(when.replace(hour=14, minute=30))
    return f'{hour}, "yesterday {hour}", or {typed_day(when)} {hour}'
