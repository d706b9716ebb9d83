"""Who works here, at work: shown, typed, and kept."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app import crew_forms, hours_form
from ravden.app.session import ShopSession
from ravden.core.calendar.hours import DAILY
from ravden.core.errors import InputError
from ravden.journal.crew import Gun, Hand
from ravden.journal.kinds.crew import OfCrew, PersonSet
from ravden.text.say import fault, whole_fault
from ravden.ui.places.shop.people_page import MOST_GUNS, PeoplePage

NOBODY = (
    "One pair of hands, in the shop's hours. The first one you name takes its place; with a second one work is shared "
    "out in the days ahead on the Rack."
)
NEW, SOMEBODY = "Somebody more in the plan of the days ahead.", "Counts in the plan of the days ahead."


class PeopleControl(QObject):
    """Keeps the page showing what is in force, unless something has been typed and not kept."""

    told = pyqtSignal(str)

    def __init__(self, session: ShopSession, page: PeoplePage) -> None:
        super().__init__(page)
        self._session, self._page = session, page
        self._of: object = None
        self._who = ""
        self._offered = False
        page.kept.connect(lambda what: self._guarded(self._keep_person if what == "person" else self._keep_booth))
        page.gone.connect(lambda: self._guarded(self._gone))
        page.turned.connect(self._turn)

    def show(self) -> None:
        """What is in force; what was typed meanwhile stays while that has not changed."""
        if not self._offered:
            self._offered = True
            weeks = [
                (label, tuple(hours_form.spans(day, "week") for day in days)) for label, days in hours_form.PRESETS
            ]
            self._page.offer_presets([(label, crew_forms.cells(week, DAILY)) for label, week in weeks])
        shop = self._session.shop
        key = (shop.crew, shop.hours, tuple(shop.racked), self._session.journal, self._session.units.system)
        if key != self._of:
            self._of = key
            if shop.crew.named(self._who) is None:
                self._who = shop.crew.hands[0].name if shop.crew.hands else ""
            self._show_person()
            self._show_booth()

    def _turn(self, name: str) -> None:
        self._who = name
        self._show_person()

    def _show_person(self) -> None:
        shop, page = self._session.shop, self._page
        hands = shop.crew.hands
        hand = shop.crew.named(self._who) or Hand(name="")
        note = SOMEBODY if hand.name else NEW if hands else NOBODY
        page.show_names([h.name for h in hands], hand.name)
        page.show_person(
            note, hand.name, crew_forms.cells(hand.week or shop.hours.week, DAILY), own=bool(hand.week),
            sprays=hand.sprays, buffs=hand.buffs, away=crew_forms.away_lines(shop.crew.off, hand.name),
        )  # fmt: skip

    def _show_booth(self) -> None:
        session, crew = self._session, self._session.shop.crew
        used = {
            s.finish or r.instrument.material
            for r in session.shop.racked.values() for s in r.method.stage
            if s.kind == "coats" and (s.by or r.project.own_way.get(s.finish or r.instrument.material)) == "spray"
        }  # fmt: skip
        there = [m for m in session.catalogue.materials.values() if m.id in used or m.id in crew.guns]
        places, units = crew.stations, session.units
        self._page.show_booth(
            crew_forms.station_fields(places, units),
            crew.company_days,
            [(m.id, m.label, crew_forms.gun_fields(crew.guns.get(m.id, Gun()), units)) for m in there[:MOST_GUNS]],
            crew_forms.struck_lines(crew.struck), units.temperature_unit,
        )  # fmt: skip

    def _keep_person(self) -> None:
        page, crew = self._page, self._session.shop.crew
        name = page.name.text().strip()
        week = page.week.cells if page.own.isChecked() else None
        bodies = crew_forms.person(
            crew, self._who, page.name.text(), week, page.sprays.isChecked(), page.buffs.isChecked(),
            page.away.toPlainText(),
        )  # fmt: skip
        self._log(bodies)
        self._who, self._of = name, None
        self.show()

    def _keep_booth(self) -> None:
        page, crew = self._page, self._session.shop.crew
        stations = crew_forms.stations(
            {name: field.text() for name, field in page.stations.items()}, self._session.units, crew.stations
        )
        rule = crew_forms.booth_rule(page.company.currentData(), page.typed_guns(), self._session.units, crew.guns)
        try:
            struck = crew_forms.struck(page.struck.toPlainText())
        except InputError as error:
            raise InputError("struck", error.said) from None
        bodies: list[OfCrew] = [
            body for body in (stations, rule, struck) if body.onto_crew(crew) != crew
        ]  # what is as it was is not told again
        self._log(bodies)

    def _gone(self) -> None:
        self._log([PersonSet(name=self._who, gone=True)])

    def _log(self, bodies: list[OfCrew]) -> None:
        with self._session.one_act():
            for body in bodies:
                self._session.log(body, origin="people")

    def _guarded(self, slot: Callable[[], None]) -> None:
        self._page.clear_faults()
        try:
            slot()
        except InputError as error:
            if not self._page.tell_fault(error.path, fault(error, self._session.units)):
                self.told.emit(whole_fault(error, self._session.units))
