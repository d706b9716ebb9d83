"""Simulated instruments in processes of their own, and the Shop place that listens to them."""

import os
import signal
import subprocess
import sys
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from PyQt6.QtCore import QEventLoop, QTimer

from ravden.devices import protocol
from ravden.devices.server import serve
from ravden.journal.kinds.air import AirSeries
from tests.ui.support import LIMIT_MS, WindowTest, settle

AT = datetime(2026, 3, 14, 8, 30, tzinfo=UTC)


class Protocol(unittest.TestCase):
    def test_lines_come_back_as_they_went(self):
        air = protocol.parse(protocol.air_line(AT, 18.523, 0.5531).strip())
        self.assertEqual(air, protocol.AirReading(at=AT, temp_C=18.52, rh=0.5531))
        self.assertEqual(protocol.parse(protocol.mass_line(AT, 1.714)).grams, 1.714)
        self.assertEqual(protocol.parse(protocol.greeting("scale", "back room")).name, "back room")

    def test_lies_and_nonsense_are_refused(self):
        for line in (
            protocol.air_line(AT, 85, 0.5), protocol.air_line(AT, 20, 1.4), "AIR soon 20 0.5",
            "AIR 2026-03-14T08:30:00 20 0.5",
            "MASS 2026-03-14T08:30:00+00:00 heavy", "hello", "", "AIR 2026-03-14T08:30:00+00:00 nan 0.5",
        ):  # fmt: skip
            self.assertRaises(ValueError, protocol.parse, line)

    def test_a_place_that_cannot_be_listened_at(self):
        self.assertEqual(serve(Path("/nowhere/at/all.sock"), "scale", "x", 1, lambda: iter(())), 2)


class Listening(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.turn_to("shop")
        self.shop, self.listening = self.window.shop, self.window.places.shop.listening
        for kind, sensor in self.listening.sensors.items():
            sensor.path = str(self.folder / f"{kind}.sock")
            sensor.again.setInterval(50)
        self.running = []

    def tearDown(self):
        for process in self.running:
            process.kill()
            process.wait()
            process.stdout.close()
        super().tearDown()

    def sim(self, kind, *words):
        where = ["--socket", self.listening.sensors[kind].path, "--every", "0.05"]
        process = subprocess.Popen(
            [sys.executable, "-m", f"ravden.devices.sim_{kind}", *where, *words], stdout=subprocess.PIPE, text=True,
            env=os.environ | {"PYTHONUNBUFFERED": "1"},
        )  # fmt: skip
        self.running.append(process)
        self.assertIn("listening at", process.stdout.readline())
        return process

    def wait_until(self, predicate, what):
        loop, poll, guard = QEventLoop(), QTimer(), QTimer()
        poll.timeout.connect(lambda: loop.quit() if predicate() else None)
        poll.start(10)
        guard.setSingleShot(True)
        guard.timeout.connect(loop.quit)
        guard.start(LIMIT_MS)
        loop.exec()
        self.assertTrue(predicate(), what)

    def state(self, kind="hygrometer"):
        return self.shop.states[kind].text()

    def test_a_sensor_is_shown_logged_and_found_again_after_its_death(self):
        self.shop.turns["hygrometer"].setChecked(True)
        self.wait_until(lambda: "No sensor" in self.state(), "says there is none")
        first = self.sim("hygrometer", "--temp", "24", "--name", "bench")
        self.wait_until(lambda: "%" in self.shop.values["hygrometer"].text(), "shows a reading")
        self.assertIn("Listening to hygrometer bench", self.state())
        settle(self.window)
        logged = [e.body for e in self.session.entries if isinstance(e.body, AirSeries)]
        self.assertGreaterEqual(len(logged), 1)
        self.assertLess(abs(logged[0].temp_C[0] - 24), 4)
        first.send_signal(signal.SIGKILL)
        first.wait()
        self.wait_until(lambda: "has gone" in self.state(), "says it has gone")
        self.sim("hygrometer", "--temp", "24", "--name", "bench")
        self.wait_until(lambda: "Listening to" in self.state(), "hears it again")
        self.shop.turns["hygrometer"].setChecked(False)
        self.assertEqual(self.shop.values["hygrometer"].text(), "–")

    def test_a_sensor_that_lies_is_told_and_not_logged(self):
        count = len(self.session.entries)
        self.sim("hygrometer", "--lie")
        self.shop.turns["hygrometer"].setChecked(True)
        self.wait_until(lambda: "not believed" in self.state(), "does not believe it")
        self.assertEqual(len(self.session.entries), count)
        self.assertEqual(self.shop.values["hygrometer"].text(), "–")

    def test_a_card_is_weighed_on_the_scale(self):
        self.session.select("tern", "test")
        self.sim("scale", "--dry", "1.75", "--solvent", "0.05")
        self.shop.turns["scale"].setChecked(True)
        self.wait_until(lambda: "g" in self.shop.values["scale"].text(), "shows a weight")
        self.shop.weigh.click()
        settle(self.window)
        body = self.session.entries[-1].body
        self.assertEqual(body.what, "card")
        self.assertAlmostEqual(body.um, 1.8 / 1.35 / 100 * 1e4, delta=0.6)


class Sockets(unittest.TestCase):
    def test_a_file_that_is_no_socket_is_left_alone(self):
        with tempfile.TemporaryDirectory() as folder:
            mine = Path(folder) / "mine.txt"
            mine.write_text("a shopping list")
            link = Path(folder) / "link"
            link.symlink_to(mine)
            for path in (mine, link, Path(folder)):
                self.assertEqual(serve(path, "scale", "x", 1.0, lambda: iter(())), 2)
            self.assertEqual(mine.read_text(), "a shopping list")
