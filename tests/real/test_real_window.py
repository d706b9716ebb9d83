"""One smoke of the real window under Xvfb: it opens on the demo shop, paints, takes a key, keeps what was logged."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

# What every script does first with its window.
SHOWN = """
app.install_excepthook(window)
window.show()
assert QTest.qWaitForWindowExposed(window, 20000)
window.activateWindow()
assert QTest.qWaitForWindowActive(window, 20000)
window.begin()
"""

DRIVER = (
    """
import sys
from datetime import datetime, UTC
from pathlib import Path
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from ravden.demo import ferrow_lane
from ravden.ui import app
from ravden.app.clock import HandClock

DONE = ["SessionBegun", "PassLogged", "CoatLogged", "Undone"]
folder = Path(sys.argv[1])
now = datetime(2026, 5, 4, 15, tzinfo=UTC)
ferrow_lane.build(folder / "lane.ravden", now)
qt = app.make_app(["ravden"])
clock = HandClock(now)
window = app.make_window(qt, clock=clock, settings_file=folder / "s.json", path=folder / "lane.ravden")
"""
    + SHOWN
    + """
window.session.select("heron", "test")

def act():
    window.places.settled.disconnect(act)
    window.turn_to("film")
    QTest.keyClick(window, Qt.Key.Key_C)
    window.places.settled.connect(rub)

def rub():
    window.places.settled.disconnect(rub)
    window.places.settled.connect(climb)
    window.session.select("tern", "test")
    window.turn_to("rubout")

def climb():
    if window.places.busy or window.places.rubout.rub is None:
        return
    window.places.settled.disconnect(climb)
    QTest.keyClick(window.rubout.ladder, Qt.Key.Key_1)
    window.places.settled.connect(leave)
    QTest.keyClick(window.rubout.ladder, Qt.Key.Key_0)

def booth():
    window.session.select("heron", "test")
    window.turn_to("booth")
    window.places.booth.choosing.choice.by_hand = {i: i == "heron" for i in window.session.shop.racked}
    QTest.keyClick(window.booth, Qt.Key.Key_Space)
    assert window.booth.page == "run", window.notice.text.text()
    for _ in range(2):
        clock.turn(minutes=2)
        QTest.keyClick(window.booth, Qt.Key.Key_Space)
    clock.turn(minutes=2)
    QTest.mouseClick(window.booth.run.back, Qt.MouseButton.LeftButton)

def leave():
    if window.places.busy:
        return
    window.places.settled.disconnect(leave)
    booth()
    picture = QGuiApplication.primaryScreen().grabWindow(window.winId())
    picture.save(str(folder / "real.png"))
    print(qt.platformName(), len(window.session.shop.racked["heron"].project.coats), picture.width(),
          [type(e.body).__name__ for e in window.session.entries[-4:]] == DONE,
          window.session.shop.racked["tern"].project.sandings[-1].grade.replace(" ", "-"), flush=True)
    window.close()
    qt.quit()

window.places.settled.connect(act)
QTimer.singleShot(60000, lambda: qt.exit(9))
sys.exit(qt.exec())
"""
)

FIRST = (
    """
import sys
from pathlib import Path
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from ravden.ui import app

qt = app.make_app(["ravden"])
window = app.make_window(qt)
"""
    + SHOWN
    + """
press = lambda key, mod=Qt.KeyboardModifier.NoModifier: QTest.keyClick(window.focusWidget() or window, key, mod)
CTRL = Qt.KeyboardModifier.ControlModifier
start = window.starting.choices.buttons["start"]
assert window.stack.currentWidget() is window.starting.choices
QTest.mouseClick(start, Qt.MouseButton.LeftButton)
press(Qt.Key.Key_Return, CTRL)
QTest.keyClicks(window.page.inputs["name"], "Plover")
press(Qt.Key.Key_Return, CTRL)
press(Qt.Key.Key_C)
press(Qt.Key.Key_F1)
qt.processEvents()
guide = window.stack.currentWidget() is window.help.guide
rack = window.session.shop.racked
print(qt.platformName(), len(rack["plover"].project.coats), guide, window.session.journal.path.name, flush=True)
window.close()
"""
)


PRACTISED = (
    """
import sys
from datetime import datetime, UTC
from pathlib import Path
from PyQt6.QtCore import Qt, QEventLoop
from PyQt6.QtTest import QTest
from ravden.demo import ferrow_lane
from ravden.ui import app
from ravden.app.clock import HandClock
from tests.photos import CORNERS, SIZE_MM, three

