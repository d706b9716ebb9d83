"""The whole job in the window: look, log with one key, undo from anywhere, add an instrument, refuse what is wrong."""

import contextlib
import sqlite3
from datetime import timedelta
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox

from ravden.app import settings
from ravden.core.errors import InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.store import Journal
from tests.ui import answered
from tests.ui.support import NOW, WindowTest, settle, wait_until

CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


class Rack(WindowTest):
    def told(self):
        return {c.heading.text(): c.text.text() for c in self.window.rack.told if not c.isHidden()}

    def test_it_says_in_words_what_is_ready(self):
        told = self.told()
        lanes = {row.id: row for _, row in self.window.rack.lanes.rows() if not isinstance(row, str)}
        self.assertEqual(told["Ready for hands"], "Heron: coat 8 of 10, now\nWren: level sand, today 15:40")
        self.assertIn("open since Thu 30 Apr; planned today 15:40", lanes["wren"].next_when)
        self.assertIn("Tern: level sand", told["Opens next"])
        self.assertIn("Heron by Sun 24 May: unlikely", told["Promise at risk"])

    def test_lanes_are_drawn_and_chosen_by_mouse_and_keys(self):
        lanes = self.window.rack.lanes
        self.assertGreater(self.colours(lanes), 60)
        y = 30 + lanes.lane_h * 2.5
        QTest.mouseClick(lanes, Qt.MouseButton.LeftButton, pos=QPointF(60, y).toPoint())
        self.assertEqual(self.session.selected, "heron")
        lanes.setFocus()
        self.key(Qt.Key.Key_Up)
        self.assertEqual(self.session.selected, "wren")
        self.key(Qt.Key.Key_Return)
        self.assertIs(self.window.stack.currentWidget(), self.window.film)
        self.assertEqual(self.window.film.head.title.text(), "Wren")

    def test_windows_move_with_the_clock(self):
        self.clock.turn(days=4)
        self.window.tick.timeout.emit()
        settle(self.window)
        self.assertRegex(self.told()["Ready for hands"], r"Tern: level sand, tomorrow 0[89]:00")

    def test_a_double_click_opens_the_film(self):
        lanes = self.window.rack.lanes
        QTest.mouseDClick(lanes, Qt.MouseButton.LeftButton, pos=QPointF(60, 60).toPoint())
        self.assertIs(self.window.stack.currentWidget(), self.window.film)


class Film(WindowTest):
    def setUp(self):
        super().setUp()
        self.choose("heron", "film")

    def rows(self):
        return {r.name: r for r in self.window.places.film.shown.rows}

    def test_what_is_shown_is_what_the_core_says(self):
        found = self.window.places.film.found
        top = next(z for z in found.zones if z.name == "top")
        self.assertEqual(self.rows()["top"].film, f"{top.film.mean_um:.0f}")
        self.assertIn("Coat 8 of 10", self.window.film.told.heading.text())
        self.assertIn("less than nominal", self.window.film.side.zones.gun.text())
        self.assertIn("Worth measuring: the sides", self.window.film.side.zones.measure.text())
        self.assertIn("data sheet", self.window.film.cautions.text())
        self.assertGreater(self.colours(self.window.film.timeline), 100)

    def test_a_zone_is_turned_to_on_the_outline_and_in_the_table(self):
        outline = self.window.film.side.zones.outline
        head = next(path for name, path in outline.areas if name == "head")
        QTest.mouseClick(outline, Qt.MouseButton.LeftButton, pos=head.boundingRect().center().toPoint())
        settle(self.window)
        self.assertEqual(self.window.places.film.shown.zone, "head")
        edges = self.window.film.side.zones.zone_buttons[-1]
        edges.click()
        settle(self.window)
        self.assertEqual(self.window.places.film.shown.zone, "edges")
        self.assertTrue(self.window.film.side.zones.zone_buttons[-1].isChecked())

    def test_the_cursor_shows_other_moments(self):
        line = self.window.film.timeline
        heading = self.window.film.section_heading
        self.assertTrue(heading.text().startswith("Top, today 15:00: "))
        shown = self.window.places.film.shown
        QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=QPointF(line.x_of(shown.now_h + 200), 200).toPoint())
        self.assertIn("as planned", heading.text())
        line.setFocus()
        QTest.keyClick(line, Qt.Key.Key_Home)
        self.assertTrue(heading.text().startswith("Top, today 15:00: "))
        QTest.keyClick(line, Qt.Key.Key_Left, SHIFT)
        self.assertLess(line.cursor_h, shown.now_h)
        self.assertEqual(len(self.window.film.section.shown.lines), 3)

    def test_turning_to_another_instrument(self):
        chooser = self.window.film.head.chooser
        chooser.setCurrentIndex(chooser.findData("wren"))
        chooser.activated.emit(chooser.currentIndex())
        settle(self.window)
        self.assertEqual(self.window.film.head.title.text(), "Wren")
        self.assertIn("Next: level sand", self.window.film.next_heading.text())


