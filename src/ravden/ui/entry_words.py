"""Entries of the journal in a few words, for notices and history. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.core.record import Coat
from ravden.journal.entries import (
    AirLogged,
    AirSeries,
    AirUsual,
    CabinetLogged,
    CoatLogged,
    DrawerSet,
    Entry,
    ExposureLogged,
    InstrumentAdded,
    MethodKept,
    MishapLogged,
    PassLogged,
    PlanSet,
    PriceSet,
    RateAccepted,
    ReadingLogged,
    SandingLogged,
    ShopNamed,
    StepLogged,
    ZonesSet,
)
from ravden.journal.shop import OnRack
from ravden.ui import words

if TYPE_CHECKING:
    from ravden.ui.session import ShopSession


def describe(session: ShopSession, entry: Entry) -> str:
    """An entry in a few words, for notices and history."""
    body, units = entry.body, session.units
    on_rack = session.shop.racked.get(entry.instrument)
    name = on_rack.project.instrument.name if on_rack else ""
    if isinstance(body, CoatLogged):
        text = f"{_coat_words(session, body, entry, on_rack)} on {name}, {units.film(body.dry_um)} dry"
        text += f" ({body.how})" if body.how else ""
    elif isinstance(body, SandingLogged):
        text = f"sanding on {name}, {units.film(body.um)} off" + (f" with {body.grade}" if body.grade else "")
    elif isinstance(body, ReadingLogged):
        text = f"{words.reading(body, units)} on {name}"
    elif isinstance(body, ZonesSet):
        masked = ", ".join(body.masked) or "nothing"
        text = f"{name}: {masked} masked" + "".join(f", {z} in {m}" for z, m in body.finishes.items())
    elif isinstance(body, AirSeries):
        what = "forecast" if body.source == "forecast" else "logger file"
        text = f"{what} {body.name}, {words.plural(len(body.hours), 'row')}"
    elif isinstance(body, RateAccepted):
        text = f"{session.catalogue.material(body.material).label} here: {words.rate(body.ln_mean)}"
    elif isinstance(body, AirUsual):
        text = "the shop's usual air, by month"
    elif isinstance(body, CabinetLogged):
        text = f"{name} in the warm cabinet, {units.temperature(body.temp_C)} for {words.wait(body.hours)}"
    elif isinstance(body, ExposureLogged):
        text = f"light on {name}, {body.how or f'{body.dose_mJ_cm2:.0f} mJ/cm²'}"
    elif isinstance(body, DrawerSet):
        text = f"abrasives in the drawer: {len(body.owned) + len(body.own)}"
    elif isinstance(body, MethodKept):
        text = f"method from {body.name}"
    elif isinstance(body, PassLogged):
        text = f"a pass on {name}"
    elif isinstance(body, PlanSet):
        text = f"plan of {name}: {body.what or ('the steps of its method' if not body.stage else 'other steps')}"
    elif isinstance(body, PriceSet):
        text = f"{session.catalogue.material(body.material).label}, {body.per_litre:g} a litre"
    elif isinstance(body, StepLogged):
        text = f"{body.step} on {name} {'skipped' if body.skipped else 'done'}"
    elif isinstance(body, MishapLogged):
        text = f"{body.what.replace('-', ' ')} on {name}" + (f" after {body.grade}" if body.grade else "")
    elif isinstance(body, AirLogged):
        text = f"shop air {units.temperature(body.temp_C)}, {100 * body.rh:.0f} % humidity"
    elif isinstance(body, InstrumentAdded):
        text = f"{body.name} on the rack"
    elif isinstance(body, ShopNamed):
        text = f"shop file {body.name}"
    else:
        text = "an entry"
    at = words.moment(session.local(entry.at), session.local(session.now))
    return f"{text[:1].upper()}{text[1:]}, {at}"


def _coat_words(session: ShopSession, body: CoatLogged, entry: Entry, on_rack: OnRack | None) -> str:
    """Which coat it was, as far as anyone is sure."""
    if body.finish:
        return f"coat of {session.catalogue.material(body.finish).label.lower()}"
    if body.count_odds:
        return " or ".join(str(n) for n, _ in body.count_odds) + " coats"
    if on_rack is None:
        return "a coat"
    before = [c for c in on_rack.acts if isinstance(c, Coat) and not c.finish and c.at_h <= on_rack.hours(entry.at)]
    last = round(sum(c.likely_count for c in before))
    return f"coat {last}" if body.count == 1 else f"coats {last - body.count + 1} to {last}"
