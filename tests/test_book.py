"""Instruments handed over: into the Book and back, what they taught, and a shop file that is read in parts."""

import signal
import sqlite3
import subprocess
import sys
from datetime import UTC, datetime, timedelta

from msgspec import structs

from ravden.app.clock import HandClock
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal.counting import last_to_undo
from ravden.journal.fold import fold
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.handed_over import BackOnRack, HandedOver
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.session import SessionBegun
from ravden.journal.on_disk import MIGRATIONS, VERSION
from ravden.journal.shelves import LATE, shelves
from ravden.journal.store import Journal, Row
from tests.in_folder import InFolder, OnShop
from tests.old_files import as_version

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
THREE = ("tern", "wren", "heron")


def windows(session, name):
    return [(w.name, w.early_h, w.likely_h, w.late_h) for w in session.request(name, advise=True).run().windows]


class Book(OnShop):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "lane.ravden"
        ferrow_lane.build(self.path, NOW, THREE)
        self.clock = HandClock(NOW)
        self.session = self.open()

    def fill(self, count=LATE):
        """So much logged since that what was handed over is no longer among the newest entries."""
        rows = [
            Row(body=AirLogged(temp_C=20), at=NOW + timedelta(minutes=i), logged_at=NOW + timedelta(minutes=i))
            for i in range(count)
        ]
        self.session.close()
        journal = Journal.open(self.path)
        journal.append_all(rows)
        journal.close()
        self.clock.time = NOW + timedelta(minutes=count)
        self.session = self.open()

    def hand_over(self, name, **more):
        self.session.select(name, "test")
        return self.session.hand_over(self.session.now, **more)

    def test_it_leaves_the_rack_and_is_found_in_the_book(self):
        self.hand_over("tern", person="A. Player", note="second strap button")
        self.assertEqual(tuple(self.session.shop.racked), ("wren", "heron"))
        booked = self.session.shop.book["tern"]
        self.assertEqual((booked.name, booked.handed, booked.note), ("Tern", NOW, "second strap button"))
        self.assertEqual(self.session.people[booked.person], "A. Player")
        self.assertIn(self.session.selected, ("wren", "heron"))
        self.assertNotIn("A. Player", "".join(str(e) for e in self.session.everything()))
        with self.assertRaisesRegex(InputError, "in the Book"):
            self.session.log(CoatLogged(dry_um=10), instrument="tern")

    def test_undo_and_bringing_back_restore_it_and_its_place(self):
        before = self.session.shop
        self.hand_over("tern")
        self.session.undo()
        self.assertEqual(self.session.shop, before)
        self.hand_over("tern")
        self.session.bring_back("tern")
        self.assertEqual(self.session.shop, before)
        self.assertEqual(tuple(self.session.shop.racked), tuple(before.racked))
        self.assertEqual(self.session.selected, "tern")

    def test_what_it_taught_stays_learnt(self):
        for name in ("heron", "tern"):
            self.session.log(ReadingLogged(zone="top", um=140, n=5), instrument=name)
        last = InstrumentAdded(
            id="last", name="Last", instrument_kind="solid-slab", method="lacquer-fine-start",
            material=shipped().method("lacquer-fine-start").material, sheen="gloss", min_film_um=60,
            measures=measures_of(shipped().kind("solid-slab")),
        )  # fmt: skip
        self.session.log(last)
        self.session.log(CoatLogged(dry_um=12), instrument="last")
        self.clock.time += timedelta(hours=1)
        learnt, film = windows(self.session, "last"), self.session.request("last").run().ledger.mean_um("top")
        for name in ("tern", "heron"):
            self.hand_over(name)
        self.assertEqual(windows(self.session, "last"), learnt)
        self.fill()
        self.clock.time = NOW + timedelta(hours=1)
        self.assertIsNone(self.session.shop.book["heron"].rack)
        self.assertAlmostEqual(self.session.request("last").run().ledger.mean_um("top"), film, places=9)

    def test_the_book_is_not_read_until_it_is_asked_for(self):
        before = self.session.shop
        tern = self.session.shop.racked["tern"]
        film = self.session.request("tern").run().ledger.mean_um("top")
        self.hand_over("tern", note="n")
        self.fill()
        self.assertEqual({e.instrument for e in self.session.entries}, {"", "wren", "heron"})
        self.assertIsNone(self.session.shop.book["tern"].rack)
        found = self.session.request_booked("tern").run()
        self.assertAlmostEqual(found.ledger.mean_um("top"), film, places=9)
        self.session.bring_back("tern")
        self.assertEqual(self.session.shop.racked["tern"].acts, tern.acts)
        self.assertEqual(tuple(self.session.shop.racked), tuple(before.racked))

    def test_reading_in_parts_tells_the_same_shop(self):
        self.hand_over("heron")
        self.hand_over("wren")
        self.session.bring_back("wren")
        self.session.undo()
        self.session.redo()
        self.session.log(SessionBegun(instruments=("tern",), lamp_mW_cm2=7))
        self.fill(LATE + 5)
        whole = fold(self.session.everything(), shipped())
        part = self.session.shop
        self.assertEqual(list(part.racked), list(whole.racked))
        self.assertEqual(part.racked, whole.racked)
        self.assertEqual((part.lamp_mW_cm2, part.session, part.name), (7, whole.session, whole.name))
        booked = {i: structs_of(b) for i, b in whole.book.items()}
        self.assertEqual({i: structs_of(b) for i, b in part.book.items()}, booked)

    def test_the_last_hand_over_can_be_taken_back_after_a_restart(self):
        self.hand_over("heron")
        self.again()
        self.assertIsInstance(last_to_undo(self.session.entries).body, HandedOver)
        self.session.undo()
        self.assertIn("heron", self.session.shop.racked)

    def test_an_old_reading_is_there_for_who_comes_back(self):
        self.session.log(AirLogged(temp_C=11), at=NOW - timedelta(days=1))
        self.hand_over("heron")
        self.fill(LATE)
        self.clock.time = NOW + timedelta(days=4000)
        self.session.close()
        journal = Journal.open(self.path)
        journal.append(HandedOver(), at=self.clock.time, logged_at=self.clock.time, instrument="tern")
        journal.append(HandedOver(), at=self.clock.time, logged_at=self.clock.time, instrument="wren")
        journal.close()
        self.session = self.open()
        self.session.bring_back("heron")
        air = self.session.shop.racked["heron"].project_at(NOW).air
        self.assertIn(11, [a.temp_C for a in air])

    def test_one_brought_back_is_the_same_read_in_parts_or_whole(self):
        for name in THREE:
            self.hand_over(name)
        self.fill()
        later = NOW + timedelta(days=3000)
        rows = [
            Row(body=AirLogged(temp_C=5 + i % 9), at=later - timedelta(days=i), logged_at=later)
            for i in range(0, 2900, 3)
        ]
        self.session.close()
        journal = Journal.open(self.path)
        journal.append_all(sorted(rows, key=lambda r: r.at))
        journal.close()
        self.clock.time = later
        self.session = self.open()
        self.session.bring_back("heron")
        self.session.log(AirLogged(temp_C=19))
        part = self.again().shop.racked["heron"]
        whole = fold(self.session.everything(), shipped()).racked["heron"]
        self.assertEqual(part.project_at(later), whole.project_at(later))
        self.assertLess(len(self.session.entries), len(self.session.everything()) - 500)
        away = [a for a in part.project_at(later).air if part.hours(NOW) + 600 < a.at_h < part.hours(later)]
        self.assertEqual(away, [])
        self.assertEqual(part.project_at(later).air_gaps, ())

    def test_what_cannot_be(self):
        with self.assertRaisesRegex(InputError, "in the Book"):
            self.session.log(BackOnRack(), instrument="heron")
        with self.assertRaisesRegex(InputError, "logged after that"):
            self.session.log(HandedOver(), instrument="heron", at=NOW - timedelta(days=60))
        self.session.log(SessionBegun(instruments=("heron",)))
        with self.assertRaisesRegex(InputError, "end that first"):
            self.hand_over("heron")
        self.hand_over("tern")
        again = structs.replace(next(e.body for e in self.session.entries if isinstance(e.body, InstrumentAdded)))
        with self.assertRaisesRegex(InputError, "in the Book"):
            self.session.log(structs.replace(again, id="tern"))
        with self.assertRaisesRegex(InputError, "characters"):
            self.session.log(HandedOver(note="x" * 2001), instrument="wren")