class Logging(WindowTest):
    def test_one_key_logs_the_coat_from_any_place_and_everything_follows(self):
        for place in ("rack", "film", "rubout"):
            with self.subTest(place):
                self.choose("heron", place)
                before, film = self.coats("heron"), self.window.places.film.found.zones[0].film.mean_um
                self.clock.turn(minutes=90)
                self.key(Qt.Key.Key_C)
                self.assertEqual(self.coats("heron"), before + 1)
                self.assertIn(f"Coat {before + 1} on Heron", self.window.notice.text.text())
                self.assertGreater(self.window.places.film.found.zones[0].film.mean_um, film + 8)
                self.assertEqual(self.window.places.found["heron"].progress.coats_done, before + 1)
                self.key(Qt.Key.Key_Z, CTRL)
                self.assertEqual(self.coats("heron"), before)
                self.assertAlmostEqual(self.window.places.film.found.zones[0].film.mean_um, film, places=6)

    def test_undo_and_redo_keep_everything_in_the_file(self):
        self.choose("heron", "film")
        written = len(self.session.entries)
        self.key(Qt.Key.Key_C)
        self.key(Qt.Key.Key_Z, CTRL)
        self.key(Qt.Key.Key_Z, CTRL | SHIFT)
        self.assertEqual(self.coats("heron"), 8)
        self.key(Qt.Key.Key_Z, CTRL | SHIFT)
        self.assertIn("nothing to bring back", self.window.notice.text.text())
        self.assertEqual(len(self.session.entries), written + 3)
        self.window.notice.undo.click()
        settle(self.window)
        self.assertEqual(self.coats("heron"), 7)

    def test_what_was_taken_back_is_brought_back_where_it_is_told(self):
        self.choose("heron", "film")
        self.key(Qt.Key.Key_C)
        notice = self.window.notice
        notice.undo.click()
        settle(self.window)
        self.assertEqual((self.coats("heron"), notice.undo.isHidden()), (7, True))
        self.assertIn("Bring it back", notice.way.text())
        notice.way.click()
        settle(self.window)
        self.assertEqual((self.coats("heron"), notice.undo.isHidden(), notice.way.isHidden()), (8, False, True))

    def test_a_reading_narrows_the_film(self):
        self.choose("heron", "film")
        before = self.window.places.film.found.zones[0].film.sd_um
        self.key(Qt.Key.Key_R)
        self.assertEqual(self.window.card.kind, "reading")
        self.fill(self.window.card, zone="top", um="92", n="3")
        self.key(Qt.Key.Key_Return)
        self.assertTrue(self.window.card.isHidden())
        self.assertLess(self.window.places.film.found.zones[0].film.sd_um, 0.5 * before)
        self.assertIn("lays down", self.window.film.side.zones.gun.text())

    def test_a_sanding_starts_from_the_ladder_and_moves_the_plan_on(self):
        self.choose("wren", "rubout")
        self.key(Qt.Key.Key_S)
        typed = self.window.card.typed()
        self.assertEqual(typed["purpose"], "level")
        self.assertEqual(typed["grade"], self.window.places.found["wren"].rub_out.ladder.steps[0].rung.abrasive.name)
        self.fill(self.window.card, um="2")
        self.key(Qt.Key.Key_Return)
        found = self.window.places.found["wren"]
        self.assertEqual(found.method.stage[found.progress.index].label, "Second round")

    def test_the_air_holds_for_every_instrument(self):
        case = {i: o.windows[-1].likely_h for i, o in self.window.places.found.items()}
        self.key(Qt.Key.Key_A)
        self.fill(self.window.card, temp_C="14", rh="60")
        self.key(Qt.Key.Key_Return)
        self.assertIn("14 °C, 60 %", self.window.air.text())
        for i, before in case.items():
            self.assertGreater(self.window.places.found[i].windows[-1].likely_h, before + 24)

    def test_faults_are_told_beside_the_field_and_nothing_is_logged(self):
        self.choose("heron", "film")
        written = len(self.session.entries)
        table = (
            ("coat", "dry_um", "-4", "greater than 0"), ("coat", "dry_um", "nan", "ordinary number"),
            ("coat", "dry_um", "lots", "not a number"), ("coat", "dry_um", "99999", "less than"),
            ("coat", "at", "23:59", "in the future"), ("coat", "at", "2020-01-01", "not on the rack yet"),
            ("coat", "at", "soon", "write 14:30"), ("sanding", "um", "500", "more than can be there"),
            ("reading", "um", "", "type a number"), ("reading", "n", "0", "between 1 and 100"),
            ("air", "temp_C", "140", "between -20 and 80"), ("air", "rh", "140", "between 0 and 1"),
        )  # fmt: skip
        for kind, field, value, told in table:
            with self.subTest(kind=kind, field=field, value=value):
                self.window.anywhere.ask(kind)
                if kind == "reading" and field != "um":
                    self.fill(self.window.card, um="90")
                self.fill(self.window.card, **{field: value})
                self.window.card.keep.click()
                self.assertFalse(self.window.card.isHidden())
                self.assertIn(told, self.window.card.faults[field].text())
                self.assertEqual(len(self.session.entries), written)
                QTest.keyClick(self.window.card, Qt.Key.Key_Escape)
        self.window.anywhere.ask("coat")
        QTest.keyClick(self.window.card, Qt.Key.Key_Escape)
        self.assertTrue(self.window.card.isHidden())

    def test_letters_typed_into_a_field_are_not_acts(self):
        self.choose("heron", "film")
        before = len(self.session.entries)
        self.window.anywhere.ask("sanding")
        grade = self.window.card.inputs["grade"]
        grade.setFocus()
        QTest.keyClicks(grade, "cscr")
        self.assertEqual(len(self.session.entries), before)
        self.assertTrue(grade.text().endswith("cscr"))

    def test_keys_while_a_form_is_open_are_not_acts_either(self):
        self.choose("heron", "film")
        before = len(self.session.entries)
        self.window.anywhere.ask("sanding")
        self.window.card.inputs["purpose"].setFocus()
        for key in (Qt.Key.Key_C, Qt.Key.Key_R, Qt.Key.Key_N):
            self.key(key)
        self.assertEqual((len(self.session.entries), self.window.card.kind), (before, "sanding"))
        self.assertIs(self.window.stack.currentWidget(), self.window.film)
        self.window.guarded(self.window.anywhere.log_coat)
        self.assertIn("leave it with Esc", self.window.notice.text.text())
        self.window.card.leave.setFocus()
        QTest.keyClick(self.window.card.leave, Qt.Key.Key_Return)
        self.assertTrue(self.window.card.isHidden())
        self.assertEqual(len(self.session.entries), before)

    def test_a_fault_under_a_narrow_field_can_be_read_to_its_end(self):
        self.choose("heron", "film")
        self.key(Qt.Key.Key_C, SHIFT)
        self.fill(self.window.card, count="1,5")
        self.key(Qt.Key.Key_Return)
        told = self.window.card.faults["count"]
        self.assertIn("a whole number of coats", told.text())
        self.assertGreaterEqual(told.height(), told.heightForWidth(told.width()))
        below = told.mapTo(self.window.card, told.rect().bottomLeft()).y()
        self.assertLess(below, self.window.card.keep.y())

    def test_a_letter_at_a_list_of_choices_is_no_act(self):
        self.window.resize(1280, 800)
        before = self.session.entries[-1]
        tried = 0
        for place in ("rack", "film", "booth", "rubout", "shop", "methods"):
            self.choose("heron", place)
            for box in self.window.stack.currentWidget().findChildren(QComboBox):
                box.setFocus()
                if self.window.focusWidget() is not box:
                    continue
                tried += 1
                for key in "CSRLMWADHNB":
                    QTest.keyClick(box, getattr(Qt.Key, f"Key_{key}"))
                    QTest.keyClick(box, getattr(Qt.Key, f"Key_{key}"), SHIFT)
                self.assertTrue(self.window.card.isHidden(), box.accessibleName())
        settle(self.window)
        self.assertIs(self.session.entries[-1], before)
        self.assertGreater(tried, 9)
        self.choose("heron", "film")
        self.window.film.setFocus()
        self.key(Qt.Key.Key_C)
        self.assertIsNot(self.session.entries[-1], before)

    def test_a_coat_with_its_own_weight_and_time(self):
        self.choose("heron", "film")
        self.key(Qt.Key.Key_C, SHIFT)
        self.fill(self.window.card, dry_um="7,5", at="14:10")
        self.key(Qt.Key.Key_Return)
        entry = self.session.entries[-1]
        self.assertEqual(replace(entry.body, typed={}), CoatLogged(dry_um=7.5))
        self.assertEqual(entry.body.typed["dry_um"], "7,5")
        self.assertEqual(entry.at, NOW.replace(hour=14, minute=10))

    def test_a_full_disk_is_told_and_nothing_changes(self):
        self.choose("heron", "film")
        with mock.patch.object(
            Journal, "append", side_effect=InputError("lane.ravden", "could not be written: disk full")
        ):
            self.key(Qt.Key.Key_C)
        self.assertIn("disk full", self.window.notice.text.text())
        self.assertEqual(self.coats("heron"), 7)
        self.key(Qt.Key.Key_C)
        self.assertEqual(self.coats("heron"), 8)


