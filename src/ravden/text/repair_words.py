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
from ravden.core.fact import PLAIN, Fact
from ravden.core.record import Mishap, Project
from ravden.text import say, words, written
from ravden.text.units import Units

if TYPE_CHECKING:
    from ravden.core.repair.evidence import Cause
    from ravden.core.repair.work_out import ZoneAfter

CONFIDENCE = {"very likely": "Very likely", "likely": "Likely", "possible": "Possible"}
STATES = {"noticed": "open", "planned": "in the plan", "worked": "worked: look at it", "closed": "closed"}
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
    return "under 1 in 100" if value < 0.01 else f"{100 * value:.0f} in 100"


def odds_thin(zone: ZoneAfter) -> str:
    """The odds that a zone ends thinner than is wanted there."""
    return "" if zone.floor_um <= 0 else f"{_odds(zone.odds)} too thin"


def risk(found: Fact, zone: Callable[[str], str], units: Units) -> str:
    """What can go wrong in a repair."""
    values = found.values
    if found.code == PLAIN:
        return str(values["text"])
    if found.code == "overshoot":
        return f"{_odds(values['odds'])} that cutting {units.film(values['um'])} goes into sound film."
    if found.code == "ends-thin":
        least = units.film(values["floor_um"])
        return f"{_odds(values['odds'])} that the {zone(values['zone'])} ends under {least}, the least wanted there."
    return "It does not come ready within sight: warm the room, or choose another."


def none_because(found: Fact, label: str) -> str:
    """Why nothing but stripping is left."""
    return f"{label} on {GROUPS[found.values['group']]}, as far as this is along: nothing mends it but stripping that zone."


DOUBTS = {
    "no-satin": "No coat with flatting in it is logged there: is it dust, or a cloud?",
    "melts-into-one": "This film melts into one: rings are rarer here than scratches and unlevel film.",
}


def doubt(found: Fact, label: Callable[[str], str]) -> str:
    """What speaks against a defect as it was told."""
    if found.code == "contradicts":
        other = label(found.values["what"])
        return f"{other} is noted on the same spot, and no spot has both: take one of them back (Ctrl+Z, or the log)."
    return DOUBTS[found.code]


def size_words(mishap: Mishap, ask: str, units: Units) -> str:
    """How large a defect is, as it was told."""
    parts = []
    if mishap.size_mm is not None:
        parts.append(_nearest("size", mishap.size_mm))
    if mishap.spread in ("zone", "all"):
        parts.append("all of that zone" if mishap.spread == "zone" else "all of it")
    if mishap.height_um is not None and ask == "height":
        parts.append(f"{units.film(mishap.height_um)} high")
    if mishap.depth_um is not None and ask == "depth":
        parts.append(f"{units.film(mishap.depth_um)} deep")
    return ", ".join(parts)


def _nearest(ask: str, value: float) -> str:
    name, _ = min(comparisons(ask), key=lambda pair: abs(math.log(pair[1] / max(value, 0.01))))
    return f"like {name}"


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
    before: datetime | None, after: datetime | None, now: datetime, *, leaves: bool = False
) -> str:  # fmt: skip
    """The ready day with a repair, against the one without."""
    if after is None:
        return "not within sight"
    day = words.day(after, now)
    if before is None:
        return f"ready {day}"
    later = (after.date() - before.date()).days
    if later > 0:
        return f"ready {day}, {words.plural(later, 'day')} later"
    if later < 0:
        return f"ready {day}, no later than before"
    return f"ready {day}, as before"
