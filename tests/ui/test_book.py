"""The Book through the window: handed over by a form, found by typing, read, brought back."""

from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import QEventLoop, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from ravden.app import care_card
from ravden.journal import store
from ravden.journal.copies import backup_path
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.zones import ZonesSet
from ravden.journal.store import Journal
from tests.ui.support import WindowTest, settle


class Book(WindowTest):
    def hand_over(self, name, to="", note=""):
        self.choose(name, "film")
        self.key(Qt.Key.Key_H)
        card = self.window.card
        card.inputs["to"].setText(to)
        card.inputs["note"].setText(note)
        QTest.keyClick(card.inputs["note"], Qt.Key.Key_Return)
        settle(self.window)

    def turn(self):
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to("book")
        settle(self.window)
        return self.window.shop.book

    def names(self, page):
        return [page.model.data(page.model.index(i, 1)) for i in range(page.model.rowCount())]

    def test_handed_over_found_read_and_brought_back(self):
        self.hand_over("tern", "A. Player", "second strap button")
        self.hand_over("wren")
        self.assertEqual(list(self.session.shop.racked), ["heron"])
        self.assertEqual(self.session.selected, "heron")
        page = self.turn()
        self.assertEqual(self.names(page), ["Wren", "Tern"])
        QTest.keyClicks(page.search, "player mirror")
        self.assertEqual(self.names(page), ["Tern"])
        self.assertIn("1 of 2", page.told.text())
        QTest.keyClick(page.search, Qt.Key.Key_Down)
        settle(self.window)
        said = page.record.toPlainText()
        for words in ("Tern", "2026-05-04 to A. Player", "second strap button", "Film on every zone", "Top"):
            self.assertIn(words, said)
        QTest.mouseClick(page.back, Qt.MouseButton.LeftButton)
        settle(self.window)
        self.assertEqual(list(self.session.shop.racked), ["tern", "heron"])
        self.assertEqual((self.session.selected, self.window.stack.currentWidget()), ("tern", self.window.film))
        self.assertEqual(self.window.film.head.title.text(), "Tern")

    def test_as_last_time_a_new_one_begins_with_its_kind_method_and_steps(self):
        tern = self.session.shop.racked["tern"]
        own = tuple(replace(s, count=s.count + 2) if s.kind == "coats" else s for s in tern.own_method.stage)
        self.session.log(PlanSet(method=tern.instrument.method, stage=own, what="more"), instrument="tern")
        self.hand_over("tern", "A. Player")
        page = self.turn()
        page.pick(0)
        settle(self.window)
        page.again.click()
        form = self.window.page
        self.assertIs(self.window.stack.currentWidget(), form)
        self.assertEqual(form.typed()["name"], "")
        form.inputs["name"].setText("Tern two")
        form.submit()
        settle(self.window)
        made, was = self.session.shop.racked["tern-two"], tern.instrument
        self.assertEqual(replace(made.instrument, id=was.id, name=was.name, promised_h=was.promised_h), was)
        self.assertEqual(made.own_method.stage, own)
        self.assertEqual(made.acts, ())
        # With another method chosen on the page, its steps are that method's.
        page = self.turn()
        page.pick(0)
        settle(self.window)
        page.again.click()
        box = form.inputs["method"]
        box.setCurrentIndex(box.findData("shellac-pad-rounds"))
        form.inputs["name"].setText("Tern three")
        form.submit()
        settle(self.window)
        self.assertEqual(self.session.shop.racked["tern-three"].plan, ())

    def test_a_care_card_in_plain_words_without_film(self):
        self.session.log(ZonesSet(finishes={"neck": "oil-wax"}), instrument="tern")
        self.hand_over("tern", "A. Player")
        page = self.turn()
        page.pick(0)
        settle(self.window)
        path = self.folder / "care.pdf"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            page.card.click()
        self.assertTrue(path.read_bytes().startswith(b"%PDF"))
        rack = self.session.read_booked("tern")
        text = care_card.html(self.session, rack.project, "Tern")
        for words in ("Sprayed lacquer", "Penetrating oil and wax (neck)", "Keep away from it: ", "soft cloth"):
            self.assertIn(words, text)
        self.assertNotIn("µm", text)
        self.assertNotIn("A. Player", text)

    def test_who_has_it_is_forgotten_once_the_name_is_typed(self):
        self.hand_over("tern", "A. Player")
        self.hand_over("wren")
        page = self.turn()
        page.pick(0)  # the Wren, of which nobody said who has it
        settle(self.window)
        self.assertFalse(page.forget.isEnabled())
        page.pick(1)
        settle(self.window)
        page.forget.click()
        card = self.window.card
        self.assertIn("Forget A. Player for good", card.heading.text())
        card.inputs["name"].setText("A. Play")
        card.submit()
        self.assertIn("A. Player", card.faults["name"].text())
        self.assertIn("A. Player", self.session.people.values())
        card.inputs["name"].setText("A. Player")
        card.submit()
        settle(self.window)
        self.assertEqual(self.session.people, {})
        self.assertIn("Forgotten, in this file and its copies", self.window.notice.text.text())
        self.assertFalse(page.forget.isEnabled())
        self.assertNotIn("A. Player", page.record.toPlainText())

    def test_the_last_one_gone_leaves_the_book_in_reach(self):
        for name in ("tern", "wren", "heron"):
            self.hand_over(name)
        self.assertIs(self.window.stack.currentWidget(), self.window.empty)
        self.assertIn("in the Book", self.window.empty.text.text())
        page = self.turn()
        self.assertIs(self.window.stack.currentWidget(), self.window.shop)
        self.assertEqual(len(self.names(page)), 3)
        page.list.setFocus()
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual((len(self.names(page)), list(self.session.shop.racked)), (2, ["heron"]))

    def test_nothing_there_and_nothing_found_are_told(self):
        page = self.turn()
        self.assertIn("Nothing has been handed over yet", page.told.text())
        self.assertFalse(page.back.isEnabled())
        self.hand_over("tern")
        page = self.turn()
        QTest.keyClicks(page.search, "cello")
        self.assertIn("None of 1", page.told.text())
        QTest.keyClick(page.search, Qt.Key.Key_Escape)
        self.assertEqual(self.names(page), ["Tern"])

    def test_its_record_is_written(self):
        self.hand_over("tern")
        page = self.turn()
        QTest.keyClick(page.search, Qt.Key.Key_Return)
        settle(self.window)
        path = self.folder / "tern.pdf"
        where = "ravden.ui.shell.file_dialogs.QFileDialog.getSaveFileName"
        with mock.patch(where, return_value=(str(path), "")):
            page.pdf.click()
        self.assertTrue(path.read_bytes().startswith(b"%PDF"))

    def test_a_time_before_the_last_work_is_refused_at_its_field(self):
        self.choose("tern", "film")
        self.key(Qt.Key.Key_H)
        self.window.card.inputs["at"].setText("2026-01-01 10:00")
        self.window.card.submit()
        self.assertIn("logged after that", self.window.card.faults["at"].text())
        self.assertIn("tern", self.session.shop.racked)


