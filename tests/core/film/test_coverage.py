"""Do the intervals hold what they say? A small number of made-up shops; the full count is in benchmarks/film.py."""

import unittest

import numpy as np

from tests.core.film import shops
from tests.core.film.shops import FEW, MANY, MID, NONE, World


class Coverage(unittest.TestCase):
    def check(self, seed, count, data, world, half, most):
        got_half, got_most = shops.coverage(np.random.default_rng(seed), count, data, world)
        self.assertAlmostEqual(got_half, half, delta=0.07)
        self.assertAlmostEqual(got_most, most, delta=0.05)

    def test_with_no_reading_and_with_one(self):
        self.check(11, 120, NONE, None, 0.50, 0.90)
        self.check(12, 120, FEW, None, 0.50, 0.90)

    def test_with_many(self):
        self.check(13, 60, MID, None, 0.50, 0.90)
        self.check(14, 40, MANY, None, 0.50, 0.90)

    def test_a_gun_far_from_nominal_is_found_once_it_is_measured(self):
        self.check(15, 60, MID, World(gun=1.5), 0.48, 0.89)

    def test_gross_misreadings_cost_little(self):
        self.check(16, 50, MID, World(gross=0.05), 0.476, 0.864)

    def test_noise_worse_than_believed_shows_as_it_should(self):
        self.check(17, 80, MID, World(noise=1.5), 0.39, 0.775)
