"""The ledger against importance sampling: the same model drawn a hundred thousand times and weighed by the readings."""

import unittest

import numpy as np

from ravden.core.film.ledger import Ledger
from tests.core.film.test_ledger import K0, SHARES, ZONES, coated, sanded

DRAWS = 150_000
LN_SD = np.sqrt(np.log(1 + 0.25**2))


class Drawn:
    """Truths drawn from the priors, with a weight each."""

    def __init__(self, seed, zones, draws=DRAWS):
        self.draws = draws
        self.rng = np.random.default_rng(seed)
        self.zones = zones
        self.k0 = np.array([*(K0[z] for z in zones), 1.0])
        self.g = np.exp(LN_SD * self.rng.normal(size=self.draws))
        cv = np.array([*(0.12 for _ in zones), 0.05])
        self.k = self.k0 * (1 + cv * self.normal(len(self.k0)))
        self.s = 1 + 0.25 * self.rng.normal(size=self.draws)
        self.film = np.zeros((self.draws, len(self.k0)))
        self.w = np.ones(self.draws)

    def normal(self, n):
        return self.rng.normal(size=(self.draws, n))

    def coats(self, count, um):
        for _ in range(count):
            noise = 0.07 * self.normal(1) + 0.07 * self.normal(len(self.k0))
            self.film += um * self.g[:, None] * self.k * (1 + noise)

    def sand(self, um, through=()):
        share = np.array([*(SHARES[z] for z in self.zones), 0.0])
        self.film -= um * share * self.s[:, None] * (1 + 0.25 * self.normal(len(self.k0)))
        for i, zone in enumerate(self.zones):
            gone = self.film[:, i] <= 0
            self.w *= gone if zone in through else np.where(gone, 0.05, 1.0)

    def card(self, um):
        seen = self.film[:, -1] * (1 + 0.04 * self.rng.normal(size=self.draws))
        self.w *= np.exp(-0.5 * (um - seen) ** 2)

    def gauge(self, i, um, n):
        seen = self.film[:, i] * (1 + 0.03 * self.rng.normal(size=self.draws))
        var = 9 / n + (0.07 * self.film[:, i]) ** 2 / n
        self.w *= np.exp(-0.5 * (um - seen) ** 2 / var) / np.sqrt(var)

    def told(self, i):
        w = self.w / self.w.sum()
        film = np.maximum(self.film[:, i], 0.0)
        mean = w @ film
        order = np.argsort(film)
        cdf = np.cumsum(w[order])
        return mean, np.sqrt(w @ (film - mean) ** 2), [film[order][np.searchsorted(cdf, p)] for p in (0.05, 0.5, 0.95)]


class Against(unittest.TestCase):
    zones = (0, 2, 7)

    def assertAgrees(self, drawn, ledger, *, mean=0.9, sd=0.07, quantile=2.0):
        for i, zone in enumerate(self.zones):
            want_mean, want_sd, want = drawn.told(i)
            got = ledger.film(str(zone))
            self.assertAlmostEqual(got.mean_um, want_mean, delta=mean)
            self.assertAlmostEqual(got.sd_um / want_sd, 1.0, delta=sd)
            for q, w in zip((got.p05_um, got.p50_um, got.p95_um), want, strict=True):
                self.assertAlmostEqual(q, w, delta=quantile)

    def test_coats_alone(self):
        drawn = Drawn(1, self.zones)
        drawn.coats(12, 12)
        self.assertAgrees(drawn, coated(Ledger(ZONES), 12))

    def test_two_rounds_and_sandings(self):
        drawn = Drawn(2, self.zones)
        for um in (15, 20):
            drawn.coats(6, 12)
            drawn.sand(um)
        few = [ZONES[z] for z in self.zones]
        ledger = Ledger(few)
        for um in (15.0, 20.0):
            ledger = coated(ledger, 6).sanding({str(z): um * SHARES[z] for z in self.zones})
        self.assertAgrees(drawn, ledger)

    def test_a_gauge_on_the_top(self):
        drawn = Drawn(3, self.zones)
        drawn.coats(10, 12)
        drawn.gauge(0, 118, 3)
        self.assertAgrees(drawn, coated(Ledger([ZONES[z] for z in self.zones]), 10).gauge("0", 118, 3), sd=0.08)

    def test_a_card_on_the_scale(self):
        drawn = Drawn(4, self.zones, 500_000)
        drawn.coats(12, 12)
        drawn.card(150)
        self.assertAgrees(drawn, coated(Ledger([ZONES[z] for z in self.zones]), 12).card(150), mean=0.7, sd=0.05)

    def test_beside_a_sand_through(self):
        drawn = Drawn(5, self.zones, 500_000)
        drawn.coats(6, 8)
        drawn.sand(15)
        drawn.coats(4, 8)
        drawn.sand(40, through=(2,))
        ledger, through = Ledger([ZONES[z] for z in self.zones]), ((), ("2",))
        for count, um, gone in zip((6, 4), (15.0, 40.0), through, strict=True):
            ledger = coated(ledger, count, 8).sanding({str(z): um * SHARES[z] for z in self.zones}, gone)
        # On a film that may be gone the mean says little, here as in the program: the quantiles are what is told.
        for i, zone in enumerate(("0", "2", "7")):
            if zone != "2":
                film, (_, _, want) = ledger.film(zone), drawn.told(i)
                for got, w in zip((film.p05_um, film.p50_um, film.p95_um), want, strict=True):
                    self.assertAlmostEqual(got, w, delta=2.0)


class ReferenceDraws(unittest.TestCase):
    """The sampled results of the reference scenarios, at the tolerances promised of the ledger."""

    def check(self, ledger, zone, mean, sd, quantiles=(), beside=False):
        film = ledger.film(zone)
        self.assertAlmostEqual(film.mean_um, mean, delta=0.7)
        self.assertAlmostEqual(film.sd_um / sd, 1, delta=0.20 if beside else 0.07)
        for got, want in zip((film.p05_um, film.p50_um, film.p95_um), quantiles, strict=False):
            self.assertAlmostEqual(got, want, delta=2.0)

    def test_scenarios(self):
        a = coated(Ledger(ZONES), 12)
        self.check(a, "0", 148.5, 41.7, (90.9, 143.0, 224.6))
        self.check(a, "7", 81.7, 22.9)
        b = sanded(coated(sanded(coated(Ledger(ZONES), 6), 15), 6), 20)
        self.check(b, "0", 113.6, 43.0, (53.0, 108.5, 191.6))
        self.check(b.card(150), "0", 114.9, 23.4, (77.5, 114.1, 154.0))
        d = sanded(coated(sanded(coated(Ledger(ZONES), 6, 8), 15), 4, 8), 40, ["2"])
        self.check(d, "0", 19.3, 13.5, (1.5, 17.2, 44.6), beside=True)
        self.check(d, "7", 32.0, 8.5)
