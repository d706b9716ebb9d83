"""The steps of one instrument from then on."""

from __future__ import annotations

from datetime import datetime

from msgspec.structs import force_setattr, replace

from ravden.catalogue.method_files import MOST_STAGES, check_stages
from ravden.core.errors import need
from ravden.core.method.mending import stage_renumbered
from ravden.core.method.slots import named, need_own_ids
from ravden.core.method.steps import Stage, as_told
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack


class PlanSet(OfInstrument, frozen=True, tag="plan"):
    """The steps of one instrument from then on, in the place of its method's; it counts while that method is in use,
    and none at all means the method's own again. what: what was changed, in words."""

    method: str
    stage: tuple[Stage, ...] = ()
    what: str = ""

    def __post_init__(self) -> None:
        force_setattr(self, "stage", named([as_told(s) for s in self.stage]))

    def renumbered(self, numbers: dict[int, int]) -> PlanSet:
        return replace(self, stage=tuple(stage_renumbered(s, numbers) for s in self.stage))

    def limits(self) -> None:
        need(len(self.stage) <= MOST_STAGES, "stage", f"at most {MOST_STAGES} steps")

    def check_on(self, rack: OnRack, at: datetime) -> None:
        need(self.method == rack.instrument.method, "method", "the plan is for another method than the one in use")
        need_own_ids(self.stage)
        check_stages(self.stage, rack.catalogue, {z.name for z in rack.project.zones})

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        return rack.planned_as(self.stage, at) if self.method == rack.instrument.method else rack
