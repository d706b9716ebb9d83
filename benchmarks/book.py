"""The Book of 2 000 instruments against one of 20, in one run: opened as a page, searched, and one record read; and
what the shop knows, taught by as many.

Each is asked of a window that is settled, offscreen: from turning to the page until it is painted, from a key in the
search until the list is drawn, from turning to a line until its record stands there. Bars: 2 for each of these, and 2
for an outlook with what so many taught in it.
"""

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

from benchmarks import shops

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
RUNS = 9
SIZES = (20, 2000)


def measured(path: Path, app) -> dict[str, float]:
    """Medians [ms]."""
    from ravden.app.clock import SystemClock
    from ravden.ui.app import make_window
    from ravden.ui.shots import settle

    window = make_window(app, clock=SystemClock(), settings_file=path.with_suffix(".json"), path=path)
    window.resize(1280, 800)
    window.show()
    window.begin()
    settle(window)
    window.turn_to("shop")
    settle(window)
    page, book = window.shop.pages, window.shop.book
    out: dict[str, list[float]] = {"opened": [], "typed": [], "record": [], "knows": [], "outlook": []}

    def timed(name, act) -> None:
        start = time.perf_counter()
        act()
        settle(window)
        app.processEvents()
        out[name].append(1e3 * (time.perf_counter() - start))

    for n in range(RUNS):
        page.turn_to("air")
        settle(window)
        timed("opened", lambda: page.turn_to("book"))
        timed("typed", lambda n=n: book.search.setText(f"job {n % 10}"))
        timed("record", lambda n=n: book.pick(n % 5))
        book.search.clear()
        timed("knows", lambda: page.turn_to("knows"))
        name = next(iter(window.session.shop.racked))
        timed("outlook", lambda name=name: window.session.request(name).run())
    window.close()
    return {name: statistics.median(took[1:]) for name, took in out.items()}  # the first time reads what is kept


def main() -> None:
    from ravden.ui.app import make_app

    now, app = datetime.now(UTC), make_app(["ravden"])
    found = {}
    with tempfile.TemporaryDirectory() as name:
        for size in SIZES:
            path = Path(name) / f"book-{size}.ravden"
            shops.build(path, now, past=size, years=max(size / 70, 1.0), racked=6, every_h=24.0)
            found[size] = measured(path, app)
            print(f"{size:5} in the Book: " + "  ".join(f"{k} {v:.1f} ms" for k, v in found[size].items()))
    few, many = (found[s] for s in SIZES)
    for what in few:
        print(f"{what}: {many[what] / few[what]:.2f} (2)")


if __name__ == "__main__":
    main()
