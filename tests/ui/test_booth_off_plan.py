"""Sessions that do what the plan has not: an extra coat, paper, some zones alone, an order of one's own."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap

from ravden.journal.booth import SessionPart
from ravden.journal.kinds.booth_acts import PassLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import SessionBegun
from ravden.journal.kinds.zones import ZonesSet
from ravden.ui.places.booth import before
from ravden.ui.theme import style
from ravden.ui.widgets.row_button import RowButton
from tests.ui.support import settle
from tests.ui.test_booth_session import Bench


class OffPlan(Bench):
    """Tern waits to be levelled: the plan has neither coat nor paper for it yet."""

    def row(self, name):
        return self.booth.before.ids.index(name)

    def text(self, name):
        return self.booth.before.rows[self.row(name)].text()

    def only(self, name):
        self.window.places.booth.choosing.choice.by_hand = {i: False for i in self.session.shop.racked if i != name}
        self.window.places.booth.show()
        settle(self.window)

    def test_what_waits_is_offered_last_and_takes_a_coat_all_the_same(self):
        self.only("tern")
        self.assertEqual(self.booth.before.ids[-1], "tern")
        self.assertIn("nothing for hands now", self.text("tern"))
        self.press(Qt.Key(Qt.Key.Key_1 + self.row("tern")))
        self.assertIn("a coat off the plan", self.text("tern"))
        self.assertIn("sprayed lacquer", self.booth.before.mixes.text())
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.last().parts, (SessionPart(instrument="tern", off_plan="coat"),))
        self.assertEqual(self.booth.run.now.text(), "Extra coat 1, pass 1 of 2")
        before = self.coats("tern")
        self.press(Qt.Key.Key_Space)
        self.press(Qt.Key.Key_Space, after_s=70)
        self.assertEqual(self.last(), CoatLogged(dry_um=12))
        self.assertEqual(self.coats("tern"), before + 1)
        self.assertEqual(self.booth.run.now.text(), "Extra coat 2, pass 1 of 2")
        self.assertEqual(self.booth.run.tally.done, 1)
        self.assertEqual(self.booth.run.count.text(), "1 h 30")
        self.press(Qt.Key.Key_E)
        told = " ".join(label.text() for label in self.booth.after.lines)
        self.assertIn("1 coat laid, 0 planned", told)

    def test_the_session_goes_on_as_it_was_after_a_restart(self):
        self.only("tern")
        self.press(Qt.Key(Qt.Key.Key_1 + self.row("tern")))
        self.press(Qt.Key.Key_Space)
        self.press(Qt.Key.Key_Space)
        self.clock.turn(seconds=20)
        self.window = self.open()
        self.choose("tern", "booth")
        run = self.window.booth.run
        self.assertEqual((run.now.text(), run.count.text()), ("Extra coat 1, pass 2 of 2", "0:40"))

    def test_out_again_and_paper_once_the_film_bears_it(self):
        self.clock.turn(days=30)
        self.window.places.refresh(tuple(self.session.shop.racked))
        settle(self.window)
        self.session.select("heron", "test")
        settle(self.window)
        choice = before.Choice()
        waits = before.Row(id="tern", turn=None, chosen=False, planned=False)
        there = [choice.off_plan.get("tern", "")]
        for _ in range(3):
            choice.turn(waits, sandable=True)
            there.append(choice.off_plan["tern"])
            waits = before.Row(id="tern", turn=None, chosen=choice.by_hand["tern"], planned=False)
        self.assertEqual(there, ["", "coat", "paper", ""])
        self.window.places.booth.choosing.choice.by_hand = {i: i == "tern" for i in self.session.shop.racked}
        self.window.places.booth.choosing.choice.off_plan = {"tern": "paper"}
        self.window.places.booth.choosing.choice.zones = {"tern": ("back", "top")}
        self.window.places.booth.show()
        self.assertIn("paper, off the plan", self.text("tern"))
        self.press(Qt.Key.Key_Space)
        self.assertTrue(self.booth.run.now.text().endswith("on the back"), self.booth.run.now.text())
        self.assertIn("1&nbsp;Back", self.booth.run.zones.text())
        first = self.booth.run.now.text().split(" on ")[0]  # of these two, by the odds of their own film
        self.press(Qt.Key.Key_Space, after_s=600)
        self.assertIsInstance(self.last(), SandingLogged)
        self.assertEqual((self.last().zones, self.last().grade, self.last().part), (("back",), first, True))
        self.assertEqual(self.booth.run.now.text(), f"{first} on the top")

    def test_some_zones_in_an_order_of_ones_own(self):
        self.only("heron")
        self.press(Qt.Key.Key_Z)
        pick = self.booth.zone_pick
        self.assertTrue(pick.isVisible())
        last = [b for b in pick.buttons if not b.isHidden()][-1]
        self.assertLess(pick.height(), 2 * last.geometry().bottom())  # no higher than its zones want
        self.assertIn("Heron", pick.heading.text())
        self.press(Qt.Key.Key_3)
        pick.buttons[0].click()
        self.press(Qt.Key.Key_2)
        self.press(Qt.Key.Key_2)
        self.assertEqual(pick.order, ("sides", "top"))
        self.assertIn("✓ first", pick.buttons[2].text())
        self.press(Qt.Key.Key_Space)
        self.assertFalse(pick.isVisible())
        self.assertIsNone(self.session.shop.session)  # Space was the card's
        self.assertEqual(self.booth.before.zones[self.row("heron")].text(), "2 zones")
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.booth.run.now.text(), "Coat 1 on the sides and top, pass 1 of 2")
        before = self.session.rack.project
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), PassLogged)
        self.press(Qt.Key.Key_Space, after_s=70)
        self.assertEqual(self.last(), CoatLogged(dry_um=12, zones=("sides", "top")))
        self.assertIn("Coat of the sides, top on Heron", self.told())
        after = self.session.rack.project
        self.assertEqual(len(after.coats), len(before.coats) + 1)
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        self.wait(days=1)
        self.assertIn("coat 8 of 10", self.text("heron"))  # the plan's own coats are still to come

    def test_all_zones_in_another_order_are_the_plans_coat(self):
        self.only("heron")
        open_zones = self.session.rack.open_zones
        self.booth.zone_pick.picked.emit("heron", open_zones[::-1])
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.booth.run.now.text(), "Coat 8 of 10, pass 1 of 2")
        labels = [self.session.rack.project.zone(z).label.replace(" ", "&nbsp;") for z in open_zones[::-1]]
        places = [self.booth.run.zones.text().index(label) for label in labels]
        self.assertEqual(places, sorted(places))
        self.press(Qt.Key.Key_Space)
        self.session.log(ZonesSet(masked=("neck",)), instrument="heron")  # in the middle of it
        settle(self.window)
        self.assertNotIn("Neck", self.booth.run.zones.text())
        self.press(Qt.Key.Key_Space, after_s=70)
        self.assertIsNone(self.last().zones)

    def test_all_again_and_no_change(self):
        self.only("heron")
        choice = self.window.places.booth.choosing.choice
        self.booth.before.zones[self.row("heron")].click()
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Backspace)
        self.press(Qt.Key.Key_Return)
        self.assertEqual(choice.zones, {"heron": ()})
        self.press(Qt.Key.Key_Z)
        self.press(Qt.Key.Key_4)
        self.press(Qt.Key.Key_Escape)
        self.assertEqual(choice.zones, {"heron": ()})
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.last().parts, ())

    def test_masked_zones_are_not_offered(self):
        shown = {b.text().split("   ")[1] for b in self.pick_of("heron")}
        self.assertIn("Neck", shown)
        self.session.log(ZonesSet(masked=("neck",)), instrument="heron")
        shown = {b.text().split("   ")[1] for b in self.pick_of("heron")}
        self.assertNotIn("Neck", shown)

    def pick_of(self, name):
        self.window.places.booth.choosing.ask_zones(name)
        buttons = [b for b in self.booth.zone_pick.buttons if not b.isHidden()]
        self.booth.zone_pick.hide()
        return buttons


class Rows(Bench):
    def test_a_long_row_ends_in_dots_and_leaves_its_neighbours_room(self):
        self.add("plover-of-the-very-long-name", "acrylic-lacquer")
        self.window.resize(1120, 720)
        settle(self.window)
        page = self.booth.before
        for row, zones, up in zip(page.rows, page.zones, page.ups, strict=True):
            for small in (zones, up):
                if small.isVisible():
                    right = small.mapTo(page, small.rect().topRight()).x()
                    self.assertLess(right, page.begin.mapTo(page, page.begin.rect().topRight()).x() + 2)
                    self.assertGreaterEqual(small.x(), row.x() + row.width())

    def test_dots_are_painted(self):
        row = RowButton()
        style.dress(row)
        self.addCleanup(row.deleteLater)
        row.setText("a row of many words that can never fit here")
        row.resize(120, 40)
        narrow = QPixmap(row.size())
        row.render(narrow)
        row.setText("a row of many wo")
        cut = QPixmap(row.size())
        row.render(cut)
        self.assertNotEqual(narrow.toImage(), cut.toImage())


class Parts(Bench):
    def test_the_entry_of_a_plain_session_is_as_it_was(self):
        self.begin()
        self.assertEqual(self.last(), SessionBegun(instruments=("heron",), unchecked=self.last().unchecked))
