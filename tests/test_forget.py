"""A person forgotten: no byte of the name in the file, its log or its copies, and nothing else lost."""

import shutil
from datetime import UTC, datetime, timedelta

from ravden.app.clock import HandClock
from ravden.app.forgetting import forget_person
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal.copies import GENERATIONS, backup_path
from ravden.journal.store import Journal
from tests.in_folder import InFolder

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
NAME, OTHER = "Ottilie Ränkemeier-Quist", "B. Another"


class Forgotten(InFolder):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, ("heron", "tern", "wren"))
        self.clock = HandClock(NOW)
        self.session = self.open()
        for who, name, note in (("tern", NAME, ""), ("wren", NAME, ""), ("heron", OTHER, "")):
            self.session.select(who, "test")
            self.session.hand_over(NOW, name, note)

    def open(self):
        session = ShopSession(shipped(), self.clock)
        session.open(self.path)
        self.addCleanup(session.close)
        return session

    def copied(self):
        """Copies of several days, as opening makes them."""
        for _ in range(GENERATIONS):
            self.session.close()
            self.clock.turn(days=2)
            self.session = self.open()
        return [p for i in range(GENERATIONS) if (p := backup_path(self.path, i)).exists()]

    def holding(self):
        raw = (NAME.encode(), NAME.split()[1].encode())
        return sorted(p.name for p in self.folder.iterdir() if any(r in p.read_bytes() for r in raw))

    def test_no_byte_of_the_name_stays_and_everything_else_does(self):
        copies = self.copied()
        older = self.path.with_name(f"{self.path.name}.v1")
        shutil.copyfile(copies[0], older)
        self.assertIn(self.path.name, {n.removesuffix("-wal") for n in self.holding()})
        self.assertIn(copies[0].name, self.holding())
        entries = [(e.id, e.at, e.body) for e in self.session.everything()]
        made = [c.stat().st_mtime_ns for c in copies]
        number = self.session.shop.book["tern"].person
        told = forget_person(self.session, number)
        self.assertIn("forgotten, in this file and its copies", told)
        self.assertEqual(self.holding(), [])
        self.assertEqual([c.stat().st_mtime_ns for c in copies], made)
        self.assertEqual([(e.id, e.at, e.body) for e in self.session.everything()], entries)
        self.assertEqual(set(self.session.people.values()), {OTHER})
        # It goes on being a shop file: logged to, closed, opened, and its copies too.
        self.session.bring_back("wren")
        self.session.close()
        self.session = self.open()
        self.assertEqual(list(self.session.shop.racked), ["wren"])
        self.assertEqual(self.session.people, {self.session.shop.book["heron"].person: OTHER})
        for copy in (*copies, older):
            with_copy = Journal.open(copy)
            self.assertNotIn(NAME, with_copy.people().values())
            with_copy.close()

    def test_the_number_is_never_anybody_elses(self):
        number = self.session.shop.book["tern"].person
        forget_person(self.session, number)
        self.session.bring_back("heron")
        self.session.hand_over(NOW + timedelta(seconds=1), "C. Third")
        self.assertGreater(self.session.shop.book["heron"].person, number)
        self.assertNotIn(self.session.shop.book["tern"].person, self.session.people)

    def test_where_the_name_may_still_be_is_told(self):
        shutil.copyfile(self.path, self.path.with_name("lane-before-2026-05-01.ravden"))
        self.session.bring_back("wren")
        self.session.hand_over(NOW + timedelta(seconds=1), NAME, f"collected by {NAME}")
        self.session.journal.rows("PRAGMA wal_checkpoint(TRUNCATE)", ())
        shutil.copyfile(self.path, self.path.with_name("lane-before-2026-05-02.ravden"))
        told = forget_person(self.session, self.session.shop.book["tern"].person)
        self.assertIn("1 note in the journal still says the name", told)
        self.assertIn("lane-before-2026-05-02.ravden", told)

    def test_nobody_and_a_file_that_cannot_be_written_change_nothing(self):
        with self.assertRaises(InputError):
            forget_person(self.session, 99)
        reader = self.open()  # beside the one that writes
        self.assertTrue(reader.journal.read_only)
        with self.assertRaises(InputError) as caught:
            forget_person(reader, reader.shop.book["tern"].person)
        self.assertIn("reading only", str(caught.exception))
        self.assertIn(NAME, reader.people.values())

    def test_what_cannot_be_reached_is_said_and_keeps_nothing_else_from_being_forgotten(self):
        self.copied()
        spoilt, blank = backup_path(self.path), backup_path(self.path, 1)
        spoilt.write_bytes(b"spoiled" * 40 + NAME.encode() + b"spoiled" * 400)
        blank.write_bytes(b"SQLite format 3\0" + b"spoiled" * 400)
        told = forget_person(self.session, self.session.shop.book["tern"].person)
        self.assertIn(f"{spoilt.name} could not be reached (it is damaged) and holds the name still", told)
        self.assertNotIn(blank.name, told)
        self.assertEqual(self.holding(), [spoilt.name])
        self.assertNotIn(NAME, self.session.people.values())

    def test_whatever_lies_beside_it_under_whatever_name(self):
        self.session.close()
        odd = self.folder / "lane [1]?.ravden"
        self.path.replace(odd)
        for end in ("-wal", "-shm"):
            self.path.with_name(f"{self.path.name}{end}").unlink(missing_ok=True)
        self.path = odd
        self.copied()
        beside = (
            f"{odd.name}.v1", f"{odd.name}.backup.unsure", f"{odd.stem}-before-2026-05-01.ravden",
            f"{odd.stem}-before-2026-05-01.ravden.backup.1", f"{odd.stem}-copy-2026-05-01-2.ravden",
            f"{odd.name}.backup.partial", f".{odd.name}.going-back", f"{odd.name}.v2.partial",
        )  # fmt: skip
        for name in beside:
            shutil.copyfile(backup_path(odd), self.folder / name)
        other = self.folder / f"{odd.stem}-two.ravden"  # of another shop, whose name begins alike
        shutil.copyfile(backup_path(odd), other)
        told = forget_person(self.session, self.session.shop.book["tern"].person)
        self.assertNotIn("beside it", told)
        self.assertEqual(self.holding(), [other.name])
        left = {p.name for p in self.folder.iterdir()}
        self.assertTrue({*beside[:5]} <= left)
        self.assertFalse({*beside[5:]} & left)

    def test_a_name_with_quotation_marks_is_found_in_notes_too(self):
        name = 'Ottilie "Otti" Quist\\'
        self.session.bring_back("wren")
        self.session.hand_over(NOW + timedelta(seconds=1), name, f"collected by {name}")
        self.session.journal.rows("PRAGMA wal_checkpoint(TRUNCATE)", ())
        shutil.copyfile(self.path, self.path.with_name("lane-before-2026-05-02.ravden"))
        told = forget_person(self.session, self.session.shop.book["wren"].person)
        self.assertIn("1 note in the journal still says the name", told)
        self.assertIn("lane-before-2026-05-02.ravden", told)

    def test_a_name_is_words_like_any_other(self):
        self.session.bring_back("wren")
        for name in ("x" * 500, "a\nb", "a\x1b[2Jb"):
            with self.assertRaises(InputError) as caught:
                self.session.hand_over(NOW + timedelta(seconds=1), name)
            self.assertEqual(caught.exception.path, "to")
        self.assertEqual(len(self.session.people), 2)
