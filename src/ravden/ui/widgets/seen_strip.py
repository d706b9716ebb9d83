"""Pictures beside each other, each worked out off the GUI thread; until then their words stand in their place."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QGridLayout, QWidget

from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.seen import Seen, image_of

if TYPE_CHECKING:
    from ravden.app.seen import Wanted


class SeenStrip(QWidget):
    """Asked for pictures, shows them in rows of so many."""

    def __init__(self, wide: int, high: int, in_row: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._size, self._in_row = (wide, high), in_row
        self.pictures: list[Seen] = []
        self._jobs: list[LatestJob] = []
        self._shown: list[str] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(7)
        self._grid.setColumnStretch(in_row, 1)

    @property
    def busy(self) -> bool:
        """Whether one is being worked out."""
        return any(job.busy for job in self._jobs)

    def ask(self, wanted: Sequence[Wanted]) -> None:
        """Show these instead of what was shown."""
        while len(self.pictures) < len(wanted):
            self._add()
        self._shown = [w.key for w in wanted]
        for i, picture in enumerate(self.pictures):
            picture.setVisible(i < len(wanted))
            if i < len(wanted):
                picture.wait(wanted[i].caption, wanted[i].words)
                self._jobs[i].submit(_work(wanted[i].key, wanted[i].make))

    def _add(self) -> None:
        i = len(self.pictures)
        picture, job = Seen(*self._size, lines=2), LatestJob(self)
        job.done.connect(lambda outcome, i=i: self._ready(i, outcome))
        self._grid.addWidget(picture, i // self._in_row, i % self._in_row)
        self.pictures.append(picture)
        self._jobs.append(job)

    def _ready(self, i: int, outcome: Outcome) -> None:
        # One that failed leaves its words standing.
        if outcome.error is None and i < len(self._shown) and outcome.value[0] == self._shown[i]:
            self.pictures[i].show_pixels(image_of(outcome.value[1]))


def _work(key: str, make: Callable[[], object]) -> Callable[[], tuple[str, object]]:
    return lambda: (key, make())
