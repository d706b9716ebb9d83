"""The next coat and the plan, tried out: what the sliders stand for, and what they would do, in words. No Qt."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from ravden.core.ahead.dated import WhatIf
from ravden.core.ahead.stages_tried import is_build
from ravden.core.climate.air import spare_K
from ravden.core.errors import InputError
from ravden.core.film import wetcoat
from ravden.core.film.wetcoat import Conditions, WetWindow
from ravden.core.materials import mixing
from ravden.core.method.steps import left
from ravden.core.record import Material, Project
from ravden.core.state.history import air_at
from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.catalogue.tables import Catalogue
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.whatif import Tried
    from ravden.core.method.steps import Stage
    from ravden.text.units import Units

WET_MOST_UM, PAD_MOST_ML, MIX_MOST, COATS_MOST = 200.0, 30.0, 1.0, 30
CUT_LEAST, CUT_MOST = 0.5, 4.0
USUAL_CUT = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """What the sliders say. amount: wet film on the work [um], or millilitres taken up by a pad; mix: thinner to
    material by volume, or the cut [lb/gal]; coats: still to lay."""

    padded: bool
    amount: float
    mix: float
    coats: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Bar:
    """The safe wet film upright and lying flat, as (low, high) [um]; None: none."""

    upright: tuple[float, float] | None
    flat: tuple[float, float] | None
    most: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TrialShown:
    """The panel's words. tone: open, warn or plain; bar None: how this finish flows is not known, or a pad lays it."""

    trial: Trial
    amount: str
    mix: str
    coats: str
    tone: str
    verdict: str
    detail: str
    outcome: str
    bar: Bar | None
    amount_label: str
    mix_label: str


def dry_um(catalogue: Catalogue, project: Project, trial: Trial) -> float:
    """Nominal dry film of one such coat [um]."""
    material = project.material
    if trial.padded:
        return mixing.pad_session_um(trial.amount, trial.mix, _area(project), catalogue.applicators["pad"].transfer)
    return trial.amount * _landed(material, trial.mix)


def usual(catalogue: Catalogue, found: Outlook) -> Trial:
    """The sliders as the plan has it: of the coats being built, or the last that were."""
    project = found.project
    material = project.material
    stage, coats = _building(found)
    coat_um = material.coat_dry_um if stage is None else project.dry_um(material, stage.by, stage.um)
    if catalogue.applied[material.id] == "pad":
        solids = mixing.shellac_volume_solids(USUAL_CUT)
        kept = catalogue.applicators["pad"].transfer
        ml = coat_um * _area(project) * 1e-4 / (solids * kept)
        return Trial(padded=True, amount=ml, mix=USUAL_CUT, coats=coats)
    wet = coat_um / _landed(material, material.thinner_ratio)
    return Trial(padded=False, amount=wet, mix=material.thinner_ratio, coats=coats)


def _building(found: Outlook) -> tuple[Stage | None, int]:
    """The stage of coats being built, or the last one, and how many of it are still to lay."""
    ahead = next((s for _, s in left(found.method, found.progress) if is_build(s)), None)
    if ahead is not None:
        return ahead, min(ahead.count, COATS_MOST)
    return next((s for s in reversed(found.method.stage) if is_build(s)), None), 0


def what_if(catalogue: Catalogue, found: Outlook, trial: Trial) -> WhatIf:
    """The change of plan the sliders ask for; none where they stand as the plan has it, so that it is the plan to the
    digit."""
    plan = usual(catalogue, found)
    as_heavy = (trial.amount, trial.mix) == (plan.amount, plan.mix)
    return WhatIf(
        coats=None if trial.coats == plan.coats else trial.coats,
        coat_um=None if as_heavy else dry_um(catalogue, found.project, trial),
    )


def how(trial: Trial, units: Units) -> str:
    """How a coat so tried is described in the journal."""
    if trial.padded:
        return f"{written.number(trial.amount, '.1f')} ml of a {written.number(trial.mix, '.2g')} lb cut"
    thinned = f", thinned {100 * trial.mix:.0f} %" if trial.mix else ""
    return f"{units.film(trial.amount)} wet{thinned}"


