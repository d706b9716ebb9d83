"""Several coats told at once are several coats: spaced, cured, absorbed and drawn as if told one by one."""

from datetime import UTC, datetime, timedelta
from unittest import TestCase

from ravden.catalogue import assemble
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.ahead.outlook import outlook
from ravden.core.calendar.hours import WorkHours
from ravden.core.errors import InputError
from ravden.core.method.steps import spacing
from ravden.core.state.history import film_events, known
from ravden.journal.entry import Entry
from ravden.journal.fold import check, fold
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.sanding import SandingLogged

ZERO = datetime(2026, 5, 4, 9, tzinfo=UTC)
CATALOGUE = shipped()
DRAWER = assemble.drawer_of(CATALOGUE, None)


def shop(*told, method="lacquer-fine-start", ground="sealed"):
    """told: hours and what was logged then."""
    kind = CATALOGUE.kind("parlour-guitar")
    added = InstrumentAdded(
        id="x", name="X", instrument_kind=kind.id, measures=measures_of(kind), method=method, sheen="gloss",
        material=CATALOGUE.method(method).material, min_film_um=20, ground=ground,
    )  # fmt: skip
    entries = [(0.0, added), *told]
    return fold(
        [
            Entry(id=i + 1, at=ZERO + timedelta(hours=h), logged_at=ZERO + timedelta(days=400), instrument="x", body=b)
            for i, (h, b) in enumerate(entries)
        ],
        CATALOGUE,
    )


def level_h(project, method, now_h):
    found = outlook(project, CATALOGUE.method(method), DRAWER, now_h, WorkHours(hour_at_zero=9))
    return next(w.likely_h for w in found.windows if w.name == "level")


class OverDays(TestCase):
    def test_six_coats_a_day_apart_are_the_same_told_one_by_one_or_at_once(self):
        """Two sessions with a scuff between them: the coats after it are coats of the second."""
        each = [(24.0 * (i + 1), CoatLogged(dry_um=25)) for i in range(6)]
        at_once = [(144.0, CoatLogged(dry_um=25, count=6, over_h=120.0))]
        waits = []
        for told in (each, at_once):
            made = shop(*told, method="two-part-clear")
            waits.append(level_h(made.racked["x"].project_at(ZERO + timedelta(hours=145)), "two-part-clear", 145.0))
        self.assertAlmostEqual(waits[0], waits[1], places=3)


class Alike(TestCase):
    def project(self, *told, at_h=400.0, **given):
        return shop(*told, **given).racked["x"].project_at(ZERO + timedelta(hours=at_h))

    def test_they_are_cured_as_if_told_one_by_one(self):
        stage = next(s for s in CATALOGUE.method("lacquer-fine-start").stage if s.kind == "coats")
        hours = [60.0 - h for h in (*spacing(stage, 6), 0.0)]
        self.assertEqual(len(set(hours)), 6)
        one_by_one = self.project(*((h, CoatLogged(dry_um=12)) for h in hours))
        at_once = self.project((60.0, CoatLogged(dry_um=12, count=6)))
        for zone in one_by_one.zones:
            apart, alike = (film_events(p, zone, 1.0, 80.0)[0] for p in (one_by_one, at_once))
            self.assertEqual([(c.at_h, c.dry_um) for c in apart], [(c.at_h, c.dry_um) for c in alike])
        apart, alike = (level_h(p, "lacquer-fine-start", 80.0) for p in (one_by_one, at_once))
        self.assertAlmostEqual(apart, alike, delta=2.0)

    def test_bare_wood_drinks_of_each_of_them_in_both_places(self):
        given = {"ground": "open-grain"}
        one_by_one = self.project(*((24.0 * i, CoatLogged(dry_um=9)) for i in range(4)), **given)
        at_once = self.project((72.0, CoatLogged(dry_um=9, count=4, over_h=72.0)), **given)
        self.assertTrue(any(one_by_one.absorbed.values()))
        for zone in one_by_one.zones:
            films = [sum(c.dry_um for c in film_events(p, zone, 1.0, 80.0)[0]) for p in (one_by_one, at_once)]
            self.assertAlmostEqual(films[0], films[1])
            means = [known(p, 80.0).ledger.mean_um(zone.name) for p in (one_by_one, at_once)]
            self.assertAlmostEqual(means[0], means[1], delta=0.2)

    def test_from_and_to_are_as_told_and_else_they_fit_what_was_done_before(self):
        told = self.project((60.0, CoatLogged(dry_um=12, count=4, over_h=30.0))).coats[-1]
        self.assertEqual(told.hours, [30.0, 40.0, 50.0, 60.0])
        tight = self.project((50.0, CoatLogged(dry_um=12)), (60.0, CoatLogged(dry_um=12, count=6))).coats[-1]
        self.assertTrue(all(50.0 < h <= 60.0 for h in tight.hours))
        self.assertEqual(len(set(tight.hours)), 6)
        unsure = self.project((60.0, CoatLogged(dry_um=12, count_odds=((9, 0.9), (10, 0.1))))).coats[-1]
        self.assertEqual(len(set(unsure.hours)), 9)

    def test_what_was_done_in_between_has_them_logged_apart(self):
        there = shop((20.0, CoatLogged(dry_um=12)), (30.0, SandingLogged(um=2)))
        body = CoatLogged(dry_um=12, count=4, over_h=30.0)
        with self.assertRaises(InputError) as caught:
            check(there, body, "x", ZERO + timedelta(hours=50), ZERO + timedelta(days=400))
        self.assertEqual(caught.exception.path, "first")

    def test_the_past_steps_up_coat_by_coat(self):
        history = known(self.project((60.0, CoatLogged(dry_um=12, count=4, over_h=30.0))), 80.0).history
        self.assertEqual([k.at_h for k in history[1:]], [30.0, 40.0, 50.0, 60.0])
        means = [k.film.moments("top")[0] for k in history]
        self.assertAlmostEqual(means[2], 2 * means[1], places=6)
        self.assertEqual([k.act is None for k in history], [True, True, True, True, False])
