"""What the shop knows, whether Ravden was right, and the fuller Book, through the window."""

from unittest import mock

from PyQt6.QtCore import QEventLoop, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog

from ravden.app.foretold_kept import foretold_of
from ravden.core.ahead.foretold import WINDOW, Foretold
from ravden.journal.kinds.handed_over import CheckSeen, HandedOver
from ravden.journal.kinds.learning import LearningRuled
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.ui.places.shop import right_control
from tests.ui.support import NOW, WindowTest, settle


class Knows(WindowTest):
    def turn(self, page):
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to(page)
        settle(self.window)
        return {"knows": self.window.shop.knows, "right": self.window.shop.right, "book": self.window.shop.book}[page]

    def test_nothing_learnt_says_where_it_would_come_from(self):
        with mock.patch("ravden.app.learnt_here.figures", return_value=()):
            page = self.turn("knows")
        self.assertIn("what you log anyway", page.told.text())
        self.assertFalse(page.list.isVisible() or page.freeze.isEnabled())

    def test_a_figure_is_shown_with_its_evidence_frozen_and_set_back(self):
        self.session.log(
            SandingLogged(um=9, grade="P800", mode="wet", texture_um=30.0, zones=("top",)), instrument="tern"
        )
        page = self.turn("knows")
        names = [f.name for f in page.model.rows]
        self.assertTrue(any(n.startswith("Film of a coat: sprayed lacquer") for n in names), names)
        line = next(i for i, f in enumerate(page.model.rows) if f.key.startswith("texture/"))
        page.pick(line)
        self.assertIn("Tern", page.evidence.text())
        self.assertIn("the first grit", page.facts.text())
        (table,) = self.window.places.shop.tables()
        self.assertEqual([row[1] for row in table.rows], [f.name for f in page.model.rows])
        QTest.mouseClick(page.freeze, Qt.MouseButton.LeftButton)
        settle(self.window)
        body = self.session.entries[-1].body
        self.assertIsInstance(body, LearningRuled)
        self.assertEqual((body.what, page.figure.frozen, page.freeze.text()), ("freeze", True, "Go on learning"))
        QTest.mouseClick(page.back, Qt.MouseButton.LeftButton)
        settle(self.window)
        self.assertFalse(any(f.key.startswith("texture/") for f in page.model.rows))
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(any(f.key.startswith("texture/") for f in page.model.rows))

    def test_what_came_is_drawn_told_and_had_as_a_table(self):
        page = self.turn("right")
        self.assertRegex(page.told.text(), r"Of all that was foretold, \d+ of \d+ within the range")
        said = page.picture.accessibleDescription()
        self.assertIn("Tern, top", said)
        self.assertIn("foretold", said)
        (table,) = self.window.places.shop.tables()
        self.assertEqual(table.columns[-1], "inside")
        self.assertEqual(len(table.rows), len(self.window.places.shop.right.told()))
        self.assertFalse(page.grab().isNull())

    def test_where_nothing_came_yet_it_says_what_it_needs_and_draws_nothing(self):
        with mock.patch.object(right_control.was_right, "finished", return_value=()):
            page = self.turn("right")
        self.assertIn("it needs a gauge reading", page.told.text())
        self.assertFalse(page.picture.isVisible() or page.about.isVisible() or page.heading.isVisible())
        self.turn("knows")
        page = self.turn("right")
        self.assertTrue(page.picture.isVisible() and page.about.isVisible() and page.heading.isVisible())

    def test_a_new_reading_is_one_more_that_came(self):
        page = self.turn("right")
        before = len(self.window.places.shop.right.told())
        self.session.log(ReadingLogged(zone="back", um=400, n=3), instrument="tern")
        settle(self.window)
        told = self.window.places.shop.right.told()
        self.assertEqual(len(told), before + 1)
        self.assertFalse(told[-1].inside)
        self.assertIn("more than foretold", page.picture.accessibleDescription())

    def test_waits_that_agree_offer_a_rate_which_is_taken_over_in_one_press(self):
        waits = tuple(
            Foretold(what=WINDOW, of="tern", name="Tern", label="", finish="lacquer-sprayed", at=NOW, low=150.0,
                     likely=240.0, high=400.0, came_low=140.0, came_high=150.0) for _ in range(3)
        )  # fmt: skip
        with mock.patch.object(right_control.was_right.Asked, "run", return_value=waits):
            page = self.turn("right")
            self.assertIn("take the shop's rate over?", page.sentences[0].text())
            QTest.mouseClick(page.take["lacquer-sprayed"], Qt.MouseButton.LeftButton)
            settle(self.window)
            self.assertIsInstance(self.session.entries[-1].body, RateAccepted)
            self.assertGreater(self.session.shop.rates["lacquer-sprayed"][0], 0.1)
            self.assertEqual(page.take, {})
            self.assertIn("in use since", page.sentences[0].text())

    def test_further_back_is_asked_for_where_the_book_is_long(self):
        for name in ("tern", "wren"):
            self.session.log(HandedOver(), instrument=name)
        with mock.patch.object(right_control, "AT_ONCE", 1):
            self.window = self.open()
            page = self.turn("right")
        right = self.window.places.shop.right
        asked = {f.of for f in right.told()}
        self.assertTrue(page.more.isVisible() and len(asked & {"tern", "wren"}) == 1)
        QTest.mouseClick(page.more, Qt.MouseButton.LeftButton)
        settle(self.window)
        self.assertTrue({f.of for f in right.told()} > asked)
        self.assertFalse(page.more.isVisible())

    def test_what_came_of_those_in_the_book_is_kept_and_all_of_it_counts(self):
        for name in ("tern", "wren"):
            self.session.log(HandedOver(), instrument=name)
        self.turn("right")
        told = sorted((f.of, f.what, f.at, f.came_high) for f in self.window.places.shop.right.told())
        self.assertEqual(set(foretold_of(self.session.journal)), {"tern", "wren"})
        with mock.patch.object(right_control, "AT_ONCE", 0):
            self.window = self.open()
        with mock.patch.object(right_control.was_right.Asked, "run", side_effect=AssertionError("worked out again")):
            page = self.turn("right")
        again = sorted((f.of, f.what, f.at, f.came_high) for f in self.window.places.shop.right.told())
        self.assertEqual(again, told)
        self.assertFalse(page.more.isVisible())

    def test_a_print_noted_months_later_is_told_of_at_once(self):
        self.session.log(HandedOver(), instrument="tern")
        page = self.turn("right")
        right = self.window.places.shop.right
        self.assertFalse(any(f.label == "case" for f in right.told()))
        self.session.log(CheckSeen(seen=("print",)), instrument="tern")
        settle(self.window)
        self.assertTrue(any(f.label == "case" for f in right.told()))
        self.assertIn("case", page.picture.accessibleDescription())


