"""A logger's file is read off the GUI thread: a year of readings a minute takes a while. What share has been read is
told, with the way to stop it."""

from __future__ import annotations

import threading
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from ravden.core.errors import InputError
from ravden.ui.widgets.latest_job import LatestJob, Outcome

if TYPE_CHECKING:
    from ravden.app.air_files import AirRead
    from ravden.journal.store import Journal
    from ravden.ui.shell.shell import Shell

LOOK_MS = 250
AT_ONCE_BYTES = 200_000  # read here and now: it is there before anybody could stop it


class _Stopped(Exception):
    """Nobody waits for it any more."""


class _Going:
    """How far a reading is, and whether it goes on: told and asked from two threads, each part by one of them."""

    def __init__(self) -> None:
        self.share, self._stop = 0.0, threading.Event()

    def stop(self) -> None:
        self._stop.set()

    @property
    def stopped(self) -> bool:
        return self._stop.is_set()

    def tick(self, share: float) -> None:
        if self.stopped:
            raise _Stopped
        self.share = share


class AirReading(QObject):
    """Reads one file at a time; the window tells what comes of it."""

    def __init__(self, window: Shell) -> None:
        super().__init__(window)
        self._window, self._name = window, ""
        self._job = LatestJob(self)
        self._job.done.connect(self._read)
        self._going = _Going()
        self._of: Journal | None = None  # the shop it is read for
        self._look = QTimer(self)
        self._look.setInterval(LOOK_MS)
        self._look.timeout.connect(self._show)

    @property
    def busy(self) -> bool:
        """Whether a file is being read."""
        return self._job.busy

    def read(self, path: Path, source: str) -> None:
        """Read a file and log what it says. Raises InputError for one that is none, or while another is read."""
        from ravden.app.air_files import air_in, import_air

        session = self._window.session
        if self.busy:
            raise InputError(path.name, f"{self._name} is being read still: wait for it, or stop it")
        try:
            small = path.stat().st_size <= AT_ONCE_BYTES
        except OSError:
            small = True  # what is wrong with it is told by who reads it
        if small:
            self._window.tell(import_air(session, path, source), undo=True)
            return
        self._name, self._going, self._of = path.name, _Going(), session.journal
        work = partial(air_in, path, source, session.shop.hours.clock, session.now, self._going.tick)
        self._job.submit(partial(_giving_way, work))
        self._look.start()
        self._show()

    def stop(self) -> None:
        """No more of it; nothing is logged."""
        self._going.stop()
        self._look.stop()

    def _show(self) -> None:
        if not self._going.stopped:
            text = f"Reading {self._name}: {100 * self._going.share:.0f} %"
            self._window.notice.tell(text, undo=False, way=("Stop", self._leave))

    def _leave(self) -> None:
        self.stop()
        self._window.tell(f"{self._name} was not read.", undo=False)

    def _read(self, outcome: Outcome) -> None:
        self._look.stop()
        if self._going.stopped:
            return
        if self._of is not self._window.session.journal:
            self._window.tell(f"{self._name} was not read: another shop is open now.", undo=False)
        elif isinstance(outcome.error, InputError):
            self._window.refuse(outcome.error)
        elif outcome.error is not None:
            self._window.failed(outcome)
        else:
            self._window.guarded(partial(self._log, outcome.value))

    def _log(self, read: AirRead) -> None:
        from ravden.app.air_files import log_air

        self._window.tell(log_air(self._window.session, read), undo=True)


def _giving_way(work: partial[AirRead]) -> AirRead:
    from ravden.app.giving_way import giving_way

    with giving_way():
        return work()
