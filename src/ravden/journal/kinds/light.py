"""Light on a light-cured film: the lamp turned on, and what it gave."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from ravden.core.errors import need
from ravden.core.record import Act, Exposure, LightOn
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack


class ExposureLogged(Acted, frozen=True, tag="light"):
    """Light on a light-cured film, in mJ/cm2; zones: None for all that were turned to it."""

    dose_mJ_cm2: float
    zones: tuple[str, ...] | None = None
    how: str = ""

    made: ClassVar[type] = Exposure

    def act(self, rack: OnRack, at: datetime, entry: int) -> Act:
        return Exposure(at_h=rack.hours(at), dose_mJ_cm2=self.dose_mJ_cm2, zones=self.zones, id=entry)

    def check_act(self, rack: OnRack, act: Exposure) -> None:
        _check_light(rack, act.zones or (), "dose_mJ_cm2")


class LightOnLogged(Acted, frozen=True, tag="light-on"):
    """Curing light turned on zones; the light it gave is an entry of its own once it is off."""

    zones: tuple[str, ...]
    mW_cm2: float

    made: ClassVar[type] = LightOn

    def check_act(self, rack: OnRack, act: LightOn) -> None:
        _check_light(rack, act.zones, "zones")


def _check_light(rack: OnRack, zones: tuple[str, ...], field: str) -> None:
    need(rack.project.material.cure.model == "light", field, "this finish is not cured by light")
    need(bool(rack.project.coats), field, "there was no film to cure yet")
    for name in zones:
        rack.project.zone(name)
