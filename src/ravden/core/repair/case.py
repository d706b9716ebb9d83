"""A defect as it lies on an instrument: how far along the work is, what film is there, and how much of it is meant."""

import math
from dataclasses import dataclass

from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError, need
from ravden.core.fact import Fact, fact
from ravden.core.record import Mishap, Sanding, Zone
from ravden.core.repair.table import DefectKind, group_of
from ravden.core.rubout.aim import SANDED
from ravden.core.state.damage import SpotFilm, depth_of, height_of, spot_film

WET_H = 0.5  # [A] so long a slow finish can still be brushed out
SHALLOW_UM = 60.0  # [A] a dent no deeper than this can come up again
WIDE_MM = 120.0  # [A] further across than this it is the zone that is meant
LEAST_FILM_UM = 0.5
ALL_OVER = (
    "orange-peel", "dry-spray", "blush", "milky", "satin-haze", "witness", "sink-back", "checking", "blotch",
    "raised-grain", "tacky", "clogs",
)  # fmt: skip
SPOTS = ("run", "nib", "build-up", "stray-scratch", "ding", "chip", "sand-through")  # however large
SAME_SPOT_MM = 25.0  # [A] nearer than this it is one spot
# No spot has both: what is through has nothing that could be too thick, wet or clouded.
CONTRARY = tuple(
    {gone, there}
    for gone in ("sand-through", "worn-through", "peeling")
    for there in ("run", "build-up", "blush", "milky", "tacky", "satin-haze")
)
ON_WOOD = ("blotch", "raised-grain", "swelling", "ding")  # what can be there before there is any film


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Case:
    """group: of its finish, D, L, O or P; stage: b built, h hardening, l levelled, f finished; spread: spot, zone or
    all; film_um: of the zone now; depth_um: None down to the wood; there: the spot as a zone of its own; gloss: whether
    the top may be polished; wet: whether it can still be brushed."""

    found: Outlook
    mishap: Mishap
    kind: DefectKind
    group: str
    stage: str
    zone: Zone
    spread: str
    film_um: float
    height_um: float
    depth_um: float | None
    there: SpotFilm
    gloss: bool
    wet: bool

    @property
    def through(self) -> bool:
        """Whether nothing of the finish is left on the spot."""
        return self.there.lost_um is None

    def only(self, what: str) -> bool:
        """Whether a condition of a repair holds."""
        return {
            "": True, "wet": self.wet, "spot": self.spread == "spot", "gloss": self.gloss,
            "bare": self.film_um < LEAST_FILM_UM, "film": self.film_um >= LEAST_FILM_UM,
            "shallow": self.depth_um is not None and self.depth_um <= SHALLOW_UM,
        }[what]  # fmt: skip


def case_of(found: Outlook, mishap: Mishap, kind: DefectKind) -> Case:
    """What there is to be put right. Raises InputError where there can be no such thing, naming the field."""
    check(found, mishap)
    project = found.project
    zone = project.zone(mishap.zone)
    material = project.finish(zone.name)
    film = found.ledger.mean_um(zone.name)
    wet = any(0 <= mishap.at_h - c.at_h <= WET_H and found.now_h - c.at_h <= WET_H for c in project.coats)
    return Case(
        found=found, mishap=mishap, kind=kind, group=group_of(material), stage=stage_of(found), zone=zone,
        spread=spread_of(mishap), film_um=film, height_um=height_of(mishap), depth_um=depth_of(mishap),
        there=spot_film(project, mishap, found.now_h), gloss=not found.rub_out.film.flatted and not material.flatted,
        wet=wet,
    )  # fmt: skip


def check(found: Outlook, mishap: Mishap) -> None:
    """Raise InputError for a defect that cannot be on this instrument: on a masked zone, on bare wood, deeper than its
    film, still to come, or on a film that is being stripped."""
    project = found.project
    zone = project.zone(mishap.zone)
    need(mishap.at_h <= found.now_h + 1.0 / 60, "at_h", "that is still to come")
    need(
        zone.name not in project.masked, "zone", f"{zone.label.lower()} is masked: there is no finish on it to go wrong"
    )
    film = found.ledger.mean_um(zone.name)
    ever = any(c.covers(zone.name) and c.at_h <= mishap.at_h for c in project.coats)
    bare = not ever and film < LEAST_FILM_UM
    stripped = max((a.at_h for a in project.sandings if a.bared and a.share(zone) > 0), default=None)
    if stripped is not None and not any(c.covers(zone.name) and c.at_h > stripped for c in project.coats):
        raise InputError("zone", f"{zone.label.lower()} is being stripped: there is no film on it to go wrong")
    if bare and mishap.what not in ON_WOOD:
        raise InputError("zone", f"{zone.label.lower()} was bare wood then: there was no film to go wrong")
    if mishap.depth_um is not None and mishap.what != "ding":
        laid = sum(c.share(zone) for c in project.coats if c.at_h <= mishap.at_h)
        most = max(laid, found.ledger.film(zone.name).p95_um)
        need(mishap.depth_um <= 1.5 * most, "depth_um", fact("deeper-than-film", zone=zone.label.lower(),
             depth_um=mishap.depth_um, film_um=most))  # fmt: skip


def spread_of(mishap: Mishap) -> str:
    """Spot, zone or all, where nobody has said so."""
    if mishap.spread:
        return mishap.spread
    if mishap.what in SPOTS:
        return "spot"
    if mishap.size_mm is not None:
        return "zone" if mishap.size_mm >= WIDE_MM else "spot"
    return "zone" if mishap.what in ALL_OVER else "spot"


def stage_of(found: Outlook) -> str:
    """How far along the work is: b coats are still to come, h it hardens, l paper has been on it, f all is done."""
    stages, at = found.method.stage, found.progress.index
    if any(s.kind == "coats" and not s.zones and not s.mends for s in stages[at:]):
        return "b"
    last = max((c.at_h for c in found.project.coats), default=-1e18)
    cut = any(isinstance(a, Sanding) and a.at_h > last and a.purpose in SANDED for a in found.project.acts)
    ahead = any(s.kind in SANDED for s in stages[at:])
    if not ahead:
        return "f"
    return "l" if cut else "h"


def doubt(case: Case) -> Fact | None:
    """What speaks against a defect as it was told: it cannot be on this film, or beside another that is noted on the
    same spot. None: nothing does."""
    project, mishap = case.found.project, case.mishap
    if mishap.what == "satin-haze":
        laid = [c for c in project.coats if c.at_h <= mishap.at_h]
        flatted = project.finish(mishap.zone).flatted or any(
            c.finish in project.layers and project.layers[c.finish].flatted for c in laid
        )
        if not flatted:
            return fact("no-satin")
    if mishap.what == "witness" and case.group == "D":
        return fact("melts-into-one")
    for act in project.acts:
        if not isinstance(act, Mishap) or act.id == mishap.id or act.zone != mishap.zone:
            continue
        near = act.place is not None and mishap.place is not None and _apart_mm(act.place, mishap.place) < SAME_SPOT_MM
        if near and any({act.what, mishap.what} == pair for pair in CONTRARY):
            return fact("contradicts", what=act.what)
    return None


def _apart_mm(one: tuple[float, float], other: tuple[float, float]) -> float:
    return math.hypot(one[0] - other[0], one[1] - other[1])
