"""What stands beside the large type: air, wet film, the order of zones, mixes, the film so far. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app.mixing import pot_of
from ravden.app.next_act import ready_text
from ravden.app.session import ShopSession
from ravden.core.climate.air import spare_K
from ravden.core.climate.blush import SLOW, blushes, slow_only
from ravden.core.film import wetcoat
from ravden.core.materials.mixing import landed_solids, thinned_solids
from ravden.core.record import Air, Material
from ravden.core.session.turns import Turn
from ravden.core.session.wet_edge import open_s, wet_edge_order
from ravden.core.state.history import air_at
from ravden.text import words, written
from ravden.ui.places.booth import turns
from ravden.ui.places.booth.said import clock_text

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook

LEAST_SPARE_K = 3.0  # [A] a surface nearer to the dew point than this may blush
WORN_S = 300.0  # [A] of pot life left, when the mix is to be used up
LIVE = timedelta(minutes=2)  # a sensor that has said nothing for longer is taken to be gone


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveAir:
    """What a hygrometer said last, and when; connected: whether it is still there."""

    temp_C: float
    rh: float
    at: datetime
    connected: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions:
    """The air, and what it means for the finish, each with its tone."""

    air: str
    air_tone: str
    finish: str = ""
    finish_tone: str = "plain"


def material_of(session: ShopSession, here: Turn, instrument: str = "") -> tuple[Material, str]:
    """What is laid now, and how; instrument: the one turned to where none is named."""
    rack = session.shop.on_rack(instrument or session.selected)
    material = session.catalogue.material(here.finish) if here.finish else rack.project.material
    return material, here.by or session.catalogue.applied[material.id]


def conditions(session: ShopSession, here: Turn, live: LiveAir | None, instrument: str = "") -> Conditions:
    """The air against what is laid: live from the sensor where there is one."""
    now, units = session.now, session.units
    rack = session.shop.on_rack(instrument or session.selected)
    air = air_at(rack.project_at(now), rack.hours(now))
    text, tone = "", "plain"
    if live is not None and live.connected and now - live.at < LIVE:
        air = replace(air, temp_C=live.temp_C, rh=live.rh)
        text = f"{units.temperature(air.temp_C)}, {100 * air.rh:.0f} % humidity, by the sensor"
    else:
        text = f"{units.temperature(air.temp_C)}, {100 * air.rh:.0f} % humidity"
        if live is not None:
            at = session.local(live.at)
            text, tone = (
                f"{text}. The sensor has been silent since {written.clock(at)}; this is the air it told last",
                "warn",
            )
    material, way = material_of(session, here, instrument)
    family = session.catalogue.families.get(material.flow)
    laid = here.kind not in ("other", "done", "light", "lit")
    told, finish_tone = _limits(session, material, air) if laid else ([], "plain")
    poured = way in ("spray", "brush")  # a pad or cloth leaves nothing to comb
    if family is None or family.flow is None or not poured:
        return Conditions(air=text, air_tone=tone, finish=" ".join(told), finish_tone=finish_tone)
    flow = family.flow
    if flow.blushes:
        wet = rack.project.dry_um(material, here.by, here.um) / landed_solids(
            thinned_solids(material.volume_solids, material.thinner_ratio), material.flight_loss
        )
        spare = spare_K(wet, air.temp_C, air.rh)
        told.append(f"A fresh coat is {abs(spare):.0f} K {'over' if spare >= 0 else 'under'} the dew point.")
        finish_tone = "warn" if spare < LEAST_SPARE_K else finish_tone
        if slow_only(material, air, way):
            told.append("With slow thinner only: with the usual one it turns white.")
        elif blushes(material, air.temp_C, air.rh, SLOW, way):
            told.append("It turns white with any thinner: warm or dry the air.")
    limit = wetcoat.window(flow, _at(material, air))
    if limit.open:
        low, high = session.units.film_number(limit.low_um), session.units.film(limit.high_um)
        told.append(f"Wet coat, upright: {low} to {high} on the comb.")
    else:
        told.append(f"No safe wet coat upright in this air: {limit.high_why}.")
        finish_tone = "warn"
    return Conditions(air=text, air_tone=tone, finish=" ".join(told), finish_tone=finish_tone)


def _limits(session: ShopSession, material: Material, air: Air) -> tuple[list[str], str]:
    """The air against what this family of finishes is laid in: words and tone."""
    limits = session.catalogue.booth.limits.get(material.family)
    if limits is None:
        return [], "plain"
    units = session.units
    span = (
        f"{units.temperature(limits.low_C)} to {units.temperature(limits.high_C)}, up to {100 * limits.high_rh:.0f} %"
    )
    outside = limits.outside(air.temp_C, air.rh)
    if not outside:
        return [f"The air is within its {span}."], "plain"
    return [f"{text[:1].upper()}{text[1:]}." for text in outside] + [f"Wanted: {span}."], "warn"


def _at(material: Material, air: Air) -> wetcoat.Conditions:
    return wetcoat.Conditions(
        temp_C=min(max(air.temp_C, 0.0), 45.0), rh=max(air.rh, 0.01), thinner_ratio=material.thinner_ratio
    )


def order(session: ShopSession, here: Turn) -> tuple[str, ...]:
    """Labels of the zones in the order they are laid: the session's own, else for pad, rag and brush the one that meets
    a wet edge wet; none where any will do."""
    if here.kind not in ("coat", "pass"):
        return ()
    rack = session.shop.on_rack(session.selected)
    label = {z.name: z.label for z in rack.project.zones}
    chosen = turns.named_zones(session, session.selected)
    if chosen and set(here.zones or rack.open_zones) == set(chosen):
        return tuple(label[z] for z in chosen)
    if material_of(session, here)[1] == "spray":
        return ()
    first, alone = wet_edge_order(here.zones or rack.open_zones, session.catalogue.booth.places)
    text = tuple(label[z] for z in first)
    return (*text, f"{label[alone]} by itself" if text else label[alone]) if alone else text


def open_for(session: ShopSession, here: Turn) -> str:
    """How long an edge stays wet, for pad, rag and brush."""
    material, way = material_of(session, here)
    family = session.catalogue.families.get(material.flow)
    if way == "spray" or here.kind not in ("coat", "pass") or family is None or family.flow is None:
        return ""
    rack = session.shop.on_rack(session.selected)
    air = air_at(rack.project_at(session.now), rack.hours(session.now))
    wet = rack.project.dry_um(material, here.by, here.um) / thinned_solids(
        material.volume_solids, material.thinner_ratio
    )
    seconds = open_s(family.flow, _at(material, air), wet)
    if seconds is None:
        return ""
    span = f"{max(5 * round(seconds / 5), 5)} s" if seconds < 90 else words.minutes(seconds / 60)
    return f"An edge stays wet for about {span}."


def mixes(session: ShopSession) -> tuple[tuple[str, str], ...]:
    """Every mix of the session going on whose pot life runs: words and tone, the newest of each material."""
    open_session = turns.going_on(session)
    if open_session is None:
        return ()
    out = []
    for mixed in {m.material: m for m in open_session.mixes}.values():
        pot = pot_of(session, mixed.material)
        label = session.catalogue.material(mixed.material).label
        if pot is None:
            continue
        air = shop_air_C(session)
        left = pot.at(air) * 60.0 - (session.now - mixed.at).total_seconds()
        what = f"{label}, {mixed.ml:.0f} ml mixed at {written.clock(session.local(mixed.at))}"
        if left <= 0:
            out.append((f"{clock_text(left)} past its pot life: {what}. Do not lay it; mix anew.", "warn"))
        else:
            tone = "warn" if left < WORN_S else "plain"
            out.append((f"{clock_text(left)} of pot life left: {what}. The data sheet counts.", tone))
    return tuple(out)


def shop_air_C(session: ShopSession) -> float:
    """The air a mix stands in [C]."""
    rack = session.rack or next(iter(session.shop.racked.values()))
    return air_at(rack.project_at(session.now), rack.hours(session.now)).temp_C


def film(session: ShopSession, found: Outlook | None, here: Turn) -> str:
    """The film as it is known now, what this session may still take, and the next window."""
    if found is None or not found.project.coats:
        return "No film yet." if not session.shop.on_rack(session.selected).project.coats else "…"
    zone = found.zones[0]
    mean = session.units.film(zone.film.mean_um)
    span = session.units.film_range(zone.film.p05_um, zone.film.p95_um)
    text = f"{zone.label}: {mean} ({span})"
    for w in found.windows[:1]:
        if w.likely_h is not None:
            text += f"; {words.ACTS[w.name].lower()} {ready_text(session, session.selected, w)}"
    if here.per_session and here.kind in ("pass", "coat", "stop"):
        left = max(here.per_session - here.in_session, 0)
        more = f"{words.plural(left, 'more coat')} today" if left else "no more coat today"
        text += f"; {more}"
    return text
