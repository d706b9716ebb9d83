"""The witness card: the rate found again from made-up weighings, and bounded by what was noticed."""

import math
import unittest

import numpy as np

from ravden.catalogue.tables import shipped
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import harden
from ravden.core.cure.witness import Noticed, Weighing, card_mass_mg_cm2, fit
from ravden.core.errors import InputError
from ravden.core.record import Air, Coat
from ravden.text.say import fault

LACQUER = shipped().material("lacquer-sprayed")
COATS = tuple(Coat(at_h=h, dry_um=12) for h in (0, 1.5, 3, 24, 25.5, 27))
AIR = (Air(at_h=0, temp_C=20),)
HOURS = (30.0, 54.0, 102.0, 200.0, 400.0)
DENSE = LACQUER.dry_density_g_ml


def weighed(rate, deposit, rng=None, hours=HOURS):
    mass, _ = card_mass_mg_cm2(LACQUER.cure, COATS, AIR, hours, DENSE, rate, deposit)
    noise = np.zeros(len(mass)) if rng is None else 0.01 * rng.normal(size=len(mass))
    return [Weighing(at_h=t, mg_cm2=float(m + e)) for t, m, e in zip(hours, mass, noise, strict=True)]


def fitted(weighings, **kw):
    return fit(LACQUER.cure, COATS, AIR, weighings, dry_g_ml=DENSE, **kw)


def margins(noticed):
    hours = sorted({n.at_h for n in noticed})

    def margin_K(rate):
        found = harden(
            {"": LACQUER.cure},
            COATS,
            under=Conditions(air=AIR, rate_factor=rate),
            sampling=Sampling(sample_h=hours, until_h=hours[-1], rough=True),
        )
        by = dict(zip(hours, found.column("Tg_min_C") - 20, strict=True))
        return [by[n.at_h] for n in noticed]

    return margin_K


class Weighings(unittest.TestCase):
    def test_rate_and_deposit_are_found_again(self):
        for rate, deposit in ((0.75, 0.9), (1.0, 1.0), (1.3, 1.2)):
            found = fitted(weighed(rate, deposit), model_share=0.0)
            self.assertAlmostEqual(math.exp(found.mean), rate, delta=0.06)
            self.assertAlmostEqual(found.deposit_um, 72 * deposit, delta=0.5)
            low, high = found.interval
            self.assertTrue(low < rate < high)

    def test_the_interval_holds_the_truth_nine_times_in_ten(self):
        rng, inside = np.random.default_rng(3), 0
        for _ in range(40):
            rate, deposit = 0.22 * rng.normal(), 0.25 * rng.normal()
            found = fitted(weighed(math.exp(rate), math.exp(deposit), rng), model_share=0.0)
            inside += abs(found.mean - rate) < 1.645 * found.sd
        self.assertTrue(31 <= inside <= 40, inside)

    def test_one_weighing_tells_the_deposit_and_several_the_rate(self):
        one, more = (fitted(weighed(0.8, 1.1, hours=HOURS[:n])) for n in (1, 5))
        self.assertGreater(one.sd, 2 * more.sd)
        self.assertLess(more.deposit_sd_um, 1.5)
        self.assertAlmostEqual(more.solvent_left, float(card_mass_mg_cm2(
            LACQUER.cure, COATS, AIR, HOURS, DENSE, 0.8, 1.1)[1][-1]), delta=0.01)  # fmt: skip

    def test_what_cannot_be(self):
        with self.assertRaises(InputError) as caught:
            fitted([Weighing(at_h=-5, mg_cm2=3)])
        self.assertIn("before it was coated", fault(caught.exception))
        self.assertRaises(InputError, fitted, [])
        self.assertRaises(InputError, Weighing, at_h=0, mg_cm2=-1)
        self.assertRaises(InputError, Noticed, at_h=0, what="looks dry")
        self.assertRaises(InputError, fitted, [], noticed=[Noticed(at_h=5, what="smells")])


class Observations(unittest.TestCase):
    def test_they_bound_the_rate_from_either_side(self):
        for what, slower in (("nail-dents", True), ("nail-holds", False)):
            seen = [Noticed(at_h=150, what=what)]
            found = fitted([], noticed=seen, margin_K=margins(seen))
            self.assertEqual(found.mean < 0, slower)
            self.assertLess(found.sd, found.prior_sd)

    def test_a_card_is_not_overruled_by_a_nail(self):
        card = weighed(1.2, 1.0)
        seen = [Noticed(at_h=150, what="nail-dents")]
        both = fitted(card, noticed=seen, margin_K=margins(seen))
        self.assertAlmostEqual(both.mean, fitted(card).mean, delta=2 * both.sd)
        self.assertEqual((both.weighings, both.observations), (5, 1))
