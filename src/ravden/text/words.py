"""Moments, waits and margins in the words of the bench."""

import math
from collections.abc import Sequence
from datetime import datetime
from typing import Protocol

from ravden.text import written
from ravden.text.units import Units

MARGIN_WORDS = ((-25.0, "wet"), (0.0, "soft"), (8.0, "firm on top"), (15.0, "can be levelled"), (20.0, "can be buffed"))
DEPTH_WORDS = ((-25.0, "wet"), (0.0, "soft"), (15.0, "firm"))
ACTS = {
    "touch_dry": "touch", "scuff": "scuff", "level": "level sand", "buff": "buff", "case": "case", "next_coat": "coat",
}  # fmt: skip

READ_WITH = {
    "gauge": "film gauge", "comb": "wet comb", "card": "witness card weighed", "micrometer": "micrometer on the card",
    "volume": "volume used", "gloss": "gloss meter", "through": "wood or colour shows",
    "not-through": "looked: film everywhere",
    "nail-dents": "a nail still dents it", "nail-holds": "a nail leaves nothing", "print": "a cloth left its print",
    "no-print": "no print overnight", "smells": "it still smells", "no-smell": "it smells no more",
}  # fmt: skip


def rate(ln_mean: float) -> str:
    """A rate factor in plain words."""
    percent = 100 * (math.exp(ln_mean) - 1)
    if abs(percent) < 2:
        return "dries as assumed"
    return f"dries {abs(percent):.0f} % {'faster' if percent > 0 else 'slower'} than assumed"


class Seen(Protocol):
    """A reading, as logged or as folded."""

    @property
    def what(self) -> str: ...
    @property
    def zone(self) -> str: ...
    @property
    def um(self) -> float: ...
    @property
    def high_um(self) -> float: ...
    @property
    def spot(self) -> bool: ...
    @property
    def how(self) -> str: ...
    @property
    def gu60(self) -> float: ...
    @property
    def colour(self) -> bool: ...


def reading(seen: Seen, units: Units) -> str:
    """A reading in a few words."""
    if seen.what in ("through", "not-through"):
        where = f"in a spot of {seen.zone}" if seen.spot else f"on {seen.zone}"
        shows = "colour shows" if seen.colour else "wood or colour shows"
        return f"{shows if seen.what == 'through' else 'film everywhere'} {where}"
    if seen.what == "comb":
        return f"wet comb, {seen.zone}: {units.film_range(seen.um, seen.high_um)} wet"
    if seen.what == "gloss":
        return f"gloss meter, {seen.zone}: {seen.gu60:.0f} gloss units at 60°"
    if seen.what not in ("gauge", "card", "micrometer", "volume"):
        return READ_WITH[seen.what]
    value = seen.how or units.film(seen.um)
    return f"{READ_WITH[seen.what]}{f', {seen.zone}' if seen.what == 'gauge' else ''}: {value}"


def day(moment: datetime, now: datetime) -> str:
    """today, yesterday, tomorrow, or Sat 28 Nov; both moments local."""
    apart = (moment.date() - now.date()).days
    if apart in (-1, 0, 1):
        return ("yesterday", "today", "tomorrow")[apart + 1]
    return written.day(moment, year=moment.year != now.year)


def moment(at: datetime, now: datetime) -> str:
    """today 14:30; beyond tomorrow the day alone, since nothing is known to the hour."""
    apart = abs((at.date() - now.date()).days)
    return f"{day(at, now)} {written.clock(at)}" if apart <= 1 else day(at, now)


def wait(hours: float) -> str:
    """A wait as a person says it."""
    if hours < 1:
        return f"{max(round(hours * 60 / 5) * 5, 5)} min"
    if hours < 10:
        return f"{written.signed(f'{hours:.1f}'.removesuffix('.0'))} h"
    if hours < 36:
        return f"{hours:.0f} h"
    if hours < 24 * 21:
        return f"{hours / 24:.0f} days"
    return f"{hours / 168:.0f} weeks"


def margin(margin_K: float) -> str:
    """How soft a film is, as what may be done to it."""
    for limit, word in MARGIN_WORDS:
        if margin_K < limit:
            return word
    return "ready for the case"


def at_depth(margin_K: float) -> str:
    """How soft one depth of a film is: what may be done to the film is for its softest to say."""
    return next((word for limit, word in DEPTH_WORDS if margin_K < limit), "hard")


def softens(margin_K: float, asked_K: float | None = None) -> str:
    """The same in kelvin, for whoever asks: how far over the bench's temperature the film softens."""
    where = f"{abs(margin_K):.0f} K {'above' if margin_K >= 0 else 'below'} the temperature of the bench"
    wanted = "" if asked_K is None else f"; {kelvin(asked_K)} is wanted"
    return f"It softens {where}{wanted}."


def kelvin(margin_K: float) -> str:
    """+8 K; never a minus nothing."""
    whole = round(margin_K)
    return f"{whole:+d} K".replace("-", "−") if whole else "0 K"


def minutes(value: float) -> str:
    """Time of work, no finer than it is known."""
    if value < 90:
        return f"{max(5 * round(value / 5), 5)} min"
    return f"{written.signed(f'{value / 60:.1f}'.removesuffix('.0'))} h"


def plural(count: int, one: str, many: str = "") -> str:
    """1 coat, 2 coats."""
    return f"{count} {one if count == 1 else many or one + 's'}"


def listed(items: Sequence[str]) -> str:
    """top; top and back; top, back and sides."""
    return " and ".join(part for part in (", ".join(items[:-1]), "".join(items[-1:])) if part)
