"""Who works in the shop and with what: hands, days off, stations, guns, and the plan they keep to."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime, timedelta

import msgspec
from msgspec import Struct, field

from ravden.core.errors import InputError, need
from ravden.journal.hours import EARLIEST, LATEST, MOST_CLOSED_DAYS, Spans

SETUP_MIN, CLEAN_MIN = 15, 20  # [A] of a gun, until the shop says otherwise
CABINET_C = 35.0  # [A] until the shop says otherwise
COMPANY_DAYS = 2  # [A] that a session in the booth waits for company, until the shop says otherwise


class Hand(Struct, frozen=True, kw_only=True):
    """Somebody with hands. week: hours by weekday, Monday first, empty for the shop's own."""

    name: str
    week: tuple[Spans, ...] = ()
    sprays: bool = True
    buffs: bool = True


class Off(Struct, frozen=True, kw_only=True):
    """Days on which somebody is there otherwise than in the week. hours: then; none: away."""

    person: str
    first: date
    last: date
    hours: Spans = ()


class Gun(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True, kw_only=True):
    """A material in the booth: minutes for setting up and for cleaning, and the coldest and the dampest air it is
    sprayed in here, None where the material's own limits hold."""

    setup_min: int = SETUP_MIN
    clean_min: int = CLEAN_MIN
    coldest_C: float | None = None
    dampest: float | None = None


class Stations(Struct, frozen=True, kw_only=True):
    """What the shop has of each: wheels, places in the warm cabinet, and how warm that is, places where wet work stands
    (None: enough)."""

    arbors: int = 1
    cabinet_places: int = 0
    cabinet_C: float = CABINET_C
    drying_places: int | None = None


class Crew(Struct, frozen=True, kw_only=True):
    """All of it. hands: none for one pair nobody named; struck: days without spraying, whatever the air."""

    hands: tuple[Hand, ...] = ()
    off: tuple[Off, ...] = ()
    stations: Stations = field(default_factory=Stations)
    guns: Mapping[str, Gun] = field(default_factory=dict)
    company_days: int = COMPANY_DAYS
    struck: frozenset[date] = frozenset()

    def named(self, name: str) -> Hand | None:
        """Somebody by name."""
        return next((h for h in self.hands if h.name == name), None)


class Pinned(Struct, frozen=True, kw_only=True):
    """Where a step is held: at a moment, on a day, not before a moment, by somebody."""

    at: datetime | None = None
    day: date | None = None
    not_before: datetime | None = None
    who: str = ""


class KeptStep(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True, kw_only=True):
    """A step of a plan that is kept: whose hands, and when each of its stretches begins, ISO in UTC; scuff: when the
    one before it begins, and by whom; cabinet: whether the wait before it is spent there."""

    instrument: str
    step: str
    who: str
    starts: tuple[str, ...]
    scuff: str = ""
    scuff_who: str = ""
    cabinet: bool = False


class Kept(Struct, frozen=True, kw_only=True):
    """The plan the shop keeps to, by instrument and step; since: when it was taken up."""

    steps: Mapping[tuple[str, str], KeptStep]
    since: datetime


def days_between(first: str, last: str, name: str) -> tuple[date, date]:
    """Two ISO days. Raises InputError at the field for what is none, or runs backwards."""
    try:
        begins, ends = date.fromisoformat(first), date.fromisoformat(last or first)
    except ValueError:
        raise InputError(name, f"{first} {last}".strip() + " is no date such as 2026-12-24") from None
    need(begins.year >= EARLIEST and ends.year < LATEST, name, f"{first} {last}".strip() + " is out of this world")
    need(begins <= ends, name, f"{first} to {last} runs backwards")
    need(ends - begins < timedelta(days=MOST_CLOSED_DAYS), name, f"{first} to {last} is longer than a year")
    return begins, ends


def moment(text: str, name: str) -> datetime:
    """An ISO moment with its zone. Raises InputError at the field."""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        raise InputError(name, f"{text} is not a date and time") from None
    need(found.tzinfo is not None, name, f"{text} names no time zone")
    need(EARLIEST <= found.year < LATEST, name, f"{text} is out of this world")
    return found
