"""The defects of an instrument as they stand: open, planned, worked or closed. No Qt."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.core.method.steps import progress
from ravden.core.record import Coat, Mishap, Sanding
from ravden.journal.mending import Mending

if TYPE_CHECKING:
    from ravden.core.method.steps import Method, Progress
    from ravden.core.record import Act
    from ravden.journal.rack import OnRack

NOTICED, PLANNED, WORKED, CLOSED = "noticed", "planned", "worked", "closed"
LIGHT = ("nib", "stray-scratch", "swirl", "dry-patch", "clogs")  # dealt with by the next paper, or the next coat


class Defect(Struct, frozen=True, kw_only=True):
    """id: the number of its entry; state: noticed, planned, worked or closed; light: the next paper deals with it;
    by_work: closed by paper that came since; left: steps of its repair still to come."""

    id: int
    mishap: Mishap
    state: str
    mending: Mending
    light: bool = False
    by_work: bool = False
    left: int = 0

    @property
    def open(self) -> bool:
        """Whether something is still to be done, if only to look."""
        return self.state != CLOSED


def defects_of(rack: OnRack, now: datetime) -> tuple[Defect, ...]:
    """All that were noted on an instrument, in the order they were."""
    acts = sorted(rack.acts, key=lambda a: a.at_h)
    mine = [a for a in acts if isinstance(a, Mishap)]
    if not mine:
        return ()
    # Steps of repairs are in its own plan: what zones in another finish get is none of it.
    method = rack.own_method
    done = progress(method, rack.acts, rack.hours(now), rack.body_where_it_matters)
    return tuple(_defect(rack, a, acts, method, done) for a in mine)


def _defect(rack: OnRack, mishap: Mishap, acts: list[Act], method: Method, done: Progress) -> Defect:
    mending = rack.mending.get(mishap.id, Mending())
    light = mishap.what in LIGHT and not mending.steps
    if mending.closed:
        return Defect(id=mishap.id, mishap=mishap, state=CLOSED, mending=mending, light=light)
    if light and not mending.outcome and _dealt_with(mishap, acts):
        return Defect(id=mishap.id, mishap=mishap, state=CLOSED, mending=mending, light=True, by_work=True)
    if not mending.steps:
        return Defect(id=mishap.id, mishap=mishap, state=NOTICED, mending=mending, light=light)
    ids = {s.id for s in mending.steps}
    left = sum(s.id in ids or s.mends == mishap.id for s in method.stage[done.index :])
    shared = any(s.mends and s.op in {x.op for x in mending.steps} for s in method.stage[done.index :])
    state = PLANNED if left or shared else WORKED
    return Defect(id=mishap.id, mishap=mishap, state=state, mending=mending, left=left)


def _dealt_with(mishap: Mishap, acts: list[Act]) -> bool:
    """Whether paper has been over its zone since, or for a dry patch another coat."""
    for act in acts:
        if (act.at_h, act.id) <= (mishap.at_h, mishap.id):
            continue
        if isinstance(act, Sanding) and not act.spot and (act.zones is None or mishap.zone in act.zones):
            return True
        if mishap.what == "dry-patch" and isinstance(act, Coat) and act.covers(mishap.zone):
            return True
    return False


def open_defects(rack: OnRack, now: datetime) -> tuple[Defect, ...]:
    """Those that want something yet, the heavier ones first."""
    return tuple(sorted((d for d in defects_of(rack, now) if d.open), key=lambda d: (d.light, -d.mishap.at_h)))
