"""An old finish nobody knows: what it is likely to be, what may go over it, and how to get there."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import InputError, need
from ravden.core.fact import Fact, fact
from ravden.core.record import Material

ANSWERS = ("softens", "dulls", "nothing")
VERDICTS = ("yes", "key", "barrier", "no")


@dataclass(frozen=True, slots=True, kw_only=True)
class OldFinish:
    """A kind of old finish: what a drop of alcohol and of lacquer thinner does to it on hidden wood, whether it lies
    thick, how it is told, and how it comes off."""

    id: str
    label: str
    alcohol: str
    thinner: str
    thick: str
    told: str
    off: str
    basis: str

    def __post_init__(self) -> None:
        for name in ("alcohol", "thinner"):
            for part in getattr(self, name).split("|"):
                need(part in ANSWERS, name, f"must be of {', '.join(ANSWERS)} (got {part})")


@dataclass(frozen=True, slots=True, kw_only=True)
class Over:
    """One pair of the table: whether a finish may go over another. verdict: yes; key, after a scuff; barrier, over the
    coat named; no."""

    under: str
    over: str
    verdict: str
    barrier: str
    reason: str
    basis: str

    def __post_init__(self) -> None:
        need(self.verdict in VERDICTS, "verdict", f"must be one of {', '.join(VERDICTS)} (got {self.verdict})")
        need(
            (self.verdict == "barrier") == bool(self.barrier), "barrier", "is named where there is one, and only there"
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Tried:
    """What was tried on hidden wood; empty: not tried. balls: paper balls up on it; refuses: dye will not take."""

    alcohol: str = ""
    thinner: str = ""
    thick: str = ""
    balls: bool = False
    refuses: bool = False


def likely(tried: Tried, kinds: Sequence[OldFinish]) -> tuple[OldFinish, ...]:
    """The kinds that everything tried agrees with, in the table's order; all of them where nothing was tried."""
    return tuple(
        k
        for k in kinds
        if (not tried.alcohol or tried.alcohol in k.alcohol.split("|"))
        and (not tried.thinner or tried.thinner in k.thinner.split("|"))
        and (not tried.thick or k.thick in ("", tried.thick))
    )


def over(table: Sequence[Over], under: str, material_class: str) -> Over:
    """What the table says of one pair. Raises InputError where it does not know it."""
    for row in table:
        if row.under == under and row.over == material_class:
            return row
    raise InputError(
        "over", f"nothing is known of {material_class} over {under}: try it on hidden wood and wait a month"
    )


def class_of(material: Material) -> str:
    """The row and column of the table a material belongs to."""
    if material.cure.model == "never":
        return "oil-wax"
    if material.family == "shellac":
        return "shellac"
    if material.dissolving:
        return "lacquer"
    if getattr(material.cure, "water_share", 0.0) > 0:
        return "waterborne"
    if material.cure.model == "oxidation":
        return "oil" if material.family.startswith("oil") else "varnish"
    return {"light": "light", "crosslink": "two-part"}.get(material.cure.model, "varnish")


def oil_left(tried: Tried) -> Fact | None:
    """That oil is left in the wood, by its signs; None where nothing says so."""
    if not (tried.balls or tried.refuses):
        return None
    return fact("oil-left", balls=tried.balls, refuses=tried.refuses, both=tried.balls and tried.refuses)
