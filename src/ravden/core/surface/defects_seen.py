"""What goes wrong, as the lamp shows it. HONEST: geometry and the gloss model; DRAWN: the place is right, width and
brightness are not. What is in neither can only be told in words."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ravden.core.errors import InputError
from ravden.core.surface import panel, rake
from ravden.core.surface.block import lanes
from ravden.core.surface.contact import Cells
from ravden.core.surface.lamp import bent, radiance
from ravden.core.surface.shade import Colour, Linear, lit, wood

SMOOTH_UM = 0.008  # [ENG] roughness of a film as it dried, and of one after a fine compound
P2000_UM, COMPOUND_UM, SANDY_UM = 0.31, 0.05, 0.25  # [ENG] Rq after P2000, after a medium compound, of dry spray
ACROSS_MM, GROOVES_MM, RELIEF = 36.0, 72.0, 5.0  # what a picture shows; finger grooves are drawn higher than they are
LOUPE_MM, GROOVE_OF_GRAIN = 2.4, 0.35  # what a loupe shows; how wide a groove is against the grain [A]
GROOVE_UM = 3.0  # [ENG] of a mean 5 um off by fingers alone, in the deepest lane


def _square(wide: int, high: int, make: Callable[[int, float], panel.Floats]) -> Cells:
    """A height made on a square, cut to the picture."""
    dx = ACROSS_MM / wide
    return make(wide, dx)[:high].astype(np.float32)


def _height(kind: str, wide: int, high: int, seed: int) -> Cells:
    """The height of what is honest [um]."""
    dx = ACROSS_MM / wide
    at = (np.arange(wide) + 0.5) * dx
    x, y = np.meshgrid(at, at[:high])
    draw = np.random.default_rng(seed)
    gentle = _square(wide, high, lambda n, d: panel.peel(n, d, 1.0, panel.PEEL_MM, seed))
    if kind == "run":
        hump = _square(wide, high, lambda n, d: panel.run(n, d, 60.0, (ACROSS_MM / 2, at[high // 2]), (2.5, 12.0)))
        return hump + gentle
    if kind == "brush-marks":
        return _turned(_square(wide, wide, lambda n, d: panel.brushed(n, d, 9.0, seed)), 35.0)[:high]
    if kind == "nib":
        out = gentle
        for _ in range(7):
            cx, cy, r = draw.uniform(4, ACROSS_MM - 4), draw.uniform(3, at[high - 1] - 3), draw.uniform(0.35, 0.7)
            out = out + 9 * np.exp(-0.5 * ((x - cx) ** 2 + (y - cy) ** 2) / r**2)
        return np.asarray(out, dtype=np.float32)
    if kind == "fish-eye":
        out = _square(wide, high, lambda n, d: panel.peel(n, d, 3.0, panel.PEEL_MM, seed))
        for _ in range(8):
            cx, cy, r = draw.uniform(5, ACROSS_MM - 5), draw.uniform(4, at[high - 1] - 4), draw.uniform(0.9, 1.5)
            far = np.hypot(x - cx, y - cy) / r
            out = out - 26 * np.exp(-(far**4)) + 7 * np.exp(-8 * (far - 1.35) ** 2)
        return np.asarray(out, dtype=np.float32)
    if kind == "print":
        weave = 0.9 * np.cos(2 * np.pi * x / 1.1) * np.cos(2 * np.pi * y / 1.1)
        return np.asarray(weave, dtype=np.float32) + gentle
    if kind == "wrinkling":
        return _wrinkles(wide, high, seed)
    if kind == "sink-back":
        return _square(wide, high, lambda n, d: panel.pores(n, d, 3.5, seed)) + gentle
    raise InputError("kind", f"there is no picture of {kind}")


def _turned(height: Cells, by_deg: float) -> Cells:
    """What runs along a lamp's tubes or straight across them hardly shows: turned, it does."""
    from scipy.ndimage import rotate

    out = rotate(height, by_deg, reshape=False, order=1, mode="reflect")
    return np.ascontiguousarray(out, dtype=np.float32)


def _wrinkles(wide: int, high: int, seed: int) -> Cells:
    """Skin that crawled: ridges that wander."""
    from scipy.ndimage import gaussian_filter

    dx = ACROSS_MM / wide
    draw = np.random.default_rng(seed)
    wander = gaussian_filter(draw.standard_normal((high, wide)), (3.5 / dx, 5.0 / dx))
    wander *= 1.3 / max(float(wander.std()), 1e-9)
    at = (np.arange(wide) + 0.5) * dx
    return np.asarray(11 * np.sin(2 * np.pi * at[None, :] / 2.4 + 2.2 * wander), dtype=np.float32)


def peel_seen(pv_um: float, base: Colour, wide: int, high: int, seed: int) -> Linear:
    """Orange peel, as it was sprayed, with the lamp at 20 degrees."""
    height = _square(wide, high, lambda n, d: panel.peel(n, d, pv_um, panel.PEEL_MM, seed))
    return film_seen(height, ACROSS_MM / wide, SMOOTH_UM, 20, base)


