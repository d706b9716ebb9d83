"""From Space in the Booth to the pass in the shop file and drawn, offscreen; against writing the same entry alone."""

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.demo import ferrow_lane
from ravden.journal.entries import PassLogged
from ravden.ui.app import make_app, make_window
from ravden.ui.clock import HandClock
from ravden.ui.shots import settle

RUNS = 15
NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


def main():
    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        clock = HandClock(NOW)
        window = make_window(app, clock=clock, settings_file=Path(folder) / "s.json", path=path)
        window.show()
        window.begin()
        settle(window)
        window.session.select("heron", "bench")
        window.turn_to("booth")
        settle(window)
        window.places.booth.choice.by_hand = {name: name == "heron" for name in window.session.shop.racked}
        QTest.keyClick(window.booth, Qt.Key.Key_Space)
        settle(window)
        assert window.booth.page == "run"
        drawn, alone = [], []
        for _ in range(RUNS):
            clock.turn(minutes=3)
            start = time.perf_counter()
            QTest.keyClick(window.booth, Qt.Key.Key_Space)
            window.booth.repaint()
            drawn.append(time.perf_counter() - start)
            assert window.session.entries[-1].at == clock.now()
            settle(window)
            start = time.perf_counter()
            window.session.journal.append(PassLogged(), at=clock.now(), logged_at=clock.now(), instrument="heron")
            alone.append(time.perf_counter() - start)
        a, b = 1e3 * statistics.median(drawn), 1e3 * statistics.median(alone)
        print(f"Space to journalled and drawn {a:.0f} ms; the entry alone {b:.1f} ms; ratio {a / b:.1f}")
        window.close()


if __name__ == "__main__":
    main()
