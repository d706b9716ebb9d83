"""What this shop knows, at work: read off the GUI thread, frozen and set back."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app import learnt_here
from ravden.app.session import ShopSession
from ravden.text.tables import Table
from ravden.ui.places.shop.knows_page import KnowsPage
from ravden.ui.shell.around import Around
from ravden.ui.widgets.latest_job import LatestJob, Outcome


class KnowsControl(QObject):
    """Keeps the page showing the truth."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(self, session: ShopSession, page: KnowsPage, around: Around) -> None:
        super().__init__(page)
        self._session, self._page = session, page
        self._job = LatestJob(self, around.pool)
        self._job.done.connect(self._ready)
        page.asked.connect(lambda what: around.shell.guarded(lambda: self.do(what)))

    @property
    def busy(self) -> bool:
        """Whether what was found is being read."""
        return self._job.busy

    def show(self) -> None:
        """What is known now."""
        asked, guns = self._session.kept.teaching(), self._session.kept.applicators()
        self._job.submit(lambda: (asked.beliefs(), guns.run()))

    def _ready(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            self._page.show_figures(learnt_here.figures(self._session, *outcome.value))
        self.settled.emit()

    def table(self) -> Table:
        """The figures as a table."""
        rows = tuple(
            (f.group, f.name, f.usual, f.here, f.rests_on, "frozen" if f.frozen else f.sure, f.since)
            for f in self._page.model.rows
        )
        columns = ("of", "figure", "usual", "here, nine times in ten", "from", "how sure", "since")
        return Table(title="What this shop knows", columns=columns, rows=rows)

    def do(self, what: str) -> None:
        """What a button of the page asks for. Raises InputError."""
        figure = self._page.figure
        if figure is not None and what == "freeze":
            learnt_here.freeze(self._session, figure)
        elif figure is not None and what == "back":
            learnt_here.set_back(self._session, figure)