def show(session: ShopSession, found: Outlook, trial: Trial, result: Tried | None) -> TrialShown:
    """The panel; result None: still being worked out."""
    catalogue, units = session.catalogue, session.units
    project = found.project
    dry = dry_um(catalogue, project, trial)
    stage, _ = _building(found)
    per_session = stage.per_session if stage is not None else 1
    outcome = "Working it out …"
    if result is not None:
        zone = project.zone(found.zone).label.lower()
        span = units.film_range(result.low_um, result.high_um)
        outcome = (
            f"In the end: {units.film(result.middle_um)} on the {zone} ({span}), "
            f"{_percent(result.odds_of_floor)} sure of {units.film(project.instrument.min_film_um)}."
        )
        if result.finished_h is not None:
            rack = session.shop.on_rack(project.instrument.id)
            at = session.local(rack.moment(result.finished_h))
            outcome += f" Ready for the case {words.day(at, session.local(session.now))}."
    coats = words.plural(trial.coats, "coat")
    if trial.padded:
        pad = catalogue.applicators["pad"]
        low, high = pad.dry_low_um, pad.dry_high_um
        tone, verdict = "open", f"A usual session: {units.film(dry)} dry."
        if dry > high:
            tone, verdict = "warn", f"Too much for one session: {units.film(dry)} dry drags and stays soft; split it."
        elif dry < low:
            tone, verdict = "plain", f"Very little: {units.film(dry)} dry."
        usual_span, kept = units.film_range(low, high), 100 - 100 * pad.transfer
        detail = f"{usual_span} a session is usual (A); the pad keeps {kept:.0f}\u00a0%."
        return TrialShown(
            amount=f"{written.number(trial.amount, '.1f')} ml",
            mix=f"{written.number(trial.mix, '.2g')} lb", tone=tone, verdict=verdict, detail=detail,
            bar=None, amount_label="Taken up, a session", mix_label="Cut", trial=trial, coats=coats, outcome=outcome,
        )  # fmt: skip
    tone, verdict, bar = _spray_verdict(session, found, trial)
    leaves = f"{units.film(dry)} dry a coat."
    if per_session > 1:
        wet = units.film(per_session * trial.amount)
        leaves += f" {words.plural(per_session, 'coat')} a session is {wet} wet: stop there."
    return TrialShown(
        amount=units.film(trial.amount), mix=f"{100 * trial.mix:.0f} %", tone=tone, verdict=verdict, detail=leaves,
        bar=bar, amount_label="Wet film, each coat", mix_label="Thinner, to the material", trial=trial, coats=coats,
        outcome=outcome,
    )  # fmt: skip


def conditions(found: Outlook, trial: Trial, slope_deg: float) -> Conditions:
    """The shop's air now, on a slope."""
    air = air_at(found.project, found.now_h)
    return Conditions(
        temp_C=min(max(air.temp_C, 0.0), 45.0), rh=min(max(air.rh, 0.01), 1.0), slope_deg=slope_deg,
        thinner_ratio=trial.mix,
    )  # fmt: skip


CAUSES = {
    "orange peel": "does not flow out", "dry spray": "lands half dry", "sag": "runs on upright work",
    "trapped solvent": "traps solvent", "haze": "dries hazy in this damp", "blush": "blushes in this damp",
}  # fmt: skip
CURES = {
    "blush": "wait for drier air, or use a slower thinner", "dry spray": "use a slower thinner, or come closer",
    "orange peel": "thin it a little more", "sag": "lay it flat, or thin it less", "haze": "wait for drier air",
    "trapped solvent": "lay it lighter",
}  # fmt: skip


def _spray_verdict(session: ShopSession, found: Outlook, trial: Trial) -> tuple[str, str, Bar | None]:
    flow = session.catalogue.families[found.project.material.flow].flow if found.project.material.flow else None
    if flow is None:
        return "plain", "How this finish flows is not known: go by its data sheet.", None
    units = session.units
    flow = replace(flow, solids=found.project.material.volume_solids)
    upright = wetcoat.window(flow, conditions(found, trial, 90.0))
    flat = wetcoat.window(flow, conditions(found, trial, 0.0))
    bar = Bar(upright=_span(upright), flat=_span(flat), most=WET_MOST_UM)
    wet = trial.amount
    air = conditions(found, trial, 90.0)
    if not upright.open and not flat.open:
        causes = f"{CAUSES[upright.low_why]} below {units.film(upright.low_um)}, {CAUSES[upright.high_why]} over "
        causes += units.film(upright.high_um)
        return "warn", f"No safe coat in this air: it {causes}. {_sentence(CURES[upright.high_why])}.", bar
    spare = spare_K(wet, air.temp_C, air.rh, air.thinner) if flow.blushes else math.inf
    if upright.low_um <= wet <= upright.high_um:
        said = f"Safe, upright and flat: {units.film_range(upright.low_um, upright.high_um)} wet."
        tone = "open"
    elif flat.low_um <= wet <= flat.high_um:
        said = f"Safe lying flat only: upright it {CAUSES[upright.high_why]} over {units.film(upright.high_um)}."
        tone = "plain"
    elif wet < flat.low_um:
        said = f"Too light: under {units.film(flat.low_um)} it {CAUSES[flat.low_why]}; {CURES[flat.low_why]}."
        tone = "warn"
    else:
        said = f"Too heavy even lying flat: over {units.film(flat.high_um)} it {CAUSES[flat.high_why]}."
        tone = "warn"
    if 0 <= spare < wetcoat.WARN_K:
        said += f" Only {written.number(spare, '.1f')} K above the dew point: it may blush."
        tone = "warn"
    return tone, said, bar


def _span(window: WetWindow) -> tuple[float, float] | None:
    return (window.low_um, min(window.high_um, WET_MOST_UM)) if window.open else None


def _sentence(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}"


def _percent(odds: float) -> str:
    return "over 99 %" if odds > 0.99 else "under 1 %" if odds < 0.01 else f"{100 * odds:.0f} %"


def _landed(material: Material, thinner_ratio: float) -> float:
    return mixing.landed_solids(mixing.thinned_solids(material.volume_solids, thinner_ratio), material.flight_loss)


def _area(project: Project) -> float:
    area = sum(z.area_cm2 for z in project.zones if z.name not in project.bare)
    if area <= 0:
        raise InputError("zones", "every zone is masked")
    return area
