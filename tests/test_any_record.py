"""Random records of extreme but legal numbers on one instrument of twelve. Whatever becomes of it, the other eleven
have an outlook and a place in the plan, and the one, where it has none, is refused by name."""

import random
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.app.shop_plan import planned, snapshot
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged

NOW = datetime(2026, 3, 2, 9, tzinfo=UTC)
METHODS = ("lacquer-fine-start", "waterborne-sprayed", "shellac-pad-rounds", "two-part-clear")
OTHERS, CASES, ACTS = 11, 6, 14
EXTREMES = (1e-9, 1e-7, 1e-3, 0.051, 0.3, 1.0, 3.0, 12.0, 80.0, 500.0, 4999.0)


def act(rng, zones):
    """Something that may be logged, of numbers nobody would."""
    um, zone = rng.choice(EXTREMES) * rng.choice((1.0, 1.0, rng.random() + 1e-12)), rng.choice(zones)
    some = None if rng.random() < 0.6 else tuple(rng.sample(zones, rng.randint(1, len(zones))))
    return rng.choice((
        lambda: CoatLogged(dry_um=um, zones=some, count=rng.choice((1, 1, 1, 2, 40))),
        lambda: CoatLogged(dry_um=um, count_odds=((1, 0.5), (9, 0.5))),
        lambda: SandingLogged(um=um, zones=some, purpose=rng.choice(("scuff", "level", "rub-out")),
                              edges_worked=rng.random() < 0.3, minutes=rng.choice((0.0, 1e-6, 9e3)), grade="P800"),
        lambda: SandingLogged(um=um, zones=some, bared=True),
        lambda: ReadingLogged(zone=zone, um=um, n=rng.choice((1, 3, 100))),
        lambda: ReadingLogged(what="through", zone=zone),
        lambda: ReadingLogged(what="gloss", zone=zone, gu60=rng.choice((1e-6, 50.0, 99.99))),
        lambda: ReadingLogged(what="comb", zone=zone, um=um, high_um=um * 1.0001, landed=rng.choice((1e-6, 0.2, 1.0))),
        lambda: MishapLogged(what="sand-through", zone=zone),
        lambda: ExposureLogged(dose_mJ_cm2=rng.choice((1e-6, 1e6))),
    ))()  # fmt: skip


class AnyRecord(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.clock = HandClock(NOW)
        self.session = ShopSession(shipped(), self.clock)
        self.session.open(Path(folder.name) / "any.ravden", create=True)
        self.addCleanup(self.session.close)
        self.session.log(HoursSet(zone="UTC"))
        for n in range(OTHERS):
            self.add(f"i{n:02d}", METHODS[n % len(METHODS)])
            for hour in range(n % 4):
                self.clock.turn(hours=1)
                self.session.log(CoatLogged(dry_um=12), instrument=f"i{n:02d}", at=NOW + timedelta(hours=hour))
        self.clock.time = NOW + timedelta(days=2)

    def add(self, name, method):
        found = self.session.catalogue.method(method)
        kind = self.session.catalogue.kind("mandola")
        self.session.log(
            InstrumentAdded(
                id=name, name=name.title(), instrument_kind=kind.id, measures=measures_of(kind),
                material=found.material, method=method, sheen="gloss", min_film_um=50.0,
            ), at=NOW - timedelta(days=1),
        )  # fmt: skip

    def spoil(self, rng, name):
        zones = [z.name for z in self.session.shop.on_rack(name).project.zones]
        logged = 0
        for _ in range(ACTS):
            self.clock.turn(hours=rng.choice((0.0, 1e-4, 0.1, 5.0, 300.0)))
            try:
                self.session.log(act(rng, zones), instrument=name)
                logged += 1
            except InputError:
                continue  # refused, and nothing of it kept
        return logged

    def test_one_of_twelve_spoilt_leaves_eleven(self):
        logged = 0
        for seed in range(CASES):
            rng = random.Random(seed)
            name = f"spoilt{seed}"
            self.add(name, rng.choice(METHODS))
            logged += self.spoil(rng, name)
            outlooks = {}
            for i in self.session.shop.racked:
                with self.subTest(seed=seed, instrument=i):
                    try:
                        outlooks[i] = self.session.request(i).run()
                    except InputError:
                        self.assertTrue(i.startswith("spoilt"), f"{i} fell with {name}")
            made = planned(snapshot(self.session.shop, self.clock.now(), outlooks, {}))
            for i in (f"i{n:02d}" for n in range(OTHERS)):
                self.assertTrue(i in made.parts or i in {n.instrument for n in made.unplanned}, i)
        self.assertGreater(logged, 3 * CASES)


if __name__ == "__main__":
    unittest.main()
