"""Slips of the hand are asked about before they are believed; one key either way, and no answer leaves the record as it
was."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from tests.ui.support import WindowTest, settle


class Slips(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        self.session.select("tern", "test")
        self.window.turn_to("film")
        settle(self.window)
        self.card = self.window.card

    def ask(self, kind, **typed):
        self.window.anywhere.ask(kind)
        for name, value in typed.items():
            box = self.card.inputs[name]
            box.setText(value) if hasattr(box, "setText") else box.setCurrentIndex(box.findData(value))
        self.before = len(self.session.entries)
        QTest.keyClick(self.card.inputs["um" if "um" in typed else next(iter(typed))], Qt.Key.Key_Return)

    def logged(self):
        settle(self.window)
        return [e.body for e in self.session.entries[self.before :]]

    def test_a_reading_ten_times_too_thick_is_asked_about(self):
        self.ask("reading", um="1300")
        self.assertEqual(self.logged(), [])
        self.assertTrue(self.card.isVisible())
        self.assertIn("130 or 1300 µm?", self.card.fault.text())
        self.assertIn("is believed there", self.card.fault.text())
        QTest.keyClick(self.card, Qt.Key.Key_1)
        self.assertEqual([b.um for b in self.logged() if isinstance(b, ReadingLogged)], [130])
        self.assertFalse(self.card.isVisible())

    def test_or_believed_as_typed(self):
        self.ask("reading", um="1300")
        QTest.keyClick(self.card, Qt.Key.Key_2)
        self.assertEqual([b.um for b in self.logged()], [1300])

    def test_and_left_alone_nothing_is_logged(self):
        self.ask("reading", um="13")
        self.assertIn("130 or 13 µm?", self.card.fault.text())
        QTest.keyClick(self.card, Qt.Key.Key_Return)  # typed on by habit: no answer
        self.assertEqual(self.logged(), [])
        QTest.keyClick(self.card, Qt.Key.Key_Escape)
        self.assertEqual(self.logged(), [])
        self.assertFalse(self.card.isVisible())
        self.ask("reading", um="125")  # what fits is asked nothing
        self.assertEqual([b.um for b in self.logged()], [125])

    def test_a_sanding_that_takes_most_of_the_film(self):
        self.ask("sanding", um="80", purpose="scuff")
        self.assertIn("8 or 80 µm?", self.card.fault.text())
        QTest.keyClick(self.card, Qt.Key.Key_1)
        self.assertEqual([b.um for b in self.logged() if isinstance(b, SandingLogged)], [8])

    def test_a_coat_ten_times_too_heavy(self):
        self.window.anywhere.ask("coat")
        field = next(f for f in ("dry_um", "wet_um", "um") if f in self.card.inputs)
        usual = self.card.inputs[field].text().replace(",", ".")
        self.card.inputs[field].setText(f"{float(usual) * 10:g}")
        self.before = len(self.session.entries)
        self.card.submit()
        self.assertEqual(self.logged(), [])
        self.assertIn("a coat is usually", self.card.fault.text())
        QTest.keyClick(self.card, Qt.Key.Key_1)
        self.assertAlmostEqual(float(self.card.inputs[field].text().replace(",", ".")), float(usual), places=1)
        self.assertEqual(len(self.logged()), 1)

    def test_a_levelling_days_before_its_window(self):
        self.session.select("heron", "test")
        settle(self.window)
        self.ask("sanding", um="2", purpose="level")
        self.assertEqual(self.logged(), [])
        self.assertIn("at the earliest", self.card.fault.text())
        self.assertFalse(self.card.likely.isVisible())
        QTest.keyClick(self.card, Qt.Key.Key_2)
        self.assertEqual(len(self.logged()), 1)

    def test_the_air_off_another_scale(self):
        self.ask("air", temp_C="68")
        self.assertIn("68 °C? Or 20 °C?", self.card.fault.text())
        QTest.keyClick(self.card, Qt.Key.Key_1)
        self.assertEqual([b.temp_C for b in self.logged()], [20])

    def test_in_inches_too(self):
        self.session.set_units("us")
        settle(self.window)
        self.ask("reading", um="130")  # micrometers, where thousandths are asked for
        self.assertIn("or 130 mil?", self.card.fault.text())
        QTest.keyClick(self.card, Qt.Key.Key_1)
        self.assertAlmostEqual(self.logged()[0].um, 130, delta=1)

    def test_a_coat_on_what_is_not_dry_is_asked_about_by_key_too(self):
        for name in ("wren", "heron"):  # by habit, where none is planned, and by its film
            with self.subTest(name):
                self.session.select(name, "test")
                settle(self.window)
                self.key(Qt.Key.Key_C)
                before = len(self.session.entries)
                self.clock.turn(minutes=1)
                self.key(Qt.Key.Key_C)
                self.assertEqual(len(self.session.entries), before)
                self.assertTrue(self.card.isVisible())
                said = r"A coat 5 min after the last\? That one is dry for it about .*, .* later\."
                self.assertRegex(self.card.fault.text(), said)
                self.assertIn("all the same", self.card.as_typed.text())
                QTest.keyClick(self.card, Qt.Key.Key_Escape)
                self.assertEqual(len(self.session.entries), before)
                self.key(Qt.Key.Key_C)
                QTest.keyClick(self.card, Qt.Key.Key_2)
                settle(self.window)
                self.assertEqual([type(e.body) for e in self.session.entries[before:]], [CoatLogged])
                self.clock.turn(hours=24)
                self.key(Qt.Key.Key_C)  # dry by now: nothing is asked
                self.assertEqual(len(self.session.entries), before + 2)
