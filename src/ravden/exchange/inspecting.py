"""Two or three photos of one panel under other lamps: read, laid over each other, and looked at by the fixed rule."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
from msgspec import Struct

from ravden.core.errors import InputError, need, need_in
from ravden.core.surface import align
from ravden.core.surface.align import PX_MM, Points
from ravden.core.surface.contact import Cells
from ravden.core.surface.look import Look, looked_at
from ravden.exchange.photo import Photo, for_panel
from ravden.text.say import say

LAMPS = ("low", "low-other", "broad")
LEAST_PX_MM = 2.5
CLIPPED_AT, CLIPPED_MOST = 252, 0.05
DARK_Y, DARK_PERCENTILE = 0.02, 90
MOST_SHIFT_MM, LEAST_ALIKE = 3.0, 0.04
MISSING_MOST = 0.02
MOST_SIDE_MM = 600.0
ALIGNED_PX = 1200  # of the middle, by which photos are laid over each other


class Shot(Struct, frozen=True, kw_only=True):
    """A photo, and where its lamp was: low from one side, low from another, or broad."""

    path: Path
    lamp: str

    def __post_init__(self) -> None:
        need(self.lamp in LAMPS, "lamp", f"must be one of {', '.join(LAMPS)} (got {self.lamp})")


class Seen(Struct, frozen=True, kw_only=True, eq=False):
    """A shot as it lies over the first: its light, how finely it shows the panel, how far it was moved [px of 1/4 mm],
    the share that is burnt out, and why it is not used, if it is not."""

    shot: Shot
    sha256: str
    light: Cells | None
    colour: np.ndarray | None
    px_per_mm: float
    shift_px: tuple[float, float] = (0.0, 0.0)
    clipped: float = 0.0
    refused: str = ""


class Inspected(Struct, frozen=True, kw_only=True, eq=False):
    """Every shot, and what the rule makes of three of them; why: what stands against a look."""

    shots: tuple[Seen, ...]
    look: Look | None
    why: tuple[str, ...]


def inspect(
    shots: Sequence[Shot], corners_px: Points, size_mm: tuple[float, float],
    untouched_mm: tuple[float, float, float, float] | None = None, go_on: Callable[[], bool] = lambda: True,
) -> Inspected:  # fmt: skip
    """Look at a panel. corners_px: of the first photo, upright, in its own pixels; go_on: asked between photos.

    Raises InputError where the case itself cannot be; a photo that cannot be used is told in its place.
    """
    need(2 <= len(shots) <= 3, "shots", f"two or three are needed (got {len(shots)})")
    lamps = [s.lamp for s in shots]
    need(len(set(lamps)) == len(lamps), "shots", "each must have another lamp")
    for side, name in zip(size_mm, ("wide", "high"), strict=True):
        need_in(side, 10, MOST_SIDE_MM, "size_mm", f"mm {name}")
    matrix = align.homography(size_mm, corners_px)
    fine = align.px_per_mm(size_mm, corners_px)
    need_in(fine * max(size_mm), 20, 40_000, "corners_px", "px")
    seen: list[Seen] = []
    for shot in shots:
        if not go_on():
            raise InputError("", "the look was left")
        seen.append(_one(shot, seen, matrix, corners_px, size_mm, fine))
    used = {s.shot.lamp: s for s in seen if s.light is not None and not s.refused}
    why = [f"{s.shot.path.name} {s.refused}" for s in seen if s.refused]
    look = None
    if all(lamp in used for lamp in LAMPS):
        lights = [used[lamp].light for lamp in LAMPS]
        assert lights[0] is not None and lights[1] is not None and lights[2] is not None
        look = looked_at(lights[0], lights[1], lights[2], untouched_mm)
    elif not why:
        why.append("with two photos there are views, and no rings: a third with broad light is needed for those")
    return Inspected(shots=tuple(seen), look=look, why=tuple(why))


def _one(
    shot: Shot, before: Sequence[Seen], matrix: align.Floats, corners: Points, size_mm: tuple[float, float], fine: float
) -> Seen:
    try:
        photo = for_panel(shot.path, size_mm, corners)
    except InputError as error:
        return Seen(shot=shot, sha256="", light=None, colour=None, px_per_mm=fine, refused=say(error.said))
    scale = np.diag([1 / photo.factor, 1 / photo.factor, 1.0])
    light = align.squared(photo.light, scale @ matrix, size_mm)
    clipped = _clipped(photo, scale @ matrix, size_mm)
    refused, by = _fault(photo, before, light, clipped, fine), (0.0, 0.0)
    first = next((s for s in before if s.light is not None and not s.refused), None)
    if not refused and first is not None and first.light is not None:
        by, refused = _over(first.light, light)
        light = align.moved(light, by)
    colour = _colour(photo, scale @ matrix, size_mm, by)
    return Seen(
        shot=shot, sha256=photo.sha256, light=light, colour=colour, px_per_mm=fine, shift_px=by, clipped=clipped,
        refused=refused,
    )  # fmt: skip


def _fault(photo: Photo, before: Sequence[Seen], light: Cells, clipped: float, fine: float) -> str:
    """Why a photo is not used, in words."""
    if any(s.sha256 == photo.sha256 for s in before):
        return "is the same file again"
    missing = float(np.mean(~np.isfinite(light)))
    if missing > MISSING_MOST:
        return "does not show the whole panel between these corners"
    if fine < LEAST_PX_MM:
        return f"is too coarse: {fine:.1f} pixels a millimetre, {LEAST_PX_MM} are needed. Go nearer"
    if clipped > CLIPPED_MOST:
        return f"is burnt out on {100 * clipped:.0f} % of the panel: less light, or a shorter exposure"
    if float(np.nanpercentile(light, DARK_PERCENTILE)) < DARK_Y:
        return "is too dark"
    return ""


def _over(first: Cells, light: Cells) -> tuple[tuple[float, float], str]:
    """How far a photo lies from the first, and whether that can be."""
    a, b = (align.edges(np.nan_to_num(one, nan=float(np.nanmedian(one)))) for one in (first, light))
    by = align.shift_px(_middle(a), _middle(b))
    far = float(np.hypot(*by)) / PX_MM
    if far > MOST_SHIFT_MM:
        return by, f"lies {far:.0f} mm beside the first: the camera or the panel was moved. A stand is needed"
    laid = np.nan_to_num(align.moved(b, by), nan=float(b.mean()))
    if float(np.corrcoef(a.ravel(), laid.ravel())[0, 1]) < LEAST_ALIKE:
        return by, "does not lie over the first: another panel, or moved corners"
    return by, ""


def _middle(light: Cells) -> Cells:
    top, left = (max(0, (n - ALIGNED_PX) // 2) for n in light.shape)
    return light[top : top + ALIGNED_PX, left : left + ALIGNED_PX]


def _clipped(photo: Photo, matrix: align.Floats, size_mm: tuple[float, float]) -> float:
    """Share of the panel that is burnt out."""
    burnt = (photo.pixels.max(axis=2) >= CLIPPED_AT).astype(np.float32)
    return float(np.nan_to_num(align.squared(burnt, matrix, size_mm)).mean())


def _colour(photo: Photo, matrix: align.Floats, size_mm: tuple[float, float], by: tuple[float, float]) -> np.ndarray:
    """The panel alone as it looks, for the eye (rows, columns, 3)."""
    bands = [align.squared(photo.pixels[..., i].astype(np.float32), matrix, size_mm) for i in range(3)]
    laid = [np.nan_to_num(align.moved(band, by)) for band in bands]
    return np.ascontiguousarray(np.clip(np.stack(laid, axis=-1), 0, 255).astype(np.uint8))
