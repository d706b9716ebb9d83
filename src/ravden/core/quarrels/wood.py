"""Quarrels over bare wood, its pores and its colour."""

from ravden.core.abrasive.prep import RZ_PER_GRAIN, prep
from ravden.core.ahead.counsel import sinks
from ravden.core.errors import InputError
from ravden.core.fact import PLAIN, fact
from ravden.core.quarrels.quarrel import Case, Quarrel, quarrel

ROUGH_START_UM = 201.0  # marks of the first paper on wood


def filling(case: Case) -> Quarrel | None:
    """Filling before or after the colour."""
    if case.stage("colour") is None:
        return None
    if not case.open_grain:
        return quarrel("filling", fact("filling-closed"))
    order = [s.kind for s in case.found.method.stage if s.kind in ("colour", "pores")]
    return quarrel("filling", fact("filling-after" if order[:1] == ["colour"] else "filling-before"))


def pore_level(case: Case) -> Quarrel | None:
    """Filler flush or sealer over it, by how far pores will sink."""
    if not case.open_grain:
        return None
    told = sinks(case.found)
    if not told:
        return None
    s = told[0]
    coloured = case.stage("colour") is not None
    full, half = s.by_filling["filled"], s.by_filling["half-filled"]
    return quarrel("pore-level", fact("pore-level", filled_um=full, half_um=half, coloured=coloured))


def prepare(case: Case) -> Quarrel | None:
    """How fine the wood is sanded: both schools in minutes."""
    stage = next((s for s in case.found.method.stage if s.kind == "prepare" and s.next), None)
    if stage is None:
        return None
    habit = case.preps[stage.next]
    area = sum(z.area_cm2 for z in case.found.project.zones)
    owned = case.found.rub_out.held.abrasives
    try:
        coarse, fine = (prep(ROUGH_START_UM, um, owned, area) for um in (habit.coarse_um, habit.fine_um))
    except InputError:
        return None
    a, b = sum(r.minutes for r in coarse), sum(r.minutes for r in fine)
    first, last = (rungs[-1].abrasive.name if rungs else "" for rungs in (coarse, fine))
    answer = fact(
        "prepare", habit=habit.label.lower(), ends=first if stage.school != "fine" else last, first=first,
        first_min=a, last=last, last_min=b,
    )  # fmt: skip
    return quarrel("prepare", answer, fact(PLAIN, text=habit.note))


def across(case: Case) -> Quarrel | None:
    """With the grain or across, by how deep the marks are."""
    stage = next((s for s in case.found.method.stage if s.kind == "prepare" and s.next), None)
    if stage is None:
        return None
    habit = case.preps[stage.next]
    last = habit.fine_um if stage.school == "fine" else habit.coarse_um
    answer = fact("across", first_um=RZ_PER_GRAIN * ROUGH_START_UM, last_um=RZ_PER_GRAIN * last)
    return quarrel("across", answer)
