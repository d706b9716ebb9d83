"""Every abrasive in micrometres, whatever scale its number belongs to (docs/maths.md)."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import InputError, need, need_above, need_in

AMBIGUOUS_SPREAD = 1.12  # candidate medians further apart than this are asked about
BARE_NUMBER_SYSTEMS = ("FEPA-P", "ANSI-CAMI", "JIS-SED", "JIS-ER")


@dataclass(frozen=True, slots=True, kw_only=True)
class Abrasive:
    """A grade: median grain d50 and its spread [um]; for a polish, the roughness it leaves governs instead.

    kind: paper, foam (foam-backed class), polish or wool; d_max_um: the most it can usefully take off.
    """

    system: str
    label: str
    d50_um: float
    low_um: float
    high_um: float
    kind: str
    ra_um: float | None = None
    polish_k: float | None = None
    polish_max_um: float | None = None
    basis: str = ""

    def __post_init__(self) -> None:
        need_above(self.d50_um, 0, "d50_um", 5000)
        need(0 < self.low_um <= self.d50_um <= self.high_um, "low_um", "must satisfy 0 < low <= d50 <= high")
        need_in(self.ra_um or 0.0, 0, 100, "ra_um")

    @property
    def id(self) -> str:
        return f"{self.system}:{self.label}"

    @property
    def name(self) -> str:
        """How a finisher would say it."""
        if self.kind == "polish":
            return f"{self.label.split(' ')[0]} compound"
        if self.kind == "foam":
            return f"foam-backed {self.label} class"
        if self.system in ("FEPA-P", "STEEL-WOOL", "SYN-WOOL"):
            return self.label.split(" (")[0]
        return f"{self.system.removeprefix('ANSI-')} {self.label}"


def find(grades: Sequence[Abrasive], text: str, path: str = "owned") -> Abrasive:
    """The grade written SYSTEM:LABEL. A bare number that scales read differently is asked about."""
    if ":" in text:
        for grade in grades:
            if grade.id.lower() == text.strip().lower():
                return grade
        raise InputError(path, f"{text} is not in the table of grades")
    bare = text.strip().lstrip("#")
    same = [g for g in grades if g.system in BARE_NUMBER_SYSTEMS and g.label.lstrip("P#") == bare]
    exact = [g for g in grades if g.label.lower() == text.strip().lower()]
    if len(exact) == 1 and not bare.isdigit():
        return exact[0]
    if not same:
        raise InputError(path, f"{text} is not in the table of grades; write it as SYSTEM:LABEL, e.g. FEPA-P:P800")
    sizes = sorted(g.d50_um for g in same)
    if sizes[-1] / sizes[0] > AMBIGUOUS_SPREAD or len(same) == 1:
        raise InputError(
            path,
            f'"{text}" could be anything from {sizes[0]:.0f} to {sizes[-1]:.0f} um. '
            "Is there a P before the number, or a micron size on the back?",
        )
    return same[0]
