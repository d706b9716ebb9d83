"""A shop file that a disk has changed, or a stranger: noticed, told with the way on, and no good copy lost."""

import os
import random
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from benchmarks.damaged import one, opened, record

from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal import copies
from ravden.journal.copies import DamagedError, StrangeError, backup_path, unsure_path
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.schema import VERSION
from ravden.journal.store import Journal
from ravden.text.say import whole_fault
from tests.in_folder import InFolder
from tests.old_files import as_version

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
SWALLOWS = "CREATE TRIGGER eats BEFORE INSERT ON entry BEGIN SELECT RAISE(IGNORE); END"
ENDLESS = "CREATE VIEW ever AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i FROM n) SELECT count(*) FROM n"


class DamageTest(InFolder):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "lane.ravden"
        ferrow_lane.build(self.path, NOW, ("heron", "wren"))

    def session(self, path=None):
        found = opened(path or self.path, NOW)
        self.assertIsNotNone(found)
        self.addCleanup(found.close)
        return found

    def by_hand(self, *statements):
        with closing(sqlite3.connect(self.path, isolation_level=None)) as db:
            for statement in statements:
                db.execute(statement)

    def changed(self, number, **to):
        """An entry as a disk would have changed it."""
        db = sqlite3.connect(self.path, isolation_level=None)
        with closing(db):
            (trigger,) = db.execute("SELECT sql FROM sqlite_schema WHERE name = 'entry_fixed'").fetchone()
            db.execute("DROP TRIGGER entry_fixed")
            for name, value in to.items():
                db.execute(f"UPDATE entry SET {name} = ? WHERE id = ?", (value, number))
            db.execute(trigger)

    def days_go_by(self):
        for i in range(copies.GENERATIONS):
            if (copy := backup_path(self.path, i)).exists():
                past = copy.stat().st_mtime - 86_400
                os.utime(copy, (past, past))

    def refused(self, kind=DamagedError):
        with self.assertRaises(kind) as caught:
            Journal.open(self.path)
        return caught.exception


class Flipped(DamageTest):
    def test_files_damaged_at_random_are_noticed_and_their_copy_is_kept(self):
        session = self.session()
        whole, raw = record(session), None
        session.close()
        raw = self.path.read_bytes()
        (folder := self.folder / "shop").mkdir()
        tally = [one(folder, raw, whole, random.Random(f"some {i}"))[1] for i in range(36)]
        self.assertEqual([t for t in tally if t not in ("refused", "told", "as it was")], [])
        self.assertEqual(set(tally), {"refused", "told", "as it was"})

    def test_a_number_that_a_disk_changed_is_set_aside_and_told(self):
        session = self.session()
        coat = next(e for e in session.entries if isinstance(e.body, CoatLogged))
        session.close()
        before = len(session.shop.racked[coat.instrument].acts)
        self.changed(coat.id, body='{"kind":"coat","dry_um":22}')
        session = self.session()
        self.assertIn(coat.id, session.aside)
        self.assertIn("changed on the disk", session.aside[coat.id])
        self.assertEqual(session.journal.unsound.entries, (coat.id,))
        self.assertLess(len(session.shop.racked[coat.instrument].acts), before)
        session.log(CoatLogged(dry_um=9), instrument="heron")  # the rest goes on

    def test_three_days_of_opening_it_leave_the_good_copy_and_keep_what_was_logged_since(self):
        session = self.session()
        coat = next(e for e in session.entries if isinstance(e.body, CoatLogged))
        session.close()
        good = backup_path(self.path).read_bytes()
        self.changed(coat.id, at="2026-04-01T08:00:00.000+00:00")
        for _ in range(3):
            self.days_go_by()
            session = self.session()
            session.log(CoatLogged(dry_um=9), instrument="heron")
            session.close()
        self.assertEqual(backup_path(self.path).read_bytes(), good)
        self.assertFalse(backup_path(self.path, 1).exists())
        with closing(sqlite3.connect(unsure_path(self.path))) as db:
            self.assertEqual(db.execute("SELECT max(id) FROM entry").fetchone()[0], session.entries[-1].id - 1)
        self.assertEqual(copies.newest(self.path), backup_path(self.path))

    def test_an_entry_that_is_set_aside_and_was_not_in_the_copy_keeps_the_copy(self):
        """A file of before there were sums: what its disk changed is as it stands."""
        session = self.session()
        coat = next(e for e in session.entries if isinstance(e.body, CoatLogged))
        session.close()
        good = backup_path(self.path).read_bytes()
        self.changed(coat.id, body='{"kind":"coat","dry_um":-4}', sum=None)
        self.days_go_by()
        session = self.session()
        self.assertFalse(session.journal.unsound)
        self.assertIn(coat.id, session.aside)
        self.assertEqual(backup_path(self.path).read_bytes(), good)

    def test_entries_that_are_missing_are_counted(self):
        session = self.session()
        last = session.entries[-1].id
        session.close()
        trigger = "SELECT sql FROM sqlite_schema WHERE name = 'entry_kept'"
        with closing(sqlite3.connect(self.path, isolation_level=None)) as db:
            (sql,) = db.execute(trigger).fetchone()
            db.execute("DROP TRIGGER entry_kept")
            db.execute("DELETE FROM entry WHERE id = ?", (last - 3,))
            db.execute(sql)
        session = self.session()
        self.assertEqual(session.journal.unsound.missing, 1)
        self.assertIn("1 entry is missing", session.journal.unsound.said)

    def test_what_an_instrument_taught_is_worked_out_again_and_a_name_is_nobody_s(self):
        session = self.session()
        session.select("wren", "test")
        session.hand_over(NOW, "Somebody Here")
        booked, told = session.shop.book["wren"], session.kept.taught()[2]
        session.close()
        self.by_hand("UPDATE lesson SET body = replace(body, '1', '2')", "UPDATE person SET name = 'Somebody Else'")
        session = self.session()
        self.assertEqual(session.people, {})
        self.assertEqual(session.journal.unsound.people, 1)
        self.assertEqual(session.kept.taught()[2], told)
        self.assertEqual(session.shop.book["wren"].handed, booked.handed)

    def test_emptied_or_its_first_page_gone_the_copy_is_offered(self):
        self.session().close()
        raw = self.path.read_bytes()
        for bad in (b"", bytes(4096) + raw[4096:], raw[:60]):
            self.path.write_bytes(bad)
            self.assertEqual(self.refused().copy, backup_path(self.path))
        other = self.folder / "other.ravden"
        other.write_bytes(b"")
        with self.assertRaises(InputError) as caught:
            Journal.open(other)
        self.assertIn("is not a Ravden shop file", whole_fault(caught.exception))

    def test_a_file_of_before_there_were_sums_gets_them(self):
        before = [(e.id, e.at, e.body) for e in self.session().everything()]
        for version in range(1, VERSION):
            path = self.folder / f"v{version}.ravden"
            path.write_bytes(self.path.read_bytes())
            as_version(path, version)
            session = self.session(path)
            self.assertEqual([(e.id, e.at, e.body) for e in session.everything()], before)
            self.assertEqual(session.journal.rows("SELECT count(*) FROM entry WHERE sum IS NULL", ()), [(0,)])
            self.assertFalse(session.journal.unsound)


