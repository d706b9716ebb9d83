"""A block, pad or finger moved over a panel: where its face bears, how it tips over an edge, what a stroke takes.

The face finds its plane from load and balance about its middle; only cells under the face and on the panel can touch.
How the backing bends is kept in the panel's frame, so that a move begins from what was found before it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from msgspec import Struct

from ravden.core.errors import need_above
from ravden.core.surface.contact import Cells, Rubbing, give, step_bin

RIM_MM = 6.0  # of panel looked at around the face
MOST_TILT = 2.0  # [um/mm] a step of finding the plane
PLANE_STEPS = 12
LANES_MM, LANE_SIGMA_MM, LANE_SHIFT_MM, LANE_TURN = 20.0, 5.0, 3.0, 0.37  # [ENG] fingers side by side, which wander
STEP_G = 0.12


class Face(Struct, frozen=True, kw_only=True):
    """What is held: along and across [mm], and whether fingers press it in lanes, side by side along its long side."""

    wide_mm: float
    high_mm: float
    lanes: bool = False

    def __post_init__(self) -> None:
        need_above(self.wide_mm, 0, "wide_mm", 200)
        need_above(self.high_mm, 0, "high_mm", 200)

    @property
    def area_mm2(self) -> float:
        return self.wide_mm * self.high_mm

    def turned(self) -> Face:
        """The other way round."""
        return Face(wide_mm=self.high_mm, high_mm=self.wide_mm, lanes=self.lanes)


class BlockWork:
    """A panel worked with a block.

    height_um, film_um: of each cell, taken down in place; gone_um: what was taken off; volume_um_mm2: all of it.
    """

    def __init__(self, height_um: Cells, film_um: Cells, dx_mm: float) -> None:
        self.height_um, self.film_um, self.dx_mm = height_um, film_um, dx_mm
        self.gone_um = np.zeros_like(height_um)
        self._bend = np.zeros_like(height_um)
        self.volume_um_mm2 = 0.0
        self.touching = 0.0  # share of the face that bears, at the last stroke
        self._plane: tuple[float, float, float] | None = None
        self._strokes = 0.0

    def move(
        self,
        rubbing: Rubbing,
        face: Face,
        load_kPa: float,
        at_mm: tuple[float, float],
        slide_m: float,
        strokes: float = 1.0,
    ) -> float:
        """Slide the block, its middle at a place; returns the volume it took [um mm2]. strokes: how many this is, by
        which the lanes of fingers wander."""
        g = rubbing.kappa * rubbing.kp * slide_m
        steps = max(1, math.ceil(g / STEP_G))
        self._strokes += strokes
        return sum(self._step(rubbing, face, load_kPa, at_mm, g / steps) for _ in range(steps))

    def _step(self, rubbing: Rubbing, face: Face, load_kPa: float, at_mm: tuple[float, float], g: float) -> float:
        from scipy.fft import irfft2, next_fast_len, rfft2

        high, wide = self.height_um.shape
        dx = self.dx_mm
        ys, xs = _span(at_mm[1], face.high_mm, dx, high), _span(at_mm[0], face.wide_mm, dx, wide)
        if ys.stop <= ys.start or xs.stop <= xs.start:
            return 0.0
        shape = tuple(
            next_fast_len(math.ceil((side + 2 * RIM_MM) / dx), real=True) for side in (face.high_mm, face.wide_mm)
        )
        top = round(at_mm[1] / dx - shape[0] / 2), round(at_mm[0] / dx - shape[1] / 2)
        lp = give(rubbing, (shape[0], shape[1]), dx, step_bin(g))
        whole = -math.expm1(-g)
        load = load_kPa / rubbing.kp * g / whole * face.area_mm2 / dx**2
        seen = slice(max(top[0], 0), min(top[0] + shape[0], high)), slice(max(top[1], 0), min(top[1] + shape[1], wide))
        inside = tuple(slice(s.start - t, s.stop - t) for s, t in zip(seen, top, strict=True))
        under = slice(ys.start - top[0], ys.stop - top[0]), slice(xs.start - top[1], xs.stop - top[1])
        x = ((np.arange(xs.start, xs.stop) + 0.5) * dx - at_mm[0]).astype(np.float32)[None, :]
        y = ((np.arange(ys.start, ys.stop) + 0.5) * dx - at_mm[1]).astype(np.float32)[:, None]
        height = self.height_um[ys, xs]
        for _ in range(rubbing.iterations):
            window = np.zeros(shape, dtype=np.float32)
            window[inside] = self._bend[seen]
            window[under] += self._dents(height - self._bend[ys, xs], x, y, load)
            bend = irfft2(lp * rfft2(window), s=shape)
            self._bend[seen] = bend[inside]
        dents = self._dents(height - self._bend[ys, xs], x, y, load)
        self.touching = float(np.count_nonzero(dents)) * dx**2 / face.area_mm2
        takes = dents * np.float32(whole)
        if face.lanes:
            takes *= lanes(x if face.wide_mm > face.high_mm else y, wander(self._strokes))
        np.minimum(takes, self.film_um[ys, xs], out=takes)
        height -= takes
        self.film_um[ys, xs] -= takes
        self.gone_um[ys, xs] += takes
        volume = float(takes.sum(dtype=np.float64)) * dx**2
        self.volume_um_mm2 += volume
        return volume

    def _dents(self, above: Cells, x: Cells, y: Cells, load: float) -> Cells:
        """How far each cell under the face dents the paper: the plane is turned until load and balance hold."""
        z, bx, by = self._plane or (float(above.max()) - 0.5 * load / above.size, 0.0, 0.0)
        arm = max(float(np.ptp(x)), float(np.ptp(y)), 1.0) / 2
        for _ in range(PLANE_STEPS):
            over = np.maximum(above - (np.float32(z) + np.float32(bx) * x + np.float32(by) * y), 0)
            on = (over > 0).astype(np.float32)
            rows, cols = on.sum(axis=1), on.sum(axis=0)
            n = float(rows.sum())
            if n < 3:
                z = float((above - np.float32(bx) * x - np.float32(by) * y).max()) - max(load / above.size, 1e-3)
                continue
            xs, ys = x[0], y[:, 0]
            sx, sy = float(cols @ xs), float(rows @ ys)
            sxx, syy, sxy = float(cols @ xs**2), float(rows @ ys**2), float(ys @ on @ xs)
            in_rows, in_cols = over.sum(axis=1), over.sum(axis=0)
            off = np.array([float(in_rows.sum()) - load, float(in_cols @ xs), float(in_rows @ ys)])
            if abs(off[0]) < 1e-4 * load and abs(off[1]) + abs(off[2]) < 1e-4 * load * arm:
                break
            matrix = np.array([[n, sx, sy], [sx, sxx, sxy], [sy, sxy, syy]]) + np.diag([0, 1e-6 * n, 1e-6 * n])
            dz, dbx, dby = np.linalg.solve(matrix, off)
            z += float(dz)
            bx += float(np.clip(dbx, -MOST_TILT, MOST_TILT))
            by += float(np.clip(dby, -MOST_TILT, MOST_TILT))
        self._plane = z, bx, by
        return np.maximum(above - (np.float32(z) + np.float32(bx) * x + np.float32(by) * y), 0)


def wander(strokes: float) -> float:
    """How far the fingers have strayed after so many strokes [mm]."""
    return LANE_SHIFT_MM * math.sin(LANE_TURN * strokes)


def lanes(across_mm: Cells, wander_mm: float) -> Cells:
    """How unevenly fingers side by side press, 1 in the mean [-]: across the stroke, from the middle."""
    half = int(np.abs(across_mm).max() // LANES_MM) + 1
    bumps = sum(
        np.exp(-0.5 * ((across_mm - wander_mm - LANES_MM * i) / LANE_SIGMA_MM) ** 2) for i in range(-half, half + 1)
    )
    return np.asarray(bumps / np.mean(bumps), dtype=np.float32)


def _span(at_mm: float, side_mm: float, dx_mm: float, cells: int) -> slice:
    """The cells of a panel that lie under a side of a face."""
    low, high = round((at_mm - side_mm / 2) / dx_mm), round((at_mm + side_mm / 2) / dx_mm)
    return slice(max(low, 0), max(0, min(high, cells)))


def moves(
    start_mm: tuple[float, float], end_mm: tuple[float, float], face: Face
) -> Iterator[tuple[tuple[float, float], float]]:
    """A move cut up into places no further apart than half the short side of the face: each with its share of the
    way [mm]."""
    far = math.dist(start_mm, end_mm)
    parts = max(1, math.ceil(far / (min(face.wide_mm, face.high_mm) / 2)))
    for i in range(parts):
        along = (i + 0.5) / parts
        at = tuple(a + along * (b - a) for a, b in zip(start_mm, end_mm, strict=True))
        yield (at[0], at[1]), far / parts
