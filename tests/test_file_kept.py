"""The shop file under hard use: two names, two makers, a kill in the making, cut off while open, damaged, copied."""

import datetime as dt
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.exchange.journal_csv import journal_csv
from ravden.journal import copies
from ravden.journal.copies import DamagedError, backup_path
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.store import Journal
from ravden.text.say import whole_fault
from tests.in_folder import InFolder

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
MAKING = """
import sys
from pathlib import Path
from ravden.journal.store import Journal
print("ready", flush=True)
for i in range(100_000):
    Journal.create(Path(sys.argv[1]) / f"shop-{i}.ravden").close()
    print(i, flush=True)
"""


class FileTest(InFolder):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "shop.ravden"

    def journal(self, path=None):
        path = path or self.path
        journal = Journal.open(path) if path.exists() else Journal.create(path)
        self.addCleanup(journal.close)
        return journal

    def write(self, journal, body=None, at=NOW):
        return journal.append(body or CoatLogged(dry_um=12), at=at, logged_at=at, instrument="heron")

    def session(self, path=None):
        found = ShopSession(shipped(), HandClock(NOW))
        self.addCleanup(found.close)
        found.open(path or self.path)
        return found

    def refused(self, slot, *words):
        with self.assertRaises(InputError) as caught:
            slot()
        for some in words:
            self.assertIn(some, whole_fault(caught.exception))
        return caught.exception


class OneWriter(FileTest):
    def test_by_another_name_it_is_the_same_file(self):
        self.write(self.journal())
        other = self.folder / "other.ravden"
        other.symlink_to(self.path)
        hard = self.folder / "hard.ravden"
        os.link(self.path, hard)
        self.assertIn("another Ravden", self.journal(other).why_read_only)
        self.refused(lambda: Journal.open(hard), "another Ravden")

    def test_no_file_beside_it_decides(self):
        (self.folder / ".shop.ravden.lock").mkdir()
        first = self.journal()
        self.write(first)
        shutil.rmtree(self.folder / ".shop.ravden.lock")
        self.assertTrue(self.journal().read_only)

    def test_opened_again_it_goes_on_being_written(self):
        ferrow_lane.build(self.path, NOW, ("heron",))
        session = self.session()
        link = self.folder / "link.ravden"
        link.symlink_to(self.path)
        for path in (self.path, link):
            session.open(path)
            self.assertFalse(session.journal.read_only)
            session.log(CoatLogged(dry_um=9), instrument="heron")

    def test_two_makers_of_one_name_leave_one_file(self):
        for n in range(6):
            path, made, refused = self.folder / f"{n}.ravden", [], []
            gate = threading.Barrier(4)

            def make(path=path, made=made, refused=refused, gate=gate):
                gate.wait()
                try:
                    Journal.create(path).close()
                    made.append(path)
                except InputError as error:
                    refused.append(whole_fault(error))

            threads = [threading.Thread(target=make) for _ in range(4)]
            [t.start() for t in threads]
            [t.join() for t in threads]
            self.assertEqual(len(made) + len(refused), 4)
            self.assertTrue(path.exists())
            self.assertTrue(all("is there already" in r for r in refused), refused)
            self.assertEqual(len(made), 1)

    def test_killed_while_making_a_name_opens_or_can_be_made(self):
        child = subprocess.Popen([sys.executable, "-c", MAKING, str(self.folder)], stdout=subprocess.PIPE, text=True)
        made = [child.stdout.readline() for _ in range(12)]
        child.send_signal(signal.SIGKILL)
        child.wait()
        child.stdout.close()
        self.assertEqual(made[0], "ready\n")
        for n in range(40):
            path = self.folder / f"shop-{n}.ravden"
            (Journal.open if path.exists() else Journal.create)(path).close()
        self.assertEqual([p for p in self.folder.iterdir() if p.suffix == ".making"], [])


