"""Photos of the work, read by a process of its own; and as the light in them."""

from __future__ import annotations

import functools
import json
import subprocess
import sys
from io import BytesIO
from pathlib import Path

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ravden.core.errors import InputError
from ravden.core.surface.align import PX_MM, Points, px_per_mm
from ravden.core.surface.contact import Cells
from ravden.system.files import put

SECONDS = 20
PREVIEW_PX = 2_000_000
FACTORS = (8, 4, 2)


class Photo(Struct, frozen=True, kw_only=True, eq=False):
    """A photo, upright: pixels (high, wide, 3); factor: how much smaller than the file's own; sha256: of the file."""

    path: Path
    pixels: NDArray[np.uint8]
    factor: float
    sha256: str

    @property
    def light(self) -> Cells:
        """Linear light of each pixel, 0 to 1 [STD sRGB luminance]."""
        linear = _linear()[self.pixels]
        return np.asarray(linear @ np.array([0.2126, 0.7152, 0.0722], dtype=np.float32), dtype=np.float32)


def preview(path: Path) -> Photo:
    """A photo small enough to be looked at. Raises InputError naming the file."""
    return _read(path, {"most_px": PREVIEW_PX})


def for_panel(path: Path, size_mm: tuple[float, float], corners_px: Points) -> Photo:
    """A photo as large as a look at its panel needs; corners_px: in the file's own pixels, upright."""
    fine = px_per_mm(size_mm, corners_px)
    return _read(path, {"factor": next((f for f in FACTORS if fine / f >= PX_MM), 1)})


def _read(path: Path, how: dict[str, int]) -> Photo:
    asked = json.dumps({"path": str(path), **how}) + "\n"
    try:
        done = subprocess.run(_child(), input=asked.encode(), capture_output=True, timeout=SECONDS)
    except subprocess.TimeoutExpired:
        raise InputError(path.name, f"took longer than {SECONDS} s to read, and was left") from None
    head, _, raw = done.stdout.partition(b"\n")
    try:
        about = json.loads(head)
    except ValueError:
        raise InputError(path.name, "could not be read: the process reading it came to an end") from None
    if "refused" in about:
        raise InputError(path.name, about["refused"])
    wide, high = about["wide"], about["high"]
    pixels = np.frombuffer(raw, dtype=np.uint8)
    if pixels.size != wide * high * 3:
        raise InputError(path.name, "could not be read to its end")
    return Photo(
        path=path, pixels=pixels.reshape(high, wide, 3), factor=about["full_wide"] / wide, sha256=about["sha256"]
    )


def _child() -> list[str]:
    """The program again, as nothing but a reader of photos."""
    if getattr(sys, "frozen", False):
        return [sys.executable, "read-photo"]
    return [sys.executable, "-m", "ravden.exchange.photo_child"]


@functools.cache
def _linear() -> NDArray[np.float32]:
    shown = np.arange(256) / 255
    return np.where(shown <= 0.04045, shown / 12.92, ((shown + 0.055) / 1.055) ** 2.4).astype(np.float32)


COPY_PX, COPY_QUALITY = 1600, 80


def copy_small(path: Path, to: Path) -> None:
    """A copy of a photo no larger than 1600 px, with nothing in it but the picture. Raises InputError or OSError."""
    from PIL import Image

    if to.exists():
        return
    photo = preview(path)
    image = Image.fromarray(photo.pixels)
    image.thumbnail((COPY_PX, COPY_PX))
    to.parent.mkdir(exist_ok=True)
    raw = BytesIO()
    image.save(raw, format="JPEG", quality=COPY_QUALITY)
    put(to, raw.getvalue())
