"""The Book at work: finds what is typed, works the record of the one turned to out off the GUI thread, and brings it
back to the rack."""

from __future__ import annotations

from dataclasses import replace
from html import escape
from pathlib import Path

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.app import checks, compare_two, costs, finish_record
from ravden.app.forgetting import forget_person
from ravden.app.forms import Field
from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError, need
from ravden.system.files import put
from ravden.text.say import whole_fault
from ravden.ui.places.shop import book_presenter
from ravden.ui.places.shop.book_page import BookPage
from ravden.ui.widgets.latest_job import LatestJob, Outcome

WORKING = "Working out what is on it …"


class BookControl(QObject):
    """Keeps the Book showing the truth. back: an instrument went back to the rack."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()
    back = pyqtSignal(str)

    def __init__(self, session: ShopSession, page: BookPage, pool: QThreadPool) -> None:
        super().__init__(page)
        self._session, self._page = session, page
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._ready)
        self._rows: tuple[book_presenter.BookRow, ...] = ()
        self._of: object = None
        self._found: Outlook | None = None
        self._first: Outlook | None = None  # of the one that another is compared with
        page.typed.connect(lambda _: self._find())
        page.compare_asked.connect(self.compare)
        page.picked.connect(self._pick)

    @property
    def busy(self) -> bool:
        """Whether a record is being worked out."""
        return self._job.busy

    def show(self) -> None:
        """The Book as it is now."""
        session = self._session
        key = (tuple(session.shop.book), session.people, session.journal)
        if key != self._of:
            self._of, self._rows = key, book_presenter.rows(session)
        self._find()
        self._show_record()

    def _find(self) -> None:
        shown = book_presenter.found(self._rows, self._page.search.text())
        self._page.show_book(replace(shown, due=book_presenter.due(self._session)))

    def _pick(self, instrument: str) -> None:
        self._found = None
        if not instrument:
            return
        self._page.show_record(WORKING)
        try:
            self._job.submit(self._session.request_booked(instrument).run)
        except InputError as error:
            self._page.show_record(escape(whole_fault(error, self._session.units)))

    def _ready(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif outcome.value.project.instrument.id == self._page.at:
            self._found = outcome.value
            self._show_record()
        self.settled.emit()

    def compare(self) -> None:
        """Hold on to the one turned to, until another is turned to and both are shown; or let go of it."""
        if self._first is not None:
            self._first = None
        elif self._found is not None:
            self._first = self._found
        self._show_record()

    def _show_record(self) -> None:
        self._page.compare.setText("Compare …" if self._first is None else "Stop comparing")
        first, found = self._first, self._found
        if first is not None and found is not None and first is not found:
            book = self._session.shop.book
            if first.project.instrument.id in book and found.project.instrument.id in book:
                self._page.show_record(compare_two.html(compare_two.compared(self._session, first, found)))
                return
            self._first = None
        if first is not None and first is found:
            name = escape(found.project.instrument.name)
            self._page.show_record(f"<p>{name} is held: turn to the one to compare it with.</p>")
            return
        if self._found is not None and self._found.project.instrument.id in self._session.shop.book:
            told = finish_record.html(finish_record.record(self._session, self._found))
            cost = escape("; ".join(costs.lines(self._session, self._found)))
            # What it cost is for the shop, and on no page that is given away.
            self._page.show_record(told + (f"<p><b>For the shop alone.</b> {cost}.</p>" if cost else ""))

    def bring_back(self, instrument: str) -> None:
        """Off the Book and onto the rack. Raises InputError."""
        self._session.bring_back(instrument, "book")
        self.back.emit(instrument)

    def write_card(self, instrument: str, path: Path) -> None:
        """How its player cares for it, as PDF. Raises InputError."""
        from ravden.app import care_card
        from ravden.ui.shell import one_page

        rack = self._session.read_booked(instrument)
        text = care_card.html(self._session, rack.project, rack.instrument.name)
        one_page.write(text, f"Care card: {rack.instrument.name}", path)

    def forget_form(self, instrument: str) -> tuple[str, tuple[Field, ...]]:
        """What is asked before somebody is forgotten, since that cannot be taken back. Raises InputError."""
        name = self._who(instrument)
        tip = "For all instruments that went to them, in this file and its copies. It cannot be taken back."
        return f"Forget {name} for good", (Field(name="name", label="Type the name to forget it", tip=tip),)

    def forget(self, instrument: str, typed: dict[str, str]) -> str:
        """Forget who has an instrument; returns what is to be said. Raises InputError at the field."""
        name = self._who(instrument)
        need(typed["name"].strip() == name, "name", f"type {name}, just so")
        return forget_person(self._session, self._session.shop.book[instrument].person, "book")

    def _who(self, instrument: str) -> str:
        booked = self._session.shop.book.get(instrument)
        name = "" if booked is None else self._session.people.get(booked.person, "")
        need(bool(name), "", "nobody said who has it")
        return name

    def look_form(self, instrument: str) -> tuple[str, tuple[Field, ...]]:
        """What is asked of a look at an instrument."""
        return f"A look at {self._session.shop.book[instrument].name}", checks.fields()

    def looked(self, instrument: str, typed: dict[str, str]) -> None:
        """Note a look. Raises InputError at the field."""
        checks.log(self._session, instrument, typed)
        self._pick(instrument)

    def write_looks(self, path: Path) -> None:
        """Every look to come as a calendar. Raises InputError."""
        put(path, checks.calendar(self._session))

    def write_record(self, path: Path) -> None:
        """The record of the one turned to, as PDF. Raises InputError."""
        from ravden.ui.shell import one_page

        if self._found is None:
            raise InputError("", "its record is still being worked out")
        shown = finish_record.record(self._session, self._found, named=self._page.named.isChecked())
        one_page.write(finish_record.html(shown), f"Finish record: {shown.title}", path)
