"""What a record says as it grows: the first forecast and the next, sandings as looks, wood that drinks, records at the
edge of what can be."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from ravden.catalogue import assemble
from ravden.core.ahead.outlook import outlook
from ravden.core.climate.series import merged, own_course
from ravden.core.film.filter import Priors
from ravden.core.film.ledger import Ledger
from ravden.core.record import Air, Coat, Instrument, Sanding, Zone
from ravden.core.state.history import film_events, known
from tests.core.film.drinking import believed
from tests.core.test_plan import CATALOGUE, DRAWER, LACQUER, NINE, project

WATERBORNE = CATALOGUE.method("waterborne-sprayed")
ZONES = [Zone(name=n, label=n, kind="flat", area_cm2=400, k_mean=k) for n, k in (("top", 1.0), ("sides", 0.85))]


def of(method, acts, ground="sealed"):
    kind = CATALOGUE.kind("mandola")
    item = Instrument(
        id="x", name="Heron", kind="mandola", measures=assemble.measures_of(kind), material=method.material,
        method=method.id, sheen="gloss", min_film_um=50.0, ground=ground,
    )  # fmt: skip
    return assemble.project(CATALOGUE, item, tuple(acts))


def films(method, acts, ground="sealed"):
    return {f.name: f.mean_um for f in known(of(method, acts, ground), 1e6).ledger.films()}


class FirstForecast(unittest.TestCase):
    def test_a_coat_laid_as_planned_moves_no_window_whatever_the_gun(self):
        for gun in (0.7, 1.0, 1.3):
            priors = Priors(g_ln_mean=math.log(gun), g_ln_sd=0.25 if gun == 1 else 0.08)
            bare = outlook(project(), LACQUER, DRAWER, 0.0, NINE, "", None, priors)
            first = bare.forward.coats[0].at_h
            done = [Coat(at_h=first, dry_um=bare.forward.coats[0].dry_um)]
            after = outlook(project(done), LACQUER, DRAWER, first + 0.4, NINE, "", None, priors)
            for was, now in zip(bare.forward.windows, after.forward.windows, strict=True):
                for name in ("early_h", "likely_h", "late_h"):
                    with self.subTest(gun=gun, window=was.name, end=name):
                        self.assertAlmostEqual(getattr(was, name), getattr(now, name), delta=24.0)

    def test_what_is_known_of_the_gun_is_in_it(self):
        def case(gun):
            priors = Priors(g_ln_mean=math.log(gun), g_ln_sd=0.08)
            return outlook(project(), LACQUER, DRAWER, 0.0, NINE, "", None, priors).forward.windows[-1].likely_h

        self.assertLess(case(0.7) * 1.2, case(1.0))
        self.assertLess(case(1.0) * 1.2, case(1.3))

    def test_each_coat_as_planned_leaves_the_range_as_wide(self):
        widths, acts, now = [], [], 0.0
        for _ in range(4):
            found = outlook(project(acts), LACQUER, DRAWER, now, NINE)
            level = found.forward.windows[0]
            widths.append(math.log(level.late_h - now) - math.log(level.early_h - now))
            coat = found.forward.coats[0]
            acts.append(Coat(at_h=coat.at_h, dry_um=coat.dry_um))
            now = coat.at_h + 0.4
        self.assertLess(max(widths) / min(widths), 1.35, widths)


class ASandingIsALook(unittest.TestCase):
    def test_a_scuff_on_what_drinks_nothing_takes_film_off(self):
        for method, um, left in ((LACQUER, 12, 22.7), (WATERBORNE, 20, 39.5)):
            coats = [Coat(at_h=h, dry_um=um) for h in (0, 3)]
            before, after = films(method, coats), films(method, [*coats, Sanding(at_h=30, um=2, purpose="scuff")])
            self.assertAlmostEqual(after["top"], left, delta=0.5)
            for zone in before:
                with self.subTest(method=method.id, zone=zone):
                    self.assertLess(after[zone], before[zone])

    @settings(max_examples=150)
    @given(st.lists(st.floats(3, 40), min_size=1, max_size=5), st.lists(st.floats(0.5, 4), min_size=1, max_size=3),
           st.floats(0.1, 0.4))  # fmt: skip
    def test_no_scuff_thickens_a_film_that_drinks_nothing(self, coats, scuffs, gun_sd):
        ledger = Ledger(ZONES, Priors(g_ln_sd=gun_sd))
        for um in coats:
            ledger = ledger.coat(um)
        for um in scuffs:
            if um > 0.1 * sum(coats):
                break  # what may be through is doubted, and film on it does speak of the gun
            was = ledger.mean_um("top")
            ledger = ledger.sanding({"top": um, "sides": um})
            self.assertLessEqual(ledger.mean_um("top"), was - um / 2)

    def test_wood_that_drinks_is_believed_as_it_is(self):
        true, mean, inside, ln = believed(np.random.default_rng(4), 60, drinks=(20.0, 10.0, 5.0))
        self.assertAlmostEqual(mean / true, 1.0, delta=0.05)
        self.assertGreaterEqual(inside, 0.83)
        self.assertLess(abs(ln), 0.10)


class AtTheEdge(unittest.TestCase):
    def test_sandings_down_to_next_to_nothing_can_be_worked_out(self):
        acts = [Coat(at_h=0.0, dry_um=3), *(Sanding(at_h=30.0 + h, um=1.5, purpose="scuff") for h in range(3))]
        found = outlook(project(acts), LACQUER, DRAWER, 60.0, NINE)
        self.assertTrue(found.forward.windows)
        for zone in found.project.zones:
            _, cuts = film_events(found.project, zone, 1.0, 60.0)
            self.assertTrue(all(cut.um > 1e-9 for cut in cuts))


class TheAirToCome(unittest.TestCase):
    def log(self, hours):
        """18 +- 3 C by the hour of the day."""
        return [Air(at_h=float(h), temp_C=18 + 3 * math.sin(math.pi * h / 12), rh=0.5, source="log") for h in hours]

    def window(self, now_h, usual=()):
        told = self.log(range(-400, int(now_h) + 1))
        own = () if usual else own_course(told, now_h)
        air, _ = merged([a for a in told if a.at_h >= -1], usual, (), now_h, own)
        made = project()
        made = replace(made, acts=tuple(sorted((*made.acts, *air), key=lambda a: a.at_h)))
        return outlook(made, LACQUER, DRAWER, now_h, NINE).forward.windows[-1]

    def ready_h(self, now_h):
        return self.window(now_h).likely_h

    def test_what_nobody_told_of_the_air_widens_a_wait(self):
        own = self.window(10.5)
        told = self.window(10.5, [Air(at_h=0.0, temp_C=18.0, rh=0.5, source="usual")])
        self.assertAlmostEqual(own.likely_h, told.likely_h, delta=24.0)
        self.assertGreater(own.late_h / own.likely_h, 1.01 * told.late_h / told.likely_h)
        self.assertLess(own.late_h / own.likely_h, 1.3 * told.late_h / told.likely_h)

    def test_in_regular_air_a_night_moves_no_day(self):
        found = [self.ready_h(h) for h in range(1, 25, 3)]
        # The plan itself begins a working day later once one is over.
        self.assertLess(max(found) - min(found), 6.0 + 24.0, found)
        by_night = [self.ready_h(h) for h in (10.5, 13.5, 16.5, 19.5, 22.5)]
        self.assertLess(max(by_night) - min(by_night), 6.0, by_night)

    def test_it_is_the_mean_by_the_hour_of_the_day_and_then_of_all(self):
        course = own_course(self.log(range(-400, 10)), 9.5)
        self.assertEqual({a.source for a in course}, {"own"})
        self.assertEqual(course[0].at_h, 10.0)
        self.assertAlmostEqual(max(a.temp_C for a in course), 20.9, delta=0.2)
        self.assertAlmostEqual(course[-1].temp_C, 18.0, delta=0.01)
        self.assertAlmostEqual(course[-1].at_h, 9 + 1 + 7 * 24)

    def test_a_figure_told_by_hand_holds_and_so_does_a_record_too_short(self):
        self.assertEqual(own_course([Air(at_h=0.0, temp_C=15.0)], 50.0), [])
        self.assertEqual(own_course(self.log(range(-40, 1)), 0.5), [])
        short = [a for a in self.log(range(-70, 1)) if not -60 < a.at_h < -20]
        self.assertEqual(own_course(short, 0.5), [])


if __name__ == "__main__":
    unittest.main()
