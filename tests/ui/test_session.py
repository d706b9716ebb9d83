"""The session without a window: logging, taking back, telling, describing, and staying whole when something fails."""

import contextlib
import random
import sqlite3
from datetime import UTC, datetime, timedelta

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.record import Coat
from ravden.demo import ferrow_lane
from ravden.journal.fold import fold
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.zones import ZonesSet
from ravden.journal.store import Journal
from ravden.text.say import fault
from ravden.text.units import Units
from tests.in_folder import InFolder
from tests.ui import THREE

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


class SessionTest(InFolder):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, THREE)
        self.clock = HandClock(NOW)
        self.session = ShopSession(shipped(), self.clock)
        self.addCleanup(self.session.close)
        self.session.open(self.path)
        self.told = []
        self.session.listen(self.told.append)

    def acts(self, instrument="heron"):
        return self.session.shop.racked[instrument].project.acts


class Logging(SessionTest):
    def test_every_change_is_told_once_with_its_origin(self):
        self.session.select("heron", "rack")
        self.session.log(CoatLogged(dry_um=9), instrument="heron", origin="card")
        self.session.undo("menu")
        self.session.set_units("us")
        self.assertEqual([c.origin for c in self.told], ["rack", "card", "menu", "units"])
        self.assertEqual([c.instruments for c in self.told], [(), ("heron",), ("heron",), ()])
        self.assertTrue(self.told[0].selection and self.told[3].appearance)
        self.assertIn("Coat 8 on Heron, 9 µm dry, today 15:00", self.told[1].message)
        self.assertTrue(self.told[2].message.startswith("Taken back: "))

    def test_air_told_late_asks_only_for_those_that_stood_in_it(self):
        racked = self.session.shop.racked
        oldest, *_, youngest = sorted(racked, key=lambda i: racked[i].zero)
        between = racked[youngest].zero - timedelta(hours=30)
        self.assertGreater(between, racked[oldest].zero)
        self.session.log(AirLogged(temp_C=18.0), at=racked[youngest].zero - timedelta(hours=6))
        felt = [self.session.shop.racked[i].project_at(NOW).air for i in (oldest, youngest)]
        self.session.log(AirLogged(temp_C=31.0), at=between)
        late = [self.session.shop.racked[i].project_at(NOW).air for i in (oldest, youngest)]
        self.assertIn(oldest, self.told[1].instruments)
        self.assertNotIn(youngest, self.told[1].instruments)
        self.assertNotEqual(late[0], felt[0])
        self.assertEqual(late[1], felt[1])

    def test_choosing_the_same_again_or_nobody_says_nothing(self):
        self.session.select(self.session.selected, "rack")
        self.session.select("nobody", "rack")
        self.assertEqual(self.told, [])

    def test_a_refused_act_leaves_no_trace(self):
        before = (len(self.session.entries), self.acts(), self.path.stat().st_size)
        for body in (CoatLogged(dry_um=-1), ReadingLogged(zone="lid", um=3), SandingLogged(um=1e4)):
            self.assertRaises(InputError, self.session.log, body, instrument="heron")
        self.assertEqual((len(self.session.entries), self.acts(), self.path.stat().st_size), before)
        self.assertEqual(self.told, [])

    def test_acts_are_kept_in_the_order_they_happened(self):
        self.session.log(CoatLogged(dry_um=5), instrument="heron", at=NOW - timedelta(hours=30))
        hours = [a.at_h for a in self.acts()]
        self.assertEqual(hours, sorted(hours))

    def test_every_kind_of_entry_is_described(self):
        cases = (
            (SandingLogged(um=7, grade="P1500"), "heron", "Sanding on Heron, 7 µm off with P1500"),
            (SandingLogged(um=7), "heron", "Sanding on Heron, 7 µm off,"),
            (ReadingLogged(zone="top", um=88), "heron", "Film gauge, top: 88 µm on Heron"),
            (AirLogged(temp_C=18, rh=0.55), "", "Shop air 18 °C, 55 % humidity"),
        )
        for body, instrument, words in cases:
            entry = self.session.log(body, instrument=instrument)
            self.assertTrue(self.session.describe(entry).startswith(words), self.session.describe(entry))
        self.session.units = Units(system="us")
        self.assertIn("64 °F", self.session.describe(entry))

    def test_undo_reaches_the_first_entry_and_then_says_so(self):
        count = 0
        while True:
            try:
                self.session.undo()
            except InputError as error:
                self.assertIn("nothing to take back", fault(error))
                break
            count += 1
        self.assertEqual(count, len(ferrow_lane.entries(NOW, THREE)))
        self.assertEqual(self.session.shop.racked, {})
        for _ in range(count):
            self.session.redo()
        self.assertEqual(set(self.session.shop.racked), {"tern", "wren", "heron"})
        self.assertRaises(InputError, self.session.redo)

    def test_taking_back_an_instrument_turns_to_another(self):
        journal = Journal.open(self.path)  # the session's own lock makes this one read only
        self.addCleanup(journal.close)
        self.assertTrue(journal.read_only)
        self.session.select("heron", "test")
        while "heron" in self.session.shop.racked:
            self.session.undo()
        self.assertIn(self.session.selected, self.session.shop.racked)


