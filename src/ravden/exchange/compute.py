"""A case of ``ravden compute``, taken apart and checked; and the kinds that ask one science alone."""

import json
import math
from collections.abc import Callable, Mapping
from typing import Any, Literal, TypeVar

import msgspec
import numpy as np

from ravden.catalogue.material_tables import read_cure
from ravden.catalogue.tables import Catalogue, shipped
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import harden
from ravden.core.cure.windows import WINDOW_NAMES, windows
from ravden.core.errors import InputError, need, need_in
from ravden.core.film.advice import choices
from ravden.core.film.filter import Priors
from ravden.core.film.ledger import CARD, Ledger
from ravden.core.film.then import Flag
from ravden.core.record import MAX_HOURS, Air, Coat, CureModel, Exposure, Sanding, Zone, judged_C
from ravden.exchange.case import Case
from ravden.exchange.compute_rubout import RubOutIn, rubout
from ravden.exchange.compute_schedule import schedule
from ravden.exchange.compute_schedule_in import ScheduleIn
from ravden.exchange.compute_surface import InspectIn, LevelIn, inspected, level
from ravden.text.say import say

T = TypeVar("T")
C = TypeVar("C", bound=Case)
MAX_BYTES, MAX_COATS, MAX_AIR = 10_000_000, 5_000, 100_000
MAX_APPLICATORS = 5


class CoatIn(Case):
    """A coat on the zone that is solved; material: of this coat, where it is not the film's own."""

    at_h: float
    dry_um: float
    material: str | dict[str, Any] | None = None


class LightIn(Case):
    """Light on a light-cured film."""

    at_h: float
    dose_mJ_cm2: float


class SandIn(Case):
    """Dry film taken off."""

    at_h: float
    um: float


class AirIn(Case):
    """Air from an hour on."""

    at_h: float
    temp_C: float
    rh: float = 0.5


class CureIn(Case):
    """A film, of one finish or of several on one another."""

    material: str | dict[str, Any]
    coats: list[CoatIn]
    sand: list[SandIn] = []
    climate: list[AirIn] = []
    light: list[LightIn] = []
    rate_factor: float = 1.0
    bench_C: float = 20.0
    airflow: float = 1.0
    sample_h: list[float] = []
    until_h: float | None = None


class ZoneIn(Case):
    """A zone of the ledger; kind: flat, contour or edge."""

    name: str
    area_cm2: float
    k_mean: float
    k_cv: float = 0.12
    kind: str = "flat"


class ApplicatorIn(Case):
    """What is known of the applicator's factor, as mean and sd of its logarithm."""

    ln_mean: float
    ln_sd: float


class EventIn(Case):
    """A ledger event; which of the other fields it takes depends on its kind."""

    kind: Literal["coat", "sand", "gauge", "card", "comb", "micrometer", "volume", "through", "not_through"]
    nominal_dry_um: float | None = None
    count: int = 1
    count_odds: dict[str, float] | None = None
    applicator: str = ""
    absorbed_um: dict[str, float] | None = None
    dry_equivalent_um: float | None = None
    spot: bool = False
    zones: list[str] | None = None
    um: float | dict[str, float] | None = None
    through: list[str] = []
    zone: str | None = None
    n: int = 1
    low_um: float | None = None
    high_um: float | None = None
    landed_solids: float | None = None


class FilmIn(Case):
    """A film ledger."""

    zones: list[ZoneIn]
    events: list[EventIn]
    applicator: ApplicatorIn | None = None
    priors: dict[str, float] = {}
    landed_solids: float = 0.2


def _at(path: str, record: Callable[..., T], **fields: Any) -> T:
    try:
        return record(**fields)
    except InputError as error:
        raise error.within(path) from None