def structs_of(booked):
    return (booked.id, booked.name, booked.handed, booked.added, booked.person, booked.note, booked.material)


class OldFile(InFolder):
    """A file as the first version wrote it."""

    def setUp(self):
        super().setUp()
        self.path = self.folder / "old.ravden"
        ferrow_lane.build(self.path, NOW, THREE)
        as_version(self.path, 1)


class Upgrade(OldFile):
    def test_it_opens_after_a_whole_copy_and_tells_the_same(self):
        with sqlite3.connect(self.path) as db:
            told = db.execute("SELECT id, at, logged_at, instrument, body, corrects FROM entry ORDER BY id").fetchall()
        db.close()
        journal = Journal.open(self.path)
        self.addCleanup(journal.close)
        self.assertEqual(len(journal.entries()), len(told))
        copy = self.path.with_name("old.ravden.v1")
        with sqlite3.connect(copy) as db:
            columns = "id, at, logged_at, instrument, body, corrects"
            self.assertEqual(db.execute(f"SELECT {columns} FROM entry ORDER BY id").fetchall(), told)
            self.assertEqual(db.execute("PRAGMA user_version").fetchone()[0], 1)
        db.close()
        self.assertEqual([p.name for p in self.folder.glob("*.partial")], [])
        read = shelves(journal, NOW)
        self.assertEqual(fold(read.entries, shipped()), fold(journal.entries(), shipped()))

    def test_what_a_cut_off_upgrade_left_is_done_again(self):
        self.path.with_name("old.ravden.v1.partial").write_bytes(b"half a copy")
        Journal.open(self.path).close()
        again = Journal.open(self.path.with_name("old.ravden.v1"))
        self.addCleanup(again.close)
        self.assertEqual(again.names("PRAGMA user_version", ()), [VERSION])


