"""In which order the zones of an instrument are laid, so that a wet edge is met wet."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ravden.core.climate.air import evaporation_factor
from ravden.core.errors import need, need_above
from ravden.core.film.wetcoat import Conditions, Flow
from ravden.core.materials.mixing import thinned_solids


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where a zone lies: the face it is seen and lit from, the zones it touches (names between blanks), and how tricky
    it is (1 to 3)."""

    zone: str
    face: str
    face_label: str
    touches: str
    hard: int
    basis: str

    def __post_init__(self) -> None:
        need(1 <= self.hard <= 3, "hard", f"must be 1, 2 or 3 (got {self.hard})")


def wet_edge_order(zones: Sequence[str], places: Mapping[str, Place]) -> tuple[tuple[str, ...], str]:
    """The order to lay zones in, and the one that is done by itself at the end (empty: none is that tricky).

    From the easiest zone outward, always on to one that touches what was laid last, else what was laid before; the
    trickiest face by itself. Zones without a place come last in their own order. Source: workshop practice [ENG].

    >>> at = lambda z, t, h: Place(zone=z, face="f", face_label="F", touches=t, hard=h, basis="")
    >>> wet_edge_order(("top", "back", "neck"), {p.zone: p for p in (at("top", "", 3), at("back", "neck", 2),
    ...     at("neck", "back", 1))})
    (('neck', 'back'), 'top')
    """
    known = [z for z in zones if z in places]
    hardest = max((places[z].hard for z in known), default=0)
    alone = next((z for z in known if places[z].hard == hardest), "") if hardest == 3 and len(known) > 1 else ""
    left = [z for z in known if z != alone]
    out: list[str] = []
    while left:

        def nearness(zone: str) -> tuple[int, int, int]:
            """How long ago a neighbour was laid: not at all comes last."""
            met = [len(out) - i for i, z in enumerate(out) if z in places[zone].touches.split()]
            return (min(met, default=len(zones) + 1), places[zone].hard, left.index(zone))

        chosen = min(left, key=nearness)
        left.remove(chosen)
        out.append(chosen)
    return (*out, *(z for z in zones if z not in places)), alone


def open_s(flow: Flow, at: Conditions, wet_um: float) -> float | None:
    """How long a wet edge can still be met [s]; None for a finish that gels and does not dry.

    .. math:: t = \\frac{h\\,(1 - \\phi / \\phi_{stop})}{E}

    wet_um: the wet film [um], which loses E until it no longer flows. Source: volume balance [S] with the evaporation
    and the solids at which flow stops of the finish's row [A].
    """
    need_above(wet_um, 0, "wet_um", 5000)
    if flow.gels:
        return None
    solids = thinned_solids(flow.solids, at.thinner_ratio)
    pace = flow.loss_um_s * evaporation_factor(at.temp_C)
    return max(wet_um * (1.0 - solids / flow.no_flow) / pace, 0.0)