class FullBook(WindowTest):
    def setUp(self):
        super().setUp()
        for name in ("tern", "wren"):
            self.session.select(name, "test")
            self.session.hand_over(self.session.now, person="A. Player")
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to("book")
        settle(self.window)
        self.page = self.window.shop.book

    def test_two_are_held_side_by_side(self):
        self.page.pick(0)
        settle(self.window)
        QTest.mouseClick(self.page.compare, Qt.MouseButton.LeftButton)
        self.assertIn("Wren is held", self.page.record.toPlainText())
        self.page.pick(1)
        settle(self.window)
        said = self.page.record.toPlainText()
        for words in ("Wren and Tern", "First coat to handing over", "Film, top", "Went wrong"):
            self.assertIn(words, said)
        QTest.mouseClick(self.page.compare, Qt.MouseButton.LeftButton)
        settle(self.window)
        self.assertIn("Film on every zone", self.page.record.toPlainText())

    def test_a_look_is_noted_by_a_form_and_stands_in_the_record(self):
        self.page.pick(1)
        settle(self.window)
        QTest.mouseClick(self.page.look, Qt.MouseButton.LeftButton)
        card = self.window.card
        self.assertIn("A look at Tern", card.heading.text())
        card.inputs["sink"].setCurrentIndex(2)
        card.inputs["print"].setCurrentIndex(1)
        QTest.keyClick(card.inputs["note"], Qt.Key.Key_Return)
        settle(self.window)
        self.assertIn("sunk, seen at a glance; a print in the film", self.page.record.toPlainText())

    def test_looks_to_come_go_to_a_calendar_and_names_stay_home(self):
        path = self.folder / "looks.ics"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            QTest.mouseClick(self.page.looks, Qt.MouseButton.LeftButton)
        text = path.read_text()
        self.assertIn("Look at Tern: 3 months on", text)
        self.assertNotIn("Player", text)

    def test_the_record_on_paper_names_nobody_unless_that_is_ticked(self):
        from ravden.ui.shell import one_page

        self.page.pick(0)
        settle(self.window)
        for ticked in (False, True):
            self.page.named.setChecked(ticked)
            with (
                mock.patch.object(one_page, "write") as written,
                mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(self.folder / "r.pdf"), "")),
            ):
                QTest.mouseClick(self.page.pdf, Qt.MouseButton.LeftButton)
                QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents)
            self.assertEqual("A. Player" in written.call_args[0][0], ticked)
