"""Every kind of observation: shared errors, uncertain counts, spots, other applicators; what to measure next."""

import unittest

import numpy as np

from ravden.core.errors import InputError
from ravden.core.film import observe
from ravden.core.film.advice import choices
from ravden.core.film.carry import Learnt, carry
from ravden.core.film.filter import Priors, State
from ravden.core.film.ledger import Ledger
from ravden.core.record import Zone
from tests.core.film.test_ledger import K0, coated, sanded

AREA_CM2 = (1350, 1350, 550, 550, 500, 200, 300, 60, 100, 100)
ZONES = [
    Zone(name=str(i), label=str(i), kind="flat", area_cm2=a, k_mean=k)
    for i, (k, a) in enumerate(zip(K0, AREA_CM2, strict=True))
]


def two_rounds():
    return sanded(coated(sanded(coated(Ledger(ZONES), 6), 15), 6), 20)


class OneReading(unittest.TestCase):
    def state(self, mean=50.0, var=36.0):
        """A single node that knows one number."""
        x, p = np.array([[mean]]), np.array([[[var]]])
        one = np.zeros(1)
        return State(g=np.ones(1), log_w=one, x=x, p=p, zones=0, others=0, counts=np.zeros((1, 0)))

    def read(self, y, noise=9.0):
        return observe.linear(self.state(), np.ones((1, 1)), np.zeros(1), y, noise)

    def test_an_ordinary_one_is_weighed_by_how_well_each_is_known(self):
        read = self.read(56.0)
        self.assertAlmostEqual(float(read.state.x[0, 0]), 50 + 6 * 36 / 45)
        self.assertAlmostEqual(float(read.state.p[0, 0, 0]), 36 * 9 / 45)
        self.assertAlmostEqual(read.expected, 50.0)
        self.assertAlmostEqual(read.sd, 45**0.5)
        self.assertGreater(read.good, 0.95)

    def test_one_far_off_is_hardly_believed(self):
        read = self.read(120.0)
        wide = 9 * observe.OUTLIER_WIDTH**2
        self.assertLess(read.good, 0.05)
        self.assertAlmostEqual(float(read.state.x[0, 0]), 50 + 70 * 36 / (36 + wide))
        self.assertAlmostEqual(float(read.state.p[0, 0, 0]), 36 * wide / (36 + wide))


class Shared(unittest.TestCase):
    def measured(self, priors=None):
        ledger = coated(Ledger(ZONES, priors), 2).comb("0", 50, 75, 0.20)
        ledger = sanded(coated(coated(ledger, 2).volume(14.0), 2), 15)
        ledger = coated(coated(ledger, 2).comb("2", 50, 75, 0.20), 4)
        return sanded(ledger, 20).gauge("0", 88, 3)

    def test_combs_volume_and_gauge_as_in_the_reference(self):
        ledger = self.measured()
        mean, sd = ledger.applicator()
        self.assertAlmostEqual(mean, 0.022, delta=0.01)
        self.assertAlmostEqual(sd, 0.102, delta=0.01)
        for zone, film, spread in (("0", 89.6, 4.7), ("2", 99.0, 17.8), ("7", 75.4, 13.0)):
            self.assertAlmostEqual(ledger.film(zone).mean_um, film, delta=0.5)
            self.assertAlmostEqual(ledger.film(zone).sd_um, spread, delta=0.5)
        top = ledger.film("0")
        for got, want in zip((top.p05_um, top.p50_um, top.p95_um), (81.8, 89.6, 97.3), strict=True):
            self.assertAlmostEqual(got, want, delta=0.5)
        self.assertEqual(ledger.flags, ())

    def test_repeating_a_biased_kind_of_reading_does_not_help_for_ever(self):
        ledger, spread = coated(Ledger(ZONES), 1).volume(12), []
        for _ in range(12):
            ledger = ledger.coat(12).volume(12)
            spread.append(ledger.applicator()[1])
        self.assertGreater(spread[-1], 0.12)  # the transfer's own .18 keeps it from learning more
        unbiased = coated(Ledger(ZONES, Priors(volume_bias=1e-6)), 1).volume(12)
        for _ in range(12):
            unbiased = unbiased.coat(12).volume(12)
        self.assertLess(unbiased.applicator()[1], 0.6 * spread[-1])

    def test_a_micrometer_on_the_card_tells_less_than_a_scale_on_a_thin_film(self):
        thin = coated(Ledger(ZONES), 2)
        self.assertLess(thin.card(26).film("0").sd_um, thin.micrometer(26).film("0").sd_um)

    def test_cautious_spreads_are_wider(self):
        usual, cautious = two_rounds(), sanded(coated(Ledger(ZONES, Priors().cautious()), 12), 35)
        self.assertGreater(cautious.film("0").sd_um, 1.3 * usual.film("0").sd_um)


