"""Colour in the film: where on a zone the last tinted coat ends, and what clear film lies over it. Paper stops above
it."""

from msgspec import Struct

from ravden.core.film.ledger import Ledger
from ravden.core.record import Project, Zone
from ravden.core.state.history import film_events

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

    .. math:: C = (F + S)\\,\\frac{c}{c + x},\\quad \\sigma_{F - C} = \\sigma_F\\,\\frac{x}{c + x}

    F: film there; S: sanded off since the first clear coat over the colour; c, x: nominal film up to the colour's top,
    sandings taken off, and over it. The coats are as heavy as one another [A].
    """
    laid, cuts = film_events(project, zone, 1.0, until_h)
    tints = [c.at_h for c in laid if c.tinted]
    if not tints:
        return None
    last = max(tints)
    over = [c for c in laid if c.at_h > last]
    film = ledger.film(zone.name)
    keep = STIRRED_UM if project.finish(zone.name).dissolving else LAYERED_UM
    if not over:
        return Colour(top_um=film.mean_um, over_um=0.0, sd_um=film.sd_um, keep_um=keep)
    begins = min(c.at_h for c in over)
    under_um = max(sum(c.dry_um for c in laid if c.at_h <= last) - sum(s.um for s in cuts if s.at_h <= begins), 0.0)
    clear_um = sum(c.dry_um for c in over)
    share = under_um / max(under_um + clear_um, 1e-9)
    since = sum(s.um for s in cuts if s.at_h > begins)
    top_um = min((film.mean_um + since) * share, film.mean_um)
    return Colour(
        top_um=top_um, over_um=film.mean_um - top_um, sd_um=film.sd_um * (1.0 - share), keep_um=keep
    )  # fmt: skip
