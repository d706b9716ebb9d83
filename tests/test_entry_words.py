"""Every kind of entry can be told in a few words, kept, read back, and is refused where it cannot be."""

import shutil
import tempfile
import typing
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
from ravden.journal import entries as kinds
from ravden.journal.booth_entries import SessionPart
from ravden.journal.entries import Entry, decode, encode
from ravden.text.say import whole_fault

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
FINE = shipped().method("lacquer-fine-start")

SAID = (
    (kinds.CoatLogged(dry_um=12, how="67 µm wet"), "12 µm dry (67 µm wet)"),
    (kinds.CoatLogged(dry_um=12, finish="shellac-pad"), "Coat of pad shellac on Heron"),
    (kinds.CoatLogged(dry_um=12, count_odds=((9, 0.5), (10, 0.5))), "9 or 10 coats on Heron"),
    (kinds.CoatLogged(dry_um=12, count=3), "Coats "),
    (kinds.SandingLogged(um=9, grade="P1200"), "Sanding on Heron, 9 µm off with P1200"),
    (kinds.ReadingLogged(zone="top", um=80), "on Heron"),
    (kinds.ZonesSet(masked=("head",), finishes={"neck": "oil-wax"}), "Heron: head masked, neck in oil-wax"),
    (kinds.StepLogged(step="Build", skipped=True), "Build on Heron skipped"),
    (kinds.MishapLogged(what="fish-eye", zone="top"), "Fish eye on Heron"),
    (kinds.PassLogged(), "A pass on Heron"),
    (kinds.PlanSet(method=FINE.id, stage=FINE.stage, what="Build changed"), "Plan of Heron: Build changed"),
    (kinds.PlanSet(method=FINE.id), "Plan of Heron: the steps of its method"),
    (kinds.CabinetLogged(hours=24, temp_C=40), "Heron in the warm cabinet"),
    (kinds.AirLogged(temp_C=19, rh=0.5), "Shop air 19"),
    (kinds.AirUsual(temp_C=(19.0,) * 12, rh=(0.5,) * 12), "usual air, by month"),
    (
        kinds.AirSeries(source="log", hours=(0.0, 1.0), temp_C=(19.0, 20.0), rh=(0.5, 0.5), name="a.csv"),
        "a.csv, 2 rows",
    ),
    (kinds.PriceSet(material="shellac-pad", per_litre=42.5), "Pad shellac, 42.5 a litre"),
    (kinds.RateAccepted(material="lacquer-sprayed", ln_mean=-0.2, ln_sd=0.1), "Sprayed lacquer here"),
    (kinds.DrawerSet(owned=("FEPA-P:P400",)), "Abrasives in the drawer: 1"),
    (kinds.MethodKept(text=write_method(FINE), name="mine.toml"), "Method from mine.toml"),
    (kinds.ShopNamed(name="Lane"), "Shop file Lane"),
    (kinds.ExposureLogged(dose_mJ_cm2=6000), "Light on Heron"),
    (kinds.CareLogged(what="turn"), "Heron turned"),
    (kinds.LightOnLogged(zones=("top",), mW_cm2=20), "Lamp on, Heron: top"),
    (kinds.SessionBegun(instruments=("heron",), unchecked=("strained",)), "begun on Heron (not looked at: strained)"),
    (
        kinds.SessionBegun(
            instruments=("heron",), parts=(SessionPart(instrument="heron", off_plan="coat", zones=("back", "top")),)
        ),
        "begun on Heron (an extra coat on back and top)",
    ),
    (kinds.SessionPaused(), "Session left for now"),
    (kinds.SessionEnded(), "Session over"),
    (kinds.MixMade(material="two-part-clear", ml=120), "120 ml of two-part clear mixed"),
    (kinds.Undone(), "An entry"),
)


def part(**what):
    """A session on one instrument, done otherwise than planned."""
    return kinds.SessionBegun(instruments=("heron",), parts=(SessionPart(**what),))


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
        told = {type(body) for body, _ in SAID} | {kinds.InstrumentAdded}
        self.assertEqual(told, set(typing.get_args(kinds.Body)))
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
            (kinds.PriceSet(material="honey", per_litre=4), "honey"),
            (kinds.PriceSet(material="shellac-pad", per_litre=0), "price"),
            (kinds.MishapLogged(what="earthquake", zone="top"), "what"),
            (kinds.MishapLogged(what="run", zone="horn"), "horn"),
            (kinds.StepLogged(step="Dance"), "Dance"),
            (kinds.PlanSet(method="oil-wiped"), "another method"),
            (kinds.PlanSet(method=FINE.id, stage=FINE.stage[:2]), "no coat"),
            (kinds.ZonesSet(finishes={"horn": "oil-wax"}), "horn"),
            (kinds.CareLogged(what="sing"), "what"),
            (kinds.LightOnLogged(zones=("top",), mW_cm2=20), "not cured by light"),
            (kinds.SessionPaused(), "no session"),
            (kinds.MixMade(material="two-part-clear", ml=100), "no session"),
            (kinds.SessionBegun(instruments=()), "at least one"),
            (kinds.SessionBegun(instruments=("heron", "heron")), "twice"),
            (kinds.SessionBegun(instruments=("emu",)), "emu"),
            (part(instrument="emu"), "emu is not in this session"),
            (part(instrument="heron", off_plan="paint"), "coat or paper"),
            (part(instrument="heron", zones=("top", "top")), "named twice"),
            (part(instrument="heron", zones=("horn",)), "no zone horn"),
            (kinds.ZonesSet(masked=("neck",), finishes={"neck": "oil-wax"}), "both"),
        ):
            with self.subTest(body=body), self.assertRaises(InputError) as caught:
                self.session.log(body, instrument="heron")
            self.assertIn(word, whole_fault(caught.exception))
        self.assertEqual(len(self.session.entries), count)
