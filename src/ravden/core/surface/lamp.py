"""What a scratched film should look like: three lit tubes mirrored in it (docs/maths.md).

The part of the light that is mirrored shows the tubes sharp; the rest is scattered into lobes, the wider the rougher
the film, and fills the gaps between them. Roughness and correlation length are those of the gloss model.
"""

from __future__ import annotations

import functools
import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ravden.core.abrasive.gloss import CORRELATION_UM, WAVELENGTH_UM
from ravden.core.errors import need_in
from ravden.core.surface.contact import Cells

Floats = NDArray[np.float64]
TUBE_DEG, GAP_DEG, HALF_LONG_DEG = 1.7, 1.4, 9.1  # [ENG] a lamp of three tubes, as it is seen
CENTRES_DEG = (-(TUBE_DEG + GAP_DEG), 0.0, TUBE_DEG + GAP_DEG)
FIELD_DEG = (24.0, 16.0)  # what the picture shows, across and along the tubes
VEIL_PER_UM = 0.055  # [ENG] haze over all of it, per um of roughness
GROUPS = 7  # of scattered lobes: more cannot be told apart
MOST_RQ_UM = 20.0
FAR_DEG, PER_DEG = 60, 20  # how far a bent ray is followed, and how finely


class Lamp(Struct, frozen=True, kw_only=True):
    """Radiance against a perfect film's lamp [-]: in the middle of the middle tube, and of a gap beside it; mirrored:
    the share of it that is not scattered."""

    tube: float
    gap: float
    mirrored: float

    @property
    def contrast(self) -> float:
        """How well the tubes are told apart, 0 to 1."""
        return (self.tube - self.gap) / (self.tube + self.gap)


def lamp(rq_um: float, angle_deg: float) -> Lamp:
    """How a lamp is mirrored by a film of this roughness, seen at this angle from the upright.

    .. math:: L = e^{-g} L_0 + \\sum_m \\mathrm{Poisson}(m;g)\\, L_0 * N(\\sigma_m), \\quad
        \\sigma_m = \\frac{\\sqrt{2m}\\,\\lambda}{2\\pi\\ell}

    g as for the gloss; along the plane of incidence the lobes are wider by 1 / cos. Source: Kirchhoff (PUB), l [ENG].

    >>> [round(lamp(0.119, a).contrast, 2) for a in (20, 60, 82)]
    [0.03, 0.2, 0.9]
    """
    across = _mirrored(rq_um, angle_deg, np.array([0.0, (TUBE_DEG + GAP_DEG) / 2]), np.array([0.0]))
    return Lamp(tube=float(across[0, 0]), gap=float(across[0, 1]), mirrored=math.exp(-_g(rq_um, angle_deg)))


def radiance(rq_um: float, angle_deg: float, wide: int, high: int) -> Floats:
    """The mirrored lamp as it is seen (high, wide), against a perfect film's lamp [-], with the veil of roughness."""
    x, y = _field(wide, high)
    return _mirrored(rq_um, angle_deg, x, y) + min(VEIL_PER_UM * rq_um, 0.5)


def bent(rq_um: float, angle_deg: float, across: Cells, upright: Cells) -> Floats:
    """The same in a film that is not flat: a slope s turns the ray by 2 s. across, upright: slopes (high, wide) [-]."""
    high, wide = across.shape
    x, y = _field(wide, high)
    at_x = np.degrees(2 * across) + x[None, :]
    at_y = np.degrees(2 * upright) + y[:, None]
    far = np.linspace(-FAR_DEG, FAR_DEG, 2 * FAR_DEG * PER_DEG + 1)
    out = np.zeros(across.shape)
    for weight, over, along in _parts(rq_um, angle_deg, far, far):
        out += weight * np.interp(at_x, far, over) * np.interp(at_y, far, along)
    return out + min(VEIL_PER_UM * rq_um, 0.5)


def _field(wide: int, high: int) -> tuple[Floats, Floats]:
    """Where each column and row looks [deg]."""
    need_in(wide, 8, 2000, "wide")
    need_in(high, 8, 2000, "high")
    x = (np.arange(wide) + 0.5) / wide * FIELD_DEG[0] - FIELD_DEG[0] / 2
    y = (np.arange(high) + 0.5) / high * FIELD_DEG[1] - FIELD_DEG[1] / 2
    return x, y


def _g(rq_um: float, angle_deg: float) -> float:
    return (4 * math.pi * rq_um * math.cos(math.radians(angle_deg)) / WAVELENGTH_UM) ** 2


def _mirrored(rq_um: float, angle_deg: float, x: Floats, y: Floats) -> Floats:
    return np.asarray(np.sum([w * np.outer(along, over) for w, over, along in _parts(rq_um, angle_deg, x, y)], axis=0))


def _parts(rq_um: float, angle_deg: float, x: Floats, y: Floats) -> list[tuple[float, Floats, Floats]]:
    """What is mirrored and what is scattered: the weight of each, and how it falls off across and along the tubes."""
    need_in(rq_um, 0, MOST_RQ_UM, "rq_um", "um")
    need_in(angle_deg, 0, 88, "angle_deg")
    g = _g(rq_um, angle_deg)
    sharp = np.sum([np.abs(x - c) <= TUBE_DEG / 2 for c in CENTRES_DEG], axis=0).astype(float)
    parts = [(math.exp(-g), sharp, (np.abs(y) <= HALF_LONG_DEG).astype(float))]
    spread = math.degrees(WAVELENGTH_UM / (2 * math.pi * CORRELATION_UM))
    for weight, m in _lobes(g):
        sigma = math.sqrt(2 * m) * spread
        along = _between(y, -HALF_LONG_DEG, HALF_LONG_DEG, sigma / math.cos(math.radians(angle_deg)))
        over = np.sum([_between(x, c - TUBE_DEG / 2, c + TUBE_DEG / 2, sigma) for c in CENTRES_DEG], axis=0)
        parts.append((weight, over, along))
    return parts


@functools.lru_cache(maxsize=256)
def _lobes(g: float) -> tuple[tuple[float, float], ...]:
    """Poisson weights of the scattered lobes in a few groups: weight and mean order of each."""
    if g < 1e-9:
        return ()
    last = int(g + 8 * math.sqrt(g) + 12)
    m = np.arange(1, last + 1, dtype=float)
    weight = np.exp(-g + m * math.log(g) - np.array([math.lgamma(k + 1) for k in m]))
    ends = np.searchsorted(np.cumsum(weight) / weight.sum(), np.arange(1, GROUPS) / GROUPS) + 1
    out = []
    for part in np.split(np.arange(last), ends):
        w = weight[part].sum() if len(part) else 0.0
        if w > 0:
            out.append((float(w), float((weight[part] * m[part]).sum() / w)))
    return tuple(out)


def _between(at: Floats, low: float, high: float, sigma: float) -> Floats:
    """Share of a normal lobe about each place that comes from between two ends."""
    from scipy.special import ndtr

    return np.asarray(ndtr((high - at) / sigma) - ndtr((low - at) / sigma))
