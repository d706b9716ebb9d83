"""Rows of the tables of what goes wrong: kinds of defect, operations of a repair, and repairs as runs of operations."""

from msgspec import Struct

from ravden.core.errors import need, need_in
from ravden.core.method.steps import STAGE_KINDS
from ravden.core.record import MISHAPS, Material

ASKS = ("height", "depth", "through", "spread")
GROUPS = "DLOP"  # dissolving, layering, oil, light-cured
STAGES = "bhlf"  # being built, hardening, levelled, finished
MET = ("gun", "paper", "after")
ONLY = ("", "wet", "spot", "gloss", "bare", "film", "shallow")
LATER = "later"  # the repair goes with the next levelling
LEAVE = "leave"
AIMS = ("least work", "least film", "soonest", "cleanest")


class DefectKind(Struct, frozen=True, kw_only=True):
    """What can go wrong. now: what to do at once; shows: how it is told; ask: what its size is told by; light: dealt
    with by the next paper, with no page of its own; met: at the gun, at the paper, or after."""

    id: str
    label: str
    now: str
    shows: str
    ask: str
    light: bool
    met: str
    basis: str

    def __post_init__(self) -> None:
        need(self.id in MISHAPS, "id", f"{self.id} is nothing that can be noted")
        need(self.ask in ASKS, "ask", f"must be one of {', '.join(ASKS)} (got {self.ask})")
        need(self.met in MET, "met", f"must be one of {', '.join(MET)} (got {self.met})")


class MendHabit(Struct, frozen=True, kw_only=True):
    """An operation of a repair: its name, kind of step, hands of one piece or coat [h], rest after it [h], skill from 1
    to 3, its caution and how it is done."""

    op: str
    label: str
    kind: str
    hours: float
    rest_h: float
    skill: int
    caution: str
    how: str
    basis: str

    def __post_init__(self) -> None:
        need(self.kind in STAGE_KINDS, "kind", f"must be one of {', '.join(STAGE_KINDS)} (got {self.kind})")
        need_in(self.hours, 0, 100, "hours", "h")
        need_in(self.rest_h, 0, 24 * 30, "rest_h", "h")
        need(1 <= self.skill <= 3, "skill", f"must be 1, 2 or 3 (got {self.skill})")


class Recipe(Struct, frozen=True, kw_only=True):
    """A repair of one defect: for which groups of finishes and stages of the work, where only, what it is called, its
    operations in order, and what can go wrong in it."""

    defect: str
    groups: str
    stages: str
    only: str
    name: str
    aim: str
    ops: str
    risk: str
    basis: str

    def __post_init__(self) -> None:
        need(self.groups == "*" or all(g in GROUPS for g in self.groups), "groups", f"must be of {GROUPS}, or *")
        need(all(s in STAGES for s in self.stages), "stages", f"must be of {STAGES}")
        need(self.only in ONLY, "only", f"must be one of {', '.join(ONLY)} (got {self.only})")
        need(self.aim in AIMS, "aim", f"must be one of {', '.join(AIMS)} (got {self.aim})")

    @property
    def operations(self) -> tuple[str, ...]:
        """In their order, without what says when."""
        return tuple(op for op in self.ops.split() if op not in (LATER, LEAVE))

    @property
    def later(self) -> bool:
        """Whether it goes with the next levelling."""
        return LATER in self.ops.split()

    @property
    def leaves(self) -> bool:
        """Whether nothing is done."""
        return LEAVE in self.ops.split()


class Tables(Struct, frozen=True, kw_only=True):
    """All three."""

    kinds: dict[str, DefectKind]
    mends: dict[str, MendHabit]
    recipes: tuple[Recipe, ...]


def group_of(material: Material) -> str:
    """Which group of finishes a material belongs to for repairs.

    D melts into itself; L lies coat on coat; O hardens in the wood or hardly over it; P sets by light.
    """
    if material.cure.model == "light":
        return "P"
    if material.dissolving:
        return "D"
    return "O" if material.family.startswith("oil") else "L"
