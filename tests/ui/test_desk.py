"""At the desk: what is opened by double-click, the large button, bare wood, and what the foot never covers."""

import shutil
import sqlite3
from contextlib import closing
from unittest import mock

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtWidgets import QApplication, QLabel

from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal import copies, on_disk
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.store import Journal
from ravden.ui.app import make_window
from ravden.ui.shell.looks import size_of_type
from ravden.ui.theme import style
from tests.in_folder import InFolder
from tests.ui.support import NOW, WindowTest, settle


class DoubleClick(WindowTest):
    demo = False

    def opened(self, path):
        window = make_window(self.app, clock=self.clock, settings_file=self.settings_file, path=path)
        self.addCleanup(self._delete, window)
        window.show()
        window.begin()
        settle(window)
        return window

    def test_a_file_of_another_program_says_so_and_the_choices_are_there(self):
        path = self.folder / "other.ravden"
        with closing(sqlite3.connect(path)) as db:
            db.execute("CREATE TABLE t (x)")
        before = path.read_bytes()
        window = self.opened(path)
        self.assertIn("of some other program", window.notice.text.text())
        self.assertTrue(window.notice.read.isVisible())
        self.assertIs(window.stack.currentWidget(), window.starting.choices)
        self.assertEqual(path.read_bytes(), before)

    def test_a_file_of_a_newer_version_says_so(self):
        path = self.folder / "newer.ravden"
        ferrow_lane.build(path, NOW, ("tern",))
        with closing(sqlite3.connect(path)) as db:
            db.execute(f"PRAGMA user_version = {on_disk.VERSION + 1}")
        window = self.opened(path)
        self.assertIn("was written by a newer Ravden", window.notice.text.text())

    def test_a_second_double_click_opens_it_for_reading(self):
        path = self.folder / "lane.ravden"
        ferrow_lane.build(path, NOW, ("tern",))
        self.opened(path)
        second = self.opened(path)
        self.assertIn("(reading only)", second.windowTitle())


class NextAct(WindowTest):
    def main(self):
        view = self.window.film
        (button,) = [
            b for b in (view.coat, view.sanding, view.reading, view.light, view.step) if b.objectName() == "main"
        ]
        self.assertTrue(button.isVisible())
        self.assertEqual(min(b.y() for b in (view.coat, view.sanding, view.reading)) >= button.y(), True)
        return button

    def test_the_large_button_is_what_is_next(self):
        self.choose("heron", "film")
        self.assertIs(self.main(), self.window.film.coat)
        self.choose("wren", "film")  # its level window is open
        self.assertIs(self.main(), self.window.film.sanding)
        self.main().click()
        self.assertIn("purpose", self.window.card.inputs)
        self.window.card.hide()
        self.choose("tern", "film")  # and this one's is not: only waiting is left, and looking
        self.assertIs(self.main(), self.window.film.reading)

    def test_what_is_written_as_markup_is_not_read_out_as_such(self):
        for place in ("rack", "film", "rubout", "shop", "methods", "booth"):
            self.choose("tern", place)
        self.assertEqual(self.window.booth.run.zones.textFormat(), Qt.TextFormat.RichText)
        marked = [label for label in self.window.findChildren(QLabel) if "</" in QLabel.text(label)]
        for label in marked:
            self.assertNotEqual(label.textFormat(), Qt.TextFormat.PlainText, QLabel.text(label)[:60])

    def test_bare_wood_is_said_to_be_bare_and_no_alarm(self):
        page = self.window.page
        self.window.anywhere.add_instrument()
        page.inputs["name"].setText("Plover")
        page.submit()
        settle(self.window)
        rows = self.window.places.film.shown.rows
        self.assertEqual({(r.film, r.odds, r.tone) for r in rows}, {("bare", "", "plain")})
        self.assertIs(self.main(), self.window.film.step)
        self.main().click()
        settle(self.window)
        self.assertEqual(self.session.entries[-1].body.step, "Sand the bare wood")

    def test_the_heading_names_the_zone_it_goes_by(self):
        self.choose("tern", "film")
        self.assertIn("(back, the slowest)", self.window.film.told.text.text())
        self.window.film.zone_picked.emit("back")
        settle(self.window)
        self.assertNotIn("the slowest", self.window.film.told.text.text())

    def test_what_is_told_covers_no_caution(self):
        self.choose("heron", "film")
        for words in ("Logged.", "A long line that must be read until it is put away. " * 8):
            self.window.notice.tell_until_read(words)
            self.window.foot.lay_out()
            QApplication.processEvents()
            notice, view = self.window.notice, self.window.film
            over = QRect(notice.mapTo(self.window, notice.rect().topLeft()), notice.size())
            for label in (view.cautions, view.next_text, *(b for b in (view.coat, view.sanding))):
                under = QRect(label.mapTo(self.window, label.rect().topLeft()), label.sizeHint())
                self.assertFalse(over.intersects(under), (words[:20], label))
            notice.read.click()

    def test_the_form_leaves_the_buttons_beside_it_free(self):
        self.choose("heron", "film")
        self.window.anywhere.ask("sanding")
        card, button = self.window.card, self.window.film.coat
        over = QRect(card.mapTo(self.window, card.rect().topLeft()), card.size())
        self.assertFalse(over.intersects(QRect(button.mapTo(self.window, button.rect().topLeft()), button.size())))

    def test_a_number_on_the_outline_stands_clear_of_where_it_was_read(self):
        self.choose("tern", "film")
        drawn = self.window.film.side.zones.outline
        before = drawn.grab().toImage()
        self.session.log(ReadingLogged(zone="top", um=120, n=3, place=(330, 0)), instrument="tern", origin="test")
        settle(self.window)
        self.assertNotEqual(drawn.grab().toImage(), before)


