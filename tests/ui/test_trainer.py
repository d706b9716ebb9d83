"""The trainer: every exercise played by keys, strokes by mouse, nothing lost, and what cannot be practised on."""

import random
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ravden.app import practising
from ravden.catalogue.exercises import exercises
from ravden.core.surface import trial as core
from ravden.journal.kinds.drawer import DrawerSet
from ravden.ui.places.rubout.trainer import control
from tests.ui.support import WindowTest, settle, wait_until

CELLS = 96  # as fine as a test needs


class Trainer(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        for patch in (mock.patch.object(control, "CELLS", CELLS), mock.patch.object(control, "FEW_CELLS", CELLS)):
            patch.start()
            self.addCleanup(patch.stop)

    def practise(self, name=""):
        self.choose("tern", "rubout")
        self.window.places.rubout.practise(name)
        self.idle()
        return self.window.places.rubout.practice

    def idle(self):
        wait_until(lambda: not self.window.places.rubout.practice.busy)
        QApplication.processEvents()

    @property
    def page(self):
        return self.window.places.rubout.practice.page

    def tap(self, *keys):
        for key in keys:
            QTest.keyClick(self.page, key)
        self.idle()

    def stroke(self, *arrows):
        QTest.keyPress(self.page, Qt.Key.Key_Space)
        for arrow in arrows:
            QTest.keyClick(self.page, arrow)
        QTest.keyRelease(self.page, Qt.Key.Key_Space)
        self.idle()


class Played(Trainer):
    def test_gloss_comes_back_one_key_a_rung(self):
        self.practise()
        self.assertIs(self.window.stack.currentWidget(), self.page)
        self.assertIs(self.page.middle.currentWidget(), self.page.gloss)
        self.assertEqual(self.page.gloss.grade.text(), "After P800")
        self.assertIn("no tubes", self.page.gloss.words.text())
        for _ in range(5):
            self.tap(Qt.Key.Key_Return)
        self.assertIn("three sharp tubes", self.page.gloss.words.text())
        self.assertIn("nothing was lost", self.page.gloss.words.text())
        self.tap(Qt.Key.Key_A, Qt.Key.Key_S, Qt.Key.Key_S)
        self.assertIn("left out", self.page.gloss.past[1].accessibleDescription())
        self.tap(Qt.Key.Key_A, Qt.Key.Key_Return)
        self.assertEqual(self.page.gloss.grade.text(), "After P1200")
        for _ in range(5):
            self.tap(Qt.Key.Key_Return)
        self.assertEqual(self.window.places.rubout.practice.exercise.id, "lows")
        self.assertIn("✓", self.page.buttons["gloss"].text())

    def test_every_exercise_is_played_to_its_end_by_keys_alone(self):
        practice, entries = self.practise("lows"), len(self.session.entries)
        plays = {
            "lows": (Qt.Key.Key_R, Qt.Key.Key_W, Qt.Key.Key_M, Qt.Key.Key_M, Qt.Key.Key_M),
            "halves": (Qt.Key.Key_R, Qt.Key.Key_W, Qt.Key.Key_Return),
            "fingers": (Qt.Key.Key_R, Qt.Key.Key_W, Qt.Key.Key_Return),
            "edge": (Qt.Key.Key_R, Qt.Key.Key_W, Qt.Key.Key_Return),
            "clogs": (Qt.Key.Key_R, Qt.Key.Key_W, Qt.Key.Key_N, Qt.Key.Key_Return),
            "handover": (Qt.Key.Key_R, Qt.Key.Key_G, Qt.Key.Key_R, Qt.Key.Key_Return),
            "run": (Qt.Key.Key_K, Qt.Key.Key_3, Qt.Key.Key_T, Qt.Key.Key_T, Qt.Key.Key_R, Qt.Key.Key_Return),
            "strays": (Qt.Key.Key_BracketLeft, Qt.Key.Key_Space, Qt.Key.Key_Return),
            "plan": (Qt.Key.Key_R, Qt.Key.Key_Return),
        }
        says = {
            "lows": "75 % by eye were", "halves": "the pad", "fingers": "from crest to valley", "edge": "at the arris",
            "clogs": "of 3 pieces", "handover": "handed over at 75 %", "run": "Beside the run", "strays": "",
            "plan": "In the worst spot",
        }  # fmt: skip
        self.assertEqual(["gloss", *plays], list(exercises()))
        for name, keys in plays.items():
            with self.subTest(name):
                practice.begin(name, 3)
                self.idle()
                for key in keys:
                    if self.page.middle.currentWidget() is self.page.panel:
                        self.tap(key)
                self.assertIs(self.page.middle.currentWidget(), self.page.result)
                self.assertIn(says[name], self.page.result.said.text())
                self.assertTrue(all(p.image is not None for p in self.page.result.pictures))
                self.assertEqual(self.page.result.frame.isHidden(), name not in GRADED)
        past = practising.read_past(practising.practice_file(self.settings_file))
        self.assertEqual([p.exercise for p in past], list(plays))
        self.assertEqual(len(self.session.entries), entries)

    def test_results_lead_on(self):
        practice = self.practise("run")
        self.tap(Qt.Key.Key_Return)
        self.assertIn("Nothing was rubbed", self.page.result.said.text())
        self.tap(Qt.Key.Key_P)
        self.assertEqual((practice.exercise.id, practice.seed), ("run", 2))
        self.tap(Qt.Key.Key_Return, Qt.Key.Key_A)
        self.assertEqual((practice.exercise.id, practice.seed), ("run", 2))
        self.tap(Qt.Key.Key_Return, Qt.Key.Key_Return)
        self.assertEqual(practice.exercise.id, "strays")
        self.tap(Qt.Key.Key_Escape)
        self.assertEqual(self.window.place, "rubout")
        self.assertIs(self.window.stack.currentWidget(), self.window.rubout)


GRADED = ("edge", "clogs", "handover", "run", "plan")


class Worked(Trainer):
    def test_by_keys_alone_and_no_act_of_the_window_meant(self):
        practice = self.practise("edge")
        coats = self.coats("tern")
        self.tap(Qt.Key.Key_Left)
        self.assertEqual(practice.told.strokes, 0)  # moved, not rubbed
        self.stroke(Qt.Key.Key_Right, Qt.Key.Key_Left)
        self.assertGreaterEqual(practice.told.strokes, 16)
        self.assertGreater(practice.told.used_um, 0)
        self.tap(Qt.Key.Key_C, Qt.Key.Key_H)  # acts of the whole window are not meant here
        self.assertEqual(self.coats("tern"), coats)
        self.assertFalse(self.window.card.isVisible())

    def test_by_mouse_and_wheel(self):
        practice = self.practise("edge")
        panel = self.page.panel
        at = [panel.of_mm(mm).toPoint() for mm in ((40, 45), (46, 45), (55, 47))]
        QTest.mousePress(panel, Qt.MouseButton.LeftButton, pos=at[0])
        for point in at[1:]:
            QTest.mouseMove(panel, point)
        QTest.mouseRelease(panel, Qt.MouseButton.LeftButton, pos=at[-1])
        self.idle()
        self.assertGreater(practice.told.strokes, 0)
        self.assertAlmostEqual(panel.at_mm[0], 55, delta=1)
        load = practice.hold.load_kPa
        wheel = QWheelEvent(
            QPointF(at[0]), QPointF(panel.mapToGlobal(at[0])), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(panel, wheel)
        self.assertGreater(practice.hold.load_kPa, load)
        self.assertIn("firm", self.page.hand.load_words.text())

    def test_the_lamp_goes_round_by_hand_and_by_key(self):
        self.practise("edge")
        panel = self.page.panel
        was = panel.image
        self.tap(Qt.Key.Key_BracketRight)
        self.assertEqual(panel.lamp_deg, 25.0)
        self.assertNotEqual(panel.image, was)
        self.tap(Qt.Key.Key_BraceRight)
        self.assertEqual(panel.lamp_low, 14.0)
        square, radius = min(panel.width(), panel.height()), 0.475 * min(panel.width(), panel.height())
        top = QPoint(panel.width() // 2, int(panel.height() / 2 - radius))
        self.assertGreater(square, 300)
        QTest.mouseClick(panel, Qt.MouseButton.LeftButton, pos=top)
        self.idle()
        self.assertAlmostEqual(panel.lamp_deg, 270, delta=3)

    def test_no_stroke_is_lost_in_a_thousand_moves_and_the_newest_is_shown(self):
        practice = self.practise("lows")
        draw, way = random.Random(4), 0.0
        hold = practice.hold
        for _ in range(1000):
            x, y = draw.uniform(32, 55), draw.uniform(20, 70)
            practice.rub((x, y), (x + 3.0, y))
            way += 3.0 * hold.stands_for / 1000
        self.idle()
        self.assertAlmostEqual(practice.told.minutes, way / 0.4 / 60, places=6)
        image = self.page.panel.image
        practice.order.submit()
        self.idle()
        self.assertEqual(self.page.panel.image, image)

    def test_looking_through_the_film_is_told(self):
        practice = self.practise("run")
        before = self.page.panel.image
        QTest.keyPress(self.page, Qt.Key.Key_X)
        self.idle()
        self.assertNotEqual(self.page.panel.image, before)
        QTest.keyRelease(self.page, Qt.Key.Key_X)
        self.tap(Qt.Key.Key_R, Qt.Key.Key_Return)
        self.assertEqual(practice.peeks, 1)
        self.assertIn("looked through the film once", self.page.result.said.text())

    def test_wood_laid_bare_ends_it(self):
        practice = self.practise("edge")
        practice.trial.work.film_um[:] = 4.0
        self.tap(Qt.Key.Key_5, Qt.Key.Key_R)
        self.idle()
        self.assertIs(self.page.middle.currentWidget(), self.page.result)
        self.assertIn("look at the ring", self.page.result.said.text())

    def test_stray_scratches_are_marked_and_unmarked(self):
        practice = self.practise("strays")
        practice.begin("strays", next(s for s in range(1, 40) if practising.hidden(s, 4) == 2))
        self.idle()
        panel, (first, second) = self.page.panel, practice.trial.strays
        for stray in (first, second, first):
            QTest.mouseClick(panel, Qt.MouseButton.LeftButton, pos=panel.of_mm((stray.x_mm, stray.y_mm)).toPoint())
            self.idle()
        self.assertEqual(len(panel.marks), 1)
        self.tap(Qt.Key.Key_Return)
        self.assertIn("1 of 2 found, 1 missed.", self.page.result.said.text())
        self.assertEqual(self.page.result.mark.text(), "50 of 100")


class Boards(Trainer):
    def test_on_this_instruments_film_and_drawer(self):
        practice = self.practise("plan")
        rub = self.window.places.rubout.rub
        self.assertFalse(self.page.fault.isVisible() and not rub.at_cured)
        if not rub.at_cured:
            self.assertIn("Tern", practice.board.name)

    def test_a_film_too_soft_is_refused_in_the_ladders_words_and_a_stock_board_taken(self):
        practice = self.practise("gloss")
        soft = mock.Mock(wraps=self.window.places.rubout.rub)
        soft.at_cured, soft.margin_K = True, 4.0
        soft.film, soft.job = self.window.places.rubout.rub.film, self.window.places.rubout.rub.job
        with mock.patch.object(self.window.places.rubout, "rub", soft):
            practice.begin("plan")
            self.idle()
        self.assertIn("too soft to sand", self.page.fault.text())
        self.assertEqual(practice.board.name, "a stock board")
        self.assertIsNotNone(practice.trial)

    def test_a_drawer_with_one_paper(self):
        self.choose("tern", "rubout")
        self.session.log(DrawerSet(owned=("FEPA-P:P1000",)))
        practice = self.practise("gloss")
        rub = self.window.places.rubout.rub
        with mock.patch.object(self.window.places.rubout, "rub", replace_soft(rub)):
            practice.open("edge")
            self.page.board.setCurrentIndex(self.page.board.findData("mine"))
            self.page.board.activated.emit(self.page.board.currentIndex())
            self.idle()
            self.assertEqual([s.label for s in practice.board.sheets], ["P1000"])
            self.tap(Qt.Key.Key_G)
            self.assertEqual(practice.hold.sheet, 0)
            practice.begin("handover")
            self.idle()
        self.assertIn("P800 and P1200", self.page.fault.text())

    def test_the_smallest_window_and_larger_type_cut_nothing_off(self):
        self.practise("edge")
        self.window.resize(1120, 720)
        settle(self.window)
        for button in (*self.page.hand.acts.values(), *self.page.buttons.values()):
            if button.isVisible():
                self.assertGreaterEqual(button.height(), button.sizeHint().height(), button.text())
                self.assertGreaterEqual(button.width(), button.minimumSizeHint().width(), button.text())
        self.assertLess(self.page.hand.acts["done"].geometry().bottom(), self.page.hand.height())

    def test_without_a_shop_file_it_is_there_too(self):
        self.session.close()
        self.window.places.rubout.practise("gloss")
        self.tap(Qt.Key.Key_Return)
        self.assertEqual(self.page.gloss.grade.text(), "After P1200")

    def test_what_was_practised_is_remembered_and_a_damaged_record_begun_anew(self):
        file = practising.practice_file(self.settings_file)
        for i in range(practising.KEPT + 5):
            past = practising.keep(file, "edge", i, float(i % 90), self.clock.now())
        self.assertEqual(len(practising.read_past(file)), practising.KEPT)
        self.assertEqual(practising.best(past, "edge"), 89.0)
        self.assertIsNone(practising.best(past, "run"))
        file.write_text("[{")
        self.assertEqual(practising.read_past(file), ())


def replace_soft(rub):
    """The same rub-out on a film that bears it."""
    from dataclasses import replace as with_

    return with_(rub, at_cured=False, margin_K=40.0)


class Words(WindowTest):
    plans = False

    demo = False

    def test_at_most_two_sentences_of_what_cost_most(self):
        from ravden.core.surface.score import score
        from ravden.text.practice_words import verdict
        from ravden.text.units import Units
        from tests.core.test_trial import SETUP

        careful = core.par(SETUP)
        trial = core.Trial(SETUP)
        for _ in range(20):
            trial.round(core.Hold())
        for units, unit in ((Units(), "µm"), (Units(system="us"), "mil")):
            said = verdict(trial.worked(careful), score(trial.worked(careful)), trial.told(), careful, units)
            self.assertLessEqual(len(said), 2)
            self.assertIn(unit, said[0])
        far = replace(trial.told(), touched=0.8)
        self.assertIn(
            "still shiny", verdict(trial.worked(careful), score(trial.worked(careful)), far, careful, Units())[0]
        )
