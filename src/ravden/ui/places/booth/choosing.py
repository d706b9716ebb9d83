"""Choosing what a session is on: instruments, zones, their order, what was looked at, the lamp."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.journal.kinds.session import SessionBegun
from ravden.ui.places.booth import before, turns
from ravden.ui.places.booth.beside import LiveAir
from ravden.ui.places.booth.view import BoothView


class Choosing(QObject):
    """Nothing of it is in the journal until the session begins. known: what is known of every instrument by now."""

    changed = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(
        self, session: ShopSession, view: BoothView, known: Callable[[], dict[str, Outlook]], parent: QObject
    ) -> None:
        super().__init__(parent)
        self._session, self._view, self._known = session, view, known
        self.choice = before.Choice()
        view.before.toggled.connect(self._toggle)
        view.before.earlier.connect(self._earlier)
        view.before.ticked.connect(self._tick)
        view.before.lamp_set.connect(self._lamp)
        view.before.zones_asked.connect(self.ask_zones)
        view.zones_asked.connect(lambda: view.before.ask_zones(session.selected))
        view.zone_pick.picked.connect(self._zones)

    def show(self, live: LiveAir | None) -> None:
        """Draw the page; live: what the sensor says."""
        self._view.before.show_before(before.show(self._session, self._known(), self.choice, live))

    def fill(self, instruments: tuple[str, ...]) -> None:
        """These and no others for the next session, in this order; nothing where one is going on."""
        if turns.going_on(self._session) is None:
            self.choice.by_hand = {name: name in instruments for name in self._session.shop.racked}
            self.choice.order = list(instruments)
            self.changed.emit()

    def begin(self) -> None:
        """Write down that the session begins, and turn to its first instrument. Raises InputError with none chosen."""
        session, choice = self._session, self.choice
        names = tuple(row.id for row in before.chosen(session, self._known(), choice) if row.chosen)
        if not names:
            raise InputError("", "choose an instrument for the session first")
        shown = before.show(session, self._known(), choice)
        body = SessionBegun(
            instruments=names, unchecked=tuple(name for name, _, on in shown.checks if not on),
            lamp_mW_cm2=choice.lamp_mW_cm2, parts=tuple(p for p in map(choice.part, names) if p.off_plan or p.zones),
        )  # fmt: skip
        session.log(body, origin="booth")
        choice.forget()
        if session.selected not in names:
            session.select(names[0], "booth")

    def ask_zones(self, name: str) -> None:
        """Ask which zones of an instrument, in which order."""
        rack = self._session.shop.on_rack(name)
        offered = tuple((z.name, z.label) for z in rack.project.zones if z.name in rack.open_zones)
        self._view.zone_pick.ask(name, rack.instrument.name, offered, self.choice.zones.get(name, ()))
        self._view.over(self._view.zone_pick)

    def _toggle(self, name: str) -> None:
        known = self._known()
        row = next((r for r in before.chosen(self._session, known, self.choice) if r.id == name), None)
        if row is not None:
            self.choice.turn(row, turns.may_be_sanded(known.get(name)))
        self.changed.emit()

    def _earlier(self, name: str) -> None:
        names = [row.id for row in before.chosen(self._session, self._known(), self.choice)]
        at = names.index(name) if name in names else 0
        if at > 0:
            names[at - 1 : at + 1] = [names[at], names[at - 1]]
        self.choice.order = names
        self.changed.emit()

    def _zones(self, name: str, order: tuple[str, ...]) -> None:
        self.choice.zones[name] = order
        self.changed.emit()

    def _tick(self, name: str) -> None:
        self.choice.ticked ^= {name}
        self.changed.emit()

    def _lamp(self, text: str) -> None:
        try:
            self.choice.lamp_mW_cm2 = float(text.replace(",", "."))
        except ValueError:
            self.told.emit(f"{text} is no number of mW/cm²")