KILLED = """
import os, signal, sqlite3, sys
from pathlib import Path
from ravden.journal import on_disk, store
connect = sqlite3.connect

def watched(*args, **more):
    db = connect(*args, **more)
    db.create_function("die", 0, lambda: os.kill(os.getpid(), signal.SIGKILL))
    return db

sqlite3.connect = watched
at = int(sys.argv[2])
steps = on_disk.MIGRATIONS[1]
on_disk.MIGRATIONS = (on_disk.MIGRATIONS[0], (*steps[:at], "SELECT die()", *steps[at:]), *on_disk.MIGRATIONS[2:])
store.Journal.open(Path(sys.argv[1]))
"""


class CutOff(OldFile):
    def test_killed_at_any_step_it_is_as_it_was_and_opens_again(self):
        before = self.path.read_bytes()
        for step in range(len(MIGRATIONS[1]) + 1):
            with self.subTest(step=step):
                self.path.write_bytes(before)
                done = subprocess.run([sys.executable, "-c", KILLED, str(self.path), str(step)], capture_output=True)
                self.assertEqual(done.returncode, -signal.SIGKILL)
                db = sqlite3.connect(self.path)
                self.assertEqual(db.execute("PRAGMA user_version").fetchone()[0], 1)
                db.close()
                journal = Journal.open(self.path)
                self.assertEqual(journal.names("PRAGMA user_version", ()), [VERSION])
                self.assertEqual(fold(journal.entries(), shipped()).racked.keys(), set(THREE))
                journal.close()
                for left in self.folder.glob("old.ravden-*"):
                    left.unlink()
