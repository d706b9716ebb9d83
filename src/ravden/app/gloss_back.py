"""Gloss comes back: the rungs from dull to mirror, one by one, and what is seen when one is left out."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.seen import BESIDE, picture, words_of
from ravden.core.abrasive.gloss import RQ_PER_RA, RZ_PER_RA, rq_um
from ravden.core.abrasive.grades import find
from ravden.core.abrasive.scratch import COVERAGE, ERASES, PIT_SHARE, REFERENCE_H_MPA, Rung
from ravden.text.say import grade_name

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue
    from ravden.core.surface.shade import Colour, Pixels

RUNGS = (
    ("FEPA-P:P800", "firm"), ("FEPA-P:P1200", "firm"), ("FEPA-P:P2000", "firm"), ("FOAM-CLASS:3000", "foam"),
    ("COMPOUND:medium (Ra 0.04)", "cloth"), ("COMPOUND:ultrafine (Ra 0.008)", "cloth"),
)  # fmt: skip


class Shown(Struct, frozen=True, kw_only=True, eq=False):
    """Where it stands: the last paper's name, what is seen, both pictures, and what leaving one out has done."""

    grade: str
    words: str
    pictures: tuple[Pixels, ...]
    left_um: float
    last: bool


def rungs(catalogue: Catalogue) -> tuple[Rung, ...]:
    """P800 to an ultrafine compound, on a well-cured film."""
    return tuple(
        Rung(abrasive=find(catalogue.abrasives, grade), backing=catalogue.backings[held], mode="wet",
             hardness_MPa=REFERENCE_H_MPA) for grade, held in RUNGS
    )  # fmt: skip


def rough_after(ladder: tuple[Rung, ...], done: tuple[int, ...]) -> tuple[float, float]:
    """Roughness after these rungs, by number, and how much of the scratches before is still in it [um].

    A paper takes no more than it usefully can; what it cannot reach of a deeper scratch stays, as a share of it [A].
    """
    rough, left = 0.0, 0.0
    for i in done:
        rung, own = ladder[i], rq_um(ladder[i].rz_um)
        deep = PIT_SHARE * rough * RZ_PER_RA / RQ_PER_RA
        need = COVERAGE * (ERASES * deep - rung.pit_um)
        left = max(1 - rung.d_max_um / need, 0.0) * rough if need > 0 else 0.0
        rough = math.hypot(own, left)
    return rough, left


def shown(catalogue: Catalogue, done: tuple[int, ...], base: Colour) -> Shown:
    """What is seen after these rungs."""
    ladder = rungs(catalogue)
    rough, left = rough_after(ladder, done)
    rough = round(min(rough, 20.0), 4)
    seen = [f"at {angle}° {words_of(rough, angle)}" for angle in BESIDE]
    return Shown(
        grade=grade_name(ladder[done[-1]].abrasive.name), words=f"{'; '.join(seen)}.",
        pictures=tuple(picture(rough, angle, base) for angle in BESIDE), left_um=left if left > 0.02 else 0.0,
        last=done[-1] == len(ladder) - 1,
    )  # fmt: skip
