"""Something that went wrong."""

from __future__ import annotations

from typing import ClassVar

from ravden.core.record import Mishap
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack


class MishapLogged(Acted, frozen=True, tag="mishap"):
    """Something that went wrong on a zone, as core's Mishap has it."""

    what: str
    zone: str
    grade: str = ""
    place: tuple[float, float] | None = None

    made: ClassVar[type] = Mishap

    def check_act(self, rack: OnRack, act: Mishap) -> None:
        rack.project.zone(act.zone)