class Counts(unittest.TestCase):
    def test_nine_or_ten_then_a_gauge(self):
        unsure = Ledger(ZONES).coat(12, count_odds={9: 0.5, 10: 0.5})
        self.assertAlmostEqual(unsure.film("0").mean_um, 117.5, delta=0.1)
        self.assertAlmostEqual(unsure.film("0").sd_um, 33.5, delta=0.1)
        after = unsure.gauge("0", 118, 3)
        odds = after.count_odds()[0]
        self.assertAlmostEqual(odds[9], 0.490, delta=0.005)
        self.assertAlmostEqual(odds[10], 0.510, delta=0.005)
        self.assertAlmostEqual(after.film("0").sd_um, 6.06, delta=0.1)
        self.assertAlmostEqual(after.film("1").mean_um, 117.7, delta=0.5)
        self.assertAlmostEqual(after.film("1").sd_um, 20.19, delta=0.5)
        known = Ledger(ZONES).coat(12, count=10).gauge("0", 118, 3)
        self.assertAlmostEqual(known.film("1").mean_um, 119.0, delta=0.5)
        self.assertAlmostEqual(known.film("1").sd_um, 20.5, delta=0.5)

    def test_a_block_is_its_coats_one_by_one(self):
        block, single = Ledger(ZONES).coat(12, count=10), coated(Ledger(ZONES), 10)
        self.assertAlmostEqual(block.film("0").mean_um, single.film("0").mean_um, delta=0.01)
        self.assertAlmostEqual(block.film("0").sd_um, single.film("0").sd_um, delta=0.1)
        self.assertAlmostEqual(single.film("0").sd_um, 34.64, delta=0.1)

    def test_too_many_uncertain_groups_are_merged_without_losing_the_mean(self):
        ledger = Ledger(ZONES)
        for _ in range(5):
            ledger = ledger.coat(10, count_odds={1: 0.5, 3: 0.5})
        self.assertAlmostEqual(ledger.film("0").mean_um, 103.1, delta=0.5)
        self.assertLessEqual(len(ledger.count_odds()), 4)
        certain = Ledger(ZONES).coat(10, count=10)
        self.assertGreater(ledger.film("0").sd_um, certain.film("0").sd_um)

    def test_odds_that_are_none_are_refused(self):
        for odds in ({}, {9: 0.5, 10: 0.4}, {-1: 1.0}, {9: float("nan"), 10: 0.5}):
            with self.assertRaises(InputError) as caught:
                Ledger(ZONES).coat(12, count_odds=odds)
            self.assertIn("count_odds", caught.exception.path)

    def test_a_comb_or_a_volume_speaks_of_one_coat(self):
        for ledger in (Ledger(ZONES).coat(12, count=3), Ledger(ZONES).coat(12, count_odds={1: 0.5, 2: 0.5})):
            self.assertRaises(InputError, ledger.comb, "0", 50, 75, 0.2)
            self.assertRaises(InputError, ledger.volume, 12)


class Looks(unittest.TestCase):
    def test_a_spot_says_little_about_the_zone(self):
        ledger = sanded(coated(Ledger(ZONES), 4), 20)
        spot, whole = ledger.through("0", spot=True), ledger.through("0")
        self.assertLess(spot.film("0").mean_um, ledger.film("0").mean_um)
        self.assertGreater(spot.film("0").mean_um, 1.0)
        self.assertAlmostEqual(whole.film("0").mean_um, 0.5, delta=0.05)
        self.assertEqual((spot.thin_spots, whole.thin_spots), (("0",), ()))

    def test_a_look_after_a_sanding_that_found_film_is_counted_once(self):
        ledger = sanded(coated(Ledger(ZONES), 4), 30)
        self.assertIs(ledger.not_through("0"), ledger)
        looked = ledger.not_through("0", spot=True)
        self.assertGreater(looked.film("0").mean_um, ledger.film("0").mean_um)

    def test_bare_wood_drinks_part_of_the_first_coat(self):
        dry = Ledger(ZONES).coat(12)
        absorbed = dry.absorbed({"0": 8.0})
        self.assertAlmostEqual(dry.film("0").mean_um - absorbed.film("0").mean_um, 8.0, delta=0.2)
        self.assertGreater(absorbed.film("0").sd_um, dry.film("0").sd_um)
        self.assertEqual(absorbed.film("1").mean_um, dry.film("1").mean_um)

    def test_a_sanding_to_come_learns_nothing(self):
        ledger = coated(Ledger(ZONES), 3)
        self.assertEqual(ledger.worn({"0": 30.0}).applicator(), ledger.applicator())
        self.assertNotEqual(ledger.sanding({"0": 30.0}).applicator(), ledger.applicator())


