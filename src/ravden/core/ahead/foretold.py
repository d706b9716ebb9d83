"""What was foretold against what came: film before a reading, a window before the work, minutes before a rung, the day
an instrument is ready before it was promised.

A range is that of nine times in ten. What came is often known only to lie between two moments: paper that went well on
a Saturday says that the film was ready by then, and no more.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from ravden.core.abrasive.hands import Belief
from ravden.core.record import RATE_LN_SD

FILM, WINDOW, MINUTES, READY = "film", "window", "minutes", "ready"
KINDS = (FILM, WINDOW, MINUTES, READY)
Z90, Z80 = 1.645, 1.2816
WAIT_LN_SD = 0.20  # [A] of one wait beside the shop's rate: the film, and how it was tried
FEWEST = 2  # waits that have to agree before a rate is put forward
MOVED_LN = 0.05  # a rate closer to the one in use is the same
BIAS_SD = 2.0  # beyond so many of its own sd, a mean of logarithms is no chance


@dataclass(frozen=True, slots=True, kw_only=True)
class Foretold:
    """One of them. what: of KINDS; of: the instrument's id, name: its name; label: the zone, step or grade; finish: its
    material's id; at: when it came; low, likely, high: as foretold, film [um], wait since the coat [h], minutes, or
    days from the promise; came_low, came_high: what came, in the same; rate_ln: mean of ln of the drying rate it was
    foretold with."""

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

    @property
    def tells(self) -> bool:
        """Whether it says anything: work done long after the film was ready does not."""
        return not (self.came_low <= 0.0 and self.came_high >= self.high)

    @property
    def inside(self) -> bool:
        """Whether it came within the range."""
        return self.came_high >= self.low and self.came_low <= self.high

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
    """How many came within their range, of how many, and between which shares that leaves the truth (nine times in
    ten)."""

    inside: int
    of: int
    low: float
    high: float


def share(told: Iterable[Foretold]) -> Share:
    """Of those that tell anything. Source: the score interval of a proportion [S]."""
    counted = [f for f in told if f.tells]
    n, k = len(counted), sum(f.inside for f in counted)
    if n == 0:
        return Share(inside=0, of=0, low=0.0, high=1.0)
    p, z2 = k / n, Z90**2
    middle = (p + z2 / (2 * n)) / (1 + z2 / n)
    half = Z90 * math.sqrt(p * (1 - p) / n + z2 / (4 * n * n)) / (1 + z2 / n)
    return Share(inside=k, of=n, low=max(middle - half, 0.0), high=min(middle + half, 1.0))


@dataclass(frozen=True, slots=True, kw_only=True)
class Rate:
    """A drying rate the waits speak for: mean and sd of ln, from how many; days: how much sooner (less than 0: later)
    the film was ready than foretold, in the middle of those on that side; agree: how many they are."""

    ln_mean: float
    ln_sd: float
    waits: int
    days: float
    agree: int


def rate(told: Sequence[Foretold]) -> Rate | None:
    """What the waits of one finish say of its rate; None: too few, or none of it is more than chance. Normal with
    normal about the usual rate [S]; a wait is the time of a reaction, and goes with one over the rate."""
    waits = [f for f in told if f.what == WINDOW and f.tells]
    if len(waits) < FEWEST:
        return None
    found = Belief(ln_mean=0.0, ln_sd=RATE_LN_SD)
    for f in waits:
        bracket = 0.0
        if f.came_low > 0.0 and not math.isinf(f.came_high):
            bracket = math.log(f.came_high / f.came_low) / math.sqrt(12.0)
        found = found.told(f.rate_ln + math.log(f.likely / f.came), math.hypot(WAIT_LN_SD, bracket))
    then = sum(f.rate_ln for f in waits) / len(waits)
    faster = found.ln_mean > then
    side = sorted(d for f in waits if ((d := (f.likely - f.came) / 24.0) > 0) == faster)
    if abs(found.ln_mean - then) < found.ln_sd or 2 * len(side) <= len(waits):
        return None
    days = side[len(side) // 2]
    return Rate(ln_mean=found.ln_mean, ln_sd=found.ln_sd, waits=len(waits), days=days, agree=len(side))


def bias(told: Iterable[Foretold], what: str) -> float | None:
    """By what factor it usually came out more than foretold; None: no more than chance."""
    logs = [math.log(f.came / f.likely) for f in told if f.what == what and f.tells and f.came > 0 and f.likely > 0]
    if len(logs) < FEWEST:
        return None
    mean = sum(logs) / len(logs)
    sd = math.sqrt(sum((x - mean) ** 2 for x in logs) / (len(logs) - 1) / len(logs)) + 1e-3
    return math.exp(mean) if abs(mean) > BIAS_SD * sd and abs(mean) > MOVED_LN else None
