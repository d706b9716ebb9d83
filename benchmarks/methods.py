"""Four methods compared on one instrument, and a plan of 200 steps opened and edited, offscreen.

Prints milliseconds, and the ratio of each against one outlook computed alone in the same run.
"""

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from msgspec.structs import replace
from PyQt6.QtCore import QEventLoop
from timing import median_ms

from ravden.app import by_plan
from ravden.app.clock import HandClock
from ravden.core.method.steps import Stage
from ravden.demo import ferrow_lane
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
FOUR = ("lacquer-fine-start", "shellac-pad-rounds", "waterborne-sprayed", "two-part-clear")
STEPS = 200


def main():
    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        window = make_window(app, clock=HandClock(NOW), settings_file=Path(folder) / "s.json", path=path)
        window.show()
        window.begin()
        settle(window)
        session, control, view = window.session, window.places.methods, window.methods
        session.select("petrel", "bench")
        settle(window)
        request = session.request("petrel")
        one = median_ms(request.run, 9)
        window.turn_to("methods")
        settle(window)

        def first():
            """Until the first of four is in the picture; the round before it is over."""
            settle(window)
            loop = QEventLoop()
            control._job.done.connect(loop.quit)
            start = time.perf_counter()
            control._compared(FOUR)
            loop.exec()
            app.processEvents()
            out = 1e3 * (time.perf_counter() - start)
            control._job.done.disconnect(loop.quit)
            return out

        def compare():
            control._compared(FOUR)
            settle(window)
            app.processEvents()

        compare()
        seen, whole = statistics.median(first() for _ in range(7)), median_ms(compare, 7)
        print(
            f"four methods: first picture {seen:.0f} ms, all with ranges and coats fitted {whole:.0f} ms; "
            f"one outlook {one:.0f} ms; ratio {whole / one:.1f}"
        )
        stages = session.rack.method.stage
        many = [Stage(kind="prepare", label=f"Step {i}", hours=0.1, how="x" * 300) for i in range(STEPS - len(stages))]
        by_plan.edit_plan(session, (*many, *stages), "many")
        settle(window)
        start = time.perf_counter()
        view.pages.turn_to("plan")
        app.processEvents()
        opened = 1e3 * (time.perf_counter() - start)
        settle(window)
        count = [0]

        def edit():
            count[0] += 1
            view.plan.pick(count[0])
            stage = session.rack.method.stage[count[0]]
            view.plan.form.kept.emit(replace(stage, label=f"Changed {count[0]}"))
            app.processEvents()

        def whole():
            edit()
            settle(window)

        key, shown = median_ms(edit, 9), median_ms(whole, 9)
        print(
            f"plan of {STEPS} steps: opened in {opened:.0f} ms; a step changed: the window is free again after "
            f"{key:.0f} ms, "
            f"dated anew and redrawn after {shown:.0f} ms; ratio {shown / one:.1f}"
        )
        window.close()


if __name__ == "__main__":
    main()
