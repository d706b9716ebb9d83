"""The first start: three choices, a page of answers, the first instrument and its first coat; and the tour."""

from pathlib import Path
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.app import made_up, settings
from ravden.app.starting import methods_first, usual_file
from ravden.core.errors import InputError
from tests.ui.support import WindowTest, settle

CTRL = Qt.KeyboardModifier.ControlModifier
MOST_ACTS = 12


class HomeTest(WindowTest):
    """No file is open, and what is made is made in a home of its own."""

    demo = False

    def setUp(self):
        super().setUp()
        patch = mock.patch.dict("os.environ", {"RAVDEN_HOME": str(self.folder / "home")})
        patch.start()
        self.addCleanup(patch.stop)


class FirstStart(HomeTest):
    def test_from_nothing_to_a_first_coat_in_few_acts(self):
        acts = []

        def act(key, modifier=Qt.KeyboardModifier.NoModifier):
            acts.append(key)
            self.key(key, modifier)

        act(Qt.Key.Key_Space)  # Start my workshop has the keyboard
        self.assertIs(self.window.stack.currentWidget(), self.window.starting.page)
        act(Qt.Key.Key_Return, CTRL)  # every answer is there already
        page = self.window.page
        self.assertIs(self.window.stack.currentWidget(), page)
        acts.append("a name")
        QTest.keyClicks(page.inputs["name"], "Plover")
        act(Qt.Key.Key_Return, CTRL)
        self.assertIn("Plover is on the rack. Next:", self.window.notice.text.text())
        act(Qt.Key.Key_C)
        self.assertEqual(self.coats("plover"), 1)
        self.assertLessEqual(len(acts), MOST_ACTS)
        self.assertTrue((self.folder / "home" / "my-workshop.ravden").is_file())
        self.assertEqual(self.session.shop.name, "My workshop")
        self.assertTrue(self.session.shop.hours.week)

    def test_what_is_answered_holds_and_is_remembered(self):
        self.window.starting.choices.buttons["start"].click()
        page = self.window.starting.page
        page.name.setText("Heath Row")
        page.units.setCurrentIndex(page.units.findData("us"))
        page.lays["pad"].setChecked(True)
        for key, check in page.tools.items():
            check.setChecked(key == "comb")
        page.submit()
        settle(self.window)
        kept = settings.load(self.settings_file)
        self.assertEqual((kept.units, kept.lays, kept.tools), ("us", ["pad"], ["comb"]))
        self.assertTrue(self.session.units.us)
        self.assertEqual(self.session.tools, ("comb",))
        self.assertEqual(self.window.page.inputs["method"].itemData(0), "shellac-pad-rounds")
        self.assertEqual(self.session.journal.path.name, "heath-row.ravden")

    def test_a_place_that_cannot_be_written_is_told_and_nothing_is_made(self):
        self.window.starting.choices.buttons["start"].click()
        page = self.window.starting.page
        with mock.patch("ravden.app.starting.usual_file", return_value=Path("/proc/none/x.ravden")):
            page.submit()
        self.assertIn("cannot be written", page.fault.text())
        self.assertIsNone(self.session.journal)
        page.name.setText("x" * 200)
        page.submit()
        self.assertIn("shorter name", page.fault.text())
        QTest.keyClick(page, Qt.Key.Key_Escape)
        self.assertIs(self.window.stack.currentWidget(), self.window.starting.choices)

    def test_a_name_taken_gets_a_number_and_no_name_a_usual_one(self):
        first = usual_file("Heath Row")
        first.parent.mkdir(parents=True)
        first.touch()
        self.assertEqual(usual_file("Heath Row").name, "heath-row-2.ravden")
        self.assertEqual(usual_file("  ").name, "workshop.ravden")

    def test_a_refusal_comes_with_what_to_do_about_it(self):
        self.key(Qt.Key.Key_C)
        self.assertIn("No shop file is open", self.window.notice.text.text())
        self.assertEqual(self.window.notice.way.text(), "Start a workshop")
        self.window.notice.way.click()
        self.assertIs(self.window.stack.currentWidget(), self.window.starting.page)
        self.window.starting.page.submit()
        self.window.turn_to("rack")
        self.key(Qt.Key.Key_C)
        self.assertEqual(self.window.notice.way.text(), "Add an instrument")
        self.window.notice.way.click()
        self.assertIs(self.window.stack.currentWidget(), self.window.page)


class LookingAround(HomeTest):
    def setUp(self):
        super().setUp()
        self.window.starting.choices.buttons["look"].click()
        settle(self.window)

    def test_it_is_said_to_be_made_up_and_is_not_come_back_to(self):
        self.assertIn("Ferrow Lane (made up)", self.window.windowTitle())
        self.assertTrue(made_up.is_made_up(self.session.journal.path))
        self.assertEqual(self.session.tools, settings.TOOLS)
        self.assertEqual(settings.load(self.settings_file).last_file, "")

    def test_the_tour_goes_over_the_real_screens_and_is_left_with_esc(self):
        tour, seen = self.window.tour, []
        for _ in range(6):
            self.assertTrue(tour.isVisible())
            seen.append(self.window.place)
            self.key(Qt.Key.Key_Return)
        self.assertEqual(seen, ["rack", "film", "film", "booth", "rubout", "shop"])
        self.assertFalse(tour.isVisible())
        self.window.begin_tour()
        self.key(Qt.Key.Key_Right)
        self.key(Qt.Key.Key_Left)
        self.assertEqual(tour.at, 0)
        self.assertTrue(tour.ring.isVisible())
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(tour.isVisible() or tour.ring.isVisible())
        self.assertTrue(self.window.rack.lanes.hasFocus())

    def test_looking_around_twice_is_refused(self):
        with self.assertRaisesRegex(InputError, "look around"):
            self.window.starting.look_around()


class Order(WindowTest):
    demo = False

    def test_methods_laid_as_here_come_first_and_keep_their_order(self):
        every = [("a", "spray"), ("b", "brush"), ("c", "pad"), ("d", "brush")]
        self.assertEqual(methods_first(every, ["brush"]), ["b", "d", "a", "c"])
        self.assertEqual(methods_first(every, []), ["a", "b", "c", "d"])
