"""Looks at the shop each minute and tells the desktop what has changed, where the user has asked for it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.app.news import State, news, state
from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.shutting import shuts_h
from ravden.ui.widgets.latest_job import LatestJob, Outcome


class NoticesControl(QObject):
    """Off until it is turned on. send: takes a title and a body."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(
        self, session: ShopSession, outlooks: Callable[[], dict[str, Outlook]], pool: QThreadPool,
        send: Callable[[str, str], None],
    ) -> None:  # fmt: skip
        super().__init__()
        self.on = False
        self.live = True
        self._session, self._outlooks, self.send = session, outlooks, send
        self._states: dict[str, State] = {}
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._found)

    @property
    def busy(self) -> bool:
        return self._job.busy

    def forget(self) -> None:
        """Another file: nothing has been seen of it."""
        self._states = {}

    def look(self) -> None:
        """Work out what shuts when, then tell what is new since the look before."""
        if not self.on:
            self.forget()
            return
        found = dict(self._outlooks())
        self._job.submit(lambda: {name: (f, shuts_h(f)) for name, f in found.items()})

    def _found(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            self._tell(outcome.value)
        self.settled.emit()

    def _tell(self, found: dict[str, tuple[Outlook, float | None]]) -> None:
        racked = self._session.shop.racked
        shuts = {n: None if h is None else racked[n].moment(h) for n, (_, h) in found.items() if n in racked}
        states = {n: state(self._session, n, f, shuts[n]) for n, (f, _) in found.items() if n in racked}
        for item in news(self._session, self._states, states, shuts):
            self.send(item.title, item.body)
        self._states = states