class Writing(FileTest):
    def test_what_cannot_be_written_down_leaves_the_way_free(self):
        journal = self.journal()
        bad = "shop-\udcff"
        self.refused(lambda: self.write(journal, ShopNamed(name=bad)), "UTF-8")
        east = dt.timezone(timedelta(hours=14))
        self.refused(lambda: self.write(journal, at=datetime(1, 1, 1, tzinfo=east)), "out of this world")
        self.refused(lambda: journal.person(bad))
        self.assertEqual(self.write(journal).id, 1)

    def test_a_shop_is_named_after_any_file(self):
        path = self.folder / "fl\udcffte.ravden"
        session = ShopSession(shipped(), HandClock(NOW))
        self.addCleanup(session.close)
        session.open(path, create=True)
        session.log(ShopNamed(name=path.stem.encode(errors="replace").decode()))
        self.assertEqual(session.shop.name, "fl?te")

    def test_cut_off_or_written_over_while_open_nothing_is_said_to_be_logged(self):
        for spoil in (lambda p: os.truncate(p, 4096), lambda p: os.truncate(p, 0), lambda p: _stamp(p, b"x" * 100)):
            path = self.folder / f"{id(spoil)}.ravden"
            journal = self.journal(path)
            for _ in range(60):
                self.write(journal, ShopNamed(name="x" * 500))
            spoil(path)
            found = self.refused(lambda journal=journal: self.write(journal), "cut off")
            self.assertEqual(found.path, path.name)

    def test_whatever_goes_wrong_the_next_entry_is_written(self):
        journal = self.journal()

        class Stop(BaseException):
            pass

        with mock.patch("ravden.journal.store.Entry", side_effect=Stop), self.assertRaises(Stop):
            self.write(journal)
        self.assertEqual(self.write(journal).id, 1)


def _stamp(path, raw):
    with path.open("r+b") as f:
        f.write(raw)


class Copies(FileTest):
    def filled(self, many):
        journal = self.journal()
        for _ in range(many):
            self.write(journal)
        journal.back_up()
        journal.close()

    def held(self, generation=0):
        path = backup_path(self.path, generation)
        if not path.exists():
            return None
        db = sqlite3.connect(path)
        count = db.execute("SELECT count(*) FROM entry").fetchone()[0]
        db.close()
        return count

    def a_day_later(self):
        for i in range(3):
            if (path := backup_path(self.path, i)).exists():
                past = path.stat().st_mtime - 86_400
                os.utime(path, (past, past))

    def test_three_generations_and_none_gives_way_to_fewer_entries(self):
        for day in range(1, 5):
            self.filled(2)
            self.assertEqual(self.held(), 2 * day)
            self.filled(0)
            self.a_day_later()
        self.assertEqual([self.held(i) for i in range(3)], [8, 6, 4])
        whole = self.path.read_bytes()
        self.path.unlink()
        self.filled(1)  # another shop by the same name: its copies take the place of nobody's
        self.assertEqual(self.held(), 1)
        (kept,) = self.folder.glob(f"{self.path.stem}-other-*{self.path.suffix}")
        db = sqlite3.connect(kept)
        self.assertEqual(db.execute("SELECT count(*) FROM entry").fetchone()[0], 8)
        db.close()
        self.assertTrue(all(backup_path(kept, i).exists() for i in (1, 2)))
        self.path.write_bytes(whole)

    def test_damage_is_told_with_the_newest_copy_that_can_be_read(self):
        self.filled(300)
        self.a_day_later()
        self.filled(5)
        backup_path(self.path).write_bytes(b"SQLite format 3\0" + bytes(5000))
        self.path.write_bytes(self.path.read_bytes()[: 3 * 4096])
        found = self.refused(lambda: Journal.open(self.path), "is damaged", "there is a copy of")
        self.assertIsInstance(found, DamagedError)
        self.assertEqual(found.copy, backup_path(self.path, 1))
        again = copies.bring_back(found.copy, self.path)
        self.assertEqual(len(self.journal(again).entries()), 300)
        self.assertNotEqual(copies.bring_back(found.copy, self.path), again)

    def test_a_file_that_opens_but_cannot_be_folded_spoils_no_copy(self):
        ferrow_lane.build(self.path, NOW, ("heron",))
        self.session().close()
        good = backup_path(self.path).read_bytes()
        with (
            mock.patch("ravden.app.session.Fold", side_effect=InputError("x", "cannot be")),
            self.assertRaises(InputError),
        ):
            self.session()
        self.assertEqual(backup_path(self.path).read_bytes(), good)


