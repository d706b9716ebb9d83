"""Windows opened and closed, one after the other, with circles looked for as eagerly as can be, by whichever thread
makes an object: ``windows.py [windows] [seed]``. It counts objects of the toolkit that a closed window leaves alive
without a parent, and memory at its end against what it was after the first ten."""

import gc
import os
import random
import resource
import sys
import tempfile
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, QThreadPool
from PyQt6.QtWidgets import QApplication

from ravden.app.clock import HandClock
from ravden.demo import ferrow_lane
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
PLACES = ("film", "booth", "rubout", "shop", "methods", "rack")


def one(app, folder, path, chance, *, thorough=False):
    """A window in the life of the toolkit: opened, looked at, closed in the middle of whatever it does."""
    window = make_window(app, clock=HandClock(NOW), settings_file=folder / "settings.json", path=path)
    window.resize(1000, 700)
    window.show()
    window.begin()
    for place in PLACES if thorough else chance.sample(PLACES, 2):
        window.turn_to(place)
        for _ in range(chance.randrange(6)):
            app.processEvents()
    if thorough:
        settle(window)
    window.close()
    window.deleteLater()
    app.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def orphans():
    """Objects of the toolkit that are alive, and that nobody of the toolkit has to delete."""
    gc.collect()
    alive = [o for o in gc.get_objects() if isinstance(o, QObject) and not sip.isdeleted(o)]
    return sorted(
        {
            type(o).__name__
            for o in alive
            if o.parent() is None and o is not QThreadPool.globalInstance() and not isinstance(o, QApplication)
        }
    )


def held():
    """What this process has in memory [MB]."""
    with open("/proc/self/statm") as f:
        return int(f.read().split()[1]) * resource.getpagesize() / 1e6


def main(windows, seed):
    chance = random.Random(seed)
    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as temporary:
        folder = Path(temporary)
        path = folder / "lane.ravden"
        ferrow_lane.build(path, NOW, ("heron", "tern"))
        one(app, folder, path, chance, thorough=True)
        left = orphans()
        gc.set_threshold(200, 5, 5)
        first = 0.0
        for i in range(windows):
            one(app, folder, path, chance)
            if i == 9:
                first = held()
    grew = held() - first
    print(f"{windows} windows: left alive without a parent {left or 'nothing'}; memory {grew:+.0f} MB since the tenth")
    return 1 if left else 0


if __name__ == "__main__":
    told = [int(a) for a in sys.argv[1:]]
    sys.exit(main(*(told + [100, 1][len(told) :])))
