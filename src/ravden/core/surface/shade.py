"""Light and wood into what a screen shows."""

from __future__ import annotations

import functools
import zlib

import numpy as np
from numpy.typing import NDArray

Linear = NDArray[np.float32]  # light in red, green and blue, 1: a perfect film's lamp at its brightest
Pixels = NDArray[np.uint8]
Colour = tuple[float, float, float]
GRAIN, GRAIN_MM = 0.13, 2.2  # [ENG] how faint the wood's grain is, and how wide its bands
LAMP_WHITE = 0.92  # [ENG] a perfect film's lamp, which pictures are exposed for
LAMP: Colour = (1.0, 0.98, 0.94)
STEPS = 4096


def wood(base: Colour, high: int, wide: int, dx_mm: float) -> Linear:
    """Wood under the film in even light, its grain running across (high, wide, 3)."""
    bands = np.random.default_rng(zlib.crc32(repr(base).encode())).normal(size=int(high * dx_mm / GRAIN_MM) + 3)
    grain = np.interp(np.arange(high) * dx_mm / GRAIN_MM, np.arange(len(bands)), bands)
    rows = (np.array(base) * (1 + GRAIN * grain)[:, None]).astype(np.float32)
    return np.ascontiguousarray(np.broadcast_to(rows[:, None, :], (high, wide, 3)))


def lit(under: NDArray[np.floating], light: NDArray[np.floating]) -> Linear:
    """A lamp's light mirrored over what is under it."""
    return np.asarray(under + (LAMP_WHITE * light[..., None] * np.array(LAMP)), dtype=np.float32)


@functools.cache
def _table() -> Pixels:
    linear = np.arange(STEPS) / (STEPS - 1)
    shown = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    return (255 * shown + 0.5).astype(np.uint8)


def pixels(linear: Linear) -> Pixels:
    """As a screen shows it, by table [STD sRGB]."""
    at = np.clip(linear, 0.0, 1.0) * np.float32(STEPS - 1)
    return np.ascontiguousarray(_table()[(at + np.float32(0.5)).astype(np.int16)])
