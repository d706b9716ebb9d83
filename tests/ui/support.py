"""Drives the real window: opened on the demo shop with a clock turned by hand, waited for without sleeping."""

import shutil
import sys
import tempfile
import traceback
import unittest
from datetime import UTC, datetime
from pathlib import Path
from typing import ClassVar
from unittest import mock

from PyQt6.QtCore import QEvent, QEventLoop, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ravden.app import settings
from ravden.app.clock import HandClock
from ravden.demo import ferrow_lane
from ravden.ui.app import make_app, make_window
from tests.ui import THREE
from tests.ui.answered import dated_once, days_once, once_each

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
LIMIT_MS = 60_000
DRAWN = 30  # samples of a wait's range: fewer than a user gets, so that settling takes no longer than it must


def settle(window):
    """Until nothing shown is still being worked out, what the last events asked for too (the minute's tick is one)."""
    for _ in range(4):
        if window.places.busy:
            loop = QEventLoop()
            window.places.settled.connect(loop.quit)
            guard = QTimer()
            guard.setSingleShot(True)
            guard.timeout.connect(loop.quit)
            guard.start(LIMIT_MS)
            loop.exec()
            guard.stop()
        QApplication.processEvents()
        if not window.places.busy:
            return
    raise AssertionError("the window did not settle")


def wait_until(done):
    """Until what is worked out beside the window has come to this."""
    guard = QTimer()
    guard.setSingleShot(True)
    guard.start(LIMIT_MS)
    while not done():
        if not guard.isActive():
            raise AssertionError("it did not come to this")
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)


class NoSearch:
    """In the place of a search in a process of its own: it finds nothing. begun: those asked for, the newest last."""

    begun: ClassVar[list] = []

    def __init__(self, request, told, died):
        self.request, self.told, self.died, self.ended = request, told, died, False
        NoSearch.begun.append(self)

    def end(self):
        self.ended = True


class WindowTest(unittest.TestCase):
    """A window on the demo shop; faults in slots fail the test. plans: the shop's plan is made beside what the test is
    about; the days ahead, the Rack, the Shop and Film have it, the others do not wait for it after every act. there:
    the instruments of the made-up shop that are on the rack."""

    demo = True
    plans = True
    there = THREE

    def setUp(self):
        self.app = make_app(["ravden"])
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        self.path = self.folder / "lane.ravden"
        self.clock = HandClock(NOW)
        # The bench of the made-up shop has all there is to measure with.
        self.settings_file = self.folder / "settings.json"
        settings.save(settings.Settings(tools=list(settings.TOOLS)), self.settings_file)
        if self.demo:
            ferrow_lane.build(self.path, NOW, self.there)
        fewer = mock.patch("ravden.ui.places.film.tryout.DRAWS", DRAWN)
        drawn = mock.patch("ravden.app.shop_days.SAMPLES", 10 * DRAWN)
        alone = mock.patch("ravden.ui.widgets.searching.Search", NoSearch)
        rested = mock.patch("ravden.ui.shell.planning.REST_MS", 0)
        for patch in (fewer, drawn, alone, rested, once_each(), days_once(), dated_once()):
            patch.start()
            self.addCleanup(patch.stop)
        if not self.plans:
            unplanned = mock.patch("ravden.ui.shell.planning.Planning.look", lambda planning: None)
            unplanned.start()
            self.addCleanup(unplanned.stop)
        self.faults = []
        self._hook = sys.excepthook
        sys.excepthook = lambda *fault: self.faults.append("".join(traceback.format_exception(*fault)))
        self.window = self.open()

    def open(self):
        if getattr(self, "window", None) is not None:
            self._delete(self.window)
        window = make_window(
            self.app,
            clock=self.clock,
            settings_file=self.settings_file,
            path=self.path if self.demo else None,
        )
        window.resize(1280, 800)
        window.show()
        window.begin()
        settle(window)
        return window

    def tearDown(self):
        self._delete(self.window)
        sys.excepthook = self._hook
        self.assertEqual(self.faults, [])

    @staticmethod
    def _delete(window):
        """Now, and not when the garbage of an older window is found in the middle of making the next."""
        window.close()
        window.deleteLater()
        QApplication.processEvents()
        # Windows left behind would be styled anew with every window that is opened after them.
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    @property
    def session(self):
        return self.window.session

    def key(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        """A key pressed in the window, wherever the focus is."""
        QTest.keyClick(self.window.focusWidget() or self.window, key, modifier)
        settle(self.window)

    def choose(self, instrument, place):
        self.session.select(instrument, "test")
        self.window.turn_to(place)
        settle(self.window)

    def coats(self, instrument):
        return len(self.session.shop.racked[instrument].project.coats)

    def fill(self, card, **values):
        """Type into a card's or page's fields."""
        for name, value in values.items():
            box = card.inputs[name]
            if hasattr(box, "setCurrentIndex"):
                box.setCurrentIndex(box.findData(value))
            else:
                box.setText(value)

    def colours(self, widget):
        """How many different colours a widget shows."""
        image = widget.grab().toImage()
        return len({image.pixel(x, y) for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)})
