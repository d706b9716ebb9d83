"""A key in the Booth, and its tick of a quarter of a second, in the demo shop without air readings, with a year of one
every three hours, and with a year of one every hour. Prints milliseconds for each; a key is asked to cost the same and
at most 50 ms."""

import os
import statistics
import sys
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks import shops

from ravden.app.clock import HandClock
from ravden.demo import ferrow_lane
from ravden.journal.store import Journal
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle

NOW = datetime(2026, 11, 24, 15, tzinfo=UTC)
KEYS = 12


def ms(act):
    start = time.perf_counter()
    act()
    return 1000.0 * (time.perf_counter() - start)


def measured(app, folder, every_h):
    path = Path(folder) / f"lane-{every_h:g}.ravden"
    ferrow_lane.build(path, NOW)
    if every_h:
        journal = Journal.open(path)
        journal.append_all(shops.air(NOW - timedelta(days=365), NOW, every_h))
        journal.close()
    clock = HandClock(NOW)
    window = make_window(app, clock=clock, settings_file=path.with_suffix(".json"), path=path)
    window.show()
    window.begin()
    window.places.booth.sounds.mute()
    settle(window)
    window.session.select("heron", "bench")
    window.turn_to("booth")
    settle(window)
    window.booth.act_asked.emit()
    settle(window)
    keys, ticks = [], []
    for _ in range(KEYS):
        clock.turn(seconds=90)
        keys.append(ms(window.booth.act_asked.emit))
        settle(window)
        ticks.append(ms(window.places.booth.show))
    window.close()
    return statistics.median(keys), statistics.median(ticks)


def main():
    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        for every_h, name in ((0.0, "no readings"), (3.0, "every 3 h"), (1.0, "every hour")):
            key, tick = measured(app, folder, every_h)
            print(f"{name:12} key {key:6.1f} ms  tick {tick:6.1f} ms")


if __name__ == "__main__":
    main()
