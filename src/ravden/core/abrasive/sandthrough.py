"""Odds that a zone is cut below its floor, in classes a person can use (docs/maths.md)."""

import functools
import math
from dataclasses import dataclass

from ravden.core.errors import need

EXPOSURE = {"flat": 1.0, "contour": 0.8, "edge": 0.5}  # [ENG] share of the strokes that cross a zone
CV_FACTOR = {"flat": 1.0, "contour": 1.3, "edge": 1.8}  # [ENG]
PATCHES = {"flat": 10, "contour": 5, "edge": 10}  # [ENG] places in a zone that can go by themselves
ODDS_LIMIT = {"flat": 0.05, "contour": 0.05, "edge": 0.10}  # [ENG]
FLOOR_SHARE = {"flat": 1.0, "contour": 0.75, "edge": 0.375}  # [ENG] 40 / 30 / 15 um for a 40 um floor
CLASSES = ((0.01, "under 1 %"), (0.05, "1–5 %"), (0.20, "5–20 %"), (math.inf, "over 20 %"))


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneFilmLeft:
    """Film on a zone before the work: name, kind, mean and sd [um], area [cm2]."""

    name: str
    kind: str
    film_um: float
    sd_um: float
    area_cm2: float


def normal_cdf(x: float) -> float:
    return 0.5 * math.erfc(-x / math.sqrt(2.0))


def odds_through(film_um: float, sd_um: float, removed_um: float, cv: float, floor_um: float, patches: int) -> float:
    """P that some patch of a zone ends below floor_um: film and removal independent normals [-].

    >>> round(odds_through(100, 10, 60, 0.15, 20, 1), 4)
    0.0686
    """
    spread = math.hypot(sd_um, cv * removed_um)
    if spread == 0:
        return 1.0 if removed_um + floor_um > film_um else 0.0
    point = normal_cdf((removed_um + floor_um - film_um) / spread)
    return 1.0 - (1.0 - point) ** patches


def zone_odds(zone: ZoneFilmLeft, removed_um: float, cv: float, floor_um: float) -> float:
    """odds_through with the kind's own patches, unevenness and share of the floor."""
    return odds_through(
        zone.film_um, zone.sd_um, removed_um, cv * CV_FACTOR[zone.kind], floor_um * FLOOR_SHARE[zone.kind],
        PATCHES[zone.kind],
    )  # fmt: skip


def most_removal_um(zone: ZoneFilmLeft, cv: float, floor_um: float, limit: float | None = None) -> float:
    """The most that may come off a zone within its odds limit [um]; 0: leave it alone.

    .. math:: m = [M - z\\sqrt{a\\sigma^2 + c^2 M^2}]/a, \\quad M = \\mu - t, \\; a = 1 - (z c)^2

    with z the normal quantile of the odds for one patch, c the unevenness of removal. Source: normal algebra.

    >>> z = ZoneFilmLeft(name="top", kind="flat", film_um=120, sd_um=10, area_cm2=1200)
    >>> round(most_removal_um(z, 0.15, 40), 1)
    48.3
    """
    kind = zone.kind
    odds = ODDS_LIMIT[kind] if limit is None else limit
    point = 1.0 - (1.0 - odds) ** (1.0 / PATCHES[kind])
    z, c = -normal_quantile(point), cv * CV_FACTOR[kind]
    above = zone.film_um - floor_um * FLOOR_SHARE[kind]
    a = 1.0 - (z * c) ** 2
    inside = a * zone.sd_um**2 + (c * above) ** 2
    if above <= 0 or inside < 0:
        return 0.0
    if abs(a) < 1e-12:
        return max(0.0, (above**2 - (z * zone.sd_um) ** 2) / (2 * above))
    return max(0.0, (above - z * math.sqrt(inside)) / a)


@functools.lru_cache(maxsize=256)
def normal_quantile(p: float) -> float:
    """x with normal_cdf(x) = p, by halving."""
    need(0 < p < 1, "p", f"must be between 0 and 1 (got {p})")
    low, high = -12.0, 12.0
    for _ in range(80):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if normal_cdf(mid) < p else (low, mid)
    return 0.5 * (low + high)


def safe_passes(most_um: float, spent_um: float, per_pass_um: float, bears_on: float) -> int:
    """Full strokes of the block that are left before a zone's odds limit."""
    return max(0, math.floor((most_um - spent_um) / (per_pass_um * bears_on)))


def odds_class(odds: float) -> str:
    """Words for odds: below half a per cent normal tails mean nothing, so no decimals.

    >>> odds_class(0.032)
    '1–5 %'
    """
    return next(words for limit, words in CLASSES if odds < limit)
