"""Facts of the core in the words of the bench and the units of the user.

A sentence is a template by the code of its fact. `{name}` puts a value in as it is, `{name:spec}` by its kind:

=========  ====================================================================================================
film       film [um] in the user's unit; after it how metric digits are written, such as `film.1f`
grain      grain of an abrasive [um], which is told in micrometres everywhere
min, h     minutes; hours, or days from two on
odds, %    a share, the first never under one in a hundred
area, C    cm2 and C in the user's unit
list       names, one after the other
`?a|b`     a where the value is true, b (or nothing) where it is not; both may hold other values
=========  ====================================================================================================
"""

import string
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from ravden.core.errors import InputError
from ravden.core.fact import PLAIN, Fact
from ravden.text import written
from ravden.text.units import Units

METRIC = Units()


def say(fact: Fact | None, units: Units = METRIC) -> str:
    """A fact as a sentence, or a part of one; nothing is said of None. Raises KeyError for a code without words."""
    if fact is None:
        return ""
    if fact.code == PLAIN:
        return str(fact.values["text"])
    if fact.code in BOUNDS:
        return _bounds(fact, units)
    return _Words(units).vformat(templates()[fact.code], (), fact.values).strip()


def sentence(fact: Fact | None, units: Units = METRIC) -> str:
    """The same with a capital and a full stop."""
    text = say(fact, units)
    return f"{text[:1].upper()}{text[1:]}{'' if text[-1:] in '.?!' else '.'}" if text else ""


MOST_SHOWN = 300  # letters of a sentence that quotes what was typed


def fault(error: InputError, units: Units = METRIC) -> str:
    """What is wrong with an input, beside its field."""
    return shown(say(error.said, units))


def whole_fault(error: InputError, units: Units = METRIC) -> str:
    """What is wrong with an input, with the field, row or file it is in."""
    return f"{shown(error.path)}: {fault(error, units)}" if error.path else fault(error, units)


def shown(text: str) -> str:
    """What bad input quotes, as it may be shown anywhere: on one line, nothing a terminal obeys, and not without end.

    >>> shown("unknown \\x1b[2J" + "x" * 9)
    'unknown ?[2Jxxxxxxxxx'
    """
    clean = "".join(c if c.isprintable() else " " if c.isspace() else "?" for c in text[:MOST_SHOWN])
    return f"{clean}…" if len(text) > MOST_SHOWN else clean


def templates() -> Mapping[str, str]:
    """Every sentence by the code of its fact."""
    from ravden.text import faults, ladders, mended, quarrels

    return _all or _all.update({**faults.SAID, **ladders.SAID, **quarrels.SAID, **mended.SAID}) or _all


_all: dict[str, str] = {}


def names(items: Sequence[str]) -> str:
    """Names as one says them.

    >>> names(["Sides", "Top", "Back"])
    'Sides, Top and Back'
    """
    return " and ".join(part for part in (", ".join(items[:-1]), "".join(items[-1:])) if part)


def grade_name(name: str) -> str:
    """A grade as it is written: films are told in micrometres, whatever the user's unit. Journals keep `um`."""
    return name.replace(" um", " µm")


def hours(value: float) -> str:
    """Hours [h], or days from two on."""
    return f"{written.number(value, '.3g')} h" if value < 48 else f"{value / 24:.0f} days"


def minutes(value: float) -> str:
    """Minutes [min], or hours from one and a half on."""
    return f"{value:.0f} min" if value < 90 else f"{written.number(value / 60, '.1f')} h"


BOUNDS = ("not-between", "not-above", "not-below")


def _bounds(fact: Fact, units: Units) -> str:
    """What a field may hold, in the unit it is shown in; digits as they are typed."""
    told = dict(fact.values)
    unit = told.pop("unit")
    shown: dict[str, tuple[Callable[[float], float], str]] = {
        "um": (units.film_value, units.film_unit), "C": (units.temperature_value, units.temperature_unit),
        "mm": (units.length_value, units.length_unit), "cm2": (units.area_value, units.area_unit),
    }  # fmt: skip
    turned, name = shown.get(unit, (float, unit))
    numbers = {key: written.number(turned(value), ".4g") for key, value in told.items()}
    return templates()[fact.code].format(**numbers, unit=f" {name}" if name else "")


class _Words(string.Formatter):
    """The templates' own kinds of values."""

    def __init__(self, units: Units) -> None:
        self.units = units

    def format_field(self, value: Any, format_spec: str) -> str:
        if format_spec.startswith("?"):
            yes, _, no = format_spec[1:].partition("|")
            return yes if value else no
        if isinstance(value, Fact):
            return say(value, self.units)
        if value is None:
            return ""
        if format_spec.startswith("film"):
            return _film(value, format_spec[4:] or ".0f", self.units)
        if isinstance(value, str):
            value = grade_name(value)
        said = _SPECS.get(format_spec)
        if said is not None:
            return said(value, self.units)
        plain = f"{value:{format_spec}}"
        return written.signed(plain) if isinstance(value, float) else plain


def _film(um: float, digits: str, units: Units) -> str:
    if not units.us:
        return f"{written.number(um, digits)} µm"
    mil = units.film_value(um)
    return f"{written.number(mil, '.1g')} mil" if 0 < mil < 0.05 else units.film(um)


_SPECS: dict[str, Callable[[Any, Units], str]] = {
    "temp": lambda v, u: u.temperature(v),
    "grain": lambda v, u: f"{v:.0f} µm",
    "min": lambda v, u: minutes(v),
    "h": lambda v, u: hours(v),
    "odds": lambda v, u: "under 1 %" if v < 0.01 else f"{100 * v:.0f} %",
    "area": lambda v, u: u.area_large(v),
    "lower": lambda v, u: v.lower(),
    "list": lambda v, u: names(v),
    "commas": lambda v, u: ", ".join(v),
}
