"""Shiny spots in three photos of a dull panel: where broad light is mirrored and a low lamp is not.

The rule is fixed and was set on simulated panels, not on photographs. It marks spots or cannot tell; it never says that
a panel is done.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from ravden.core.errors import need
from ravden.core.surface.align import DARK, PX_MM
from ravden.core.surface.contact import Cells

FINE_MM, BROAD_MM = 0.25, 5.0  # what is kept between: finer is grain of the photo, broader is how it was lit
LIT, SPOTTED = 1.2, 0.053  # [set on 60 simulated panels]
RIM_MM, LEAST_MM2 = 1.5, 0.5
FIRST_LOOKS = 12  # rings where it cannot tell
MOST_SPOTS = 200
LIMIT_FROM = "simulated panels"
SPOTS, CANNOT_TELL = "shiny_spots", "cannot_tell"


class Spot(Struct, frozen=True, kw_only=True):
    """A part that is lit: its middle [mm] and how large it is [mm2]."""

    x_mm: float
    y_mm: float
    mm2: float


class Look(Struct, frozen=True, kw_only=True, eq=False):
    """verdict: shiny spots or cannot tell; lit_share: of the panel; parts: of at least half a mm2; spots: the largest
    first; view: what lights up, for the eye (rows, columns)."""

    verdict: str
    lit_share: float
    parts: int
    spots: tuple[Spot, ...]
    view: Cells

    @property
    def ringed(self) -> tuple[Spot, ...]:
        """What is to be ringed."""
        return self.spots if self.verdict == SPOTS else self.spots[:FIRST_LOOKS]


def evened(light: Cells) -> Cells:
    """Light against what is around it, by how much it varies [-]: each lamp's own gradient is gone."""
    from scipy.ndimage import gaussian_filter

    at = np.log(np.maximum(light, 0) + DARK)
    fine = gaussian_filter(at, FINE_MM * PX_MM)
    a = fine - gaussian_filter(fine, BROAD_MM * PX_MM)
    low, middle, high = np.percentile(a, (16, 50, 84))
    return np.asarray((a - middle) / max(float(high - low), 1e-9), dtype=np.float32)


def combined(low: Cells, low_other: Cells, broad: Cells) -> Cells:
    """Broad light minus the mean of both low lamps: what mirrors the one and not the others lights up."""
    return np.asarray(evened(broad) - (evened(low) + evened(low_other)) / 2, dtype=np.float32)


def looked_at(
    low: Cells, low_other: Cells, broad: Cells, corner_mm: tuple[float, float, float, float] | None = None
) -> Look:
    """Three photos of one panel, laid over each other, at PX_MM. corner_mm: x, y, width and height of what is not to be
    looked at, such as a taped corner."""
    from scipy.ndimage import label, sum_labels

    need(low.shape == low_other.shape == broad.shape, "shots", "must be of one size")
    view = combined(*(np.nan_to_num(s, nan=float(np.nanmedian(s))) for s in (low, low_other, broad)))
    inside = np.zeros(view.shape, dtype=bool)
    rim = round(RIM_MM * PX_MM)
    inside[rim:-rim, rim:-rim] = True
    inside &= np.isfinite(low) & np.isfinite(low_other) & np.isfinite(broad)
    if corner_mm is not None:
        x, y, w, h = (round(v * PX_MM) for v in corner_mm)
        inside[max(y, 0) : y + h, max(x, 0) : x + w] = False
    need(int(inside.sum()) > 100, "size_mm", "leaves nothing of the panel to look at")
    low5, middle = np.percentile(view[inside], (5, 50))
    on = (view - middle > LIT * (middle - low5)) & inside
    share = float(on.sum()) / float(inside.sum())
    parts, count = label(on)
    sizes = sum_labels(on, parts, np.arange(1, count + 1)) / PX_MM**2 if count else np.zeros(0)
    large = [i for i in np.argsort(-sizes) if sizes[i] >= LEAST_MM2]
    spots = []
    for i in large[:MOST_SPOTS]:
        rows, cols = np.nonzero(parts == i + 1)
        spots.append(
            Spot(x_mm=float((cols.mean() + 0.5) / PX_MM), y_mm=float((rows.mean() + 0.5) / PX_MM), mm2=float(sizes[i]))
        )
    return Look(
        verdict=SPOTS if share > SPOTTED else CANNOT_TELL,
        lit_share=share,
        parts=len(large),
        spots=tuple(spots),
        view=view,
    )
