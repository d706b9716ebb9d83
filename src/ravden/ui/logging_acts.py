"""Logging from any place: which form an act asks for, and what becomes of it."""

from ravden.core.errors import InputError
from ravden.core.plan.history import air_at
from ravden.core.plan.outlook import Outlook
from ravden.ui import forms
from ravden.ui.session import ShopSession
from ravden.ui.widgets.log_card import LogCard

HEADINGS = {"coat": "Log a coat on {}", "sanding": "Log a sanding on {}", "reading": "Take a reading on {}"}


class Acts:
    """Opens the card with what is likely filled in, and hands what was typed to the session."""

    def __init__(self, session: ShopSession, card: LogCard) -> None:
        self._session, self._card = session, card

    def ask(self, kind: str, found: Outlook | None, zone: str) -> None:
        """Open the card for a coat, a sanding, a reading or the air. Raises InputError with nothing to log on."""
        session = self._session
        if session.journal is None:
            raise InputError("", "no shop file is open; make one or open one first")
        if kind == "air":
            self._ask_air()
            return
        rack = session.rack
        if rack is None:
            raise InputError("", "add an instrument first (N)")
        units = session.units
        if kind == "coat":
            fields = forms.coat_fields(units, rack.project.material.coat_dry_um)
        elif kind == "sanding":
            fields = self._sanding(found)
        else:
            zones = tuple((z.name, z.label) for z in rack.project.zones)
            fields = forms.reading_fields(units, zones, zone or "top")
        name = rack.project.instrument.name
        instrument = session.selected
        self._card.ask(kind, HEADINGS[kind].format(name), fields, lambda typed: self._log(kind, typed, instrument))

    def _sanding(self, found: Outlook | None) -> tuple[forms.Field, ...]:
        units = self._session.units
        purpose, grade, um = "scuff", "P400", 2.0
        ahead = found.forward if found is not None else None
        if found is not None and ahead is not None and ahead.sandings and ahead.before_coats:
            planned = ahead.sandings[0]
            purpose, um = planned.purpose, planned.um
            if found.rub_out.ladder is not None:
                first = found.rub_out.ladder.steps[0]
                grade = first.rung.abrasive.name
                um = first.remove_um if purpose == "level" else um
        return forms.sanding_fields(units, um, purpose, grade)

    def _ask_air(self) -> None:
        session = self._session
        rack = session.rack
        temp, rh = 20.0, 0.5
        if rack is not None:
            air = air_at(rack.project, rack.hours(session.now))
            temp, rh = air.temp_C, air.rh
        self._card.ask(
            "air",
            "The shop's air",
            forms.air_fields(session.units, temp, rh),
            lambda typed: self._log("air", typed, ""),
        )

    def _log(self, kind: str, typed: dict[str, str], instrument: str) -> None:
        session = self._session
        at = forms.moment(typed["at"], session.local(session.now))
        session.log(forms.read(kind, typed, session.units), instrument=instrument, at=at, origin="card")
