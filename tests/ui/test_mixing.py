"""The mixing desk in the window: every way, as one types, with a label, and mixed for a session."""

import re
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QFileDialog

from ravden.app import mixing
from ravden.core.ahead.waits import waits as waits_of
from ravden.core.stock.product import Figures, Product
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.session import MixMade, SessionBegun
from ravden.journal.kinds.stock import LotBought, ProductTold
from ravden.text.words import wait as in_words
from ravden.ui.places.film import waits as film_waits
from tests.ui.support import WindowTest, settle


class MixingTest(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to("mixing")
        settle(self.window)
        self.page = self.window.shop.mixing

    def type(self, name, text):
        box = self.page.inputs[name]
        if isinstance(box, QComboBox):
            box.setCurrentIndex(box.findData(text))
            box.activated.emit(box.currentIndex())
        else:
            box.clear()
            QTest.keyClicks(box, text)

    def test_it_begins_with_what_the_plan_wants_and_follows_each_key(self):
        self.assertEqual(self.page.inputs["finish"].currentData(), "lacquer-sprayed")
        self.type("ml", "240")
        self.assertEqual(self.page.pour.text(), "200 ml of sprayed lacquer\n40 ml of thinner")
        self.assertIn("14.2 % of it solids", self.page.told.text())
        self.assertIn("data sheet", self.page.warn.text())
        self.type("ratio", "50")
        self.assertEqual(self.page.pour.text(), "160 ml of sprayed lacquer\n80 ml of thinner")
        self.type("retarder", "25")
        self.assertIn("20 ml of retarder", self.page.pour.text())

    def test_what_is_wrong_is_told_at_its_field_and_nothing_is_offered(self):
        self.type("ml", "-4")
        self.assertTrue(self.page.faults["ml"].text())
        self.assertEqual(self.page.pour.text(), "")
        self.assertFalse(self.page.label.isEnabled())
        self.type("ml", "100")
        self.assertEqual(self.page.faults["ml"].text(), "")
        self.assertTrue(self.page.label.isEnabled())

    def test_every_way_pours_something_and_warns(self):
        for way, _ in mixing.WAYS:
            with self.subTest(way):
                self.page.turn(way)
                self.assertTrue(self.page.pour.text())
                self.assertTrue(self.page.title.text())
                self.assertEqual(way != "dye", bool(self.page.warn.text()))
        self.page.turn("flakes")
        self.type("ml", "500")
        self.assertIn("of dry flakes", self.page.pour.text())
        self.assertIn("Use it within 6 months", self.page.told.text())
        self.page.turn("hardener")
        self.assertIn("Once mixed it can be used for about 3 h", self.page.told.text())
        self.assertFalse(self.page.inputs["base_g_ml"].isEnabled())
        self.type("by", "weight")
        self.assertTrue(self.page.inputs["base_g_ml"].isEnabled())
        self.assertIn(" g of hardener", self.page.pour.text())

    def test_another_finish_has_its_own_thinning(self):
        self.type("finish", "shellac-pad")
        self.assertEqual(self.page.inputs["ratio"].text(), "0")
        self.assertIn("of pad shellac", self.page.pour.text())

    def test_a_label_for_the_jar(self):
        self.page.turn("flakes")
        path = self.folder / "label.pdf"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.page.label.click()
        self.assertTrue(path.read_bytes().startswith(b"%PDF"))
        session = self.window.session
        made = mixing.mixed(session, "flakes", self.page.typed())
        text = mixing.label(session, made)
        for words in ("2 lb cut", "of dry flakes", "mixed 2026-05-04", "Use until 2026-11-03", "data sheet"):
            self.assertIn(words, text)

    def test_a_finish_with_hardener_begins_with_its_own_data_sheet(self):
        session = self.window.session
        figures = Figures(hardener=0.5, density_g_ml=1.04, pot_h=2)
        session.log(ProductTold(product=Product(id="two", name="Two", material="two-part-clear", figures=figures)))
        self.page.turn("hardener")
        self.type("finish", "two-part-clear")
        self.assertEqual(self.page.inputs["hardener_parts"].text(), "1")  # none of it is on the shelf
        session.log(LotBought(product="two", ml=1000))
        self.type("finish", "two-part-clear")
        said = {name: self.page.inputs[name].text() for name in ("base_parts", "hardener_parts", "base_g_ml")}
        self.assertEqual(said, {"base_parts": "1", "hardener_parts": "0.5", "base_g_ml": "1.04"})
        self.assertIn("about 2 h at 20 °C", self.page.told.text())

    def test_a_pot_life_is_one_wherever_it_is_said(self):
        session = self.window.session
        usual = mixing.pot_of(session, "two-part-clear")
        session.log(
            ProductTold(product=Product(id="two", name="Two", material="two-part-clear", figures=Figures(pot_h=5)))
        )
        session.log(LotBought(product="two", ml=1000))
        told = mixing.pot_of(session, "two-part-clear")
        self.assertEqual((told.pot_min, told.halves_K), (300, usual.halves_K))
        added = session.catalogue.method("two-part-clear")
        body = replace(session.added("tern").body, id="two", name="Two", method=added.id, material=added.material)
        session.log(body, instrument="two")
        session.log(CoatLogged(dry_um=40), instrument="two")
        self.window.turn_to("film")
        settle(self.window)
        found = session.request("two").run()
        shown = film_waits.show(session, found, waits_of(found))
        said = next(t for _, t in shown.lines if "shallow cup" in t)
        temp_C = found.project.air[-1].temp_C
        self.assertIn(f"about {in_words(told.at(temp_C) / 60)};", said)

    def test_what_the_booth_makes_ready_is_what_the_desk_says(self):
        for ml in (37, 113, 240, 731):
            self.type("ml", str(ml))
            made = mixing.ready(self.window.session.catalogue.material("lacquer-sprayed"), ml)
            poured = [
                f"{p.amount:.0f} ml of {n}" for p, n in zip(made.parts, ("sprayed lacquer", "thinner"), strict=True)
            ]
            self.assertEqual(self.page.pour.text(), "\n".join(poured))
        self.key_in_booth()

    def key_in_booth(self):
        """The same amounts stand before a session."""
        self.window.session.select("heron", "test")
        self.window.turn_to("booth")
        settle(self.window)
        text = self.window.booth.before.mixes.text()
        base, thinner = (int(n) for n in re.findall(r"(\d+) ml of", text)[:2])
        again = mixing.ready(self.window.session.catalogue.material("lacquer-sprayed"), base + thinner)
        self.assertEqual([p.amount for p in again.parts], [base, thinner])

    def test_a_mix_is_drawn_with_no_session_too(self):
        self.type("ml", "240")
        self.page.mixed.click()
        settle(self.window)
        body = self.window.session.entries[-1].body
        self.assertEqual((body.ml, body.supplied_ml), (240, 200))
        self.assertIsNone(self.window.session.shop.session)

    def test_mixed_for_the_session_that_goes_on(self):
        self.window.session.log(SessionBegun(instruments=("heron",)))
        settle(self.window)
        self.type("ml", "240")
        self.page.mixed.click()
        settle(self.window)
        body = MixMade(material="lacquer-sprayed", ml=240, supplied_ml=200, thinner_ml=40)
        self.assertEqual(self.window.session.entries[-1].body, body)
        self.page.turn("flakes")
        self.page.mixed.click()
        settle(self.window)
        self.assertEqual(self.window.session.entries[-1].body.supplied_ml, 0)
