"""Reads one photo in a process of its own: what a hostile file does, it does to this process alone.

Takes one line of JSON, ``{"path", "most_px" | "factor"}``; answers with one line of JSON, and the pixels as raw red,
green and blue behind it. The header is looked at before anything is decoded.
"""

from __future__ import annotations

import hashlib
import json
import resource
import sys
from pathlib import Path
from typing import IO, Any

from ravden.core.errors import InputError
from ravden.system.files import take_in

MEMORY = 1_200_000_000  # bytes of addresses this process may have
MOST_BYTES = 40_000_000
MOST_PX = {"JPEG": 60_000_000, "PNG": 24_000_000}
MOST_SIDE = 16_000
FACTORS = (1, 2, 4, 8)
TOO_LARGE = "has {mp:.0f} million pixels, more than the {most:.0f} that are read"


class Refused(Exception):
    """A file that is not read, and why in words."""


def read(path: str, *, most_px: int = 0, factor: int = 1) -> tuple[dict[str, Any], bytes]:
    """A photo, upright, in red, green and blue. most_px: made smaller until it has no more; factor: made so many times
    smaller. Raises Refused."""
    try:
        data = take_in(Path(path), MOST_BYTES, f"is larger than {MOST_BYTES // 1_000_000} MB")
    except InputError as error:
        raise Refused(str(error.said)) from None
    return decoded(data, most_px, factor)


def decoded(data: bytes, most_px: int, factor: int) -> tuple[dict[str, Any], bytes]:
    """The same of a photo's bytes."""
    import io
    import warnings

    from PIL import Image, ImageOps, JpegImagePlugin, PngImagePlugin

    assert JpegImagePlugin and PngImagePlugin
    warnings.simplefilter("error")  # a bomb that is only warned of is refused
    Image.MAX_IMAGE_PIXELS = max(MOST_PX.values())
    try:
        file = Image.open(io.BytesIO(data), formats=("JPEG", "PNG"))
        kind = "JPEG" if file.format in ("JPEG", "MPO") else "PNG"
        _check(file.width, file.height, kind, getattr(file, "n_frames", 1))
        full = file.width, file.height
        if most_px:
            factor = next((f for f in FACTORS if full[0] * full[1] / f**2 <= most_px), FACTORS[-1])
        if kind == "JPEG" and factor > 1:
            file.draft("RGB", (full[0] // factor, full[1] // factor))
        file.load()
        image = ImageOps.exif_transpose(file)
        upright = full if (image.width >= image.height) == (full[0] >= full[1]) else full[::-1]
        image = image.convert("RGB")
        wanted = max(1, upright[0] // factor), max(1, upright[1] // factor)
        if (image.width, image.height) != wanted:
            image = image.resize(wanted, Image.Resampling.BOX)
    except Refused:
        raise
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise Refused("has more pixels than are read") from None
    except MemoryError:
        raise Refused("needs more memory than is given to it") from None
    except Exception:
        raise Refused("is no JPEG or PNG photo, or is damaged") from None
    about = {
        "wide": image.width, "high": image.height, "full_wide": upright[0], "full_high": upright[1],
        "sha256": hashlib.sha256(data).hexdigest(),
    }  # fmt: skip
    return about, image.tobytes()


def _check(wide: int, high: int, kind: str, frames: int) -> None:
    """What its header says, before anything is decoded."""
    if wide * high > MOST_PX[kind]:
        raise Refused(TOO_LARGE.format(mp=wide * high / 1e6, most=MOST_PX[kind] / 1e6))
    if max(wide, high) > MOST_SIDE:
        raise Refused(f"is {max(wide, high)} pixels long, more than the {MOST_SIDE} that are read")
    if kind == "PNG" and frames > 1:
        raise Refused("has more than one picture in it")


def main(ask: IO[str] = sys.stdin, out: IO[bytes] | None = None) -> int:
    """One question, one answer."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    out = out or sys.stdout.buffer
    asked = json.loads(ask.readline())
    try:
        about, pixels = read(asked["path"], most_px=asked.get("most_px", 0), factor=asked.get("factor", 1))
    except Refused as error:
        about, pixels = {"refused": str(error)}, b""
    except MemoryError:
        about, pixels = {"refused": "needs more memory than is given to it"}, b""
    out.write(json.dumps(about).encode() + b"\n" + pixels)
    out.flush()
    return 0


if __name__ == "__main__":
    sys.exit(main())
