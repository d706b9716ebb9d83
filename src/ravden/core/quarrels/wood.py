"""Quarrels over bare wood, its pores and its colour."""

from ravden.core.abrasive.prep import RZ_PER_GRAIN, prep
from ravden.core.ahead.counsel import sinks
from ravden.core.errors import InputError
from ravden.core.quarrels.quarrel import Case, Quarrel, told_min

ROUGH_START_UM = 201.0  # marks of the first paper on wood


def filling(case: Case) -> Quarrel | None:
    """Filling before or after the colour."""
    if case.stage("colour") is None:
        return None
    if not case.open_grain:
        return Quarrel(
            id="filling", question="Fill the pores before the colour or after?",
            answer="On this ground it hardly matters: its pores are closed or filled already. Fill first and the "
            "colour "
            "lies over one even surface.",
            other="Filler wiped over thin colour draws the grain on purpose, where there is grain to draw.",
        )  # fmt: skip
    order = [s.kind for s in case.found.method.stage if s.kind in ("colour", "pores")]
    after = order[:1] == ["colour"]
    return Quarrel(
        id="filling", question="Fill the pores before the colour or after?",
        answer=f"This plan fills "
        f"{'after: the grain will show in contrast' if after else 'before: the grain will vanish'}. "
        f"The look decides; "
        f"{'filler over colour takes two to four thin rounds' if after else 'filler sands flush at once'}.",
        other="Filled before, nothing can smear the colour." if after
        else "Filled after, the pores become the picture.",
    )  # fmt: skip


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
    return Quarrel(
        id="pore-level", question="Level with the filler, or with the sealer over it?",
        answer=f"With the filler: pores filled flush sink {full:.1f} um after levelling, half-filled ones "
        f"{half:.1f} um. "
        + ("There is colour beneath, so thin resin over it must never be sanded through." if coloured
           else "Nothing beneath can be cut into, so it may be sanded flush to the wood."),
        other="Filler that only seals, with sealer built over it and cut back, never touches the wood or its colour.",
    )  # fmt: skip


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
    first, last = (rungs[-1].abrasive.name if rungs else "the first paper" for rungs in (coarse, fine))
    return Quarrel(
        id="prepare", question="How fine to sand the bare wood?",
        answer=f"For {habit.label.lower()} next: {first if stage.school != 'fine' else last} ends it, as this plan "
        "has it. "
        f"Stopping at {first} is {told_min(a)} by random-orbit sander, going on to {last} is {told_min(b)}.",
        other=habit.note,
    )  # fmt: skip


def across(case: Case) -> Quarrel | None:
    """With the grain or across, by how deep the marks are."""
    stage = next((s for s in case.found.method.stage if s.kind == "prepare" and s.next), None)
    if stage is None:
        return None
    habit = case.preps[stage.next]
    last = habit.fine_um if stage.school == "fine" else habit.coarse_um
    return Quarrel(
        id="across", question="With the grain, or across it?",
        answer=f"Across or aslant first, with it at the last: the first paper's marks are some "
        f"{RZ_PER_GRAIN * ROUGH_START_UM:.0f} um deep and go anyway. The last paper's, some "
        f"{RZ_PER_GRAIN * last:.0f} um, "
        "stay, and along the grain they hide.",
        other="Always with the grain, no stroke can be missed by the next; on figured wood a scraper has no "
        "direction at all.",
    )  # fmt: skip
