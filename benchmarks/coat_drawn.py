"""A coat from its key to everything drawn and settled, and a shop from its opening to settled, against one outlook.

``coat_drawn.py [lanes]``: the made-up workshop as it is, or with as many lanes as told. Prints, over one outlook of
the same instrument worked out alone: until its own film and next act are drawn, until all has settled, and the
processor's time; how many steps of other instruments a coat moved by over an hour; and opening to settled over all
outlooks in a row.
"""

import os
import statistics
import sys
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.forty_lanes import crowd

NOW = datetime(2026, 11, 24, 9, 45, tzinfo=UTC)
COATS, ON = 3, ("heron", "tern", "dunlin", "siskin")


def opened(app, folder, path, clock):
    from ravden.ui.app import make_window

    window = make_window(app, clock=clock, settings_file=Path(folder) / "s.json", path=path)
    window.show()
    window.begin()
    return window


def a_coat(window, clock, name):
    """Seconds from the key to the instrument's own outlook taken, to all settled; processor; steps of others moved."""
    from ravden.ui.shots import settle

    places, first = window.places, []
    before = {} if places.planning.days is None else dict(places.planning.days.made.steps)
    take = places.film.take

    def taken(found):
        take(found)
        first.append(time.perf_counter())

    places.film.take = taken
    cpu, start = time.process_time(), time.perf_counter()
    window.session.log_usual_coat("bench")
    settle(window)
    end, used = time.perf_counter() - start, time.process_time() - cpu
    places.film.take = take
    after = places.planning.days.made.steps
    moved = sum(
        abs(datetime.fromisoformat(after[key].starts[0]) - datetime.fromisoformat(step.starts[0])) > timedelta(hours=1)
        for key, step in before.items() if key[0] != name and key in after
    )  # fmt: skip
    return (first[0] - start if first else end), end, used, moved


def main(lanes):
    from ravden.app.clock import HandClock
    from ravden.demo import ferrow_lane
    from ravden.ui.app import make_app
    from ravden.ui.shots import settle

    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        path, clock = Path(folder) / "lane.ravden", HandClock(NOW)
        ferrow_lane.build(path, NOW)
        window = opened(app, folder, path, clock)
        settle(window)
        if lanes > len(window.session.shop.racked):
            crowd(window.session, lanes - len(window.session.shop.racked))
        window.close()
        clock.turn(minutes=1)
        cpu, start = time.process_time(), time.perf_counter()
        window = opened(app, folder, path, clock)
        settle(window)
        end, used = time.perf_counter() - start, time.process_time() - cpu
        session = window.session
        names = tuple(session.shop.racked)
        start = time.perf_counter()
        for name in names:
            session.request(name).run()
        row = time.perf_counter() - start
        print(f"{len(names)} lanes: open to settled {end:.2f} s ({used:.2f} s of processor); "
              f"over all outlooks in a row ({row:.2f} s) {end / row:.1f}")  # fmt: skip
        window.turn_to("film")
        settle(window)
        rows = []
        for name in [n for n in ON if n in names]:
            session.select(name, "bench")
            settle(window)
            for n in range(COATS):
                clock.turn(minutes=30)
                found = a_coat(window, clock, name)
                alone = []
                for _ in range(3):
                    start = time.perf_counter()
                    session.request(name, advise=True).run()
                    alone.append(time.perf_counter() - start)
                if n:
                    rows.append((*found, min(alone)))
        first, whole, used, _, alone = (statistics.median(column) for column in zip(*rows, strict=True))
        print(f"a coat: its own film drawn {1e3 * first:.0f} ms, all settled {1e3 * whole:.0f} ms, processor "
              f"{1e3 * used:.0f} ms; one outlook alone {1e3 * alone:.0f} ms; over it {first / alone:.1f} (1.5), "
              f"{whole / alone:.1f} ({3 if lanes < 20 else 5})")  # fmt: skip
        others = statistics.fmean(row[3] for row in rows)
        print(f"steps of other instruments moved by over an hour, each coat: {others:.1f}")
        window.close()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 8)
