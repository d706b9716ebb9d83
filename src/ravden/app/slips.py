"""Slips of the hand: what is typed that fits nothing, and what was likely meant. It is asked before it is believed, and
refusing to answer leaves the record as it was. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.forms import number
from ravden.app.next_coat import next_mend
from ravden.core.errors import InputError
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.film.ledger import ZoneFilm
    from ravden.journal.kinds.kind import Kind
    from ravden.text.units import Units

FAR = 2.0  # [A] times beyond the range of nine times in ten: such a film is asked about
COAT_FAR = 4.0  # [A] times the usual coat, or a part of it
MOST_OF_FILM = 0.5  # [A] share of the film that no sanding takes
WARMEST_C = 40.0  # [A] of a workshop: what is typed above it was read off another scale
SOONER_D = 2.0  # [A] days before a window opens at the earliest from which a levelling is asked about
WET_SHARE = 0.5  # [A] of the time a coat wants to dry for the next: sooner than that, one is asked about
OFF_BY = (0.1, 10.0, 1 / 25.4, 25.4)  # a point slipped, or thousandths of an inch for micrometers and the other way
SURE = "sure"  # in what was typed: it has been asked about
FIELDS = ("um", "dry_um", "wet_um", "ml", "grams")  # what a film is worked out from, the first that was typed


class Slip(Struct, frozen=True, kw_only=True):
    """A question. field: of the form; asks: in words; typed: what stands there; likely: what would be put there, empty
    where only the time can be wrong; unit: of both; anyway: how it is said that it stands, empty: as typed."""

    field: str
    asks: str
    typed: str
    likely: str = ""
    unit: str = ""
    anyway: str = ""


class DoubtError(Exception):
    """Something typed is asked about before it is logged."""

    def __init__(self, slip: Slip) -> None:
        super().__init__(slip.asks)
        self.slip = slip


def doubt(
    session: ShopSession, body: Kind, typed: Mapping[str, str], units: Units, instrument: str, at: datetime,
    found: Outlook | None = None, was: Mapping[str, str] | None = None,
) -> Slip | None:  # fmt: skip
    """What is asked about an entry; None: it fits. units: of the form; found: the outlook known of its instrument; was:
    what stood in the form of an entry that is corrected, which is not asked about again."""
    slip = _doubt(session, body, typed, units, instrument, at, found)
    return None if slip is None or (was is not None and was.get(slip.field) == typed.get(slip.field)) else slip


def _doubt(
    session: ShopSession, body: Kind, typed: Mapping[str, str], units: Units, instrument: str, at: datetime,
    found: Outlook | None,
) -> Slip | None:  # fmt: skip
    if isinstance(body, AirLogged):
        return _air(units, body, typed)
    if not instrument or instrument not in session.shop.racked:
        return None
    if isinstance(body, CoatLogged):
        return _coat(session, body, typed, units, instrument) or _on_wet(session, body, instrument, at, found)
    if isinstance(body, ReadingLogged) and body.what == "gauge":
        film = _film(session, instrument, body.zone, at)
        return None if film is None else _reading(units, body, typed, film)
    if isinstance(body, SandingLogged) and not (body.spot or body.bared):
        return _sanding(session, body, typed, units, instrument, at) or _too_soon(
            session, body, typed, instrument, at, found
        )
    return None


def _film(session: ShopSession, instrument: str, zone: str, at: datetime) -> ZoneFilm | None:
    """What is believed of a zone's film at a moment; None where nothing is, or nothing can be worked out."""
    from ravden.core.state.history import known

    asked = session.request(instrument)
    try:
        project = asked.fitted(asked.rack.project_at(asked.now), asked.teaching.beliefs())
        film = known(project, asked.rack.hours(at), asked.memory, asked.applicator()).ledger.film(zone)
    except InputError:
        return None
    return film if film.mean_um > 0 else None


def _reading(units: Units, body: ReadingLogged, typed: Mapping[str, str], film: ZoneFilm) -> Slip | None:
    low, high = film.p05_um / FAR, film.p95_um * FAR
    if low <= body.um <= high:
        return None
    said = f"{units.film(film.mean_um)} is believed there"
    return _asked("um", typed, units.film_unit, said, body.um, low, high)


def _coat(
    session: ShopSession, body: CoatLogged, typed: Mapping[str, str], units: Units, instrument: str
) -> Slip | None:
    if body.finish or body.spot:
        return None
    from ravden.app.next_coat import usual_coat_um

    usual = usual_coat_um(session.shop.on_rack(instrument), session.now)
    if usual / COAT_FAR <= body.dry_um <= usual * COAT_FAR:
        return None
    field = next((f for f in FIELDS if typed.get(f, "").strip()), "")
    said = f"that is {units.film(body.dry_um)} dry, and a coat is usually {units.film(usual)}"
    return _asked(field, typed, "", said, body.dry_um, usual / COAT_FAR, usual * COAT_FAR)


