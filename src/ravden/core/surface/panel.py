"""Practice panels: a texture on a film, as it comes off the gun or the brush, or as an edge is (docs/maths.md)."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ravden.core.errors import need, need_above, need_in
from ravden.core.surface.contact import Cells

Floats = NDArray[np.float64]
SIZE_MM = 90.0
CELLS, FEW_CELLS = 384, 256
PEEL_MM = (1.5, 5.0)  # [ENG] orange peel, shortest and longest wave
UNEVEN_CV, UNEVEN_MM = 0.05, 60.0  # [ENG] film from place to place of a zone, and over what distance
BRUSH_MM, BRUSH_LONG = 2.2, 25.0  # [A] from ridge to ridge of brush marks, and how much longer than wide they are
PORE_MM, PORE_LONG, PORES_CM2, PORE_DEEP = (
    0.25,
    6.0,
    6.0,
    0.6,
)  # [A] sunk pores: width, length over width, how many, of PV
EDGE_THIN, EDGE_MM = 0.45, 1.5  # [ENG] film missing at an arris, and how far in
FAT_UM, FAT_AT_MM, FAT_MM = 8.0, 5.0, 1.2  # [ENG] the fat line beside it
EASED_MM = 3.0  # [ENG] radius of the arris


class Panel(Struct, frozen=True, kw_only=True, eq=False):
    """height_um, film_um: of each cell, upright then across; dx_mm: of a cell; floor_um: the least film wanted."""

    height_um: Cells
    film_um: Cells
    dx_mm: float
    floor_um: float
    seed: int


def peak_to_valley_um(height_um: Floats | Cells) -> float:
    """From the 0.5 to the 99.5 percentile, which single cells do not move [um]."""
    low, high = np.percentile(height_um, (0.5, 99.5))
    return float(high - low)


def peel(cells: int, dx_mm: float, pv_um: float, between_mm: tuple[float, float], seed: int) -> Floats:
    """Orange peel: noise of wavelengths between two, scaled to its peak to valley [um]."""
    short, long = between_mm
    need(0 < short < long, "lambda_mm", "the shorter wave first")
    f = np.hypot(np.fft.fftfreq(cells, dx_mm)[:, None], np.fft.rfftfreq(cells, dx_mm)[None, :])
    passes = np.exp(-0.5 * ((f - 0.5 * (1 / short + 1 / long)) / (0.3 * (1 / short - 1 / long))) ** 2)
    passes[0, 0] = 0.0
    noise = np.random.default_rng(seed).standard_normal((cells, cells))
    return _scaled(np.fft.irfft2(passes * np.fft.rfft2(noise), s=(cells, cells)), pv_um)


def brushed(cells: int, dx_mm: float, pv_um: float, seed: int) -> Floats:
    """Brush marks along the panel."""
    from scipy.ndimage import gaussian_filter

    noise = np.random.default_rng(seed).standard_normal((cells, cells))
    across = BRUSH_MM / 4 / dx_mm
    marks = gaussian_filter(noise, (across, BRUSH_LONG * across), mode="wrap")
    return _scaled(marks - gaussian_filter(marks, (4 * across, 0), mode="wrap"), pv_um)


def pores(cells: int, dx_mm: float, deep_um: float, seed: int) -> Floats:
    """Lines the film has sunk into, along the grain [um, below 0]."""
    need_in(deep_um, 0, 500, "deep_um")
    draw = np.random.default_rng(seed + 1)
    size, out = cells * dx_mm, np.zeros((cells, cells))
    at = (np.arange(cells) + 0.5) * dx_mm
    for _ in range(round(PORES_CM2 * (size / 10) ** 2)):
        x, y, long = draw.uniform(0, size), draw.uniform(0, size), PORE_LONG * PORE_MM * draw.uniform(0.5, 1.5)
        rows = slice(*np.searchsorted(at, (y - 3 * PORE_MM, y + 3 * PORE_MM)))
        cols = slice(*np.searchsorted(at, (x - 3 * long, x + 3 * long)))
        dent = np.outer(np.exp(-0.5 * ((at[rows] - y) / PORE_MM) ** 2), np.exp(-0.5 * ((at[cols] - x) / long) ** 2))
        out[rows, cols] = np.minimum(out[rows, cols], -deep_um * dent)
    return out


def run(cells: int, dx_mm: float, height_um: float, at_mm: tuple[float, float], half_mm: tuple[float, float]) -> Floats:
    """A run: a hump, told by the sigmas of its sides [mm]."""
    at = np.arange(cells) * dx_mm
    across = np.exp(-0.5 * ((at - at_mm[0]) / half_mm[0]) ** 2)
    return np.asarray(height_um * np.outer(np.exp(-0.5 * ((at - at_mm[1]) / half_mm[1]) ** 2), across))


def wave(cells: int, dx_mm: float, a_um: float, lambda_mm: tuple[float, float]) -> Floats:
    """A wave across and upright [um]; a length of 0: not in that direction."""
    at = 2 * np.pi * np.arange(cells) * dx_mm
    turn = [at / length if length > 0 else np.zeros(cells) for length in lambda_mm]
    return np.asarray(a_um * np.cos(turn[0][None, :] + turn[1][:, None]))


def uneven(cells: int, dx_mm: float, seed: int, cv: float = UNEVEN_CV) -> Floats:
    """Film from place to place against its mean [-]."""
    from scipy.ndimage import gaussian_filter, zoom

    few = max(8, round(cells * dx_mm / 5))
    rough = gaussian_filter(
        np.random.default_rng(seed + 2).standard_normal((few, few)), UNEVEN_MM / 4 / (cells * dx_mm / few)
    )
    smooth = zoom(rough, cells / few, order=1)[:cells, :cells]
    return np.asarray(1 + cv * (smooth - smooth.mean()) / max(float(smooth.std()), 1e-12))


def made(
    *, film_um: float, film_sd_um: float, floor_um: float, pv_um: float, seed: int, cells: int = CELLS,
    brush: bool = False, pored: bool = False, edge: bool = False, run_um: float = 0.0,
) -> Panel:  # fmt: skip
    """A panel to practise on. The film is drawn once from what is known of it, and is uneven besides; edge: its left
    side is an arris."""
    need_above(film_um, 0, "film_um", 5000)
    dx = SIZE_MM / cells
    height = np.zeros((cells, cells))
    if pv_um > 0:
        height += brushed(cells, dx, pv_um, seed) if brush else peel(cells, dx, pv_um, PEEL_MM, seed)
    if pored:
        height += pores(cells, dx, PORE_DEEP * max(pv_um, 5.0), seed)
    if run_um > 0:
        height += run(cells, dx, run_um, (SIZE_MM / 2, SIZE_MM / 2), (2.5, 12.0))
    drawn = max(float(np.random.default_rng(seed + 3).normal(film_um, film_sd_um)), 0.2 * film_um)
    film = drawn * uneven(cells, dx, seed)
    if edge:
        x = (np.arange(cells) + 0.5) * dx
        film *= 1 - EDGE_THIN * np.exp(-x / EDGE_MM)
        fat = FAT_UM * np.exp(-0.5 * ((x - FAT_AT_MM) / FAT_MM) ** 2)
        height += fat
        film += fat
        height[:, x < EASED_MM] -= 1000 * (EASED_MM - x[x < EASED_MM]) ** 2 / (2 * EASED_MM)
    film = np.maximum(film + height - height.mean() if not edge else film, 0.5)
    return Panel(
        height_um=height.astype(np.float32), film_um=film.astype(np.float32), dx_mm=dx, floor_um=floor_um, seed=seed
    )


def _scaled(noise: Floats, pv_um: float) -> Floats:
    need_in(pv_um, 0, 1000, "pv_um", "um")
    centred = noise - noise.mean()
    return np.asarray(centred * (pv_um / max(peak_to_valley_um(centred), 1e-12)))
