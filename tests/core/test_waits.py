"""The waits of a film as it is: ranges, reasons and levers, each against the film solved again by hand."""

import math
import unittest
from dataclasses import replace

from msgspec import structs

from ravden.core.ahead.waits import DRAWS, waits
from ravden.core.ahead.witness import witness
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import harden
from ravden.core.cure.windows import windows
from ravden.core.record import Air, Coat, Reading
from ravden.core.state.history import film_events, scale_of
from tests.core.test_counsel import seen
from tests.core.test_plan import CATALOGUE, TEN_COATS, coats, project


def found_at(now_h=120.0, air=(), n=10, **kw):
    return seen(structs.replace(project((*coats(TEN_COATS[:n]), *air)), **kw), now_h=now_h)


def solved(found, rate=1.0, thick=1.0, air=None):
    built, now = found.project, found.now_h
    zone = built.zone("top")
    laid, cuts = film_events(built, zone, scale_of(built, zone, found.ledger, now), now)
    laid = [structs.replace(c, dry_um=c.dry_um * thick) for c in laid]
    end = now + 24 * 240
    history = harden(
        built.models("top"), laid, cuts, under=Conditions(air=air or built.air, rate_factor=rate),
        sampling=Sampling(until_h=end),
    )  # fmt: skip
    return windows(history)


class Ranges(unittest.TestCase):
    def test_the_likely_hour_is_the_films_own(self):
        found = found_at()
        got = {w.name: w for w in waits(found).waits}
        want = solved(found)
        for name in ("scuff", "level", "buff", "case"):
            self.assertAlmostEqual(got[name].likely_h, want.at(name), delta=1e-6)
            self.assertLess(got[name].early_h, got[name].likely_h)
            self.assertGreater(got[name].late_h, got[name].likely_h)

    def test_the_first_answer_and_the_sampled_one_agree(self):
        found = found_at()
        quick, sampled = waits(found), waits(found, DRAWS)
        self.assertEqual((quick.draws, sampled.draws), (0, DRAWS))
        for a, b in zip(quick.waits, sampled.waits, strict=True):
            if a.name in ("level", "buff", "case"):
                last = TEN_COATS[-1]
                self.assertAlmostEqual((a.late_h - last) / (b.late_h - last), 1, delta=0.35)
                self.assertAlmostEqual((a.early_h - last) / (b.early_h - last), 1, delta=0.35)

    def test_the_same_seed_gives_the_same_range(self):
        found = found_at()
        self.assertEqual(waits(found, 40, seed=5), waits(found, 40, seed=5))
        self.assertNotEqual(waits(found, 40, seed=5).waits, waits(found, 40, seed=6).waits)

    def test_a_measured_film_and_a_weighed_card_narrow_it(self):
        wide = waits(found_at()).waits[2]
        gauged = seen(project((*coats(), Reading(at_h=100, zone="top", um=125, n=5))), now_h=120)
        sure = replace(gauged, project=structs.replace(gauged.project, rate_ln=(0.0, 0.05)))
        width = [w.late_h - w.early_h for w in (wide, waits(gauged).waits[2], waits(sure).waits[2])]
        self.assertTrue(width[0] > width[1] > width[2], width)

    def test_bare_wood_has_nothing_to_wait_for(self):
        self.assertIsNone(waits(seen(project(), now_h=10)))


