"""The window with forty instruments on the rack: the longest it goes without answering while the shop's plan is made
and searched for, against the same window at rest and in a minute without any plan; what ending a search takes."""

import sys
import time
from datetime import UTC, datetime
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.shops import demo_window

from ravden.catalogue.assemble import measures_of
from ravden.journal.kinds.instrument import InstrumentAdded

MORE, TICK_MS = 32, 4
NOW = datetime(2026, 11, 24, 15, tzinfo=UTC)


class Gaps:
    """How long the window goes without answering, from one tick of a fast timer to the next [ms]."""

    def __init__(self):
        from PyQt6.QtCore import QTimer

        self.seen, self.last = [], time.perf_counter()
        self.timer = QTimer()
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self._tick)
        self.timer.start()

    def _tick(self):
        now = time.perf_counter()
        self.seen.append(1000 * (now - self.last))
        self.last = now

    def during(self, act, seconds):
        """The longest gap, and that which 99 in 100 are below."""
        from PyQt6.QtCore import QEventLoop, QTimer

        self.seen.clear()
        self.last = time.perf_counter()
        act()
        loop = QEventLoop()
        QTimer.singleShot(int(1000 * seconds), loop.quit)
        loop.exec()
        gaps = sorted(self.seen)
        return gaps[-1], gaps[int(0.99 * len(gaps))]


def crowd(session, more=MORE):
    """So many instruments more, of every method in turn."""
    methods = list(session.catalogue.methods.values())
    for n in range(more):
        method = methods[n % len(methods)]
        kind = session.catalogue.kind("viola" if method.id == "violin-varnish" else "solid-slab")
        promised = f"2027-0{1 + n % 4}-15T17:00:00+00:00" if n % 2 else None
        session.log(
            InstrumentAdded(
                id=f"i{n}", name=f"Number {n}", instrument_kind=kind.id, material=method.material, method=method.id,
                measures=measures_of(kind), sheen="gloss", min_film_um=50.0, promised=promised,
            )
        )  # fmt: skip


def main():
    from ravden.app.shop_days import asked
    from ravden.app.shop_questions import better_asked
    from ravden.ui.shots import settle

    with demo_window(NOW) as (window, _):
        session, planning = window.session, window.places.planning
        crowd(session)
        for _ in range(4):
            settle(window)
        window.turn_to("rack")
        settle(window)
        gaps, names = Gaps(), tuple(session.shop.racked)
        idle = gaps.during(lambda: None, 2.0)
        took = time.perf_counter()
        asked(session, window.places.found)()
        took = 1000 * (time.perf_counter() - took)
        minute = max(gaps.during(lambda: window.places.refresh(names), 5.0) for _ in range(2))
        look, planning.look = planning.look, lambda: None
        plain = max(gaps.during(lambda: window.places.refresh(names), 5.0) for _ in range(2))
        planning.look = look
        settle(window)
        made = planning.days.made
        search = gaps.during(lambda: planning.search(better_asked(made, 30.0), lambda _: None), 5.0)
        end = time.perf_counter()
        planning.searching.end()
        end = 1000 * (time.perf_counter() - end)
        print(f"forty instruments planned, tidied, with their odds: {took:.0f} ms off the GUI thread")
        print(f"longest gap in a minute's tick: {minute[0]:.0f} ms, without a plan {plain[0]:.0f}; "
              f"{minute[0] / plain[0]:.2f} (bar 1.3)")  # fmt: skip
        print(f"while it searches: {search[0]:.1f} ms, 99 in 100 below {search[1]:.1f}; at rest {idle[0]:.1f} and "
              f"{idle[1]:.1f}; {search[1] / idle[1]:.2f} (bar 1.3)")  # fmt: skip
        print(f"a search ended in {end:.0f} ms (200)")


if __name__ == "__main__":
    main()