class OtherApplicators(unittest.TestCase):
    def test_each_has_a_factor_of_its_own(self):
        ledger = Ledger(ZONES, others=("sealer",)).coat(20, applicator="sealer")
        main = coated(ledger, 6)
        read = main.gauge("0", 130, 3)
        before, after = main.applicator(), read.applicator()
        self.assertGreater(after[0], before[0])
        self.assertLess(after[1], before[1])
        self.assertLess(read.applicator("sealer")[1], 0.30)
        only = ledger.gauge("0", 30, 3)
        self.assertAlmostEqual(only.applicator()[0], ledger.applicator()[0], delta=1e-6)
        self.assertGreater(only.applicator("sealer")[0], 0.15)
        self.assertRaises(InputError, ledger.coat, 12, applicator="another")


class Advice(unittest.TestCase):
    def test_what_each_measurement_would_buy(self):
        ledger = two_rounds()
        table = {
            ("gauge", "0"): (0.14, 0.62, 0.62, 0.63), ("gauge", "2"): (0.62, 0.62, 0.14, 0.63),
            ("gauge", "7"): (0.64, 0.64, 0.64, 0.18), ("card", ""): (0.55, 0.55, 0.55, 0.51),
            ("micrometer", ""): (0.54, 0.54, 0.54, 0.50), ("comb", "0"): (0.63, 0.78, 0.78, 0.77),
            ("comb", "2"): (0.79, 0.79, 0.64, 0.78), ("volume", ""): (0.71, 0.71, 0.74, 0.73),
        }  # fmt: skip
        for column, target in enumerate(("0", "1", "2", "7")):
            found = {(c.measurement, c.zone): c.share for c in choices(ledger, target, 12, 0.20)}
            for key, shares in table.items():
                self.assertAlmostEqual(found[key], shares[column], delta=0.02, msg=(key, target))

    def test_the_best_comes_first_and_without_a_next_coat_none_is_of_it(self):
        found = choices(two_rounds(), "7")
        self.assertEqual((found[0].measurement, found[0].zone), ("gauge", "7"))
        self.assertEqual([c.share for c in found], sorted(c.share for c in found))
        self.assertLessEqual({c.measurement for c in found}, {"gauge", "card", "micrometer"})


class Carried(unittest.TestCase):
    def test_reference_steps(self):
        for before, ended, mean, var in (
            (Learnt(mean=0, var=0.0536), (0.15, 0.05), 0.13400, 0.0086124),
            (Learnt(mean=0, var=0.03), (0.10, 0.1), 0.082418, 0.0129674),
        ):
            after = carry(before, *ended)
            self.assertAlmostEqual(after.mean, mean, places=5)
            self.assertAlmostEqual(after.var, var, places=6)

    def test_an_instrument_that_taught_nothing_only_ages_the_belief(self):
        before = Learnt(mean=0.1, var=0.01)
        after = carry(before, *before.for_next)
        self.assertEqual(after.mean, 0.1)
        self.assertAlmostEqual(after.var, 0.01 + 0.03**2)

    def test_belief_tightens_over_instruments_as_in_the_reference(self):
        rng, spreads = np.random.default_rng(5), []
        belief = Learnt(mean=0.0, var=0.0606 - 0.0064)
        for _ in range(4):
            mean, sd = belief.for_next
            spreads.append(sd)
            precision = 1 / sd**2 + 1 / 0.10**2
            belief = carry(belief, (mean / sd**2 + rng.normal(0, 0.1) / 0.10**2) / precision, precision**-0.5)
        self.assertAlmostEqual(spreads[0], 0.246, delta=0.002)
        self.assertTrue(spreads[0] > spreads[1] > spreads[2] > spreads[3] > 0.08)


class Refusals(unittest.TestCase):
    def test_readings_that_cannot_be(self):
        ledger = Ledger(ZONES).coat(12)
        for wrong in (
            lambda: ledger.comb("0", 75, 50, 0.2), lambda: ledger.comb("0", 0, 50, 0.2),
            lambda: ledger.comb("0", 50, 75, 1.5), lambda: ledger.card(-3), lambda: ledger.micrometer(0),
            lambda: ledger.volume(-1), lambda: ledger.gauge("0", float("inf")), lambda: ledger.through("nowhere"),
            lambda: Ledger(ZONES).volume(12), lambda: ledger.coat(12, count=0), lambda: ledger.absorbed({"0": -1.0}),
        ):  # fmt: skip
            self.assertRaises(InputError, wrong)

    def test_a_reading_against_everything_is_kept_flagged_and_hardly_moves_it(self):
        known = coated(Ledger(ZONES), 10).gauge("0", 118, 3).gauge("1", 117, 3)
        for wild in (known.gauge("0", 240), known.card(260), known.micrometer(20)):
            self.assertEqual(len(wild.flags), 1)
            self.assertIsNone(wild.flags[0].why)
            self.assertLess(abs(wild.film("0").mean_um - known.film("0").mean_um), 8)
