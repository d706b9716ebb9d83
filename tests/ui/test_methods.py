"""The Methods place in the real window: the list, the picture, the page, files in and out, steps ticked off."""

from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ravden.app import by_plan
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.method_files import write_method
from ravden.core.errors import InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.step import StepLogged
from ravden.text.say import whole_fault
from tests.ui.support import WindowTest, settle


class MethodsTest(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        found = self.session.catalogue
        self.session.log(
            InstrumentAdded(
                id="plover", name="Plover", instrument_kind="solid-body", material="lacquer-sprayed",
                measures=measures_of(found.kind("solid-body")), method="lacquer-fine-start", sheen="gloss",
                min_film_um=50.0,
            )
        )  # fmt: skip
        settle(self.window)
        self.choose("plover", "methods")
        self.view = self.window.methods
        self.control = self.window.places.methods

    def item(self, method_id):
        items = [self.view.list.item(i) for i in range(self.view.list.count())]
        return next(i for i in items if i.data(Qt.ItemDataRole.UserRole) == method_id)

    def tick(self, method_id, on=True):
        self.item(method_id).setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)
        settle(self.window)

    def offers(self):
        return {o.id: o for o in self.control.offers}


class Comparing(MethodsTest):
    def test_the_one_in_use_stands_first_and_is_compared(self):
        self.assertIn("(in use)", self.view.list.item(0).text())
        self.assertIn("lacquer-fine-start", self.offers())
        self.assertEqual(len(self.offers()), 3)
        self.assertGreater(self.colours(self.view.picture), 12)

    def test_ticking_compares_and_four_are_the_most(self):
        for done in list(self.offers())[1:]:
            self.tick(done, False)
        self.assertEqual(list(self.offers()), ["lacquer-fine-start"])
        for method in ("oil-and-wax", "shellac-pad-rounds", "two-part-clear"):
            self.tick(method)
        self.assertEqual(len(self.offers()), 4)
        oil, lacquer = self.offers()["oil-and-wax"], self.offers()["lacquer-fine-start"]
        self.assertLess(oil.ready[1], lacquer.ready[1])
        self.assertIn("h of hands", oil.numbers)
        self.assertRegex(lacquer.ready_words, r"likely ready .* \(nine in ten by .*\)")
        self.tick("oil-wiped")
        self.assertEqual(len(self.offers()), 4)
        self.assertIn("Four at most", self.view.note.text())
        self.assertEqual(self.item("oil-wiped").checkState(), Qt.CheckState.Unchecked)

    def test_a_click_in_the_picture_turns_the_page(self):
        second = self.control.offers[1]
        QTest.mouseClick(self.view.picture, Qt.MouseButton.LeftButton, pos=QPoint(200, 26 + 104 + 40))
        self.assertEqual(self.view.shown_id, second.id)
        self.assertIn(second.label, self.view.page.toPlainText())

    def test_the_page_says_every_step(self):
        self.view.pick("kit-in-a-week")
        text = self.view.page.toPlainText()
        for stage in self.session.catalogue.method("kit-in-a-week").stage:
            self.assertIn(stage.label, text)
        self.assertIn("Look for:", text)
        self.assertIn("Against it:", text)
        self.assertIn("data sheet", text)

    def test_us_units(self):
        self.window.looks.turn_units()
        settle(self.window)
        self.assertIn("mil", self.view.page.toPlainText())


class Choosing(MethodsTest):
    def test_a_method_is_taken_and_taken_back(self):
        self.view.pick("shellac-pad-rounds")
        self.assertEqual(self.view.use.text(), "Use it on Plover")
        self.view.use.click()
        settle(self.window)
        item = self.session.rack.instrument
        self.assertEqual((item.method, item.material, item.name), ("shellac-pad-rounds", "shellac-pad", "Plover"))
        self.assertEqual(self.view.use.text(), "In use on Plover")
        self.assertFalse(self.view.use.isEnabled())
        self.window.anywhere.undo()
        settle(self.window)
        self.assertEqual(self.session.rack.instrument.method, "lacquer-fine-start")

    def test_not_once_there_is_a_coat(self):
        self.session.log(CoatLogged(dry_um=12), instrument="plover")
        settle(self.window)
        self.view.pick("shellac-pad-rounds")
        self.assertFalse(self.view.use.isEnabled())
        self.view.use_asked.emit("shellac-pad-rounds")
        self.assertIn("before the first one", self.window.notice.text.text())

    def test_steps_are_ticked_off_with_one_key(self):
        self.window.turn_to("film")
        settle(self.window)
        self.assertIn("sand the bare wood", self.window.film.next_heading.text().lower())
        self.key(Qt.Key.Key_D)
        done = [e.body for e in self.session.entries if isinstance(e.body, StepLogged)]
        self.assertEqual(done[-1].step, "Sand the bare wood")
        self.assertIn("fill the pores", self.window.film.next_heading.text().lower())
        self.window.anywhere.step_skipped()
        self.assertIn("unfilled pores sink later", self.window.notice.text.text())
        for _ in range(2):
            self.key(Qt.Key.Key_D)
        self.key(Qt.Key.Key_D)
        self.assertIn("log the coat (C)", self.window.notice.text.text())
        self.window.film.side.turn_to("plan")
        settle(self.window)
        self.assertIn("Build", self.window.film.side.plan.steps.text())
        self.assertNotIn("Fill the pores", self.window.film.side.plan.steps.text())


class Files(MethodsTest):
    def test_out_changed_and_in_again(self):
        path = self.folder / "mine.toml"
        self.control.write("lacquer-fine-start", path)
        text = path.read_text()
        path.write_text(text.replace('"lacquer-fine-start"', '"my-own"').replace("count = 10", "count = 7"))
        self.control.read(path)
        settle(self.window)
        self.assertEqual(self.session.catalogue.method("my-own").coats, 7)
        by_plan.choose_method(self.session, "plover", "my-own")
        settle(self.window)
        self.window.close()
        self.window = self.open()
        self.assertEqual(self.session.shop.racked["plover"].instrument.method, "my-own")
        self.assertEqual(len(self.session.request("plover").run().forward.coats), 7)

    def test_a_faulty_file_changes_nothing(self):
        count = len(self.session.entries)
        bad = {
            "typo.toml": write_method(self.session.catalogue.method("oil-wiped")).replace("\ncount =", "\ncuont =", 1),
            "huge.toml": "x = 1\n" * 2_000_000, "code.toml": "import os\nos.remove('/')",
        }  # fmt: skip
        for name, text in bad.items():
            path = Path(self.folder / name)
            path.write_text(text)
            with self.assertRaises(InputError) as caught:
                self.control.read(path)
            self.assertIn(name, whole_fault(caught.exception))
        (self.folder / "latin.toml").write_bytes(b"\xff\xfe\x00")
        for name in ("latin.toml", "missing.toml"):
            with self.assertRaises(InputError):
                self.control.read(self.folder / name)
        self.assertEqual(len(self.session.entries), count)

    def test_a_shop_file_carries_its_methods(self):
        text = write_method(self.session.catalogue.method("oil-wiped")).replace('id = "oil-wiped"', 'id = "house-oil"')
        self.session.log(MethodKept(text=text, name="house.toml"))
        self.assertIn("house-oil", self.session.catalogue.methods)
        self.window.anywhere.undo()
        self.assertNotIn("house-oil", self.session.catalogue.methods)
