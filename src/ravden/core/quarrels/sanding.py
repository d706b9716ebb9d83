"""Quarrels over levelling and rubbing out."""

from dataclasses import replace

from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.schools import schools
from ravden.core.cure.windows import BUFF_MARGIN_K, LEVEL_MARGIN_K
from ravden.core.quarrels.quarrel import Case, Quarrel, told_min

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
    spare = a.film_used_um - b.film_used_um
    melts = (
        "A last thin flow coat would melt its scratches; " if case.dissolving else "No later coat melts its scratches; "
    )
    start = "fine" if not a.film_ok or spare > 1 else "coarse"
    return Quarrel(
        id="first-grit", question="Which grit to level with first?",
        answer=f"{'Fine' if start == 'fine' else 'Coarse'}: from {rub.texture_um:.0f} um of texture, {first[1]} "
        "first takes "
        f"{b.film_used_um:.0f} um in {told_min(b.minutes)}, {first[0]} first {a.film_used_um:.0f} um in "
        f"{told_min(a.minutes)}. "
        + ("The film pays for both." if a.film_ok else "The film cannot pay for the coarse one." if b.film_ok
           else "As it is known now, the film can pay for neither: more coats, or a gauge."),
        other=f"{melts}{first[0]} flattens heavy texture while a fine paper only polishes its tops.",
    )  # fmt: skip


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
    return Quarrel(
        id="where", question="Where to spend the time: laying it flat, or levelling it?",
        answer=f"Laying it flat: from {FLAT_UM:.0f} um of texture the rub-out is {told_min(flat.minutes)}, from "
        f"{HEAVY_UM:.0f} um {told_min(heavy.minutes)}. The rough surface also costs {um:.0f} um, {coats:.1f} coats "
        "laid "
        "only to be sanded off.",
        other=f"Slow, careful spraying of {max(case.coats_left(), 1)} coats costs minutes on each of them; "
        f"{told_min(saved)} "
        "of sanding is once.",
    )  # fmt: skip


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
    minutes = f"the ladder is {told_min(wet.minutes)} wet and {told_min(dry.minutes)} dry"
    if young:
        return Quarrel(
            id="wet", question="Level wet or dry?",
            answer=f"Dry: water softens a waterborne film in its first weeks. Here {minutes}.",
            other="Wet paper stays clear and cool, and leaves a finer scratch.",
        )  # fmt: skip
    where = "keep it away from the sound hole and any bare wood" if inside else "keep it out of routs and screw holes"
    return Quarrel(
        id="wet", question="Level wet or dry?",
        answer=f"Wet with a drop of soap where the film is whole, by hand: {minutes}. Dry round every opening: "
        f"{where}.",
        other="Dry, the dull field shows every low spot at once, and no open wood can swell; never wet under a "
        "mains-powered sander.",
    )  # fmt: skip


def circles(case: Case) -> Quarrel | None:
    """Circles or lines, by what the ladder ends with."""
    ladder = case.found.rub_out.ladder
    if not case.sands or ladder is None:
        return None
    last = ladder.steps[-1].rung
    polished = last.abrasive.kind == "polish"
    return Quarrel(
        id="circles", question="Circles or straight lines on the film?",
        answer=f"{'Circles are fine until the last paper' if polished else 'Straight lines at the end'}: this "
        "ladder ends "
        f"with {last.abrasive.name}. It leaves {ladder.residual_um:.2f} um"
        + (", under which the paths of the papers are gone." if polished
           else ", and what is left of a circle shows as a swirl."),
        other="Straight strokes, each grit across the last, show at a glance when the one before is gone." if polished
        else "Circles cut faster and wear the block evenly.",
    )  # fmt: skip


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
    return Quarrel(
        id="machine", question="The last gloss by machine or by hand?",
        answer=f"By machine it is {told_min(pad)} of compounds on these {rub.job.area_cm2 / 1e4:.2f} m2, by cloth "
        f"{told_min(hand)}. "
        + ("The film is still too soft for a wheel's heat today." if soft else
           "Once its window for buffing is open the film bears a pad that is kept moving, off every edge."),
        other="A hand cannot burn through, and feels an edge coming." if not soft
        else "Waited for, the machine saves the most tiring hours of the job.",
    )  # fmt: skip


def wool(case: Case) -> Quarrel | None:
    """Steel wool, by chemistry and pickups."""
    if not case.sands:
        return None
    wired = any(case.family.startswith(b) for b in WIRED_BODIES)
    if case.waterborne:
        answer = "Never on this finish: threads left in a waterborne film rust and stain it. Synthetic wool cuts alike."
    elif wired:
        answer = "Synthetic here: this body carries pickups, and steel threads cling to their magnets for good. The "
        "film bears it."
    else:
        answer = (
            "Steel will do: this film does not rust it, and there is no magnet near. Blow every thread off before wax."
        )
    return Quarrel(id="wool", question="Steel wool?", answer=answer,
                   other="It is cheap, fine, and follows every curve, where paper bridges.")  # fmt: skip
