"""An instrument in the warm cabinet."""

from __future__ import annotations

from datetime import datetime

from msgspec.structs import replace

from ravden.core.climate.series import Cabinet
from ravden.core.errors import need
from ravden.core.fact import fact
from ravden.core.record import Air
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack

HOTTEST_C, LONGEST_H = 60.0, 24 * 60.0  # [A]


class CabinetLogged(OfInstrument, frozen=True, tag="cabinet"):
    """An instrument in the warm cabinet from then on, for so many hours; light: in it, times that of a room."""

    hours: float
    temp_C: float
    rh: float = 0.3
    light: float = 1.0

    def limits(self) -> None:
        need(0 < self.hours <= LONGEST_H, "hours", "must be more than none, and at most sixty days")
        Air(at_h=0.0, temp_C=self.temp_C, rh=self.rh, light=self.light)
        need(self.temp_C <= HOTTEST_C, "temp_C", fact("no-cabinet", temp_C=HOTTEST_C))

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        put = Cabinet(at_h=rack.hours(at), hours=self.hours, temp_C=self.temp_C, rh=self.rh, light=self.light)
        return replace(rack, cabinets=(*rack.cabinets, put))
