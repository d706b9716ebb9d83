"""Film taken off."""

from __future__ import annotations

from typing import ClassVar

from ravden.core.errors import need
from ravden.core.fact import fact
from ravden.core.record import Sanding
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

    made: ClassVar[type] = Sanding

    def check_act(self, rack: OnRack, act: Sanding) -> None:
        for name in act.zones or ():
            rack.project.zone(name)
        laid = sum(c.dry_um for c in rack.project.coats if c.at_h <= act.at_h)
        gone = sum(s.um for s in rack.project.sandings if s.at_h <= act.at_h)
        need(laid > 0, "um", "there was no film to sand yet then")
        need(act.um <= 2.0 * laid - gone, "um", fact("sanded-too-much", left_um=laid - gone))
