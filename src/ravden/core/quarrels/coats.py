"""Quarrels over coats: how many, how heavy, what between them, how long to wait, and what may touch them."""

from ravden.core.abrasive.scuff import chemistry, scuff
from ravden.core.ahead.counsel import witness
from ravden.core.ahead.forward import Forward, WhatIf, plan_forward
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import HORIZON_H
from ravden.core.cure.windows import windows
from ravden.core.errors import InputError
from ravden.core.quarrels.quarrel import Case, Quarrel, told_h, told_min
from ravden.core.record import Coat
from ravden.core.state.history import cure

SHELF_COATS = 3  # what a can's drying time is told for
HEAVIER = 1.5  # [A] a heavy coat against a usual one


def _odds(share: float) -> str:
    return "under 1 %" if share < 0.01 else f"{100 * share:.0f} %"


def between(case: Case) -> Quarrel | None:
    """Sanding between coats, by chemistry."""
    found = case.found
    if found.project.material.cure.model == "never":
        return None
    if case.oil:
        return Quarrel(
            id="between", question="Sand between coats?",
            answer=f"Hardly: a coat is {found.project.material.coat_dry_um:g} um, thinner than the scratch of any "
            "paper. The "
            "finest wool over a dry coat takes the dust off and leaves the film.",
            other="Paper worked wet with the oil itself fills the pores with its own slurry, in the first coats.",
        )  # fmt: skip
    seen = witness(found)
    cut = ""
    if seen is not None:
        cut = f"Levelling here has odds of {_odds(seen.odds)} of cutting through the top {seen.layer_um:.0f} um"
    if case.dissolving:
        taken = sum(s.um for s in found.forward.sandings)
        return Quarrel(
            id="between", question="Sand between coats?",
            answer=f"Only nibs: this film dissolves, and its coats melt into one, so no coat needs a key. Every "
            "sanding "
            f"between would come off the film that the {taken:.0f} um of levelling and rubbing out still have to "
            "pay for.",
            other=f"A rough coat copies itself into the next; flat all along makes the last levelling short. "
            f"{cut}".strip()
            + ("." if cut else ""),
        )  # fmt: skip
    limit = getattr(found.project.material.cure, "recoat_h", 0.0)
    since = found.now_h - found.progress.last_coat_h if found.progress.last_coat_h is not None else None
    if limit and since is not None:
        now = f"the last coat is {told_h(since)} old, so it {'needs one' if since > limit else 'does not yet'}"
    else:
        now = f"within {told_h(limit)} of the last coat it does not" if limit else "every coat needs one here"
    return Quarrel(
        id="between", question="Sand between coats?",
        answer=f"Yes, once the recoat window has shut: this film is layers, and the next one holds by a key; {now}. "
        + (f"{cut}; {seen.needed_um:.0f} um on top would make it one in ten." if seen is not None
           else "No later sanding is planned that could cut a layer open."),
        other="Coats laid while the last is young bond without a scuff, and every scuff is film lost and a chance of a "
        "cut edge.",
    )  # fmt: skip


def fineness(case: Case) -> Quarrel | None:
    """How fine a scuff is, by what the next coat hides."""
    material = case.found.project.material
    if case.oil:
        return None
    habit = case.scuffs[chemistry(material)]
    try:
        fit = scuff(habit, case.rungs("dry"), case.found.rub_out.job.area_cm2)
    except InputError:
        return None
    fine, coarse = fit[-1], fit[0]
    if case.dissolving:
        return Quarrel(
            id="fineness", question="How fine between coats?",
            answer=f"As fine as you like: {fine.rung.abrasive.name} leaves {fine.deepest_um:.1f} um, and the next coat "
            f"melts it. Nothing is gained by a key in a film that dissolves.",
            other=f"{coarse.rung.abrasive.name} takes a nib off in fewer strokes, and its scratches melt as well.",
        )  # fmt: skip
    hides = fine.next_coat_um or 0.0
    coat = material.coat_dry_um
    return Quarrel(
        id="fineness", question="How fine between coats?",
        answer=f"{fine.rung.abrasive.name}, the finest of your drawer that still gives grip: finer is as bad as "
        "gloss. Its "
        f"marks need {hides:.0f} um of the next coat, which lays {coat:.0f} um and "
        f"{'hides them' if coat >= hides else 'will not hide them in one'}.",
        other=f"{coarse.rung.abrasive.name} grips better and cuts brush marks and peel flat while it is at it.",
    )  # fmt: skip


