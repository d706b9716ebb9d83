"""Was Ravden right? Worked out one instrument after the other off the GUI thread, each shown as soon as it is there,
and kept while nothing more is written about it."""

from __future__ import annotations

import functools

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app import was_right
from ravden.app.foretold_kept import foretold_of
from ravden.app.session import ShopSession
from ravden.core.ahead.foretold import Foretold
from ravden.core.errors import InputError
from ravden.journal.kinds.rate import RateAccepted
from ravden.text.tables import Table
from ravden.ui.places.shop import right_presenter
from ravden.ui.places.shop.right_page import RightPage
from ravden.ui.shell.around import Around
from ravden.ui.widgets.latest_job import LatestJob, Outcome

AT_ONCE = 24  # instruments of the Book that are looked at; more when asked


def _work(name: str, key: object, asked: was_right.ToAsk) -> tuple[str, object, tuple[Foretold, ...]]:
    try:
        return name, key, asked.elsewhere().run()
    except InputError:
        return name, key, ()  # its file has been moved, or let go of, since


class RightControl(QObject):
    """Keeps the page showing the truth."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(self, session: ShopSession, page: RightPage, around: Around) -> None:
        super().__init__(page)
        self._session, self._page = session, page
        self._job = LatestJob(self, around.pool)
        self._job.done.connect(self._ready)
        self._most = AT_ONCE
        self._found: dict[str, tuple[object, tuple[Foretold, ...]]] = {}
        self._left: list[tuple[str, object]] = []
        page.taken.connect(lambda m: around.shell.guarded(lambda: self.take(m)))
        page.further.connect(self._further)

    @property
    def busy(self) -> bool:
        """Whether anything is being worked out."""
        return self._job.busy

    def show(self) -> None:
        """What has come by now."""
        kept = foretold_of(self._session.journal)
        there = {*self._session.shop.book, *self._session.shop.racked}
        names = dict.fromkeys((*was_right.finished(self._session, self._most), *(n for n in kept if n in there)))
        keys = {n: self._key(n) for n in names}
        self._found = {n: f for n, f in self._found.items() if n in keys}
        self._found |= {n: (k, kept[n]) for n, k in keys.items() if n in kept and n in self._session.shop.book}
        self._left = [(n, k) for n, k in keys.items() if n not in self._found or self._found[n][0] != k]
        self._draw()
        if not self._job.busy:
            self._next()

    def _key(self, instrument: str) -> object:
        shop = self._session.shop
        rack = shop.racked.get(instrument)
        booked = shop.book.get(instrument)
        of = rack if rack is not None else booked and (booked.handed, booked.added, booked.checks)
        return (self._session.journal, of, self._session.drawer, shop.learning)

    def _next(self) -> None:
        while self._left:
            (name, key), *self._left = self._left
            try:
                asked = was_right.to_ask(self._session, name)
            except InputError:
                continue  # it went while it was waited for
            self._job.submit(functools.partial(_work, name, key, asked))
            return

    def _ready(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            name, key, told = outcome.value
            self._found[name] = (key, told)
            if name in self._session.shop.book and key == self._key(name):
                self._session.kept.keep_foretold(name, told)
            if not self._page.isHidden():
                self._draw()
        self._next()
        if not self.busy:
            self._draw()
            self.settled.emit()

    def told(self) -> tuple[Foretold, ...]:
        """All that was foretold and came, of the instruments looked at so far."""
        return tuple(f for _, told in self._found.values() for f in told)

    def table(self) -> Table:
        """The same as a table."""
        return right_presenter.table(self._session, self.told())

    def _draw(self) -> None:
        left = len(self._left) + self._job.busy
        more = any(n not in self._found for n in self._session.shop.book) and not left
        self._page.show_right(right_presenter.show(self._session, self.told(), left, more))

    def _further(self) -> None:
        self._most *= 4
        self.show()

    def take(self, material: str) -> None:
        """Take the rate of a finish over. Raises InputError."""
        finishes = right_presenter.finishes(self._session, self.told())
        found = next((f.rate for f in finishes if f.material == material), None)
        if found is not None:
            how = f"{found.waits} waits as they came"
            body = RateAccepted(material=material, ln_mean=found.ln_mean, ln_sd=found.spread, how=how)
            self._session.log(body, origin="right")
