"""What a repair costs to work out and to choose, against one outlook of the same instrument; and the whole table of
defects, finishes, stages and sizes gone through for contradictions (--table, two minutes)."""

import sys
import time
from collections import Counter
from datetime import UTC, datetime
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.shops import demo_window

from ravden.catalogue.tables import shipped
from ravden.journal.kinds.mishap import MishapLogged

NOW = datetime(2026, 11, 24, 15, tzinfo=UTC)
DEFECTS = (
    ("tern", "sand-through"),
    ("heron", "run"),
    ("dunlin", "milky"),
    ("gannet", "orange-peel"),
    ("wren", "print"),
)
BAR_ALL, BAR_CHOSEN_S, BAR_RANGES_S = 20.0, 0.3, 2.0


def timed(work):
    """Seconds, the best of three."""
    took = []
    for _ in range(3):
        began = time.perf_counter()
        work()
        took.append(time.perf_counter() - began)
    return min(took)


def worked_out(window):
    """Every repair of five defects, with ranges and the shop's days, against one outlook."""
    from ravden.app import repairing

    session, most, slowest = window.session, 0.0, 0.0
    for who, what in DEFECTS:
        session.select(who, "bench")
        number = session.log(MishapLogged(what=what, zone="top"), instrument=who).id
        asked = session.request(who)
        work = repairing.work(session, who, number, dict(window.places.found), {})
        one, every = timed(asked.run), timed(work)
        most, slowest = max(most, every / one), max(slowest, every)
        print(f"  {what}, {who}: {1000 * every:.0f} ms, {every / one:.1f} outlooks")
        session.undo()
    print(
        f"all repairs of a defect: {most:.1f} outlooks at most (bar {BAR_ALL:g}); "
        f"{slowest:.2f} s (bar {BAR_RANGES_S:g})"
    )


def chosen(window):
    """From the key that chooses to the page that shows it."""
    from ravden.ui.shots import settle

    session = window.session
    session.select("tern", "bench")
    session.log(MishapLogged(what="sand-through", zone="top"), instrument="tern")
    window.something_wrong()
    settle(window)
    page = window.repairs.view
    began = time.perf_counter()
    page.choose.click()
    shown = time.perf_counter() - began
    told = page.shown.chosen
    settle(window)
    settled = time.perf_counter() - began
    print(
        f"chosen and shown in {1000 * shown:.0f} ms (bar {1000 * BAR_CHOSEN_S:.0f}): {told}; "
        f"all settled {settled:.2f} s"
    )


def table():
    """Every defect on every finish at every stage, small and large."""
    from tests.core import mended

    seen, ways, sooner, began = Counter(), 0, [], time.perf_counter()
    for method in mended.METHODS:
        for stage in mended.STAGES:
            for what in shipped().repairs.kinds:
                for size in mended.SIZES_MM:
                    found, mishap = mended.with_defect(mended.outlook_at(method, stage), what, size_mm=size)
                    case, made = mended.worked_out(found, mishap)
                    seen["cases"] += 1
                    seen["none"] += not made.ways
                    for way in made.ways:
                        ways += 1
                        seen["stuck"] += way.forward.stuck is not None
                        seen.update(mended.breaches(case, way))
                        before, after = way.ready_h
                        if after is not None and before is not None and after < before - 0.5 and not way.leaves:
                            sooner.append(before - after)
    print(f"{seen.pop('cases')} cases, {ways} repairs in {time.perf_counter() - began:.0f} s; ", end="")
    print(f"wrong: {dict(+seen) or 'none'}; sooner by the film {len(sooner)}, {max(sooner, default=0):.0f} h at most")


if __name__ == "__main__":
    if "--table" in sys.argv:
        table()
    else:
        with demo_window(NOW) as (open_window, _):
            worked_out(open_window)
            chosen(open_window)