def weight(case: Case) -> Quarrel | None:
    """Thin coats or thick ones: both planned, and their ready days set side by side."""
    found = case.found
    coats = case.coats_left()
    if coats < 3 or found.project.material.cure.model == "never":
        return None
    heavy = found.project.material.coat_dry_um * HEAVIER
    fewer = max(round(coats / HEAVIER), 1)
    other = _planned(found, WhatIf(coats=fewer, coat_um=heavy))
    a, b = found.forward, other
    if a.finished_h is None or b.finished_h is None:
        return None
    days = (b.finished_h - a.finished_h) / 24
    whole = round(abs(days))
    swap = f"{whole} day{'s' if whole > 1 else ''} {'later' if days > 0 else 'sooner'}" if whole else "the same day"
    shrink = [w.shrink_left_um or 0.0 for plan_ in (a, b) for w in plan_.windows[:1]]
    sinks_more = (
        f", with {shrink[1]:.1f} um still to shrink at the first window against {shrink[0]:.1f}"
        if len(shrink) == 2
        else ""
    )
    return Quarrel(
        id="weight", question="Many thin coats, or few thick ones?",
        answer=f"{'Thin' if days > 0.5 else 'Either'}: {fewer} coats of {heavy:.3g} um instead of {coats} of "
        f"{found.project.material.coat_dry_um:.3g} um would be ready {swap}. That is {coats - fewer} fewer of them"
        f"{sinks_more}.",
        other="A heavy coat flows out by itself; many dry ones build texture that has to be levelled.",
    )  # fmt: skip


def _planned(found: Outlook, change: WhatIf) -> Forward:
    return plan_forward(
        found.project, found.method, found.ledger, found.now_h, found.hours, found.sands, found.slowest, change,
        ranges=False,
    )  # fmt: skip


def waiting(case: Case) -> Quarrel | None:
    """The wait, against that of three coats on a shelf in the same air."""
    found = case.found
    window = next((w for w in found.windows if w.likely_h is not None and w.name in ("level", "buff")), None)
    if window is None or window.likely_h is None:
        return None
    material = found.project.material
    start = found.now_h
    shelf = [Coat(at_h=start + i, dry_um=material.coat_dry_um) for i in range(SHELF_COATS)]
    opens = windows(
        cure(found.project, shelf, (), (), start + HORIZON_H, rough=True), found.project.instrument.bench_C
    ).at(window.name)  # fmt: skip
    if opens is None:
        return None
    laid = [c.at_h for c in (*found.project.coats, *found.forward.coats) if c.at_h < window.likely_h and not c.finish]
    mine = window.likely_h - max(laid, default=start)
    shelf_h = opens - shelf[-1].at_h
    left = (
        f"{window.shrink_left_um:.1f} um still to shrink" if window.shrink_left_um is not None else "its shrink to come"
    )
    return Quarrel(
        id="waiting", question="How long to wait before levelling?" if window.name == "level" else "How long to wait?",
        answer=f"{told_h(mine)} after the last coat, with {left}; three thin coats on a shelf would bear it after "
        f"{told_h(shelf_h)}. A can's drying time speaks of those three coats, not of "
        f"{len(laid)} of them in this air.",
        other="A month does no harm: what has not shrunk by then is little, and waiting costs no hands.",
    )  # fmt: skip


def satin(case: Case) -> Quarrel | None:
    """Satin from the gun or rubbed."""
    found = case.found
    if found.project.instrument.sheen not in ("satin", "matte", "semi-gloss") or not case.sands:
        return None
    rubbed = case.ladder(target=found.project.instrument.sheen, flatted=False)
    coated = any(f.endswith("-satin") for f in found.method.finishes)
    cost = (
        f"{told_min(rubbed.minutes)} and {rubbed.film_used_um:.0f} um"
        if rubbed is not None
        else "more than the drawer has"
    )
    return Quarrel(
        id="satin", question="Satin from the gun, or rubbed?",
        answer=f"This plan {'ends in one flatted coat, which is left as it falls' if coated else 'rubs it'}. "
        "Rubbing from the "
        f"texture to {found.project.instrument.sheen} would be {cost}.",
        other="A rubbed satin can be rubbed again after a scratch; a sprayed one has to be sprayed again." if coated
        else "One satin coat over levelled gloss is even everywhere, edges and corners too.",
    )  # fmt: skip


def soap(case: Case) -> Quarrel | None:
    """Soap-coated paper, by what is still to be laid."""
    left = case.coats_left()
    if case.found.project.material.cure.model == "never":
        return None
    if left and case.waterborne:
        answer = (
            f"No: {left} waterborne coats are still to come, and soap left by the paper opens them in craters. "
            "Use open-coat paper, or wipe twice."
        )
    elif left:
        answer = (
            f"Wipe after it: {left} coats are still to come over what it leaves. This film forgives more than a "
            "waterborne one."
        )
    else:
        answer = "Use it: no coat is still to come that its residue could spoil. It clogs less on a film this young."
    return Quarrel(id="soap", question="Soap-coated paper?", answer=answer,
                   other="Clogged paper scratches deeper than any soap harms." if left and case.waterborne
                   else "Open-coat paper leaves nothing that could ever come back.")  # fmt: skip


def wipe(case: Case) -> Quarrel | None:
    """Wiping with solvent, by what bites into the film."""
    material = case.found.project.material
    if material.family == "shellac":
        bite = "alcohol bites into it at once"
    elif case.dissolving:
        bite = "its own thinner melts it for good, however old it is"
    elif case.waterborne:
        bite = "alcohol and strong thinners soften it for weeks"
    else:
        bite = "it is not dissolved any more, but strong thinners swell it"
    return Quarrel(
        id="wipe", question="Wipe with solvent to see scratches?",
        answer=f"With a naphtha-class wipe, yes: it shows scratches and takes oil and dust. Of this film, {bite}.",
        other="A breath, or a lamp held low, shows as much and leaves nothing in the film.",
    )  # fmt: skip
