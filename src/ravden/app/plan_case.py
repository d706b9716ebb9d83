"""``ravden compute plan``, what goes in: one instrument's story, told as the journal would tell it."""

import math
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any, Literal
from zoneinfo import ZoneInfo

import msgspec
from msgspec import structs

from ravden.app.outlook_request import OutlookRequest, request
from ravden.catalogue.assemble import drawer_of, measures_of
from ravden.catalogue.tables import DEFAULT_DRAWER, Catalogue
from ravden.core.abrasive.grades import find
from ravden.core.calendar.hours import Spans
from ravden.core.calendar.shop_hours import WEEKDAYS, work_hours
from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.film.filter import Priors
from ravden.core.record import Measures
from ravden.core.rubout.rub_out import Ask
from ravden.exchange.case import Case
from ravden.journal.entry import Entry
from ravden.journal.fold import Fold, check, strictly
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.drawer import DrawerSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.zones import ZonesSet
from ravden.journal.shop import Shop

MOST_ACTS, MOST_AIR, MOST_CLOSED = 500, 20_000, 1_000
MOST_H = 24 * 366 * 5.0  # a plan is of one instrument, not of a life
INSTRUMENT = "instrument"


def _dated(body: type[msgspec.Struct]) -> Any:
    """A body of the journal with the hour it happened at."""
    config = body.__struct_config__
    return msgspec.defstruct(
        f"{body.__name__}At", [("at_h", float)], bases=(body,), kw_only=True, forbid_unknown_fields=True,
        tag_field=config.tag_field, tag=config.tag,
    )  # fmt: skip


ACTS: tuple[type[msgspec.Struct], ...] = (
    CoatLogged, SandingLogged, ReadingLogged, StepLogged, ExposureLogged, ZonesSet, CabinetLogged, MishapLogged,
)  # fmt: skip
DATED = tuple(_dated(body) for body in ACTS)
_BASE: dict[type[msgspec.Struct], Any] = dict(zip(DATED, ACTS, strict=True))
ActIn: Any = DATED[0] | DATED[1] | DATED[2] | DATED[3] | DATED[4] | DATED[5] | DATED[6] | DATED[7]


class InstrumentIn(Case):
    """The instrument: what is not told is as its kind and its method have it. measures: those that differ from its
    kind's, in mm."""

    kind: str
    method: str
    sheen: str = "gloss"
    measures: dict[str, Any] = {}
    material: str | None = None
    min_film_um: float | None = None
    ground: str = "sealed"
    bench_C: float = 20.0
    promised_h: float | None = None


class AirAtIn(Case):
    """Air from an hour on; after now it is a forecast."""

    at_h: float
    temp_C: float
    rh: float = 0.5


class LogIn(Case):
    """A belief, as mean and sd of a logarithm."""

    ln_mean: float
    ln_sd: float


class HandsIn(Case):
    """This user's removal and scratch against the built-in ones."""

    cut: float = 1.0
    scratch: float = 1.0


class PlanIn(Case):
    """One instrument from bare wood to the case. fit: its coats are fitted to the least film, from now on."""

    start: str
    now_h: float
    instrument: InstrumentIn
    zone: str = "UTC"
    acts: list[ActIn] = []
    air: list[AirAtIn] = []
    usual_air: list[tuple[float, float]] = []
    hours: dict[str, list[tuple[str, str]]] | None = None
    closed: list[date] = []
    drawer: list[str] | None = None
    wear: dict[str, float] = {}
    applicator: LogIn | None = None
    hands: HandsIn = msgspec.field(default_factory=HandsIn)
    rate: dict[str, LogIn] = {}
    machine: Literal["hand", "orbital"] = "hand"
    mode: Literal["", "dry", "wet"] = ""
    fit: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """A case as the program knows it: the shop it makes, what is asked of it, and the moment."""

    shop: Shop
    asked: OutlookRequest
    zone: ZoneInfo


