"""The same shop tomorrow: random shops that are opened anew, folded whole, read in little, and with every memory thrown
away show the same, to the digit."""

import sqlite3
import threading
import unittest
from datetime import UTC, datetime, timedelta

from msgspec.structs import replace

from ravden.catalogue.method_files import read_method_file, with_ids, write_method
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.method.slots import as_now, named, place_of
from ravden.core.stock.product import Product
from ravden.journal.air import ShopAir
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import PersonSet
from ravden.journal.kinds.pin import PinSet
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.stock import CanWeighed, LotBought, ProductTold
from tests.reopened import DEEDS, walked
from tests.ui.test_session import NOW, SessionTest

SHOPS, WHOLE = range(10), (1, 7)  # of ten the record is compared after every tenth deed, of two all that is shown
METHOD = shipped().method("lacquer-fine-start")


class SameShop(unittest.TestCase):
    """More of them in benchmarks/reopen.py, looked at after every tenth deed."""

    def test_however_it_is_told_it_shows_the_same(self):
        done = 0
        for seed in SHOPS:
            whole = seed in WHOLE
            with self.subTest(seed=seed):
                for hands, way, place, (one, other) in walked(seed, every=DEEDS if whole else 10, whole=whole):
                    self.fail(f"after {hands.done[-1]}, {way}: {place}\n{one}\n{other}")
                done += 1
        self.assertEqual(done, len(SHOPS))


class Threads(unittest.TestCase):
    def test_the_worker_asks_while_the_window_tells_and_no_reading_is_missing(self):
        began = datetime(2026, 1, 1, tzinfo=UTC)
        shop, faults, stop = [ShopAir()], [], threading.Event()

        def ask():
            try:
                n = 0
                while not stop.is_set():
                    n += 1
                    zero = began + timedelta(hours=n % 2)
                    air = shop[0]
                    rows, _ = air.series(zero, began + timedelta(days=300), kept=True)
                    told = {r.at_h for r in rows if r.source == "told"}
                    if air.told and air.told[-1][0] >= zero:
                        assert (air.told[-1][0] - zero).total_seconds() / 3600 in told
            except BaseException as fault:
                faults.append(fault)

        worker = threading.Thread(target=ask)
        worker.start()
        for n in range(10_000):
            shop[0] = shop[0].with_rows([(began + timedelta(minutes=n), 18.0 + n % 5, 0.5, "told")])
        stop.set()
        worker.join()
        self.assertEqual(faults, [])
        self.assertEqual(len(shop[0].told), 10_000)


class OneAct(SessionTest):
    def can(self):
        session = self.session
        product = Product(id="p", name="Our lacquer", kind="finish", material="lacquer-sprayed")
        session.log(ProductTold(product=product), at=NOW - timedelta(days=9))
        return session.log(LotBought(product="p", ml=1000.0), at=NOW - timedelta(days=9)).id

    def test_what_belongs_together_is_taken_back_and_brought_back_together(self):
        before = self.session.shop.crew
        with self.session.one_act():
            self.session.log(PersonSet(name="Odd"))
            self.session.log(PersonSet(name="Odda"))
        both = self.session.shop.crew
        acts = {e.act for e in self.session.entries[-2:]}
        self.assertEqual(acts, {self.session.entries[-2].id})
        self.assertEqual(len(self.told), 1)  # and told once
        self.assertRegex(self.session.undo(), "Taken back: Odd .*; Odda ")
        self.assertEqual(self.session.shop.crew, before)
        self.assertRegex(self.session.redo(), "Brought back: Odd .*; Odda ")
        self.assertEqual(self.session.shop.crew, both)
        self.session.take_back(self.session.entries[-1].id - 5)
        self.session.close()
        self.session.open(self.path)
        self.assertEqual(self.session.shop.crew, before)

    def test_half_of_it_refused_is_none_of_it(self):
        count = len(self.session.everything())
        with self.assertRaises(InputError), self.session.one_act():
            self.session.log(PersonSet(name="Odd"))
            self.session.log(PersonSet(name=""))
        self.assertEqual(len(self.session.everything()), count)
        self.assertIsNone(self.session.shop.crew.named("Odd"))

    def test_what_counts_is_known_anew_after_an_act_that_failed(self):
        gone = self.session.log(PersonSet(name="Odd")).id
        self.session.undo()
        journal = self.session.journal
        with self.assertRaises(InputError), self.session.one_act():
            journal.counts()  # as reading the Book in the middle of an act does
            self.session.log(PersonSet(name=""))
        self.session.log(PersonSet(name="Ida"))
        counting = journal.names(f"SELECT id FROM entry WHERE {journal.counts()}", ())
        self.assertNotIn(gone, counting)
        self.assertIn(self.session.entries[-1].id, counting)

    def test_a_weighing_that_reads_a_coat_is_one(self):
        from ravden.app import stock

        lot, session = self.can(), self.session
        stock.weigh(session, CanWeighed(lot=lot, left_ml=900.0), NOW - timedelta(hours=5))
        session.log(CoatLogged(dry_um=12), instrument="heron", at=NOW - timedelta(hours=3))
        said = stock.weigh(session, CanWeighed(lot=lot, left_ml=800.0), NOW)
        self.assertTrue(said)
        self.assertEqual([e.body.__class__.__name__ for e in session.entries[-2:]], ["CanWeighed", "ReadingLogged"])
        session.undo()
        self.assertEqual(len(session.shop.stock.weighed), 1)
        self.assertNotIn("volume", [getattr(a, "what", "") for a in session.shop.racked["heron"].acts])

    def test_an_act_of_which_half_is_missing_is_set_aside_whole(self):
        with self.session.one_act():
            self.session.log(PersonSet(name="Odd"))
            self.session.log(PersonSet(name="Ida"))
        last = self.session.entries[-1].id
        self.session.close()
        with sqlite3.connect(self.path) as db:
            db.execute("DROP TRIGGER entry_kept")
            db.execute("DELETE FROM entry WHERE id = ?", (last,))
        db.close()
        self.session.open(self.path)
        self.assertIsNone(self.session.shop.crew.named("Odd"))
        (why,) = self.session.aside.values()
        self.assertIn("of the 2 entries that were written as one act 1 are there", why)

    def test_what_the_fold_would_set_aside_is_refused(self):
        count = len(self.session.everything())
        with self.assertRaises(InputError):
            self.session.log(CoatLogged(dry_um=12, mends=999, spot=True, zones=("lid",)), instrument="heron")
        self.assertEqual(len(self.session.everything()), count)
        self.assertEqual(self.session.aside, {})


