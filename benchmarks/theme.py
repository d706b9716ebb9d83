"""A change of theme with every place visited, from the key to all painted, against painting the same window once more.

Prints medians for each place looked at; a change is asked to take no longer than 300 ms.
"""

import statistics
import sys
import time
from datetime import UTC, datetime
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.shops import demo_window
from PyQt6.QtWidgets import QApplication, QWidget

from ravden.ui.shots import settle

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
RUNS = 8


def timed(act):
    start = time.perf_counter()
    act()
    QApplication.processEvents()
    return 1000.0 * (time.perf_counter() - start)


def main():
    with demo_window(NOW) as (window, _):
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


if __name__ == "__main__":
    main()
