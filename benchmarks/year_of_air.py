"""The demo shop with a year of logged air, every three hours and every hour, against the same shop without it: all
outlooks asked for once everything is known, and a coat logged. Prints seconds and the ratios, all in one run."""

import math
import statistics
import sys
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.demo import ferrow_lane
from ravden.journal.kinds.air import AirSeries
from ravden.journal.store import Journal, Row

DAYS, ROUNDS = 365, 5


def a_day(at, day, every_h):
    hours = tuple(i * every_h for i in range(int(24 / every_h)))
    temps = tuple(20 + 2 * math.sin(day + h / 4) for h in hours)
    return Row(body=AirSeries(source="log", hours=hours, temp_C=temps, rh=(0.5,) * len(hours)), at=at, logged_at=at)


def opened(folder, now, every_h):
    path = Path(folder) / f"lane-{every_h:g}.ravden"
    ferrow_lane.build(path, now)
    if every_h:
        journal = Journal.open(path)
        journal.append_all([a_day(now - timedelta(days=DAYS - d), d, every_h) for d in range(DAYS)])
        journal.close()
    session = ShopSession(shipped(), HandClock(now))
    session.open(path)
    return session


def measured(session):
    for name in session.shop.racked:
        session.request(name, advise=True).run()
    settled, coats = [], []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        for name in session.shop.racked:
            session.request(name, advise=True).run()
        settled.append(time.perf_counter() - start)
        start = time.perf_counter()
        session.log_usual_coat()
        coats.append(time.perf_counter() - start)
        session.undo()
    return statistics.median(settled), statistics.median(coats)


def main():
    now = datetime.now(UTC)
    with tempfile.TemporaryDirectory() as folder:
        found = {every_h: measured(opened(folder, now, every_h)) for every_h in (0.0, 3.0, 1.0)}
    for every_h, (settled, coat) in found.items():
        what = f"air every {every_h:g} h" if every_h else "no logged air"
        print(f"{what}: all outlooks {settled:.3f} s, a coat kept and folded {1000 * coat:.1f} ms")
    for every_h in (3.0, 1.0):
        print(f"ratio, every {every_h:g} h over none: {found[every_h][0] / found[0.0][0]:.2f}")


if __name__ == "__main__":
    sys.exit(main())
