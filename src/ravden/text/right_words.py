"""What was foretold and what came, in words."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ravden.core.ahead.drying_rate import heard
from ravden.core.ahead.foretold import FILM, KINDS, MINUTES, READY, WINDOW, Foretold, Share, bias, share
from ravden.text import words, written

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ravden.core.ahead.drying_rate import Heard, Rate
    from ravden.text.units import Units

HEADINGS = {
    FILM: "Film before a reading", WINDOW: "Wait before levelling", MINUTES: "Minutes before a rung",
    READY: "Ready day before the promise",
}  # fmt: skip
LESS = {FILM: "less", WINDOW: "sooner", MINUTES: "less", READY: "sooner"}
MORE = {FILM: "more", WINDOW: "later", MINUTES: "more", READY: "later"}
MOST_MEANT = 0.9  # share a range of nine times in ten is meant to hold


def amount(told: Foretold, value: float, units: Units) -> str:
    """A figure of a kind in its unit."""
    if told.what == FILM:
        return units.film(value)
    if told.what == WINDOW:
        return words.wait(value)
    if told.what == MINUTES:
        return f"{value:.0f} min"
    return f"{written.number(value, '.0f')} days"


def ranged(told: Foretold, units: Units) -> str:
    """What was foretold."""
    if told.what == FILM:
        return units.film_range(told.low, told.high)
    return _span(amount(told, told.low, units), amount(told, told.high, units))


def _span(low: str, high: str) -> str:
    """8–14 days; 5 days – 3 weeks."""
    if low == high:
        return low
    unit = high.partition(" ")[2]
    return f"{low.removesuffix(f' {unit}')}–{high}" if low.endswith(f" {unit}") else f"{low} – {high}"


def came(told: Foretold, units: Units) -> str:
    """What came, as far as it is known."""
    if told.came_low <= 0:
        return f"by {amount(told, told.came_high, units)}"
    if math.isinf(told.came_high):
        return f"not by {amount(told, told.came_low, units)}"
    return _span(amount(told, told.came_low, units), amount(told, told.came_high, units))


def line(told: Foretold, units: Units) -> str:
    """Both, and whether it held."""
    said = f"foretold {ranged(told, units)}, came {came(told, units)}"
    if not told.tells:
        return f"{said}: says nothing, the work came long after"
    if told.inside:
        return said
    side = LESS if told.came_high < told.low else MORE
    return f"{said}: {side[told.what]} than foretold"


def shares(told: Sequence[Foretold]) -> tuple[tuple[str, str], ...]:
    """Of every kind how many came within their range, and what that leaves open."""
    return tuple((HEADINGS[k], held(share([f for f in told if f.what == k]))) for k in KINDS)


def held(of: Share) -> str:
    """7 of 8 inside: nine in ten were meant, and so few cannot tell it from 60–98 %."""
    if of.of == 0:
        return "nothing to compare yet"
    text = f"{of.inside:.0f} of {of.of} within the range"
    low, high = round(100 * of.low), round(100 * of.high)
    if of.high < MOST_MEANT:
        return f"{text} ({low}–{high} % of the time): less than the 90 % meant"
    if of.low > MOST_MEANT:
        return f"{text} ({low}–{high} % of the time; 90 % meant): the ranges are too wide"
    return f"{text} ({low}–{high} % of the time; 90 % meant)"


def _how_far(found: Rate) -> str:
    """Likely ready 9 days after Ravden says (6 of 6 still soft on its likely day)."""
    days = abs(found.days)
    apart = f"{days:.0f} days" if days >= 1.5 else "about a day" if days >= 0.5 else "some hours"
    if found.days > 0:
        return f"likely ready {apart} before Ravden says ({found.agree} of {found.waits} ready before its likely day)"
    return f"likely ready {apart} after Ravden says ({found.agree} of {found.waits} still soft on its likely day)"


def what_would_tell(waits: Heard) -> str:
    """What levellings without trouble leave open, and the look that would tell."""
    times = words.plural(waits.waits, "time")
    when = words.wait(waits.look_h)
    return (
        f"levelled {times} without trouble, which says ready by then and no more. What would tell: does a nail dent "
        f"{when} after the last coat?"
    )


def advice(finish: str, told: Sequence[Foretold], taken: bool, air_C: float | None = None) -> tuple[str, Rate | None]:
    """One sentence on what to change for a finish, and the rate to take over where that is it. finish: its name; taken:
    whether the rate the waits speak for is in use already; air_C: mean of the air to come."""
    counted = [f for f in told if f.tells]
    waits = heard(told, air_C)
    found = None if waits is None else waits.forward
    if found is not None:
        text = f"{finish} is {_how_far(found)}"
        if taken:
            return f"{text}: the shop's own rate is in use since.", None
        return f"{text}: take the shop's rate over?", found
    off = bias(counted, FILM)
    if off is not None:
        side = "thicker" if off > 1 else "thinner"
        percent = 100 * abs(off - 1)
        return f"{finish} came out {percent:.0f} % {side} than foretold: what lays it has been learnt, and the next "             "instrument is reckoned with that.", None  # fmt: skip
    off = bias(counted, MINUTES)
    if off is not None:
        side = "more" if off > 1 else "less"
        return (
            f"{finish}: paper took {100 * abs(off - 1):.0f} % {side} time than foretold, which is learnt from the Booth.",
            None,
        )
    if not counted and waits is None:
        return f"{finish}: nothing to compare yet.", None
    if waits is not None and waits.softs == 0:
        return f"{finish}: {what_would_tell(waits)}", None
    inside = sum(f.inside for f in counted)
    if inside == len(counted):
        return f"{finish}: all {len(counted)} came as foretold; nothing to change.", None
    return (
        f"{finish}: {inside} of {len(counted)} came as foretold, and the others lean to no side: nothing to change.",
        None,
    )
