"""Help: the guide where one is, keys, tables, words of the trade, about, and a report without names."""

import csv
import io
import logging
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QToolTip

from ravden.app import report
from ravden.catalogue.guide import GUIDE, glossary, licences, page_of, pages, search
from ravden.ui.shell.registry import PLACES
from tests.ui.support import WindowTest, settle, wait_until


class Looks(WindowTest):
    plans = False

    def test_everything_there_is_to_see_over_the_wood_chosen(self):
        self.window.help.show_looks()
        page = self.window.help.looks
        self.assertIs(self.window.stack.currentWidget(), page)
        first = page.strips[0].pictures[0]
        self.assertIn("no tubes", first.accessibleDescription())  # before it is drawn, its words
        wait_until(lambda: not page.busy)
        self.assertTrue(all(p.image is not None for strip in page.strips for p in strip.pictures))
        self.assertIn("Solvent pop", page.told.text())
        was = first.image
        page.tone.setCurrentIndex(page.tone.findData("black"))
        wait_until(lambda: not page.busy)
        self.assertNotEqual(first.image, was)
        QTest.keyClick(page, Qt.Key.Key_Escape)
        self.assertIsNot(self.window.stack.currentWidget(), page)

    def test_a_step_shows_what_to_watch_for(self):
        self.choose("tern", "methods")
        self.window.methods.pages.turn_to("plan")
        stages = self.window.places.methods.plan.stages
        form = self.window.methods.plan.form
        for kind, first in (("level", "Sand-through"), ("coats", "Orange peel")):
            self.window.places.methods.show_step(next(i for i, s in enumerate(stages) if s.kind == kind))
            settle(self.window)
            wait_until(lambda: not form.strip.busy)
            self.assertIn(first, form.strip.pictures[0].caption)
            self.assertIsNotNone(form.strip.pictures[0].image)
        self.window.places.methods.show_step(next(i for i, s in enumerate(stages) if s.kind == "finish"))
        settle(self.window)
        self.assertTrue(form.watch.isHidden())


class Guide(WindowTest):
    plans = False

    def test_f1_opens_the_page_of_the_place(self):
        for place, page in (("film", "level"), ("booth", "booth"), ("rubout", "grit"), ("shop", "air")):
            self.choose("tern", place)
            self.key(Qt.Key.Key_F1)
            guide = self.window.help.guide
            self.assertIs(self.window.stack.currentWidget(), guide)
            self.assertIn(pages()[page].title.split(",")[0], guide.text.toPlainText().splitlines()[0])
            QTest.keyClick(guide, Qt.Key.Key_Escape)
            self.assertEqual(self.window.place, place)

    def test_it_is_found_by_typing(self):
        self.window.help.open_guide()
        guide = self.window.help.guide
        guide.sought.setText("witness card")
        titles = [guide.list.item(i).text() for i in range(guide.list.count())]
        self.assertIn("What is worth measuring?", titles)
        self.assertNotIn("Every key", titles)
        guide.sought.setText("blush")
        self.assertIn("Words of the trade", [guide.list.item(i).text() for i in range(guide.list.count())])
        guide.sought.setText("xyzzy")
        self.assertIn("Nothing in the guide", guide.text.toPlainText())

    def test_every_page_is_whole_and_every_place_has_one(self):
        for page in pages().values():
            self.assertTrue(page.text.startswith("# "), page.id)
            for line in page.text.splitlines():
                if line.startswith("!["):
                    self.assertTrue((GUIDE / line.split("](")[1].rstrip(")")).is_file(), line)
        self.assertEqual({page_of(key) for key, _ in PLACES} - set(pages()), set())
        self.assertEqual(search("level")[0], "level")

    def test_keys_lie_over_the_place_until_one_is_pressed(self):
        self.choose("tern", "rubout")
        before = len(self.session.entries)
        self.window.help.show_keys()
        over = self.window.help.keys
        self.assertTrue(over.isVisible())
        self.assertIn("X: a stray deep scratch", over.accessibleDescription())
        self.assertIn("C: log the usual coat, now", over.accessibleDescription())
        QTest.keyClick(over, Qt.Key.Key_A)
        self.assertFalse(over.isVisible())
        self.assertEqual(len(self.session.entries), before)

    def test_words_of_the_trade_are_explained_where_they_stand(self):
        self.choose("tern", "film")
        label = self.window.film.told.text
        self.assertIn("shrink", label.words)
        self.assertIn("of shrink still to come", label.text())
        with mock.patch.object(QToolTip, "showText") as shown:
            label.linkActivated.emit("shrink")
        self.assertEqual(shown.call_args[0][1], f"shrink: {glossary()['shrink']}")
        label.setText("<b>level</b> & scuff")
        self.assertEqual((label.text(), label.words), ("<b>level</b> & scuff", ("level", "scuff")))


