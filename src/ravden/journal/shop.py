"""The journal folded into a shop: its instruments and what happened to each; and the checks before logging more."""

import functools
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

import msgspec

from ravden.catalogue.assemble import drawer_of, project, ways, zones
from ravden.catalogue.method_files import check_stages, read_method_file
from ravden.catalogue.tables import Catalogue, shipped
from ravden.core.climate.series import Cabinet, in_cabinets
from ravden.core.errors import InputError, need
from ravden.core.fact import fact
from ravden.core.method.steps import Method, Stage
from ravden.core.record import (
    RATE_LN_SD,
    Act,
    Air,
    Care,
    Coat,
    Exposure,
    Instrument,
    LightOn,
    Mishap,
    Pass,
    Project,
    Reading,
    Sanding,
    StepDone,
)
from ravden.journal.booth_entries import BOOTH_KINDS, CareLogged, LightOnLogged, SessionBegun
from ravden.journal.entries import (
    AirLogged,
    AirSeries,
    AirUsual,
    Body,
    CabinetLogged,
    CoatLogged,
    DrawerSet,
    Entry,
    ExposureLogged,
    InstrumentAdded,
    MethodKept,
    MishapLogged,
    PassLogged,
    PlanSet,
    PriceSet,
    RateAccepted,
    ReadingLogged,
    SandingLogged,
    ShopNamed,
    StepLogged,
    ZonesSet,
    instrument_of,
)
from ravden.journal.shop_air import ShopAir, check_air, shop_air
from ravden.journal.store import effective

if TYPE_CHECKING:
    from ravden.journal.shop_session import BoothSession

FUTURE_SLACK = timedelta(minutes=1)  # clocks of two machines differ a little


@dataclass(frozen=True, kw_only=True)
class OnRack:
    """An instrument, its hour zero, and what happened to it; its project is put together when asked for."""

    zero: datetime
    added: datetime
    instrument: Instrument
    acts: tuple[Act, ...]
    catalogue: Catalogue = field(repr=False, compare=False)
    masked: tuple[str, ...] = ()
    finishes: Mapping[str, str] = field(default_factory=dict)
    air: ShopAir = field(default_factory=ShopAir)
    cabinets: tuple[Cabinet, ...] = ()
    rate_ln: tuple[float, float] = (0.0, RATE_LN_SD)
    plan: tuple[Stage, ...] = ()
    lamp_mW_cm2: float = 0.0

    @functools.cached_property
    def method(self) -> Method:
        """Its method as planned for it: with its own steps where it has some, and those of zones in another finish."""
        found = self.catalogue.method(self.instrument.method)
        if self.plan:
            found = replace(found, stage=self.plan)
        if not self.finishes:
            return found
        from ravden.core.method.compose import with_zones

        names = {z.name: z.label for z in zones(self.catalogue, self.instrument)}
        mine = {z: f for z, f in self.finishes.items() if z in names}
        return with_zones(found, mine, ways(self.catalogue, mine.values()), names)

    @functools.cached_property
    def project(self) -> Project:
        """The instrument with its zones, its material, and the air as it was told up to the last entry of it."""
        return self.project_at(self.air.last or self.added)

    @property
    def open_zones(self) -> tuple[str, ...]:
        """Zones in its own finish, by name."""
        return tuple(z.name for z in self.project.zones if z.name not in self.project.bare)

    def project_at(self, now: datetime) -> Project:
        """The same, with the air as it was and is expected at a moment."""
        series, gaps = self.air.series(self.zero, now)
        acts = tuple(sorted((*self.acts, *in_cabinets(series, self.cabinets)), key=lambda a: a.at_h))
        made = project(
            self.catalogue, self.instrument, acts, self.masked, self.finishes, self.rate_ln,
            also=dict.fromkeys(s.finish for s in self.plan if s.finish),
        )  # fmt: skip
        return replace(made, air_gaps=tuple((g.from_h, g.to_h) for g in gaps), lamp_mW_cm2=self.lamp_mW_cm2)

    def hours(self, moment: datetime) -> float:
        return (moment - self.zero).total_seconds() / 3600.0

    def moment(self, at_h: float) -> datetime:
        return self.zero + timedelta(hours=at_h)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shop:
    """A whole shop as the journal tells it, in the order instruments came in."""

    name: str
    racked: dict[str, OnRack]
    air: ShopAir = field(default_factory=ShopAir)
    drawer: DrawerSet | None = None
    prices: Mapping[str, float] = field(default_factory=dict)
    session: "BoothSession | None" = None
    catalogue: Catalogue = field(default_factory=shipped, repr=False, compare=False)

    def on_rack(self, instrument_id: str) -> OnRack:
        if instrument_id not in self.racked:
            raise InputError("instrument", f"there is no instrument {instrument_id} on the rack")
        return self.racked[instrument_id]