class AddInstrument(WindowTest):
    demo = False

    def test_an_empty_program_says_how_to_begin(self):
        self.assertIs(self.window.stack.currentWidget(), self.window.starting.choices)
        self.assertTrue(self.window.starting.choices.buttons["start"].hasFocus())
        self.key(Qt.Key.Key_C)
        self.assertIn("No shop file is open", self.window.notice.text.text())
        self.key(Qt.Key.Key_N)
        self.assertIn("No shop file is open", self.window.notice.text.text())
        self.assertIsNot(self.window.stack.currentWidget(), self.window.page)

    def test_from_nothing_to_a_first_coat(self):
        self.window.files.make_shop(self.path)
        for place in ("film", "rubout", "rack"):
            self.window.turn_to(place)
            self.assertIs(self.window.stack.currentWidget(), self.window.empty)
        self.assertEqual(self.window.empty.heading.text(), "Nothing is on the rack yet.")
        for page in ("air", "hours", "book"):
            self.window.turn_to("shop")
            self.window.shop.pages.turn_to(page)
            self.assertIs(self.window.stack.currentWidget(), self.window.shop)
        self.window.turn_to("rack")
        self.key(Qt.Key.Key_C)
        self.assertIn("add an instrument first", self.window.notice.text.text().lower())
        self.key(Qt.Key.Key_N)
        page = self.window.page
        self.assertIs(self.window.stack.currentWidget(), page)
        page.keep.click()
        self.assertIn("give the instrument a name", page.faults["name"].text())
        self.fill(page, name="Plover", kind="viola")
        self.assertIn("Top and back", page.areas.text())
        self.fill(page, waist_mm="500")
        self.assertIn("must not be wider", page.faults["waist_mm"].text())
        page.keep.click()
        self.assertEqual(self.session.shop.racked, {})
        self.fill(page, waist_mm="130", min_film_um="-1")
        page.keep.click()
        self.assertIn("between 0 and", page.faults["min_film_um"].text())
        self.fill(page, min_film_um="60", method="lacquer-fine-start")
        self.fill(page, min_film_um="60")
        for wrong, told in (("soon", "write the day as"), ("2026-05-01", "that day is over")):
            self.fill(page, promised=wrong)
            page.keep.click()
            self.assertIn(told, page.faults["promised"].text())
        self.fill(page, promised="2026-05-20")
        page.keep.click()
        settle(self.window)
        self.assertEqual(self.window.film.head.title.text(), "Plover")
        self.assertIs(self.window.stack.currentWidget(), self.window.film)
        self.clock.turn(minutes=5)
        self.key(Qt.Key.Key_C)
        self.assertEqual(self.coats("plover"), 1)
        self.assertIn("promised Wed 20 May", self.window.film.head.about.text())
        self.window.turn_to("rack")
        self.assertIn("Plover by Wed 20 May: unlikely", self.window.rack.told[-1].text.text())
        self.window.turn_to("film")
        self.assertIn("Coat 2 of 10", self.window.film.told.heading.text())
        self.key(Qt.Key.Key_Z, CTRL)
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.session.shop.racked, {})
        self.assertIs(self.window.stack.currentWidget(), self.window.empty)

    def test_a_kind_without_a_waist_does_not_ask_for_one(self):
        self.window.files.make_shop(self.path)
        self.window.anywhere.add_instrument()
        self.fill(self.window.page, kind="solid-body")
        self.assertTrue(self.window.page.inputs["waist_mm"].isHidden())
        self.assertFalse(self.window.page.inputs["lower_mm"].isHidden())
        self.assertGreater(self.colours(self.window.page.outline), 3)


