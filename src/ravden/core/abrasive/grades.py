"""Every abrasive in micrometres, whatever scale its number belongs to (docs/maths.md)."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.fact import Fact, fact

AMBIGUOUS_SPREAD = 1.12  # candidate medians further apart than this are asked about
KINDS = ("paper", "foam", "cushion", "wool", "powder", "polish", "stone")
CUSTOM = "CUSTOM"  # the user's own, told in micrometres
SAID = {"ANSI-CAMI": "CAMI", "JIS-SED": "JIS", "JIS-ER": "JIS fine"}
BARE_NUMBER_SYSTEMS = ("FEPA-P", "ANSI-CAMI", "JIS-SED", "JIS-ER")


@dataclass(frozen=True, slots=True, kw_only=True)
class Abrasive:
    """A grade: median grain d50 and its spread [um]; for a polish, the roughness it leaves governs instead.

    kind: paper, foam (foam-backed class), cushion (grain on a soft layer), wool, powder (loose grain), polish, or
    stone (stones and bonded grain, which are no use on a film); wood_only: dulls too fast for a film; scratch: its
    scratch against paper of the same grain; covered: share of the area that wool scratches.
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
    scratch: float = 1.0
    covered: float = 1.0
    basis: str = ""

    def __post_init__(self) -> None:
        need_above(self.d50_um, 0, "d50_um", 5000)
        need(0 < self.low_um <= self.d50_um <= self.high_um, "low_um", "must satisfy 0 < low <= d50 <= high")
        need(self.kind in KINDS, "kind", f"must be one of {', '.join(KINDS)} (got {self.kind})")
        need_in(self.ra_um or 0.0, 0, 100, "ra_um")
        need_in(self.covered, 0, 1, "covered")

    @property
    def on_film(self) -> bool:
        """Whether it can be a rung on a film."""
        return self.kind != "stone" and self.system != "GARNET"

    @property
    def coated(self) -> bool:
        """Whether its grain is fixed in one layer, so that a jump of grades can be told."""
        return self.kind in ("paper", "foam", "cushion")

    @property
    def grain_um(self) -> float:
        """The grain as it works [um]: loose powders break down to about a third [ENG]."""
        return self.d50_um / 3.0 if self.kind == "powder" else self.d50_um

    @property
    def id(self) -> str:
        return f"{self.system}:{self.label}"

    @property
    def name(self) -> str:
        """How a finisher would say it."""
        if self.system == CUSTOM:
            return self.label
        if self.kind == "polish":
            return f"{self.label.split(' ')[0]} compound"
        if self.kind == "foam":
            return f"foam-backed {self.label} class"
        if self.kind == "cushion":
            return f"cushioned {self.d50_um:g} um"
        if self.system == "STEEL-WOOL":
            return f"steel wool {self.label.split(' (')[0]}"
        if self.system == "NON-WOVEN":
            return f"{self.label.split(' ')[0]} non-woven"
        if self.system == "GARNET":
            return f"garnet {self.label}"
        if self.system == "MICRON-FILM":
            return f"{self.label.removesuffix('um')} um film"
        if self.system in ("FEPA-P", "FEPA-F", "SYN-WOOL", "LOOSE-POWDER"):
            return self.label.split(" (")[0]
        return f"{SAID.get(self.system, self.system)} {self.label}"


def candidates(grades: Sequence[Abrasive], text: str) -> tuple[Abrasive, ...]:
    """What a bare number may mean, coarsest first: the same number in every scale of papers."""
    bare = text.strip().lstrip("#")
    same = [g for g in grades if g.system in BARE_NUMBER_SYSTEMS and g.label.lstrip("P#") == bare]
    return tuple(sorted(same, key=lambda g: -g.d50_um))


def is_ambiguous(meant: Sequence[Abrasive]) -> bool:
    """Whether scales read a number so differently that it has to be asked about."""
    return len(meant) == 1 or (len(meant) > 1 and meant[0].d50_um / meant[-1].d50_um > AMBIGUOUS_SPREAD)


def twins(grades: Sequence[Abrasive], grade: Abrasive) -> tuple[Abrasive, ...]:
    """Grades of other scales that carry the same number but not the same grain: the trap."""
    if grade.system not in (*BARE_NUMBER_SYSTEMS, "FEPA-F"):
        return ()
    number = grade.label.lstrip("PF#")
    same = [g for g in grades if g.system in (*BARE_NUMBER_SYSTEMS, "FEPA-F") and g.label.lstrip("PF#") == number]
    far = max(AMBIGUOUS_SPREAD, 1.0)
    return tuple(g for g in same if max(g.d50_um, grade.d50_um) / min(g.d50_um, grade.d50_um) > far)


def custom(label: str, d50_um: float, kind: str = "paper", spread: float = 0.15) -> Abrasive:
    """An abrasive known only by its micrometres; spread: of the grain, as a share [ENG]."""
    need(label.strip() != "", "label", "give it a name")
    need_above(d50_um, 0, "d50_um", 5000)
    if kind == "polish":
        # What a compound leaves goes with its grain as the shipped ones do.
        ra = 0.0125 * d50_um
        return Abrasive(
            system=CUSTOM, label=label.strip(), d50_um=d50_um, low_um=d50_um * (1 - spread),
            high_um=d50_um * (1 + spread), kind=kind, ra_um=ra, polish_k=6.7e-5 * d50_um, polish_max_um=0.5 * d50_um,
            basis="ENG (told in um; scaled from the shipped compounds)",
        )  # fmt: skip
    return Abrasive(
        system=CUSTOM, label=label.strip(), d50_um=d50_um, low_um=d50_um * (1 - spread), high_um=d50_um * (1 + spread),
        kind=kind, scratch=0.4 if kind == "cushion" else 1.0, covered=0.8 if kind == "wool" else 1.0,
        basis="ENG (told in um)",
    )  # fmt: skip


def find(grades: Sequence[Abrasive], text: str, path: str = "owned") -> Abrasive:
    """The grade written SYSTEM:LABEL. A bare number that scales read differently is asked about."""
    clean = text.strip()
    for grade in grades:
        if grade.id.lower() == clean.lower():
            return grade
    if ":" in clean:
        raise InputError(path, f"{text} is not in the table of grades")
    exact = [g for g in grades if clean.lower() in (g.label.lower(), g.name.lower())]
    if len(exact) == 1 and not clean.lstrip("#").isdigit():
        return exact[0]
    meant = candidates(grades, clean)
    if not meant:
        raise InputError(path, f"{text} is not in the table of grades; write it as SYSTEM:LABEL, e.g. FEPA-P:P800")
    if is_ambiguous(meant):
        raise InputError(path, ambiguity(text, meant))
    return meant[0]


def ambiguity(text: str, meant: Sequence[Abrasive]) -> Fact:
    """The question a bare number asks for."""
    if len(meant) == 1:
        return fact("no-scale", typed=text, system=meant[0].system, grain_um=meant[0].d50_um)
    return fact("many-scales", typed=text, low_um=meant[-1].d50_um, high_um=meant[0].d50_um)