def fold(entries: list[Entry], catalogue: Catalogue) -> Shop:
    """Replay: undone entries left out, acts in the order they happened."""
    counting = effective(entries)
    name = "Shop"
    added: dict[str, Entry] = {}
    for entry in counting:
        if isinstance(entry.body, ShopNamed):
            name = entry.body.name
        elif isinstance(entry.body, InstrumentAdded):
            added[entry.body.id] = entry
    racked: dict[str, OnRack] = {}
    catalogue = catalogue.with_methods(_methods(counting, catalogue))
    air, lamp = shop_air(counting), _lamp(counting)
    rates = {e.body.material: (e.body.ln_mean, e.body.ln_sd) for e in counting if isinstance(e.body, RateAccepted)}
    for instrument_id, entry in added.items():
        assert isinstance(entry.body, InstrumentAdded)
        mine = [e for e in counting if e.instrument == instrument_id]
        zero = entry.at
        method = entry.body.method
        now = ZonesSet(finishes=catalogue.parts_meant(method))
        plan = entry.body.plan
        acts: list[Act] = []
        for e in sorted(mine, key=lambda e: (e.at, e.id)):
            if isinstance(e.body, ZonesSet):
                now = e.body
            elif isinstance(e.body, PlanSet):
                plan = e.body.stage if e.body.method == method else plan
            else:
                acts += _acts([e], zero, now)
        cabinets = tuple(
            Cabinet(at_h=_hours(e, zero), hours=e.body.hours, temp_C=e.body.temp_C, rh=e.body.rh)
            for e in mine
            if isinstance(e.body, CabinetLogged)
        )
        racked[instrument_id] = OnRack(
            zero=zero, added=entry.at, instrument=instrument_of(entry.body, zero), acts=tuple(acts),
            catalogue=catalogue, masked=now.masked, finishes=now.finishes, air=air, cabinets=cabinets,
            rate_ln=rates.get(entry.body.material, (0.0, RATE_LN_SD)), plan=plan,
            lamp_mW_cm2=lamp,
        )  # fmt: skip
    drawers = [e.body for e in counting if isinstance(e.body, DrawerSet)]
    prices = {e.body.material: e.body.per_litre for e in counting if isinstance(e.body, PriceSet)}
    return Shop(
        name=name, racked=racked, air=air, drawer=drawers[-1] if drawers else None, prices=prices,
        catalogue=catalogue, session=_session(counting),
    )  # fmt: skip


def _lamp(counting: list[Entry]) -> float:
    """Strength of the curing lamp as last told [mW/cm2]; 0 where nobody said."""
    told = [e.body for e in counting if isinstance(e.body, SessionBegun | LightOnLogged)]
    strengths = [b.lamp_mW_cm2 if isinstance(b, SessionBegun) else b.mW_cm2 for b in told]
    return next((s for s in reversed(strengths) if s > 0), 0.0)


def _session(counting: list[Entry]) -> "BoothSession | None":
    """The newest session in the booth; a shop that never had one does without that module."""
    if not any(isinstance(e.body, SessionBegun) for e in counting):
        return None
    from ravden.journal.shop_session import booth_session

    return booth_session(counting)


def _methods(entries: Iterable[Entry], catalogue: Catalogue) -> dict[str, Method]:
    """The shop's own methods, the newest of each id."""
    texts = [e.body for e in entries if isinstance(e.body, MethodKept)]
    found = [read_method_file(t.text, t.name, catalogue) for t in texts]
    return {m.id: m for m in found}


