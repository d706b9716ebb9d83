"""Settings: what is changed holds at once and is remembered; copies one can go back to; set back."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.app import settings
from ravden.text import written
from ravden.ui.shell.local import order, written_of
from ravden.ui.theme import style
from tests.in_folder import InFolder
from tests.ui.support import WindowTest, settle

CTRL = Qt.KeyboardModifier.ControlModifier


class Page(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        self.addCleanup(self._as_new)
        self.key(Qt.Key.Key_Comma, CTRL)
        self.page = self.window.stack.currentWidget()

    def _as_new(self):
        written.use(written.PLAIN)
        style.apply(self.app, "light")

    def pick(self, name, value):
        box = self.page.boxes[name]
        box.setCurrentIndex(box.findData(value))
        box.activated.emit(box.currentIndex())
        settle(self.window)

    def test_numbers_days_and_hours_as_chosen_everywhere(self):
        for name, value in (("decimal", "comma"), ("dates", "mdy"), ("clock", "12")):
            self.pick(name, value)
        self.assertEqual(written.current(), written.Written(decimal="comma", dates="mdy", clock="12"))
        self.choose("tern", "film")
        self.assertRegex(self.window.film.told.heading.text(), r"May \d+")
        self.assertIn(" pm: ", self.window.film.section_heading.text())
        shrink = self.window.film.told.text.text()
        self.assertRegex(shrink, r"\d,\d µm of shrink")
        kept = settings.load(self.settings_file)
        self.assertEqual((kept.decimal, kept.dates, kept.clock), ("comma", "mdy", "12"))

    def test_days_and_hours_are_typed_as_chosen(self):
        for name, value in (("decimal", "comma"), ("dates", "dmy"), ("clock", "12")):
            self.pick(name, value)
        self.choose("heron", "film")
        self.window.anywhere.ask("sanding")
        self.fill(self.window.card, um="2,5", at="03/05/2026 4:30 pm")
        self.window.card.submit()
        entry = self.session.entries[-1]
        self.assertEqual(entry.body.um, 2.5)
        self.assertEqual(f"{self.session.local(entry.at):%Y-%m-%d %H:%M}", "2026-05-03 16:30")
        self.window.anywhere.correct(entry.id)
        self.assertEqual(self.window.card.inputs["at"].text(), "03/05/2026 4:30 pm")
        before = len(self.session.entries)
        self.window.card.submit()
        self.assertEqual(len(self.session.entries), before)

    def test_larger_type_makes_every_place_larger_and_scrolls_what_is_cut(self):
        self.choose("tern", "film")
        rail, line = self.window.rail.width(), self.window.film.timeline.width()
        self.window.show_settings()
        self.pick("text", "150")
        self.window.turn_to("film")
        settle(self.window)
        self.assertEqual(self.window.rail.width(), round(rail * 1.3))  # no more, so that all places fit
        self.assertLess(self.window.film.timeline.width(), line)  # as at the usual size
        self.assertGreater(self.window.roll.verticalScrollBar().maximum(), 0)
        self.assertEqual(self.app.font().pixelSize(), 21)
        self.assertGreater(self.colours(self.window.film.timeline), 100)
        self.window.show_settings()
        self.pick("text", "100")
        self.assertEqual(self.window.rail.width(), rail)
        self.assertEqual(self.window.roll.verticalScrollBar().maximum(), 0)

    def test_tools_decide_what_is_advised_and_asked_for(self):
        self.choose("heron", "film")
        self.assertIn("film gauge", self.window.film.side.zones.measure.text())
        self.window.show_settings()
        for key in ("gauge", "micrometer", "scale", "gloss"):
            self.page.tools[key].click()
        settle(self.window)
        self.assertEqual(self.session.tools, ("comb", "hygrometer"))
        self.window.turn_to("film")
        settle(self.window)
        told = self.window.film.side.zones.measure.text()
        self.assertNotIn("film gauge, 3 touches", told)
        self.window.anywhere.ask("reading")
        box = self.window.card.inputs["what"]
        ways = {box.itemData(i) for i in range(box.count())}
        self.assertTrue({"comb", "through", "nail-dents", "volume"} <= ways)
        self.assertFalse({"gauge", "gloss", "card", "micrometer"} & ways)

    def test_least_film_is_that_of_new_instruments(self):
        edit = self.page.least["dissolving lacquer"]
        edit.setText("62.5")
        edit.editingFinished.emit()
        edit.setText("-3")
        edit.editingFinished.emit()
        self.assertIn("between 0", self.page.faults["dissolving lacquer"].text())
        self.assertEqual(settings.load(self.settings_file).least_um, {"dissolving lacquer": 62.5})
        self.window.anywhere.add_instrument()
        method = self.window.page.inputs["method"]
        method.setCurrentIndex(method.findData("lacquer-fine-start"))
        self.assertEqual(self.window.page.inputs["min_film_um"].text(), "62")

    def test_the_name_is_an_entry_and_hours_are_in_the_shop(self):
        self.page.name.setText("Heath Row")
        self.page.name.editingFinished.emit()
        self.assertEqual(self.session.shop.name, "Heath Row")
        self.page.hours.click()
        self.assertEqual((self.window.place, self.window.shop.pages.page), ("shop", "hours"))

    def test_one_goes_back_to_a_copy_and_the_file_stays_beside_it(self):
        before = len(self.session.entries)
        self.session.log_usual_coat("test")
        self.window.show_settings()
        (button,) = [
            b for i in range(self.page.copies.count()) for b in self.page.copies.itemAt(i).widget().children()
            if hasattr(b, "click")
        ]  # fmt: skip
        button.click()
        settle(self.window)
        self.assertEqual(len(self.session.entries), before)
        self.assertIn("kept as lane-before-", self.window.notice.text.text())
        (kept,) = self.folder.glob("lane-before-*.ravden")
        self.session.open(kept)
        self.assertEqual(len(self.session.entries), before + 1)

    def test_all_is_set_back_but_for_what_is_no_choice(self):
        self.pick("theme", "dark")
        self.page.ticks["guard"].click()
        self.window.remembered.place = "film"
        self.window.choices.set_back()
        kept = settings.load(self.settings_file)
        self.assertEqual((kept.theme, kept.guard, kept.place), ("light", False, "film"))
        self.assertEqual(kept.last_file, str(self.path.resolve()))
        self.assertFalse(self.page.ticks["guard"].isChecked())

    def test_the_booth_takes_up_what_was_chosen(self):
        self.pick("left_hand", "left")
        self.page.ticks["guard"].click()
        self.choose("heron", "booth")
        run = self.window.booth.run
        self.key(Qt.Key.Key_Space)
        settle(self.window)
        self.assertLess(run.beside_area.x(), run.frame_.x())
        self.key(Qt.Key.Key_Space)
        done = len(self.session.entries)
        self.clock.turn(seconds=1.5)
        self.key(Qt.Key.Key_Space)
        self.assertEqual(len(self.session.entries), done)
        self.clock.turn(seconds=1)
        self.key(Qt.Key.Key_Space)
        self.assertGreater(len(self.session.entries), done)

    def test_esc_leaves_it(self):
        QTest.keyClick(self.page, Qt.Key.Key_Escape)
        self.assertIs(self.window.stack.currentWidget(), self.window.rack)


class Kept(InFolder):
    def test_settings_of_an_earlier_ravden_lose_no_way_of_reading(self):
        old = self.folder / "settings.json"
        old.write_text('{"units": "us", "tools": ["gauge", "comb"], "theme": "dark"}')
        found = settings.load(old)
        self.assertEqual((found.units, found.theme), ("us", "dark"))
        self.assertEqual(found.tools, ["gauge", "comb", "gloss", "hygrometer"])
        settings.save(found, old)
        found.tools.remove("gloss")
        settings.save(found, old)
        self.assertEqual(settings.load(old).tools, ["gauge", "comb", "hygrometer"])

    def test_what_nobody_can_have_chosen_is_as_usual(self):
        path = self.folder / "settings.json"
        path.write_text('{"text": 900, "dates": "xyz", "decimal": "dot", "clock": "7", "lays": []}')
        found = settings.load(path)
        self.assertEqual((found.text, found.dates, found.decimal, found.clock), (200, "system", "system", "system"))
        found.desktop = ["", "comma", "zzz", "24"]
        self.assertIn(written_of(found).dates, ("dmy", "mdy", "ymd"))


class Desktop(WindowTest):
    plans = False

    demo = False

    def test_the_order_of_a_date_is_read_from_its_pattern(self):
        told = {"dd/MM/yyyy": "dmy", "M/d/yy": "mdy", "yyyy-MM-dd": "ymd", "d MMM yyyy": "dmy", "": "dmy"}
        self.assertEqual({p: order(p) for p in told}, told)
