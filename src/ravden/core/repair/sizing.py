"""How many coats a repair wants, how deep it cuts, and with what odds: asked of the ledger, never of the table."""

import math
from dataclasses import dataclass

from ravden.core.abrasive.sandthrough import normal_cdf
from ravden.core.film.layers import REMOVAL_CV, layer_needed_um
from ravden.core.film.ledger import Ledger
from ravden.core.method.steps import SESSION_H
from ravden.core.record import Coat, Zone
from ravden.core.repair.case import Case
from ravden.core.rubout.aim import KEY_FLOOR
from ravden.core.state.colour import colour_of
from ravden.core.state.history import film_events

THIN_ODDS = 0.10  # the least film holds in nine of ten
WITNESS_ODDS = 0.05
DEEPER = 1.15  # of the depth of a print that is levelled off
SINK_LEFT_UM = 1.0  # shrink still to come that does not sink any more to see
GUN_KNOWN_SD, KNOWN_CV, NEW_CV = 0.15, 0.10, 0.28  # [A] spread of a layer with a known gun, and with a new one
MOST_COATS = 40
BLUSH_UM = 3.0  # [A] a cloud lies in the top of the film


@dataclass(frozen=True, slots=True, kw_only=True)
class Cut:
    """How deep to cut back [um], and the odds of going into sound film below [-]."""

    um: float
    odds_over: float


def coat_um(case: Case) -> float:
    """One usual coat of the zone's own finish, nominal [um]."""
    project = case.found.project
    finish = project.finishes.get(case.zone.name)
    if finish is not None:
        return finish.coat_dry_um
    ahead = [s for s in case.found.method.stage if s.kind == "coats" and not (s.zones or s.finish or s.patch)]
    return project.dry_um(project.material, ahead[-1].by, ahead[-1].um) if ahead else project.material.coat_dry_um


def cuts_to_come(case: Case) -> float:
    """Film that the plan will still take off the zone, sanded again where the repair makes that needful [um]."""
    found = case.found
    planned = sum(s.share(case.zone) for s in found.forward.sandings if not s.mends)
    if planned > 0 or not any(s.kind == "level" and not s.mends for s in found.method.stage):
        return planned
    sands = found.sands
    return (sands.level_um + sands.rubout_um) * case.zone.sanding


def coats_to_come(case: Case) -> float:
    """Film that the plan will still lay on the zone [um]."""
    coats = (c for c in case.found.forward.coats if not c.mends)
    return sum(c.share(case.zone) for c in coats)


def floor_um(case: Case) -> float:
    """The least film wanted on the zone [um]: with colour in it, what no paper comes down to."""
    project = case.found.project
    finish = project.finishes.get(case.zone.name)
    least = project.instrument.min_film_um if finish is None else finish.min_film_um
    floor = least * case.zone.floor
    colour = None if case.through else colour_of(project, case.found.ledger, case.zone)
    return floor if colour is None else max(floor, colour.top_um + colour.keep_um)


def tint_of(case: Case) -> Coat | None:
    """The coat that its zone has its colour from; None: there is none in its film."""
    return next((c for c in reversed(case.found.project.coats) if c.tinted and c.covers(case.zone.name)), None)


def local_coats(case: Case, more_um: float = 0.0) -> int:
    """Coats on the spot so that its film, less all cutting still to come, holds the least film in nine of ten. more_um:
    what coats all over put on it besides, nominal [um].

    Source: the ledger with the spot as a zone of its own, its film what is left there.
    """
    spread_on = case.spread != "spot"
    ledger = case.found.ledger if spread_on else case.there.ledger
    zone = case.zone if spread_on else case.there.zone
    ledger = ledger.coat(more_um, [zone.name]) if more_um > 0.01 else ledger
    return _count(ledger, zone, case, cuts_to_come(case), least=1)


def rebuild_coats(case: Case) -> int:
    """Coats that build a stripped zone to its least film, sanding counted."""
    bare = case.found.ledger.stripped([case.zone.name])
    return _count(bare, case.zone, case, cuts_to_come(case), least=2)