def _on_wet(
    session: ShopSession, body: CoatLogged, instrument: str, at: datetime, found: Outlook | None
) -> Slip | None:  # fmt: skip
    """A coat on one that is far from dry for it. Asked only where all coats before it are in what is known."""
    if body.finish or body.spot or body.mends or body.zones is not None or found is None:
        return None
    rack = session.shop.on_rack(instrument)
    laid = [c for c in rack.project.coats if not c.spot]
    known = found.project.instrument.id == instrument and len(found.project.coats) == len(rack.project.coats)
    if not laid or not known:
        return None
    last_h, at_h = laid[-1].at_h, rack.hours(at)
    dry_h = _dry_for_coat_h(found, last_h)
    if dry_h is None or not last_h <= at_h < last_h + WET_SHARE * (dry_h - last_h):
        return None
    now = session.local(session.now)
    said = (
        f"A coat {words.wait(at_h - last_h)} after the last? That one is dry for it about "
        f"{words.moment(session.local(rack.moment(dry_h)), now)}, {words.wait(dry_h - at_h)} later."
    )
    return Slip(field="at", asks=said, typed="now", anyway="Log it all the same")


def _dry_for_coat_h(found: Outlook, last_h: float) -> float | None:
    """When the last coat is dry for another: by its film where one is planned, by habit where none is."""
    index, stages = found.progress.index, found.method.stage
    step = next((s for s in found.forward.steps if s.index == index and s.bonds), None)
    if step is not None:
        return None if step.bonds[0] is None else step.bonds[0].next_h
    before = [s for s in stages[: index + 1] if s.kind == "coats" and not s.zones and s.between_h > 0]
    return last_h + before[-1].between_h if before else None


def usual_coat_doubt(session: ShopSession, found: Outlook | None) -> Slip | None:
    """What is asked about the one-key coat; None: it fits."""
    rack = session.rack
    if rack is None or next_mend(rack, session.now) is not None:
        return None
    return _on_wet(session, CoatLogged(dry_um=1.0), rack.instrument.id, session.now, found)


def _sanding(
    session: ShopSession, body: SandingLogged, typed: Mapping[str, str], units: Units, instrument: str, at: datetime
) -> Slip | None:
    zones = body.zones or (session.shop.on_rack(instrument).project.zones[0].name,)
    film = _film(session, instrument, zones[0], at)
    if film is None or body.um <= MOST_OF_FILM * film.mean_um:
        return None
    said = f"of {units.film(film.mean_um)} that are believed there"
    return _asked("um", typed, units.film_unit, said, body.um, 0.0, MOST_OF_FILM * film.mean_um)


def _too_soon(
    session: ShopSession, body: SandingLogged, typed: Mapping[str, str], instrument: str, at: datetime,
    found: Outlook | None,
) -> Slip | None:  # fmt: skip
    """A levelling days before its film can bear it at the earliest."""
    if body.purpose != "level" or found is None or found.project.instrument.id != instrument:
        return None
    window = next((w for w in found.windows if w.name == "level" and not w.mends), None)
    if window is None or window.early_h is None:
        return None
    early = session.shop.on_rack(instrument).moment(window.early_h)
    days = (early - at).total_seconds() / 86400.0
    if days < SOONER_D:
        return None
    now = session.local(session.now)
    when = typed.get("at", "").strip() or "now"
    said = (
        f"Levelled {when}? The film bears it on {words.day(session.local(early), now)} at the earliest, "
        f"{words.wait(24 * days)} later."
    )
    return Slip(field="at", asks=said, typed=when)


def _air(units: Units, body: AirLogged, typed: Mapping[str, str]) -> Slip | None:
    if body.temp_C <= WARMEST_C:
        return None
    meant = (body.temp_C - 32.0) / 1.8
    likely = "" if not 5.0 <= meant <= WARMEST_C else written.number(units.temperature_value(meant), ".3g")
    shown = typed.get("temp_C", "")
    asks = f"{shown} {units.temperature_unit}? " + (f"Or {likely} {units.temperature_unit}?" if likely else "")
    return Slip(field="temp_C", asks=asks.strip(), typed=shown, likely=likely, unit=units.temperature_unit)


def _asked(field: str, typed: Mapping[str, str], unit: str, said: str, value: float, low: float, high: float) -> Slip:
    """8 or 80? value: what the entry comes to, of which low to high would fit; the same in the typed field's own
    unit."""
    shown = typed.get(field, "").strip()
    fitting = [by for by in OFF_BY if low < value * by <= high]
    likely = ""
    if fitting and shown:
        likely = written.number(number(shown, field) * fitting[0], ".3g")
    which = f"{likely} or {shown}{f' {unit}' if unit else ''}?" if likely else f"{shown}{f' {unit}' if unit else ''}?"
    return Slip(field=field, asks=f"{which} {said[:1].upper()}{said[1:]}.", typed=shown, likely=likely, unit=unit)
