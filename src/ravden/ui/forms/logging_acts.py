"""Logging from any place: which form an act asks for, and what becomes of it; correcting what was logged."""

import contextlib
from collections.abc import Mapping
from datetime import datetime

from msgspec import structs

from ravden.app import coat_forms, correcting, defect_words, forms, reading_forms, zone_forms
from ravden.app.changes import Changes
from ravden.app.forms import Field, at_fields
from ravden.app.session import ShopSession
from ravden.app.slips import SURE, DoubtError, doubt
from ravden.core.abrasive.scuff import SCUFF_UM
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import NO_FILE, NO_INSTRUMENT, InputError, need
from ravden.core.state.history import air_at
from ravden.journal.entry import Entry
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.rack import OnRack
from ravden.text import written
from ravden.text.units import Units
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


class Acts:
    """Opens the card with what is likely filled in, and hands what was typed to the session."""

    def __init__(self, session: ShopSession, card: LogCard) -> None:
        self._session, self._card = session, card
        self._place: tuple[float, float] | None = None

    def ask(
        self, kind: str, found: Outlook | None, zone: str, place: tuple[float, float] | None = None, choice: str = ""
    ) -> None:
        """Open the card for a coat, a sanding, a reading, the zones or the air. Raises InputError with nothing to log.

        place: where on the outline a reading is taken [mm]; choice: how the coat is known, or what the reading is with.
        """
        self._place = place
        if kind in SHOP_WIDE:
            self._need_file()
            self._card.ask(
                kind,
                SHOP_WIDE[kind],
                self._shop_fields(kind, self._session.units),
                lambda typed: self._log(kind, typed, "", None),
            )
            return
        rack = self._rack()
        fields = self._fields(kind, rack, found, zone, choice, self._session.units)
        instrument = self._session.selected
        self._card.ask(
            kind, HEADINGS[kind].format(rack.instrument.name), fields,
            lambda typed: self._log(kind, typed, instrument, found),
            lambda typed: self.ask(kind, found, typed.get("zone", zone), self._place, typed.get("by") or typed["what"]),
        )  # fmt: skip

    def correct(self, entry: Entry) -> None:
        """Open the card with what was typed for an entry, to put something else in its place."""
        if correcting.form_of(entry.body) is None:
            raise InputError("", "this entry cannot be corrected; take it back and log it again")
        self._need_file()
        self._place = entry.body.place if isinstance(entry.body, ReadingLogged) else None
        self._ask_again(entry, correcting.choice_of(entry.body))

    def _ask_again(
        self, entry: Entry, choice: str, typed: Mapping[str, str] | None = None,
        first: Mapping[str, str] | None = None,
    ) -> None:  # fmt: skip
        """typed: in another form of the kind, whose fields of the same name go on saying so; first: what the form the
        entry was filled in by says, where this is another."""
        session, body = self._session, entry.body
        kind, units = correcting.form_of(body) or "", correcting.units_of(body, session.units)
        project, rack = None, None
        if kind not in SHOP_WIDE:
            rack = session.shop.on_rack(entry.instrument)
            project = rack.project
        fields = self._fields(kind, rack, None, "", choice, units)
        at = written.typed_moment(session.local(entry.at))
        said = {"at": at, **correcting.values(body, project, units)}
        shown = correcting.filled(fields, said, project)
        was = first or {f.name: f.value for f in shown}
        if typed is not None:
            shown = correcting.filled(fields, said | dict(typed), project)

        def put(now: dict[str, str]) -> None:
            sure = bool(now.pop(SURE, ""))
            if now == was:
                session.tell(Changes(origin="card", message="Nothing was changed"))
                return
            moment = entry.at
            if now.get("at", at) != at:
                moment = forms.moment(now["at"], session.local(session.now), session.shop.hours)
            before = None
            # A form that no longer says what it said, such as one of a finish left since, comes to nothing.
            with contextlib.suppress(InputError):
                before = self._read(kind, was, entry.instrument, units, entry.at)
            after = correcting.keeping(self._read(kind, now, entry.instrument, units, moment), self._dated(now), units)
            corrected = correcting.corrected(body, before, after)
            if (
                not sure
                and (slip := doubt(session, corrected, now, units, entry.instrument, moment, was=was)) is not None
            ):
                raise DoubtError(slip)
            session.correct(entry.id, corrected, at=moment, origin="card")

        def turn(now: dict[str, str]) -> None:
            self._ask_again(entry, now.get("by") or now["what"], now, was)

        self._card.ask(kind, f"Correct: {session.describe(entry)}", shown, put, turn, "Correct it")

    def _need_file(self) -> None:
        if self._session.journal is None:
            raise InputError("", NO_FILE, remedy="file")

    def _rack(self) -> OnRack:
        self._need_file()
        rack = self._session.rack
        if rack is None:
            raise InputError("", NO_INSTRUMENT, remedy="instrument")
        return rack

    def _fields(
        self, kind: str, rack: OnRack | None, found: Outlook | None, zone: str, choice: str, units: Units
    ) -> tuple[Field, ...]:  # fmt: skip
        catalogue = self._session.catalogue
        if rack is None:
            return self._shop_fields(kind, units)
        if kind == "coat":
            return coat_forms.fields(catalogue, rack.project, units, choice)
        if kind == "sanding":
            return self._sanding(found, units)
        if kind == "cabinet":
            return forms.cabinet_fields(units)
        if kind == "light":
            return forms.light_fields()
        if kind == "handed":
            return forms.handed_fields(defect_words.open_line(self._session, rack))
        if kind == "zones":
            return zone_forms.fields(catalogue, rack.project)
        return reading_forms.fields(
            catalogue, rack.project, units, zone or rack.project.zones[0].name,
            choice or reading_forms.first_of(self._session.tools), self._session.tools,
        )  # fmt: skip

    def _sanding(self, found: Outlook | None, units: Units) -> tuple[Field, ...]:
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

    def _shop_fields(self, kind: str, units: Units) -> tuple[Field, ...]:
        if kind == "usual":
            return forms.usual_fields(units, self._session.shop.air.usual)
        return forms.forecast_fields(units) if kind == "forecast" else self._air(units)

    def _air(self, units: Units) -> tuple[Field, ...]:
        session = self._session
        rack = session.rack
        temp, rh = 20.0, 0.5
        if rack is not None:
            air = air_at(rack.project_at(session.now), rack.hours(session.now))
            temp, rh = air.temp_C, air.rh
        return forms.air_fields(units, temp, rh)

    def _read(self, kind: str, typed: Mapping[str, str], instrument: str, units: Units, at: datetime) -> Kind:
        """The entry a filled form stands for."""
        session = self._session
        if kind not in ("coat", "reading", "zones"):
            return forms.read(kind, typed, units)
        rack = session.shop.on_rack(instrument)
        project = rack.project
        if kind == "coat":
            body = coat_forms.read(session.catalogue, project, typed, units)
            return structs.replace(body, over_h=self._over_h(typed, at))
        if kind == "reading":
            return reading_forms.read(session.catalogue, project, typed, units, self._place, rack.hours(at))
        return zone_forms.read(project, typed)

    def _first(self, typed: Mapping[str, str]) -> datetime | None:
        """When the first of several coats was laid, where that is said."""
        session, text = self._session, typed.get("first", "")
        if not text.strip():
            return None
        with at_fields({"at": "first"}):
            return forms.moment(text, session.local(session.now), session.shop.hours)

    def _dated(self, typed: Mapping[str, str]) -> Mapping[str, str]:
        """What was typed with the day in it: "yesterday" is another day tomorrow."""
        first = self._first(typed)
        return typed if first is None else {**typed, "first": f"{self._session.local(first):%Y-%m-%d %H:%M}"}

    def _over_h(self, typed: Mapping[str, str], last: datetime) -> float:
        first = self._first(typed)
        if first is None:
            return 0.0
        need(coat_forms.counts(typed["count"]) != (1, ()), "first", "it is one coat: say when it was")
        need(first < last, "first", "must be before the last of them")
        return (last - first).total_seconds() / 3600

    def _log(self, kind: str, typed: dict[str, str], instrument: str, found: Outlook | None) -> None:
        session = self._session
        sure = bool(typed.pop(SURE, ""))
        at = forms.moment(typed.get("at", ""), session.local(session.now), session.shop.hours)
        if kind == "handed":
            session.hand_over(at, typed["to"], typed["note"].strip(), "card")
            return
        body: Kind | None = self._read(kind, typed, instrument, session.units, at)
        if kind == "usual":
            body = forms.usual_kept(typed, session.units, session.shop.air.usual)
        if body is None:
            session.tell(Changes(origin="card", message="Nothing was changed"))
            return
        session.need_possible(body, instrument, at)
        if not sure and (slip := doubt(session, body, typed, session.units, instrument, at, found)) is not None:
            raise DoubtError(slip)
        if kind != "zones":
            body = correcting.keeping(body, self._dated(typed), session.units)
        session.log(body, instrument=instrument, at=at, origin="card")