def _hours(entry: Entry, zero: datetime) -> float:
    return (entry.at - zero).total_seconds() / 3600.0


def _laid(body: CoatLogged, at_h: float, entry_id: int, zones: ZonesSet) -> Coat:
    """A coat on the zones that get its finish: those the zones entry in force gives it."""
    on, bare = body.zones, (*zones.masked, *zones.finishes)
    own = tuple(z for z, finish in zones.finishes.items() if finish == body.finish)
    if body.finish and on is None and own:
        on = own  # the zones it was chosen for; where there are none, it is a layer on the whole instrument
    return Coat(
        at_h=at_h, dry_um=body.dry_um, zones=on, bare=bare, finish=body.finish, count=body.count,
        count_odds=body.count_odds, how=body.how, id=entry_id,
    )  # fmt: skip


def _acts(entries: Iterable[Entry], zero: datetime, zones: ZonesSet) -> list[Act]:
    acts: list[Act] = []
    for e in entries:
        at_h = (e.at - zero).total_seconds() / 3600.0
        body = e.body
        if isinstance(body, CoatLogged):
            acts.append(_laid(body, at_h, e.id, zones))
        elif isinstance(body, SandingLogged):
            acts.append(
                Sanding(
                    at_h=at_h, um=body.um, grade=body.grade, purpose=body.purpose, edges_worked=body.edges_worked,
                    zones=body.zones, part=body.part, minutes=body.minutes, mode=body.mode, id=e.id,
                )
            )  # fmt: skip
        elif isinstance(body, ReadingLogged):
            acts.append(Reading(at_h=at_h, id=e.id, **msgspec.structs.asdict(body)))
        elif isinstance(body, MishapLogged):
            acts.append(Mishap(at_h=at_h, what=body.what, zone=body.zone, grade=body.grade, place=body.place, id=e.id))
        elif isinstance(body, PassLogged):
            acts.append(Pass(at_h=at_h, id=e.id))
        elif isinstance(body, CareLogged):
            acts.append(Care(at_h=at_h, what=body.what, id=e.id))
        elif isinstance(body, LightOnLogged):
            acts.append(LightOn(at_h=at_h, zones=body.zones, mW_cm2=body.mW_cm2, id=e.id))
        elif isinstance(body, StepLogged):
            acts.append(StepDone(at_h=at_h, step=body.step, skipped=body.skipped, id=e.id))
        elif isinstance(body, ExposureLogged):
            acts.append(Exposure(at_h=at_h, dose_mJ_cm2=body.dose_mJ_cm2, zones=body.zones, id=e.id))
    return acts


