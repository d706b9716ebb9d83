"""From the key that logs a coat to everything redrawn, for each demo instrument, offscreen.

Prints the median for each instrument, and the ratio against the same outlooks computed alone, without a window.
"""

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication

from ravden.app.clock import HandClock
from ravden.demo import ferrow_lane
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle

RUNS = 9
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
        window.turn_to("film")
        for instrument in list(window.session.shop.racked):
            window.session.select(instrument, "bench")
            settle(window)
            shown, alone, key = [], [], []
            for i in range(RUNS):
                clock.turn(minutes=10)
                start = time.perf_counter()
                window.anywhere.log_coat()
                key.append(time.perf_counter() - start)
                settle(window)
                QApplication.processEvents()
                shown.append(time.perf_counter() - start)
                request = window.session.request(instrument, zone="top")
                start = time.perf_counter()
                request.run()
                alone.append(time.perf_counter() - start)
                window.anywhere.undo()
                settle(window)
                if i == 0:
                    shown.clear(), alone.clear(), key.clear()
            a, b, k = statistics.median(shown), statistics.median(alone), statistics.median(key)
            print(
                f"{instrument}: key to journal and tally {1e3 * k:.0f} ms, to all redrawn {1e3 * a:.0f} ms; "
                f"one outlook alone {1e3 * b:.0f} ms; ratio {a / b:.2f}"
            )
        window.close()


if __name__ == "__main__":
    main()
