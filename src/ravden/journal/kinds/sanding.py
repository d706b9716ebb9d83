"""Film taken off."""

from __future__ import annotations

from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.core.fact import fact
from ravden.core.record import Project, Sanding, Zone
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack


class SandingLogged(Acted, frozen=True, tag="sanding"):
    """Film taken off the flats in um, as core's Sanding has it."""

    um: float
    grade: str = ""
    purpose: str = "level"
    edges_worked: bool = False
    zones: tuple[str, ...] | None = None
    part: bool = False
    minutes: float = 0.0
    mode: str = ""
    mends: int = 0
    spot: bool = False
    bared: bool = False
    texture_um: float = 0.0

    made: ClassVar[type] = Sanding

    def renumbered(self, numbers: dict[int, int]) -> SandingLogged:
        return replace(self, mends=numbers.get(self.mends, self.mends))

    def check_act(self, rack: OnRack, act: Sanding) -> None:
        project = rack.project
        for name in act.zones or ():
            project.zone(name)
        coated = [z for z in project.zones if any(c.share(z) > 0 for c in project.coats if c.at_h <= act.at_h)]
        need(bool(coated), "um", "there was no film to sand yet then")
        if act.spot or act.bared:
            return  # what a spot has is not what the zone has; what is stripped is all there is
        # What was laid and taken off zone by zone; only where that would not do is all that was read asked as well.
        doubtful = [z for z in coated if act.share(z) > 2.0 * _laid(project, z, act.at_h) - _gone(project, z, act.at_h)]
        if not doubtful:
            return
        # Kinds are read before the first paint, and the ledger is not.
        from ravden.core.state.history import known

        ledger = known(project, act.at_h).ledger
        for zone in doubtful:
            film = ledger.film(zone.name)
            most = max(film.p95_um, 2.0 * _laid(project, zone, act.at_h) - _gone(project, zone, act.at_h))
            said = fact("sanded-too-much", zone=zone.label.lower(), left_um=film.mean_um, um=act.share(zone))
            need(act.share(zone) <= most, "um", said)


def _laid(project: Project, zone: Zone, at_h: float) -> float:
    return sum(c.share(zone) for c in project.coats if c.at_h <= at_h)


def _gone(project: Project, zone: Zone, at_h: float) -> float:
    return sum(s.share(zone) for s in project.sandings if s.at_h <= at_h)
