"""A search in its own process, told on the GUI thread: a newer one takes the place of the one that runs."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app.search import Search

if TYPE_CHECKING:
    from ravden.core.schedule.wire import SearchAsked, SearchTold


class Searching(QObject):
    """found: a SearchTold of the newest request; died: its process went, with a sentence."""

    arrived = pyqtSignal(int, object)
    found = pyqtSignal(object)
    died = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._search: Search | None = None
        self._serial = 0
        self.arrived.connect(self._arrived)

    @property
    def busy(self) -> bool:
        return self._search is not None

    def begin(self, request: SearchAsked) -> None:
        """Search for this from now on."""
        self.end()
        self._serial += 1
        serial = self._serial
        try:
            self._search = Search(request, lambda told: self._emit(serial, told), lambda why: self._emit(serial, why))
        except OSError as error:
            self.died.emit(f"No search for a better plan: {error.strerror or error}.")

    def end(self) -> None:
        """No more of it."""
        search, self._search = self._search, None
        self._serial += 1
        if search is not None:
            search.end()

    def _emit(self, serial: int, what: SearchTold | str) -> None:
        try:
            self.arrived.emit(serial, what)
        except RuntimeError:
            pass  # the window was closed meanwhile

    def _arrived(self, serial: int, what: SearchTold | str) -> None:
        if serial != self._serial:
            return
        if isinstance(what, str):
            self._search = None
            self.died.emit(what)
            return
        if what.over:
            self._search = None
        self.found.emit(what)
