"""The shop's hours at work: shown, typed, and kept."""

from __future__ import annotations

import zoneinfo

from PyQt6.QtCore import QLocale, QObject, pyqtSignal

from ravden.app import holidays_of, hours_form
from ravden.app.session import ShopSession
from ravden.app.zone import of_this_machine
from ravden.core.calendar.hours import DAILY
from ravden.core.errors import InputError
from ravden.journal.hours import ShopHours
from ravden.text import written
from ravden.text.say import fault, whole_fault
from ravden.ui.places.shop.hours_page import HoursPage

YEARS = 2


class HoursControl(QObject):
    """Keeps the page showing what is in force, unless something has been typed and not kept."""

    told = pyqtSignal(str)

    def __init__(self, session: ShopSession, page: HoursPage) -> None:
        super().__init__(page)
        self._session, self._page = session, page
        self._of: object = None
        self._offered = False
        page.kept.connect(self._keep)
        page.left.connect(self._again)
        page.country_turned.connect(lambda c: page.offer_parts(list(holidays_of.parts(c))))
        page.holidays_asked.connect(self._holidays)

    def show(self) -> None:
        """What is in force; what was typed meanwhile stays while that has not changed."""
        if not self._offered:
            self._offered = True
            countries = sorted((_name(code), code) for code in holidays_of.countries())
            here = QLocale.territoryToCode(QLocale.system().territory())
            self._page.offer(sorted(zoneinfo.available_timezones()), countries, here)
            self._page.offer_parts(list(holidays_of.parts(self._page.country.currentData())))
        key = (self._session.shop.hours, self._session.journal)
        if key != self._of:
            self._of = key
            self._again()

    def _again(self) -> None:
        hours = self._session.shop.hours
        self._page.show_hours(
            _in_force(hours), hours_form.shown(hours, DAILY), hours.zone, hours_form.closed_lines(hours.closed)
        )

    def _keep(self) -> None:
        page = self._page
        page.clear_faults()
        typed = page.typed()
        try:
            body = hours_form.read(typed["zone"], typed, page.closed.toPlainText())
            self._session.log(body, origin="hours")
        except InputError as error:
            if not page.tell_fault(error.path, fault(error, self._session.units)):
                self.told.emit(whole_fault(error, self._session.units))

    def _holidays(self, country: str, part: str) -> None:
        page, session = self._page, self._session
        try:
            there = hours_form.closed(page.closed.toPlainText())
        except InputError as error:
            page.tell_fault("closed", fault(error, session.units))
            return
        known = {c.first for c in there}
        found = holidays_of.of(country, part, session.local(session.now).date(), YEARS)
        more = tuple(c for c in found if c.first not in known)
        page.closed.setPlainText(hours_form.closed_lines(tuple(sorted((*there, *more), key=lambda c: c.first))))


def _name(code: str) -> str:
    """A country's name by its code."""
    return QLocale.territoryToString(QLocale.codeToTerritory(code))


def _in_force(hours: ShopHours) -> str:
    clock = f"by the clock of {hours.zone}" if hours.zone else "by this machine's clock"
    if hours.zone and hours.clock is None:
        clock = f"by this machine's clock: {hours.zone} is not known on it"
    elif hours.zone and (here := of_this_machine()) and here != hours.zone:
        clock += f" (this machine stands in {here})"
    if not hours.week:
        return f"No hours told yet: work is planned from 8 to 20 on every day (A), {clock}."
    days = sum(bool(day) for day in hours.week)
    total = sum(b - a for day in hours.week for a, b in day)
    return (
        f"Work by hand is planned on {days} days a week, {written.number(total, 'g')} hours in all, {clock}. "
        "Films dry round the clock."
    )
