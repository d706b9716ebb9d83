"""The scuff between coats, and what the next coat has to cover (docs/maths.md; all ENG)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.abrasive.job import SAME_GRADE
from ravden.core.abrasive.scratch import Rung, deepest_um, per_pass_um
from ravden.core.errors import InputError
from ravden.core.fact import fact
from ravden.core.record import Material

SCUFF_UM = 2.0  # mean film a scuff takes, 1 to 3
COVERS = 0.35  # a layering coat hides grooves up to this share of its dry film


@dataclass(frozen=True, slots=True, kw_only=True)
class ScuffHabit:
    """A row of the table: why a chemistry is scuffed, between which grains [um], its window, and what to
    keep away."""

    chemistry: str
    label: str
    why: str
    coarse_um: float
    fine_um: float
    window: str
    avoid: str
    basis: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ScuffRung:
    """One grade a scuff may be done with: strokes for it, its deepest groove [um], film the coat beneath should have,
    and the next dry coat that hides it (None: it melts in)."""

    rung: Rung
    strokes: int
    deepest_um: float
    beneath_um: float
    next_coat_um: float | None


def chemistry(material: Material) -> str:
    """The row of the table a finish belongs to."""
    if material.dissolving:
        return "dissolving"
    if getattr(material.cure, "water_share", 0.0) > 0:
        return "water"
    return {"light": "light", "crosslink": "reactive"}.get(material.cure.model, "layering")


def scuff(habit: ScuffHabit, drawer: Sequence[Rung], area_cm2: float) -> tuple[ScuffRung, ...]:
    """The grades of the drawer that suit, coarsest first. Raises InputError where none does."""
    papers = [r for r in drawer if r.abrasive.kind == "paper" and r.abrasive.on_film]
    fit = [r for r in papers if habit.fine_um / SAME_GRADE <= r.abrasive.d50_um <= habit.coarse_um * SAME_GRADE]
    if not fit:
        raise InputError(
            "owned",
            fact("no-scuff-paper", low_um=habit.fine_um, high_um=habit.coarse_um),
        )
    out = []
    for rung in sorted(fit, key=lambda r: -r.abrasive.d50_um):
        deepest = deepest_um(rung, area_cm2)
        melts = habit.chemistry == "dissolving"
        out.append(
            ScuffRung(
                rung=rung, strokes=math.ceil(SCUFF_UM / per_pass_um(rung)), deepest_um=deepest,
                beneath_um=2.0 * deepest, next_coat_um=None if melts else rung.rz_um / COVERS,
            )
        )  # fmt: skip
    return tuple(out)
