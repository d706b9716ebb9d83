"""A step of an instrument's plan held by hand, and let go again."""

from __future__ import annotations

from datetime import datetime

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.core.method.slots import BY_PLACE, SLOT, as_now, place_of
from ravden.journal.crew import Pinned, days_between, moment
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack

MOST_LETTERS = 200


class PinSet(OfInstrument, frozen=True, tag="pin"):
    """A step is held from now on, in the place of what held it before: at a moment, on a day, not before a moment
    (ISO), by somebody. step: by the id of its stage and its number (core/method/slots.py), or, in older entries, by the
    place the stage had then."""

    step: str
    at: str = ""
    day: str = ""
    not_before: str = ""
    who: str = ""

    def check_on(self, rack: OnRack, at: datetime) -> None:
        known = bool(BY_PLACE.fullmatch(self.step) or SLOT.fullmatch(self.step)) and len(self.step) <= MOST_LETTERS
        need(known, "step", f"{self.step} is no step such as Build#2")
        told = as_now(rack.method.stage, self.step)
        need(place_of(rack.method.stage, told) is not None, "step", f"there is no step {self.step} in its plan")

    def limits(self) -> None:
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
        return replace(rack, pins={**rack.pins, _as_now(rack, self.step): self.pinned()})


class Unpinned(OfInstrument, frozen=True, tag="unpin"):
    """A step is held no longer."""

    step: str

    def check_on(self, rack: OnRack, at: datetime) -> None:
        held = _as_now(rack, self.step) in rack.pins
        need(held, "step", f"step {self.step} of {rack.instrument.name} is not pinned")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        gone = _as_now(rack, self.step)
        return replace(rack, pins={s: p for s, p in rack.pins.items() if s != gone})


def _as_now(rack: OnRack, step: str) -> str:
    """A step as it is known by now: one written by its place is the one that stood there then."""
    return as_now(rack.method.stage, step) if BY_PLACE.fullmatch(step) else step