class Reasons(unittest.TestCase):
    def test_softest_at_the_wood_and_the_heaviest_session_named(self):
        why = waits(found_at()).why
        self.assertGreater(why.depth_um, 0.85 * why.film_um)
        self.assertTrue(0.01 < why.share < 0.5)
        self.assertAlmostEqual(why.session_h, 3.0)
        self.assertIn(why.session_at_h, (0, 24, 48))
        heavy = seen(project((*coats(TEN_COATS[:3]), *(Coat(at_h=h, dry_um=20) for h in (24, 25)))), now_h=60)
        self.assertEqual(waits(heavy).why.session_at_h, 24)

    def test_levers_are_what_solving_again_says(self):
        found = found_at(air=(Air(at_h=0, temp_C=18),))
        levers = {x.what: x for x in waits(found).levers}
        base = solved(found)
        warm = solved(found, air=(Air(at_h=0, temp_C=18), Air(at_h=found.now_h, temp_C=23)))
        thin = solved(found, thick=0.8)
        for name, then in (("warmer", warm), ("thinner", thin)):
            gained = base.at(levers[name].window) - then.at(levers[name].window)
            self.assertAlmostEqual(levers[name].gained_h, gained, delta=0.12 * gained + 1)

    def test_a_thicker_coat_of_oil_takes_longer_with_the_square_of_its_film(self):
        oil = CATALOGUE.method("oil-wiped")
        acts = [Coat(at_h=24.0 * i, dry_um=6.0) for i in range(4)]
        built = structs.replace(
            project(acts, method=oil), absorbed={z.name: (4.0, 2.0) for z in project((), oil).zones}
        )
        found = seen(built, now_h=80.0, method=oil)
        laid, _ = film_events(built, built.zone("top"), 1.0, 80.0)
        own = built.models("top")[""].coat_um or built.models("top")[""].thick_um
        scale = scale_of(built, built.zone("top"), found.ledger, 80.0)
        first, last = (1 + (c.dry_um * scale / own) ** 2 for c in (laid[0], laid[-1]))
        self.assertGreater(last / first, 1.02)
        self.assertAlmostEqual(waits(found).slower, last / first, places=6)
        self.assertEqual(waits(found_at()).slower, 1.0)  # what dries is not asked

    def test_warmer_is_warmer_by_every_hour_to_come(self):
        nights = [Air(at_h=120.0 + 12 * i, temp_C=14 + 9 * (i % 2)) for i in range(1, 120)]
        found = found_at(air=(Air(at_h=0, temp_C=18), *nights))
        lever = next(x for x in waits(found).levers if x.what == "warmer")
        later = [structs.replace(a, temp_C=a.temp_C + 5) for a in nights]
        warm = solved(found, air=(Air(at_h=0, temp_C=18), Air(at_h=found.now_h, temp_C=23), *later))
        gained = solved(found).at(lever.window) - warm.at(lever.window)
        self.assertAlmostEqual(lever.gained_h, gained, delta=0.12 * gained + 1)

    def test_nothing_is_offered_once_everything_is_open(self):
        self.assertEqual(waits(found_at(now_h=24 * 120.0)).levers, ())

    def test_a_session_that_is_full_waits_for_the_morning(self):
        full = waits(seen(project(coats(TEN_COATS[:3])), now_h=4.0))
        self.assertAlmostEqual((full.session_h + 9) % 24, 8)
        self.assertEqual(waits(seen(project(coats(TEN_COATS[:2])), now_h=4.0)).session_h, 4.0)

    def test_flash_off_is_quicker_in_the_warm(self):
        cold, warm = (waits(found_at(air=(Air(at_h=0, temp_C=t),))).flash_s for t in (15, 30))
        self.assertAlmostEqual(cold / warm, 2 ** (15 / 14), places=6)

    def test_hours_nobody_knows_are_counted_from_the_first_coat(self):
        found = found_at(air_gaps=((-50.0, 10.0), (100.0, 500.0)))
        self.assertAlmostEqual(waits(found).unknown_h, 10 + 20)


class Card(unittest.TestCase):
    def weighed(self, rate):
        from ravden.core.cure.witness import card_mass_mg_cm2

        material = project().material
        hours = [80.0, 110.0, 180.0, 300.0]
        mass, _ = card_mass_mg_cm2(material.cure, coats(), (), hours, material.dry_density_g_ml, rate)
        dense = material.dry_density_g_ml
        cards = (Reading(at_h=h, what="card", um=float(m) / dense * 10) for h, m in zip(hours, mass, strict=True))
        return seen(project((*coats(), *cards)), now_h=310.0)

    def test_a_slow_card_puts_every_later_window_off(self):
        verdict = witness(self.weighed(0.8))
        self.assertAlmostEqual(math.exp(verdict.fit.mean), 0.8, delta=0.08)
        self.assertFalse(verdict.accepted)
        for a, b in zip(verdict.before, verdict.after, strict=True):
            if a.name in ("level", "buff", "case"):
                self.assertGreater(b.likely_h, a.likely_h)

    def test_an_accepted_rate_is_known_as_such(self):
        found = self.weighed(1.25)
        fit = witness(found).fit
        again = replace(found, project=structs.replace(found.project, rate_ln=(fit.mean, fit.sd)))
        self.assertTrue(witness(again).accepted)