class LargeWindow(WindowTest):
    def test_a_large_window_has_larger_type(self):
        self.addCleanup(style.apply, self.app, "light")
        told = [size_of_type(c, w, h) for c, w, h in ((100, 1280, 800), (100, 1920, 1080), (125, 1920, 1080))]
        self.assertEqual(told, [100, 120, 150])
        self.window.resize(1920, 1080)
        settle(self.window)
        self.assertEqual(self.app.font().pixelSize(), 17)
        self.window.resize(1280, 800)
        settle(self.window)
        self.assertEqual(self.app.font().pixelSize(), 14)


class GoingBack(InFolder):
    def gone_back(self):
        """The name under which the file stays, which had one entry more than its copy."""
        ferrow_lane.build(self.path, NOW, ("tern",))
        copy = copies.backup_path(self.path)
        with closing(sqlite3.connect(self.path)) as db, closing(sqlite3.connect(copy)) as to:
            db.backup(to)
        journal = Journal.open(self.path)
        journal.append(CoatLogged(dry_um=12), at=NOW, logged_at=NOW, instrument="tern")
        journal.close()
        return copies.go_back(copy, self.path)

    def test_the_file_stays_beside_its_copy(self):
        kept = self.gone_back()
        self.assertEqual(self.entries(kept), self.entries(self.path) + 1)
        self.assertEqual(copies.there(self.path), [])
        self.assertEqual(len(copies.there(kept)), 1)

    def test_it_stays_on_a_disk_that_knows_no_second_names_too(self):
        with mock.patch("ravden.journal.copies.os.link", side_effect=PermissionError(1, "not permitted")):
            kept = self.gone_back()
        self.assertEqual(self.entries(kept), self.entries(self.path) + 1)

    @staticmethod
    def entries(path):
        with closing(sqlite3.connect(path)) as db:
            return db.execute("SELECT count(*) FROM entry").fetchone()[0]

    def test_one_that_is_open_elsewhere_is_left_alone(self):
        ferrow_lane.build(self.path, NOW, ("tern",))
        shutil.copyfile(self.path, copies.backup_path(self.path))
        with closing(Journal.open(self.path)) as journal:
            journal.append(CoatLogged(dry_um=12), at=NOW, logged_at=NOW, instrument="tern")
            with self.assertRaisesRegex(InputError, "open elsewhere"):
                copies.go_back(copies.backup_path(self.path), self.path)

    def test_a_copy_that_cannot_be_read_changes_nothing(self):
        ferrow_lane.build(self.path, NOW, ("tern",))
        before = self.path.read_bytes()
        bad = copies.backup_path(self.path)
        bad.write_bytes(b"no copy")
        with self.assertRaisesRegex(Exception, "cannot be read; nothing was changed"):
            copies.go_back(bad, self.path)
        self.assertEqual(self.path.read_bytes(), before)
        self.assertEqual(sorted(p.name for p in self.folder.iterdir()), ["lane.ravden", "lane.ravden.backup"])
