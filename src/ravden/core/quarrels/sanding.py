"""Quarrels over levelling and rubbing out."""

from dataclasses import replace

from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.schools import schools
from ravden.core.cure.windows import BUFF_MARGIN_K, LEVEL_MARGIN_K
from ravden.core.fact import fact
from ravden.core.quarrels.quarrel import Case, Quarrel, quarrel

FLAT_UM, HEAVY_UM = 6.0, 25.0  # [A] textures of the careful and of the hasty gun
YOUNG_H = 24 * 14.0  # [A] a waterborne film that water still softens
OPEN_BODIES = ("waisted", "bowed", "teardrop", "box")  # with open wood inside a sound hole
WIRED_BODIES = ("solid body", "bass")


def first_grit(case: Case) -> Quarrel | None:
    """The first grit: the ladders of two schools on this texture."""
    if not case.sands or case.found.rub_out.ladder is None:
        return None
    rub = case.found.rub_out
    coarse, fine = schools(rub.job, rub.drawer)
    if coarse.ladder is None or fine.ladder is None:
        return None
    a, b = coarse.ladder, fine.ladder
    first = (a.steps[0].rung.abrasive.name, b.steps[0].rung.abrasive.name)
    if first[0] == first[1]:  # both habits begin with one paper, and there is nothing to choose
        same = fact("first-grit-one", grade=first[0], texture_um=rub.texture_um, film_um=b.film_used_um,
                    minutes=b.minutes)  # fmt: skip
        return quarrel("first-grit", same, fact("first-grit-other", melts=case.dissolving, grade=first[0]))
    spare = a.film_used_um - b.film_used_um
    pays = "pays-both" if a.film_ok else "pays-fine" if b.film_ok else "pays-neither"
    answer = fact(
        "first-grit", fine=not a.film_ok or spare > 1, texture_um=rub.texture_um, fine_grade=first[1],
        fine_um=b.film_used_um, fine_min=b.minutes, coarse_grade=first[0], coarse_um=a.film_used_um,
        coarse_min=a.minutes, pays=fact(pays),
    )  # fmt: skip
    return quarrel("first-grit", answer, fact("first-grit-other", melts=case.dissolving, grade=first[0]))


def where(case: Case) -> Quarrel | None:
    """Care in laying it against hours of levelling: ladders from a flat and from a heavy texture."""
    if not case.sands:
        return None
    flat, heavy = case.ladder(texture_um=FLAT_UM), case.ladder(texture_um=HEAVY_UM)
    if flat is None or heavy is None:
        return None
    saved = heavy.minutes - flat.minutes
    um = heavy.film_used_um - flat.film_used_um
    coats = um / case.found.project.material.coat_dry_um
    answer = fact(
        "where", flat_um=FLAT_UM, flat_min=flat.minutes, heavy_um=HEAVY_UM, heavy_min=heavy.minutes, film_um=um,
        coats=coats,
    )  # fmt: skip
    return quarrel("where", answer, fact("where-other", coats=max(case.coats_left(), 1), minutes=saved))


def wet(case: Case) -> Quarrel | None:
    """Wet or dry: both ladders, and what is open to water."""
    if not case.sands:
        return None
    wet, dry = case.ladder(mode="wet"), case.ladder(mode="dry")
    if wet is None or dry is None:
        return None
    inside = case.family in OPEN_BODIES
    last = case.found.progress.last_coat_h
    young = case.waterborne and (last is None or case.found.now_h - last < YOUNG_H)
    minutes = {"wet_min": wet.minutes, "dry_min": dry.minutes}
    if young:
        return quarrel("wet", fact("wet-young", **minutes))
    return quarrel("wet", fact("wet", inside=inside, **minutes))


def circles(case: Case) -> Quarrel | None:
    """Circles or lines, by what the ladder ends with."""
    ladder = case.found.rub_out.ladder
    if not case.sands or ladder is None:
        return None
    last = ladder.steps[-1].rung
    polished = last.abrasive.kind == "polish"
    answer = fact("circles" if polished else "lines", grade=last.abrasive.name, residual_um=ladder.residual_um)
    return quarrel("circles", answer)


def machine(case: Case) -> Quarrel | None:
    """The last gloss by pad or by cloth: minutes of both."""
    rub = case.found.rub_out
    if not case.sands or rub.ladder is None:
        return None
    polish = [s for s in rub.ladder.steps if s.rung.abrasive.kind == "polish"]
    if not polish:
        return None
    cloth = rub.held.backings.get("cloth")
    if cloth is None:
        return None
    by_hand = evaluate(
        rub.job, [replace(s.rung, backing=cloth) if s in polish else s.rung for s in rub.ladder.steps]
    )  # fmt: skip
    pad = sum(s.minutes for s in polish)
    hand = sum(s.minutes for s in by_hand.steps if s.rung.abrasive.kind == "polish")
    warmed, whole = rub.film.warmed_K, rub.film.whole_K
    soft = (warmed is not None and warmed < BUFF_MARGIN_K) or (whole is not None and whole < LEVEL_MARGIN_K)
    answer = fact("machine", pad_min=pad, hand_min=hand, area_cm2=rub.job.area_cm2, soft=soft)
    return quarrel("machine", answer, "machine-later" if soft else "machine-other")


def wool(case: Case) -> Quarrel | None:
    """Steel wool, by chemistry and pickups."""
    if not case.sands:
        return None
    wired = any(case.family.startswith(b) for b in WIRED_BODIES)
    answer = "wool-never" if case.waterborne else "wool-pickups" if wired else "wool-steel"
    return quarrel("wool", fact(answer), "wool-other")