def _cure(case: CureIn, catalogue: Catalogue) -> dict[str, Any]:
    need(len(case.coats) <= MAX_COATS, "coats", f"at most {MAX_COATS} coats (got {len(case.coats)})")
    need(len(case.sand) <= MAX_COATS, "sand", f"at most {MAX_COATS} sandings (got {len(case.sand)})")
    need(len(case.climate) <= MAX_AIR, "climate", f"at most {MAX_AIR} climate rows (got {len(case.climate)})")
    need(len(case.sample_h) <= MAX_AIR, "sample_h", f"at most {MAX_AIR} samples (got {len(case.sample_h)})")
    need(len(case.light) <= MAX_COATS, "light", f"at most {MAX_COATS} exposures (got {len(case.light)})")
    models, finishes = _models(case, catalogue)
    need_in(case.bench_C, 0, 60, "bench_C", "C")
    coats = [
        _at(f"coats[{i}]", Coat, at_h=c.at_h, dry_um=c.dry_um, finish=finishes[i]) for i, c in enumerate(case.coats)
    ]
    light = [_at(f"light[{i}]", Exposure, at_h=e.at_h, dose_mJ_cm2=e.dose_mJ_cm2) for i, e in enumerate(case.light)]
    sand = [_at(f"sand[{i}]", Sanding, at_h=s.at_h, um=s.um) for i, s in enumerate(case.sand)]
    air = [_at(f"climate[{i}]", Air, at_h=a.at_h, temp_C=a.temp_C, rh=a.rh) for i, a in enumerate(case.climate)]
    for i, h in enumerate(case.sample_h):
        need_in(h, -MAX_HOURS, MAX_HOURS, f"sample_h[{i}]", "h")
    if case.until_h is not None:
        need_in(case.until_h, -MAX_HOURS, MAX_HOURS, "until_h", "h")
    under = Conditions(air=air, exposures=light, airflow=case.airflow, rate_factor=case.rate_factor)
    found = harden(models, coats, sand, under=under, sampling=Sampling(sample_h=case.sample_h, until_h=case.until_h))
    opens = windows(found, judged_C(case.bench_C))
    names = ("at_h", "dry_um", "film_um", "phi_mean", "phi_max", "Tg_min_C")
    samples = []
    for i in range(len(case.sample_h)):
        bare = found.column("dry_um")[i] <= 0
        samples.append({n: None if bare and n == "Tg_min_C" else float(found.column(n)[i]) for n in names})
    return {
        "samples": samples,
        "windows": {f"{n}_h": opens.at(n) for n in WINDOW_NAMES},
        "next_coat_h": opens.next_coat_h,
        "without_scuff_until_h": opens.recoat_until_h,
        "shrink_left_um": {f"{n}_h": opens.shrink_left_um[n] for n in WINDOW_NAMES},
    }


def _models(case: CureIn, catalogue: Catalogue) -> tuple[dict[str, CureModel], list[str]]:
    """The models of a film by the finish of its coats, and each coat's finish ("" for the film's own)."""
    models = {"": _model(case.material, catalogue, "material")}
    finishes = []
    for i, coat in enumerate(case.coats):
        given = coat.material
        if given is None or given == case.material:
            finishes.append("")
            continue
        name = given if isinstance(given, str) else f"inline {json.dumps(given, sort_keys=True)}"
        if name not in models:
            models[name] = _model(given, catalogue, f"coats[{i}].material")
        finishes.append(name)
    return models, finishes


def _model(given: str | dict[str, Any], catalogue: Catalogue, path: str) -> CureModel:
    try:
        return catalogue.material(given).cure if isinstance(given, str) else read_cure(given)
    except InputError as error:
        field = "" if error.path == "material" else error.path
        raise InputError(f"{path}.{field}" if field else path, error.said) from None


def _given(value: Any, i: int, field: str, kind: str) -> Any:
    if value is None:
        raise InputError(f"events[{i}].{field}", f"is needed for a {kind} event")
    return value


