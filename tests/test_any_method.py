"""Every method, worked in any order and at any pace: coats on wet ones, paper too soon, light, other finishes, air
that turns. What may be logged can always be worked out, on every zone."""

import random
import shutil
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.ui.places.booth import turns
from ravden.ui.places.booth.acts import act

STEPS, SEEDS = 7, (2, 5)
MINUTES = (1, 1, 2, 5, 10, 30, 60, 240, 600, 1440, 4000, 20_000)
OTHERS = ("shellac-pad", "oil-wax", "lacquer-sprayed", "waterborne", "polymerising-oil")


class AnyMethod(unittest.TestCase):
    def shop(self, method):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        session = ShopSession(shipped(), HandClock(datetime(2026, 5, 4, 9, tzinfo=UTC)))
        self.addCleanup(session.close)
        session.open(folder / "s.ravden", create=True)
        kind = "viola" if method.id == "violin-varnish" else "solid-slab"
        body = InstrumentAdded(
            id="a", name="A", instrument_kind=kind, measures=measures_of(shipped().kind(kind)), sheen="gloss",
            material=method.material, method=method.id, min_film_um=30.0,
        )  # fmt: skip
        session.log(body, instrument="a")
        return session

    def any_body(self, session, chance):
        zone = (chance.choice(session.rack.open_zones),)
        some = chance.choice((None, zone))
        if chance.random() < 0.6:
            try:
                return act(session, None)
            except InputError:
                return CoatLogged(dry_um=session.rack.project.material.coat_dry_um)
        return chance.choice((
            CoatLogged(dry_um=chance.choice((2, 10, 40)), zones=zone),
            CoatLogged(dry_um=3, finish=chance.choice(OTHERS)),
            SandingLogged(um=chance.choice((1, 3, 8)), grade="P800", purpose="scuff", mode="wet", zones=some),
            SandingLogged(um=chance.choice((1, 3, 8)), grade="P800", purpose="level", mode="wet", zones=some),
            AirLogged(temp_C=chance.choice((5, 20, 35)), rh=chance.choice((0.2, 0.5, 0.95))),
            ExposureLogged(dose_mJ_cm2=chance.choice((50, 2000))),
        ))  # fmt: skip

    def test_what_the_wood_drank_makes_no_heavy_coats_of_those_to_come(self):
        method = shipped().method("waterborne-sprayed")
        session = self.shop(method)
        session.clock.turn(minutes=30)
        session.log(CoatLogged(dry_um=20), instrument="a")
        session.clock.turn(minutes=600)
        film = session.request("a", zone="end-grain").run()
        self.assertLess(film.ledger.mean_um("end-grain"), 2)  # the first coat is gone into the wood
        self.assertGreater(float(film.timeline.dry_um.max()), 20)
        self.assertLess(float(film.timeline.dry_um.max()), 20 * method.coats)

    def test_it_can_always_be_worked_out(self):
        worked = 0
        for n, method in enumerate(shipped().methods.values()):
            for seed in SEEDS[n % 2 : n % 2 + 1]:
                chance, session = random.Random(f"{method.id}{seed}"), self.shop(method)
                for step in range(STEPS):
                    session.clock.turn(minutes=chance.choice(MINUTES))
                    body = self.any_body(session, chance)
                    try:
                        session.log(body, instrument="" if isinstance(body, AirLogged) else "a")
                    except InputError:
                        continue
                    with self.subTest(method=method.id, seed=seed, step=step, body=body):
                        zone = chance.choice([z.name for z in session.rack.project.zones])
                        found = session.request("a", zone=zone, advise=step == STEPS - 1).run()
                        turns.turn_of(session, "a", found)
                        for z in found.zones:
                            self.assertTrue(0 <= z.film.p05_um <= z.film.p50_um <= z.film.p95_um, z)
                        worked += 1
        self.assertGreater(worked, 5 * len(shipped().methods))