class Files(SessionTest):
    def test_a_refused_file_leaves_the_open_one_open(self):
        foreign = self.folder / "x.ravden"
        foreign.write_text("not one " * 50)
        self.assertRaises(InputError, self.session.open, foreign)
        self.assertRaises(InputError, self.session.open, self.folder / "none.ravden")
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        self.assertEqual(len(self.acts()), len(list(self.acts())))
        self.assertEqual(self.session.journal.path, self.path)

    def test_a_file_with_an_unreadable_entry_is_opened_without_it(self):
        odd = self.folder / "odd.ravden"
        journal = Journal.create(odd)
        journal.append(ShopNamed(name="Odd"), at=NOW, logged_at=NOW)
        journal.close()
        with contextlib.closing(sqlite3.connect(odd)) as db, db:
            db.execute(
                "INSERT INTO entry (at, logged_at, instrument, body) VALUES ('2026-01-01', 'x', '', '{\"kind\": 1}')"
            )
        self.session.open(odd)
        self.assertEqual((list(self.session.aside), self.session.shop.name), ([2], "Odd"))
        self.session.log(ShopNamed(name="Even"))

    def test_nothing_can_be_logged_without_a_file(self):
        self.session.close()
        for act in (self.session.log_usual_coat, lambda: self.session.log(AirLogged(temp_C=20))):
            self.assertRaises(InputError, act)

    def test_an_unknown_instrument_cannot_be_asked_about(self):
        self.assertRaises(InputError, self.session.request, "nobody")


class Replay(SessionTest):
    def test_any_run_of_acts_is_told_the_same_by_the_file(self):
        rng = random.Random(11)
        for step in range(150):
            self.clock.turn(minutes=rng.randint(1, 300))
            choice = rng.random()
            try:
                if choice < 0.45:
                    self.session.log(CoatLogged(dry_um=rng.uniform(2, 14)), instrument=rng.choice(["heron", "wren"]))
                elif choice < 0.55:
                    self.session.log(SandingLogged(um=rng.uniform(0.5, 6)), instrument="heron")
                elif choice < 0.62:
                    self.session.log(ReadingLogged(zone="sides", um=rng.uniform(40, 120)), instrument="tern")
                elif choice < 0.68:
                    self.session.log(AirLogged(temp_C=rng.uniform(12, 26)))
                elif choice < 0.88:
                    self.session.undo()
                else:
                    self.session.redo()
            except InputError as error:
                self.assertIn("nothing to bring back", fault(error), step)
        self.session.close()
        journal = Journal.open(self.path)
        self.addCleanup(journal.close)
        again = fold(journal.entries(), shipped())
        self.assertEqual(set(again.racked), set(self.session.shop.racked))
        for i, rack in again.racked.items():
            self.assertEqual(rack.project, self.session.shop.racked[i].project)
        self.assertEqual([e.id for e in journal.entries()], [e.id for e in self.session.entries])


