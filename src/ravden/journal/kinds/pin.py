"""A step of an instrument's plan held by hand, and let go again."""

from __future__ import annotations

import re
from datetime import datetime

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.crew import Pinned, days_between, moment
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack

STEP = re.compile(r"\d{1,3}\.(\d{1,3}[sl]?|done)")


class PinSet(OfInstrument, frozen=True, tag="pin"):
    """A step is held from now on, in the place of what held it before: at a moment, on a day, not before a moment
    (ISO), by somebody. step: its place in the method and its number."""

    step: str
    at: str = ""
    day: str = ""
    not_before: str = ""
    who: str = ""

    def check_on(self, rack: OnRack, at: datetime) -> None:
        need(STEP.fullmatch(self.step) is not None, "step", f"{self.step} is no step such as 4.2")
        self.pinned()
        need(bool(self.at or self.day or self.not_before or self.who), "step", "say what it is held to")
        need(not (self.at and self.day), "day", "it is held to a moment already")

    def pinned(self) -> Pinned:
        """What it is held to. Raises InputError."""
        return Pinned(
            at=moment(self.at, "at") if self.at else None,
            day=days_between(self.day, "", "day")[0] if self.day else None,
            not_before=moment(self.not_before, "not_before") if self.not_before else None, who=self.who,
        )  # fmt: skip

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        return replace(rack, pins={**rack.pins, self.step: self.pinned()})


class Unpinned(OfInstrument, frozen=True, tag="unpin"):
    """A step is held no longer."""

    step: str

    def check_on(self, rack: OnRack, at: datetime) -> None:
        need(self.step in rack.pins, "step", f"step {self.step} of {rack.instrument.name} is not pinned")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        return replace(rack, pins={s: p for s, p in rack.pins.items() if s != self.step})
