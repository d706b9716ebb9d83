"""What is there at the spot where something went wrong: the film as the ledger knows it, and what is gone or stands."""

from dataclasses import dataclass

from ravden.core.film.ledger import Ledger
from ravden.core.record import Mishap, Project, Zone
from ravden.core.state.history import film_events, known
from ravden.core.state.spot import spot_of
from ravden.core.state.tint import under_colour

# [A] how high it stands over the film or how deep it goes where nobody has measured or compared, um
USUAL_HEIGHT_UM = {
    "run": 40.0, "nib": 10.0, "orange-peel": 18.0, "dry-spray": 12.0, "raised-grain": 25.0, "build-up": 60.0,
    "wrinkling": 40.0, "swelling": 40.0, "dry-patch": 6.0,
}  # fmt: skip
USUAL_DEPTH_UM = {
    "stray-scratch": 4.0, "swirl": 0.6, "burn": 12.0, "print": 5.0, "sink-back": 6.0, "fish-eye": 20.0, "pop": 25.0,
    "blush": 0.0, "pinholes": 30.0,
}  # fmt: skip
THROUGH = ("sand-through", "chip", "worn-through", "peeling")  # nothing of the finish is left there
NEAR_UM = 1.0  # less film than this under a depth is none


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SpotFilm:
    """The spot as a zone of its own, with the ledger up to now; lost_um: film gone there, None for all of it;
    height_um: what stands over it; before_um: the film of the zone when it happened, without either."""

    project: Project
    zone: Zone
    ledger: Ledger
    lost_um: float | None
    height_um: float
    before_um: float


def height_of(mishap: Mishap) -> float:
    """How high it stands over the film [um]."""
    return USUAL_HEIGHT_UM.get(mishap.what, 0.0) if mishap.height_um is None else mishap.height_um


def depth_of(mishap: Mishap) -> float | None:
    """How deep it goes [um]; None: down to what lies under the finish."""
    if mishap.depth_um is not None:
        return mishap.depth_um
    return None if mishap.what in THROUGH else USUAL_DEPTH_UM.get(mishap.what, 0.0)


def spot_film(project: Project, mishap: Mishap, now_h: float) -> SpotFilm:
    """The film of the spot now. What goes deeper than the film is all of it."""
    before = _before(project, mishap)
    lost, height = depth_of(mishap), height_of(mishap)
    if mishap.colour:
        under = under_colour(*film_events(project, project.zone(mishap.zone), 1.0, mishap.at_h))
        lost = None if under is None else max(before - under.top_um(before), 0.0)
    if lost is not None and lost >= before - NEAR_UM and lost > 0:
        lost = None
    # Waves and dust stand on the film they are made of; only what pooled is more of it.
    stands = height if mishap.what in ("run", "build-up") else 0.0
    made, zone = spot_of(project, mishap, lost, stands)
    return SpotFilm(
        project=made, zone=zone, ledger=known(made, now_h).ledger, lost_um=lost, height_um=height, before_um=before
    )


def _before(project: Project, mishap: Mishap) -> float:
    """Film the zone had when it was noticed, from what was laid and taken off by then [um]: no reading is asked."""
    zone = project.zone(mishap.zone)
    laid = sum(c.share(zone) for c in project.coats if c.at_h <= mishap.at_h)
    gone = sum(s.share(zone) for s in project.sandings if s.at_h <= mishap.at_h)
    return max(laid - gone - sum(project.absorbed.get(zone.name, ())), 0.0)