class Steps(SessionTest):
    def test_a_pin_stays_on_its_step_whatever_is_put_in_before_it(self):
        rack = self.session.shop.racked["heron"]
        at = next(i for i, s in enumerate(rack.method.stage) if s.kind == "level")
        self.session.log(PinSet(step=f"{at}.1", who="Ida"), instrument="heron")  # as it was written before
        extra = replace(rack.method.stage[0], id="", label="Look it over")
        moved = (*rack.method.stage[:at], extra, *rack.method.stage[at:])
        self.session.log(PlanSet(method=METHOD.id, stage=moved), instrument="heron")
        rack = self.session.shop.racked["heron"]
        (pin,) = rack.pins
        self.assertEqual(rack.method.stage[place_of(rack.method.stage, pin)].kind, "level")
        renamed = [replace(s, label="Flatten it") if s.kind == "level" else s for s in rack.method.stage]
        self.session.log(PlanSet(method=METHOD.id, stage=tuple(renamed)), instrument="heron")
        rack = self.session.shop.racked["heron"]
        self.assertEqual(rack.method.stage[place_of(rack.method.stage, pin)].label, "Flatten it")
        self.session.close()
        self.session.open(self.path)
        self.assertEqual(list(self.session.shop.racked["heron"].pins), [pin])

    def test_a_pin_whose_step_is_gone_is_told_once_and_let_go(self):
        self.session.log(PinSet(step="Level sand#1", who="Ida"), instrument="heron")
        rack = self.session.shop.racked["heron"]
        left = tuple(s for s in rack.method.stage if s.kind != "level")
        self.session.log(PlanSet(method=METHOD.id, stage=left), instrument="heron")
        self.assertIn("Held no longer, since it is in the plan no more: Level sand", self.told[-1].message)
        self.assertEqual(self.session.shop.racked["heron"].pins, {})
        with self.assertRaisesRegex(InputError, "no step Level sand#1"):
            self.session.log(PinSet(step="Level sand#1", who="Ida"), instrument="heron")

    def test_one_id_at_two_steps_is_told(self):
        twice = write_method(METHOD).replace('id = "Level sand"', 'id = "Rub out"')
        with self.assertRaisesRegex(InputError, "Rub out is the id of step"):
            read_method_file(twice, "own.toml", shipped())
        stages = [replace(s, id="Rub out") if s.id == "Level sand" else s for s in METHOD.stage]
        with self.assertRaisesRegex(InputError, "is the id of step"):
            self.session.log(PlanSet(method=METHOD.id, stage=tuple(stages)), instrument="heron")

    def test_a_file_gets_its_ids_when_it_is_first_read_and_keeps_them(self):
        bare = "\n".join(line for line in write_method(METHOD).splitlines() if not line.startswith("id = ")) + "\n"
        bare = 'id = "own"\n' + bare
        told = with_ids(bare, "own.toml", shipped())
        read = read_method_file(told, "own.toml", shipped())
        self.assertEqual([s.id for s in read.stage], [s.id for s in METHOD.stage])
        later = read_method_file(told.replace('label = "Rub out"', 'label = "Polish"'), "own.toml", shipped())
        self.assertEqual([s.id for s in later.stage], [s.id for s in METHOD.stage])
        self.assertEqual(with_ids(told, "own.toml", shipped()), told)

    def test_steps_of_one_name_are_told_apart(self):
        two = named([replace(METHOD.stage[0], id=""), replace(METHOD.stage[0], id="")])
        self.assertEqual([s.id for s in two], [METHOD.stage[0].label, f"{METHOD.stage[0].label}~2"])
        self.assertEqual(place_of(two, as_now(two, "1.1")), 1)


class Air(SessionTest):
    def test_of_one_minute_the_entry_written_last_counts(self):
        at = NOW - timedelta(hours=2)
        self.session.log(AirLogged(temp_C=25.0), at=at)
        self.session.log(AirLogged(temp_C=15.0), at=at)
        last = [row for row in self.session.shop.air.told if row[0] == at]
        self.assertEqual([row[1] for row in last], [15.0])
        self.session.close()
        self.session.open(self.path)
        self.assertEqual([row for row in self.session.shop.air.told if row[0] == at], last)
