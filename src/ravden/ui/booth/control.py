"""Wires the Booth: every act is an entry of the journal at the moment it happens; the clock does the rest."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ravden.core.errors import InputError
from ravden.core.plan.outlook import Outlook
from ravden.journal.entries import CoatLogged, MishapLogged, PassLogged
from ravden.journal.store import last_to_undo
from ravden.ui.booth import presenter
from ravden.ui.booth.view import BoothView
from ravden.ui.session import ShopSession

TICK_MS = 250


class BoothControl(QObject):
    """Shows the session on the instrument turned to. outlooks: what is known of every instrument by now."""

    told = pyqtSignal(str)

    def __init__(self, session: ShopSession, view: BoothView, outlooks: Callable[[], dict[str, Outlook]]) -> None:
        super().__init__()
        self.session, self.view, self._outlooks = session, view, outlooks
        self._found: Outlook | None = None
        self.tick = QTimer(self)
        self.tick.setInterval(TICK_MS)
        self.tick.timeout.connect(self.show)
        view.act_asked.connect(self._act)
        view.back_asked.connect(self._back)
        view.mishap_logged.connect(self._mishap)
        view.instrument_picked.connect(lambda i: self.session.select(i, "booth"))

    def take(self, found: Outlook) -> None:
        """The outlook of the instrument turned to."""
        self._found = found
        self.show()

    def show(self) -> None:
        """Draw the place, if it is the one looked at; the clock runs only then."""
        looked_at = not self.view.isHidden() and self.session.rack is not None
        if looked_at and not self.tick.isActive():
            self.tick.start()
        elif not looked_at and self.tick.isActive():
            self.tick.stop()
        if looked_at:
            zones = self.session.shop.on_rack(self.session.selected).project.zones
            self.view.defects.offer(self.session.catalogue.defects, tuple((z.name, z.label) for z in zones))
            self.view.show_booth(presenter.show(self.session, self._outlooks(), self._mine()))

    def _mine(self) -> Outlook | None:
        found = self._found
        return found if found is not None and found.project.instrument.id == self.session.selected else None

    def _try(self, act: Callable[[], object]) -> None:
        try:
            act()
        except InputError as error:
            self.told.emit(error.sentence)
        self.show()

    def _act(self) -> None:
        def log() -> None:
            body = presenter.act(self.session, self._mine())
            self.session.log(body, instrument=self.session.selected, origin="booth")

        self._try(log)

    def _back(self) -> None:
        """Take back the newest act, where it is one of the booth's."""

        def back() -> None:
            last = last_to_undo(self.session.entries)
            if last is None or not isinstance(last.body, PassLogged | CoatLogged | MishapLogged):
                raise InputError("", "the last entry is no coat, pass or mishap; take it back with Ctrl+Z")
            self.session.undo("booth")

        self._try(back)

    def _mishap(self, what: str, zone: str) -> None:
        def log() -> None:
            self.session.log(MishapLogged(what=what, zone=zone), instrument=self.session.selected, origin="booth")
            label, now = self.session.catalogue.defects[what]
            self.told.emit(f"{label}: {now[:1].lower()}{now[1:].rstrip('.')}")

        self._try(log)