class Appearance(WindowTest):
    def test_units_theme_and_place_are_remembered(self):
        self.key(Qt.Key.Key_2, CTRL)
        self.assertIs(self.window.stack.currentWidget(), self.window.film)
        light = self.window.grab().toImage().pixelColor(700, 20).lightness()
        self.key(Qt.Key.Key_D, CTRL)
        self.key(Qt.Key.Key_U, CTRL)
        self.assertLess(self.window.grab().toImage().pixelColor(700, 20).lightness(), light - 100)
        self.assertIn("mil", self.window.film.side.zones.note.text())
        self.window.resize(1150, 730)
        self.window.close()
        self.window.deleteLater()
        self.window = self.open()
        self.assertIs(self.window.stack.currentWidget(), self.window.film)
        self.assertTrue(self.session.units.us)
        self.assertEqual(self.window.remembered.theme, "dark")
        self.window.looks.turn_theme()

    def test_every_place_is_on_the_rail_and_named(self):
        rail = self.window.rail
        self.assertEqual(list(rail.buttons), ["rack", "film", "booth", "rubout", "shop", "methods"])
        for place, button in rail.buttons.items():
            QTest.mouseClick(button, Qt.MouseButton.LeftButton)
            self.assertIs(self.window.stack.currentWidget(), getattr(self.window, place))
            self.assertTrue(button.accessibleName())

    def test_names_are_shown_as_they_were_written(self):
        name = "<i>Tern</i> & <b>Co</b>"
        body = replace(
            next(e.body for e in self.session.entries if getattr(e.body, "id", "") == "tern"), id="odd", name=name
        )
        self.session.log(body)
        settle(self.window)
        self.window.turn_to("film")
        settle(self.window)
        said = [self.window.film.head.title, self.window.notice.text, self.window.film.told.heading]
        self.assertEqual(said[0].text(), name)
        self.assertEqual({label.textFormat() for label in said}, {Qt.TextFormat.PlainText})

    def test_long_names_and_small_windows(self):
        self.session.log(self.session.entries[-1].body, instrument="heron", at=NOW, origin="test")
        long = "The very long name of an instrument that somebody typed in one go, eighty letters"
        rack = self.session.shop.racked["tern"]
        with mock.patch.object(type(rack.project.instrument), "name", long, create=True):
            self.window.resize(1120, 720)
            self.choose("tern", "film")
            self.window.places.show_all()
            QApplication.processEvents()
            self.assertLessEqual(self.window.film.head.title.width(), 700)


