"""Paints a film through time: one column a moment, colour by softness at each depth, plan paler than past."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage

from ravden.ui.theme.palette import Palette, ramp_index, ramp_table, rgb

if TYPE_CHECKING:
    from ravden.core.ahead.timeline import FilmTimeline

PLAN_PALE = 0.52  # share of the background mixed into what is only planned


def film_image(
    line: FilmTimeline, hours: NDArray[np.float64], height: int, top_um: float, now_h: float, palette: Palette
) -> QImage:
    """An image of len(hours) by height pixels, transparent above the film; hours: the moment of every column."""
    film = np.interp(hours, line.hours, line.film_um, left=0.0, right=float(line.film_um[-1]))
    before = hours < line.hours[0]
    film[before] = 0.0
    # Softness at a column: between its two samples, weighed by time, except across an event where the film jumps.
    upper = np.clip(np.searchsorted(line.hours, hours), 1, len(line.hours) - 1)
    lower = upper - 1
    span = np.maximum(line.hours[upper] - line.hours[lower], 1e-9)
    share = np.clip((hours - line.hours[lower]) / span, 0, 1)[:, None]
    margins = np.nan_to_num(line.margin_K, nan=-70.0)
    margin = margins[lower] * (1 - share) + margins[upper] * share
    # Colours are worked out once for each column and depth, and only looked up for each pixel.
    depths = margin.shape[1]
    colours = ramp_table(palette)[ramp_index(margin)].astype(np.float64)
    ahead = hours > now_h
    if ahead.any():
        paper = np.array(rgb(palette.panel), dtype=float)
        colours[ahead] = colours[ahead] * (1 - PLAN_PALE) + paper * PLAN_PALE
    red, green, blue = (colours[..., i].astype(np.uint32) for i in range(3))
    packed = (0xFF000000 + (red << 16) + (green << 8) + blue).astype(np.uint32)
    packed = np.column_stack([packed, np.zeros(len(hours), dtype=np.uint32)])  # one past the top: nothing
    height_um = (np.arange(height, dtype=np.float32)[::-1] + 0.5) * np.float32(top_um / height)
    per_um = np.where(film > 0, depths / np.maximum(film, 1e-9), 1e9).astype(np.float32)
    level = np.minimum(height_um[:, None] * per_um[None, :], np.float32(depths)).astype(np.int32)
    level += np.arange(len(hours), dtype=np.int32)[None, :] * (depths + 1)
    pixels = np.take(packed, level)
    image = QImage(pixels.data, len(hours), height, 4 * len(hours), QImage.Format.Format_ARGB32)
    return image.copy()
