"""Entries of the journal in a few words, for notices and history: one function a kind. No Qt."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from typing import Any

from ravden.core.record import Coat, Mishap
from ravden.journal.booth import SessionPart
from ravden.journal.entry import Entry
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.booth_acts import CareLogged, PassLogged
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import BoothRule, DayOff, DaysStruck, PersonSet, StationsSet
from ravden.journal.kinds.drawer import DrawerSet
from ravden.journal.kinds.handed_over import BackOnRack, CheckSeen, HandedOver
from ravden.journal.kinds.hour_price import HourPriced
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.learning import BACK, FREEZE, LearningRuled
from ravden.journal.kinds.light import ExposureLogged, LightOnLogged
from ravden.journal.kinds.look import LookNoted
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.mishap import DefectLooked, DefectTold, MishapLogged, OfDefect, RepairChosen, RepairLeft
from ravden.journal.kinds.pin import PinSet, Unpinned
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.promise import PromiseSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.stock import CanWeighed, LotBought, LotGone, LotOpened, LotTaken, ProductTold
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown
from ravden.journal.kinds.zones import ZonesSet
from ravden.journal.rack import OnRack
from ravden.text import book_words, learnt_words, stock_words, words, written
from ravden.text.knows import Knows
from ravden.text.units import Units

CARE_WORDS = {"turn": "turned", "wipe": "wiped over again"}


class _Told:
    """What an entry is told with: the instrument it is about, by name, and the shop."""

    def __init__(self, session: Knows, entry: Entry, rack: OnRack | None) -> None:
        self.session, self.entry, self.rack = session, entry, rack

    @property
    def name(self) -> str:
        if self.rack is None and (booked := self.session.shop.book.get(self.entry.instrument)) is not None:
            return booked.name
        return self.rack.instrument.name if self.rack else ""

    @property
    def units(self) -> Units:
        return self.session.units

    def material(self, material: str) -> str:
        return self.session.catalogue.material(material).label

    def product(self, product: str) -> str:
        found = self.session.shop.stock.products.get(product)
        return product if found is None else found.name

    def can(self, lot: int) -> str:
        found = self.session.shop.stock.lots.get(lot)
        what = "pack" if self.kind_in(lot) == "paper" else "can"
        return f"a {what}" if found is None else f"a {what} of {self.product(found.product)}"

    def kind_of(self, product: str) -> str:
        found = self.session.shop.stock.products.get(product)
        return "" if found is None else found.kind

    def kind_in(self, lot: int) -> str:
        found = self.session.shop.stock.lots.get(lot)
        return "" if found is None else self.kind_of(found.product)

    def instrument(self, instrument: str) -> str:
        rack = self.session.shop.racked.get(instrument)
        return rack.instrument.name if rack else instrument

    def zones(self, names: tuple[str, ...]) -> str:
        labels = {z.name: z.label.lower() for z in self.rack.project.zones} if self.rack else {}
        return ", ".join(labels.get(n, n) for n in names)


def describe(session: Knows, entry: Entry) -> str:
    """An entry in a few words, for notices and history."""
    told = _Told(session, entry, session.shop.racked.get(entry.instrument))
    text = SAID[type(entry.body)](told, entry.body)
    at = words.moment(session.local(entry.at), session.local(session.now))
    return f"{text[:1].upper()}{text[1:]}, {at}"


def _coat(t: _Told, body: CoatLogged) -> str:
    how = f" ({body.how})" if body.how else ""
    return f"{_which_coat(t, body)} on {t.name}, {t.units.film(body.dry_um)} dry{how}"


def _which_coat(t: _Told, body: CoatLogged) -> str:
    """Which coat it was, as far as anyone is sure."""
    if body.finish:
        return f"coat of {t.material(body.finish).lower()}"
    if body.zones is not None:
        return f"coat of the {t.zones(body.zones)}"
    if body.count_odds:
        return " or ".join(str(n) for n, _ in body.count_odds) + " coats"
    if t.rack is None:
        return "a coat"
    at_h = t.rack.hours(t.entry.at)
    before = [c for c in t.rack.acts if isinstance(c, Coat) and not c.finish and c.zones is None and c.at_h <= at_h]
    last = round(sum(c.likely_count for c in before))
    return f"coat {last}" if body.count == 1 else f"coats {last - body.count + 1} to {last}"


def _sanding(t: _Told, body: SandingLogged) -> str:
    return f"sanding on {t.name}, {t.units.film(body.um)} off" + (f" with {body.grade}" if body.grade else "")


def _learning(t: _Told, body: LearningRuled) -> str:
    said = {FREEZE: "frozen as it is", BACK: "set back to what is usual"}.get(body.what, "goes on learning")
    return f"{learnt_words.name(t.session.catalogue, body.key)}: {said}"


def _zones(t: _Told, body: ZonesSet) -> str:
    masked = ", ".join(body.masked) or "nothing"
    return f"{t.name}: {masked} masked" + "".join(f", {z} in {m}" for z, m in body.finishes.items())


def _air_series(t: _Told, body: AirSeries) -> str:
    what = "forecast" if body.source == "forecast" else "logger file"
    return f"{what} {body.name}, {words.plural(len(body.hours), 'row')}"


def _cabinet(t: _Told, body: CabinetLogged) -> str:
    return f"{t.name} in the warm cabinet, {t.units.temperature(body.temp_C)} for {words.wait(body.hours)}"


def _plan(t: _Told, body: PlanSet) -> str:
    return f"plan of {t.name}: {body.what or ('other steps' if body.stage else 'the steps of its method')}"


def _mishap(t: _Told, body: MishapLogged) -> str:
    return f"{_defect(t, body.what)} on {t.name}" + (f" after {body.grade}" if body.grade else "")


def _defect(t: _Told, what: str) -> str:
    label: str = t.session.catalogue.defects[what][0] if what in t.session.catalogue.defects else what
    return label[:1].lower() + label[1:]


def _about(t: _Told, body: OfDefect) -> str:
    """Which defect an entry tells of."""
    acts = t.rack.acts if t.rack is not None else ()
    mishap = next((a for a in acts if isinstance(a, Mishap) and a.id == body.defect), None)
    return f"{'defect' if mishap is None else _defect(t, mishap.what)} on {t.name}"


OUTCOME_WORDS = {
    "gone": "gone",
    "better": "better, and left at that",
    "still": "still there",
    "lived-with": "lived with",
}


def _part(t: _Told, part: SessionPart | None) -> str:
    """What a session does to one instrument otherwise than planned."""
    if part is None:
        return ""
    rack = t.session.shop.racked.get(part.instrument)
    labels = {z.name: z.label.lower() for z in rack.project.zones} if rack else {}
    what = {"": "", "coat": "an extra coat", "paper": "paper off the plan"}[part.off_plan]
    return f" ({' on '.join(s for s in (what, words.listed([labels.get(z, z) for z in part.zones])) if s)})"


def _session(t: _Told, body: SessionBegun) -> str:
    parts = {p.instrument: p for p in body.parts}
    names = ", ".join(f"{t.instrument(i)}{_part(t, parts.get(i))}" for i in body.instruments)
    unchecked = f" (not looked at: {', '.join(body.unchecked)})" if body.unchecked else ""
    return f"session begun on {names}{unchecked}"


def _day_off(t: _Told, body: DayOff) -> str:
    days = written.day(date.fromisoformat(body.first))
    if body.last and body.last != body.first:
        days += f" to {written.day(date.fromisoformat(body.last))}"
    who = body.person or "everybody"
    return f"{who} {'as in the week' if body.cleared else 'there at other hours' if body.hours else 'away'}, {days}"


def _promise(t: _Told, body: PromiseSet) -> str:
    if not body.promised:
        return f"{t.name} promised for no day"
    day = words.day(t.session.local(datetime.fromisoformat(body.promised)), t.session.local(t.session.now))
    return f"{t.name} promised for {day}"


LOOKS = {"level": "level, by eye", "lows-left": "lows left", "cannot-tell": "cannot tell"}
SAID: dict[type, Callable[[_Told, Any], str]] = {
    CoatLogged: _coat,
    SandingLogged: _sanding,
    ReadingLogged: lambda t, b: f"{words.reading(b, t.units)} on {t.name}",
    ZonesSet: _zones,
    AirSeries: _air_series,
    LearningRuled: lambda t, b: _learning(t, b),
    HourPriced: lambda t, b: f"An hour of hands costs {written.money(b.per_hour)}",
    RateAccepted: lambda t, b: f"{t.material(b.material)} here: {words.rate(b.ln_mean)}",
    AirUsual: lambda t, b: "the shop's usual air, by month",
    CabinetLogged: _cabinet,
    ExposureLogged: lambda t, b: f"light on {t.name}, {b.how or f'{b.dose_mJ_cm2:.0f} mJ/cm²'}",
    DrawerSet: lambda t, b: f"abrasives in the drawer: {len(b.owned) + len(b.own)}",
    MethodKept: lambda t, b: f"method from {b.name}",
    PassLogged: lambda t, b: f"a pass on {t.name}",
    CareLogged: lambda t, b: f"{t.name} {CARE_WORDS[b.what]}",
    LightOnLogged: lambda t, b: f"lamp on, {t.name}: {t.zones(b.zones)}",
    SessionBegun: _session,
    SessionPaused: lambda t, b: "session left for now" if b.on else "session gone on with",
    SessionEnded: lambda t, b: "session over",
    MixMade: lambda t, b: f"{b.ml:.0f} ml of {t.material(b.material).lower()} mixed",
    PlanSet: _plan,
    PriceSet: lambda t, b: f"{t.material(b.material)}, {written.number(b.per_litre, 'g')} a litre",
    ProductTold: lambda t, b: f"{b.product.name}{', no longer bought' if b.gone else ''}",
    LotBought: lambda t, b: f"{stock_words.of(t.kind_of(b.product), b.ml)} of {t.product(b.product)} bought",
    LotOpened: lambda t, b: f"{t.can(b.lot)} opened",
    CanWeighed: lambda t, b: f"{t.can(b.lot)}: {stock_words.of(t.kind_in(b.lot), b.left_ml)} left",
    LotGone: lambda t, b: f"{t.can(b.lot)} {'empty' if b.what == 'empty' else 'thrown away'}",
    LotTaken: lambda t, b: f"{t.can(b.lot)} is the one used",
    StepLogged: lambda t, b: f"{b.step} on {t.name} {'skipped' if b.skipped else 'done'}",
    MishapLogged: _mishap,
    DefectTold: lambda t, b: f"{_about(t, b)}: what was told of it",
    RepairChosen: lambda t, b: f"{_about(t, b)}: {b.name[:1].lower()}{b.name[1:]}, into the plan",
    RepairLeft: lambda t, b: f"{_about(t, b)}: its repair is left",
    DefectLooked: lambda t, b: f"{_about(t, b)}: {OUTCOME_WORDS[b.outcome]}",
    LookNoted: lambda t, b: f"{t.name} looked at, {t.zones((b.zone,))}: {LOOKS[b.said]}",
    AirLogged: lambda t, b: f"shop air {t.units.temperature(b.temp_C)}, {100 * b.rh:.0f} % humidity",
    InstrumentAdded: lambda t, b: f"{b.name} on the rack",
    CheckSeen: lambda t, b: f"looked at {t.name}: {book_words.seen(b.sink, b.seen)}",
    HandedOver: lambda t, b: f"{t.name} handed over",
    BackOnRack: lambda t, b: f"{t.name} back on the rack",
    HoursSet: lambda t, b: "the shop's hours" + (f", {b.zone}" if b.zone else ""),
    PersonSet: lambda t, b: f"{b.name} {'works here no longer' if b.gone else 'works here'}",
    DayOff: _day_off,
    StationsSet: lambda t, b: "wheels, cabinet and drying places of the shop",
    BoothRule: lambda t, b: "how the booth is worked",
    DaysStruck: lambda t, b: f"{words.plural(len(b.days), 'day')} without spraying" if b.days else "spraying every day",
    PromiseSet: _promise,
    PinSet: lambda t, b: f"a step of {t.name} pinned",
    Unpinned: lambda t, b: f"a step of {t.name} no longer pinned",
    PlanKept: lambda t, b: "this plan kept" if b.steps else "the plan follows along again",
    ShopNamed: lambda t, b: f"shop file {b.name}",
    Undone: lambda t, b: "an entry taken back",
    Unknown: lambda t, b: f"an entry of a kind this Ravden does not know ({b.kind_name})",
}
