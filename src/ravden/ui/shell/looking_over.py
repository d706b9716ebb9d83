"""A long shop file is looked through, and copied, once its window is there: on a thread of its own, so that nothing
waits for it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.core.errors import InputError
from ravden.journal.store import Journal
from ravden.text.say import whole_fault
from ravden.ui.widgets.latest_job import LatestJob, Outcome

if TYPE_CHECKING:
    from ravden.app.session import ShopSession


class LookingOver(QObject):
    """Says what is wrong with the open file, if anything is."""

    damaged = pyqtSignal(str)
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
            self._job.submit(partial(Journal.look_over, journal.path, copy=not journal.read_only))

    def _looked(self, outcome: Outcome) -> None:
        if isinstance(outcome.error, InputError):
            self.damaged.emit(whole_fault(outcome.error, self._session.units))
        elif outcome.error is None and self._at is not None:
            self._at.looked_over = True
        self.done.emit()
