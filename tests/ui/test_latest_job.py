"""One job runs, one waits, a newer one replaces the one that waits; errors travel as values."""

import threading
import unittest

from PyQt6.QtCore import QEventLoop, QTimer

from ravden.ui.app import make_app
from ravden.ui.widgets.latest_job import LatestJob


class Latest(unittest.TestCase):
    def setUp(self):
        self.app = make_app(["ravden"])
        self.job = LatestJob()
        self.seen = []
        self.loop = QEventLoop()
        self.job.done.connect(self._done)
        self.want = 1

    def _done(self, outcome):
        self.seen.append(outcome)
        if len(self.seen) >= self.want:
            self.loop.quit()

    def wait(self, count):
        self.want = count
        if len(self.seen) < count:
            guard = QTimer()
            guard.setSingleShot(True)
            guard.timeout.connect(self.loop.quit)
            guard.start(20_000)
            self.loop.exec()
        self.assertEqual(len(self.seen), count)

    def test_the_waiting_one_is_replaced(self):
        gate, ran = threading.Event(), []

        def first():
            gate.wait(20)
            return "first"

        self.job.submit(first)
        for name in ("second", "third", "fourth"):
            self.job.submit(lambda n=name: ran.append(n) or n)
        self.assertTrue(self.job.busy)
        gate.set()
        self.wait(2)
        self.assertEqual([o.value for o in self.seen], ["first", "fourth"])
        self.assertEqual(ran, ["fourth"])
        self.assertEqual(self.seen[-1].serial, self.job.latest)
        self.assertFalse(self.job.busy)

    def test_errors_come_as_values(self):
        self.job.submit(lambda: 1 / 0)
        self.wait(1)
        self.assertIsInstance(self.seen[0].error, ZeroDivisionError)
        self.assertIn("ZeroDivisionError", self.seen[0].trace)
        self.job.submit(lambda: 7)
        self.wait(2)
        self.assertEqual(self.seen[1].value, 7)
