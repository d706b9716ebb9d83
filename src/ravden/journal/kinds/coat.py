"""A coat."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Any, ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.core.method.steps import Stage, progress, spacing
from ravden.core.record import Act, Coat, Sanding
from ravden.core.record.acts import MAX_COUNT
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack

NOT_TINTED = "none"
MOST_OVER_H = 24.0 * 366


class CoatLogged(Acted, frozen=True, tag="coat"):
    """A coat, nominal dry film in um; zones: None for all that get this finish; finish: another material's id; count:
    how many alike, or count_odds, pairs of a count and its odds; how: what was set or measured, in words; over_h: from
    the first of several to the last [h], 0 for spaced as the method says; mends, spot: as core's Coat has them; tinted:
    the same, or empty: as its step of the method has it, or none: it is not."""

    dry_um: float
    zones: tuple[str, ...] | None = None
    finish: str = ""
    count: int = 1
    count_odds: tuple[tuple[int, float], ...] = ()
    how: str = ""
    over_h: float = 0.0
    mends: int = 0
    spot: bool = False
    tinted: str = ""

    made: ClassVar[type] = Coat

    def limits(self) -> None:
        need(1 <= self.count <= MAX_COUNT, "count", f"must be between 1 and {MAX_COUNT} (got {self.count})")
        most = max((n for n, _ in self.count_odds), default=0)
        need(len(self.count_odds) <= 8 and most <= MAX_COUNT, "count_odds", f"at most eight, each to {MAX_COUNT}")
        need(0 <= self.over_h <= MOST_OVER_H, "first", "the first of them was not so long before the last")

    def act(self, rack: OnRack, at: datetime, entry: int) -> Act:
        on = self.zones
        own = tuple(z for z, finish in rack.finishes.items() if finish == self.finish)
        if self.finish and on is None and own:
            on = own  # the zones it was chosen for; where there are none, it is a layer on the whole instrument
        fields: dict[str, Any] = self.fields() | {"zones": on, "earlier_h": self._spaced(rack, rack.hours(at))}
        del fields["over_h"]
        fields["tinted"] = self._tint(rack, rack.hours(at))
        return Coat(at_h=rack.hours(at), id=entry, bare=(*rack.masked, *rack.finishes), **fields)

    def _tint(self, rack: OnRack, at_h: float) -> str:
        """Colour in it, by what was told or by the step it belongs to."""
        if self.tinted or self.mends or not any(s.tinted for s in self._stages(rack)):
            return "" if self.tinted == NOT_TINTED else self.tinted
        step = _step(rack, at_h, self.finish)
        return "" if step is None else step.tinted

    def alone(self, rack: OnRack) -> bool:
        return self.count == 1 and not self.count_odds and not any(s.tinted for s in self._stages(rack))

    @staticmethod
    def _stages(rack: OnRack) -> tuple[Stage, ...]:
        """The steps of its own method; what is composed of them has no more colour in it."""
        own = rack.catalogue.methods.get(rack.instrument.method)
        return rack.plan or (() if own is None else own.stage)

    def renumbered(self, numbers: dict[int, int]) -> CoatLogged:
        return replace(self, mends=numbers.get(self.mends, self.mends))

    def _spaced(self, rack: OnRack, at_h: float) -> tuple[float, ...]:
        """How long before the last of several each of the others was laid [h]."""
        count = max([self.count, *(n for n, _ in self.count_odds)])
        if count < 2:
            return ()
        if self.over_h > 0:
            return tuple(self.over_h * i / (count - 1) for i in range(count - 1, 0, -1))
        earlier = spacing(_step(rack, at_h, self.finish), count)
        # They came after what was done before: where the method's rhythm leaves no room they were laid closer.
        done = [a.at_h for a in rack.acts if isinstance(a, Coat | Sanding) and a.at_h <= at_h]
        room = (at_h - max(done)) * (count - 1) / count if done else math.inf
        return tuple(h * min(room / earlier[0], 1.0) for h in earlier)

    def check_act(self, rack: OnRack, act: Coat) -> None:
        between = [a for a in rack.acts if isinstance(a, Coat | Sanding) and act.hours[:1] and act.hours[0] < a.at_h]
        told = self.over_h > 0 and any(a.at_h < act.at_h for a in between)
        need(not told, "first", "something else was done in between: log them apart")
        if act.finish:
            rack.catalogue.material(act.finish)
        for name in act.zones or ():
            label = rack.project.zone(name).label
            need(name not in rack.masked, "zones", f"{label} is masked: take the tape off it first")
        need(not act.spot or bool(act.zones), "zones", "say on which zone the spot is")
        need(act.spot or any(act.covers(z.name) for z in rack.project.zones), "zones", "every zone is masked")


def _step(rack: OnRack, at_h: float, finish: str) -> Stage | None:
    """The step of the method such coats belong to: the one under way, or the first of that finish."""
    stages = rack.method.stage
    there = progress(rack.method, rack.acts, at_h, rack.project.body).index
    likely = (*stages[there:], *stages[:there])
    return next((s for s in likely if s.kind == "coats" and s.finish == finish), None)
