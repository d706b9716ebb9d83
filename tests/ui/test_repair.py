"""Something is wrong: noted, asked about, chosen, worked and looked at through the window."""

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu

from ravden.app.defects import defects_of
from ravden.journal.kinds.handed_over import HandedOver
from ravden.journal.kinds.mishap import DefectLooked, DefectTold, MishapLogged, RepairChosen
from ravden.ui.places.rack import lane_words
from tests.ui.support import WindowTest, settle, wait_until


class Wrong(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        settle(self.window)

    def turn(self, who, place="film"):
        self.session.select(who, "test")
        settle(self.window)
        self.window.turn_to(place)

    def key(self, key, widget=None, modifier=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(widget or self.window.focusWidget() or self.window, key, modifier)
        settle(self.window)

    def note(self, what="sand-through", who="tern", **fields):
        self.turn(who)
        return self.session.log(MishapLogged(what=what, zone="top", **fields), instrument=who).id

    @property
    def page(self):
        return self.window.repairs.view

    def open_page(self):
        self.window.something_wrong()
        settle(self.window)
        return self.page

    def last(self):
        return self.session.entries[-1].body

    def told(self):
        return self.window.notice.text.text()


class ThePage(Wrong):
    def test_from_the_key_to_the_plan_and_back(self):
        self.turn("tern")
        self.window.activateWindow()
        self.key(Qt.Key.Key_G, self.window.film.timeline)
        page = self.page
        self.assertIs(self.window.stack.currentWidget(), page)
        self.assertEqual(page.pages.currentIndex(), 1)
        page.noting.zone.setCurrentIndex(page.noting.zone.findData("back"))
        page.noting.buttons["sand-through"].click()
        settle(self.window)
        self.assertEqual((self.last().what, self.last().zone), ("sand-through", "back"))
        self.assertEqual(page.pages.currentIndex(), 0)
        shown = page.shown
        self.assertEqual(len(shown.ways), 2)
        self.assertTrue(all(w.later and "days later" in w.ready for w in shown.ways))
        self.key(Qt.Key.Key_Down, page.ways)
        self.assertEqual(page.shown.at, 1)
        self.assertIn("Colour back", page.steps.text())
        self.assertIn("the least wanted", page.film.text())
        self.assertIn("data sheet", page.cautions.text())
        before = self.session.rack.method.stage
        self.key(Qt.Key.Key_Return, page.choose, Qt.KeyboardModifier.ControlModifier)
        self.assertIsInstance(self.last(), RepairChosen)
        self.assertTrue(page.shown.ways[1].chosen)
        self.assertIn("In the plan", page.head.text())
        self.assertIn("Clean the place", page.shown.details.steps[0])
        self.session.undo()
        settle(self.window)
        self.assertEqual(self.session.rack.method.stage, before)
        self.assertFalse(any(w.chosen for w in page.shown.ways))
        page.leave.click()
        self.assertIs(self.window.stack.currentWidget(), self.window.film)

    def test_answers_are_logged_one_by_one_and_nothing_else_changes(self):
        number = self.note("run", "heron", place=(200.0, -40.0))
        page = self.open_page()
        waits = [page.shown.ways[0].ready_h]
        box = page.fields["height_um"]
        box.setCurrentIndex(box.findData("300"))
        box.activated.emit(box.currentIndex())
        settle(self.window)
        told = self.last()
        self.assertEqual((told.height_um, told.place, told.size_mm), (300.0, (200.0, -40.0), None))
        waits.append(page.shown.ways[0].ready_h)
        self.assertGreater(waits[1], waits[0])
        page.placed.emit(120.04, 11.0)
        settle(self.window)
        self.assertEqual((self.last().place, self.last().height_um), ((120.0, 11.0), 300.0))
        self.assertEqual(page.shown.picked, number)

    def test_a_question_answered_is_kept_and_can_be_changed(self):
        self.note()
        page = self.open_page()
        asked = [c.asks for c in page.shown.causes if c.asks]
        self.assertIn("finger", asked)
        page.answered.emit("finger", True)
        settle(self.window)
        self.assertEqual(page.shown.causes[0].confidence, "Likely")
        self.assertEqual([(c.asks, c.confidence) for c in page.shown.told], [("finger", "yes")])
        page.answered.emit("finger", False)
        settle(self.window)
        self.assertNotIn("A finger behind the paper.", [c.words for c in page.shown.causes])
        page.answered.emit("finger", None)
        settle(self.window)
        self.assertEqual(page.shown.told, ())

    def test_worked_it_is_looked_at_and_closed(self):
        number = self.note("blush", "heron")
        page = self.open_page()
        page.choose.click()
        settle(self.window)
        self.window.turn_back()
        settle(self.window)
        self.key(Qt.Key.Key_D, self.window.film.timeline)
        self.assertIn("look at it", self.window.film.wrong_text.text())
        page = self.open_page()
        self.assertTrue(page.shown.worked)
        self.assertFalse(page.choose.isVisible())
        page.outcomes["gone"].click()
        settle(self.window)
        self.assertEqual((self.last().defect, self.last().outcome), (number, "gone"))
        self.assertIn("Closed: gone", page.head.text())
        self.assertFalse(page.live.isVisible())

    def test_left_and_lived_with(self):
        self.note("orange-peel", "heron")
        page = self.open_page()
        page.choose.click()
        settle(self.window)
        page.leave_it.click()
        settle(self.window)
        self.assertEqual(page.shown.chosen, "")
        page.live.click()
        settle(self.window)
        self.assertEqual(self.last(), DefectLooked(defect=page.shown.picked, outcome="lived-with"))

    def test_a_light_one_needs_no_page(self):
        self.turn("heron")
        self.window.something_wrong()
        self.page.noting.buttons["nib"].click()
        settle(self.window)
        self.assertIs(self.window.stack.currentWidget(), self.window.film)
        self.assertIn("goes with the next paper", self.window.film.wrong_text.text())

    def test_taken_back_the_page_goes(self):
        self.note("run", "heron")
        self.open_page()
        self.session.undo()
        settle(self.window)
        self.assertIs(self.window.stack.currentWidget(), self.window.film)

    def test_letters_are_no_acts_of_the_window_there(self):
        self.note("run", "heron")
        page = self.open_page()
        count = len(self.session.entries)
        for key in (Qt.Key.Key_C, Qt.Key.Key_D, Qt.Key.Key_H, Qt.Key.Key_N):
            self.key(key, page.ways)
        self.assertEqual(len(self.session.entries), count)
        self.assertIs(self.window.stack.currentWidget(), page)
        self.key(Qt.Key.Key_T, page.ways)
        titles = [t.title for t in self.window.repairs.tables()]
        self.assertEqual(titles[0], "Run or sag, top: what puts it right")

    def test_what_cannot_be_there_is_told_and_not_noted(self):
        self.turn("heron")
        count = len(self.session.entries)
        self.window.something_wrong()
        page = self.page
        page.noting.picked.emit("run", "horn", None)
        self.assertIn("horn", self.told())
        self.assertEqual(len(self.session.entries), count)
        self.assertEqual(page.pages.currentIndex(), 1)

    def test_long_names_dark_and_the_smallest_window(self):
        self.note("run", "heron")
        self.window.resize(1120, 720)
        self.window.looks.turn_theme()
        page = self.open_page()
        for label in (page.head, page.now, page.steps, page.film, page.cautions):
            self.assertGreaterEqual(label.height(), label.heightForWidth(label.width()), label.text())
        for button in (page.choose, page.live):
            self.assertGreaterEqual(button.width(), button.sizeHint().width())
        picture = page.ways.grab().toImage()
        seen = {picture.pixelColor(x, y).name() for x in range(20, 300, 5) for y in range(90, 140, 3)}
        self.assertGreater(len(seen), 8)


class Everywhere(Wrong):
    def test_the_rack_marks_the_lane_and_its_menu_opens_the_page(self):
        self.note("run", "heron", place=(200.0, -40.0))
        self.window.turn_to("rack")
        settle(self.window)
        lanes = self.window.rack.lanes
        top, bottom = lanes.span_of("heron")
        self.assertIn("Run or sag, top: open", lane_words.told_of(lanes.lane_at(top + 1)))
        at = QPoint(40, (top + bottom) // 2)
        event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, lanes.mapToGlobal(at))
        QApplication.sendEvent(lanes, event)
        menu = next(m for m in lanes.findChildren(QMenu) if m.isVisible())
        action = next(a for a in menu.actions() if "wrong" in a.text())
        menu.close()
        action.trigger()
        settle(self.window)
        self.assertIs(self.window.stack.currentWidget(), self.page)
        self.assertEqual(self.page.shown.label, "Run or sag, top")

    def test_the_film_shows_it_at_its_depth_and_moment(self):
        self.note("print", "tern", place=(285.0, 85.0), depth_um=30.0)
        settle(self.window)
        shown = self.window.places.film.shown
        wound = shown.wounds[0]
        film = shown.timeline.film_um[shown.timeline.index_at(wound.at_h)]
        self.assertAlmostEqual(wound.um, film - 30.0, delta=1.0)
        self.assertEqual(shown.spots[0][:2], (285.0, 85.0))
        self.assertIn("print or weave mark, top (open)", self.window.film.wrong_text.text())
        self.window.film.wrong.click()
        settle(self.window)
        self.assertIs(self.window.stack.currentWidget(), self.page)

    def test_the_ladder_has_one_of_its_own_for_the_patch(self):
        self.note("run", "tern", height_um=40.0)
        self.window.turn_to("rubout")
        settle(self.window)
        said = self.window.rubout.told.text.text()
        self.assertIn("Run or sag, top, a patch of its own: shave it off (40 µm)", said)

    def test_it_comes_back_from_the_book(self):
        self.turn("wren")
        self.session.log(HandedOver(), instrument="wren")
        settle(self.window)
        self.window.open_book()
        settle(self.window)
        self.window.shop.book.wrong_asked.emit("wren")
        settle(self.window)
        self.assertIn("wren", self.session.shop.racked)
        self.assertIs(self.window.stack.currentWidget(), self.page)
        self.page.noting.buttons["ding"].click()
        settle(self.window)
        self.assertTrue(self.page.shown.ways)

    def test_what_is_open_is_asked_about_before_it_is_handed_over(self):
        self.note("run", "heron")
        self.window.anywhere.ask("handed")
        self.assertIn("Wrong on it: run or sag, top (open)", self.window.card.inputs["wrong"].currentText())

    def test_in_the_booth_it_is_two_keys_and_the_page_a_third(self):
        self.turn("heron", "booth")
        self.window.booth.mishap_logged.emit("run", "top")
        settle(self.window)
        rack = self.session.shop.racked["heron"]
        self.assertEqual([d.mishap.what for d in defects_of(rack, self.session.now)], ["run"])
        self.window.something_wrong()
        settle(self.window)
        self.assertEqual(self.page.shown.label, "Run or sag, top")

    def test_us_units(self):
        self.note("run", "heron", height_um=50.8)
        self.window.looks.turn_units()
        page = self.open_page()
        self.assertIn("mil", page.fields["height_um"].itemText(2))
        self.assertIn("mil there at the end", page.shown.ways[0].numbers)
        wait_until(lambda: not self.window.repairs.busy)

    def test_told_entries_are_read_back(self):
        number = self.note("run", "heron")
        self.session.log(DefectTold(defect=number, size_mm=22.0), instrument="heron")
        self.session.open(self.path)
        settle(self.window)
        self.assertEqual(self.session.shop.racked["heron"].acts[-1].size_mm, 22.0)
