"""Acts on one thing off the GUI thread, all of them, in their order; what is shown is always the newest.

Where the latest job would drop what has been overtaken, here every stroke counts: pictures are left out, never acts.
"""

from __future__ import annotations

import threading
import traceback
from collections import deque
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from ravden.core.errors import InputError
from ravden.ui.widgets.latest_job import Outcome


class InOrder(QObject):
    """``shown`` carries what ``show`` made last, on the GUI thread; ``failed`` an act that came to nothing."""

    arrived = pyqtSignal()
    shown = pyqtSignal(object)
    failed = pyqtSignal(object)

    def __init__(self, show: Callable[[], Any], pool: QThreadPool, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._show, self._pool = show, pool
        self._acts: deque[Callable[[], object]] = deque()
        self._lock = threading.Lock()
        self._running = self._told = self._left = False
        self._newest: Outcome | None = None
        self._faults: list[Outcome] = []
        self.arrived.connect(self._take)

    @property
    def busy(self) -> bool:
        """Whether an act is still to be done, or what came of one to be shown."""
        with self._lock:
            return self._running or self._told

    def submit(self, act: Callable[[], object] = lambda: None) -> None:
        """Do this after all that was asked before it."""
        with self._lock:
            self._acts.append(act)
            if self._running:
                return
            self._running = True
        self._pool.start(_Drain(self))

    def leave(self) -> None:
        """Nothing more is wanted of what is still to be done."""
        with self._lock:
            self._acts.clear()
            self._left = True

    def drain(self) -> None:
        """In the worker: until nothing is left to do."""
        while True:
            with self._lock:
                acts = list(self._acts)
                self._acts.clear()
                if not acts:
                    self._running = False
                    return
            for act in acts:
                self._do(act)
            if not self._left and self._publish():
                return

    def _do(self, act: Callable[[], object]) -> None:
        try:
            act()
        except Exception as error:
            trace = "" if isinstance(error, InputError) else traceback.format_exc()
            with self._lock:
                self._faults.append(Outcome(0, error=error, trace=trace))

    def _publish(self) -> bool:
        """Tell what came of it; whether nothing is left to do, which is so before it is told: nobody who hears of it
        finds this still at work."""
        try:
            outcome = Outcome(0, value=self._show())
        except Exception as error:
            outcome = Outcome(0, error=error, trace=traceback.format_exc())
        with self._lock:
            self._newest = outcome
            tell, self._told = not self._told, True
            done = not self._acts
            self._running = not done
        if tell:
            try:
                self.arrived.emit()
            except RuntimeError:
                pass  # the window was closed meanwhile
        return done

    def _take(self) -> None:
        with self._lock:
            outcome, faults = self._newest, self._faults
            self._faults, self._told = [], False
        for fault in faults:
            self.failed.emit(fault)
        if outcome is None or self._left:
            return
        (self.failed if outcome.error is not None else self.shown).emit(
            outcome if outcome.error is not None else outcome.value
        )


class _Drain(QRunnable):
    def __init__(self, owner: InOrder) -> None:
        super().__init__()
        self._owner = owner

    def run(self) -> None:
        self._owner.drain()
