"""Paints a film through time: one column a moment, colour by softness at each depth, plan paler than past."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage

from ravden.ui.theme.palette import Palette, ramp_index, ramp_table, rgb

if TYPE_CHECKING:
    from ravden.core.plan.outlook import FilmTimeline

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
    depth_um = (np.arange(height)[::-1] + 0.5) * (top_um / height)
    depths = margin.shape[1]
    with np.errstate(divide="ignore", invalid="ignore"):
        at = np.where(film > 0, 1.0 / np.maximum(film, 1e-9), 0.0)
    index = np.minimum((depth_um[:, None] * at[None, :] * depths).astype(np.intp), depths - 1)
    colours = ramp_table(palette)[ramp_index(margin)]
    pixels = np.empty((height, len(hours), 4), dtype=np.uint8)
    rows = colours[np.arange(len(hours))[None, :], index]
    ahead = hours > now_h
    if ahead.any():
        paper = np.array(rgb(palette.panel), dtype=float)
        rows = rows.astype(np.uint8).copy()
        rows[:, ahead] = (rows[:, ahead] * (1 - PLAN_PALE) + paper * PLAN_PALE).astype(np.uint8)
    pixels[..., 0], pixels[..., 1], pixels[..., 2] = rows[..., 2], rows[..., 1], rows[..., 0]
    inside = (depth_um[:, None] <= film[None, :]) & (film > 0)[None, :]
    pixels[..., 3] = np.where(inside, 255, 0)
    image = QImage(pixels.tobytes(), len(hours), height, 4 * len(hours), QImage.Format.Format_ARGB32)
    return image.copy()
