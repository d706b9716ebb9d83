"""Logging from any place: which form an act asks for, and what becomes of it; correcting what was logged."""

from collections.abc import Mapping
from dataclasses import replace

from msgspec import structs

from ravden.app import coat_forms, forms, reading_forms, zone_forms
from ravden.app.forms import Field
from ravden.app.session import ShopSession
from ravden.core.abrasive.scuff import SCUFF_UM
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.state.history import air_at
from ravden.journal.entry import Entry
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.rack import OnRack
from ravden.ui.forms.log_card import LogCard
from ravden.ui.places.rubout.extras import scuff_rung

HEADINGS = {
    "coat": "Log a coat on {}", "sanding": "Log a sanding on {}", "reading": "Take a reading on {}",
    "light": "Log light on {}", "cabinet": "{} into the warm cabinet",
    "handed": "Hand over {}",
    "zones": "Zones of {}: finished, masked, or in another finish",
}  # fmt: skip
SHOP_WIDE = {
    "air": "The shop's air", "usual": "The shop's usual air, by month", "forecast": "The shop's air in the coming days",
}  # fmt: skip
KINDS = {CoatLogged: "coat", SandingLogged: "sanding", ReadingLogged: "reading", AirLogged: "air"}


class Acts:
    """Opens the card with what is likely filled in, and hands what was typed to the session."""

    def __init__(self, session: ShopSession, card: LogCard) -> None:
        self._session, self._card = session, card
        self._place: tuple[float, float] | None = None
        self._correcting: Entry | None = None

    def ask(
        self, kind: str, found: Outlook | None, zone: str, place: tuple[float, float] | None = None, choice: str = ""
    ) -> None:
        """Open the card for a coat, a sanding, a reading, the zones or the air. Raises InputError with nothing to log.

        place: where on the outline a reading is taken [mm]; choice: how the coat is known, or what the reading is with.
        """
        self._correcting, self._place = None, place
        if kind in SHOP_WIDE:
            self._need_file()
            self._card.ask(kind, SHOP_WIDE[kind], self._shop_fields(kind), lambda typed: self._log(kind, typed, ""))
            return
        rack = self._rack()
        fields = self._fields(kind, rack, found, zone, choice)
        instrument = self._session.selected
        self._card.ask(
            kind, HEADINGS[kind].format(rack.instrument.name), fields,
            lambda typed: self._log(kind, typed, instrument),
            lambda typed: self.ask(kind, found, typed.get("zone", zone), self._place, typed.get("by") or typed["what"]),
        )  # fmt: skip

    def correct(self, entry: Entry) -> None:
        """Open the card with what an entry says, to put something else in its place."""
        kind = KINDS.get(type(entry.body))
        if kind is None:
            raise InputError("", "this entry cannot be corrected; take it back and log it again")
        self._need_file()
        self._correcting = entry
        session = self._session
        if kind == "air":
            fields = self._air()
        else:
            rack = session.shop.on_rack(entry.instrument)
            fields = self._fields(kind, rack, None, "", _choice(entry.body))
        at = f"{session.local(entry.at):%Y-%m-%d %H:%M}"
        values = {"at": at, **self._values(entry.body)}
        filled = tuple(replace(f, value=values.get(f.name, f.value), turns=False) for f in fields)
        self._card.ask(
            kind, f"Correct: {session.describe(entry)}", filled, lambda typed: self._log(kind, typed, entry.instrument)
        )

    def _need_file(self) -> None:
        if self._session.journal is None:
            raise InputError("", "no shop file is open; make one or open one first")

    def _rack(self) -> OnRack:
        self._need_file()
        rack = self._session.rack
        if rack is None:
            raise InputError("", "add an instrument first (N)")
        return rack

    def _fields(self, kind: str, rack: OnRack, found: Outlook | None, zone: str, choice: str) -> tuple[Field, ...]:
        units, catalogue = self._session.units, self._session.catalogue
        if kind == "coat":
            return coat_forms.fields(catalogue, rack.project, units, choice)
        if kind == "sanding":
            return self._sanding(found)
        if kind == "cabinet":
            return forms.cabinet_fields(units)
        if kind == "light":
            return forms.light_fields()
        if kind == "handed":
            return forms.handed_fields()
        if kind == "zones":
            return zone_forms.fields(catalogue, rack.project)
        return reading_forms.fields(rack.project, units, zone or rack.project.zones[0].name, choice or "gauge")

    def _sanding(self, found: Outlook | None) -> tuple[Field, ...]:
        units = self._session.units
        purpose, grade, um = "scuff", "P400", SCUFF_UM
        if found is not None and (rung := scuff_rung(self._session, found.rub_out)) is not None:
            grade = rung.rung.abrasive.name
        ahead = found.forward if found is not None else None
        if found is not None and ahead is not None and ahead.sandings and ahead.before_coats:
            planned = ahead.sandings[0]
            purpose, um = planned.purpose, planned.um
            if found.rub_out.ladder is not None:
                first = found.rub_out.ladder.steps[0]
                grade = first.rung.abrasive.name
                um = first.remove_um if purpose == "level" else um
        return forms.sanding_fields(units, um, purpose, grade)

    def _shop_fields(self, kind: str) -> tuple[Field, ...]:
        session = self._session
        if kind == "usual":
            return forms.usual_fields(session.units, session.shop.air.usual)
        return forms.forecast_fields(session.units) if kind == "forecast" else self._air()

    def _air(self) -> tuple[Field, ...]:
        session = self._session
        rack = session.rack
        temp, rh = 20.0, 0.5
        if rack is not None:
            air = air_at(rack.project_at(session.now), rack.hours(session.now))
            temp, rh = air.temp_C, air.rh
        return forms.air_fields(session.units, temp, rh)

    def _values(self, body: Kind) -> Mapping[str, str]:
        """What the fields of an entry's form say."""
        units = self._session.units
        if isinstance(body, CoatLogged):
            count = " or ".join(str(n) for n, _ in body.count_odds) or str(body.count)
            on = f"finish:{body.finish}" if body.finish else (body.zones or ("",))[0]
            return {"dry_um": f"{units.film_value(body.dry_um):.4g}", "count": count, "on": on}
        if isinstance(body, SandingLogged):
            return {
                "um": f"{units.film_value(body.um):.4g}", "grade": body.grade, "purpose": body.purpose,
                "minutes": f"{body.minutes:g}" if body.minutes else "",
                "edges": "worked" if body.edges_worked else "off",
            }  # fmt: skip
        if isinstance(body, AirLogged):
            temp = units.temperature_value(body.temp_C)
            return {"temp_C": f"{temp:.4g}", "rh": f"{100 * body.rh:.4g}"}
        assert isinstance(body, ReadingLogged)
        amount = body.how.split(" ")[0]
        return {
            "what": body.what, "zone": body.zone, "um": f"{units.film_value(body.um):.4g}", "n": str(body.n),
            "high_um": f"{units.film_value(body.high_um):.4g}", "g": amount, "ml": amount,
            "spot": "spot" if body.spot else "whole",
        }  # fmt: skip

    def _log(self, kind: str, typed: dict[str, str], instrument: str) -> None:
        session = self._session
        at = forms.moment(typed.get("at", ""), session.local(session.now), session.shop.hours)
        body: Kind
        if kind == "handed":
            session.hand_over(at, typed["to"], typed["note"].strip(), "card")
            return
        if kind in ("coat", "reading", "zones"):
            project = session.shop.on_rack(instrument).project
            if kind == "coat":
                body = coat_forms.read(session.catalogue, project, typed, session.units)
            elif kind == "reading":
                body = reading_forms.read(project, typed, session.units, self._place)
            else:
                body = zone_forms.read(project, typed)
        else:
            body = forms.read(kind, typed, session.units)
        if self._correcting is not None:
            old = self._correcting.body
            if isinstance(body, SandingLogged) and isinstance(old, SandingLogged):
                # What the form does not ask stays as it was.
                body = structs.replace(body, zones=old.zones, part=old.part, mode=old.mode)
            session.correct(self._correcting.id, body, at=at, origin="card")
        else:
            session.log(body, instrument=instrument, at=at, origin="card")


def _choice(body: Kind) -> str:
    if isinstance(body, ReadingLogged):
        return body.what
    return "dry" if isinstance(body, CoatLogged) else ""
