"""Slow work off the GUI thread: one running, one waiting, and a newer request replaces the waiting one."""

import traceback
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, QRunnable, QThreadPool, pyqtSignal


@dataclass(frozen=True, slots=True)
class Outcome:
    """A result or the error that came instead; serial tells which request it answers."""

    serial: int
    value: Any = None
    error: Exception | None = None
    trace: str = ""


class _Task(QRunnable):
    def __init__(self, owner: "LatestJob", serial: int, work: Callable[[], Any]) -> None:
        super().__init__()
        self._owner, self._serial, self._work = owner, serial, work

    def run(self) -> None:
        # Nothing may escape: an exception in a pool thread ends the whole process.
        try:
            outcome = Outcome(self._serial, value=self._work())
        except Exception as error:
            outcome = Outcome(self._serial, error=error, trace=traceback.format_exc())
        try:
            self._owner.arrived.emit(outcome)
        except RuntimeError:
            pass  # the window was closed meanwhile


def own_pool() -> QThreadPool:
    """Threads of one's own. They are the application's to take apart: whoever takes a pool apart waits for its work,
    and that may want the interpreter, which whoever closes a window holds."""
    return QThreadPool(QCoreApplication.instance())


class LatestJob(QObject):
    """Runs the latest request; ``done`` carries the outcome on the GUI thread. Stale outcomes are still told, so that
    a dragged slider keeps showing; compare ``serial`` with ``latest`` where only the newest will do."""

    arrived = pyqtSignal(object)
    done = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None, pool: QThreadPool | None = None) -> None:
        super().__init__(parent)
        self._pool = pool or QThreadPool.globalInstance()
        self._waiting: tuple[int, Callable[[], Any]] | None = None
        self._running = False
        self.latest = 0
        self.arrived.connect(self._finished)

    @property
    def busy(self) -> bool:
        return self._running

    def submit(self, work: Callable[[], Any]) -> int:
        """Ask for work; returns the serial its outcome will carry."""
        self.latest += 1
        if self._running:
            self._waiting = (self.latest, work)
        else:
            self._start(self.latest, work)
        return self.latest

    def _start(self, serial: int, work: Callable[[], Any]) -> None:
        self._running = True
        assert self._pool is not None
        self._pool.start(_Task(self, serial, work))

    def _finished(self, outcome: Outcome) -> None:
        self._running = False
        if self._waiting is not None:
            serial, work = self._waiting
            self._waiting = None
            self._start(serial, work)
        self.done.emit(outcome)