class SetAside(FileTest):
    def spoilt(self, *rows):
        """A shop with entries no Ravden would have written."""
        ferrow_lane.build(self.path, NOW, ("heron",))
        db = sqlite3.connect(self.path)
        for at, instrument, body, corrects in rows:
            db.execute(
                "INSERT INTO entry (at, logged_at, instrument, body, corrects) VALUES (?, ?, ?, ?, ?)",
                (at, "2026-05-04T15:00:00.000+00:00", instrument, body, corrects),
            )
        db.commit()
        newest = db.execute("SELECT max(id) FROM entry").fetchone()[0]
        db.close()
        return newest

    def test_entries_out_of_this_world_are_set_aside_and_the_rest_goes_on(self):
        then = "2026-05-04T14:00:00.000+00:00"
        rows = (
            ("0001-01-01T00:00:00.000+00:00", "", '{"kind":"air","temp_C":20}', None),
            ("then", "heron", '{"kind":"coat","dry_um":12}', None),
            (then, "heron", '{"kind":"coat","dry_um":-4}', None),
            (then, "heron", '{"kind":"coat","dry_um":12,"zones":7}', None),
            (then, "heron", '{"kind":"reading","what":"smell","zone":"top","um":9}', None),
            (then, "", '{"kind":"air-series","source":"log","hours":[1e300],"temp_C":[20],"rh":[0.5]}', None),
            (then, "", '{"kind":"air","temp_C":1e999}', None),
            (then, "heron", '{"kind":"coat"}', None),
        )
        newest = self.spoilt(*rows)
        session = self.session()
        self.assertEqual(sorted(session.aside), list(range(newest - len(rows) + 1, newest + 1)))
        self.assertTrue(all(session.aside.values()))
        self.assertEqual(len(session.shop.racked["heron"].project.coats), 7)
        session.log(CoatLogged(dry_um=9), instrument="heron")
        session.log(AirLogged(temp_C=21.0))
        session.request("heron").run()
        table = journal_csv(session.everything(), aside=session.aside)
        self.assertEqual(table.count("set aside"), len(rows))

    def test_one_that_corrects_itself_or_speaks_of_no_zone_does_no_harm(self):
        then = "2026-05-04T14:00:00.000+00:00"
        newest = self.spoilt((then, "heron", '{"kind":"coat","dry_um":12}', None))
        db = sqlite3.connect(self.path)
        body = '{"kind":"coat","dry_um":12}'
        db.execute(
            "INSERT INTO entry (id, at, logged_at, instrument, body, corrects) VALUES (?, ?, ?, 'heron', ?, ?)",
            (newest + 1, then, then, body, newest + 1),
        )
        lid = '{"kind":"reading","zone":"lid","um":90}'
        db.execute("INSERT INTO entry (at, logged_at, instrument, body) VALUES (?, ?, 'heron', ?)", (then, then, lid))
        db.commit()
        db.close()
        session = self.session()
        self.assertEqual(len(session.shop.racked["heron"].project.coats), 8)
        session.request("heron").run()
        session.undo()


class Exported(FileTest):
    def test_an_export_has_what_was_just_logged(self):
        ferrow_lane.build(self.path, NOW, ("heron",))
        session = self.session()
        entry = session.log(CoatLogged(dry_um=9.125), instrument="heron")
        line = [sys.executable, "-m", "ravden.cli", "export", str(self.path), "--as", "csv"]
        told = subprocess.run(line, capture_output=True, text=True, check=False)
        self.assertIn(f"{entry.id},", told.stdout.splitlines()[-1], told.stderr)

    def test_names_are_no_formulas_in_a_spreadsheet(self):
        journal = self.journal()
        for name in ("=1+1", "+x", "-x", "@x", "x"):
            journal.append(CoatLogged(dry_um=1), at=NOW, logged_at=NOW, instrument=name)
        column = [row.split(",")[3] for row in journal_csv(journal.entries()).splitlines()[1:]]
        self.assertEqual(column, ["'=1+1", "'+x", "'-x", "'@x", "x"])


class Sessions(FileTest):
    def test_a_clock_set_back_keeps_nothing_from_being_logged_or_corrected(self):
        ferrow_lane.build(self.path, NOW, ("heron",))
        session = self.session()
        entry = session.log(CoatLogged(dry_um=9), instrument="heron")
        session.clock.time = NOW - timedelta(hours=2)
        fixed = session.correct(entry.id, CoatLogged(dry_um=10))
        self.assertEqual(fixed.at, NOW)
        session.log_usual_coat()


if __name__ == "__main__":
    import unittest

    unittest.main(argv=[str(Path(__file__))])
