"""The plan the shop keeps to: nothing in it moves unasked."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.crew import Kept, KeptStep, moment
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_STEPS = 12_000  # sixty instruments of two hundred steps


class PlanKept(OfShop, frozen=True, tag="plan-kept"):
    """The plan the shop keeps to from now on, in the place of the one before; no steps at all: it follows along again.
    offer: which one was taken; late_days, moved, setups: its figures then."""

    steps: tuple[KeptStep, ...] = ()
    offer: str = ""
    late_days: int = 0
    moved: int = 0
    setups: int = 0

    part: ClassVar[str] = "kept"

    @property
    def bears_on_plans(self) -> bool:
        return False

    def limits(self) -> None:
        need(len(self.steps) <= MOST_STEPS, "steps", f"at most {MOST_STEPS} can be kept")
        seen = {(s.instrument, s.step) for s in self.steps}
        need(len(seen) == len(self.steps), "steps", "a step is named twice")
        for step in self.steps:
            need(bool(step.starts), "starts", f"step {step.step} of {step.instrument} never begins")
            for text in (*step.starts, *((step.scuff,) if step.scuff else ())):
                moment(text, "starts")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        kept = Kept(steps={(s.instrument, s.step): s for s in self.steps}, since=at) if self.steps else None
        return replace(shop, kept=kept)
