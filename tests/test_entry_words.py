"""Every kind of entry can be told in a few words, kept, read back, and is refused where it cannot be."""

import shutil
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.method_files import write_method
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage
from ravden.core.stock.product import Product
from ravden.demo import ferrow_lane
from ravden.journal.booth import SessionPart
from ravden.journal.crew import Gun, KeptStep
from ravden.journal.entry import Entry, decode, encode
from ravden.journal.kinds import every_kind
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
from ravden.journal.kinds.learning import LearningRuled
from ravden.journal.kinds.light import ExposureLogged, LightOnLogged
from ravden.journal.kinds.look import LookNoted, PhotoNamed
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.mishap import DefectLooked, DefectTold, MishapLogged, RepairChosen, RepairLeft
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
from ravden.journal.kinds.zones import ZonesSet
from ravden.text.say import whole_fault

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
FINE = shipped().method("lacquer-fine-start")

POLISH = Product(id="polish", name="Own polish", material="shellac-pad")
SHAVE = Stage(kind="level", label="Shave it", um=40, mends=7, patch="top", spot=True, op="cut", id="mend-7-0-cut")

SAID = (
    (CoatLogged(dry_um=12, how="67 µm wet"), "12 µm dry (67 µm wet)"),
    (CoatLogged(dry_um=12, finish="shellac-pad"), "Coat of pad shellac on Heron"),
    (CoatLogged(dry_um=12, count_odds=((9, 0.5), (10, 0.5))), "9 or 10 coats on Heron"),
    (CoatLogged(dry_um=12, count=3), "Coats "),
    (SandingLogged(um=9, grade="P1200"), "Sanding on Heron, 9 µm off with P1200"),
    (ReadingLogged(zone="top", um=80), "on Heron"),
    (ZonesSet(masked=("head",), finishes={"neck": "oil-wax"}), "Heron: head masked, neck in oil-wax"),
    (StepLogged(step="Build", skipped=True), "Build on Heron skipped"),
    (MishapLogged(what="fish-eye", zone="top"), "Fish-eye on Heron"),
    (DefectTold(defect=7, height_um=40), "Defect on Heron: what was told of it"),
    (RepairChosen(defect=7, name="Shave it", steps=(SHAVE,)), "Defect on Heron: shave it, into the plan"),
    (RepairLeft(defect=7), "Defect on Heron: its repair is left"),
    (DefectLooked(defect=7, outcome="better"), "Defect on Heron: better, and left at that"),
    (LookNoted(zone="top", said="lows-left", grade="P800"), "Heron looked at, top: lows left"),
    (PassLogged(), "A pass on Heron"),
    (PlanSet(method=FINE.id, stage=FINE.stage, what="Build changed"), "Plan of Heron: Build changed"),
    (PlanSet(method=FINE.id), "Plan of Heron: the steps of its method"),
    (CabinetLogged(hours=24, temp_C=40), "Heron in the warm cabinet"),
    (AirLogged(temp_C=19, rh=0.5), "Shop air 19"),
    (AirUsual(temp_C=(19.0,) * 12, rh=(0.5,) * 12), "usual air, by month"),
    (
        AirSeries(source="log", hours=(0.0, 1.0), temp_C=(19.0, 20.0), rh=(0.5, 0.5), name="a.csv"),
        "a.csv, 2 rows",
    ),
    (PriceSet(material="shellac-pad", per_litre=42.5), "Pad shellac, 42.5 a litre"),
    (RateAccepted(material="lacquer-sprayed", ln_mean=-0.2, ln_sd=0.1), "Sprayed lacquer here"),
    (LearningRuled(key="texture/lacquer-fine-start", what="freeze", ln_sd=0.1), "fine start: frozen as it is"),
    (LearningRuled(key="zone/waisted/spray/sides", what="back"), "guitar body, sprayed: set back to what is usual"),
    (LearningRuled(key="minutes/FEPA-P:P800", what="go-on"), "Minutes: P800: goes on learning"),
    (CheckSeen(sink="slight", seen=("print",)), "Looked at Heron: sunk a little, seen in raking light; a print"),
    (HourPriced(per_hour=42.5), "An hour of hands costs 42.50"),
    (DrawerSet(owned=("FEPA-P:P400",)), "Abrasives in the drawer: 1"),
    (MethodKept(text=write_method(FINE), name="mine.toml"), "Method from mine.toml"),
    (ShopNamed(name="Lane"), "Shop file Lane"),
    (HoursSet(zone="Europe/Rome", week={"mon": ((8.0, 12.0), (13.0, 17.0))}), "The shop's hours, Europe/Rome"),
    (HandedOver(note="a new case"), "Heron handed over"),
    (BackOnRack(), "Heron back on the rack"),
    (ExposureLogged(dose_mJ_cm2=6000), "Light on Heron"),
    (CareLogged(what="turn"), "Heron turned"),
    (LightOnLogged(zones=("top",), mW_cm2=20), "Lamp on, Heron: top"),
    (SessionBegun(instruments=("heron",), unchecked=("strained",)), "begun on Heron (not looked at: strained)"),
    (
        SessionBegun(
            instruments=("heron",), parts=(SessionPart(instrument="heron", off_plan="coat", zones=("back", "top")),)
        ),
        "begun on Heron (an extra coat on back and top)",
    ),
    (SessionPaused(), "Session left for now"),
    (SessionEnded(), "Session over"),
    (MixMade(material="two-part-clear", ml=120), "120 ml of two-part clear mixed"),
    (PersonSet(name="Odd", week={"sat": ((9.0, 13.0),)}), "Odd works here"),
    (PersonSet(name="Odd", gone=True), "Odd works here no longer"),
    (DayOff(first="2026-05-11", last="2026-05-15", person="Odd"), "Odd away, Mon 11 May to Fri 15 May"),
    (DayOff(first="2026-05-11", hours=((8.0, 9.0),)), "Everybody there at other hours, Mon 11 May"),
    (DayOff(first="2026-05-11", cleared=True), "Everybody as in the week"),
    (StationsSet(arbors=2, cabinet_places=1, drying_places=6), "Wheels, cabinet and drying places"),
    (BoothRule(company_days=7, guns={"shellac-pad": Gun(setup_min=5, coldest_C=18.0)}), "How the booth is worked"),
    (DaysStruck(days=("2026-05-05", "2026-05-06")), "2 days without spraying"),
    (DaysStruck(), "Spraying every day"),
    (PromiseSet(promised="2026-05-14T17:00:00+00:00", weight=2, firm=True), "Heron promised for Thu 14 May"),
    (PromiseSet(), "Heron promised for no day"),
    (PinSet(step="4.2", day="2026-05-06", who="Odd"), "A step of Heron pinned"),
    (Unpinned(step="4.2"), "A step of Heron no longer pinned"),
    (
        PlanKept(
            steps=(KeptStep(instrument="heron", step="4.8", who="Odd", starts=("2026-05-05T08:00:00.000+00:00",)),),
            offer="changes",
            late_days=2,
            moved=1,
            setups=3,
        ),
        "This plan kept",
    ),
    (PlanKept(), "The plan follows along again"),
    (ProductTold(product=POLISH), "Own polish"),
    (ProductTold(product=POLISH, gone=True), "Own polish, no longer bought"),
    (LotBought(product="polish", ml=1250), "1.25 l of polish bought"),
    (LotOpened(lot=7), "A can opened"),
    (CanWeighed(lot=7, left_ml=420), "A can: 420 ml left"),
    (LotGone(lot=7, what="thrown", why="gelled"), "A can thrown away"),
    (LotTaken(lot=7), "A can is the one used"),
    (Undone(), "An entry"),
)


