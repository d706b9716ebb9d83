"""Quarrels over coats: how many, how heavy, what between them, how long to wait, and what may touch them."""

from msgspec.structs import replace

from ravden.core.abrasive.scuff import chemistry, scuff
from ravden.core.ahead.counsel import witness
from ravden.core.ahead.dated import Forward, WhatIf
from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import HORIZON_H
from ravden.core.cure.asked import Sampling
from ravden.core.cure.windows import windows
from ravden.core.errors import InputError
from ravden.core.fact import fact
from ravden.core.method.steps import left
from ravden.core.quarrels.quarrel import Case, Quarrel, quarrel
from ravden.core.record import Coat
from ravden.core.state.history import cure

SHELF_COATS = 3  # what a can's drying time is told for
HEAVIER = 1.5  # [A] a heavy coat against a usual one


def between(case: Case) -> Quarrel | None:
    """Sanding between coats, by chemistry."""
    found = case.found
    if found.project.material.cure.model == "never":
        return None
    if case.oil:
        return quarrel("between", fact("between-oil", coat_um=found.project.material.coat_dry_um))
    seen = witness(found)
    cut = None if seen is None else fact("would-cut", odds=seen.odds, layer_um=seen.layer_um)
    if case.dissolving:
        taken = sum(s.um for s in found.forward.sandings)
        return quarrel("between", fact("between-melts", taken_um=taken), fact("between-melts-other", cut=cut))
    limit = getattr(found.project.material.cure, "recoat_h", 0.0)
    since = found.now_h - found.progress.last_coat_h if found.progress.last_coat_h is not None else None
    if limit and since is not None:
        now = fact("key-by-age", age_h=since, wants=since > limit)
    else:
        now = fact("key-within", limit_h=limit) if limit else fact("key-always")
    return quarrel("between", fact("between-layers", now=now, cut=cut, needed_um=seen.needed_um if seen else None))


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
    fine, coarse = fit[-1], fit[0].rung.abrasive.name
    grade = fine.rung.abrasive.name
    if case.dissolving:
        return quarrel(
            "fineness", fact("fineness-melts", grade=grade, deepest_um=fine.deepest_um),
            fact("fineness-melts-other", grade=coarse),
        )  # fmt: skip
    hides, coat = fine.next_coat_um or 0.0, material.coat_dry_um
    return quarrel(
        "fineness", fact("fineness-layers", grade=grade, hides_um=hides, coat_um=coat, hidden=coat >= hides),
        fact("fineness-layers-other", grade=coarse),
    )  # fmt: skip


def weight(case: Case) -> Quarrel | None:
    """Thin coats or thick ones: both planned, and their ready days set side by side."""
    found = case.found
    coats = case.coats_left()
    if coats < 3 or found.project.material.cure.model == "never":
        return None
    thin = found.project.material.coat_dry_um
    heavy = thin * HEAVIER
    a, b = found.forward, _with_fewer(found, max(round(coats / HEAVIER), 1), coats, heavy)
    fewer = sum(not c.finish for c in b.coats)
    if a.finished_h is None or b.finished_h is None:
        return None
    days = (b.finished_h - a.finished_h) / 24
    shrink = [w.shrink_left_um or 0.0 for plan_ in (a, b) for w in plan_.windows[:1]]
    sinks = fact("sinks-more", heavy_um=shrink[1], thin_um=shrink[0]) if len(shrink) == 2 else None
    whole = round(abs(days))
    answer = fact(
        "weight", thin=days > 0.5, fewer=fewer, heavy_um=heavy, coats=coats, thin_um=thin, days=whole, one=whole == 1,
        later=days > 0, saved=coats - fewer, sinks=sinks,
    )  # fmt: skip
    return quarrel("weight", answer)


def _with_fewer(found: Outlook, fewer: int, coats: int, heavy_um: float) -> Forward:
    """The plan with so many of its coats still to lay, each so heavy, spread over its steps as they are now."""
    stages, at = list(found.method.stage), found.progress.index
    own = [i for i, s in left(found.method, found.progress) if s.kind == "coats" and not s.finish]
    todo = {i: stages[i].count - (found.progress.coats_in_stage if i == at else 0) for i in own}
    rest, of = fewer, sum(todo.values())
    for i in own:
        share = max(round(rest * todo[i] / of), 1) if of else 0
        rest, of = rest - share, of - todo[i]
        stages[i] = replace(stages[i], count=stages[i].count - todo[i] + share)
    method = replace(found.method, stage=tuple(stages))
    return plan_forward(
        found.project, method, found.ledger, found.now_h, found.hours, found.sands, found.slowest,
        WhatIf(coat_um=heavy_um), ranges=False,
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
    shelved = cure(found.project, shelf, (), Sampling(until_h=start + HORIZON_H, rough=True))
    opens = windows(shelved, found.project.instrument.judged_C).at(window.name)
    if opens is None:
        return None
    own = [c for c in (*found.project.coats, *found.forward.coats) if c.at_h < window.likely_h and not c.finish]
    laid = [h for c in own for h in c.hours]
    mine = window.likely_h - max(laid, default=start)
    shelf_h = opens - shelf[-1].at_h
    answer = fact(
        "waiting", wait_h=mine, known=window.shrink_left_um is not None, shrink_um=window.shrink_left_um,
        shelf_h=shelf_h, coats=len(laid)
    )  # fmt: skip
    return quarrel("waiting", answer)


def satin(case: Case) -> Quarrel | None:
    """Satin from the gun or rubbed."""
    found = case.found
    sheen = found.project.instrument.sheen
    if sheen not in ("satin", "matte", "semi-gloss") or not case.sands:
        return None
    rubbed = case.ladder(target=sheen, flatted=False)
    coated = any(f.endswith("-satin") for f in found.method.finishes)
    cost = None if rubbed is None else fact("rub-cost", minutes=rubbed.minutes, film_um=rubbed.film_used_um)
    other = "satin-coated-other" if coated else "satin-rubbed-other"
    return quarrel("satin", fact("satin", coated=coated, sheen=sheen, cost=cost or fact("not-in-drawer")), other)


def soap(case: Case) -> Quarrel | None:
    """Soap-coated paper, by what is still to be laid."""
    left = case.coats_left()
    if case.found.project.material.cure.model == "never":
        return None
    if left and case.waterborne:
        return quarrel("soap", fact("soap-craters", coats=left))
    return quarrel("soap", fact("soap-wiped", coats=left) if left else fact("soap-fine"), "soap-fine-other")


def wipe(case: Case) -> Quarrel | None:
    """Wiping with solvent, by what bites into the film."""
    material = case.found.project.material
    if material.family == "shellac":
        bite = "bites-alcohol"
    elif case.dissolving:
        bite = "bites-thinner"
    else:
        bite = "bites-weeks" if case.waterborne else "bites-swells"
    return quarrel("wipe", fact("wipe", bite=fact(bite)))
