"""Odds that a zone is cut below its floor, in classes a person can use (docs/maths.md)."""

import functools
import math
from dataclasses import dataclass

from ravden.core.errors import need_in
from ravden.core.record import FLOOR_SHARE

# Share of the strokes that cross a zone, where the zone does not say [ENG].
EXPOSURE = {"flat": 1.0, "contour": 0.8, "edge": 0.5}
CV_FACTOR = {"flat": 1.0, "contour": 1.3, "edge": 1.8}  # [ENG]
PATCHES = {"flat": 10, "contour": 5, "edge": 10}  # [ENG] places in a zone that can go by themselves
ODDS_LIMIT = {"flat": 0.05, "contour": 0.05, "edge": 0.10}  # [ENG]
SPOT_CV = 0.05  # [A] film of one spot of a zone against the next, of the mean: many coats even out
CLASSES = ((0.01, "under 1 %"), (0.05, "1–5 %"), (0.20, "5–20 %"), (math.inf, "over 20 %"))
REACH_SD = 4.5  # of the integrals over what is common to a zone
HALVINGS = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneFilmLeft:
    """Film on a zone before the work: name, kind, mean and sd [um], area [cm2].

    share: of the strokes that cross it; floor: of the least film that it asks for; nan: as is usual for its kind.
    """

    name: str
    kind: str
    film_um: float
    sd_um: float
    area_cm2: float
    share: float = math.nan
    floor: float = math.nan

    def __post_init__(self) -> None:
        if math.isnan(self.share):
            object.__setattr__(self, "share", EXPOSURE[self.kind])
        if math.isnan(self.floor):
            object.__setattr__(self, "floor", FLOOR_SHARE[self.kind])
        need_in(self.share, 0.01, 2, "share")
        need_in(self.floor, 0, 1, "floor")


def normal_cdf(x: float) -> float:
    return 0.5 * math.erfc(-x / math.sqrt(2.0))


def odds_through(
    film_um: float, sd_um: float, spot_sd_um: float, removed_um: float, floor_um: float, patches: int
) -> float:
    """P that some patch of a zone ends below floor_um [-].

    The error of the zone's mean, sd_um, is one for the whole zone; each patch has a spread of its own, spot_sd_um.

    .. math:: P = \\int\\varphi(x)\\,[1 - (1 - \\Phi((m + t - \\mu - \\sigma x)/s))^n]\\,dx

    Where the zone's own error is the larger one the sum runs over the least of n patches instead, so that the nodes lie
    where the integrand turns. Source: normal algebra; 24 Gauss-Legendre points, within .001 of a million draws.

    >>> round(odds_through(120, 10, 8, 60, 40, 10), 4)
    0.2421
    """
    over = removed_um + floor_um - film_um
    if spot_sd_um <= 0.0:
        if sd_um <= 0.0:
            return 1.0 if over > 0 else 0.0
        return normal_cdf(over / sd_um)
    if sd_um <= spot_sd_um:
        odds = sum(w * (1.0 - (1.0 - normal_cdf((over - sd_um * x) / spot_sd_um)) ** patches) for x, w in _common())
    else:
        odds = sum(w * normal_cdf((over - spot_sd_um * q) / sd_um) for q, w in _least(patches))
    return min(odds, 1.0)  # the weights of so few points add up to 1 within .0005


@functools.cache
def _legendre() -> tuple[tuple[float, float], ...]:
    """24 points over +-4.5 standard deviations with their weights."""
    import numpy as np

    x, w = np.polynomial.legendre.leggauss(24)
    return tuple((REACH_SD * float(a), REACH_SD * float(b)) for a, b in zip(x, w, strict=True))


@functools.cache
def _common() -> tuple[tuple[float, float], ...]:
    """Points of what is common to a zone, with their odds."""
    return tuple((z, w * math.exp(-0.5 * z * z) / math.sqrt(2.0 * math.pi)) for z, w in _legendre())


@functools.cache
def _least(patches: int) -> tuple[tuple[float, float], ...]:
    """Points of the least of so many normals, with their odds: density n phi (1 - Phi)^(n-1)."""
    out = []
    for z, w in _legendre():
        q = 1.1 * z - 1.5 * math.log10(patches)
        density = patches * math.exp(-0.5 * q * q) / math.sqrt(2.0 * math.pi) * normal_cdf(-q) ** (patches - 1)
        out.append((q, 1.1 * w * density))
    return tuple(out)


def zone_odds(zone: ZoneFilmLeft, removed_um: float, cv: float, floor_um: float) -> float:
    """odds_through with the kind's own patches and unevenness, and the zone's share of the floor.

    removed_um: what this zone loses, last scratches included [um]; cv: unevenness of the removal.
    """
    spot = math.hypot(SPOT_CV * zone.film_um, cv * CV_FACTOR[zone.kind] * removed_um)
    return odds_through(zone.film_um, zone.sd_um, spot, removed_um, floor_um * zone.floor, PATCHES[zone.kind])


@functools.lru_cache(maxsize=256)
def most_removal_um(zone: ZoneFilmLeft, cv: float, floor_um: float, limit: float | None = None) -> float:
    """The most that may come off a zone within its odds limit [um], by halving; 0: leave it alone.

    >>> z = ZoneFilmLeft(name="top", kind="flat", film_um=120, sd_um=10, area_cm2=1200)
    >>> round(most_removal_um(z, 0.15, 40), 2)
    46.92
    """
    odds = ODDS_LIMIT[zone.kind] if limit is None else limit
    low, high = 0.0, zone.film_um - floor_um * zone.floor
    if high <= 0 or zone_odds(zone, 0.0, cv, floor_um) > odds:
        return 0.0
    for _ in range(HALVINGS):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if zone_odds(zone, mid, cv, floor_um) <= odds else (low, mid)
    return low


def safe_passes(most_um: float, spent_um: float, per_pass_um: float, bears_on: float) -> int:
    """Full strokes of the block that are left before a zone's odds limit."""
    return max(0, math.floor((most_um - spent_um) / (per_pass_um * bears_on)))


def odds_class(odds: float) -> str:
    """Words for odds: below half a per cent normal tails mean nothing, so no decimals.

    >>> odds_class(0.032)
    '1–5 %'
    """
    return next(words for limit, words in CLASSES if odds < limit)