def part(**what):
    """A session on one instrument, done otherwise than planned."""
    return SessionBegun(instruments=("heron",), parts=(SessionPart(**what),))


class EveryKind(unittest.TestCase):
    def setUp(self):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        ferrow_lane.build(folder / "lane.ravden", NOW, ("heron",))
        self.session = ShopSession(shipped(), HandClock(NOW))
        self.session.open(folder / "lane.ravden")
        self.addCleanup(self.session.close)

    def test_each_is_told(self):
        for body, words in SAID:
            with self.subTest(body=type(body).__name__):
                entry = Entry(id=9_999, at=NOW, logged_at=NOW, instrument="heron", body=body)
                text = self.session.describe(entry)
                self.assertIn(words, text)
                self.assertIn("today 15:00", text)

    def test_none_is_forgotten(self):
        told = {type(body) for body, _ in SAID} | {InstrumentAdded}
        self.assertEqual(told, set(every_kind()))
        documented = (Path(__file__).parents[1] / "docs" / "formats.md").read_text(encoding="utf-8")
        for kind in told:
            self.assertIn(f"`{kind.__struct_config__.tag}`", documented)

    def test_each_is_kept_as_it_was(self):
        for body, _ in SAID:
            self.assertEqual(decode(encode(body)), body)
            self.assertEqual(msgspec.json.decode(encode(body))["kind"], type(body).__struct_config__.tag)

    def test_what_cannot_be_is_refused_and_changes_nothing(self):
        count = len(self.session.entries)
        for body, word in (
            (PriceSet(material="honey", per_litre=4), "honey"),
            (PriceSet(material="shellac-pad", per_litre=0), "price"),
            (MishapLogged(what="earthquake", zone="top"), "what"),
            (MishapLogged(what="run", zone="horn"), "horn"),
            (LookNoted(zone="horn", said="level"), "horn"),
            (LookNoted(zone="top", said="level", lit_share=1.5), "lit_share"),
            (LookNoted(zone="top", said="level", spots=-1), "spots"),
            (LookNoted(zone="top", said="level", photos=(PhotoNamed("0" * 64, "a.jpg"),) * 7), "photos"),
            (StepLogged(step="Dance"), "Dance"),
            (PlanSet(method="oil-wiped"), "another method"),
            (PlanSet(method=FINE.id, stage=FINE.stage[:2]), "no coat"),
            (ZonesSet(finishes={"horn": "oil-wax"}), "horn"),
            (CareLogged(what="sing"), "what"),
            (PersonSet(name=" Odd"), "space"),
            (PersonSet(name="Odd", week={"mon": ((9.0, 8.0),)}), "hours"),
            (PersonSet(name="Odd", week={"funday": ()}), "funday"),
            (PersonSet(name="Nobody", gone=True), "Nobody"),
            (DayOff(first="2026-05-11", person="Nobody"), "Nobody"),
            (DayOff(first="2026-05-11", last="2026-05-01"), "backwards"),
            (DayOff(first="soon"), "soon"),
            (StationsSet(arbors=-1), "arbors"),
            (StationsSet(drying_places=0), "drying_places"),
            (BoothRule(company_days=3), "company_days"),
            (BoothRule(guns={"honey": Gun()}), "honey"),
            (BoothRule(guns={"shellac-pad": Gun(setup_min=-5)}), "setup_min"),
            (BoothRule(guns={"shellac-pad": Gun(dampest=2.0)}), "dampest"),
            (DaysStruck(days=("tomorrow",)), "tomorrow"),
            (PromiseSet(promised="soon"), "soon"),
            (PromiseSet(promised="2026-05-14T17:00:00"), "time zone"),
            (PromiseSet(firm=True), "firm"),
            (PromiseSet(promised="2026-05-14T17:00:00+00:00", weight=0), "weight"),
            (PinSet(step="the first", who="Odd"), "no step"),
            (PinSet(step="4.2"), "held to"),
            (PinSet(step="4.2", at="2026-05-14T17:00:00+00:00", day="2026-05-14"), "moment already"),
            (Unpinned(step="4.2"), "not pinned"),
            (PlanKept(steps=(KeptStep(instrument="heron", step="4.2", who="Odd", starts=()),)), "never begins"),
            (
                PlanKept(
                    steps=(KeptStep(instrument="x", step="1", who="O", starts=("2026-05-14T17:00:00+00:00",)),) * 2
                ),
                "twice",
            ),
            (LightOnLogged(zones=("top",), mW_cm2=20), "not cured by light"),
            (SessionPaused(), "no session"),
            (SessionBegun(instruments=()), "at least one"),
            (SessionBegun(instruments=("heron", "heron")), "twice"),
            (SessionBegun(instruments=("emu",)), "emu"),
            (part(instrument="emu"), "emu is not in this session"),
            (part(instrument="heron", off_plan="paint"), "coat or paper"),
            (part(instrument="heron", zones=("top", "top")), "named twice"),
            (part(instrument="heron", zones=("horn",)), "no zone horn"),
            (ZonesSet(masked=("neck",), finishes={"neck": "oil-wax"}), "both"),
        ):
            with self.subTest(body=body), self.assertRaises(InputError) as caught:
                self.session.log(body, instrument="heron")
            self.assertIn(word, whole_fault(caught.exception))
        self.assertEqual(len(self.session.entries), count)
