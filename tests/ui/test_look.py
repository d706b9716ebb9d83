"""A look at photos in the window: three shots, corners, the photos over each other, and what the eye says."""

from unittest import mock

from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ravden.app import looking
from ravden.journal.kinds.look import LookNoted
from tests import photos
from tests.ui.support import WindowTest, settle, wait_until


class Look(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        self.choose("tern", "rubout")
        self.key(Qt.Key.Key_I)
        self.look, self.page = self.window.places.rubout.looking, self.window.places.rubout.looking.page
        self.paths = photos.three(self.folder)

    def idle(self):
        wait_until(lambda: not self.look.busy)
        QApplication.processEvents()

    def tap(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(self.page, key, modifier)
        self.idle()

    def to_corners(self):
        self.look.take("low", list(self.paths.values()))
        self.idle()
        self.tap(Qt.Key.Key_Return)
        self.page.corners.corners = list(photos.CORNERS)
        for spin in self.page.sides:
            spin.setValue(self.session.units.length_value(90))

    def test_from_three_photos_to_what_the_eye_says(self):
        self.assertIs(self.window.stack.currentWidget(), self.page)
        with mock.patch("ravden.ui.places.rubout.look.control.QFileDialog.getOpenFileNames") as ask:
            for i, path in enumerate(self.paths.values()):
                ask.return_value = ([str(path)], "")
                self.tap(Qt.Key(Qt.Key.Key_1 + i))
        self.assertEqual([s.told.text() for s in self.page.slots.values()], [p.name for p in self.paths.values()])
        self.tap(Qt.Key.Key_Return)
        self.assertIs(self.page.stages.currentWidget(), self.page.square)
        self.page.corners.corners = list(photos.CORNERS)
        for spin in self.page.sides:
            spin.setValue(90)
        self.tap(Qt.Key.Key_Return)
        self.assertIs(self.page.stages.currentWidget(), self.page.laid)
        self.assertEqual(self.page.verdict.text(), "Shiny spots, marked.")
        self.assertIn(looking.RULE, self.page.why.text())
        self.assertNotIn("done", self.page.verdict.text().lower())
        self.assertIn("ringed", self.page.over.accessibleDescription())
        before = len(self.session.entries), self.session.shop.racked["tern"].project
        self.tap(Qt.Key.Key_W)
        entry = self.session.entries[-1]
        self.assertIsInstance(entry.body, LookNoted)
        self.assertEqual((entry.body.said, entry.body.zone, len(entry.body.photos)), ("lows-left", "top", 3))
        self.assertEqual(len(self.session.entries), before[0] + 1)
        self.assertEqual(self.session.shop.racked["tern"].project, before[1])  # nothing moved by it
        copies = looking.photos_folder(self.session.journal.path)
        self.assertEqual(len(list(copies.glob("*.jpg"))), 3)
        self.assertIn("lows left", self.session.describe(entry))
        self.assertEqual(self.window.place, "rubout")
        self.session.undo()
        self.assertEqual(self.session.shop.racked["tern"].project, before[1])

    def test_level_offers_to_note_the_step(self):
        self.to_corners()
        self.tap(Qt.Key.Key_Return)
        self.tap(Qt.Key.Key_L)
        settle(self.window)
        self.assertIn("by your eye", self.window.notice.text.text())
        self.assertEqual(self.window.notice.way.text(), "The step is done")

    def test_blinked_divided_and_looked_at_closely(self):
        self.to_corners()
        self.tap(Qt.Key.Key_Return)
        over = self.page.over
        seen = []
        for _ in range(4):
            seen.append(over.accessibleDescription().split(";")[0])
            self.tap(Qt.Key.Key_Space)
        self.assertEqual(seen, ["all three: shiny lows light up", "Low lamp", "Low lamp, another side", "Broad light"])
        plain = over.grab().toImage()
        self.tap(Qt.Key.Key_Plus)
        contrasted = over.grab().toImage()
        self.assertNotEqual(contrasted, plain)
        self.tap(Qt.Key.Key_V)
        divided = over.grab().toImage()
        self.assertNotEqual(divided, contrasted)
        self.tap(Qt.Key.Key_Right)
        self.assertNotEqual(over.grab().toImage(), divided)
        self.tap(Qt.Key.Key_V)
        self.tap(Qt.Key.Key_Z)
        QTest.mouseMove(over, over.rect().center())
        self.assertNotEqual(over.grab().toImage(), contrasted)

    def test_corners_by_key_and_by_mouse(self):
        self.to_corners()
        corners = self.page.corners
        self.tap(Qt.Key.Key_3)
        x, y = corners.corners[2]
        self.tap(Qt.Key.Key_Right)
        self.tap(Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(corners.corners[2], (x + 1, y - 10))
        self.assertIn("bottom right is in hand", corners.accessibleDescription())
        at = corners.at(0).toPoint()
        QTest.mousePress(corners, Qt.MouseButton.LeftButton, pos=at)
        QTest.mouseMove(corners, at + QPointF(20, 12).toPoint())
        QTest.mouseRelease(corners, Qt.MouseButton.LeftButton, pos=at)
        self.assertGreater(corners.corners[0][0], photos.CORNERS[0][0] + 5)
        corners.corners = [photos.CORNERS[i] for i in (0, 2, 1, 3)]
        self.tap(Qt.Key.Key_Return)
        self.assertIn("corners cross", self.page.fault.text())
        self.assertIs(self.page.stages.currentWidget(), self.page.square)

    def test_photos_may_be_dropped_and_bad_ones_are_told_where_they_were_put(self):
        slot = self.page.slots["low-other"]
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.paths["low"]))])
        drop = QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                          Qt.KeyboardModifier.NoModifier)  # fmt: skip
        QApplication.sendEvent(slot, drop)
        slot.dropEvent(drop)
        self.idle()
        self.assertEqual(slot.told.text(), "low.jpg")
        self.look.take("low", [self.paths["low"]])
        self.idle()
        self.assertIn("same file", self.page.slots["low"].told.text())
        bad = self.folder / "bad.jpg"
        bad.write_text("no")
        self.look.take("broad", [bad])
        self.idle()
        self.assertIn("no JPEG or PNG photo", self.page.slots["broad"].told.text())
        self.tap(Qt.Key.Key_Return)
        self.assertIn("Two photos", self.page.fault.text())
        self.assertIs(self.page.stages.currentWidget(), self.page.shots)

    def test_left_while_it_looks_nothing_is_kept(self):
        self.to_corners()
        count = len(self.session.entries)
        self.page.look_asked.emit()
        QTest.keyClick(self.page, Qt.Key.Key_Escape)
        self.idle()
        self.assertEqual(len(self.session.entries), count)
        self.assertIs(self.window.stack.currentWidget(), self.window.rubout)
        self.assertEqual(self.page.fault.text(), "")

    def test_in_inches_and_with_a_taped_corner(self):
        self.window.menus and self.window.looks.turn_units()
        self.look.open()
        self.to_corners()
        self.assertIn("in", self.page.sides[0].suffix())
        self.page.tape.setCurrentIndex(self.page.tape.findData("br"))
        self.tap(Qt.Key.Key_Return)
        spots = self.look.found.look.spots
        self.assertFalse([s for s in spots if s.x_mm > 66 and s.y_mm > 66])
        self.assertTrue([s for s in spots if s.x_mm < 24 and s.y_mm < 24])