class Strangers(DamageTest):
    def test_what_swallows_coats_is_not_opened_and_its_entries_can_be_taken_out(self):
        before = [(e.id, e.body) for e in self.session().everything()]
        self.by_hand(SWALLOWS)
        fault = self.refused(StrangeError)
        self.assertIn("a trigger called eats that no Ravden made", whole_fault(fault))
        again = copies.take_out(self.path)
        session = self.session(again)
        self.assertEqual([(e.id, e.body) for e in session.everything()], before)
        session.log(CoatLogged(dry_um=9), instrument="heron")
        self.assertNotEqual(copies.take_out(self.path), again)

    def test_what_was_not_written_is_never_acknowledged(self):
        session = self.session()
        many = len(session.entries)
        self.by_hand(SWALLOWS)  # by another program, while it is open
        with self.assertRaises(InputError) as caught:
            session.log(CoatLogged(dry_um=9), instrument="heron")
        self.assertIn("nothing was logged", whole_fault(caught.exception))
        self.assertEqual(len(session.entries), many)
        self.by_hand("DROP TRIGGER eats")
        session.log(CoatLogged(dry_um=9), instrument="heron")

    def test_a_view_without_end_is_never_looked_at(self):
        self.by_hand(ENDLESS)
        self.assertIn("a view called ever", whole_fault(self.refused(StrangeError)))
        self.by_hand("DROP VIEW ever", "CREATE TABLE more (x TEXT)")
        self.assertIn("a table called more", whole_fault(self.refused(StrangeError)))

    def test_an_index_or_a_trigger_that_is_gone_is_made_again(self):
        self.by_hand("DROP INDEX entry_kind", "DROP TRIGGER entry_kept")
        session = self.session()
        names = session.journal.names("SELECT name FROM sqlite_schema", ())
        self.assertIn("entry_kind", names)
        self.assertIn("entry_kept", names)

    def test_one_that_is_otherwise_is_not(self):
        self.by_hand("DROP TRIGGER entry_kept", "CREATE TRIGGER entry_kept AFTER INSERT ON entry BEGIN SELECT 1; END")
        self.assertIn("entry_kept that is not as Ravden makes it", whole_fault(self.refused(StrangeError)))
        self.by_hand("DROP TABLE lesson")
        self.refused(StrangeError)


if __name__ == "__main__":
    import unittest

    unittest.main(argv=[str(Path(__file__))])
