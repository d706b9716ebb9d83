"""Paper on bare wood: from the state it is in to the last grade that suits what comes next (docs/maths.md; ENG)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.abrasive.grades import Abrasive
from ravden.core.abrasive.job import SAME_GRADE
from ravden.core.errors import InputError, need_above
from ravden.core.fact import fact

RATIO_MAX = 1.65
RZ_PER_GRAIN = 0.33  # pores not counted, +-40 %
DEEPEST, PIT = 2.0, 0.6
PER_PASS_UM = 12.0  # of a 125 um grain on wood of 700 kg/m3, 125 mm pad at 2.5 cm/s
PAD_CM, PACE_CM_S = 12.5, 2.5
SETUP_MIN = 2.0  # [A] dust off, look along the light, change paper
FEWEST = 0.6  # fewer passes that may do, against those reckoned


@dataclass(frozen=True, slots=True, kw_only=True)
class PrepHabit:
    """A row of the table: what comes next, and the last grain [um] of the two schools."""

    id: str
    label: str
    coarse_um: float
    fine_um: float
    note: str
    basis: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PrepRung:
    """A grade on wood: passes at least and at most, and minutes for the whole area."""

    abrasive: Abrasive
    passes: tuple[int, int]
    minutes: float


def passes(grain_um: float, before_um: float, density_kg_m3: float = 700.0) -> int:
    """Passes of a random-orbit pad that take out the marks of the grade before [-].

    >>> passes(125, 201), passes(68, 82)
    (5, 3)
    """
    need_above(density_kg_m3, 0, "density_kg_m3", 2000)
    take = DEEPEST * PIT * RZ_PER_GRAIN * before_um - PIT * RZ_PER_GRAIN * grain_um
    return max(1, math.ceil(take / (PER_PASS_UM * grain_um / 125.0 * 700.0 / density_kg_m3)))


def prep(
    start_um: float, last_um: float, drawer: Sequence[Abrasive], area_cm2: float, density_kg_m3: float = 700.0
) -> tuple[PrepRung, ...]:
    """The grades from marks of start_um to a last grain of about last_um, in the fewest passes.

    Raises InputError where the drawer cannot: which grade is missing. start_um, last_um: grain [um].
    """
    need_above(area_cm2, 0, "area_cm2", 1e7)
    papers = sorted({a.d50_um: a for a in drawer if a.kind == "paper" and last_um / SAME_GRADE <= a.d50_um}.values(),
                    key=lambda a: -a.d50_um)  # fmt: skip
    finer = [a for a in papers if a.d50_um < start_um / SAME_GRADE]
    ends = [a for a in finer if a.d50_um <= last_um * SAME_GRADE]
    if start_um <= last_um * SAME_GRADE:
        return ()
    if not ends:
        raise InputError("owned", fact("no-last-paper", grain_um=last_um))
    best: dict[float, tuple[float, tuple[Abrasive, ...]]] = {start_um: (0.0, ())}
    sizes = [start_um, *(a.d50_um for a in finer)]
    for paper in finer:
        options = [
            (best[s][0] + _minutes(passes(paper.d50_um, s, density_kg_m3), area_cm2), best[s][1])
            for s in sizes
            if s in best and SAME_GRADE < s / paper.d50_um <= RATIO_MAX + 1e-9
        ]
        if options:
            cost, path = min(options, key=lambda o: o[0])
            best[paper.d50_um] = (cost, (*path, paper))
    reached = [best[a.d50_um] for a in ends if a.d50_um in best]
    if not reached:
        gap = next((a.d50_um for a in finer if a.d50_um not in best), ends[0].d50_um)
        raise InputError("owned", fact("papers-apart", grain_um=gap))
    path = min(reached, key=lambda o: o[0])[1]
    out, before = [], start_um
    for paper in path:
        n = passes(paper.d50_um, before, density_kg_m3)
        out.append(PrepRung(abrasive=paper, passes=(max(1, math.floor(FEWEST * n)), n), minutes=_minutes(n, area_cm2)))
        before = paper.d50_um
    return tuple(out)


def _minutes(count: int, area_cm2: float) -> float:
    return SETUP_MIN + count * area_cm2 / (PAD_CM * PACE_CM_S) / 60.0
