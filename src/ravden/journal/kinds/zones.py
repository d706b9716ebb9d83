"""Zones masked, and zones under another finish."""

from __future__ import annotations

from datetime import datetime

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack


class ZonesSet(OfInstrument, frozen=True, tag="zones"):
    """From then on: zones masked, and zones under another finish by material id."""

    masked: tuple[str, ...] = ()
    finishes: dict[str, str] = {}

    def check_on(self, rack: OnRack, at: datetime) -> None:
        for name in (*self.masked, *self.finishes):
            rack.project.zone(name)
        for name, finish in self.finishes.items():
            need(name not in self.masked, "masked", f"{name} cannot be both masked and finished")
            rack.catalogue.material(finish)

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        return replace(rack.planned_as(rack.plan, at), masked=self.masked, finishes=self.finishes)