class Tables(WindowTest):
    plans = False

    def rows(self, place, title):
        self.choose("tern", place)
        self.window.help.show_tables()
        page = self.window.help.table
        at = page.which.findText(title)
        self.assertGreaterEqual(at, 0, [page.which.itemText(i) for i in range(page.which.count())])
        page.which.setCurrentIndex(at)
        page.which.activated.emit(at)
        return page

    def test_the_film_is_read_with_the_numbers_of_its_picture(self):
        page = self.rows("film", "Tern: film on every zone")
        shown = {r.label: r.film for r in self.window.places.film.shown.rows}
        self.assertEqual({r[0]: r[1] for r in page.shown.rows}, shown)
        self.assertEqual(page.table.item(0, 1).text(), shown["Top"])
        page = self.rows("film", "Tern, Top: film through time")
        self.assertIn("film, µm", page.shown.columns)
        self.assertEqual({r[1] for r in page.shown.rows}, {"so far", "planned"})

    def test_every_place_with_a_picture_has_its_table(self):
        self.assertEqual(len(self.rows("rack", "Ferrow Lane: the Rack").shown.rows), 3)
        ladder = self.rows("rubout", "Tern: the ladder").shown
        rungs = self.window.places.rubout.rub.ladder.steps
        self.assertEqual([r[0] for r in ladder.rows], [s.rung.abrasive.name for s in rungs])
        self.assertTrue(self.rows("shop", "Ferrow Lane: the air").shown.rows)
        self.choose("heron", "booth")
        with self.assertRaisesRegex(Exception, "no picture"):
            self.window.help.show_tables()
        self.key(Qt.Key.Key_Space)
        self.window.help.show_tables()
        self.assertEqual(self.window.help.table.shown.title, "In this session")

    def test_it_is_copied_and_saved_for_a_spreadsheet(self):
        page = self.rows("film", "Tern: film on every zone")
        page.copy.click()
        rows = list(csv.reader(io.StringIO(QGuiApplication.clipboard().text())))
        self.assertEqual(rows[0][0], "zone")
        self.assertEqual(len(rows), 1 + len(page.shown.rows))
        page.write(self.folder / "zones.csv")
        with (self.folder / "zones.csv").open(newline="") as file:
            self.assertEqual(list(csv.reader(file)), rows)
        with self.assertRaisesRegex(Exception, "cannot be written"):
            page.write(self.folder / "none" / "zones.csv")

    def test_t_is_a_key_of_every_place_and_in_us_units(self):
        self.choose("tern", "film")
        self.session.set_units("us")
        settle(self.window)
        self.key(Qt.Key.Key_T)
        self.assertIn("film, mil", self.window.help.table.shown.columns)


class About(WindowTest):
    plans = False

    def test_it_names_everything_shipped(self):
        self.window.help.about()
        said = self.window.help.said.text.toPlainText()
        for part, licence, _ in licences():
            self.assertIn(f"{part}: {licence}", said)
        named = " ".join(part.lower() for part, *_ in licences())
        listed = (self.root() / "requirements" / "run.txt").read_text()
        build_only = {"packaging", "setuptools", "wheel", "pyqt6-qt6", "pyqt6-sip"}
        for line in listed.splitlines():
            name = line.split("==")[0].strip().lower()
            if "==" in line and not line.startswith((" ", "#")) and name not in build_only:
                self.assertIn(name, named)

    def root(self):
        return GUIDE.parents[3]

    def test_a_report_has_what_went_wrong_and_no_name(self):
        report.begin()
        self.addCleanup(logging.getLogger().removeHandler, report.LOG)
        logging.getLogger("ravden.test").error("Tern fell over TERN in %s", self.path)
        self.window.help.went_wrong()
        said = self.window.help.said.text.toPlainText()
        self.assertIn("… fell over … in …", said)
        self.assertIn("3 on the rack", said)
        for name in ("Tern", "TERN", "Wren", "Ferrow Lane", str(self.folder)):
            self.assertNotIn(name, said)
