"""What the shelf costs: the draws of one coat more, and the whole shelf known again, against logging that coat.

For the made-up workshop, and for one of forty instruments and forty products with two cans each, of fifteen coats.
Bar: 2 ms for a logged coat.
"""

import statistics
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from msgspec.structs import replace

from ravden.app import stock
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.stock.lots import stocked
from ravden.core.stock.product import Product
from ravden.demo import ferrow_lane
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.stock import LotBought, LotOpened, ProductTold

RUNS = 15
NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
MATERIALS = ("lacquer-sprayed", "shellac-pad", "waterborne", "oil-varnish")


def many(session):
    """Forty lanes and forty products."""
    base = session.added("tern").body
    for n in range(40 - len(session.shop.racked)):
        name = f"more{n}"
        session.log(replace(base, id=name, name=name), instrument=name, at=NOW - timedelta(days=30))
        for coat in range(15):
            at = NOW - timedelta(days=29, hours=-4 * coat)
            session.log(CoatLogged(dry_um=10), instrument=name, at=at)
    for n in range(40):
        session.log(ProductTold(product=Product(id=f"p{n}", name=f"P {n}", material=MATERIALS[n % 4])))
        for can in range(2):
            lot = session.log(LotBought(product=f"p{n}", ml=5000), at=NOW - timedelta(days=60)).id
            if can == 0:
                session.log(LotOpened(lot=lot), at=NOW - timedelta(days=50))


def measured(session, name):
    log, draw, known = [], [], []
    for n in range(RUNS):
        start = time.perf_counter()
        session.log(CoatLogged(dry_um=10), instrument="heron", at=NOW + timedelta(minutes=n))
        log.append(time.perf_counter() - start)
        start = time.perf_counter()
        draws = stock.draws(session)
        draw.append(time.perf_counter() - start)
        start = time.perf_counter()
        stocked(session.shop.stock, draws)
        known.append(time.perf_counter() - start)
    a, b, c = (1e3 * statistics.median(t) for t in (log, draw, known))
    print(f"{name}: {len(draws)} draws, {len(session.shop.stock.lots)} cans; coat logged {a:.2f} ms; "
          f"its draws {b:.2f} ms (2), ratio {b / a:.2f}; all cans known again {c:.2f} ms")  # fmt: skip


def main():
    for name, fill in (("made-up workshop", None), ("forty instruments", many)):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "lane.ravden"
            ferrow_lane.build(path, NOW)
            session = ShopSession(shipped(), HandClock(NOW + timedelta(hours=1)))
            session.open(path)
            if fill is not None:
                fill(session)
            stock.draws(session)
            measured(session, name)
            session.close()


if __name__ == "__main__":
    main()
