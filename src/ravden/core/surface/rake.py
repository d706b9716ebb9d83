"""A panel in raking light: dull where it was touched, shiny where not, each slope by the lamp (docs/maths.md)."""

from __future__ import annotations

import functools
import math

import numpy as np

from ravden.core.surface.contact import Cells
from ravden.core.surface.shade import Linear

LOW_DEG, FROM_DEG = 12.0, 20.0  # the lamp: above the panel, and from which side
DULLS = 1.1  # [A] how quickly a place goes dull, per film gone that shows as touched
DULL_LIGHT, SHINE, VEIL = 0.30, 1.2, 0.012  # [ENG]
LEANS, ACROSS, ALONG, BLUR = 0.10, 0.02, 0.25, 0.03  # [ENG] slope that mirrors the lamp, and how wide its glint is
SCRATCH, SCRATCH_MM = 0.05, 0.35  # [A] how much single scratches show, and how wide they are drawn


def dullness(gone_um: Cells, touched_um: float) -> Cells:
    """How dull each place is, 0 shiny to 1 (drawn, A)."""
    return np.asarray(-np.expm1(np.float32(-DULLS / touched_um) * gone_um), dtype=np.float32)


def scratches(shape: tuple[int, int], dx_mm: float, along_deg: float, seed: int) -> Cells:
    """Fine lines in the direction of rubbing, mean 0 and sd about 1."""
    from scipy.ndimage import gaussian_filter1d, rotate

    side = int(1.5 * max(shape)) + 4
    noise = np.random.default_rng(seed).standard_normal((side, side)).astype(np.float32)
    lines = gaussian_filter1d(noise, SCRATCH_MM / dx_mm / 2, axis=0)
    lines = gaussian_filter1d(lines, 40 * SCRATCH_MM / dx_mm, axis=1)
    turned = rotate(lines, along_deg, reshape=False, order=1, mode="reflect")
    top, left = (side - shape[0]) // 2, (side - shape[1]) // 2
    cut = turned[top : top + shape[0], left : left + shape[1]]
    return np.asarray((cut - cut.mean()) / max(float(cut.std()), 1e-6), dtype=np.float32)


def slopes(height_um: Cells, dx_mm: float) -> tuple[Cells, Cells]:
    """Slope of each cell across and upright, by central difference [um/mm = 1e-3]."""
    out = []
    for axis in (1, 0):
        h = np.moveaxis(height_um, axis, -1)
        s = np.empty_like(h)
        s[..., 1:-1] = h[..., 2:] - h[..., :-2]
        s[..., 0], s[..., -1] = 2 * (h[..., 1] - h[..., 0]), 2 * (h[..., -1] - h[..., -2])
        out.append(np.moveaxis(s, -1, axis) * np.float32(1e-3 / (2 * dx_mm)))
    return out[0], out[1]


def raked(
    height_um: Cells, dull: Cells, under: Linear, dx_mm: float, scratched: Cells, *, low_deg: float = LOW_DEG,
    from_deg: float = FROM_DEG, dust: Cells | None = None, dust_colour: tuple[float, float, float] = (0.8, 0.8, 0.78),
) -> Linear:  # fmt: skip
    """What is seen (high, wide, 3).

    .. math:: L = 0.75 (1 - 0.25 D) b + 0.3 D\\,\\frac{\\max(\\sin e - u\\cos e, 0)}{\\sin e}(1 + s D)
        + (1 - D)(1.2\\,e^{-(u+0.1)^2/2a - v^2/2b} + 0.012)

    u, v: slope towards the lamp and across it; D: dullness; s: scratches; dust: how much of it veils each place.
    """
    along, upright = slopes(height_um, dx_mm)
    cos, sin = np.float32(math.cos(math.radians(from_deg))), np.float32(math.sin(math.radians(from_deg)))
    u, v = along * cos + upright * sin, upright * cos - along * sin
    lit = dull * _table(low_deg, 0)[_at(u)] * (1 + np.float32(SCRATCH) * scratched * dull)
    glint = _table(low_deg, 1)[_at(u)] * _table(low_deg, 2)[_at(v)]
    light = lit + (1 - dull) * (glint + np.float32(VEIL))
    keeps = np.float32(0.75) * (1 - np.float32(0.25) * dull)
    if dust is not None:
        keeps *= 1 - dust
        light *= 1 - np.float32(0.6) * dust
    out = under * keeps[..., None] + light[..., None]
    if dust is not None:
        out += dust[..., None] * np.array(dust_colour, dtype=np.float32) * np.float32(0.45)
    return np.asarray(out, dtype=np.float32)


STEEPEST, BINS = 0.4, 8192


def _at(slope: Cells) -> np.ndarray:
    """Where a slope stands in a table."""
    return np.asarray(
        (np.clip(slope, -STEEPEST, STEEPEST) * np.float32((BINS - 1) / (2 * STEEPEST)) + np.float32((BINS - 1) / 2)),
        dtype=np.int16,
    )


@functools.lru_cache(maxsize=96)
def _table(low_deg: float, which: int) -> Cells:
    """By slope: the light of a dull place, and the glint of a shiny one towards the lamp and across it."""
    slope = np.linspace(-STEEPEST, STEEPEST, BINS)
    if which == 0:
        sin, cos = math.sin(math.radians(low_deg)), math.cos(math.radians(low_deg))
        out = DULL_LIGHT * np.maximum(sin - slope * cos, 0) / sin
    elif which == 1:
        out = SHINE * np.exp(-((slope + LEANS) ** 2) / (2 * (ACROSS**2 + BLUR**2 / 2)))
    else:
        out = np.exp(-(slope**2) / (2 * (ALONG**2 + BLUR**2 / 2)))
    return out.astype(np.float32)