FIELDS = {
    "coat": {"nominal_dry_um", "zones", "count", "count_odds", "applicator", "absorbed_um"},
    "sand": {"um", "through"},
    "gauge": {"zone", "um", "n"},
    "card": {"um"},
    "comb": {"zone", "low_um", "high_um", "landed_solids"},
    "micrometer": {"um"},
    "volume": {"dry_equivalent_um"},
    "through": {"zone", "spot"},
    "not_through": {"zone", "spot"},
}


def _apply(ledger: Ledger, event: EventIn, i: int) -> Ledger:
    for name in EventIn.__struct_fields__:
        given = getattr(event, name) not in ((1,) if name in ("n", "count") else (None, [], "", False))
        if name != "kind" and name not in FIELDS[event.kind] and given:
            raise InputError(f"events[{i}].{name}", f"does not belong to a {event.kind} event")
    if event.kind == "coat":
        laid = ledger.coat(
            _given(event.nominal_dry_um, i, "nominal_dry_um", "coat"), event.zones, count=event.count,
            count_odds=_counts(event.count_odds), applicator=event.applicator,
        )  # fmt: skip
        return laid.absorbed(event.absorbed_um) if event.absorbed_um else laid
    if event.kind in ("through", "not_through"):
        zone = _given(event.zone, i, "zone", event.kind)
        return (
            ledger.through(zone, spot=event.spot)
            if event.kind == "through"
            else ledger.not_through(zone, spot=event.spot)
        )
    if event.kind == "volume":
        return ledger.volume(_given(event.dry_equivalent_um, i, "dry_equivalent_um", "volume"))
    if event.kind == "sand":
        um = _given(event.um, i, "um", "sand")
        if not isinstance(um, dict):
            um = {z.name: um for z in ledger.zones if z.name != CARD.name}
        return ledger.sanding(um, event.through)
    if event.kind == "comb":
        return ledger.comb(
            _given(event.zone, i, "zone", "comb"),
            _given(event.low_um, i, "low_um", "comb"),
            _given(event.high_um, i, "high_um", "comb"),
            _given(event.landed_solids, i, "landed_solids", "comb"),
        )
    um = _given(event.um, i, "um", event.kind)
    if isinstance(um, dict):
        raise InputError(f"events[{i}].um", f"must be a number for a {event.kind} event")
    if event.kind == "card":
        return ledger.card(um)
    if event.kind == "micrometer":
        return ledger.micrometer(um)
    return ledger.gauge(_given(event.zone, i, "zone", "gauge"), um, event.n)


def _counts(odds: dict[str, float] | None) -> dict[int, float] | None:
    if odds is None:
        return None
    try:
        return {int(n): p for n, p in odds.items()}
    except ValueError:
        raise InputError("count_odds", 'must be counts and their odds, such as {"9": 0.5, "10": 0.5}') from None