def told(case: PlanIn, catalogue: Catalogue) -> Told:
    """The shop a case tells of. Raises InputError naming the field, for whatever the window would refuse too."""
    zone = _zone(case.zone)
    zero = _start(case.start)
    need_in(case.now_h, 0, MOST_H, "now_h", "h")
    now = zero + timedelta(hours=case.now_h)
    entries = [*_air(case, zero, now), *_rates(case, catalogue, zero)]
    entries.append((zero, "", _instrument(case.instrument, catalogue, zero)))
    drawer = _drawer(case, catalogue)
    entries.append((zero, "", drawer))
    shop = _logged(entries, case, catalogue, zero, now)
    held = drawer_of(catalogue, drawer)
    for name in ("cut", "scratch"):
        need_above(getattr(case.hands, name), 0, f"hands.{name}", 20)
    asked = request(
        shop, INSTRUMENT, replace(held, cut=case.hands.cut, scratch=case.hands.scratch), now,
        lambda m: m.astimezone(zone), {},
    )  # fmt: skip
    week = None if case.hours is None else _week(case.hours)
    need(len(case.closed) <= MOST_CLOSED, "closed", f"at most {MOST_CLOSED} days (got {len(case.closed)})")
    hours = work_hours(zero, asked.local, now, week, case.closed)
    mode = "machine" if case.machine == "orbital" else case.mode
    return Told(
        shop=shop, zone=zone,
        asked=structs.replace(asked, hours=hours, ask=Ask(mode=mode), priors=_gun(case.applicator)),
    )  # fmt: skip


def _zone(name: str) -> ZoneInfo:
    try:
        return ZoneInfo(name)
    except (KeyError, ValueError, OSError):
        raise InputError("zone", f"there is no time zone called {name}; say it like Europe/Berlin") from None


