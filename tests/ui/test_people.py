"""Shop, People and booth: who works here and when, painted; stations, guns, days without spraying."""

from datetime import date

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ravden.journal.crew import Gun, Stations
from ravden.journal.kinds.crew import PersonSet
from tests.ui.support import WindowTest, settle

CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


class People(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to("people")
        settle(self.window)
        self.page = self.window.shop.people

    def crew(self):
        return self.session.shop.crew

    def keep(self):
        self.page.keep.click()
        settle(self.window)

    def at(self, day, hour):
        week = self.page.week
        return QPoint(round(40 + hour * 4 * (week.width() - 42) / 96) + 1, 18 + 24 * day + 10)

    def test_alone_there_is_nothing_to_set_up(self):
        self.assertIn("One pair of hands, in the shop's hours", self.page.note.text())
        self.assertEqual(self.page.who.currentText(), "Nobody named yet")
        self.assertTrue(self.page.leave.isHidden())
        self.assertFalse(self.page.week.isEnabled())
        self.keep()
        self.assertIn("give a name", self.page.faults["name"].text())
        self.assertEqual(self.crew().hands, ())

    def test_a_week_is_painted_with_the_mouse_and_kept(self):
        page = self.page
        page.name.setText("Odd")
        page.buffs.setChecked(False)
        page.own.setChecked(True)
        page.week.show_cells(tuple((False,) * 96 for _ in range(7)))
        QTest.mousePress(page.week, Qt.MouseButton.LeftButton, pos=self.at(0, 8))
        QTest.mouseMove(page.week, self.at(0, 11.75))
        QTest.mouseRelease(page.week, Qt.MouseButton.LeftButton, pos=self.at(0, 11.75))
        page.away.setPlainText("2026-05-11 to 2026-05-12")
        self.keep()
        hand = self.crew().named("Odd")
        self.assertEqual(hand.week, (((8.0, 12.0),), (), (), (), (), (), ()))
        self.assertEqual((hand.sprays, hand.buffs), (True, False))
        self.assertEqual([(o.first, o.last) for o in self.crew().off], [(date(2026, 5, 11), date(2026, 5, 12))])
        self.assertIn(
            "Mon 8–12; Tue free", page.week.accessibleDescription().replace("Monday", "Mon").replace("Tuesday", "Tue")
        )
        doings = self.window.places.planning.days.doings
        self.assertEqual({d.at.weekday() for d in doings if d.who == "Odd" and d.kind != "case"}, {0})
        self.assertNotIn(date(2026, 5, 11), {d.at.date() for d in doings})
        page.away.setPlainText("")
        self.keep()
        self.assertEqual(self.crew().off, ())

    def test_a_week_is_painted_with_the_keys(self):
        page = self.page
        page.own.setChecked(True)
        page.week.show_cells(tuple((False,) * 96 for _ in range(7)))
        page.week.setFocus()
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Right):
            QTest.keyClick(page.week, key)
        QTest.keyClick(page.week, Qt.Key.Key_Space, SHIFT)
        QTest.keyClick(page.week, Qt.Key.Key_Space)
        page.name.setText("Ida")
        QTest.keyClick(page.name, Qt.Key.Key_Return, CTRL)
        settle(self.window)
        self.assertEqual(self.crew().named("Ida").week[1], ((8.25, 9.5),))

    def test_a_preset_a_second_one_a_new_name_and_leaving(self):
        page = self.page
        page.name.setText("Odd")
        page.presets[1].click()
        self.keep()
        self.assertEqual(self.crew().named("Odd").week[0], ((18.0, 21.5),))
        page.who.setCurrentIndex(page.who.count() - 1)
        page.who.activated.emit(page.who.count() - 1)
        self.assertIn("Somebody more", page.note.text())
        page.name.setText("Odd")
        self.keep()
        self.assertIn("works here already", page.faults["name"].text())
        page.name.setText("Ida")
        self.keep()
        self.assertEqual([h.name for h in self.crew().hands], ["Odd", "Ida"])
        self.assertEqual(self.crew().named("Ida").week, ())
        page.name.setText("Idun")
        self.keep()
        self.assertEqual([h.name for h in self.crew().hands], ["Odd", "Idun"])
        page.leave.click()
        settle(self.window)
        self.assertEqual([h.name for h in self.crew().hands], ["Odd"])
        page.week.show_cells(tuple((False,) * 96 for _ in range(7)))
        page.own.setChecked(True)
        self.keep()
        self.assertIn("at least one stretch", page.faults["week"].text())

    def test_stations_guns_and_days_without_spraying(self):
        page = self.page
        labels = [label.text() for label, _, _ in page.guns if label.isVisible()]
        self.assertEqual(labels, ["Sprayed lacquer"])
        page.stations["arbors"].setText("2")
        page.stations["drying_places"].setText("4")
        page.company.setCurrentIndex(2)
        _, fields, fault = page.guns[0]
        fields["setup_min"].setText("soon")
        page.keep_booth.click()
        self.assertIn("soon is no whole number", fault.text())
        self.assertEqual(self.crew().stations, Stations())
        fields["setup_min"].setText("30")
        fields["dampest"].setText("65")
        page.struck.setPlainText("2026-05-05 to 2026-05-06")
        page.keep_booth.click()
        settle(self.window)
        crew = self.crew()
        self.assertEqual(crew.stations, Stations(arbors=2, drying_places=4))
        self.assertEqual(
            (crew.company_days, dict(crew.guns)), (7, {"lacquer-sprayed": Gun(setup_min=30, dampest=0.65)})
        )
        self.assertEqual(crew.struck, frozenset({date(2026, 5, 5), date(2026, 5, 6)}))
        days = self.window.places.planning.days
        self.assertEqual({d.minutes for d in days.doings if d.what == "Set up"}, {30})
        self.assertFalse({d.at.date() for d in days.doings if d.kind == "coats"} & crew.struck)
        count = len(self.session.entries)
        page.keep_booth.click()
        self.assertEqual(len(self.session.entries), count)  # what is as it was is not told again
        page.struck.setPlainText("some day")
        page.keep_booth.click()
        self.assertIn("some day", page.faults["struck"].text())

    def test_nobody_who_sprays(self):
        self.session.log(PersonSet(name="Ida", sprays=False), origin="test")
        settle(self.window)
        self.assertEqual([n.name for n in self.window.places.planning.days.unplanned], ["Heron"])
        self.window.turn_to("rack")
        self.window.rack.days_ahead.setChecked(True)
        settle(self.window)
        none = [row.cells[2] for row in self.window.rack.days.model.rows if row.cells[1] == "Heron"]
        self.assertIn("Nobody is here so long who may do one of its steps", none[0])

    def test_what_was_typed_stays_while_nothing_else_is_told(self):
        self.page.name.setText("Od")
        self.clock.turn(minutes=1)
        self.window.tick.timeout.emit()
        settle(self.window)
        self.assertEqual(self.page.name.text(), "Od")
        self.session.log(PersonSet(name="Ida"), origin="test")
        settle(self.window)
        self.assertEqual(self.page.name.text(), "Ida")
