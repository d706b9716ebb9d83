"""Advice on one instrument's film: what to measure next, how many coats are left to lay, and what will show later."""

import itertools
import math
from dataclasses import replace

from ravden.core.ahead.advice import Counsel, Entry, Sink, Witness
from ravden.core.ahead.building import building, wanted
from ravden.core.ahead.outlook import Outlook, view_of
from ravden.core.film import layers, pores
from ravden.core.film.advice import choices
from ravden.core.materials.mixing import landed_solids, thinned_solids
from ravden.core.record import Air, Coat, Sanding


def counsel(found: Outlook, odds: float | None = None) -> Counsel:
    """Advice from an outlook; odds: how sure one wants to be of the least film, None for the usual."""
    project = found.project
    own = tuple(z.name for z in project.zones if z.name not in project.bare)
    floor = project.instrument.min_film_um
    below = found.ledger.odds_below_floor(floor)
    plan = building(found)
    risk = max(own, key=lambda n: below[n]) if own else project.zones[0].name
    material = project.material
    next_um = plan.coat_um if plan.planned else None
    landed = landed_solids(thinned_solids(material.volume_solids, material.thinner_ratio), material.flight_loss)
    return Counsel(
        risk_zone=risk,
        measure=tuple(choices(found.ledger, risk, next_um, landed)) if project.coats else (),
        coats=wanted(found, plan, plan.planned, odds) if own and floor > 0 else None,
        sinks=sinks(found),
        witness=witness(found),
        entries=_entries(found),
    )


def look_at(found: Outlook, zone_name: str) -> Outlook:
    """The same outlook turned to another zone: its view, and what the counsel says of it; all else is as it was."""
    if zone_name == found.zone:
        return found
    turned = replace(found, view=view_of(found, zone_name))
    if found.counsel is None:
        return turned
    of_zone = replace(found.counsel, sinks=sinks(turned), witness=witness(turned), entries=_entries(turned))
    return replace(turned, counsel=of_zone)


def _entries(found: Outlook) -> tuple[Entry, ...]:
    out = []
    told = [k for i, k in enumerate(found.history) if i == 0 or k.act is not None]
    for before, after in itertools.pairwise(told):
        if after.act is None or isinstance(after.act, Air):
            continue
        (m0, s0), (m1, s1) = before.film.moments(found.zone), after.film.moments(found.zone)
        fresh = after.film.flags[len(before.film.flags) :]
        out.append(
            Entry(
                act=after.act,
                before_um=m0,
                after_um=m1,
                sd_before_um=s0,
                sd_after_um=s1,
                flag=fresh[0] if fresh else None,
            )
        )
    return tuple(out)


def sinks(found: Outlook) -> tuple[Sink, ...]:
    """From the solvent left when a window opens: the film's own shrink, shared by what stands in the pores."""
    out = []
    film = found.ledger.mean_um(found.zone)
    film += sum(c.share(found.project.zone(found.zone)) for c in found.forward.coats)
    for window in found.windows:
        if window.likely_h is None or window.shrink_left_um is None or film <= 0:
            continue
        solvent = window.shrink_left_um / (film + window.shrink_left_um)
        depths = {name: pores.PORE_UM * share for name, share in pores.LEFT_BY_FILLER.items()}
        sunk = {name: pores.sink_um(depth, min(solvent, 0.9)) for name, depth in depths.items()}
        out.append(Sink(window=window.name, at_h=window.likely_h, by_filling=sunk))
    return tuple(out)


def flush_from_h(found: Outlook) -> float | None:
    """From which hour on an unfilled pore of the zone looked at, levelled flush, sinks too little to be seen [h]: the
    solvent that then is left shrinks it by no more than shows under gloss. None: not within sight."""
    line = found.timeline
    if line is None:
        return None
    for i in reversed(range(len(line.hours))):
        solvent = min(max(float(line.phi_mean[i]), 0.0), 0.9)
        if line.hours[i] <= found.now_h or pores.sink_um(pores.PORE_UM, solvent) > pores.SEEN_UM:
            return float(line.hours[i + 1]) if i + 1 < len(line.hours) else None
    return found.now_h


def witness(found: Outlook) -> Witness | None:
    """The top layer since the last sanding that a later one will cut into, coats still planned included."""
    project = found.project
    zone = project.zone(found.zone)
    acts = [a for a in project.acts if a.at_h <= found.now_h and isinstance(a, Coat | Sanding)]
    acts += sorted([*found.forward.coats, *found.forward.sandings], key=lambda a: a.at_h)
    layer = removed = boundary_h = 0.0
    coats = 0
    bounded = False
    for i, act in enumerate(acts):
        if isinstance(act, Coat) and act.share(zone) > 0:
            layer, coats = layer + act.share(zone), coats + 1
        elif isinstance(act, Sanding):
            if any(isinstance(a, Coat) and a.share(zone) > 0 for a in acts[i + 1 :]):
                layer, coats, removed, bounded, boundary_h = 0.0, 0, 0.0, True, act.at_h
            else:
                removed += act.share(zone)
    if not bounded or layer <= 0 or removed <= 0:
        return None
    layer *= math.exp(found.ledger.applicator()[0])
    spread = math.hypot(found.ledger.applicator()[1], zone.k_cv, 0.1 / math.sqrt(coats))
    odds = layers.witness_odds(layer, removed, spread)
    dissolving = project.material.dissolving
    if dissolving:
        odds *= layers.dissolving_share(found.now_h - boundary_h)
    return Witness(odds=odds, layer_um=layer, needed_um=layers.layer_needed_um(removed, spread), dissolving=dissolving)
