"""A change of theme with every place visited, from the key to all painted, against painting the same window once more.

Prints medians for each place looked at; a change is asked to take no longer than 300 ms.
"""

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication, QWidget

from ravden.app.clock import HandClock
from ravden.demo import ferrow_lane
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
RUNS = 8


def timed(act):
    start = time.perf_counter()
    act()
    QApplication.processEvents()
    return 1000.0 * (time.perf_counter() - start)


def main():
    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        window = make_window(app, clock=HandClock(NOW), settings_file=Path(folder) / "settings.json", path=path)
        window.resize(1280, 800)
        window.show()
        window.begin()
        settle(window)
        while window.places.build_next():
            pass
        for key in window.places.all:
            window.turn_to(key)
            settle(window)
        print(f"{len(window.findChildren(QWidget))} widgets")
        for key in window.places.all:
            window.turn_to(key)
            settle(window)
            changed = statistics.median(timed(window.looks.turn_theme) for _ in range(RUNS))
            bold = statistics.median(timed(window.looks.turn_contrast) for _ in range(RUNS))
            again = statistics.median(timed(window.repaint) for _ in range(RUNS))
            print(f"{key:8} theme {changed:5.0f} ms  contrast {bold:5.0f} ms  painted again {again:5.0f} ms")
        window.close()


if __name__ == "__main__":
    main()
