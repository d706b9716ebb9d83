"""Photos of one panel laid over each other: four corners make it square, small shifts of the camera are found."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ravden.core.errors import InputError, need_above
from ravden.core.surface.contact import Cells

Floats = NDArray[np.float64]
Points = tuple[tuple[float, float], ...]
PX_MM = 4.0  # what a panel is brought to
EDGES_PX, CLIPPED = 1.2, 4.0  # how far an edge is smoothed, and the steepest one that counts, in mean slopes
DARK = 0.003  # added to light before its logarithm
LEAST_ANGLE = 20.0  # corners narrower than this are no panel


def homography(size_mm: tuple[float, float], corners_px: Points) -> Floats:
    """Where each place of a panel [mm] is in a photo [px]: 3 x 3, by the eight equations of its four corners.

    corners_px: top left, top right, bottom right, bottom left. Raises InputError where they cross, or make no panel.

    >>> square = homography((10, 10), ((0, 0), (20, 0), (20, 20), (0, 20)))
    >>> [round(float(v), 6) for v in (square @ [5, 5, 1])[:2]]
    [10.0, 10.0]
    """
    need_above(size_mm[0], 0, "size_mm", 5000)
    need_above(size_mm[1], 0, "size_mm", 5000)
    _convex(corners_px)
    w, h = size_mm
    rows, right = [], []
    for (x, y), (u, v) in zip(((0, 0), (w, 0), (w, h), (0, h)), corners_px, strict=True):
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y])
        right += [u, v]
    found = np.linalg.solve(np.array(rows, dtype=float), np.array(right, dtype=float))
    return np.append(found, 1.0).reshape(3, 3)


def _convex(corners: Points) -> None:
    """Refuse corners that cross or stand in another order."""
    if len(corners) != 4 or not all(math.isfinite(c) for p in corners for c in p):
        raise InputError("corners_px", "four corners are needed: top left, top right, bottom right, bottom left")
    for i in range(4):
        (ax, ay), (bx, by), (cx, cy) = corners[i], corners[(i + 1) % 4], corners[(i + 2) % 4]
        turn = (bx - ax) * (cy - by) - (by - ay) * (cx - bx)
        sides = math.hypot(bx - ax, by - ay) * math.hypot(cx - bx, cy - by)
        if sides <= 0 or turn < math.sin(math.radians(LEAST_ANGLE)) * sides:
            raise InputError(
                "corners_px", "the corners cross: top left, top right, bottom right, bottom left, in this order"
            )


def px_per_mm(size_mm: tuple[float, float], corners_px: Points) -> float:
    """How finely a photo shows the panel: of its coarsest side [px/mm]."""
    sides = (size_mm[0], size_mm[1], size_mm[0], size_mm[1])
    return min(math.dist(corners_px[i], corners_px[(i + 1) % 4]) / side for i, side in enumerate(sides))


def squared(light: Cells, matrix: Floats, size_mm: tuple[float, float]) -> Cells:
    """The panel alone, seen from above at PX_MM, out of a photo's light; nan where the photo does not show it."""
    from scipy.ndimage import map_coordinates

    wide, high = (round(side * PX_MM) for side in size_mm)
    x = (np.arange(wide) + 0.5) / PX_MM
    y = (np.arange(high) + 0.5) / PX_MM
    grid = np.stack(np.broadcast_arrays(x[None, :], y[:, None], np.ones((1, 1))), axis=0).reshape(3, -1)
    u, v, w = matrix @ grid
    out = map_coordinates(light, np.stack([v / w, u / w]), order=1, cval=np.nan, mode="constant")
    return np.asarray(out.reshape(high, wide), dtype=np.float32)


def edges(light: Cells) -> Cells:
    """What two photos under other lamps have in common: where it changes, whichever way."""
    from scipy.ndimage import gaussian_gradient_magnitude

    steep = gaussian_gradient_magnitude(np.log(np.maximum(light, 0) + DARK), EDGES_PX)
    return np.asarray(np.minimum(steep, CLIPPED * float(steep.mean())), dtype=np.float32)


def shift_px(first: Cells, other: Cells) -> tuple[float, float]:
    """How far the other has to be moved to lie over the first: rows, columns [px, to about a tenth].

    Plain cross-correlation of both under a window, its peak by a parabola.
    """
    from scipy.fft import irfft2, rfft2

    window = np.outer(*(np.hanning(n + 2)[1:-1] for n in first.shape))
    a, b = ((one - one.mean()) * window for one in (first, other))
    shape = tuple(2 * n for n in first.shape)
    found = irfft2(rfft2(a, shape) * np.conj(rfft2(b, shape)), shape)
    # Two windows overlap less the farther they are moved: that is no reason to move them less.
    common = irfft2(np.abs(rfft2(window, shape)) ** 2, shape)
    far = common > 0.2 * common.max()
    found = np.where(far, found / np.maximum(common, 1e-12), -np.inf)
    row, col = np.unravel_index(int(np.argmax(found)), shape)
    out = []
    for axis, at in enumerate((int(row), int(col))):
        n = shape[axis]
        near = [found[(at + d) % n, col] if axis == 0 else found[row, (at + d) % n] for d in (-1, 0, 1)]
        bend = near[0] - 2 * near[1] + near[2]
        part = 0.5 * (near[0] - near[2]) / bend if math.isfinite(bend) and bend < 0 else 0.0
        out.append(float((at if at <= n // 2 else at - n) + part))
    return out[0], out[1]


def moved(light: Cells, by_px: tuple[float, float]) -> Cells:
    """Moved by rows and columns; nan where nothing was."""
    from scipy.ndimage import shift

    return np.asarray(shift(light, by_px, order=1, cval=np.nan), dtype=np.float32)
