"""Three hours in the booth on twelve instruments, four hundred acts, twenty kills: nothing lost, nothing doubled."""

import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.journal.kinds.booth_acts import PassLogged
from ravden.journal.kinds.coat import CoatLogged
from tests.killed import ACTS, NAMES, go_on, prepare
from tests.ui.support import NOW

KILLS = 20


def record(path):
    """Everything the file says, without the numbers of its entries, and the film of every zone of every instrument."""
    session = ShopSession(shipped(), HandClock(NOW))
    session.open(path)
    entries = [(e.at, e.instrument, e.body, e.corrects) for e in session.entries]
    session.clock.time = entries[-1][0]
    found = [session.request(name).run() for name in NAMES]
    films = [(z.name, z.film.mean_um, z.film.p05_um, z.film.p95_um) for f in found for z in f.zones]
    session.close()
    return entries, films


class Killed(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)

    def test_twenty_kills_leave_the_record_of_an_uninterrupted_run(self):
        whole, broken = self.folder / "whole.ravden", self.folder / "broken.ravden"
        prepare(whole)
        go_on(whole, told=lambda _: None)
        prepare(broken)
        chance = random.Random(7)
        kills = acknowledged = 0
        while acknowledged < ACTS:
            acknowledged, killed = self.child(broken, acknowledged, chance.randint(8, 24) if kills < KILLS else None)
            kills += killed
        self.assertEqual(kills, KILLS)
        entries, films = record(broken)
        self.assertEqual(len(entries), len(NAMES) + ACTS)
        self.assertEqual((entries, films), record(whole))
        kinds = [type(body) for _, _, body, _ in entries]
        self.assertGreater(kinds.count(CoatLogged), 150)
        self.assertGreater(kinds.count(PassLogged), 150)

    def child(self, path, before, after_acts):
        """Run the script until it is done, or kill it once it has acknowledged so many acts; returns how many are
        acknowledged by now."""
        environment = os.environ | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
        run = subprocess.Popen(
            [sys.executable, "-m", "tests.killed", str(path)], stdout=subprocess.PIPE, text=True, env=environment,
            cwd=Path(__file__).parents[1],
        )  # fmt: skip
        acknowledged, killed, first = before, False, None
        for line in run.stdout:
            number = int(line.split()[1])
            first = number if first is None else first
            self.assertIn(number, (acknowledged + 1, first))
            self.assertGreater(number, acknowledged)  # what was acknowledged before the kill is not done again
            acknowledged = number
            if after_acts is not None and number - before >= after_acts:
                os.kill(run.pid, signal.SIGKILL)
                killed = True
                break
        run.stdout.close()
        self.assertEqual(run.wait(), -signal.SIGKILL if killed else 0)
        return acknowledged, killed
