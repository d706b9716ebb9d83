"""Working a whole panel evenly with a block, as a careful hand does: what `R` does, and what a par is taken from."""

from __future__ import annotations

from ravden.core.surface.block import LANES_MM, Face

OVER = 0.03  # [A] of the face beyond an edge: less leaves a rim, more rounds it


def places(face: Face, wide_mm: float, high_mm: float) -> tuple[tuple[float, float], ...]:
    """Where the middle of the face stands in one even round: rows that lap, and a little over each edge. Fingers go up
    and down in their own lanes."""
    along = _lanes if face.lanes else _stands
    across = along(face.wide_mm, wide_mm)
    return tuple((x, y) for y in along(face.high_mm, high_mm) for x in across)


def _lanes(side: float, size: float) -> tuple[float, ...]:
    """Along the fingers one beside the other; across them, in steps of a lane."""
    step = LANES_MM if side > LANES_MM else side
    return tuple((i + 0.5) * step for i in range(max(1, round(size / step))))


def _stands(side: float, size: float) -> tuple[float, ...]:
    if side >= size:
        return (size / 2,)
    n = max(2, -(-round(size) // round(side)))
    first, last = side / 2, size - side / 2
    between = (first + (last - first) * i / (n - 1) for i in range(n))
    return (first - OVER * side, *between, last + OVER * side)
