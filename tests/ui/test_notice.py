"""The line at the foot: what passes, and what stays until it is read."""

from pathlib import Path

from ravden.app import settings
from ravden.ui.app import make_window
from ravden.ui.widgets.notice import Notice
from tests.ui.support import WindowTest, settle


class Staying(WindowTest):
    demo = False

    def test_what_must_be_read_comes_back_after_what_passes(self):
        notice = Notice(self.window)
        notice.tell_until_read("The folder cannot be written to.")
        self.assertFalse(notice.timer.isActive())
        self.assertTrue(notice.read.isVisibleTo(notice))
        notice.tell("Logged: a coat.", undo=True)
        self.assertEqual(notice.text.text(), "Logged: a coat.")
        self.assertFalse(notice.read.isVisibleTo(notice))
        notice.timer.timeout.emit()
        self.assertEqual(notice.text.text(), "The folder cannot be written to.")
        notice.read.click()
        self.assertTrue(notice.isHidden())

    def test_told_twice_is_read_once(self):
        notice = Notice(self.window)
        for _ in range(2):
            notice.tell_until_read("A sentence.")
        notice.read.click()
        self.assertTrue(notice.isHidden())

    def test_a_home_that_cannot_be_written_is_told_until_read(self):
        window = make_window(self.app, clock=self.clock, settings_file=Path("/proc/none/settings.json"))
        self.addCleanup(window.close)
        window.show()
        window.begin()
        settle(window)
        self.assertIn("/proc/none cannot be written to", window.notice.text.text())
        window.notice.read.click()
        self.assertTrue(window.notice.isHidden())

    def test_a_home_that_can_be_says_nothing(self):
        self.assertTrue(settings.may_save(self.folder / "settings.json"))
        self.assertNotIn("cannot be written", self.window.notice.text.text())
