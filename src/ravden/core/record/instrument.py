"""An instrument as it was entered, and its zones."""

import math

from msgspec import Struct
from msgspec.structs import force_setattr

from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.record.material import MAX_FILM_UM

SHEENS = ("matte", "satin", "semi-gloss", "gloss", "mirror")
GROUNDS = ("sealed", "filled", "close-grain", "open-grain")


# [ENG] share of the least film that a kind of zone asks for: 40 / 30 / 15 um for a 40 um floor.
FLOOR_SHARE = {"flat": 1.0, "contour": 0.75, "edge": 0.375}


class Zone(Struct, frozen=True, kw_only=True):
    """A part of the instrument that is finished and sanded as one.

    kind: flat, contour or edge (how hard paper bears on it); k_mean, k_cv: film laid here against the nominal coat;
    sanding: film removed here when the flats lose 1; floor: share of the least film that it asks for, nan: as is usual
    for its kind (docs/maths.md).
    """

    name: str
    label: str
    kind: str
    area_cm2: float
    k_mean: float = 1.0
    k_cv: float = 0.12
    sanding: float = 1.0
    floor: float = math.nan

    def __post_init__(self) -> None:
        need(self.name != "", "name", "must not be empty")
        need(self.kind in FLOOR_SHARE, "kind", f"must be flat, contour or edge (got {self.kind})")
        if math.isnan(self.floor):
            force_setattr(self, "floor", FLOOR_SHARE[self.kind])
        need_in(self.floor, 0, 1, "floor")
        need_above(self.area_cm2, 0, "area_cm2", 1e6)
        need_above(self.k_mean, 0, "k_mean", 10)
        need_in(self.k_cv, 0.001, 1, "k_cv")
        need_in(self.sanding, 0, 10, "sanding")


class Measures(Struct, frozen=True, kw_only=True):
    """An instrument's outline family and what was measured on it, in mm."""

    family: str
    length_mm: float
    upper_mm: float
    waist_mm: float
    lower_mm: float
    depth_neck_mm: float
    depth_tail_mm: float
    neck_length_mm: float = 0.0
    stations: tuple[float, float, float] = (0.19, 0.42, 0.755)  # upper bout, waist, lower bout along the body [A]
    cutaway_mm: float = 0.0
    cutaway_left_mm: float = 0.0
    arch_mm: float = 0.0

    def __post_init__(self) -> None:
        for name in ("length_mm", "upper_mm", "waist_mm", "lower_mm"):
            need_in(getattr(self, name), 20, 2500, name, "mm")
        for name in ("depth_neck_mm", "depth_tail_mm"):
            need_in(getattr(self, name), 5, 600, name, "mm")
        need_in(self.neck_length_mm, 50 if self.family == "neck" else 0, 1500, "neck_length_mm", "mm")
        need_in(self.cutaway_mm, 0, 0.45 * self.length_mm, "cutaway_mm", "mm")
        need_in(self.cutaway_left_mm, 0, 0.5 * self.upper_mm, "cutaway_left_mm", "mm")
        need_in(self.arch_mm, 0, 0.25 * min(self.length_mm, self.lower_mm), "arch_mm", "mm")
        rising = all(a < b for a, b in zip((0.02, *self.stations), (*self.stations, 0.98), strict=True))
        need(rising, "stations", "must rise between 0.02 and 0.98, upper bout first")
        if self.waist_mm > min(self.upper_mm, self.lower_mm) and self.family in ("waisted", "bowed"):
            raise InputError("waist_mm", "must not be wider than the upper or lower bout")


USUAL_C = 20.0
COOLER_COUNTS, WARMER_COUNTS = 0.5, 0.65  # [A] of a bench below 20 C, and above


def judged_C(bench_C: float) -> float:
    """What a film is judged by on a bench [C]: a cold one does not harden what is soft, since paper brings its own
    heat, and a warm one counts for more, not for all. Source: [A].

    >>> [judged_C(t) for t in (12.0, 20.0, 30.0)]
    [16.0, 20.0, 26.5]
    """
    share = COOLER_COUNTS if bench_C < USUAL_C else WARMER_COUNTS
    return USUAL_C + share * (bench_C - USUAL_C)


class Instrument(Struct, frozen=True, kw_only=True):
    """An instrument on the rack, as it was entered."""

    id: str
    name: str
    kind: str
    measures: Measures
    material: str
    method: str
    sheen: str
    min_film_um: float
    bench_C: float = 20.0
    promised_h: float | None = None
    ground: str = "sealed"

    @property
    def judged_C(self) -> float:
        """The warmth of the bench as a film is judged by it [C]."""
        return judged_C(self.bench_C)

    def __post_init__(self) -> None:
        need(self.name.strip() != "", "name", "give the instrument a name")
        need(len(self.name) <= 80, "name", "must be at most 80 letters long")
        need(self.sheen in SHEENS, "sheen", f"must be one of {', '.join(SHEENS)} (got {self.sheen})")
        need_in(self.min_film_um, 0, MAX_FILM_UM, "min_film_um", "um")
        need_in(self.bench_C, 0, 45, "bench_C", "C")
        need(self.ground in GROUNDS, "ground", f"must be one of {', '.join(GROUNDS)} (got {self.ground})")
