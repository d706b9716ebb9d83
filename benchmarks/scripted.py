"""Two thousand scripted actions through all places of the demo shop: what the process holds after the first 200 and
after all of them. Memory may grow by less than 10 MB in between. Prints both, and a line every 200 actions. Every page
is turned to before the count begins, so that what is loaded once, such as the calendars of holidays, is in both."""

import gc
import random
import resource
import sys
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.shops import demo_window
from PyQt6.QtWidgets import QApplication

from ravden.core.errors import InputError
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.ui.shots import settle

ACTIONS, FIRST, EVERY = 2000, 200, 200
PAGES = ("air", "hours", "book")
NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


def held_MB():
    gc.collect()
    return int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1]) * resource.getpagesize() / 1e6


def main():
    rng = random.Random(7)
    with demo_window(NOW) as (window, clock):
        while window.places.build_next():
            pass
        session = window.session

        def read():
            session.log(ReadingLogged(zone="top", um=90 + rng.random() * 20), instrument=session.selected)

        # Most of what is done in a shop is looking: an act in five is logged or taken back.
        acts = (
            *[lambda: window.turn_to(rng.choice(list(window.places.all)))] * 4,
            *[lambda: session.select(rng.choice(list(session.shop.racked)), "bench")] * 3,
            *[lambda: window.film.side.turn_to(rng.choice(["zones", "coat", "waits", "plan", "log"]))] * 2,
            *[lambda: window.film.cursor_moved.emit(40.0 + 300 * rng.random())] * 3,
            *[lambda: window.rubout.side.turn_to(rng.choice(["zones", "ways", "drawer"]))] * 2,
            *[lambda: window.methods.pages.turn_to(rng.choice(["plan", "quarrels"]))] * 2,
            *[lambda: window.rack.density.setCurrentIndex(rng.randrange(3))] * 2,
            lambda: session.log_usual_coat("bench"),
            lambda: session.undo("bench"),
            lambda: session.redo("bench"),
            read,
            lambda: session.log(AirLogged(temp_C=18 + 4 * rng.random())),
            lambda: window.film.zone_picked.emit(rng.choice(["back", "sides", "top"])),
            window.looks.turn_units,
            window.looks.turn_theme,
            lambda: window.shop.pages.turn_to(rng.choice(PAGES)),
            lambda: window.anywhere.ask(rng.choice(["coat", "reading", "sanding", "air"])),
            lambda: window.card.leave.click(),
        )
        window.turn_to("shop")
        for page in PAGES:
            window.shop.pages.turn_to(page)
            settle(window)
        first, start = 0.0, time.perf_counter()
        for i in range(1, ACTIONS + 1):
            clock.time += timedelta(seconds=30)
            try:
                rng.choice(acts)()
            except InputError:
                window.card.hide()
            settle(window)
            QApplication.processEvents()
            if i == FIRST:
                first = held_MB()
            if i % EVERY == 0:
                print(f"{i:5} actions {held_MB():7.1f} MB  {len(session.entries)} entries", flush=True)
        print(
            f"{ACTIONS} actions in {time.perf_counter() - start:.0f} s: {held_MB() - first:+.1f} MB since {FIRST} (10)"
        )


if __name__ == "__main__":
    main()
