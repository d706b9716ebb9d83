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
from ravden.demo import ferrow_lane
from ravden.journal.booth import SessionPart
from ravden.journal.entry import Entry, decode, encode
from ravden.journal.kinds import every_kind
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.booth_acts import CareLogged, PassLogged
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.drawer import DrawerSet
from ravden.journal.kinds.handed_over import BackOnRack, HandedOver
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import ExposureLogged, LightOnLogged
from ravden.journal.kinds.look import LookNoted, PhotoNamed
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.zones import ZonesSet
from ravden.text.say import whole_fault

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
FINE = shipped().method("lacquer-fine-start")

SAID = (
    (CoatLogged(dry_um=12, how="67 µm wet"), "12 µm dry (67 µm wet)"),
    (CoatLogged(dry_um=12, finish="shellac-pad"), "Coat of pad shellac on Heron"),
    (CoatLogged(dry_um=12, count_odds=((9, 0.5), (10, 0.5))), "9 or 10 coats on Heron"),
    (CoatLogged(dry_um=12, count=3), "Coats "),
    (SandingLogged(um=9, grade="P1200"), "Sanding on Heron, 9 µm off with P1200"),
    (ReadingLogged(zone="top", um=80), "on Heron"),
    (ZonesSet(masked=("head",), finishes={"neck": "oil-wax"}), "Heron: head masked, neck in oil-wax"),
    (StepLogged(step="Build", skipped=True), "Build on Heron skipped"),
    (MishapLogged(what="fish-eye", zone="top"), "Fish eye on Heron"),
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
            (LightOnLogged(zones=("top",), mW_cm2=20), "not cured by light"),
            (SessionPaused(), "no session"),
            (MixMade(material="two-part-clear", ml=100), "no session"),
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
