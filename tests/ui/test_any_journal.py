"""Whatever is logged, in whatever order: the shop reads back the same, and every instrument can be worked out."""

import random
from datetime import timedelta

from ravden.core.errors import InputError
from ravden.journal.fold import fold
from ravden.journal.kinds.air import AirLogged, AirSeries
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.zones import ZonesSet
from ravden.text.say import fault
from tests.ui.test_session import NOW, SessionTest

ZONES = ("top", "back", "sides", "neck", "edges", "lid")


def any_body(rng):
    um = rng.choice((-1.0, 0.5, 4.0, 12.0, 40.0, 9000.0))
    return rng.choice((
        CoatLogged(dry_um=um), CoatLogged(dry_um=um, count=rng.randint(1, 4)),
        CoatLogged(dry_um=4, finish="shellac-pad"),
        CoatLogged(dry_um=8, count_odds=((1, 0.5), (2, 0.5))), CoatLogged(dry_um=um, zones=(rng.choice(ZONES),)),
        SandingLogged(um=um, purpose=rng.choice(("scuff", "level", "rub-out"))),
        ReadingLogged(zone=rng.choice(ZONES), um=rng.uniform(5, 200), n=3), ReadingLogged(what="card", um=um),
        ReadingLogged(what="comb", zone=rng.choice(ZONES), um=50, high_um=75, landed=0.18),
        ReadingLogged(what="through", zone=rng.choice(ZONES), spot=rng.random() < 0.7), ReadingLogged(what="no-print"),
        ZonesSet(masked=(rng.choice(ZONES),)), ZonesSet(), AirLogged(temp_C=rng.uniform(5, 35), rh=rng.random()),
        CabinetLogged(hours=rng.uniform(-5, 80), temp_C=32),
        AirSeries(source="log", hours=(0.0, 2.0), temp_C=(18.0, 19.0), rh=(0.5, 0.6)),
    ))  # fmt: skip


class AnyJournal(SessionTest):
    def test_it_reads_back_and_works_out(self):
        for seed in range(6):
            rng = random.Random(seed)
            logged = refused = 0
            for _ in range(30):
                body = any_body(rng)
                instrument = "" if isinstance(body, AirLogged | AirSeries) else rng.choice(("heron", "wren", "tern"))
                before = len(self.session.entries)
                try:
                    if rng.random() < 0.15:
                        self.session.undo()
                    else:
                        self.session.log(body, instrument=instrument, at=NOW - timedelta(minutes=rng.randint(0, 2400)))
                    logged += 1
                except InputError as error:
                    refused += 1
                    self.assertTrue(fault(error))
                    self.assertEqual(len(self.session.entries), before)
            self.assertTrue(logged > 5 and refused > 0, (logged, refused))
            again = fold(self.session.journal.entries(), self.session.catalogue)
            self.assertEqual(again, self.session.shop)
            for instrument in self.session.shop.racked:
                found = self.session.request(instrument, advise=True).run()
                for zone in found.zones:
                    film = zone.film
                    self.assertTrue(0 <= film.p05_um <= film.p50_um <= film.p95_um, (seed, instrument, zone.name))
                    self.assertTrue(0 <= zone.below_floor <= 1 + 1e-9)
