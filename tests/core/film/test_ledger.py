"""The ledger against its reference scenarios, its limits and calibration; deposits and cuts."""

import unittest

import numpy as np

from ravden.core.errors import InputError
from ravden.core.film.advice import choices
from ravden.core.film.filter import Priors, truncated
from ravden.core.film.ledger import Ledger
from ravden.core.materials import mixing
from ravden.core.record import Zone

K0 = (1, 1, 0.85, 0.85, 0.85, 0.9, 0.9, 0.55, 0.8, 0.8)
SHARES = (1, 1, 0.8, 0.8, 0.8, 0.8, 0.8, 0.15, 0.3, 0.3)
ZONES = [Zone(name=str(i), label=str(i), kind="flat", area_cm2=1000, k_mean=k) for i, k in enumerate(K0)]


def sanded(ledger, um, through=()):
    return ledger.sanding({str(i): um * s for i, s in enumerate(SHARES)}, through)


def coated(ledger, count, um=12.0):
    for _ in range(count):
        ledger = ledger.coat(um)
    return ledger


class ReferenceScenarios(unittest.TestCase):
    def check(self, ledger, zone, mean, sd, delta=0.5):
        film = ledger.film(zone)
        self.assertAlmostEqual(film.mean_um, mean, delta=delta)
        self.assertAlmostEqual(film.sd_um, sd, delta=delta)
        return film

    def test_twelve_coats(self):
        ledger = coated(Ledger(ZONES), 12)
        top = self.check(ledger, "0", 148.4, 41.5)
        for got, want in zip((top.p05_um, top.p50_um, top.p95_um), (90.0, 143.3, 224.1), strict=True):
            self.assertAlmostEqual(got, want, delta=0.5)
        self.check(ledger, "2", 126.1, 35.3)
        self.check(ledger, "7", 81.6, 22.8)

    def test_coats_and_two_sandings_then_a_card(self):
        ledger = sanded(coated(sanded(coated(Ledger(ZONES), 6), 15), 6), 20)
        self.check(ledger, "0", 113.4, 42.9)
        self.check(ledger, "7", 76.4, 22.9)
        weighed = ledger.card(150)
        mean, sd = weighed.applicator()
        self.assertAlmostEqual(mean, 0.036, delta=0.01)
        self.assertAlmostEqual(sd, 0.068, delta=0.01)
        self.check(weighed, "0", 114.7, 23.4)
        self.check(weighed, "2", 99.3, 19.7)

    def test_a_zone_sanded_through(self):
        ledger = sanded(coated(sanded(coated(Ledger(ZONES), 6, 8), 15), 4, 8), 40, ["2"])
        self.check(ledger, "0", 19.8, 15.7, delta=0.8)
        self.assertAlmostEqual(ledger.film("2").mean_um, 0.5, delta=0.01)
        self.check(ledger, "7", 31.9, 8.3, delta=0.5)

    def test_without_uncertainty_it_is_arithmetic(self):
        sure = Priors(g_ln_sd=1e-6, coat_common=0, coat_zone=0, sanding_shared=0, sanding_each=0, gauge_gain=0, spot=0)
        zones = [Zone(name=z.name, label="", kind="flat", area_cm2=1, k_mean=z.k_mean, k_cv=0.001) for z in ZONES]
        ledger = sanded(coated(Ledger(zones, sure), 12), 20)
        for i, (k, s) in enumerate(zip(K0, SHARES, strict=True)):
            self.assertAlmostEqual(ledger.film(str(i)).mean_um, 144 * k - 20 * s, delta=1e-3)

    def test_truncated_normals(self):
        cases = (
            (60, 400, 50, 75, -0.76607, 62.191, 49.368),
            (20, 625, 0, np.inf, -0.23807, 29.189, 356.78),
            (100, 900, -np.inf, 40, -3.78318, 28.804, 102.85),
            (0, 1, 5, 6, -15.0685, 5.1831, 0.0295),
            (0, 1, -9, -8, -35.0136, -8.1212, 0.0141),
        )
        for mean, var, low, high, *want in cases:
            got = [float(x[0]) for x in truncated(np.array([float(mean)]), np.array([float(var)]), low, high)]
            for g, w in zip(got, want, strict=True):
                self.assertAlmostEqual(g, w, delta=max(1e-3, 1e-4 * abs(w)))