class Corrections(SessionTest):
    def films(self):
        return [c.dry_um for c in self.acts() if isinstance(c, Coat)]

    def newest_coat(self):
        return [e for e in self.session.entries if e.instrument == "heron" and isinstance(e.body, CoatLogged)][-1]

    def test_a_correction_takes_its_place_and_is_itself_corrected_or_undone(self):
        first = self.newest_coat()
        second = self.session.correct(first.id, CoatLogged(dry_um=9))
        self.assertEqual(self.films()[-1], 9)
        self.assertEqual(second.at, first.at)
        third = self.session.correct(second.id, CoatLogged(dry_um=10), at=NOW - timedelta(hours=1))
        self.assertEqual((self.films()[-1], len(self.films())), (10, 7))
        self.assertEqual(third.at, NOW - timedelta(hours=1))
        for back in (9, 12):
            self.session.undo()
            self.assertEqual(self.films()[-1], back)
        for forth in (9, 10):
            self.session.redo()
            self.assertEqual(self.films()[-1], forth)
        self.assertEqual(len([e for e in self.session.entries if e.id == first.id]), 1)

    def test_what_is_gone_or_of_another_kind_cannot_be_corrected(self):
        entry = self.newest_coat()
        for wrong in (SandingLogged(um=3), CoatLogged(dry_um=-1), CoatLogged(dry_um=float("nan"))):
            self.assertRaises(InputError, self.session.correct, entry.id, wrong)
        self.assertRaises(InputError, self.session.correct, entry.id, CoatLogged(dry_um=9), at=NOW + timedelta(days=2))
        self.session.take_back(entry.id)
        self.assertRaises(InputError, self.session.correct, entry.id, CoatLogged(dry_um=9))
        self.assertRaises(InputError, self.session.take_back, entry.id)
        self.assertRaises(InputError, self.session.entry, 10_000)
        self.assertEqual(len(self.films()), 6)

    def test_the_file_read_again_says_the_same(self):
        self.session.correct(self.newest_coat().id, CoatLogged(dry_um=9, how="60 µm wet"))
        self.session.log(ZonesSet(masked=("neck",), finishes={"head": "shellac-pad"}), instrument="heron")
        self.session.log(CoatLogged(dry_um=4, finish="shellac-pad"), instrument="heron")
        before = self.acts()
        self.session.open(self.path)
        self.assertEqual(self.acts(), before)
        coat = before[-1]
        self.assertEqual((coat.zones, coat.finish), (("head",), "shellac-pad"))
        self.assertEqual(self.session.shop.racked["heron"].project.masked, ("neck",))

    def test_zones_and_readings_that_cannot_be_are_refused(self):
        for body in (
            ZonesSet(masked=("lid",)), ZonesSet(finishes={"neck": "paint"}),
            ZonesSet(masked=("neck",), finishes={"neck": "shellac-pad"}), CoatLogged(dry_um=4, finish="paint"),
            CoatLogged(dry_um=4, count_odds=((9, 0.5), (10, 0.4))), ReadingLogged(what="dance", um=4),
            ReadingLogged(what="comb", zone="top", um=75, high_um=50, landed=0.2), ReadingLogged(zone="lid", um=4),
        ):  # fmt: skip
            with self.subTest(body=body):
                self.assertRaises(InputError, self.session.log, body, instrument="heron")
        self.session.log(CoatLogged(dry_um=4, count=3), instrument="heron")
        comb = ReadingLogged(what="comb", zone="top", um=50, high_um=75, landed=0.2)
        self.assertRaises(InputError, self.session.log, comb, instrument="heron")

    def test_a_gun_learnt_on_one_instrument_is_expected_of_the_next(self):
        heron = self.session.request("heron").run()
        self.assertLess(heron.ledger.applicator()[0], -0.03)
        self.assertLess(heron.ledger.applicator()[1], 0.2)
        tern = self.session.request("tern")
        self.assertEqual(tern.earlier, ())
        wren = self.session.request("wren").run()
        self.assertAlmostEqual(wren.ledger.applicator()[0], 0, places=3)  # another finish, another tool

    def test_a_reading_whose_coat_is_gone_is_left_out_and_marked(self):
        newest = self.newest_coat()
        self.session.log(ReadingLogged(what="comb", zone="top", um=50, high_um=75, landed=0.2), instrument="heron")
        self.session.correct(newest.id, CoatLogged(dry_um=12, count=3))
        found = self.session.request("heron", advise=True).run()
        self.assertIsNotNone(found.ledger.flags[-1].why)
        self.assertGreater(found.ledger.mean_um("top"), 80)
