"""What an outlook is computed from: a snapshot, safe to hand to another thread. No Qt.

The plan package is imported when it is first run, off the GUI thread: the first paint does not need it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import TYPE_CHECKING

from ravden.journal.shop import OnRack

if TYPE_CHECKING:
    from ravden.core.method.steps import Method
    from ravden.core.plan.history import Memory
    from ravden.core.plan.outlook import Outlook
    from ravden.core.plan.rubout import Drawer


@dataclass(frozen=True, slots=True, kw_only=True)
class OutlookRequest:
    """What an outlook is computed from: a snapshot, safe to hand to another thread."""

    rack: OnRack
    method: Method
    drawer: Drawer
    now: datetime
    hour_at_zero: float
    zone: str = ""
    teachers: tuple[OnRack, ...] = ()
    memory: Memory | None = None
    earlier: tuple[tuple[OnRack, Memory], ...] = ()
    advise: bool = False

    def run(self) -> Outlook:
        """The computation itself: what earlier instruments taught about the applicator, then this one."""
        from ravden.core.plan.counsel import counsel
        from ravden.core.plan.hours import WorkHours
        from ravden.core.plan.learnt import learnt, started_from
        from ravden.core.plan.outlook import outlook

        drawer = self.drawer
        if self.teachers:
            from ravden.core.plan.hands import hands_of

            hands = hands_of([r.project_at(self.now) for r in self.teachers], drawer)
            drawer = replace(drawer, hands=hands)
        belief = learnt([(r.project_at(self.now), r.hours(self.now), memory) for r, memory in self.earlier])
        found = outlook(
            self.rack.project_at(self.now),
            self.method,
            drawer,
            self.rack.hours(self.now),
            WorkHours(hour_at_zero=self.hour_at_zero),
            self.zone,
            self.memory,
            started_from(belief),
        )
        return replace(found, counsel=counsel(found)) if self.advise else found