def _film(case: FilmIn, catalogue: Catalogue) -> dict[str, Any]:
    need(len(case.events) <= MAX_COATS, "events", f"at most {MAX_COATS} events (got {len(case.events)})")
    need(1 <= len(case.zones) <= 100, "zones", f"between 1 and 100 zones (got {len(case.zones)})")
    zones = [
        _at(
            f"zones[{i}]",
            Zone,
            name=z.name,
            label=z.name,
            kind=z.kind,
            area_cm2=z.area_cm2,
            k_mean=z.k_mean,
            k_cv=z.k_cv,
        )
        for i, z in enumerate(case.zones)
    ]
    for i, z in enumerate(zones):
        need(z.name != CARD.name, f"zones[{i}].name", "is the witness card's name; choose another")
    priors = dict(case.priors)
    known = set(Priors.__slots__)
    for name in priors:
        need(name in known, f"priors.{name}", f"is not a prior; known: {', '.join(sorted(known))}")
    if case.applicator is not None:
        priors |= {"g_ln_mean": case.applicator.ln_mean, "g_ln_sd": case.applicator.ln_sd}
    others = tuple(dict.fromkeys(e.applicator for e in case.events if e.applicator))
    need(len(others) <= MAX_APPLICATORS, "events", f"at most {MAX_APPLICATORS} applicators beside the main one")
    ledger = Ledger(zones, Priors(**priors), others)
    for i, event in enumerate(case.events):
        try:
            ledger = _apply(ledger, event, i)
        except InputError as error:
            raise error if error.path.startswith("events[") else error.within(f"events[{i}]") from None
    films = ledger.films()
    risk = min(films, key=lambda f: f.p05_um)
    coats = [e for e in case.events if e.kind == "coat"]
    best = choices(ledger, risk.name, coats[-1].nominal_dry_um if coats else None, case.landed_solids)
    mean, sd = ledger.applicator()
    return {
        "zones": [
            {"name": f.name, "mean_um": f.mean_um, "sd_um": f.sd_um, "p05_um": f.p05_um, "p50_um": f.p50_um,
             "p95_um": f.p95_um} for f in films
        ],
        "applicator": {"ln_mean": mean, "ln_sd": sd},
        "other_applicators": {
            name: dict(zip(("ln_mean", "ln_sd"), ledger.applicator(name), strict=True)) for name in others
        },
        "counts": [{str(n): p for n, p in group.items()} for group in ledger.count_odds()],
        "flags": [_flag(f) for f in ledger.flags],
        "thin_spots": list(ledger.thin_spots),
        "next_best": [
            {"measurement": c.measurement, "zone": c.zone or None, "sd_before_um": c.before_um,
             "sd_after_um": c.after_um} for c in best
        ],
    }  # fmt: skip


Kinds = Mapping[str, tuple[type[Case], Callable[[Any, Catalogue], dict[str, Any]]]]

KINDS: Kinds = {
    "cure": (CureIn, _cure),
    "film": (FilmIn, _film),
    "rubout": (RubOutIn, rubout),
    "level": (LevelIn, level),
    "inspect": (InspectIn, inspected),
    "schedule": (ScheduleIn, schedule),
}


def _from_validation(error: msgspec.ValidationError) -> InputError:
    """msgspec says "Expected `float`, got `str` - at `$.coats[3].dry_um`": the path to the front."""
    text, _, where = str(error).partition(" - at `$")
    path, cause = where.rstrip("`").lstrip("."), error.__cause__
    if isinstance(cause, InputError):
        return cause.within(path)
    return InputError(path, text[:1].lower() + text[1:])


def run(kinds: Kinds, kind: str, raw: bytes) -> dict[str, Any]:
    """Compute one case. Raises InputError, with the path of the wrong field, for any bad input."""
    if kind not in kinds:
        raise InputError("KIND", f"must be one of {', '.join(kinds)} (got {kind})")
    shape, compute = kinds[kind]
    return _finite(compute(decoded(raw, shape), shipped()))


def decoded(raw: bytes, shape: type[C]) -> C:
    """A case read. Raises InputError, with the path of the wrong field."""
    if len(raw) > MAX_BYTES:
        raise InputError("input", f"is larger than {MAX_BYTES // 1_000_000} MB")
    try:
        return msgspec.json.decode(raw, type=shape)
    except msgspec.ValidationError as error:
        raise _from_validation(error) from None
    except RecursionError:
        raise InputError("input", "is nested too deep") from None
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise InputError("input", f"is not JSON: {error}") from None


def _finite(value: Any) -> Any:
    """Plain numbers only, and none that JSON cannot carry."""
    if isinstance(value, dict):
        return {k: _finite(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_finite(v) for v in value]
    if isinstance(value, np.floating):
        value = float(value)
    if isinstance(value, float) and not math.isfinite(value):
        raise RuntimeError("a result is not a finite number")
    return value


def _flag(flag: Flag) -> str:
    """A reading that contradicts the rest, in words."""
    if flag.why is not None:
        return f"{flag.what} is left out: {say(flag.why)}"
    return f"{flag.what} {flag.read_um:.3g} µm disagrees with the rest, which expects about {flag.expected_um:.3g} µm"
