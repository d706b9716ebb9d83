"""A step of the method done."""

from __future__ import annotations

from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.core.method.mending import mend_renumbered
from ravden.core.record import StepDone
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack


class StepLogged(Acted, frozen=True, tag="step"):
    """A step of the method done, or skipped, by its name there."""

    step: str
    skipped: bool = False

    made: ClassVar[type] = StepDone

    def renumbered(self, numbers: dict[int, int]) -> StepLogged:
        return replace(self, step=mend_renumbered(self.step, numbers))

    def check_act(self, rack: OnRack, act: StepDone) -> None:
        need(any(s.key == act.step for s in rack.method.stage), "step", f"{act.step} is no step of this method")
