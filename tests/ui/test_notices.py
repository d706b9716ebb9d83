"""Told on the desktop: what opened or is about to shut since the last look, through a real message bus."""

import shutil
import subprocess
import unittest
from dataclasses import replace

from msgspec import structs
from PyQt6.QtCore import QEventLoop, QObject, QTimer, pyqtSlot
from PyQt6.QtDBus import QDBusConnection

from ravden.app.news import State, news
from ravden.catalogue.assemble import measures_of
from ravden.core.ahead.shutting import shuts_h
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.step import StepLogged
from ravden.ui.app import make_app
from ravden.ui.shell.desktop import PATH, SERVICE, Desktop
from tests.ui.support import WindowTest, settle


class Service(QObject):
    """Stands where a desktop's own service would."""

    def __init__(self):
        super().__init__()
        self.shown = []

    @pyqtSlot(str, "uint", str, str, str, "QStringList", "QVariantMap", int, result="uint")
    def Notify(self, name, replaces, icon, title, body, actions, hints, timeout):
        self.shown.append((name, title, body))
        return len(self.shown)


class OverTheBus(unittest.TestCase):
    def setUp(self):
        self.app = make_app(["ravden"])
        daemon = shutil.which("dbus-daemon")
        self.assertIsNotNone(daemon, "the message bus is installed by ./check")
        self.bus = subprocess.Popen(
            [daemon, "--session", "--nofork", "--print-address"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
            text=True,
        )  # fmt: skip
        self.addCleanup(self._stop)
        self.address = self.bus.stdout.readline().strip()
        self.here = QDBusConnection.connectToBus(self.address, f"ravden-{self.id()}")
        self.failed = []
        self.desktop = Desktop(bus=self.here)
        self.desktop.failed.connect(self.failed.append)

    def _stop(self):
        QDBusConnection.disconnectFromBus(f"ravden-{self.id()}")
        QDBusConnection.disconnectFromBus(f"service-{self.id()}")
        self.bus.kill()
        self.bus.wait()
        self.bus.stdout.close()

    def until(self, done):
        loop, look, guard = QEventLoop(), QTimer(), QTimer()
        look.timeout.connect(lambda: loop.quit() if done() else None)
        guard.setSingleShot(True)
        guard.timeout.connect(loop.quit)
        look.start(5)
        guard.start(10_000)
        loop.exec()
        self.assertTrue(done())

    def test_a_notification_reaches_the_service(self):
        there, service = QDBusConnection.connectToBus(self.address, f"service-{self.id()}"), Service()
        self.assertTrue(there.registerService(SERVICE))
        self.assertTrue(there.registerObject(PATH, SERVICE, service, QDBusConnection.RegisterOption.ExportAllSlots))
        self.desktop.send("Heron: it may be level sanded", "Try a hidden spot first.")
        self.until(lambda: self.desktop.sent == 1)
        self.assertEqual(service.shown, [("Ravden", "Heron: it may be level sanded", "Try a hidden spot first.")])
        self.assertEqual(self.failed, [])

    def test_a_bus_without_the_service_is_told(self):
        self.desktop.send("Heron", "open")
        self.until(lambda: bool(self.failed))
        self.assertIn("did not take a notification", self.failed[0])

    def test_no_bus_at_all_is_told(self):
        alone = Desktop(bus=QDBusConnection("nowhere"))
        alone.failed.connect(self.failed.append)
        alone.send("Heron", "open")
        self.assertEqual(self.failed, ["this desktop has no service for notifications"])


class WhatIsNews(WindowTest):
    def setUp(self):
        super().setUp()
        self.sent = []
        self.notices = self.window.places.notices
        self.notices.send = lambda title, body: self.sent.append((title, body))

    def look(self):
        self.notices.look()
        settle(self.window)

    def opens(self, name):
        found = self.window.places.found[name]
        return self.session.shop.racked[name].moment(found.windows[0].likely_h)

    def waiting(self):
        """An instrument whose window is still to open."""
        return next(
            n
            for n, f in self.window.places.found.items()
            if f.windows and f.windows[0].likely_h is not None and self.opens(n) > self.clock.time
        )

    def test_off_until_it_is_asked_for(self):
        self.assertFalse(self.notices.on)
        name = self.waiting()
        self.look()
        self.clock.time = self.opens(name)
        self.look()
        self.assertEqual(self.sent, [])

    def test_a_window_that_opens_is_told_once(self):
        self.window.menus.notify.trigger()
        settle(self.window)
        self.assertTrue(self.window.remembered.notify)
        name = self.waiting()
        self.look()
        self.assertEqual(self.sent, [])  # what was so before is no news
        self.clock.time = self.opens(name)
        self.look()
        self.look()
        mine = [title for title, _ in self.sent if title.startswith(self.session.shop.racked[name].instrument.name)]
        self.assertEqual(len(mine), 1)
        self.assertIn("it may be", mine[0])

    def test_a_coat_soon_too_late_without_a_scuff_is_told(self):
        method = self.session.catalogue.method("waterborne-sprayed")
        self.session.log(
            InstrumentAdded(
                id="plover", name="Plover", instrument_kind="solid-slab", material=method.material, method=method.id,
                measures=measures_of(self.session.catalogue.kind("solid-slab")), sheen="gloss", min_film_um=75.0,
            ),
            instrument="plover",
        )  # fmt: skip
        for step in method.stage[:3]:
            if step.kind != "coats":
                self.session.log(StepLogged(step=step.label), instrument="plover")
        self.session.log(CoatLogged(dry_um=20), instrument="plover")
        settle(self.window)
        found = self.session.request("plover").run()
        until = shuts_h(found)
        self.assertIsNotNone(until)
        shut = self.session.shop.racked["plover"].moment(until)
        calm, pressing = (State(window="", open=False, shutting=s) for s in (False, True))
        told = news(self.session, {"plover": calm}, {"plover": pressing}, {"plover": shut})
        self.assertIn("for a coat without a scuff", told[0].title)
        self.assertEqual(news(self.session, {"plover": pressing}, {"plover": pressing}, {"plover": shut}), ())
        self.assertEqual(news(self.session, {}, {"plover": pressing}, {"plover": shut}), ())
        self.assertIsNone(shuts_h(replace(found, project=structs.replace(found.project, acts=()))))
        self.assertIsNone(shuts_h(self.window.places.found["heron"]))  # a dissolving film never shuts
