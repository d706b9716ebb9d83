"""The window ranges of a demo instrument from 200 samples, against its first answer in the same run; and an outlook
with a fortnight of a logger's air, against the same outlook with the air told by hand. Prints ratios.

`waits.py rates` prints instead what made-up shops learn of a drying rate: the likely wait in use over the true one, by
true rate, by how they look, and by how much one wait scatters.
"""

import sys
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

from timing import median_ms

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.ahead.waits import DRAWS, waits
from ravden.core.cure.evaporative import warm_up
from ravden.demo import ferrow_lane
from ravden.journal.kinds.air import AirSeries

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


def main():
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        session = ShopSession(shipped(), HandClock(NOW))
        session.open(path)
        warm_up()
        for instrument in session.shop.racked:
            found = session.request(instrument, zone="top").run()
            one = median_ms(lambda found=found: waits(found), 5)
            many = median_ms(lambda found=found: waits(found, DRAWS), 3)
            print(f"{instrument}: first answer {one:.0f} ms, {DRAWS} samples {many:.0f} ms; ratio {many / one:.0f}")
        told = median_ms(session.request("tern", zone="top").run, 7)
        hours = tuple(float(h) for h in range(24 * 14))
        swing = tuple(19.0 + (h % 24) / 8 for h in hours)
        log = AirSeries(source="log", hours=hours, temp_C=swing, rh=(0.5,) * len(hours))
        session.log(log, at=NOW - timedelta(days=14))
        logged = median_ms(session.request("tern", zone="top").run, 7)
        ratio = logged / told
        print(f"an outlook with {len(hours)} hours of log {logged:.0f} ms, by hand {told:.0f} ms; ratio {ratio:.1f}")
        session.close()


def rates():
    """Mean error of the likely wait in use [%], its mean size, and how many of 20 are within a tenth."""
    sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
    import numpy as np
    from tests.core.rate_shops import learnt

    for rate in (0.6, 1.0, 1.6):
        for way in ("paper", "nail", "look"):
            cells = []
            for noise in (0.2, 0.1):
                off = np.array([learnt(np.random.default_rng([s, 7]), rate, way, noise, 30) for s in range(20)]) - 1
                for after in (12, 30):
                    e = 100 * off[:, after - 1]
                    cells.append(f"{e.mean():+4.0f} ({abs(e).mean():2.0f}) {int((abs(e) <= 10).sum()):2}")
            print(f"{rate:3} {way:5}  noise .2 after 12, 30: {cells[0]}, {cells[1]}   .1: {cells[2]}, {cells[3]}")


if __name__ == "__main__":
    rates() if sys.argv[1:] == ["rates"] else main()
