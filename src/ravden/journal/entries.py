"""What can be written in the journal. Each kind is one struct; unknown fields are refused when it is read back."""

from datetime import UTC, datetime
from typing import Any

import msgspec

from ravden.core.errors import InputError
from ravden.core.fact import PLAIN, fact
from ravden.core.method.steps import Stage
from ravden.core.record import Instrument, Measures
from ravden.journal.booth_entries import (
    CareLogged,
    LightOnLogged,
    MixMade,
    PassLogged,
    SessionBegun,
    SessionEnded,
    SessionPaused,
)


class InstrumentAdded(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="instrument", omit_defaults=True
):
    """An instrument came onto the rack. promised: ISO date and time, UTC; plan: steps of its own in the place of its
    method's, such as with other numbers of coats."""

    id: str
    name: str
    instrument_kind: str
    measures: Measures
    material: str
    method: str
    sheen: str
    min_film_um: float
    bench_C: float = 20.0
    promised: str | None = None
    ground: str = "sealed"
    plan: tuple[Stage, ...] = ()


class CoatLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="coat", omit_defaults=True
):
    """A coat, nominal dry film in um; zones: None for all that get this finish; finish: another material's id; count:
    how many alike, or count_odds, pairs of a count and its odds; how: what was set or measured, in words."""

    dry_um: float
    zones: tuple[str, ...] | None = None
    finish: str = ""
    count: int = 1
    count_odds: tuple[tuple[int, float], ...] = ()
    how: str = ""


class SandingLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="sanding", omit_defaults=True
):
    """Film taken off the flats in um, as core's Sanding has it."""

    um: float
    grade: str = ""
    purpose: str = "level"
    edges_worked: bool = False
    zones: tuple[str, ...] | None = None
    part: bool = False
    minutes: float = 0.0
    mode: str = ""


class ReadingLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="reading", omit_defaults=True
):
    """Something measured or seen, as core's Reading has it."""

    zone: str = ""
    um: float = 0.0
    n: int = 1
    what: str = "gauge"
    high_um: float = 0.0
    landed: float = 0.0
    spot: bool = False
    place: tuple[float, float] | None = None
    how: str = ""
    gu60: float = 0.0


class MishapLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="mishap", omit_defaults=True
):
    """Something that went wrong on a zone, as core's Mishap has it."""

    what: str
    zone: str
    grade: str = ""
    place: tuple[float, float] | None = None


class StepLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="step", omit_defaults=True
):
    """A step of the method done, or skipped, by its name there."""

    step: str
    skipped: bool = False


class MethodKept(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="method", omit_defaults=True
):
    """A method of the shop's own, as the text of its file; a later one of the same id takes its place."""

    text: str
    name: str = "method"


class PlanSet(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="plan", omit_defaults=True
):
    """The steps of one instrument from then on, in the place of its method's; it counts while that method is in use,
    and none at all means the method's own again. what: what was changed, in words."""

    method: str
    stage: tuple[Stage, ...] = ()
    what: str = ""


class PriceSet(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="price", omit_defaults=True
):
    """What a litre of a material costs the shop from then on, in its own money."""

    material: str
    per_litre: float


class OwnAbrasive(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """An abrasive the shop knows only by its micrometres."""

    label: str
    d50_um: float
    grain: str = "paper"


class DrawerSet(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="drawer", omit_defaults=True
):
    """What the shop owns from then on: grade ids, abrasives of its own, wear by grade (0 fresh to 1 worn out), and the
    block papers are used on."""

    owned: tuple[str, ...]
    own: tuple[OwnAbrasive, ...] = ()
    wear: dict[str, float] = {}
    block: str = "firm"


class AirSeries(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="air-series", omit_defaults=True
):
    """Readings of a logger, or a forecast (the newest counts): hours after the entry's own time, C, humidity [-]."""

    source: str
    hours: tuple[float, ...]
    temp_C: tuple[float, ...]
    rh: tuple[float, ...]
    name: str = ""


class AirUsual(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="air-usual", omit_defaults=True
):
    """The shop's usual air, January to December: C and humidity as a share."""

    temp_C: tuple[float, ...]
    rh: tuple[float, ...]


class RateAccepted(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="rate", omit_defaults=True
):
    """From then on a material is taken to dry at this rate in this shop: mean and sd of ln of the factor."""

    material: str
    ln_mean: float
    ln_sd: float
    how: str = ""


class CabinetLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="cabinet", omit_defaults=True
):
    """An instrument in the warm cabinet from then on, for so many hours."""

    hours: float
    temp_C: float
    rh: float = 0.3


class ExposureLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="light", omit_defaults=True
):
    """Light on a light-cured film, in mJ/cm2; zones: None for all that were turned to it."""

    dose_mJ_cm2: float
    zones: tuple[str, ...] | None = None
    how: str = ""


class ZonesSet(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="zones", omit_defaults=True
):
    """From then on: zones masked, and zones under another finish by material id."""

    masked: tuple[str, ...] = ()
    finishes: dict[str, str] = {}


class AirLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="air", omit_defaults=True
):
    """The shop's air from then on: C and relative humidity as a share. It holds for every instrument."""

    temp_C: float
    rh: float = 0.5


class Undone(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="undone", omit_defaults=True
):
    """Entry ``corrects`` no longer counts. Undoing an Undone brings the first one back."""


class ShopNamed(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="shop", omit_defaults=True
):
    """The shop's name."""

    name: str


Body = (
    InstrumentAdded | CoatLogged | SandingLogged | ReadingLogged | AirLogged | AirSeries | AirUsual | CabinetLogged
    | DrawerSet | MishapLogged | StepLogged | MethodKept | PlanSet | PriceSet | RateAccepted | ExposureLogged | ZonesSet
    | PassLogged | CareLogged | LightOnLogged | MixMade | SessionBegun | SessionPaused | SessionEnded | Undone
    | ShopNamed
)  # fmt: skip

_encoder = msgspec.json.Encoder()
_decoder = msgspec.json.Decoder(Body)


class Entry(msgspec.Struct, frozen=True, kw_only=True):
    """One line of the journal: when it happened, when it was written, about which instrument, and what."""

    id: int
    at: datetime
    logged_at: datetime
    instrument: str
    body: Body
    corrects: int | None = None


def encode(body: Body) -> str:
    """The JSON kept in the file."""
    return _encoder.encode(body).decode()


def decode(text: str) -> Body:
    """A body read back; raises InputError for anything that is not one."""
    try:
        return _decoder.decode(text)
    except (msgspec.DecodeError, msgspec.ValidationError, InputError) as error:
        cause = error if isinstance(error, InputError) else error.__cause__
        why = cause.said if isinstance(cause, InputError) else fact(PLAIN, text=str(error))
        raise InputError("", fact("unreadable-entry", why=why)) from None


def iso(moment: datetime) -> str:
    """Aware time as UTC text that sorts by time."""
    if moment.tzinfo is None:
        raise InputError("at", "a time without a time zone cannot be kept")
    return moment.astimezone(UTC).isoformat(timespec="milliseconds")


def instrument_of(body: InstrumentAdded, zero: datetime) -> Instrument:
    """The core's record; the promise counted in hours from zero."""
    promised: float | None = None
    if body.promised is not None:
        try:
            promised = (datetime.fromisoformat(body.promised) - zero).total_seconds() / 3600
        except (ValueError, TypeError):
            raise InputError("promised", f"{body.promised} is not a date and time") from None
    return Instrument(
        id=body.id, name=body.name, kind=body.instrument_kind, measures=body.measures, material=body.material,
        method=body.method, sheen=body.sheen, min_film_um=body.min_film_um, bench_C=body.bench_C, promised_h=promised,
        ground=body.ground,
    )  # fmt: skip


def as_dict(entry: Entry) -> dict[str, Any]:
    """An entry as plain data, for export."""
    return {
        "id": entry.id, "at": iso(entry.at), "logged_at": iso(entry.logged_at), "instrument": entry.instrument,
        "corrects": entry.corrects, "body": msgspec.to_builtins(entry.body),
    }  # fmt: skip