def overall_coats(case: Case, taken_um: float) -> int:
    """Coats all over so that the zone, less what the repair takes off [um] and all cutting to come, holds its least
    film in nine of ten; none where the coats to come do it."""
    gone = max(taken_um, DEEPER * (case.depth_um or 0.0) if case.mishap.what in ("sink-back", "print") else 0.0)
    if case.mishap.what == "witness":
        return witness_coats(case)
    if coats_to_come(case) > 0:
        # While it is built, the plan's own coats see to the film: only what the repair took has to come back.
        return max(math.ceil(gone / max(coat_um(case) * case.zone.k_mean, 0.1) - 0.1), 0)
    return _count(case.found.ledger, case.zone, case, cuts_to_come(case) + gone, least=1)


def witness_coats(case: Case) -> int:
    """Coats all over so that the next levelling stays in the top layer but for five in a hundred.

    Source: two lognormals, as for the odds of witness lines (docs/maths.md).
    """
    cut = cuts_to_come(case)
    if cut <= 0:
        return 1
    _, sd = case.found.ledger.applicator()
    wanted = layer_needed_um(cut, KNOWN_CV if sd < GUN_KNOWN_SD else NEW_CV, WITNESS_ODDS)
    return min(max(math.ceil(wanted / max(coat_um(case) * case.zone.k_mean, 0.1) - 1e-9), 1), MOST_COATS)


def _count(ledger: Ledger, zone: Zone, case: Case, cut_um: float, *, least: int) -> int:
    um, floor = coat_um(case), floor_um(case)
    share = max(zone.sanding, 0.05)
    to_come = coats_to_come(case) / max(zone.k_mean, 0.05)
    if floor <= 0:
        return max(least, 1)
    room = case.found.project.finish(case.zone.name).max_film_um
    for count in range(least, MOST_COATS + 1):
        there = ledger.coat(to_come, [zone.name]) if to_come > 0.01 else ledger
        there = there.coat(um, [zone.name], count=count) if count else there
        there = there.worn({zone.name: cut_um / share * zone.sanding}) if cut_um > 0 else there
        if there.odds_below(zone.name, floor) <= THIN_ODDS or there.mean_um(zone.name) > room:
            return count
    return MOST_COATS


def cut_back(case: Case) -> Cut:
    """How deep to cut, to the first sound coat, and the odds of overshooting it by more than a coat.

    Depth of each coat: the ledger's film, coat by coat; what a hand takes off spreads by REMOVAL_CV [A]. Source: normal
    algebra on that.
    """
    depth = _unsound_um(case)
    depth = max(min(depth, case.film_um - 0.5), 0.3) if case.film_um > 1.0 else max(case.film_um * 0.5, 0.1)
    spare = max(coat_um(case) * case.zone.k_mean, 0.1)
    sd = max(math.hypot(REMOVAL_CV * depth, 0.12 * depth), 1e-6)
    return Cut(um=depth, odds_over=1.0 - normal_cdf(spare / sd))


def _unsound_um(case: Case) -> float:
    """Film over the first sound coat [um]."""
    what = case.mishap.what
    if case.mishap.depth_um is not None and case.mishap.depth_um > 0:
        return case.mishap.depth_um
    if what == "blush":
        return BLUSH_UM
    laid, _ = film_events(case.found.project, case.zone, _scale(case), case.mishap.at_h)
    if not laid:
        return case.depth_um or 1.0
    if what == "satin-haze":
        layers = case.found.project.layers
        satin = [c for c in laid if c.finish in layers and layers[c.finish].flatted]
        own = case.found.project.material.flatted
        return sum(c.dry_um for c in (laid if own else satin)) or laid[-1].dry_um
    if what in ("milky", "pop", "tacky", "wrinkling"):
        last = laid[-1].at_h
        return sum(c.dry_um for c in laid if last - c.at_h < SESSION_H)
    return case.height_um if case.kind.ask == "height" else (case.depth_um or laid[-1].dry_um)


def _scale(case: Case) -> float:
    from ravden.core.state.history import scale_of

    return scale_of(case.found.project, case.zone, case.found.ledger, case.found.now_h)


def key_floor_um(case: Case) -> float:
    """What a cut that coats follow must leave [um]."""
    return KEY_FLOOR * floor_um(case)