def _start(text: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        raise InputError("start", f"must be a date and time such as 2026-03-02T09:00+01:00 (got {text})") from None
    need(moment.tzinfo is not None, "start", "needs its offset, such as +01:00")
    need(1970 <= moment.year <= 2200, "start", "must be between 1970 and 2200")
    return moment.astimezone(UTC)


_Row = tuple[datetime, str, Kind]


def _air(case: PlanIn, zero: datetime, now: datetime) -> list[_Row]:
    need(len(case.air) <= MOST_AIR, "air", f"at most {MOST_AIR} rows (got {len(case.air)})")
    hours = [a.at_h for a in case.air]
    for i, row in enumerate(case.air):
        need_in(row.at_h, -MOST_H, MOST_H, f"air[{i}].at_h", "h")
        need_in(row.temp_C, -10, 60, f"air[{i}].temp_C", "C")
        need_in(row.rh, 0, 1, f"air[{i}].rh")
        need(i == 0 or hours[i - 1] <= row.at_h, f"air[{i}].at_h", "runs backwards")
    out: list[_Row] = [
        (zero + timedelta(hours=a.at_h), "", AirLogged(temp_C=a.temp_C, rh=a.rh))
        for a in case.air if a.at_h <= case.now_h
    ]  # fmt: skip
    ahead = [a for a in case.air if a.at_h > case.now_h]
    if ahead:
        series = AirSeries(
            source="forecast", hours=tuple(a.at_h - case.now_h for a in ahead),
            temp_C=tuple(a.temp_C for a in ahead), rh=tuple(a.rh for a in ahead),
        )  # fmt: skip
        out.append((now, "", series))
    if case.usual_air:
        need(len(case.usual_air) == 12, "usual_air", "must have a pair for each month")
        temp, rh = zip(*case.usual_air, strict=True)
        for i, (c, share) in enumerate(case.usual_air):
            need_in(c, -10, 60, f"usual_air[{i}][0]", "C")
            need_in(share, 0, 1, f"usual_air[{i}][1]")
        out.append((zero, "", AirUsual(temp_C=temp, rh=rh)))
    return out


def _rates(case: PlanIn, catalogue: Catalogue, zero: datetime) -> list[_Row]:
    out: list[_Row] = []
    for name, rate in case.rate.items():
        need(name in catalogue.materials, f"rate.{name}", "is no material")
        _belief(rate, f"rate.{name}")
        out.append((zero, "", RateAccepted(material=name, ln_mean=rate.ln_mean, ln_sd=rate.ln_sd)))
    return out


def _belief(given: LogIn, path: str) -> None:
    need_in(given.ln_mean, -2, 2, f"{path}.ln_mean")
    need_above(given.ln_sd, 0, f"{path}.ln_sd", 1)


def _gun(given: LogIn | None) -> Priors | None:
    if given is None:
        return None
    _belief(given, "applicator")
    usual = {name: getattr(Priors(), name) for name in Priors.__slots__}
    return Priors(**(usual | {"g_ln_mean": given.ln_mean, "g_ln_sd": given.ln_sd}))


def _instrument(given: InstrumentIn, catalogue: Catalogue, zero: datetime) -> InstrumentAdded:
    try:
        kind, method = catalogue.kind(given.kind), catalogue.method(given.method)
        material = catalogue.material(given.material or method.material)
    except InputError as error:
        raise error.within("instrument") from None
    if given.promised_h is not None:
        need_in(given.promised_h, -MOST_H, MOST_H, "instrument.promised_h", "h")
    promised = None if given.promised_h is None else (zero + timedelta(hours=given.promised_h)).isoformat()
    return InstrumentAdded(
        id=INSTRUMENT, name=kind.label, instrument_kind=given.kind, measures=_measures(given, catalogue),
        material=material.id, method=method.id, sheen=given.sheen, ground=given.ground, bench_C=given.bench_C,
        min_film_um=method.least_um(material) if given.min_film_um is None else given.min_film_um, promised=promised,
    )  # fmt: skip


def _measures(given: InstrumentIn, catalogue: Catalogue) -> Measures:
    usual = msgspec.to_builtins(measures_of(catalogue.kind(given.kind)))
    for name in given.measures:
        need(name in usual, f"instrument.measures.{name}", f"is no measure; known: {', '.join(usual)}")
    try:
        return msgspec.convert({**usual, **given.measures}, Measures)
    except msgspec.ValidationError as error:
        cause = error.__cause__
        if isinstance(cause, InputError):
            raise cause.within("instrument.measures") from None
        sentence, _, where = str(error).partition(" - at `$")
        raise InputError(f"instrument.measures{where.rstrip('`')}", sentence[:1].lower() + sentence[1:]) from None


def _drawer(case: PlanIn, catalogue: Catalogue) -> DrawerSet:
    names = DEFAULT_DRAWER if case.drawer is None else case.drawer
    owned = tuple(find(catalogue.abrasives, n, f"drawer[{i}]").id for i, n in enumerate(names))
    wear = {}
    for name, share in case.wear.items():
        need_in(share, 0, 1, f"wear.{name}")
        wear[find(catalogue.abrasives, name, f"wear.{name}").id] = share
    return DrawerSet(owned=owned, wear=wear)


def _week(given: dict[str, list[tuple[str, str]]]) -> dict[str, Spans]:
    out = {}
    for day, spans in given.items():
        need(day in WEEKDAYS, f"hours.{day}", f"must be one of {', '.join(WEEKDAYS)}")
        out[day] = tuple((_clock(a, day), _clock(b, day)) for a, b in spans)
    return out


def _clock(text: str, day: str) -> float:
    hour, _, minute = text.partition(":")
    if not (hour.isdecimal() and minute.isdecimal() and len(text) <= 5):
        raise InputError(f"hours.{day}", f"must be times such as 08:00 (got {text})")
    value = int(hour) + int(minute) / 60
    need(int(minute) < 60 and value <= 24, f"hours.{day}", f"there is no {text} in a day")
    return value


def _logged(rows: list[_Row], case: PlanIn, catalogue: Catalogue, zero: datetime, now: datetime) -> Shop:
    """The rows and then the acts, each one checked as the window checks what is logged."""
    need(len(case.acts) <= MOST_ACTS, "acts", f"at most {MOST_ACTS} acts (got {len(case.acts)})")
    entries = [_entry(i, row, now) for i, row in enumerate(rows, start=1)]
    folded: Fold = _within("instrument", lambda: strictly(Fold(entries, catalogue)))
    before = 0.0
    for i, act in enumerate(case.acts):
        path = f"acts[{i}]"
        need(math.isfinite(act.at_h) and act.at_h >= before, f"{path}.at_h", "runs backwards, or is no hour")
        need(act.at_h <= case.now_h, f"{path}.at_h", f"must not be after now_h, {case.now_h:g} h (got {act.at_h:g})")
        before = act.at_h
        body = _BASE[type(act)](**{k: v for k, v in msgspec.structs.asdict(act).items() if k != "at_h"})
        at = zero + timedelta(hours=act.at_h)
        _within(path, lambda body=body, at=at: check(folded.shop, body, INSTRUMENT, at, now))
        entry = _entry(len(folded.entries) + 1, (at, INSTRUMENT, body), now)
        _within(path, lambda entry=entry: folded.add(entry))
    return folded.shop


def _within(path: str, work: Any) -> Any:
    try:
        return work()
    except InputError as error:
        raise error.within(path) from None


def _entry(number: int, row: _Row, now: datetime) -> Entry:
    at, instrument, body = row
    return Entry(id=number, at=at, logged_at=now, instrument=instrument, body=body)
