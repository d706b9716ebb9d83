"""The places of the open window: asks for outlooks off the GUI thread, and hands each to whoever shows it."""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping
from functools import partial
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ravden.app.changes import Changes
from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.ui.shell.notices import NoticesControl
from ravden.ui.shell.planning import Planning
from ravden.ui.widgets.latest_job import LatestJob, Outcome, own_pool
from ravden.ui.widgets.place import Place

if TYPE_CHECKING:
    from ravden.app.troubles import Trouble

DRAW_MS = 120


class Places(QObject):
    """Keeps every place showing the truth. found: the outlooks known by now, by instrument; troubles: instruments
    whose record cannot be worked out, who keep nobody waiting; all: the places built by now, each when it is first
    asked for."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(
        self, session: ShopSession, send: Callable[[str, str], None], keys: tuple[str, ...],
        parent: QObject | None = None,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._keys = keys
        self._make: Callable[[str], Place] = _no_place
        self.session = session
        self.pool = own_pool()
        self.pool.setMaxThreadCount(1)
        self.found: dict[str, Outlook] = {}
        self.troubles: dict[str, Trouble] = {}
        self.all: dict[str, Place] = {}
        self.guests: list[Any] = []  # pages beside the places that work things out too
        self._jobs: dict[str, LatestJob] = {}
        self._seeking: dict[str, LatestJob] = {}
        self.live = False
        self._drawing = QTimer(self)
        self._drawing.setSingleShot(True)
        self._drawing.timeout.connect(lambda: self.rack.show())
        self.notices = NoticesControl(session, lambda: self.found, self.pool, send)
        self.notices.setParent(self)
        self.notices.settled.connect(self.settle)
        self.planning = Planning(
            session, lambda: self.found, lambda: self.pending or self._wanting, self._dated, self.refresh, self.pool
        )
        self.planning.setParent(self)
        self.planning.failed.connect(self.failed)
        self.planning.settled.connect(self.settle)
        self.planning.changed.connect(self._show_plan)
        session.listen(self._changed)

    def __getattr__(self, key: str) -> Any:
        """A place by its key, such as film: what helpers and tests may know of it is its own."""
        if key not in self.__dict__.get("_keys", ()):
            raise AttributeError(key)
        return self.at(key)

    def made_by(self, make: Callable[[str], Place]) -> None:
        """How a place is built when it is first asked for."""
        self._make = make

    def at(self, key: str) -> Place:
        """A place, built if it has not been yet, and told what the others know."""
        if key not in self.all:
            place = self.all[key] = self._make(key)
            place.failed.connect(self.failed)
            place.settled.connect(self.settle)
            place.offer(self._names(), self.session.selected)
            if (known := self.found.get(self.session.selected)) is not None and known.counsel is not None:
                place.take(known)
            elif (wrong := self.troubles.get(self.session.selected)) is not None:
                place.trouble(wrong)
        return self.all[key]

    def build_next(self) -> bool:
        """Build one place that nobody has asked for yet; whether there was one."""
        left = [key for key in self._keys if key not in self.all]
        if left and self.live:
            self.at(left[0])
        return bool(left) and self.live

    @property
    def pending(self) -> bool:
        """Whether an outlook is still on its way."""
        return any(job.busy for job in self._jobs.values())

    @property
    def _wanting(self) -> bool:
        """Whether an instrument has no outlook yet, and may still get one."""
        return any(i not in self.found and i not in self.troubles for i in self.session.shop.racked)

    @property
    def busy(self) -> bool:
        """Whether anything shown is still being worked out."""
        return (
            self.pending
            or any(job.busy for job in self._seeking.values())
            or self.planning.busy
            or self.notices.busy
            or any(place.busy for place in (*self.all.values(), *self.guests))
        )

    def start(self) -> None:
        """Begin computing: called once the first paint is done."""
        self.live = self.planning.live = True
        self.planning.recall()
        self._offer()
        self.refresh(tuple(self.session.shop.racked))

    def stop(self) -> None:
        """Let running work end; called when the window closes."""
        self.live = self.notices.live = False
        self.planning.stop()
        self._drawing.stop()
        for place in (*self.all.values(), *self.guests):
            place.stop()
        self.pool.clear()
        self.pool.waitForDone(5000)

    def _changed(self, changes: Changes) -> None:
        if changes.file:
            self.found, self.troubles = {}, {}
            self.notices.forget()
            self.planning.forget()
        if changes.file or changes.selection:
            for place in tuple(self.all.values()):
                place.forget()
        for known in (self.found, self.troubles):
            for gone in set(known) - set(self.session.shop.racked):
                del known[gone]
        self._offer()
        selected = self.session.selected
        coming = self.live and selected in changes.instruments and selected in self.found
        for place in tuple(self.all.values()):
            if changes.selection or changes.file or not (coming and place.waits):
                place.show()
        self.planning.stand_again()
        if changes.instruments or changes.selection or changes.file:
            self.refresh(changes.instruments)
        self.planning.look()

    def _show_plan(self) -> None:
        """The shop's plan is another: whoever shows some of it."""
        for place in tuple(self.all.values()):
            place.planned()

    def _offer(self) -> None:
        for place in tuple(self.all.values()):
            place.offer(self._names(), self.session.selected)

    def _names(self) -> list[tuple[str, str]]:
        return [(i, r.instrument.name) for i, r in self.session.shop.racked.items()]

    def refresh(self, instruments: tuple[str, ...]) -> None:
        """Ask anew for what depends on these instruments, the one turned to first."""
        if not self.live:
            return
        selected = self.session.selected
        for i in dict.fromkeys((selected, *instruments)):
            if i in self.session.shop.racked:
                self._ask(i, advise=i == selected)

    def _ask(self, instrument: str, *, advise: bool) -> None:
        if instrument not in self._jobs:
            job = LatestJob(self, self.pool)
            job.done.connect(lambda outcome, name=instrument: self._ready(name, outcome))
            self._jobs[instrument] = job
        usual = self.session.shop.racked[instrument].project.zones[0].name
        self._jobs[instrument].submit(self.session.request(instrument, zone=usual, advise=advise).run)

    def _ready(self, instrument: str, outcome: Outcome) -> None:
        if not self.live:
            return  # what ends after the window was closed has nothing left to draw on
        if instrument in self.session.shop.racked:
            if outcome.error is not None:
                self._troubled(instrument, outcome)
            else:
                self.troubles.pop(instrument, None)
                self._take(instrument, outcome.value)
            # One after the other on a full rack: it is drawn a few times a second, and once they all are there.
            if not self.pending:
                self._drawing.stop()
                self._all_came()
            elif not self._drawing.isActive():
                self._drawing.start(DRAW_MS)
        self.planning.look()
        self.settle()

    def _all_came(self) -> None:
        self.rack.show()
        for place in tuple(self.all.values()):
            place.came()

    def _troubled(self, instrument: str, outcome: Outcome) -> None:
        """A record that cannot be worked out keeps no other waiting; since which entry is looked for beside."""
        from ravden.app.troubles import notice, since, trouble
        from ravden.app.was_right import to_ask

        assert outcome.error is not None
        found = trouble(self.session, instrument, outcome.error)
        before = self.troubles.get(instrument)
        if before is not None and before.why == found.why:
            return  # told already
        if isinstance(outcome.error, InputError):
            outcome = Outcome(outcome.serial, error=InputError("", notice(found)))
        else:
            logging.getLogger(__name__).error("an outlook failed\n%s", outcome.trace)
        self.failed.emit(outcome)
        self.found.pop(instrument, None)
        self.troubles[instrument] = found
        if instrument not in self._seeking:
            job = self._seeking[instrument] = LatestJob(self, self.pool)
            job.done.connect(lambda outcome, name=instrument: self._sought(name, outcome))
        self._seeking[instrument].submit(partial(since, to_ask(self.session, instrument), found))
        self._show_trouble(instrument)

    def _sought(self, instrument: str, outcome: Outcome) -> None:
        if self.live and outcome.error is None and instrument in self.troubles:
            self.troubles[instrument] = outcome.value
            self._show_trouble(instrument)
        self.settle()

    def _show_trouble(self, instrument: str) -> None:
        for place in tuple(self.all.values()):
            if instrument == self.session.selected:
                place.trouble(self.troubles[instrument])
        self.show_all()

    def _take(self, instrument: str, found: Outlook) -> None:
        self.found[instrument] = found
        if instrument == self.session.selected and found.counsel is not None:
            for place in tuple(self.all.values()):
                place.take(found)

    def _dated(self, dated: Mapping[str, tuple[Outlook, Outlook]]) -> None:
        """Outlooks dated by the shop's plan, unless newer ones have come since they were made."""
        for instrument, (was, now) in dated.items():
            if self.found.get(instrument) is was:
                self._take(instrument, now)
        self._all_came()
        if (known := self.found.get(self.session.selected)) is not None and known.counsel is None:
            self.refresh(())  # another has been turned to meanwhile

    def settle(self) -> None:
        """Tell that nothing shown is being worked out any more, if so."""
        if not self.busy:
            self.settled.emit()

    def show_all(self) -> None:
        """Draw the place shown anew, as after turning to it or a change of units or theme."""
        for place in tuple(self.all.values()):
            place.show()


def _no_place(key: str) -> Place:
    raise AttributeError(key)  # asked for before the window was begun