class Readings(unittest.TestCase):
    def test_a_gauge_narrows_its_zone_most_and_the_others_too(self):
        before = coated(Ledger(ZONES), 12)
        after = before.gauge("0", 130, 3)
        self.assertLess(after.film("0").sd_um, 0.2 * before.film("0").sd_um)
        self.assertLess(after.film("1").sd_um, 0.6 * before.film("1").sd_um)
        self.assertLess(after.applicator()[0], -0.05)

    def test_a_wild_reading_is_flagged_and_hardly_believed(self):
        ledger = coated(Ledger(ZONES), 12).gauge("0", 130, 3)
        wild = ledger.gauge("0", 400, 1)
        self.assertEqual(ledger.flags, ())
        self.assertEqual(len(wild.flags), 1)
        self.assertLess(wild.film("0").mean_um, 150)

    def test_the_gain_foretold_is_about_the_gain_had(self):
        ledger = coated(Ledger(ZONES), 12)
        foretold = next(c.after_um for c in choices(ledger, "0") if (c.measurement, c.zone) == ("gauge", "0"))
        had = ledger.gauge("0", ledger.film("0").mean_um, 3).film("0").sd_um
        self.assertAlmostEqual(foretold, had, delta=0.25 * had)

    def test_a_comb_in_the_last_coat(self):
        ledger = coated(Ledger(ZONES), 2)
        heavy = ledger.comb("0", 75, 100, 0.2)
        self.assertGreater(heavy.film("0").mean_um, ledger.film("0").mean_um + 3)
        with self.assertRaises(InputError):
            Ledger(ZONES).comb("0", 50, 75, 0.2)

    def test_intervals_hold_what_they_say(self):
        rng = np.random.default_rng(7)
        inside = total = 0
        for _ in range(60):
            g = np.exp(rng.normal(0, 0.2462))
            k = np.array(K0[:4]) * (1 + 0.12 * rng.normal(size=4))
            s = 1 + 0.25 * rng.normal()
            film = np.zeros(4)
            ledger = Ledger(ZONES[:4])
            for _ in range(8):
                film += 12 * g * k * (1 + 0.07 * rng.normal() + 0.07 * rng.normal(size=4))
                ledger = ledger.coat(12)
            film -= 15 * (s + 0.25 * rng.normal(size=4) * abs(s))
            ledger = ledger.sanding({str(i): 15.0 for i in range(4)})
            gain = 1 + 0.03 * rng.normal()
            read = film[0] * gain + np.hypot(3, 0.07 * film[0]) / np.sqrt(3) * rng.normal()
            if film.min() <= 1 or read <= 0:
                continue
            ledger = ledger.gauge("0", float(read), 3)
            for i, f in enumerate(film):
                zone = ledger.film(str(i))
                inside += zone.p05_um <= f <= zone.p95_um
                total += 1
        self.assertGreater(total, 200)
        self.assertAlmostEqual(inside / total, 0.90, delta=0.06)

    def test_masked_zones_get_nothing_and_unknown_ones_are_refused(self):
        ledger = Ledger(ZONES).coat(12, ["0"])
        self.assertEqual(ledger.film("1").mean_um, 0.0)
        for bad in (
            lambda: ledger.coat(12, ["nowhere"]), lambda: ledger.gauge("9x", 10), lambda: ledger.gauge("0", -1),
            lambda: ledger.coat(float("nan")), lambda: Ledger([]), lambda: Ledger([ZONES[0], ZONES[0]]),
        ):  # fmt: skip
            self.assertRaises(InputError, bad)

    def test_odds_below_agree_with_the_quantiles(self):
        ledger = coated(Ledger(ZONES), 12)
        self.assertAlmostEqual(ledger.odds_below("0", ledger.film("0").p05_um), 0.05, delta=0.002)


class Mixing(unittest.TestCase):
    def test_cuts_of_shellac(self):
        for cut, solids in ((0.5, 0.0495), (1, 0.0944), (1.5, 0.1352), (3, 0.2381), (5, 0.3425)):
            self.assertAlmostEqual(mixing.shellac_volume_solids(cut), solids, delta=5e-5)
        self.assertAlmostEqual(mixing.alcohol_to_dilute_ml(500, 3, 1), 761.85, delta=0.01)

    def test_solids_by_mass_and_volume_are_inverses(self):
        for w in (0.05, 0.2, 0.6):
            vs = mixing.volume_solids(w, 1.45, 0.86)
            self.assertAlmostEqual(mixing.mass_solids(vs, 1.45, 0.86), w, places=12)

    def test_a_comb_reads_after_the_loss_in_flight(self):
        dry = mixing.dry_from_comb(79.2, 0.17, 0.25)
        self.assertAlmostEqual(dry, 17.0, delta=0.05)
        self.assertAlmostEqual(mixing.wet_from_dry(dry, 0.17, 0.25), 79.2, places=9)

    def test_out_of_range_is_refused(self):
        for bad in (
            lambda: mixing.thinned_solids(0, 1), lambda: mixing.thinned_solids(0.2, -1),
            lambda: mixing.dry_from_wet(float("nan"), 0.2), lambda: mixing.alcohol_to_dilute_ml(500, 2, 3),
        ):  # fmt: skip
            self.assertRaises(InputError, bad)
