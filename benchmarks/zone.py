"""A click on another zone of every demo instrument, from the click to the picture, against a whole outlook of the same
instrument in the same run. Prints milliseconds and the ratio of the medians."""

import os
import statistics
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from ravden.app.clock import HandClock
from ravden.demo import ferrow_lane
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle


def ms(work):
    start = time.perf_counter()
    work()
    return 1000 * (time.perf_counter() - start)


def main():
    with tempfile.TemporaryDirectory() as folder:
        path, now = Path(folder) / "lane.ravden", datetime.now(UTC)
        ferrow_lane.build(path, now)
        settings = Path(folder) / "settings.json"
        app = make_app(["zone"])
        window = make_window(app, clock=HandClock(now), settings_file=settings, path=path)
        window.show()
        window.begin()
        settle(window)
        clicks, wholes = [], []
        for name in window.session.shop.racked:
            window.session.select(name, "bench")
            window.turn_to("film")
            settle(window)

            def click(zone):
                window.film.zone_picked.emit(zone)
                settle(window)

            mine = [ms(lambda z=z: click(z.name)) for z in window.places.film.found.project.zones[1:]]
            whole = [ms(lambda n=name: window.session.request(n, advise=True).run()) for _ in range(3)]
            print(f"{name}: click {statistics.median(mine):.0f} ms, worst {max(mine):.0f}")
            clicks += mine
            wholes += whole
    click_ms, whole_ms = statistics.median(clicks), statistics.median(wholes)
    print(f"median {click_ms:.0f} ms, worst {max(clicks):.0f}; whole outlook {whole_ms:.0f} ms")
    print(f"ratio, click over whole outlook: {click_ms / whole_ms:.2f}")
    os._exit(0)


if __name__ == "__main__":
    sys.exit(main())
