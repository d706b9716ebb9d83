"""Objects of the toolkit die where they live: circles among them are looked for by a timer on the GUI thread, and never
by whoever makes an object on another. A widget that a worker takes apart ends the process."""

import gc

from PyQt6.QtCore import QObject, QTimer

EVERY_MS = 1000
IDLE_ROUNDS = 30  # rounds between two looks through everything


class Collecting(QObject):
    """Looks for circles in this thread from now on; nobody else does."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._round = 0
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.look)
        self._timer.start(EVERY_MS)

    def settle(self) -> None:
        """What there is by now stays: it is not looked through again."""
        gc.collect()
        gc.freeze()

    def look(self) -> None:
        """The young ones when there are many; everything now and then."""
        self._round += 1
        young, middle, old = gc.get_count()
        first, second, third = gc.get_threshold()
        if old > third and self._round >= IDLE_ROUNDS:
            self._round = 0
            gc.collect(2)
        elif middle > second:
            gc.collect(1)
        elif young > first:
            gc.collect(0)
