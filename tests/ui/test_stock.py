"""The shelf's page in the window: told, bought, opened, weighed, asked about, and what to buy."""

from datetime import timedelta
from pathlib import Path
from unittest import mock

from PyQt6.QtWidgets import QFileDialog

from ravden.core.stock.product import Product
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.stock import CanWeighed, LotBought, LotGone, LotOpened, LotTaken, ProductTold
from tests.ui.support import NOW, WindowTest, settle


class ShelfTest(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to("stock")
        settle(self.window)
        self.page = self.window.shop.stock

    def test_what_is_wanted_is_drawn_again_when_an_outlook_comes(self):
        seen = []
        show = self.window.places.shop.stock.show

        def shows():
            seen.append({i: f.progress.coats_done for i, f in self.window.places.found.items()})
            show()

        with mock.patch.object(self.window.places.shop.stock, "show", shows):
            before = self.window.places.found["heron"].progress.coats_done
            self.session.log(CoatLogged(dry_um=12), instrument="heron")
            settle(self.window)
        self.assertEqual(seen[-1]["heron"], before + 1)

    def press(self, name):
        self.page.buttons[name].click()
        settle(self.window)

    def fill(self, **typed):
        for name, text in typed.items():
            box = self.window.card.inputs[name]
            if hasattr(box, "findData"):
                box.setCurrentIndex(box.findData(text))
            else:
                box.setText(text)
        self.window.card.submit()
        settle(self.window)

    def shelf(self, lots=1, **fields):
        """A lacquer with cans of 5 l, opened one after the other before the first coat."""
        session = self.window.session
        session.log(
            ProductTold(product=Product(id="bench", name="Bench lacquer", material="lacquer-sprayed", **fields))
        )
        out = []
        for n in range(lots):
            lot = session.log(LotBought(product="bench", ml=5000), at=NOW - timedelta(days=60)).id
            session.log(LotOpened(lot=lot), at=NOW - timedelta(days=40 - n))
            out.append(lot)
        settle(self.window)
        return out

    def row(self):
        return self.page.model.rows[0]

    def test_from_nothing_to_a_can_that_is_weighed(self):
        self.assertFalse(self.page.empty.isHidden())
        self.assertTrue(self.page.list.isHidden())
        self.press("product")
        self.fill(name="", product_kind="finish", material="lacquer-sprayed")
        self.assertTrue(self.window.card.faults["name"].text())
        self.fill(name="Bench lacquer", product_kind="finish", material="lacquer-sprayed", cans="1 l at 28")
        self.assertEqual((self.row().name, self.row().left), ("Bench lacquer", "none"))
        self.assertIn("short of", self.row().reach)
        self.assertIn("Buy 1 × 1 l, 28.00 in all", self.page.buy.text())
        self.press("bought")
        self.fill(use_by="some day")
        self.assertTrue(self.window.card.faults["use_by"].text())
        self.fill(use_by="", place="top shelf")
        (lot,) = self.window.session.shop.stock.lots.values()
        self.assertEqual((lot.ml, lot.price, lot.place), (1000, 28, "top shelf"))
        self.assertEqual((self.row().left, self.row().age), ("1 l", "fine"))
        self.assertIn("enough for", self.row().reach)
        self.press("opened")
        self.assertFalse(self.page.buttons["opened"].isEnabled())
        self.press("weighed")
        self.fill(g="700", empty_g="150", density="")
        self.assertTrue(self.window.card.faults["density"].text())
        self.fill(density="0.92")
        self.assertEqual(self.row().left, "600 ml")
        self.assertAlmostEqual(self.window.session.shop.stock.products["bench-lacquer"].figures.density_g_ml, 0.92)
        self.press("weighed")
        self.assertEqual(self.window.card.inputs["density"].text(), "0.92")  # told once is told for good
        self.window.card.hide()
        self.press("gone")
        self.fill(what="thrown", why="gelled")
        self.assertEqual(self.row().left, "none")
        self.assertIn("short of", self.row().reach)
        self.window.session.undo()
        settle(self.window)
        self.assertEqual(self.row().left, "600 ml")

    def test_the_coat_key_draws_from_the_open_can(self):
        (lot,) = self.shelf()
        text = self.page.cans[lot].text()
        self.window.session.select("heron", "test")
        self.window.anywhere.log_coat()
        settle(self.window)
        self.assertNotEqual(self.page.cans[lot].text(), text)

    def test_two_open_cans_ask_and_one_press_answers(self):
        first, second = self.shelf(lots=2)
        self.assertIn("2 cans of sprayed lacquer are open", self.page.told.text())
        self.assertFalse(self.page.buttons["taken"].isHidden())
        self.page.cans[second].click()
        with mock.patch.object(self.window.session, "log", wraps=self.window.session.log) as logged:
            self.press("taken")
        self.assertEqual(logged.call_args.args[0], LotTaken(lot=second))
        self.assertIn("which one is used", self.page.told.text())  # of what came before nobody has said it yet
        self.window.session.log(LotGone(lot=first, what="empty"))
        settle(self.window)
        self.assertTrue(self.page.told.isHidden())

    def test_more_drawn_than_was_in_it_is_asked_about(self):
        (lot,) = self.shelf()
        self.window.session.log(CanWeighed(lot=lot, left_ml=1), at=NOW - timedelta(days=39))
        settle(self.window)
        self.assertIn("more was drawn than was in the can", self.page.told.text())
        self.assertIn("more drawn than was in it", self.page.cans[lot].text())

    def test_a_product_is_changed_and_no_longer_bought(self):
        self.shelf()
        self.press("edit")
        self.fill(name="Clear lacquer", volume_solids="22", recoat_h="1")
        self.assertEqual(self.row().name, "Clear lacquer")
        self.assertIn("22 % by its data sheet; plans reckon with 17 %", self.page.facts.text())
        self.press("dropped")  # there is a can of it
        self.assertIn("say first what became of them", self.window.notice.text.text())
        lot = next(iter(self.window.session.shop.stock.lots))
        self.window.session.log(LotGone(lot=lot, what="empty"))
        settle(self.window)
        self.press("dropped")
        self.assertEqual(self.page.model.rows, ())

    def test_to_a_table_the_list_and_from_a_table(self):
        self.shelf()
        shelf, buy = self.folder / "shelf.csv", self.folder / "buy.txt"
        for name, path in (("write", shelf), ("list", buy)):
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
                self.press(name)
        self.assertIn("Bench lacquer,finish,lacquer-sprayed", shelf.read_text())
        self.assertIn("[ ] Pad shellac", buy.read_text())
        shelf.write_text("product,what,finish,content_ml\nPolish,finish,shellac-pad,500\nBad,soap,,1\n")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(shelf), "")):
            self.press("read")
        self.assertIn("row 3", self.window.notice.text.text())
        self.assertEqual([r.name for r in self.page.model.rows], ["Bench lacquer", "Polish"])

    def test_the_book_says_what_it_cost_and_the_paper_for_its_owner_does_not(self):
        self.shelf(cans=())
        lot = next(iter(self.window.session.shop.stock.lots))
        self.window.session.correct(lot, LotBought(product="bench", ml=5000, price=200.0))
        self.window.session.select("tern", "test")
        self.window.session.hand_over(NOW)
        self.window.shop.pages.turn_to("book")
        settle(self.window)
        self.window.shop.book.search.setText("Tern")
        self.window.shop.book.pick(0)
        settle(self.window)
        self.assertRegex(self.window.shop.book.record.toPlainText(), r"For the shop alone\. Material: \d+\.\d\d\.")
        written = []
        with mock.patch("ravden.ui.shell.one_page.write", side_effect=lambda body, *_: written.append(body)):
            self.window.places.shop.book.write_record(self.folder / "r.pdf")
        self.assertNotIn("For the shop alone", written[0])

    def test_a_quote_from_the_menu(self):
        self.window.session.select("tern", "test")
        self.window.exchange.quote_out()
        settle(self.window)
        path = self.folder / "quote.pdf"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.fill(days="no")
            self.assertTrue(self.window.card.faults["days"].text())
            self.assertFalse(path.exists())
            self.fill(days="14", price="1,850")
        self.assertTrue(path.read_bytes().startswith(b"%PDF"))
        self.assertFalse(self.window.card.isVisible())

    def test_forty_products_stay_readable_in_the_smallest_window(self):
        for n in range(40):
            made = Product(id=f"p{n}", name=f"Product of a rather long name {n:02d}", material="lacquer-sprayed")
            self.window.session.log(ProductTold(product=made))
        self.window.resize(1120, 720)
        settle(self.window)
        self.assertEqual(len(self.page.model.rows), 40)
        shown = self.page.list
        self.assertLessEqual(shown.horizontalHeader().length(), shown.viewport().width() + 1)
        self.assertGreaterEqual(shown.height(), 4 * shown.rowHeight(0))
        self.assertTrue(Path(self.path).exists())