def film_seen(height_um: Cells, dx_mm: float, rq_um: float, angle_deg: float, base: Colour) -> Linear:
    """A film of this height and roughness with the lamp mirrored in it."""
    high, wide = height_um.shape
    return lit(wood(base, high, wide, dx_mm), bent(rq_um, angle_deg, *rake.slopes(height_um, dx_mm)))


def groove_seen(base: Colour, wide: int, high: int) -> Linear:
    """What fingers leave in a flat film, five times as deep as it is."""
    dx = GROOVES_MM / wide
    y = ((np.arange(wide) + 0.5) * dx - GROOVES_MM / 2)[:, None].astype(np.float32)
    height = _turned(-RELIEF * GROOVE_UM * (lanes(y, 0.0) - 1) * np.ones((1, wide), dtype=np.float32), 30.0)
    return film_seen(np.ascontiguousarray(height[(wide - high) // 2 :][:high]), dx, SMOOTH_UM, 20, base)


def _strokes(wide: int, high: int, lines: list[tuple[panel.Floats, panel.Floats]]) -> Cells:
    """Fine lines over a picture, brightest where they lie across the lamp."""
    out = np.zeros((high, wide))
    for x, y in lines:
        fine = np.linspace(0, len(x) - 1, 40 * len(x))
        px, py = np.interp(fine, np.arange(len(x)), x), np.interp(fine, np.arange(len(y)), y)
        run, rise = np.gradient(px), np.gradient(py)
        bright = (rise / np.maximum(np.hypot(run, rise), 1e-9)) ** 2 * 0.75 + 0.25
        inside = (px >= 0) & (px < wide) & (py >= 0) & (py < high)
        np.maximum.at(out, (py[inside].astype(int), px[inside].astype(int)), bright[inside])
    return out.astype(np.float32)


def _cloud(wide: int, high: int, seed: int, size: float) -> Cells:
    from scipy.ndimage import gaussian_filter

    rough = gaussian_filter(np.random.default_rng(seed).standard_normal((high, wide)), size)
    return np.asarray(np.clip(rough / max(float(rough.std()), 1e-9), 0, 2) / 2, dtype=np.float32)


def _drawn(kind: str, base: Colour, wide: int, high: int, seed: int) -> Linear:
    dx = ACROSS_MM / wide
    under, draw = wood(base, high, wide, dx), np.random.default_rng(seed)
    turn = np.linspace(0, 2 * math.pi, 60)
    if kind == "stray-scratch":
        lines = [(wide * np.array([0.12, 0.5, 0.86]), high * np.array([0.62, 0.5, 0.3]))]
        return lit(under, radiance(P2000_UM, 20, wide, high) + 0.5 * _strokes(wide, high, lines))
    if kind == "pigtails":
        lines = []
        for _ in range(9):
            cx, cy, r = draw.uniform(0.1, 0.9) * wide, draw.uniform(0.1, 0.9) * high, draw.uniform(4, 8)
            curl = turn[: int(draw.uniform(35, 60))] + draw.uniform(0, 6)
            lines.append((cx + (r + curl) * np.cos(curl), cy + (r + curl) * np.sin(curl)))
        return lit(under, radiance(COMPOUND_UM, 20, wide, high) + 0.35 * _strokes(wide, high, lines))
    if kind == "swirl":
        lines = []
        for _ in range(150):
            r, part = draw.uniform(4, 0.6 * wide), turn[: int(draw.uniform(4, 14))] + draw.uniform(0, 6.3)
            cx, cy = wide / 2 + draw.normal(0, 6), high / 2 + draw.normal(0, 6)
            lines.append((cx + r * np.cos(part), cy + r * np.sin(part)))
        near = np.exp(-0.5 * ((np.arange(wide) - wide / 2) / (0.28 * wide)) ** 2)
        return lit(under, radiance(SMOOTH_UM, 20, wide, high) + 0.16 * near * _strokes(wide, high, lines))
    if kind == "witness":
        film = panel.peel(wide, dx, 30.0, (14.0, 40.0), seed)[:high] + 0.25 * (np.arange(high)[:, None] - high / 2)
        ring = np.exp(-0.5 * (((film / 9.0) % 1.0 - 0.5) / 0.05) ** 2)
        return lit(under, radiance(COMPOUND_UM, 60, wide, high) * (1 - 0.25 * ring) + 0.07 * ring)
    if kind == "sand-through":
        return _ring(base, wide, high, seed)
    if kind == "pinholes":
        holes = np.ones((high, wide))
        for _ in range(60):
            row, col = int(draw.uniform(2, high - 2)), int(draw.uniform(2, wide - 2))
            holes[row : row + int(draw.integers(1, 3)), col : col + int(draw.integers(1, 3))] = 0.05
        return lit(under * holes[..., None], radiance(SMOOTH_UM, 20, wide, high) * holes)
    if kind == "blush":
        white = 0.6 * _cloud(wide, high, seed, 0.07 * wide)
        return lit(
            under * (1 - 0.5 * white[..., None]), radiance(SMOOTH_UM, 20, wide, high) * (1 - 0.3 * white) + 0.5 * white
        )
    if kind == "dry-spray":
        height = _square(wide, high, lambda n, d: panel.peel(n, d, 6.0, (0.6, 1.8), seed))
        slopes = rake.slopes(height, dx)
        along = np.abs(np.arange(wide) / wide - 0.62) + 0.1 * _cloud(wide, high, seed, 8)
        dull = np.clip(1.25 - 5 * along, 0, 1)
        smooth = _square(wide, high, lambda n, d: panel.peel(n, d, 3.0, panel.PEEL_MM, seed))
        sharp = bent(SMOOTH_UM, 20, *rake.slopes(smooth, dx))
        return lit(under, sharp * (1 - dull) + dull * (bent(SANDY_UM, 20, *slopes) + 0.06))
    if kind == "checking":
        lines, y = [], 4.0
        while y < high:
            x = np.linspace(draw.uniform(0, 0.3) * wide, draw.uniform(0.6, 1.0) * wide, 14)
            lines.append((x, y + np.cumsum(draw.normal(0, 0.9, len(x)))))
            y += draw.uniform(6, 14)
        crack = _strokes(wide, high, lines) > 0
        light = radiance(SMOOTH_UM, 20, wide, high)
        return lit(under * np.where(crack, 0.45, 1.0)[..., None], np.where(crack, 0.35 * light + 0.05, light))
    raise InputError("kind", f"there is no picture of {kind}")


def _ring(base: Colour, wide: int, high: int, seed: int) -> Linear:
    """A dull film worn through in the middle: wood, with the edge of the film around it."""
    dx = ACROSS_MM / wide
    x, y = np.meshgrid(np.arange(wide) - 0.5 * wide, np.arange(high) - 0.52 * high)
    far = np.hypot(x / (0.17 * wide), y / (0.2 * high)) + 0.12 * _cloud(wide, high, seed, 9)
    bare = np.clip(8 * (1 - far), 0, 1).astype(np.float32)
    edge = np.exp(-0.5 * ((far - 1.05) / 0.07) ** 2).astype(np.float32)
    flat = np.zeros((high, wide), dtype=np.float32)
    dull = rake.raked(flat, flat + 1, wood(base, high, wide, dx), dx, rake.scratches((high, wide), dx, 12.0, seed))
    raw = np.array(base, dtype=np.float32) * np.float32(1.7) + np.array([0.12, 0.07, 0.02], dtype=np.float32)
    return np.asarray(
        (dull * (1 - bare)[..., None] + raw * bare[..., None]) * (1 - 0.55 * edge)[..., None], dtype=np.float32
    )


def loupe_seen(grain_um: float, base: Colour, wide: int, high: int, seed: int) -> Linear:
    """Scratches of a paper under a loupe, 2.4 mm across: how wide and how many against another paper's (A)."""
    from scipy.ndimage import gaussian_filter, rotate

    um = 1000 * LOUPE_MM / wide
    side, most = int(1.2 * wide), np.zeros((high, wide))
    for i, lean in enumerate((-9.0, -3.0, 2.0, 8.0)):
        noise = np.random.default_rng(seed + i).standard_normal((side, side))
        lines = gaussian_filter(noise, (GROOVE_OF_GRAIN * grain_um / um, 40))
        lines = rotate(lines, lean, reshape=False, order=1, mode="reflect")[(side - high) // 2 :][:high]
        lines = lines[:, (side - wide) // 2 :][:, :wide]
        most = np.maximum(most, lines / max(float(lines.std()), 1e-9))
    deep = min(grain_um / 35.0, 1.2)
    even = np.broadcast_to(np.array(base, dtype=np.float32), (high, wide, 3))
    return lit(even, 0.55 * deep * np.clip(most - 1.3, 0, 1.2))


HONEST = ("orange-peel", "brush-marks", "run", "nib", "fish-eye", "print", "wrinkling", "sink-back", "grooves")
DRAWN = (
    "stray-scratch", "pigtails", "swirl", "witness", "sand-through", "pinholes", "blush", "dry-spray", "checking",
)  # fmt: skip
PEEL_UM = 18.0


def defect_seen(kind: str, base: Colour, wide: int, high: int, seed: int) -> Linear:
    """A picture of a defect (high, wide, 3). Raises InputError where there can be none."""
    if kind in DRAWN:
        return _drawn(kind, base, wide, high, seed)
    if kind == "orange-peel":
        return peel_seen(PEEL_UM, base, wide, high, seed)
    if kind == "grooves":
        return groove_seen(base, wide, high)
    return film_seen(_height(kind, wide, high, seed), ACROSS_MM / wide, SMOOTH_UM, 20, base)
