"""Colour in the film: where on a zone the last tinted coat ends, and what clear film lies over it. Paper stops above
it."""

from msgspec import Struct

from ravden.core.film.ledger import Ledger
from ravden.core.record import Coat, Project, Zone
from ravden.core.state.history import film_events
from ravden.core.state.through import is_whole, tells_through
from ravden.core.state.tint import under_colour

# [A] over a tint that no sanding takes: what a dissolving coat stirs up of it, and what a layering one does.
STIRRED_UM, LAYERED_UM = 8.0, 3.0


class Colour(Struct, frozen=True, kw_only=True):
    """Of one zone: film up to the top of its last tinted coat [um], sure film over it and its sd [um], and what must
    stay over it [um]."""

    top_um: float
    over_um: float
    sd_um: float
    keep_um: float


def colour_of(project: Project, ledger: Ledger, zone: Zone, until_h: float = float("inf")) -> Colour | None:
    """Where the colour of a zone ends; None: no coat on it is tinted. project: with the coats that the ledger has.

    .. math:: \\sigma_{F - C} = \\sigma_F\\,\\frac{x}{c + x}

    with C, c and x as `under_colour` has them.
    """
    laid, cuts = film_events(project, zone, 1.0, until_h)
    under = under_colour(laid, cuts)
    if under is None:
        return None
    film = ledger.film(zone.name)
    keep = STIRRED_UM if project.finish(zone.name).dissolving else LAYERED_UM
    top_um = film.mean_um if _shows(project, zone, until_h) else under.top_um(film.mean_um)
    return Colour(
        top_um=top_um, over_um=film.mean_um - top_um, sd_um=film.sd_um * ((1.0 - under.share) or 1.0), keep_um=keep
    )  # fmt: skip


def _shows(project: Project, zone: Zone, until_h: float) -> bool:
    """Whether all of the zone is down to its colour, with no coat on it since."""
    for act in sorted((a for a in project.acts if a.at_h <= until_h), key=lambda a: a.at_h, reverse=True):
        if isinstance(act, Coat) and act.covers(zone.name):
            return False
        if tells_through(act) and act.zone == zone.name and act.colour and is_whole(act):
            return True
    return False