folder = Path(sys.argv[1])
now = datetime(2026, 5, 4, 15, tzinfo=UTC)
ferrow_lane.build(folder / "lane.ravden", now, ("tern",))
qt = app.make_app(["ravden"])
window = app.make_window(qt, clock=HandClock(now), settings_file=folder / "s.json", path=folder / "lane.ravden")
"""
    + SHOWN
    + """
def idle():
    while window.places.busy:
        qt.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    qt.processEvents()

press = lambda key: (QTest.keyClick(window.focusWidget() or window, key), idle())
window.turn_to("rubout")
idle()
press(Qt.Key.Key_P)
practice = window.places.rubout.practice
for _ in range(6):
    press(Qt.Key.Key_Return)
panel = practice.page.panel
left, right = (panel.of_mm(mm).toPoint() for mm in ((35, 45), (60, 45)))
QTest.mousePress(panel, Qt.MouseButton.LeftButton, pos=left)
QTest.mouseMove(panel, right)
QTest.mouseRelease(panel, Qt.MouseButton.LeftButton, pos=right)
idle()
rubbed = practice.exercise.id, practice.told.strokes > 0
press(Qt.Key.Key_Escape)
press(Qt.Key.Key_I)
looking = window.places.rubout.looking
looking.take("low", list(three(folder).values()))
idle()
press(Qt.Key.Key_Return)
looking.page.corners.corners = list(CORNERS)
for spin in looking.page.sides:
    spin.setValue(SIZE_MM[0])
press(Qt.Key.Key_Return)
press(Qt.Key.Key_W)
print(qt.platformName(), *rubbed, window.place, window.session.entries[-1].body.said, flush=True)
window.close()
"""
)


class RealWindow(unittest.TestCase):
    def setUp(self):
        if shutil.which("Xvfb") is None:
            self.fail("Xvfb is missing: run ./check, which installs it")
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        read, write = os.pipe()
        self.server = subprocess.Popen(
            ["Xvfb", "-displayfd", str(write), "-screen", "0", "1400x900x24", "-nolisten", "tcp"],
            pass_fds=(write,), stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        os.close(write)
        with os.fdopen(read) as told:
            self.display = f":{told.readline().strip()}"
        self.addCleanup(self.server.wait)
        self.addCleanup(self.server.terminate)

    def test_from_the_first_start_to_a_first_coat_and_the_guide(self):
        env = os.environ | {"DISPLAY": self.display, "QT_QPA_PLATFORM": "xcb", "RAVDEN_HOME": str(self.folder)}
        done = subprocess.run([sys.executable, "-c", FIRST], env=env, capture_output=True, text=True, timeout=150)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(done.stdout.split(), ["xcb", "1", "True", "my-workshop.ravden"])
        self.assertTrue((self.folder / "my-workshop.ravden").is_file())

    def test_a_panel_is_practised_on_and_photos_are_looked_at(self):
        env = os.environ | {"DISPLAY": self.display, "QT_QPA_PLATFORM": "xcb", "RAVDEN_HOME": str(self.folder)}
        done = subprocess.run(
            [sys.executable, "-c", PRACTISED, str(self.folder)], env=env, capture_output=True, text=True, timeout=150,
            cwd=Path(__file__).resolve().parents[2],
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(done.stdout.split(), ["xcb", "lows", "True", "rubout", "lows-left"])

    def test_the_window_opens_paints_and_logs(self):
        env = os.environ | {"DISPLAY": self.display, "QT_QPA_PLATFORM": "xcb", "RAVDEN_HOME": str(self.folder)}
        done = subprocess.run(
            [sys.executable, "-c", DRIVER, str(self.folder)], env=env, capture_output=True, text=True, timeout=150
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        platform, coats, width, booth, grade = done.stdout.split()
        self.assertTrue(grade.startswith("P"), grade)
        self.assertEqual((platform, coats, booth), ("xcb", "8", "True"))
        self.assertGreaterEqual(int(width), 1000)

        from PyQt6.QtGui import QImage

        image = QImage(str(self.folder / "real.png"))
        colours = {image.pixel(x, y) for x in range(0, image.width(), 7) for y in range(0, image.height(), 7)}
        self.assertGreater(len(colours), 100)
