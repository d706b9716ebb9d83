"""A long shop file is looked through, and copied, once its window is there: on a thread of its own, so that nothing
waits for it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.core.errors import InputError
from ravden.journal.store import Journal
from ravden.journal.sums import Unsound
from ravden.text.say import whole_fault
from ravden.ui.widgets.latest_job import LatestJob, Outcome

if TYPE_CHECKING:
    from ravden.app.session import ShopSession


class LookingOver(QObject):
    """Says what is wrong with the open file, if anything is."""

    damaged = pyqtSignal(str)
    unsound = pyqtSignal()
    done = pyqtSignal()

    def __init__(self, session: ShopSession) -> None:
        super().__init__()
        self._session = session
        self._job = LatestJob(self)
        self._job.done.connect(self._looked)
        self._at: Journal | None = None

    def begin(self) -> None:
        """Look the open file over, if that has not been done."""
        journal = self._session.journal
        if journal is not None and not journal.looked_over and journal is not self._at:
            self._at = journal
            self._job.submit(partial(_look, journal, tuple(self._session.aside)))

    def _looked(self, outcome: Outcome) -> None:
        journal, off, fault = outcome.value if outcome.error is None else (None, Unsound(), outcome.error)
        if journal is not None and fault is None:
            journal.looked_over, journal.unsound = True, off
            if off and journal is self._session.journal:
                self.unsound.emit()
        elif isinstance(fault, InputError) and (journal is None or journal is self._session.journal):
            # Of a file that has been left since nothing is said beside another.
            self.damaged.emit(whole_fault(fault, self._session.units))
        self.done.emit()


def _look(journal: Journal, aside: tuple[int, ...]) -> tuple[Journal, Unsound, InputError | None]:
    """Look a file over: with what is wrong with it, and whose that is."""
    try:
        return journal, Journal.look_over(journal.path, copy=not journal.read_only, aside=aside), None
    except InputError as error:
        return journal, Unsound(), error
