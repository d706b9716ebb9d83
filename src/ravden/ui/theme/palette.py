"""The colours: paper and umber by day, lamp-black and straw by night. Film runs in lightness alone, from pale and soft
to dark and hard, so that it reads without colour vision."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


# Margins over the bench [K] at which the ramp's steps fall: wet, touch, scuff, level, buff, case (docs/maths.md).
RAMP_MARGINS_K = (-70.0, -25.0, 0.0, 8.0, 15.0, 20.0, 32.0)


class Palette(Struct, frozen=True, kw_only=True):
    """One theme's colours, as #rrggbb."""

    name: str
    ground: str
    panel: str
    line: str
    ink: str
    muted: str
    rail: str
    rail_ink: str
    accent: str
    accent_ink: str
    accent_soft: str
    open_ink: str
    open_soft: str
    warn: str
    warn_soft: str
    wood: str
    wood_line: str
    floor: str
    ramp: tuple[str, ...]


LIGHT = Palette(
    name="light", ground="#ece7dc", panel="#faf7f0", line="#cfc6b4", ink="#24211d", muted="#665f54",
    rail="#35322e", rail_ink="#d9d2c5", accent="#1d5c68", accent_ink="#ffffff", accent_soft="#dbe8e8",
    open_ink="#2d5a2a", open_soft="#dfe9d3", warn="#9a2f23", warn_soft="#f3dcd3", wood="#cdb58c", wood_line="#a98f63",
    floor="#9a2f23",
    ramp=("#fbf0c9", "#f6dc96", "#ebb95e", "#d08f3f", "#a9652b", "#7c4420", "#472413"),
)  # fmt: skip
DARK = Palette(
    name="dark", ground="#191b1d", panel="#232629", line="#41464b", ink="#ece7dc", muted="#aaa498",
    rail="#111213", rail_ink="#bdb7ab", accent="#7fc3cc", accent_ink="#10262a", accent_soft="#24393d",
    open_ink="#a9d08e", open_soft="#2a3826", warn="#f0907d", warn_soft="#43281f", wood="#6d5a3c", wood_line="#8f7850",
    floor="#f0907d",
    ramp=("#fff3c4", "#f8dd92", "#edbd66", "#d89a4d", "#bd783c", "#9f5a30", "#80421f"),
)  # fmt: skip
CONTRAST = Palette(
    name="contrast", ground="#000000", panel="#000000", line="#8c8c8c", ink="#ffffff", muted="#e6e6e6",
    rail="#000000", rail_ink="#ffffff", accent="#ffd500", accent_ink="#000000", accent_soft="#3d3400",
    open_ink="#86ff7d", open_soft="#0d2e0b", warn="#ff9d7a", warn_soft="#40170a", wood="#8a6b3a", wood_line="#c9a565",
    floor="#ff9d7a", ramp=DARK.ramp,
)  # fmt: skip
PALETTES = {"light": LIGHT, "dark": DARK, "contrast": CONTRAST}


def rgb(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def ramp_table(palette: Palette, entries: int = 256) -> NDArray[np.uint8]:
    """(entries, 3) colours for margins spread evenly over RAMP_MARGINS_K."""
    import numpy as np

    margins = np.linspace(RAMP_MARGINS_K[0], RAMP_MARGINS_K[-1], entries)
    stops = np.array([rgb(c) for c in palette.ramp], dtype=float)
    out = np.column_stack([np.interp(margins, RAMP_MARGINS_K, stops[:, i]) for i in range(3)])
    return out.round().astype(np.uint8)


def ramp_index(margin_K: NDArray[np.float64], entries: int = 256) -> NDArray[np.intp]:
    """Where margins fall in ramp_table."""
    import numpy as np

    low, high = RAMP_MARGINS_K[0], RAMP_MARGINS_K[-1]
    share = (np.nan_to_num(margin_K, nan=low) - low) / (high - low)
    return np.clip(share * (entries - 1), 0, entries - 1).astype(np.intp)


def mix(a: str, b: str, share: float) -> str:
    """Colour a with a share of b."""
    x, y = rgb(a), rgb(b)
    return "#" + "".join(f"{round(p + (q - p) * share):02x}" for p, q in zip(x, y, strict=True))
