"""The zones of an instrument, their areas, and how film lands and leaves on each (docs/maths.md)."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import need_in
from ravden.core.instrument.outline import Outline
from ravden.core.record import Measures, Zone

EDGE_STRIP_MM = 2.0  # [A] width of rounded edge, top and back


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneHabit:
    """A row of the table of zones: deposit factors by way of applying, spread, share of a sanding,
    and share of the least film it asks for."""

    name: str
    label: str
    kind: str
    k_spray: float
    k_pad: float
    cv: float
    sanding: float
    floor: float
    basis: str = ""

    def __post_init__(self) -> None:
        need_in(self.k_spray, 0.05, 2, "k_spray")
        need_in(self.k_pad, 0.05, 2, "k_pad")


def zones_of(
    m: Measures, body: Outline, habits: Sequence[ZoneHabit], *, padded: bool, neck_girth_mm: float, head_cm2: float,
    contour_share: float = 0.0, end_grain_share: float = 0.0,
) -> tuple[Zone, ...]:  # fmt: skip
    """The zones with their areas [cm2]; an instrument without a neck has neither neck nor head face.

    contour_share: of top and back, carved or bevelled; end_grain_share: of the sides, where the wood shows its end.
    """
    area = {
        "top": body.face_cm2 * (1 - contour_share),
        "back": body.face_cm2 * (1 - contour_share),
        "sides": body.sides_cm2 * (1 - end_grain_share),
        "contours": 2 * body.face_cm2 * contour_share,
        "end-grain": body.sides_cm2 * end_grain_share,
        "neck": m.neck_length_mm * neck_girth_mm / 100,
        "head": head_cm2 if m.neck_length_mm > 0 else 0.0,
        "edges": 2 * body.perimeter_mm * EDGE_STRIP_MM / 100,
    }
    return tuple(
        Zone(
            name=h.name,
            label=h.label,
            kind=h.kind,
            area_cm2=area[h.name],
            k_mean=h.k_pad if padded else h.k_spray,
            k_cv=h.cv,
            sanding=h.sanding,
            floor=h.floor,
        )
        for h in habits
        if area.get(h.name, 0.0) > 0
    )