class LongFile(WindowTest):
    """A file too long to be looked through before the window is there."""

    def setUp(self):
        small = mock.patch.object(store, "LONG_BYTES", 1000)
        small.start()
        self.addCleanup(small.stop)
        super().setUp()

    def looked(self):
        loop = QEventLoop()
        self.window.looking.done.connect(loop.quit)
        QTimer.singleShot(20_000, loop.quit)
        if not self.session.journal.looked_over:
            loop.exec()

    def test_it_is_copied_once_the_window_is_there(self):
        self.looked()
        self.assertTrue(self.session.journal.looked_over)
        self.window.close()
        copy = Journal.open(backup_path(self.path))
        self.addCleanup(copy.close)
        self.assertEqual(len(copy.entries()), len(self.session.entries))

    def test_damage_is_told_and_the_last_good_copy_is_kept(self):
        self.looked()
        spoilt = self.folder / "spoilt.ravden"
        good = backup_path(self.path).read_bytes()
        backup_path(spoilt).write_bytes(good)
        raw = bytearray(good)
        root = "SELECT rootpage FROM sqlite_schema WHERE name = 'sqlite_autoindex_person_1'"
        page = self.session.journal.names(root, ())[0]  # one that opening does not read
        raw[(page - 1) * 4096 : (page - 1) * 4096 + 12] = bytes(12)
        spoilt.write_bytes(raw)
        self.session.open(spoilt)
        self.looked()
        self.assertFalse(self.session.journal.looked_over)
        self.assertIn("spoilt.ravden: is damaged", self.window.notice.text.text())
        self.assertEqual(backup_path(spoilt).read_bytes(), good)
