"""A coat."""

from __future__ import annotations

from datetime import datetime
from typing import Any, ClassVar

from ravden.core.errors import need
from ravden.core.record import Act, Coat
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack


class CoatLogged(Acted, frozen=True, tag="coat"):
    """A coat, nominal dry film in um; zones: None for all that get this finish; finish: another material's id; count:
    how many alike, or count_odds, pairs of a count and its odds; how: what was set or measured, in words."""

    dry_um: float
    zones: tuple[str, ...] | None = None
    finish: str = ""
    count: int = 1
    count_odds: tuple[tuple[int, float], ...] = ()
    how: str = ""

    made: ClassVar[type] = Coat

    def act(self, rack: OnRack, at: datetime, entry: int) -> Act:
        on = self.zones
        own = tuple(z for z, finish in rack.finishes.items() if finish == self.finish)
        if self.finish and on is None and own:
            on = own  # the zones it was chosen for; where there are none, it is a layer on the whole instrument
        fields: dict[str, Any] = self.fields() | {"zones": on}
        return Coat(at_h=rack.hours(at), id=entry, bare=(*rack.masked, *rack.finishes), **fields)

    def check_act(self, rack: OnRack, act: Coat) -> None:
        if act.finish:
            rack.catalogue.material(act.finish)
        for name in act.zones or ():
            label = rack.project.zone(name).label
            need(name not in rack.masked, "zones", f"{label} is masked: take the tape off it first")
        need(any(act.covers(z.name) for z in rack.project.zones), "zones", "every zone is masked")
