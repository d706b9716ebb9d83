"""Choosing files for what goes out of a shop and comes into it: an instrument, its plan, the journal, the record."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from ravden.app import settings
from ravden.core.errors import NO_FILE, NO_INSTRUMENT, InputError
from ravden.system.files import put, safe_name, take_in

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.ui.shell.anywhere import Anywhere
    from ravden.ui.shell.shell import Shell


class ExchangeDialogs:
    """Asks for a file, writes or reads it, and tells what was done."""

    def __init__(self, window: Shell, anywhere: Anywhere) -> None:
        self._window, self._anywhere = window, anywhere

    def _found(self) -> Outlook:
        """The instrument turned to as it stands: what was logged a moment ago is in it, whatever is drawn yet."""
        return self._window.session.request(self._chosen()).run()

    def _chosen(self) -> str:
        if not self._window.session.selected:
            raise InputError("", NO_INSTRUMENT, remedy="instrument")
        return self._window.session.selected

    def _choose(self, title: str, name: str, kinds: str) -> Path | None:
        start = str(settings.data_folder() / name)
        found = QFileDialog.getSaveFileName(self._window, title, start, kinds)[0]
        return Path(found) if found else None

    def instrument_out(self) -> None:
        """This instrument as JSON."""
        self._chosen()
        path = self._choose("This instrument", f"{self._window.session.selected}.json", "Instruments (*.json)")
        if path is not None:
            self.write_instrument(path)

    def write_instrument(self, path: Path) -> None:
        """Write the instrument turned to."""
        from ravden.app.plan_of import steps_out
        from ravden.exchange import instrument

        session, found = self._window.session, self._found()
        steps = steps_out(session.shop, session.selected, found)
        self._put(path, instrument.write(session.entries, session.shop, session.selected, steps))

    def instrument_in(self) -> None:
        """An instrument from JSON."""
        if self._window.session.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        name = QFileDialog.getOpenFileName(self._window, "Bring in an instrument", "", "Instruments (*.json)")[0]
        if name:
            self.read_instrument(Path(name))

    def read_instrument(self, path: Path) -> None:
        """Bring in what a file holds, all or nothing."""
        from ravden.exchange.instrument import MOST_BYTES

        raw = take_in(path, MOST_BYTES, f"is larger than {MOST_BYTES // 1_000_000} MB")
        self._window.session.bring_in(raw, path.name)
        self._window.turn_to("film")

    def plan_out(self) -> None:
        """Its plan as a calendar."""
        self._chosen()
        path = self._choose("Its plan", f"{self._window.session.selected}-plan.ics", "Calendars (*.ics)")
        if path is not None:
            self.write_plan(path)

    def write_plan(self, path: Path) -> None:
        """Write the plan of the instrument turned to."""
        from ravden.exchange.calendar import calendar

        session = self._window.session
        now = session.local(session.now)
        self._put(path, calendar(session.shop, session.selected, self._found(), now))

    def days_out(self) -> None:
        """The shop's plan as a calendar; with several people each has a file, and each is asked for."""
        days = self._window.places.planning.days
        if days is None or not days.doings:
            raise InputError("", "there is nothing to plan yet")
        from ravden.app.shop_days import calendars

        session = self._window.session
        found = calendars(days, session.local(session.now))
        for who, text in found.items():
            whose, name = ("The shop's plan", "shop-plan") if len(found) == 1 else (f"The plan of {who}", _of(who))
            path = self._choose(whose, f"{name}.ics", "Calendars (*.ics)")
            if path is not None:
                self._put(path, text)

    def journal_out(self) -> None:
        """The whole journal as a table."""
        if self._window.session.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        path = self._choose("The journal", "journal.csv", "Tables (*.csv)")
        if path is not None:
            self.write_journal(path)

    def write_journal(self, path: Path) -> None:
        """Write the journal."""
        from ravden.exchange.journal_csv import journal_csv

        self._put(
            path, journal_csv(self._window.session.everything(), aside=self._window.session.aside).encode("utf-8")
        )

    def record_out(self) -> None:
        """The finish record as PDF."""
        self._chosen()
        path = self._choose("Finish record", f"{self._window.session.selected}-record.pdf", "PDF (*.pdf)")
        if path is not None:
            self.write_record(path)

    def quote_out(self) -> None:
        """A quote for a customer as PDF, once the card says what stands on it."""
        from ravden.app import quote

        self._chosen()
        self._found()
        name = self._window.session.selected

        def put(typed: dict[str, str]) -> None:
            text = quote.html(self._window.session, self._found(), typed)
            path = self._choose("Quote", f"{name}-quote.pdf", "PDF (*.pdf)")
            if path is not None:
                self.write_quote(text, path)

        self._anywhere.ask_for("A quote for a customer", quote.fields(), put)

    def write_quote(self, text: str, path: Path) -> None:
        """Write a quote."""
        from ravden.ui.shell import one_page

        one_page.write(text, "Quote", path)
        self._window.tell(f"Written to {path.name}.", undo=False)

    def write_record(self, path: Path) -> int:
        """Write the record of the instrument turned to; returns how many sheets it takes."""
        from ravden.app import finish_record
        from ravden.ui.shell import one_page

        shown = finish_record.record(self._window.session, self._found())
        sheets = one_page.write(finish_record.html(shown), f"Finish record: {shown.title}", path)
        self._window.tell(f"Written to {path.name}.", undo=False)
        return sheets

    def _put(self, path: Path, raw: bytes) -> None:
        put(path, raw)
        self._window.tell(f"Written to {path.name}.", undo=False)


def _of(who: str) -> str:
    return f"shop-plan-{safe_name(who.lower())}"
