"""What an outlook is computed from: a snapshot, safe to hand to another thread.

The plan package is imported when it is first run, off the GUI thread: the first paint does not need it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import TYPE_CHECKING

from ravden.core.record import Reading, Sanding
from ravden.journal.rack import OnRack
from ravden.journal.shop import Shop

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.calendar.hours import WorkHours
    from ravden.core.film.filter import Priors
    from ravden.core.method.steps import Method
    from ravden.core.rubout.rub_out import Ask, Drawer
    from ravden.core.state.history import Memory


@dataclass(frozen=True, slots=True, kw_only=True)
class OutlookRequest:
    """What an outlook is computed from: a snapshot, safe to hand to another thread. local: a moment on the shop's
    wall; hours: the shop's, where they are told; priors: believed of the applicator, where it is told and not learnt
    here; ask: how it will be sanded."""

    rack: OnRack
    method: Method
    drawer: Drawer
    now: datetime
    local: Callable[[datetime], datetime]
    hours: WorkHours | None = None
    zone: str = ""
    teachers: tuple[OnRack, ...] = ()
    memory: Memory | None = None
    earlier: tuple[tuple[OnRack, Memory], ...] = ()
    advise: bool = False
    priors: Priors | None = None
    ask: Ask | None = None

    def run(self) -> Outlook:
        """The computation itself: what earlier instruments taught about the applicator, then this one."""
        from ravden.core.ahead.counsel import counsel
        from ravden.core.ahead.outlook import outlook
        from ravden.core.calendar.shop_hours import work_hours
        from ravden.core.state.learnt import learnt, started_from

        drawer = self.drawer
        if self.teachers:
            from ravden.core.rubout.hands import hands_of

            hands = hands_of([r.project_at(self.now) for r in self.teachers], drawer)
            drawer = replace(drawer, hands=hands)
        belief = learnt([(r.project_at(self.now), r.hours(self.now), memory) for r, memory in self.earlier])
        found = outlook(
            self.rack.project_at(self.now),
            self.method,
            drawer,
            self.rack.hours(self.now),
            self.hours or work_hours(self.rack.zero, self.local, self.now),
            self.zone,
            self.memory,
            self.priors or started_from(belief),
            ask=self.ask,
        )
        return replace(found, counsel=counsel(found)) if self.advise else found


def request(
    shop: Shop, instrument_id: str, drawer: Drawer, now: datetime, local: Callable[[datetime], datetime],
    memories: dict[str, Memory], zone: str = "", advise: bool = False,
) -> OutlookRequest:  # fmt: skip
    """A snapshot of one instrument of a shop. memories: of earlier outlooks, kept by the caller; zone: the one looked
    at; advise: with counsel on what to do and measure."""
    rack = shop.on_rack(instrument_id)
    material = rack.instrument.material
    earlier = [
        (r, memories.setdefault(i, {}))
        for i, r in shop.racked.items()
        if r.instrument.material == material and (r.added, i) < (rack.added, instrument_id)
    ]
    earlier.sort(key=lambda pair: pair[0].added)
    return OutlookRequest(
        rack=rack, method=rack.method, drawer=drawer, now=now.astimezone(UTC), local=local, zone=zone,
        teachers=tuple(r for r in shop.racked.values() if _teaches(r)),
        memory=memories.setdefault(instrument_id, {}), earlier=tuple(earlier), advise=advise,
    )  # fmt: skip


def _teaches(rack: OnRack) -> bool:
    """Whether an instrument's record says something of the user's own removal or scratch."""
    return any(
        (isinstance(a, Sanding) and a.minutes > 0) or (isinstance(a, Reading) and a.what == "gloss") for a in rack.acts
    )
