"""What was foretold against what came: film before a reading, a window before the work, minutes before a rung, the day
an instrument is ready before it was promised.

A range is that of nine times in ten. What came is often known only to lie between two moments: paper that went well on
a Saturday says that the film was ready by then, and no more.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from ravden.core.abrasive.hands import Belief

FILM, WINDOW, MINUTES, READY = "film", "window", "minutes", "ready"
KINDS = (FILM, WINDOW, MINUTES, READY)
Z90, Z80 = 1.645, 1.2816
FEWEST = 2  # of a kind before they are said to lean to a side
NOTICED_BY_NAIL, NOTICED_BY_PAPER = 0.95, 0.7  # [A] of films still soft: by a nail that would dent, by paper that clogs
USUAL_C = 20.0  # [C] the air rates are told at
MOVED_LN = 0.05  # a rate closer to the one in use is the same
BIAS_SD = 2.0  # beyond so many of its own sd, a mean of logarithms is no chance


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """A wait as it was reckoned when the film was found hard or soft at last, which is what its drying rate is learnt
    from: by then the film may have been measured, and the air has been. likely: wait since the coat [h]; rate_ln: mean
    of ln of the rate it was reckoned with; sd: of ln of the wait, as far as the film is not known; air_C: mean of the
    air it dried in [C]."""

    likely: float
    rate_ln: float
    sd: float
    air_C: float = USUAL_C


@dataclass(frozen=True, slots=True, kw_only=True)
class Foretold:
    """One of them. what: of KINDS; of: the instrument's id, name: its name; label: the zone, step or grade; finish: its
    material's id; at: when it came; low, likely, high: as foretold, film [um], wait since the coat [h], minutes, or
    days from the promise; came_low, came_high: what came, in the same; rate_ln: mean of ln of the drying rate it was
    foretold with; noticed: the chance that a film still soft at came_high would have been noticed; known: a wait as it
    was reckoned at its end, None: as foretold."""

    what: str
    of: str
    name: str
    label: str
    finish: str
    at: datetime
    low: float
    likely: float
    high: float
    came_low: float
    came_high: float
    rate_ln: float = 0.0
    noticed: float = 1.0
    known: Known | None = None

    @property
    def at_rate_one(self) -> float:
        """ln of the wait at the usual rate, as far as it was known at its end [ln h]."""
        known = self.known
        return math.log(self.likely) + self.rate_ln if known is None else math.log(known.likely) + known.rate_ln

    @property
    def warmer_K(self) -> float:
        """How much warmer than USUAL_C the air was it dried in, as far as that was kept [K]."""
        return 0.0 if self.known is None else self.known.air_C - USUAL_C

    @property
    def tells(self) -> bool:
        """Whether it says anything: work done long after the film was ready does not."""
        return not (self.came_low <= 0.0 and self.came_high >= self.high)

    @property
    def inside(self) -> bool:
        """Whether it came within the range."""
        return self.came_high >= self.low and self.came_low <= self.high

    @property
    def chance(self) -> float:
        """The odds that it came within the range, as far as that is known.

        Of what lies between two moments, by its own forecast: P(low < T < high | a < T <= b), which is .9 on average if
        the forecast is right; an upper end that could not have failed counts for no more than that.
        """
        if self.came_low == self.came_high or self.what != WINDOW:
            return float(self.inside)
        before, by = self._odds_by(self.came_low), self._odds_by(self.came_high)
        if by - before < 1e-9:
            return float(self.inside)
        held = self._odds_by(min(self.came_high, self.high)) - self._odds_by(max(self.came_low, self.low))
        return max(held, 0.0) / (by - before)

    def _odds_by(self, value: float) -> float:
        """The odds of no more than a value: a normal of ln on either side of the likely one, as wide as its end."""
        if value <= 0:
            return 0.0
        if math.isinf(value):
            return 1.0
        end = self.low if value < self.likely else self.high
        width = abs(math.log(max(end, 1e-9) / self.likely)) / Z90
        return 0.5 * (1.0 + math.erf(math.log(value / self.likely) / max(width, 1e-6) / math.sqrt(2.0)))

    @property
    def came(self) -> float:
        """Where it is put: the middle of what it is known to lie between, or the end that is known."""
        if self.came_low <= 0.0 or math.isinf(self.came_high):
            return self.came_high if self.came_low <= 0.0 else self.came_low
        return math.sqrt(self.came_low * self.came_high)


def film(mean_um: float, low_um: float, high_um: float, n: int) -> tuple[float, float, float]:
    """Low, likely and high of a gauge reading [um, cured] of a film believed to be this: the film's own range, and what
    a gauge scatters by.

    >>> [round(v) for v in film(100, 80, 120, 3)]
    [78, 100, 122]
    """
    from ravden.core.film.filter import Priors

    usual = Priors()
    noise = Z90 * math.sqrt((usual.gauge_gain * mean_um) ** 2 + (usual.gauge_um**2 + (usual.spot * mean_um) ** 2) / n)
    low = mean_um - math.hypot(mean_um - low_um, noise)
    return max(low, 0.0), mean_um, mean_um + math.hypot(high_um - mean_um, noise)


def widened(early: float, likely: float, late: float) -> tuple[float, float]:
    """The ends of nine times in ten from those of eight in ten, on a scale of logarithms; all greater than 0."""
    by = Z90 / Z80
    return likely * (min(early, likely) / likely) ** by, likely * (max(late, likely) / likely) ** by


def minutes(expected: float, belief: Belief, each_ln_sd: float) -> tuple[float, float, float]:
    """Low, likely and high of the minutes of a rung. expected: by the built-in rate; belief: of the factor on that;
    each_ln_sd: of one time against the next."""
    spread = Z90 * math.hypot(belief.ln_sd, each_ln_sd)
    likely = expected * belief.factor
    return likely * math.exp(-spread), likely, likely * math.exp(spread)


@dataclass(frozen=True, slots=True, kw_only=True)
class Share:
    """How many came within their range (in part, where that is not known whole), of how many, and between which shares
    that leaves the truth (nine times in ten)."""

    inside: float
    of: int
    low: float
    high: float


def share(told: Iterable[Foretold]) -> Share:
    """Of those that tell anything. Source: the score interval of a proportion [S]."""
    counted = [f for f in told if f.tells]
    n, k = len(counted), sum(f.chance for f in counted)
    if n == 0:
        return Share(inside=0.0, of=0, low=0.0, high=1.0)
    p, z2 = k / n, Z90**2
    middle = (p + z2 / (2 * n)) / (1 + z2 / n)
    half = Z90 * math.sqrt(p * (1 - p) / n + z2 / (4 * n * n)) / (1 + z2 / n)
    return Share(inside=k, of=n, low=max(middle - half, 0.0), high=min(middle + half, 1.0))


def bias(told: Iterable[Foretold], what: str) -> float | None:
    """By what factor it usually came out more than foretold; None: no more than chance."""
    logs = [math.log(f.came / f.likely) for f in told if f.what == what and f.tells and f.came > 0 and f.likely > 0]
    if len(logs) < FEWEST:
        return None
    mean = sum(logs) / len(logs)
    sd = math.sqrt(sum((x - mean) ** 2 for x in logs) / (len(logs) - 1) / len(logs)) + 1e-3
    return math.exp(mean) if abs(mean) > BIAS_SD * sd and abs(mean) > MOVED_LN else None
