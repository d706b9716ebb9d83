"""Whatever is logged, corrected and taken back: a shop folded entry by entry is the shop its whole journal tells."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from ravden.catalogue.method_files import write_method
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal.counting import last_to_redo, last_to_undo
from ravden.journal.crew import KeptStep
from ravden.journal.entry import Entry
from ravden.journal.fold import Fold, check, fold
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import BoothRule, DayOff, DaysStruck, PersonSet, StationsSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import LightOnLogged
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.pin import PinSet, Unpinned
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.promise import PromiseSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.zones import ZonesSet
from ravden.journal.store import Journal, Row

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
TABLES = shipped()
ADDED = {
    body.id: body for _, _, body in ferrow_lane.entries(NOW) if isinstance(body, InstrumentAdded)
}  # fmt: skip
NAMES = ("heron", "tern", "wren")
OILED = TABLES.method("violin-varnish")
METHODS = tuple(
    MethodKept(text=write_method(m), name="own")
    for m in (replace(OILED, id="lacquer-fine-start"), TABLES.method("lacquer-fine-start"))
)
KEPT = PlanKept(steps=(KeptStep(instrument="heron", step="4.8", who="Odd", starts=("2026-05-05T08:00:00.000+00:00",)),))
um = st.floats(1, 30).map(lambda v: round(v, 2))
BODIES = st.one_of(
    st.builds(CoatLogged, dry_um=um),
    st.builds(CoatLogged, dry_um=um, zones=st.sampled_from((("top",), ("back", "sides")))),
    st.builds(SandingLogged, um=st.floats(0.5, 3)),
    st.builds(ZonesSet, masked=st.sampled_from(((), ("top",))), finishes=st.sampled_from(({}, {"neck": "oil-wax"}))),
    st.builds(CabinetLogged, hours=st.just(12.0), temp_C=st.floats(25, 40)),
    st.builds(MishapLogged, what=st.just("run"), zone=st.just("top")),
    st.builds(PlanSet, method=st.just("lacquer-fine-start")),
    st.builds(AirLogged, temp_C=st.floats(15, 25), rh=st.floats(0.3, 0.7)),
    st.builds(AirSeries, source=st.sampled_from(("log", "forecast")), hours=st.just((0.0, 5.0)),
              temp_C=st.just((18.0, 19.0)), rh=st.just((0.5, 0.4))),
    st.just(AirUsual(temp_C=(18.0,) * 12, rh=(0.5,) * 12)),
    st.builds(PriceSet, material=st.just("shellac-pad"), per_litre=st.floats(1, 90)),
    st.builds(RateAccepted, material=st.sampled_from([ADDED[n].material for n in NAMES]), ln_mean=st.floats(-1, 1),
              ln_sd=st.just(0.2)),
    st.builds(PersonSet, name=st.sampled_from(("Odd", "Ida")), sprays=st.booleans(), gone=st.booleans()),
    st.builds(DayOff, first=st.sampled_from(("2026-05-11", "2026-05-12")), person=st.sampled_from(("", "Odd")),
              cleared=st.booleans()),
    st.builds(StationsSet, arbors=st.integers(0, 3)),
    st.builds(BoothRule, company_days=st.sampled_from((0, 2, 7))),
    st.builds(DaysStruck, days=st.sampled_from(((), ("2026-05-08",)))),
    st.builds(PromiseSet, promised=st.sampled_from(("", "2026-05-20T15:00:00+00:00"))),
    st.builds(PinSet, step=st.sampled_from(("4.1", "4.2")), day=st.just("2026-05-09")),
    st.builds(Unpinned, step=st.sampled_from(("4.1", "4.2"))),
    st.sampled_from((PlanKept(), KEPT)),
    st.builds(ShopNamed, name=st.sampled_from(("Lane", "Yard"))),
    st.builds(SessionBegun, instruments=st.sampled_from((("heron",), ("tern", "wren"))),
              lamp_mW_cm2=st.sampled_from((0.0, 20.0))),
    st.sampled_from((SessionPaused(), SessionPaused(on=False), SessionEnded())),
    st.just(LightOnLogged(zones=("top",), mW_cm2=9.0)),
    st.just(MixMade(material="shellac-pad", ml=50)),
    st.sampled_from([ADDED[n] for n in NAMES]),
    st.sampled_from(METHODS),
)  # fmt: skip
# What is done: an entry, told late by so many hours; or one taken back, brought back, or given another body.
LOGGED = st.tuples(st.just("log"), BODIES, st.sampled_from(NAMES), st.sampled_from((0.0, 0.0, 3.0, 9.0)))
TAKEN = st.tuples(st.sampled_from(("undo", "redo")))
CORRECTED = st.tuples(st.just("correct"), st.integers(0, 40), um)
DEEDS = st.lists(st.one_of(LOGGED, LOGGED, LOGGED, LOGGED, TAKEN, CORRECTED), min_size=12, max_size=30)


class Deeds:
    """A journal in hands."""

    def __init__(self, deeds=()):
        self.fold = Fold((), TABLES)
        self.at = NOW
        for name in NAMES:
            self.log(ADDED[name], "", 0.0)
        for deed in deeds:
            self.do(deed)

    def write(self, body, instrument, at, corrects=None):
        entry = Entry(id=len(self.fold.entries) + 1, at=at, logged_at=self.at, instrument=instrument, body=body,
                      corrects=corrects)  # fmt: skip
        self.fold.add(entry)

    def log(self, body, instrument, late_h):
        self.at += timedelta(hours=2)
        at = self.at - timedelta(hours=late_h)
        about = instrument if body.group("x") == "x" else ""
        check(self.fold.shop, body, about, at, self.at)
        self.write(body, about, at)

    def undo(self):
        entry = last_to_undo(self.fold.entries)
        if entry is not None:
            self.write(Undone(), entry.instrument, self.at, entry.id)

    def redo(self):
        entry = last_to_redo(self.fold.entries)
        if entry is not None:
            self.write(Undone(), entry.instrument, self.at, entry.id)

    def correct(self, number, dry_um):
        old = self.fold.counting(number)
        if old is not None and isinstance(old.body, CoatLogged):
            body = msgspec.structs.replace(old.body, dry_um=dry_um)
            check(self.fold.without(number), body, old.instrument, old.at, self.at)
            self.write(body, old.instrument, old.at, number)

    def do(self, deed):
        try:
            getattr(self, deed[0])(*deed[1:])
        except InputError:
            pass


class EntryByEntry(unittest.TestCase):
    @given(DEEDS)
    @settings(max_examples=120, derandomize=True)
    def test_it_is_the_shop_of_the_whole_journal(self, deeds):
        hands = Deeds()
        for deed in deeds:
            before = hands.fold.shop
            count = len(hands.fold.entries)
            hands.do(deed)
            if len(hands.fold.entries) == count:
                self.assertEqual(hands.fold.shop, before)
        whole = fold(hands.fold.entries, TABLES)
        self.assertEqual(hands.fold.shop, whole)
        self.assertEqual(list(hands.fold.shop.racked), list(whole.racked))

    @given(DEEDS)
    @settings(max_examples=60, derandomize=True)
    def test_undo_then_redo_is_as_before(self, deeds):
        hands = Deeds(deeds)
        if isinstance(hands.fold.entries[-1].body, Undone):
            hands.log(AirLogged(temp_C=20), "", 0.0)
        before = hands.fold.shop
        hands.undo()
        hands.redo()
        self.assertEqual(hands.fold.shop, before)

    @given(DEEDS, st.integers(0, 100))
    @settings(max_examples=60, derandomize=True)
    def test_the_order_of_independent_entries_does_not_matter(self, deeds, where):
        hands = Deeds(deeds)
        entries = list(hands.fold.entries)
        i = where % (len(entries) - 1)
        a, b = entries[i], entries[i + 1]
        apart = a.instrument and b.instrument and a.instrument != b.instrument
        if apart and a.corrects is None and b.corrects is None:
            entries[i], entries[i + 1] = b, a
        found = fold(entries, TABLES)
        self.assertEqual(replace(found, session=None), replace(hands.fold.shop, session=None))

    @given(DEEDS)
    @settings(max_examples=10, derandomize=True)
    def test_a_file_reads_as_it_was_written(self, deeds):
        hands = Deeds(deeds)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "shop.ravden"
            journal = Journal.create(path)
            journal.append_all([
                Row(body=e.body, at=e.at, logged_at=e.logged_at, instrument=e.instrument,
                    follows=None if e.corrects is None else e.corrects - 1)
                for e in hands.fold.entries
            ])  # fmt: skip
            journal.close()
            again = Journal.open(path)
            self.addCleanup(again.close)
            self.assertEqual(again.entries(), hands.fold.entries)
            self.assertEqual(fold(again.entries(), TABLES), hands.fold.shop)
