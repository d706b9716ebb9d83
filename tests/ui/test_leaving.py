"""The window goes with a form filled in, by its user, a signal or the end of the session: what was typed, where it
stood and which place was open are there when it comes back."""

import os
import signal
import subprocess
import sys

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit

from ravden.app import settings
from ravden.app.settings import Draft, Settings
from ravden.journal.kinds.coat import CoatLogged
from ravden.ui.shell import leaving
from tests.ui.support import WindowTest, settle

PROCESS = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLineEdit
from ravden.ui import app
made = []
keep = app.make_window
def make(qt, **more):
    made.append(keep(qt, settings_file=Path(sys.argv[2]), **more))
    return made[0]
app.make_window = make
def ready():
    window = made[0] if made else None
    if window is None or not window.built or window.places.busy:
        QTimer.singleShot(50, ready)
        return
    window.session.select("heron", "test")
    window.turn_to("film")
    window.anywhere.ask("coat")
    name = next(n for n, box in window.card.inputs.items() if isinstance(box, QLineEdit) and n != "at")
    window.card.inputs[name].setText("17.5")
    print("ready", flush=True)
app.preload = lambda: QTimer.singleShot(0, ready)
sys.exit(app.run(Path(sys.argv[1])))
"""


class Leaving(WindowTest):
    def fill(self):
        self.choose("heron", "film")
        self.window.anywhere.ask("coat")
        fields = self.window.card.inputs.items()
        return next((n, box) for n, box in fields if isinstance(box, QLineEdit) and n != "at")

    def again(self):
        self.window.close()
        self.window = self.open()
        settle(self.window)
        return self.window

    def test_a_form_that_was_filled_in_is_offered_again_as_it_was(self):
        name, box = self.fill()
        box.setText("17.5")
        many = len(self.session.entries)
        window = self.again()
        self.assertEqual(len(self.session.entries), many)
        self.assertIn("You were filling in a form", window.notice.text.text())
        self.assertEqual(window.place, "film")
        self.session.select("tern", "test")
        window.notice.way.click()
        settle(window)
        self.assertTrue(window.card.isVisible())
        self.assertEqual(self.session.selected, "heron")
        self.assertEqual(window.card.inputs[name].text(), "17.5")
        QTest.keyClick(window.card.keep, Qt.Key.Key_Return)
        settle(window)
        self.assertIsInstance(self.session.entries[-1].body, CoatLogged)
        window = self.again()  # it is offered once
        self.assertNotIn("You were filling", window.notice.text.text())

    def test_one_that_nobody_touched_or_that_was_left_is_forgotten(self):
        self.fill()
        self.assertIsNone(leaving.draft(self.window))
        _, box = self.fill_again()
        box.setText("17.5")
        self.assertIsNotNone(leaving.draft(self.window))
        QTest.keyClick(self.window.card, Qt.Key.Key_Escape)
        self.assertIsNone(leaving.draft(self.window))

    def test_a_correction_is_not_offered_as_a_new_entry(self):
        self.choose("heron", "film")
        coat = self.session.log(CoatLogged(dry_um=11.0), instrument="heron")
        self.window.anywhere.correct(coat.id)
        self.window.card.inputs["dry_um"].setText("17.5")
        many = len(self.session.entries)
        window = self.again()
        self.assertIn("Open it again", window.notice.text.text())
        window.anywhere.correct(coat.id)
        self.assertEqual(window.card.inputs["dry_um"].text(), "17.5")
        self.assertEqual(len(self.session.entries), many)

    def fill_again(self):
        self.window.card.hide()
        return self.fill()

    def test_a_form_of_a_page_is_there_when_it_is_opened_again(self):
        told = settings.load(self.folder / "settings.json")
        told.draft = Draft(file=str(self.path.resolve()), instrument="", kind="", heading="Hand over", typed={"a": "1"})
        self.window.remembered.draft = told.draft
        leaving.offer(self.window)
        self.assertIn("Open it again", self.window.notice.text.text())

    def test_a_place_off_every_screen_is_none(self):
        screen = QApplication.primaryScreen().availableGeometry()
        self.assertTrue(leaving.on_a_screen(QRect(screen.x() + 10, screen.y() + 10, 600, 400)))
        self.assertFalse(leaving.on_a_screen(QRect(screen.right() + 500, screen.y(), 600, 400)))
        for bad in ([2**31, 0, 800, 600], [0, 0, 2**40, 600], [1, 2], ["x"]):
            path = self.folder / "odd.json"
            settings.save(Settings(), path)
            path.write_text(path.read_text().replace('"window": []', f'"window": {bad}'.replace("'", '"')))
            self.assertEqual(settings.load(path).window, [], bad)


class Signalled(WindowTest):
    def test_a_signal_of_the_system_keeps_form_window_and_place(self):
        self.window.close()
        env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
        told = self.folder / "told.json"
        line = [sys.executable, "-c", PROCESS, str(self.path), str(told)]
        child = subprocess.Popen(line, stdout=subprocess.PIPE, text=True, env=env)
        self.assertEqual(child.stdout.readline(), "ready\n")
        child.send_signal(signal.SIGTERM)
        self.assertEqual(child.wait(60), 0)
        child.stdout.close()
        found = settings.load(told)
        self.assertEqual((found.place, found.draft.kind), ("film", "coat"))
        self.assertIn("17.5", found.draft.typed.values())
        self.assertEqual(len(found.window), 4)
        self.window = self.open()
