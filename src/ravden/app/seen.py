"""What each rung of a ladder should look like: a lamp mirrored in the film, and the same in words. No Qt."""

from __future__ import annotations

import functools
import zlib
from typing import TYPE_CHECKING

import msgspec

from ravden.core.abrasive.gloss import rq_um
from ravden.core.surface.lamp import lamp, radiance
from ravden.text.say import grade_name

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from ravden.app.session import ShopSession
    from ravden.core.abrasive.climb import Ladder

    Pixels = NDArray[np.uint8]

ANGLES = (60, 20)  # of a glance along the top, and of one straight down
WIDE, HIGH = 180, 120
LAMP_WHITE = 0.92  # [ENG] a perfect film's lamp, which the picture is exposed for
GRAIN, GRAIN_ROWS = 0.13, 9  # [ENG] how faint the wood's grain is, and how wide its bands [px]
# What is seen, from how well the tubes are told apart on.
SEEN = (
    (0.85, "three sharp tubes"), (0.6, "three tubes with soft edges"), (0.2, "three tubes that run together"),
    (0.05, "a glow with a hint of tubes"), (0.0, "one dull glow, no tubes"),
)  # fmt: skip


class RungSeen(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A rung: its name, what is seen of the lamp in words, and a picture (high, wide, 3) at each of ANGLES."""

    grade: str
    words: str
    pictures: tuple[Pixels, ...]


def seen_of(session: ShopSession, ladder: Ladder, family: str) -> tuple[RungSeen, ...]:
    """Every rung of a ladder, on a film of this family over wood."""
    base = session.catalogue.film_colours.get(family, (0.19, 0.083, 0.028))
    out = []
    for step in ladder.steps:
        rough = round(min(rq_um(step.rung.rz_um), 20.0), 4)
        each = [words_of(rough, angle) for angle in ANGLES]
        said = "; ".join(f"at {angle}° {seen}" for angle, seen in zip(ANGLES, each, strict=True))
        if len(set(each)) == 1:
            said = f"along and from above {each[0]}"
        out.append(
            RungSeen(
                grade=grade_name(step.rung.abrasive.name), words=f"{said[:1].upper()}{said[1:]}.",
                pictures=tuple(picture(rough, angle, base) for angle in ANGLES),
            )
        )  # fmt: skip
    return tuple(out)


def words_of(rough_um: float, angle_deg: int) -> str:
    """What is seen of the lamp in a film of this roughness.

    >>> words_of(0.31, 20), words_of(0.02, 60)
    ('one dull glow, no tubes', 'three sharp tubes')
    """
    contrast = lamp(rough_um, angle_deg).contrast
    return next(said for least, said in SEEN if contrast >= least)


@functools.lru_cache(maxsize=64)
def picture(rough_um: float, angle_deg: int, base: tuple[float, float, float]) -> Pixels:
    """The lamp mirrored in a film, as it is drawn: the film's own colour in even light, and the lamp over it."""
    import numpy as np

    light = LAMP_WHITE * radiance(rough_um, angle_deg, WIDE, HIGH)[..., None]
    bands = np.random.default_rng(zlib.crc32(repr(base).encode())).normal(size=HIGH // GRAIN_ROWS + 2)
    grain = np.interp(np.arange(HIGH) / GRAIN_ROWS, np.arange(len(bands)), bands)
    wood = np.array(base) * (1 + GRAIN * grain)[:, None, None]
    linear = np.clip(wood + light * np.array([1.0, 0.98, 0.94]), 0.0, 1.0)
    shown = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    out: Pixels = np.ascontiguousarray((255 * shown + 0.5).astype(np.uint8))
    out.setflags(write=False)
    return out
