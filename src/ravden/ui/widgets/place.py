"""What every place is to the window."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.troubles import Trouble
    from ravden.core.ahead.outlook import Outlook
    from ravden.text.tables import Table


class Place(QObject):
    """A place: its view, and what keeps that showing the truth. The window asks nothing else of it.

    waits: what it shows is of the instrument turned to, once that is worked out: while it is, nothing is drawn twice;
    first_focus: where the keyboard goes when it is turned to; live: the window is open; settled: nothing here is being
    worked out any more; failed: work came to nothing, told by its outcome.
    """

    failed = pyqtSignal(object)
    settled = pyqtSignal()
    waits = False

    def __init__(self, session: ShopSession, view: Any, first_focus: QWidget) -> None:
        super().__init__(view)
        self.session, self.view, self.first_focus = session, view, first_focus
        self.live = True

    @property
    def busy(self) -> bool:
        """Whether anything shown here is being worked out."""
        return False

    def show(self) -> None:
        """Draw the place from what is known, if it is the one looked at."""

    def take(self, found: Outlook) -> None:
        """A new outlook of the instrument turned to."""

    def came(self) -> None:
        """Outlooks have come, of whichever instruments: for what is shown of all of them together."""

    def trouble(self, found: Trouble) -> None:
        """The record of the instrument turned to cannot be worked out."""

    def planned(self) -> None:
        """The plan of the whole shop is another."""

    def forget(self) -> None:
        """Another instrument, or another file: what was asked of the last one does not hold."""

    def offer(self, names: list[tuple[str, str]], selected: str) -> None:
        """The instruments there are, by id and name, and the one turned to."""
        if (head := getattr(self.view, "head", None)) is not None:
            head.offer(names, selected)

    def tables(self) -> tuple[Table, ...]:
        """What its pictures show, in numbers and words; nothing: there is none just now."""
        return ()

    def turned_to(self) -> None:
        """It is about to be looked at."""

    def stop(self) -> None:
        """The window closes: what still runs has nothing left to draw on."""
        self.live = False
