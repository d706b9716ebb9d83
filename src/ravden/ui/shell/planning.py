"""Keeps the plan of the whole shop: made once all outlooks have come; every instrument is dated by it.

An outlook dated by the plan may ask for other waits than it was made with; it is then made again, a few times at most.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping
from operator import is_not
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.app.session import ShopSession
from ravden.ui.widgets.latest_job import LatestJob, Outcome

if TYPE_CHECKING:
    from ravden.app.shop_days import ShopDays
    from ravden.app.shop_plan import Steps
    from ravden.core.ahead.outlook import Outlook

ROUNDS = 3


class Planning(QObject):
    """days: the plan as it is shown, None while there is none. take: outlooks dated by the plan, each with the one it
    was made from."""

    changed = pyqtSignal()
    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(
        self, session: ShopSession, outlooks: Callable[[], Mapping[str, Outlook]], pending: Callable[[], bool],
        take: Callable[[Mapping[str, tuple[Outlook, Outlook]]], None], pool: QThreadPool,
    ) -> None:  # fmt: skip
        super().__init__()
        self.live = False
        self.days: ShopDays | None = None
        self._session, self._outlooks, self._pending, self._give = session, outlooks, pending, take
        self._standing: Steps = {}
        self._dating_of: Mapping[str, Outlook] = {}
        self._made_of: tuple[object, ...] = ()
        self._rounds = 0
        self._job, self._dating = LatestJob(self, pool), LatestJob(self, pool)
        self._job.done.connect(self._planned)
        self._dating.done.connect(self._dated)

    @property
    def busy(self) -> bool:
        return self._job.busy or self._dating.busy

    def forget(self) -> None:
        """Another file."""
        self.days, self._standing, self._made_of, self._rounds = None, {}, (), 0
        self._session.held = {}

    def look(self) -> None:
        """Plan anew if anything a plan is made of is another, once every instrument's outlook is known: not while more
        are on their way, since it would be made anew for each."""
        known, shop = self._outlooks(), self._session.shop
        if not self.live or self._pending() or self.busy or any(i not in known for i in shop.racked):
            return
        made_of = self._of(known)
        if _same(made_of, self._made_of):
            return
        self._made_of, self._rounds = made_of, 0
        if shop.racked:
            self._plan()
        else:
            self.days = None

    def _of(self, known: Mapping[str, Outlook]) -> tuple[object, ...]:
        """What a plan is made of. Of each outlook a small part stands for it, so that the whole of an old one is let go
        of."""
        shop = self._session.shop
        told = (shop.crew, shop.kept, shop.hours, *(r.pins for r in shop.racked.values()))
        return (*told, *(known[i].progress for i in shop.racked))

    def _plan(self) -> None:
        from ravden.app.shop_days import asked

        self._job.submit(asked(self._session, self._outlooks(), self._standing))

    def _planned(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            logging.getLogger(__name__).error("the shop's plan failed\n%s", outcome.trace)
            self.failed.emit(outcome)
        elif outcome.serial == self._job.latest:
            self._take(outcome.value)
        self.look()
        self.settled.emit()

    def _take(self, days: ShopDays) -> None:
        """Show it, and have dated by it whatever is dated otherwise."""
        from ravden.app.shop_plan import redated
        from ravden.core.schedule.hold import same

        assert days.made is not None
        self.days, self._standing = days, days.made.steps()
        held = self._session.held = dict(days.made.held())
        off = {i: f for i, f in self._outlooks().items() if not same(f.held, held.get(i, {}))}
        if off:
            self._dating_of = off
            self._dating.submit(redated(off, held, self._session.selected))
        self.changed.emit()

    def _dated(self, outcome: Outcome) -> None:
        """Outlooks as the plan has them; it is made again where they ask for other waits than it was made with."""
        from ravden.app.shop_plan import stands

        if not self.live:
            return
        if outcome.error is not None:
            logging.getLogger(__name__).error("dating by the shop's plan failed\n%s", outcome.trace)
            self.failed.emit(outcome)
        elif outcome.serial == self._dating.latest:
            whole = not self._pending() and _same(self._of(self._outlooks()), self._made_of)
            self._give({i: (self._dating_of[i], new) for i, new in outcome.value.items()})
            days, known = self.days, self._outlooks()
            if whole and days is not None and days.made is not None and self._rounds < ROUNDS:
                self._rounds += 1
                if not stands(days.made, known):
                    self._plan()
        self.look()
        self.settled.emit()


def _same(one: tuple[object, ...], other: tuple[object, ...]) -> bool:
    return len(one) == len(other) and not any(map(is_not, one, other))
