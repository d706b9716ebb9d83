"""A shop of thirty years against the demo shop and against the same rack without a past, all in one run.

The long shop has 2 000 instruments in the Book, 24 on the rack and hourly air; the young one the same 24 and the air of
their time. Each is opened in a process of its own, offscreen: seconds to the first paint, seconds until everything on
the rack is settled, a coat from its key to all redrawn, and the memory it holds. Takes some minutes, most of them to
make the long file.
"""

import json
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROUNDS, COATS = 5, 9


def lived_in(path: Path) -> dict[str, float]:
    """Opened, settled, coated: in this process."""
    from PyQt6.QtWidgets import QApplication

    from ravden.app.clock import SystemClock
    from ravden.ui.app import make_app, make_window
    from ravden.ui.shots import settle

    app = make_app(["ravden"])
    start = time.perf_counter()
    window = make_window(app, clock=SystemClock(), settings_file=path.with_suffix(".json"), path=path)
    window.show()
    app.processEvents()
    window.begin()
    settle(window)
    settled = time.perf_counter() - start
    window.turn_to("film")
    settle(window)
    coats = []
    for _ in range(COATS):
        start = time.perf_counter()
        window.anywhere.log_coat()
        settle(window)
        QApplication.processEvents()
        coats.append(time.perf_counter() - start)
        window.anywhere.undo()
        settle(window)
    held = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1]) * resource.getpagesize() / 1e6
    return {"settled": settled, "coat": statistics.median(coats), "MB": held}


def painted(path: Path, folder: Path) -> float:
    env = os.environ | {"RAVDEN_HOME": str(folder), "RAVDEN_REPORT_PAINT": "1"}
    start = time.perf_counter()
    subprocess.run([sys.executable, "-m", "ravden", "window", str(path)], env=env, check=True, capture_output=True)
    return time.perf_counter() - start


def child(path: Path) -> dict[str, float]:
    done = subprocess.run(
        [sys.executable, __file__, str(path)], env=os.environ, check=True, capture_output=True, text=True
    )
    return dict(json.loads(done.stdout.splitlines()[-1]))


def main() -> None:
    sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
    from benchmarks import shops

    from ravden.demo import ferrow_lane

    now = datetime.now(UTC)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        files = {kind: folder / f"{kind}.ravden" for kind in ("demo", "young", "long")}
        ferrow_lane.build(files["demo"], now)
        shops.build(files["young"], now, past=0, years=0.25, racked=24, every_h=1.0)
        shops.build(files["long"], now, past=2000, years=30, racked=24, every_h=1.0)
        print(f"long file {files['long'].stat().st_size / 1e6:.0f} MB")
        paint: dict[str, list[float]] = {kind: [] for kind in files}
        lived: dict[str, list[dict[str, float]]] = {kind: [] for kind in files}
        for i in range(ROUNDS + 1):
            for kind, path in files.items():
                took = painted(path, folder)
                if i:  # the first round warms the disk
                    paint[kind].append(took)
        for _ in range(3):
            for kind, path in files.items():
                lived[kind].append(child(path))
    middle = {kind: {f: statistics.median(r[f] for r in rows) for f in rows[0]} for kind, rows in lived.items()}
    for kind in files:
        m = middle[kind]
        print(
            f"{kind:6} painted {statistics.median(paint[kind]):.3f} s  settled {m['settled']:.2f} s  "
            f"coat {1000 * m['coat']:.0f} ms  memory {m['MB']:.0f} MB"
        )
    long, young, demo = middle["long"], middle["young"], middle["demo"]
    print(f"painted, long over demo: {statistics.median(paint['long']) / statistics.median(paint['demo']):.2f} (3)")
    print(f"settled, long over young: {long['settled'] / young['settled']:.2f} (1.5)")
    print(f"coat to redrawn, long over demo: {long['coat'] / demo['coat']:.2f} (1.5)")
    print(f"memory, long over demo: {long['MB'] / demo['MB']:.2f}, over young: {long['MB'] / young['MB']:.2f} (2)")


if __name__ == "__main__":
    if len(sys.argv) > 1:
        print(json.dumps(lived_in(Path(sys.argv[1]))))
    else:
        main()
