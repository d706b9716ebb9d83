"""What was typed, turned into journal entries; every fault names its field. No Qt."""

import contextlib
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from msgspec.structs import replace

from ravden.core.errors import InputError, need
from ravden.core.record import Measures
from ravden.journal.entry import iso
from ravden.journal.hours import EARLIEST, ShopHours
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text import written
from ravden.text.units import Units
from ravden.text.written import number_in

PROMISED_HOUR = 17


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """A field of a form: what it is called, its unit, what it starts with, and its choices if it has them."""

    name: str
    label: str
    unit: str = ""
    value: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    tip: str = ""
    turns: bool = False  # choosing another value asks for other fields


A_PROMISE = datetime(2026, 12, 18)
A_DAY = datetime(2026, 11, 23)  # in hints of how a moment is typed


def when_tip() -> str:
    """How a moment may be typed."""
    return f"now, {written.example(A_DAY)}"


@contextlib.contextmanager
def at_fields(names: Mapping[str, str]) -> Iterator[None]:
    """Faults the core finds in a quantity are told at the field it was typed in."""
    try:
        yield
    except InputError as error:
        raise InputError(names.get(error.path, error.path), error.said) from None


def number(text: str, field: str) -> float:
    """A number as people type it; comma or point."""
    need(bool(text.strip()), field, "type a number")
    value = number_in(text.strip(), field)
    if not abs(value) < 1e9:
        raise InputError(field, "type an ordinary number")
    return value


def moment(text: str, now: datetime, hours: ShopHours | None = None) -> datetime:
    """When it was: empty or "now", "14:30" (today), "yesterday 14:30", or "2026-11-23 14:30"; by the shop's clock, as
    ``now`` is."""
    wall = hours or ShopHours()
    clean = text.strip().lower()
    if clean in ("", "now"):
        return now
    day = now
    if clean.startswith(("yesterday", "today")):
        word, _, clean = clean.partition(" ")
        day = now - timedelta(days=word == "yesterday")
    if (hour := written.read_hour(clean)) is not None:
        return wall.on_the_wall(datetime(day.year, day.month, day.day, *hour), now)
    told, _, of_day = clean.partition(" ")
    on, at = written.read_day(told), written.read_hour(of_day) if of_day.strip() else (0, 0)
    if on is not None and at is not None:
        need(on.year >= EARLIEST, "at", f"that is before {EARLIEST}: is the year right?")
        return wall.on_the_wall(datetime(on.year, on.month, on.day, *at), now)
    raise InputError("at", f"write {written.example(A_DAY)}")


def sanding_fields(units: Units, um: float, purpose: str, grade: str) -> tuple[Field, ...]:
    return (
        Field(
            name="purpose", label="What for", value=purpose,
            choices=(("scuff", "Scuff between coats"), ("level", "Level sand"), ("rub-out", "Rub out")),
        ),
        Field(name="grade", label="Grit", value=grade,
              tip="As it stands on the paper, P800: minutes, and what is drawn from the shelf, go by it."),
        Field(
            name="um", label="Film taken off the flats", unit=units.film_unit, value=units.film_number(um),
            tip="About what the ladder expects; a reading afterwards settles it.",
        ),
        Field(name="minutes", label="Rubbed for", unit="min", value="",
              tip="If you looked: it teaches Ravden how long you take; with gauge readings before and after, how your "
              "paper cuts."),
        Field(name="texture", label="Texture before", unit=units.film_unit, value="",
              tip="Peak to valley, if you measured it before levelling: it teaches Ravden what texture you leave."),
        Field(name="edges", label="Edges", value="off", choices=(("off", "kept off"), ("worked", "worked too"))),
        Field(name="at", label="When", value="now", tip=when_tip()),
    )  # fmt: skip


SUN_MW_CM2 = 1.0  # [A] curing light from the open sky for each step of the ultraviolet index


def light_fields() -> tuple[Field, ...]:
    return (
        Field(
            name="source", label="Light from", value="sun", choices=(("sun", "the sun"), ("lamp", "a lamp")),
            tip="The index of the day for the sun; the lamp's rating at the work.",
        ),
        Field(name="strength", label="Index, or lamp in mW/cm²", value="5"),
        Field(name="minutes", label="For", unit="min", value="10"),
        Field(name="at", label="When", value="now", tip=when_tip()),
    )  # fmt: skip