class Files(WindowTest):
    def test_recent_files_and_refused_ones(self):
        self.assertEqual(self.window.remembered.recent[0], str(self.path.resolve()))
        foreign = self.folder / "list.ravden"
        foreign.write_text("a list of things to buy " * 20)
        self.window.guarded(lambda: self.session.open(foreign))
        self.assertIn("not a Ravden shop file", self.window.notice.text.text())
        self.assertEqual(len(self.session.shop.racked), 3)
        self.key(Qt.Key.Key_C)
        self.assertEqual(self.coats(self.session.selected), 12)

    def test_a_second_window_may_only_read(self):
        from ravden.ui.app import make_window

        other = make_window(self.app, clock=self.clock, settings_file=self.folder / "o.json", path=self.path)
        self.addCleanup(other.deleteLater)
        self.addCleanup(other.close)
        self.assertIn("reading only", other.windowTitle())
        other.guarded(other.anywhere.log_coat)
        self.assertIn("reading only", other.notice.text.text())

    def test_choosing_files_in_the_dialogs(self):
        path = self.folder / "second-shop"
        with mock.patch("ravden.ui.shell.file_dialogs.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            self.window.files.new_shop()
        self.assertEqual(self.session.shop.name, "Second Shop")
        with mock.patch("ravden.ui.shell.file_dialogs.QFileDialog.getOpenFileName", return_value=(str(self.path), "")):
            self.window.files.open_shop()
        settle(self.window)
        self.assertEqual(self.session.shop.name, "Ferrow Lane")
        self.assertEqual(self.window.menus.recent.actions()[1].text(), str(path.with_suffix(".ravden").resolve()))


class Trouble(WindowTest):
    def test_a_fault_in_the_worker_is_told_and_work_goes_on(self):
        self.choose("heron", "film")
        answered.forget()
        with (
            mock.patch("ravden.core.ahead.outlook.outlook", side_effect=ZeroDivisionError("x")),
            self.assertLogs("ravden.ui.shell.places", "ERROR"),
        ):
            self.key(Qt.Key.Key_C)
        self.assertIn("what you logged is safe", self.window.notice.text.text())
        self.assertEqual(self.coats("heron"), 8)
        self.key(Qt.Key.Key_C)
        self.assertEqual(self.window.places.found["heron"].progress.coats_done, 9)

    def test_what_is_logged_is_in_the_file_at_once(self):
        self.choose("heron", "film")
        self.session.log(ReadingLogged(zone="top", um=90), instrument="heron", at=NOW - timedelta(minutes=1))
        read = Journal.open(self.path)
        self.addCleanup(read.close)
        self.assertEqual(read.entries()[-1].body, ReadingLogged(zone="top", um=90))

    def spoil(self):
        """A shop file with entries enough to be cut in two, and its copy of yesterday."""
        for i in range(200):
            self.session.log(
                ReadingLogged(zone="top", um=90 + i / 10), instrument="heron", at=NOW - timedelta(minutes=1)
            )
        self.session.close()
        self.session.open(self.path)
        count = len(self.session.entries)
        self.session.close()
        raw = self.path.read_bytes()
        self.path.write_bytes(raw[: len(raw) // 2 // 4096 * 4096])
        return count, self.path.read_bytes()

    def test_damage_is_told_with_one_thing_to_do(self):
        count, spoilt = self.spoil()
        self.window.guarded(lambda: self.session.open(self.path))
        self.assertIn("is damaged", self.window.notice.text.text())
        self.assertTrue(self.window.notice.way.text().startswith("Open the copy of "), self.window.notice.way.text())
        self.window.notice.way.click()
        settle(self.window)
        self.assertEqual(len(self.session.entries), count)
        self.assertNotEqual(self.session.journal.path, self.path)
        self.assertFalse(self.session.journal.read_only)
        self.assertEqual(self.path.read_bytes(), spoilt)
        self.assertFalse(self.window.notice.way.isVisible())

    def test_a_clock_that_was_wrong_is_told_and_put_right(self):
        self.clock.turn(days=700)
        self.session.log(CoatLogged(dry_um=11), instrument="heron")
        self.clock.turn(days=-700)
        self.window.tick.timeout.emit()
        self.assertIn("dated after now", self.window.notice.text.text())
        many = len(self.session.entries)
        self.assertEqual(self.window.notice.way.text(), "Set it right …")
        self.window.notice.way.click()
        self.assertTrue(self.window.card.isVisible())
        QTest.keyClick(self.window.card.keep, Qt.Key.Key_Return)
        settle(self.window)
        self.assertEqual(len(self.session.entries), many + 1)
        self.assertEqual(self.session.entries[-1].at, self.session.now)
        self.window.tick.timeout.emit()
        self.assertNotIn("dated after now", self.window.notice.text.text())

    def test_a_long_log_is_read_beside_and_can_be_stopped(self):
        path = self.folder / "year.csv"
        start = self.session.now - timedelta(days=20)
        rows = (f"{start + timedelta(minutes=i):%Y-%m-%d %H:%M:%S+00:00},{18 + i % 9 / 10},50\n" for i in range(20_000))
        path.write_text("time,temp,rh\n" + "".join(rows))
        many, reading = len(self.session.entries), self.window.files.air
        reading.read(path, "log")
        self.assertTrue(reading.busy)
        self.assertIn("Reading year.csv", self.window.notice.text.text())
        with self.assertRaises(InputError):
            reading.read(path, "log")
        self.window.notice.way.click()
        wait_until(lambda: not reading.busy)
        self.assertEqual(len(self.session.entries), many)
        self.assertIn("was not read", self.window.notice.text.text())
        reading.read(path, "log")
        wait_until(lambda: not reading.busy)
        settle(self.window)
        self.assertEqual(len(self.session.entries), many + 1)
        self.assertIn("20000 rows read", self.window.notice.text.text())
        (bad := self.folder / "bad.csv").write_bytes(b"x" * 300_000)
        reading.read(bad, "log")
        wait_until(lambda: not reading.busy)
        self.assertIn("bad.csv", self.window.notice.text.text())
        reading.read(path, "log")
        self.session.open(self.folder / "other.ravden", create=True)
        none = len(self.session.entries)
        wait_until(lambda: not reading.busy)
        settle(self.window)
        self.assertEqual(len(self.session.entries), none)
        self.assertIn("another shop is open", self.window.notice.text.text())

    def by_hand(self, *statements):
        self.session.close()
        with contextlib.closing(sqlite3.connect(self.path, isolation_level=None)) as db:
            for statement in statements:
                db.execute(statement)

    def test_an_entry_that_a_disk_changed_is_told_with_the_copy_that_has_it(self):
        coat = next(e for e in self.session.entries if isinstance(e.body, CoatLogged))
        many = self.coats(coat.instrument)
        self.session.close()
        self.session.open(self.path)  # and copied
        with contextlib.closing(sqlite3.connect(self.path)) as db:
            (trigger,) = db.execute("SELECT sql FROM sqlite_schema WHERE name = 'entry_fixed'").fetchone()
        other = f"UPDATE entry SET body = replace(body, '12', '19') WHERE id = {coat.id}"
        self.by_hand("DROP TRIGGER entry_fixed", other, trigger)
        self.window.guarded(lambda: self.session.open(self.path))
        self.assertIn("1 entry was changed on the disk", self.window.notice.text.text())
        self.assertEqual(self.coats(coat.instrument), many - 1)
        self.assertTrue(self.window.notice.way.text().startswith("Open the copy of "), self.window.notice.way.text())
        self.window.notice.way.click()
        settle(self.window)
        self.assertEqual(self.coats(coat.instrument), many)

    def test_a_stranger_s_trigger_is_told_and_the_entries_can_be_taken_out(self):
        many = len(self.session.entries)
        self.by_hand("CREATE TRIGGER eats BEFORE INSERT ON entry BEGIN SELECT RAISE(IGNORE); END")
        for copy in self.folder.glob("*.backup*"):
            copy.unlink()
        self.window.guarded(lambda: self.session.open(self.path))
        self.assertIn("a trigger called eats that no Ravden made", self.window.notice.text.text())
        self.assertEqual(self.window.notice.way.text(), "Take its entries out")
        self.window.notice.way.click()
        settle(self.window)
        self.assertEqual(len(self.session.entries), many)
        self.assertIn("taken-out", self.session.journal.path.name)

    def test_it_is_told_at_the_start_too(self):
        self.spoil()
        self.window = self.open()
        self.assertTrue(self.window.notice.way.isVisibleTo(self.window))
        self.assertIsNone(self.session.journal)

    def test_what_is_set_aside_is_told_until_read(self):
        self.session.close()
        with contextlib.closing(sqlite3.connect(self.path)) as db, db:
            row = "('2026-05-04T14:00:00.000+00:00', 'x', 'heron', '{\"kind\": \"coat\", \"dry_um\": -4}')"
            db.execute(f"INSERT INTO entry (at, logged_at, instrument, body) VALUES {row}")
        self.window = self.open()
        self.assertIn("is set aside", self.window.notice.text.text())
        self.assertTrue(self.window.notice.read.isVisibleTo(self.window))
        self.assertEqual(self.coats("heron"), 7)

    def test_a_new_shop_is_the_one_opened_next_whatever_becomes_of_this_process(self):
        made = self.folder / "made.ravden"
        self.window.files.make_shop(made)
        found = settings.load(self.folder / "settings.json")
        self.assertEqual(found.last_file, str(made.resolve()))
