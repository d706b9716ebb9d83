"""What the window's helpers see of it: the session, the places, and a few ways to tell and to turn. The window itself
knows its helpers; they know only this."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QMainWindow

from ravden.core.errors import InputError
from ravden.journal import copies
from ravden.journal.copies import DamagedError, StrangeError
from ravden.text import words
from ravden.text.say import whole_fault
from ravden.ui.theme import style

if TYPE_CHECKING:
    from pathlib import Path

    from PyQt6.QtWidgets import QStackedWidget

    from ravden.app.session import ShopSession
    from ravden.app.settings import Settings
    from ravden.ui.forms.log_card import LogCard
    from ravden.ui.shell.desktop import Desktop
    from ravden.ui.shell.places import Places
    from ravden.ui.shell.rail import Rail
    from ravden.ui.widgets.latest_job import Outcome
    from ravden.ui.widgets.notice import Notice
    from ravden.ui.widgets.rolled import Rolled


class Shell(QMainWindow):
    """The window without its helpers. The places but the Rack are there once they have been built."""

    foot_changed = pyqtSignal()

    session: ShopSession
    remembered: Settings
    settings_file: Path
    rail: Rail
    stack: QStackedWidget
    roll: Rolled
    notice: Notice
    rack: Any
    page: Any
    places: Places
    desktop: Desktop
    acts: Any
    repairs: Any
    card: LogCard

    def __getattr__(self, key: str) -> Any:
        """The view of a place, by its key, once the window has been begun."""
        places = self.__dict__.get("places")
        if places is None:
            raise AttributeError(key)
        return getattr(places, key).view

    @property
    def built(self) -> bool:
        """Whether the places are there."""
        return "places" in self.__dict__

    def guarded(self, slot: Callable[[], object]) -> None:
        """Bad input becomes one line."""
        try:
            slot()
        except DamagedError as error:
            self.tell_damage(error)
        except InputError as error:
            self.refuse(error)

    def refuse(self, error: InputError) -> None:
        """What cannot be, in a line at the foot, with the one thing to do about it as a button where there is one."""
        text = whole_fault(error, self.session.units)
        ways: dict[str, tuple[str, Callable[[], object]]] = {
            "file": ("Start a workshop", lambda: self.starting.ask()),
            "instrument": ("Add an instrument", lambda: self.anywhere.add_instrument()),
            "form": ("Back to the form", lambda: self.anywhere.to_form()),
            "book": ("Open the Book", lambda: self.open_book()),
        }
        way = ways.get(error.remedy)
        self.notice.tell(
            _sentence(text, named="." in error.path), undo=False,
            way=None if way is None else (way[0], lambda: self.guarded(way[1])),
        )  # fmt: skip
        self.foot_changed.emit()

    def tell_damage(self, error: DamagedError) -> None:
        """A shop file that cannot be read, with the way to its newest copy; one that has something strange in it, with
        the way to that or to its entries."""
        said = f"{error.file.name} is damaged. Nothing in it was changed"
        if isinstance(error, StrangeError):
            said = f"{error.file.name} is not opened: {error.why}. Nothing in it was changed"
        if error.copy is not None:
            said += f"; the copy of {self._day_of(error.copy)} is whole, and is opened as a file of its own"
        elif isinstance(error, StrangeError):
            said += "; its entries can be taken out into a new file"
        way = self._to_copy(error.file, error.copy)
        if way is None and isinstance(error, StrangeError):
            way = ("Take its entries out", lambda: self._open(lambda: copies.take_out(error.file)))
        self.notice.tell_until_read(f"{said}.", way)
        self.foot_changed.emit()

    def tell_unsound(self) -> None:
        """What is not as it was written in the file that is open: it has no effect, and the newest copy that is whole
        may have it still."""
        journal = self.session.journal
        if journal is None or not journal.unsound:
            return
        copy = copies.newest(journal.path)
        said = f"In {journal.path.name} {journal.unsound.said}: what cannot be trusted has no effect"
        said += "; no copy of it is whole" if copy is None else f"; the copy of {self._day_of(copy)} is whole"
        self.notice.tell_until_read(f"{said}.", self._to_copy(journal.path, copy))
        self.foot_changed.emit()

    def _day_of(self, copy: Path) -> str:
        return words.day(self.session.local(copies.made(copy)), self.session.local(self.session.now))

    def _to_copy(self, file: Path, copy: Path | None) -> tuple[str, Callable[[], object]] | None:
        if copy is None:
            return None
        day = self._day_of(copy)
        return f"Open the copy of {day}", lambda: self._open(lambda: copies.bring_back(copy, file))

    def _open(self, made: Callable[[], Path]) -> None:
        self.guarded(lambda: self.session.open(made()))

    def dress(self) -> None:
        """Everything around the places, and the place looked at, in the theme in force."""
        for part in (self.menuBar(), self.statusBar(), self.rail, *self.roll.bars):
            if part is not None:
                style.dress(part, around=True)
        # What is hidden is dressed when it has something to say.
        notice = None if self.notice.isHidden() else self.notice
        for shown in (notice, self.__dict__.get("card"), self.stack.currentWidget()):
            if shown is not None:
                style.dress(shown)

    def tell(self, text: str, *, undo: bool) -> None:
        """A line at the foot; undo: with the way to take back what it tells of."""
        self.notice.tell(text, undo=undo)
        self.foot_changed.emit()

    def say(self, text: str) -> None:
        """A sentence at the foot."""
        self.tell(f"{text[:1].upper()}{text[1:]}.", undo=False)

    def failed(self, outcome: Outcome) -> None:
        """Work off the GUI thread that came to nothing."""
        bug = "This could not be worked out; what you logged is safe. The report is in the log."
        self.tell(
            whole_fault(outcome.error, self.session.units) if isinstance(outcome.error, InputError) else bug, undo=False
        )

    @property
    def place(self) -> str:
        """The key of the place one is in."""
        raise NotImplementedError

    def turn_to(self, place: str) -> None:
        """Show a place."""
        raise NotImplementedError

    def begin_session(self, instruments: tuple[str, ...]) -> None:
        """The Booth, with these chosen for its next session, in this order."""
        raise NotImplementedError

    def turn_back(self) -> None:
        """Back to the place shown before a page took it."""
        raise NotImplementedError

    def focus_place(self) -> None:
        """The keyboard to the place shown, as after a form over it was left."""
        raise NotImplementedError

    def something_wrong(self, instrument: str = "") -> None:
        """What went wrong on an instrument, the one turned to where none is named."""
        raise NotImplementedError

    @property
    def in_repairs(self) -> bool:
        """Whether the page of what went wrong is looked at."""
        raise NotImplementedError

    def show_step(self, index: int) -> None:
        """The page of a step of the plan."""
        raise NotImplementedError

    def shop_asked(self, what: str) -> None:
        """The Shop place's buttons."""
        raise NotImplementedError


def _sentence(text: str, *, named: bool) -> str:
    """A fault as a sentence. named: it begins with the name of a file, which is written as it is."""
    return f"{text[:1] if named else text[:1].upper()}{text[1:]}{'' if text[-1:] in '.?!…' else '.'}"
