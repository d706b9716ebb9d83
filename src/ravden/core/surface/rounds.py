"""Working a whole panel evenly with a block, as a careful hand does: what `R` does, and what a par is taken from."""

from __future__ import annotations

from collections.abc import Iterator

from ravden.core.surface.block import Face

OVER = 1 / 6  # of the face beyond the edge, every other time


def places(face: Face, size_mm: float) -> tuple[tuple[float, float], ...]:
    """Where the middle of the face stands in one even round: rows that lap, and a little over each edge."""
    return tuple((x, y) for y in _stands(face.high_mm, size_mm) for x in _stands(face.wide_mm, size_mm))


def _stands(side: float, size: float) -> Iterator[float]:
    if side >= size:
        yield size / 2
        return
    n = max(2, -(-round(size) // round(side)))
    first, last = side / 2, size - side / 2
    yield first - OVER * side
    for i in range(n):
        yield first + (last - first) * i / (n - 1)
    yield last + OVER * side