def light(typed: Mapping[str, str]) -> ExposureLogged:
    """Light as typed, as a dose: irradiance times time."""
    strength, minutes = number(typed["strength"], "strength"), number(typed["minutes"], "minutes")
    if strength <= 0:
        raise InputError("strength", "must be greater than 0")
    if minutes <= 0:
        raise InputError("minutes", "must be greater than 0")
    sun = typed["source"] == "sun"
    irradiance = strength * SUN_MW_CM2 if sun else strength
    how = f"{minutes:g} min of sun, index {strength:g}" if sun else f"{minutes:g} min at {strength:g} mW/cm²"
    return ExposureLogged(dose_mJ_cm2=irradiance * minutes * 60, how=how)


# [A] times the light of a room, on the uptake of oxygen
CABINET_LIGHT = (("1", "as in the room"), ("1.5", "sun through glass"), ("3", "a lamp box"))


def cabinet_fields(units: Units) -> tuple[Field, ...]:
    return (
        Field(name="temp_C", label="Cabinet", unit=units.temperature_unit, value=f"{units.temperature_value(30):.0f}"),
        Field(name="rh", label="Humidity", unit="%", value="30"),
        Field(name="light", label="Light in it", value="1", choices=CABINET_LIGHT,
              tip="Oil and varnish harden by light too."),
        Field(name="hours", label="For", unit="h", value="24", tip="Log it again for longer."),
        Field(name="at", label="Since", value="now", tip=when_tip()),
    )  # fmt: skip


def handed_fields(wrong: str = "") -> tuple[Field, ...]:
    """wrong: what is still open on it, in a sentence."""
    still = () if not wrong else (
        Field(name="wrong", label="Still open", value="as it is", choices=(("as it is", f"{wrong}: hand it over so"),),
              tip="Close it first where it is gone: Something is wrong (G)."),
    )  # fmt: skip
    return (
        *still,
        Field(name="to", label="To whom, if you wish",
              tip="Kept apart from the journal; no file you give away has it in it."),
        Field(name="note", label="Note", tip="What its next look or repair should know."),
        Field(name="at", label="When", value="now", tip=when_tip()),
    )  # fmt: skip


MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def usual_fields(units: Units, usual: tuple[tuple[float, float], ...]) -> tuple[Field, ...]:
    """Each month as temperature and humidity, such as 18 55."""
    out = []
    for i, month in enumerate(MONTHS):
        temp, rh = usual[i] if usual else (20.0, 0.5)
        out.append(
            Field(name=month, label=f"{month}, {units.temperature_unit} and %",
                  value=f"{units.temperature_value(temp):.0f} {100 * rh:.0f}", tip="Temperature and humidity.")
        )  # fmt: skip
    return tuple(out)


def forecast_fields(units: Units) -> tuple[Field, ...]:
    """The coming days, each as temperature and humidity; empty days end it."""
    return tuple(
        Field(name=f"day{i}", label="Today" if i == 0 else f"In {i} day{'s' * (i > 1)}, {units.temperature_unit} and %",
              tip="Temperature and humidity, such as 17 60; leave empty to end.") for i in range(8)
    )  # fmt: skip


def _pair(text: str, field: str, units: Units) -> tuple[float, float]:
    parts = text.replace("%", " ").split()
    if len(parts) != 2:
        raise InputError(field, "write temperature and humidity, such as 18 55")
    return units.temperature_to_C(number(parts[0], field)), number(parts[1], field) / 100


def usual(typed: Mapping[str, str], units: Units) -> AirUsual:
    """The twelve months as typed."""
    pairs = [_pair(typed[m], m, units) for m in MONTHS]
    return AirUsual(temp_C=tuple(p[0] for p in pairs), rh=tuple(p[1] for p in pairs))


def usual_kept(typed: Mapping[str, str], units: Units, before: tuple[tuple[float, float], ...]) -> AirUsual | None:
    """The twelve months as typed over those of before: one that was left as it was shown is what it was, to the digit;
    None: all were."""
    shown = {f.name: f.value for f in usual_fields(units, before)}
    if before and all(typed[m] == shown[m] for m in MONTHS):
        return None
    kept = [before[i] if before and typed[m] == shown[m] else _pair(typed[m], m, units) for i, m in enumerate(MONTHS)]
    return AirUsual(temp_C=tuple(p[0] for p in kept), rh=tuple(p[1] for p in kept))


def forecast(typed: Mapping[str, str], units: Units) -> AirSeries:
    """The days as typed: each holds for a day from now on."""
    pairs = []
    for i in range(8):
        text = typed[f"day{i}"].strip()
        if not text:
            break
        pairs.append(_pair(text, f"day{i}", units))
    if not pairs:
        raise InputError("day0", "write at least one day, such as 17 60")
    return AirSeries(
        source="forecast", hours=tuple(24.0 * i for i in range(len(pairs))), temp_C=tuple(p[0] for p in pairs),
        rh=tuple(p[1] for p in pairs), name="by hand",
    )  # fmt: skip


