"""The day an instrument is promised for, told after it came onto the rack."""

from __future__ import annotations

from datetime import datetime

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.crew import moment
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack

MOST_WEIGHT = 9


class PromiseSet(OfInstrument, frozen=True, tag="promise"):
    """What is promised from then on. promised: ISO date and time, UTC, empty for nothing; weight: of a day late against
    those of the others; firm: it has to be met."""

    promised: str = ""
    weight: int = 1
    firm: bool = False

    def limits(self) -> None:
        if self.promised:
            moment(self.promised, "promised")
        need(1 <= self.weight <= MOST_WEIGHT, "weight", f"must be 1 to {MOST_WEIGHT}")
        need(bool(self.promised) or not self.firm, "firm", "nothing is promised that could be firm")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        promised_h = rack.hours(moment(self.promised, "promised")) if self.promised else None
        item = replace(rack.instrument, promised_h=promised_h)
        return replace(rack, instrument=item, weight=self.weight, firm=self.firm)
