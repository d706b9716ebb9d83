"""The shop file: what is written stays, what is foreign or damaged is refused, undo keeps both."""

import os
import resource
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal.copies import backup_path
from ravden.journal.counting import effective, last_to_redo, last_to_undo
from ravden.journal.entry import as_dict, decode, encode
from ravden.journal.fold import check, fold
from ravden.journal.kinds.air import SENSOR, AirLogged, AirSeries
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.handed_over import HandedOver
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown
from ravden.journal.store import Journal
from ravden.text.say import fault, whole_fault
from tests.in_folder import InFolder

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


class JournalTest(InFolder):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "shop.ravden"

    def journal(self):
        journal = Journal.create(self.path)
        self.addCleanup(journal.close)
        return journal

    def write(self, journal, body, hours=0.0, instrument="", corrects=None):
        at = NOW + timedelta(hours=hours)
        return journal.append(body, at=at, logged_at=at, instrument=instrument, corrects=corrects)


class Keeping(JournalTest):
    def test_what_is_appended_is_read_back(self):
        journal = self.journal()
        bodies = [ShopNamed(name="Lane"), CoatLogged(dry_um=12, zones=("top",)), AirLogged(temp_C=19)]
        for body in bodies:
            self.write(journal, body, instrument="heron")
        journal.close()
        again = Journal.open(self.path)
        self.addCleanup(again.close)
        self.assertEqual([e.body for e in again.entries()], bodies)
        self.assertEqual([e.at for e in again.entries()], [NOW] * 3)
        self.assertEqual([e.id for e in again.entries()], [1, 2, 3])

    def test_entries_cannot_be_changed_or_removed(self):
        journal = self.journal()
        self.write(journal, CoatLogged(dry_um=12))
        journal.close()
        db = sqlite3.connect(self.path)
        self.addCleanup(db.close)
        for statement in ("DELETE FROM entry", "UPDATE entry SET instrument = 'other'"):
            with self.assertRaises(sqlite3.IntegrityError):
                db.execute(statement)

    def test_a_second_one_may_only_read(self):
        first = self.journal()
        self.write(first, CoatLogged(dry_um=12))
        second = Journal.open(self.path)
        self.addCleanup(second.close)
        self.assertTrue(second.read_only)
        self.assertIn("another Ravden", second.why_read_only)
        self.assertEqual(len(second.entries()), 1)
        with self.assertRaises(InputError):
            self.write(second, CoatLogged(dry_um=12))
        self.assertEqual(len(first.entries()), 1)

    def test_a_backup_is_made_at_opening(self):
        journal = self.journal()
        self.write(journal, CoatLogged(dry_um=12))
        journal.close()
        again = Journal.open(self.path)
        again.back_up()
        again.close()
        backup = backup_path(self.path)
        copy = Journal.open(shutil.copy(backup, self.folder / "copy.ravden") and self.folder / "copy.ravden")
        self.addCleanup(copy.close)
        self.assertEqual(len(copy.entries()), 1)

    def test_a_full_disk_is_told_and_changes_nothing(self):
        journal = self.journal()
        for _ in range(3):
            self.write(journal, CoatLogged(dry_um=12))
        # A disk that is full for this process alone: no file may grow any more.
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        usual = resource.getrlimit(resource.RLIMIT_FSIZE)
        resource.setrlimit(resource.RLIMIT_FSIZE, (4096, usual[1]))
        try:
            with self.assertRaises(InputError) as caught:
                for _ in range(2000):
                    self.write(journal, ShopNamed(name="x" * 3000))
        finally:
            resource.setrlimit(resource.RLIMIT_FSIZE, usual)
        self.assertIn("nothing was logged", fault(caught.exception))
        before = len(journal.entries())
        self.write(journal, CoatLogged(dry_um=12))
        self.assertEqual(len(journal.entries()), before + 1)

    def test_times_need_a_zone(self):
        journal = self.journal()
        naive = NOW.replace(tzinfo=None)
        with self.assertRaises(InputError):
            journal.append(CoatLogged(dry_um=1), at=naive, logged_at=naive)