def air_fields(units: Units, temp_C: float, rh: float) -> tuple[Field, ...]:
    return (
        Field(
            name="temp_C", label="Shop air", unit=units.temperature_unit,
            value=f"{units.temperature_value(temp_C):.0f}",
            tip="Holds from then on, for every instrument.",
        ),
        Field(name="rh", label="Humidity", unit="%", value=f"{100 * rh:.0f}"),
        Field(name="at", label="Since", value="now", tip=when_tip()),
    )  # fmt: skip


def read(kind: str, typed: Mapping[str, str], units: Units) -> Kind:
    """The journal entry a filled form stands for."""
    if kind == "light":
        return light(typed)
    if kind == "usual":
        return usual(typed, units)
    if kind == "forecast":
        return forecast(typed, units)
    if kind == "cabinet":
        return CabinetLogged(
            hours=number(typed["hours"], "hours"), temp_C=units.temperature_to_C(number(typed["temp_C"], "temp_C")),
            rh=number(typed["rh"], "rh") / 100, light=float(typed.get("light") or 1.0),
        )  # fmt: skip
    if kind == "sanding":
        return SandingLogged(
            um=film(typed, "um", units), grade=typed["grade"].strip(), purpose=typed["purpose"],
            edges_worked=typed["edges"] == "worked",
            minutes=number(typed["minutes"], "minutes") if typed.get("minutes", "").strip() else 0.0,
            texture_um=film(typed, "texture", units) if typed.get("texture", "").strip() else 0.0,
        )  # fmt: skip
    return AirLogged(
        temp_C=units.temperature_to_C(number(typed["temp_C"], "temp_C")), rh=number(typed["rh"], "rh") / 100
    )


def film(typed: Mapping[str, str], field: str, units: Units) -> float:
    """A film as typed [um]."""
    return units.film_to_um(number(typed[field], field))


def promise(text: str, now: datetime, hours: ShopHours | None = None) -> str | None:
    """A promised day, such as 2026-12-18, as the end of that working day in UTC; empty: none. now is local."""
    clean = text.strip()
    if not clean:
        return None
    on = written.read_day(clean)
    if on is None:
        raise InputError("promised", f"write the day as {written.typed_day(A_PROMISE)}, or leave it empty")
    day = datetime(on.year, on.month, on.day, PROMISED_HOUR)
    need(EARLIEST <= day.year < 2200, "promised", "is the year right?")
    at = (hours or ShopHours()).on_the_wall(day, now)
    if at <= now:
        raise InputError("promised", "that day is over")
    return iso(at)


MEASURE_FIELDS = (
    ("length_mm", "Body length"), ("upper_mm", "Upper width"), ("waist_mm", "Waist"), ("lower_mm", "Widest"),
    ("cutaway_mm", "Cutaway depth"), ("arch_mm", "Rise of the arch"), ("depth_neck_mm", "Depth at the neck"),
    ("depth_tail_mm", "Depth at the tail"), ("neck_length_mm", "Neck length"),
)  # fmt: skip


def measures(typed: Mapping[str, str], base: Measures, units: Units) -> Measures:
    """Measurements as typed, in mm; what is not asked for is as usual for the kind."""
    given = {name: units.length_to_mm(number(typed[name], name)) for name, _ in MEASURE_FIELDS}
    return replace(base, **given)


def slug(name: str, taken: set[str]) -> str:
    """A short id for an instrument, not yet taken."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60].strip("-") or "instrument"
    out, n = base, 2
    while out in taken:
        out, n = f"{base}-{n}", n + 1
    return out


def added(
    typed: Mapping[str, str],
    *,
    kind: str,
    base: Measures,
    material: str,
    method: str,
    units: Units,
    taken: set[str],
    now: datetime,
    hours: ShopHours | None = None,
) -> InstrumentAdded:
    """An instrument as entered on the guided page."""
    return InstrumentAdded(
        id=slug(typed["name"], taken),
        name=typed["name"].strip(),
        instrument_kind=kind,
        measures=measures(typed, base, units),
        material=material,
        method=method,
        sheen=typed["sheen"],
        min_film_um=film(typed, "min_film_um", units),
        bench_C=units.temperature_to_C(number(typed["bench_C"], "bench_C")),
        promised=promise(typed["promised"], now, hours),
        ground=typed["ground"],
    )