def check(shop: Shop, body: Body, instrument_id: str, at: datetime, now: datetime) -> None:
    """Raise InputError, naming the field, unless the body may be logged now as having happened at ``at``."""
    need(at <= now + FUTURE_SLACK, "at", "that time is in the future")
    if isinstance(body, InstrumentAdded):
        need(body.id not in shop.racked, "id", "there is an instrument with this id already")
        instrument_of(body, at)
        check_stages(body.plan, shop.catalogue)
        return
    if isinstance(body, AirLogged):
        Air(at_h=0.0, temp_C=body.temp_C, rh=body.rh)
        return
    if isinstance(body, RateAccepted):
        need(any(r.instrument.material == body.material for r in shop.racked.values()), "material", "nothing is in it")
        need(-2 <= body.ln_mean <= 2 and 0 < body.ln_sd <= 1, "ln_mean", "is no rate a shop could have")
        return
    if isinstance(body, AirSeries | AirUsual):
        check_air(body)
        return
    if isinstance(body, ShopNamed):
        need(body.name.strip() != "", "name", "give the shop a name")
        return
    if isinstance(body, MethodKept):
        read_method_file(body.text, body.name, shop.catalogue)
        return
    if isinstance(body, PriceSet):
        shop.catalogue.material(body.material)
        need(0 < body.per_litre < 1e6, "per_litre", "must be a price above nothing")
        return
    if isinstance(body, DrawerSet):
        drawer_of(shop.catalogue, body)
        return
    if isinstance(body, BOOTH_KINDS):
        from ravden.journal.shop_session import check_session

        check_session(body, {n: r.open_zones for n, r in shop.racked.items()}, shop.session, shop.catalogue)
        return
    rack = shop.on_rack(instrument_id)
    earliest = rack.added
    need(at >= earliest, "at", f"{rack.project.instrument.name} was not on the rack yet then")
    if isinstance(body, ZonesSet):
        _check_zones(rack, body, at)
        return
    if isinstance(body, CabinetLogged):
        need(0 < body.hours <= 24 * 60, "hours", "must be more than none, and at most sixty days")
        Air(at_h=0.0, temp_C=body.temp_C, rh=body.rh)
        need(body.temp_C <= 60, "temp_C", "hotter than 60 C is no warm cabinet")
        return
    if isinstance(body, PlanSet):
        need(body.method == rack.instrument.method, "method", "the plan is for another method than the one in use")
        check_stages(body.stage, rack.catalogue, {z.name for z in rack.project.zones})
        return
    acts = _acts(
        [_entry(body, instrument_id, at)], rack.zero, ZonesSet(masked=rack.masked, finishes=dict(rack.finishes))
    )
    need(len(acts) == 1, "kind", "nothing to log")
    act = acts[0]
    if isinstance(act, Reading):
        _check_reading(rack, act)
    if isinstance(act, Exposure | LightOn):
        where = "zones" if isinstance(act, LightOn) else "dose_mJ_cm2"
        need(rack.project.material.cure.model == "light", where, "this finish is not cured by light")
        need(bool(rack.project.coats), where, "there was no film to cure yet")
        for name in act.zones or ():
            rack.project.zone(name)
    if isinstance(act, Coat):
        if act.finish:
            rack.catalogue.material(act.finish)
        for name in act.zones or ():
            label = rack.project.zone(name).label
            need(name not in rack.masked, "zones", f"{label} is masked: take the tape off it first")
        need(any(act.covers(z.name) for z in rack.project.zones), "zones", "every zone is masked")
    if isinstance(act, StepDone):
        need(any(s.label == act.step for s in rack.method.stage), "step", f"{act.step} is no step of this method")
    if isinstance(act, Mishap):
        rack.project.zone(act.zone)
    if isinstance(act, Sanding):
        for name in act.zones or ():
            rack.project.zone(name)
        laid = sum(c.dry_um for c in rack.project.coats if c.at_h <= act.at_h)
        gone = sum(s.um for s in rack.project.sandings if s.at_h <= act.at_h)
        need(laid > 0, "um", "there was no film to sand yet then")
        need(act.um <= 2.0 * laid - gone, "um", fact("sanded-too-much", left_um=laid - gone))


def _check_reading(rack: OnRack, act: Reading) -> None:
    """A reading that cannot be is refused, with the reason."""
    coats = [c for c in rack.project.coats if c.at_h <= act.at_h]
    need(bool(coats), "um", "there was no film to measure yet then")
    if act.what in ("gauge", "gloss", "comb", "through", "not-through"):
        rack.project.zone(act.zone)
    if act.what in ("gauge", "through", "not-through"):
        need(any(c.covers(act.zone) for c in coats), "zone", f"nothing was laid on {act.zone} before then")
    if act.what in ("comb", "volume"):
        last = coats[-1]
        need(
            last.likely_count == 1 and not last.count_odds, "um", "the last entry was several coats; this speaks of one"
        )
        need(act.what == "volume" or last.covers(act.zone), "zone", f"the last coat was not laid on {act.zone}")


def _check_zones(rack: OnRack, body: ZonesSet, at: datetime) -> None:
    del at
    for name in (*body.masked, *body.finishes):
        rack.project.zone(name)
    for name, finish in body.finishes.items():
        need(name not in body.masked, "masked", f"{name} cannot be both masked and finished")
        rack.catalogue.material(finish)


def _entry(body: Body, instrument_id: str, at: datetime) -> Entry:
    return Entry(id=0, at=at, logged_at=at, instrument=instrument_id, body=body)