class Refusing(JournalTest):
    def expect_refused(self, words):
        before = self.path.read_bytes() if self.path.is_file() else None
        with self.assertRaises(InputError) as caught:
            Journal.open(self.path)
        self.assertIn(words, whole_fault(caught.exception))
        self.assertIn("shop.ravden", whole_fault(caught.exception))
        if before is not None:
            self.assertEqual(self.path.read_bytes(), before)

    def test_missing_foreign_and_cut_off_files(self):
        self.expect_refused("is not there")
        self.path.write_text("a shopping list, longer than a hundred letters " * 5)
        self.expect_refused("not a Ravden shop file")
        self.path.write_bytes(b"SQLite format 3\0")
        self.expect_refused("not a Ravden shop file")

    def test_a_database_of_another_program(self):
        db = sqlite3.connect(self.path)
        db.execute("CREATE TABLE entry (id)")
        db.commit()
        db.close()
        self.expect_refused("some other program")

    def test_a_damaged_file(self):
        journal = self.journal()
        for i in range(300):
            self.write(journal, ShopNamed(name=f"name {i} " * 20))
        journal.close()
        whole = self.path.read_bytes()
        self.path.write_bytes(whole[: len(whole) // 2 // 4096 * 4096])
        self.expect_refused("damaged")
        spoilt = bytearray(whole)
        spoilt[8192:12288] = b"\x5a" * 4096
        self.path.write_bytes(bytes(spoilt))
        self.expect_refused("damaged")

    def test_a_newer_file(self):
        self.journal().close()
        db = sqlite3.connect(self.path)
        db.execute("PRAGMA user_version = 99")
        db.commit()
        db.close()
        self.expect_refused("newer Ravden")

    def test_an_entry_that_is_none(self):
        for text in ("nonsense", '{"kind": "coat"}', '{"kind": "coat", "dry_um": 1, "colour": "red"}'):
            self.assertRaises(InputError, decode, text)
        self.assertEqual(decode(encode(CoatLogged(dry_um=3))), CoatLogged(dry_um=3))

    def test_what_a_sensor_wrote_is_never_taken_back(self):
        journal = self.journal()
        coat = self.write(journal, CoatLogged(dry_um=12))
        self.write(journal, AirSeries(source="log", hours=(0.0,), temp_C=(20.0,), rh=(0.5,), name=SENSOR))
        self.assertEqual(last_to_undo(journal.entries()).id, coat.id)
        self.write(journal, Undone(), corrects=coat.id)
        self.write(journal, AirSeries(source="log", hours=(0.0,), temp_C=(21.0,), rh=(0.5,), name=SENSOR))
        self.assertIsNone(last_to_undo(journal.entries()))
        self.assertEqual(last_to_redo(journal.entries()).corrects, coat.id)

    def test_a_kind_of_a_later_version_is_kept_as_it_is_and_does_nothing(self):
        text = '{"kind":"lent","to":"the owner","rows":[1,2]}'
        found = decode(text)
        self.assertEqual((found, encode(found)), (Unknown(kind_name="lent", text=text), text))
        journal = self.journal()
        self.write(journal, CoatLogged(dry_um=12))
        self.write(journal, found)
        self.assertEqual(journal.entries()[-1].body, found)
        self.assertEqual(as_dict(journal.entries()[-1])["body"]["to"], "the owner")
        self.assertEqual(fold(journal.entries(), shipped()), fold(journal.entries()[:-1], shipped()))

    def test_creating_over_something_or_nowhere(self):
        self.path.write_text("mine")
        self.assertRaises(InputError, Journal.create, self.path)
        self.assertEqual(self.path.read_text(), "mine")
        self.assertRaises(InputError, Journal.create, self.folder / "no" / "shop.ravden")

    def test_a_folder_that_cannot_be_written(self):
        journal = self.journal()
        self.write(journal, CoatLogged(dry_um=12))
        journal.close()
        with mock.patch("ravden.journal.on_disk.os.access", lambda path, mode: mode != os.W_OK):
            self.assertRaises(InputError, Journal.create, self.folder / "other.ravden")
            read = Journal.open(self.path)
        self.addCleanup(read.close)
        self.assertTrue(read.read_only)
        self.assertEqual(len(read.entries()), 1)


class UndoRedo(JournalTest):
    def values(self, journal):
        return [e.body.dry_um for e in effective(journal.entries())]

    def undo(self, journal):
        return self.write(journal, Undone(), corrects=last_to_undo(journal.entries()).id)

    def redo(self, journal):
        return self.write(journal, Undone(), corrects=last_to_redo(journal.entries()).id)

    def test_back_and_forth(self):
        journal = self.journal()
        for um in (1, 2, 3):
            self.write(journal, CoatLogged(dry_um=um))
        self.undo(journal)
        self.undo(journal)
        self.assertEqual(self.values(journal), [1])
        self.redo(journal)
        self.assertEqual(self.values(journal), [1, 2])
        self.redo(journal)
        self.assertEqual(self.values(journal), [1, 2, 3])
        self.assertIsNone(last_to_redo(journal.entries()))
        self.undo(journal)
        self.assertEqual(self.values(journal), [1, 2])
        self.redo(journal)
        self.assertEqual(self.values(journal), [1, 2, 3])
        self.assertEqual(len(journal.entries()), 9)

    def test_a_new_act_ends_the_way_forward(self):
        journal = self.journal()
        self.write(journal, CoatLogged(dry_um=1))
        self.undo(journal)
        self.write(journal, CoatLogged(dry_um=2))
        self.assertIsNone(last_to_redo(journal.entries()))
        self.assertEqual(self.values(journal), [2])

    def test_nothing_to_undo(self):
        self.assertIsNone(last_to_undo(self.journal().entries()))


class Checks(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(tempfile.mkdtemp())
        path = cls.folder / "demo.ravden"
        ferrow_lane.build(path, NOW)
        journal = Journal.open(path)
        cls.shop = fold(journal.entries(), shipped())
        journal.close()
        shutil.rmtree(cls.folder)

    def expect_refused(self, field, body, instrument="heron", at=NOW):
        with self.assertRaises(InputError) as caught:
            check(self.shop, body, instrument, at, NOW)
        self.assertEqual(caught.exception.path, field)

    def test_bad_acts_are_refused_by_field(self):
        coat = CoatLogged(dry_um=12)
        self.expect_refused("at", coat, at=NOW + timedelta(hours=1))
        self.expect_refused("at", coat, at=NOW - timedelta(days=300))
        self.expect_refused("instrument", coat, instrument="nobody")
        self.expect_refused("dry_um", CoatLogged(dry_um=-4))
        self.expect_refused("dry_um", CoatLogged(dry_um=float("nan")))
        self.expect_refused("dry_um", CoatLogged(dry_um=1e7))
        self.expect_refused("zone", CoatLogged(dry_um=12, zones=("lid",)))
        self.expect_refused("um", SandingLogged(um=900))
        self.expect_refused("purpose", SandingLogged(um=2, purpose="fun"))
        self.expect_refused("zone", ReadingLogged(zone="lid", um=80))
        self.expect_refused("n", ReadingLogged(zone="top", um=80, n=0))
        self.expect_refused("temp_C", AirLogged(temp_C=140), instrument="")
        self.expect_refused("rh", AirLogged(temp_C=20, rh=1.4), instrument="")

    def test_good_acts_pass(self):
        for body in (CoatLogged(dry_um=12), SandingLogged(um=2), ReadingLogged(zone="top", um=80)):
            check(self.shop, body, "heron", NOW, NOW)

    def test_the_demo_is_alive_on_any_day(self):
        for start in (NOW, datetime(2027, 1, 1, 0, 30, tzinfo=UTC), datetime(2028, 2, 29, 23, 59, tzinfo=UTC)):
            written = ferrow_lane.entries(start)
            self.assertTrue(all(at <= start for at, _, _ in written))
            gone = {i for _, i, body in written if isinstance(body, HandedOver)}
            self.assertEqual((len({i for _, i, _ in written if i} - gone), len(gone)), (8, 3))


KILLED = """
import sys
from datetime import datetime, UTC
from pathlib import Path
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.store import Journal
journal = Journal.open(Path(sys.argv[1]))
now = datetime(2026, 5, 4, 15, tzinfo=UTC)
while True:
    print(journal.append(CoatLogged(dry_um=12), at=now, logged_at=now, instrument="heron").id, flush=True)
"""


class Killed(JournalTest):
    def test_nothing_acknowledged_is_lost_when_the_process_is_killed(self):
        self.journal().close()
        acknowledged = 0
        for round_number in range(8):
            child = subprocess.Popen(
                [sys.executable, "-c", KILLED, str(self.path)], stdout=subprocess.PIPE, text=True, env=os.environ
            )
            # Kill in mid-write, after a number of acknowledgements that differs from round to round.
            for _ in range(1 + 7 * round_number):
                acknowledged = max(acknowledged, int(child.stdout.readline()))
            child.send_signal(signal.SIGKILL)
            rest = child.stdout.read().split("\n")
            child.wait()
            child.stdout.close()
            acknowledged = max([acknowledged, *(int(x) for x in rest[:-1] if x)])
            journal = Journal.open(self.path)
            ids = [e.id for e in journal.entries()]
            self.assertFalse(journal.read_only)
            journal.close()
            self.assertGreaterEqual(ids[-1], acknowledged)
            self.assertLessEqual(ids[-1], acknowledged + 1)
            self.assertEqual(ids, list(range(1, ids[-1] + 1)))
            acknowledged = ids[-1]
