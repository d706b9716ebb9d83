"""A key in the Booth, and its tick of a quarter of a second, in the demo shop without air readings, with a year of one
every three hours, and with a year of one every hour. Prints milliseconds for each; a key is asked to cost the same and
at most 50 ms."""

import statistics
import sys
import time
from datetime import UTC, datetime
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.shops import demo_window

from ravden.ui.shots import settle

NOW = datetime(2026, 11, 24, 15, tzinfo=UTC)
KEYS = 12


def ms(act):
    start = time.perf_counter()
    act()
    return 1000.0 * (time.perf_counter() - start)


def measured(every_h):
    with demo_window(NOW, every_h) as (window, clock):
        window.places.booth.sounds.mute()
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
    return statistics.median(keys), statistics.median(ticks)


def main():
    for every_h, name in ((0.0, "no readings"), (3.0, "every 3 h"), (1.0, "every hour")):
        key, tick = measured(every_h)
        print(f"{name:12} key {key:6.1f} ms  tick {tick:6.1f} ms")


if __name__ == "__main__":
    main()
