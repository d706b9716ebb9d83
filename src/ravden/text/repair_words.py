"""Defects, their causes and their repairs in the words of the bench."""

from __future__ import annotations

import csv
import functools
import math
import string
from collections.abc import Callable, Sequence
from datetime import datetime
from typing import TYPE_CHECKING, Any

from ravden.catalogue.reading import text_of
from ravden.core.fact import Fact, fact
from ravden.core.record import Project
from ravden.text import say, wait_words, words, written
from ravden.text.units import Units

if TYPE_CHECKING:
    from ravden.core.repair.evidence import Cause
    from ravden.core.repair.work_out import ZoneAfter

CONFIDENCE = {"very likely": "Very likely", "likely": "Likely", "possible": "Possible"}
WET_K = -90.0
GROUPS = {"D": "a film that melts into itself", "L": "a film of layers", "O": "an oil", "P": "a light-cured film"}


@functools.cache
def _causes() -> dict[str, dict[str, str]]:
    return {row["code"]: row for row in csv.DictReader(text_of("causes.csv").splitlines())}


@functools.cache
def comparisons(ask: str) -> tuple[tuple[str, float], ...]:
    """Plain comparisons for a size, a height or a depth, the least first: words, and mm or um."""
    rows = [r for r in csv.DictReader(text_of("comparisons.csv").splitlines()) if r["ask"] == ask]
    return tuple(sorted(((r["words"], float(r["value"])) for r in rows), key=lambda pair: pair[1]))


def question(code: str) -> str:
    """What is asked where the record does not know."""
    return _causes()[code]["question"]


def cause(found: Cause, units: Units, when: Callable[[float], datetime], now: datetime) -> str:
    """A cause as a sentence, with the number that speaks for it and the limit."""
    if found.asks:
        return f"{question(found.asks)} Nobody has said."
    text = _Words(units).vformat(_causes()[found.code]["words"], (), {"value": found.value, "limit": found.limit})
    if found.at_h is None:
        return text
    return f"{text.removesuffix('.')} ({words.moment(when(found.at_h), now)})."


class _Words(string.Formatter):
    """Values by their kind; what nobody knows is left to the words around it."""

    def __init__(self, units: Units) -> None:
        self.units = units

    def format_field(self, value: Any, format_spec: str) -> str:
        if not isinstance(value, float | int) or math.isnan(value):
            return "an unknown amount"
        return _SPECS[format_spec](float(value), self.units)


def _kelvin(value: float, units: Units) -> str:
    return f"{abs(value) * 1.8:.0f} °F" if units.us else f"{written.number(abs(value), '.2g')} °C"


def _dew(value: float, units: Units) -> str:
    return f"{_kelvin(value, units)} {'over' if value >= 0 else 'under'} the dew point"


def _over(value: float, units: Units) -> str:
    """How far over the room's temperature a film softens."""
    if value < WET_K:
        return "far below"
    return f"{_kelvin(value, units)} {'over' if value >= 0 else 'below'}"


_SPECS: dict[str, Callable[[float, Units], str]] = {
    "um": lambda v, u: u.film(v), "K": _kelvin, "dew": _dew, "over": _over, "h": lambda v, u: _gap(v),
    "C": lambda v, u: u.temperature(v), "share": lambda v, u: f"{100 * v:.0f} %", "count": lambda v, u: f"{v:.0f}",
    "odds": lambda v, u: _odds(v), "times": lambda v, u: f"{written.number(v, '.1f')} times",
}  # fmt: skip


def _gap(h: float) -> str:
    return f"{60 * h:.0f} min" if h < 1.5 else say.hours(h)


def _odds(value: float) -> str:
    return "under 1 %" if value < 0.01 else f"{100 * value:.0f} %"


def odds_thin(zone: ZoneAfter, units: Units) -> str:
    """The odds that a zone ends thinner than is wanted there; empty where nothing is."""
    return "" if zone.floor_um <= 0 else f"{_odds(zone.odds)} odds of under {units.film(zone.floor_um)}"


def risk(found: Fact, zone: Callable[[str], str], units: Units) -> str:
    """What can go wrong in a repair."""
    values = dict(found.values)
    if "zone" in values:
        values["zone"] = zone(values["zone"])
    return say.sentence(fact(found.code, **values), units)


def none_because(found: Fact, label: str) -> str:
    """Why nothing but stripping is left."""
    return say.sentence(fact(found.code, what=label, group=GROUPS[found.values["group"]]))


def doubt(found: Fact, label: Callable[[str], str]) -> str:
    """What speaks against a defect as it was told."""
    values = {**found.values, **({"what": label(found.values["what"])} if "what" in found.values else {})}
    return say.sentence(fact(found.code, **values))


def zone_label(project: Project, name: str) -> str:
    """A zone in a sentence; the spot of a repair is the spot."""
    if name.startswith("spot-"):
        return "spot"
    labels = {z.name: z.label.lower() for z in project.zones}
    return labels.get(name, name)


def best(found: Sequence[str]) -> str:
    """What a repair is best at among those beside it."""
    return ", ".join(found)


def ready_words(
    before: datetime | None, after: datetime | None, late: datetime | None, now: datetime
) -> str:  # fmt: skip
    """The ready day with a repair, likely and nine in ten, against the one without."""
    if after is None:
        return "not within sight"
    day = f"{words.day(after, now)} ({wait_words.by(after, late, now)})"
    if before is None:
        return day
    later = (after.date() - before.date()).days
    if later > 0:
        return f"{day}, {words.plural(later, 'day')} later"
    return f"{day}, no later than before" if later < 0 else f"{day}, as before"
