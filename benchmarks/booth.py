"""From Space in the Booth to the pass in the shop file and drawn, offscreen; against writing the same entry alone."""

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

from msgspec.structs import replace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.app.clock import HandClock
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.demo import ferrow_lane
from ravden.journal.kinds.booth_acts import PassLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.store import Journal
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle

RUNS = 15
NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


def _many_coats(path):
    """An instrument that goes on being sprayed, so that every Space logs."""
    found = shipped()
    fine = found.method("lacquer-fine-start")
    body = InstrumentAdded(
        id="plover", name="Plover", instrument_kind="solid-slab", material=fine.material, method=fine.id,
        measures=measures_of(found.kind("solid-slab")), sheen="gloss", min_film_um=50.0,
        plan=(*fine.stage[:4], replace(fine.stage[4], count=90, per_session=50), *fine.stage[5:]),
    )  # fmt: skip
    journal = Journal.open(path)
    journal.append(body, at=NOW, logged_at=NOW, instrument="plover")
    journal.close()


def main():
    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        _many_coats(path)
        clock = HandClock(NOW)
        window = make_window(app, clock=clock, settings_file=Path(folder) / "s.json", path=path)
        window.show()
        window.begin()
        settle(window)
        window.session.select("plover", "bench")
        window.turn_to("booth")
        settle(window)
        window.places.booth.choosing.choice.by_hand = {name: name == "plover" for name in window.session.shop.racked}
        QTest.keyClick(window.booth, Qt.Key.Key_Space)
        settle(window)
        assert window.booth.page == "run"
        drawn, alone = [], []
        for _ in range(RUNS):
            clock.turn(minutes=3)
            start = time.perf_counter()
            QTest.keyClick(window.booth, Qt.Key.Key_Space)
            window.booth.repaint()
            drawn.append(time.perf_counter() - start)
            assert window.session.entries[-1].logged_at == clock.now(), window.notice.text.text()
            settle(window)
            start = time.perf_counter()
            window.session.journal.append(PassLogged(), at=clock.now(), logged_at=clock.now(), instrument="plover")
            alone.append(time.perf_counter() - start)
        a, b = 1e3 * statistics.median(drawn), 1e3 * statistics.median(alone)
        print(f"Space to journalled and drawn {a:.0f} ms; the entry alone {b:.1f} ms; ratio {a / b:.1f}")
        window.close()


if __name__ == "__main__":
    main()
