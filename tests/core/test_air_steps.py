"""How often the air is told changes what an outlook costs, never what it says; and what is told now leaves the past."""

import itertools
import math
import unittest
from unittest import mock

import numpy as np

from ravden.catalogue.tables import shipped
from ravden.core.climate.series import ASSUMED_C, merged
from ravden.core.cure import felt
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import harden
from ravden.core.cure.windows import windows
from ravden.core.record import Air, Coat


def hourly(days, every_h=1.0):
    """Warm by day, cool by night, and no two days alike."""
    count = int(24 * days / every_h)
    return [
        Air(at_h=i * every_h, temp_C=20 + 3 * math.sin(i * every_h * math.pi / 12) + math.sin(i * 0.37), rh=0.5)
        for i in range(count)
    ]  # fmt: skip


HOURS = (30.0, 60.0, 120.0, 240.0, 480.0, 900.0)


def softening(material, air):
    """Softening point and cure at the hours [C, -]."""
    coats = [Coat(at_h=h, dry_um=20.0) for h in (1.0, 4.0, 26.0, 50.0)]
    models = {"": shipped().material(material).cure}
    found = harden(models, coats, under=Conditions(air=air), sampling=Sampling(sample_h=HOURS, until_h=24 * 40))
    return found.column("Tg_min_C").tolist()


class OftenTold(unittest.TestCase):
    def test_a_film_is_as_it_is_by_every_change_by_itself(self):
        for material in ("two-part-clear", "oil-varnish", "polymerising-oil", "lacquer-sprayed", "shellac-pad"):
            with self.subTest(material=material):
                coarse = softening(material, hourly(40))
                with mock.patch.multiple(felt, AIR_STEP_SHARE=0.0, LEAST_AIR_STEP_H=0.0):
                    fine = softening(material, hourly(40))
                for mine, exact in zip(coarse, fine, strict=True):
                    self.assertAlmostEqual(mine, exact, delta=0.4)

    def test_the_steps_do_not_grow_with_the_readings(self):
        count = {}
        for every_h in (6.0, 0.5):
            air = hourly(60, every_h)
            count[every_h] = len(felt.air_hours(air, [1.0, 26.0, 50.0], 24 * 60))
        self.assertLess(count[0.5], 1.4 * count[6.0])

    def test_means_of_a_step_are_weighted_by_time(self):
        air = hourly(3)
        hours = np.array([0.0, 7.3, 30.0, 71.0])
        at_h, temps = (np.array([getattr(a, n) for a in air]) for n in ("at_h", "temp_C"))
        means = felt.step_means(at_h, temps, hours)
        for i, (a, b) in enumerate(itertools.pairwise(hours)):
            fine = np.arange(a, b, 0.001)
            exact = temps[np.searchsorted(at_h, fine + 1e-9, side="right") - 1].mean()
            self.assertAlmostEqual(means[i], exact, places=2)


class ToldNow(unittest.TestCase):
    def test_it_says_nothing_of_the_past(self):
        told = [Air(at_h=168.0, temp_C=30.0, rh=0.4)]
        rows, _ = merged(told, [], [], 168.0)
        self.assertEqual([(a.at_h, a.temp_C, a.source) for a in rows],
                         [(0.0, ASSUMED_C, "assumed"), (168.0, 30.0, "told")])  # fmt: skip
        usual = [
            Air(at_h=-100.0, temp_C=15.0, rh=0.6, source="usual"),
            Air(at_h=90.0, temp_C=17.0, rh=0.6, source="usual"),
        ]
        rows, _ = merged(told, usual, [], 168.0)
        self.assertEqual([(a.at_h, a.temp_C) for a in rows][:3], [(0.0, 15.0), (90.0, 17.0), (168.0, 30.0)])

    def test_six_coats_and_a_week_then_warm_air(self):
        """The film so far is what it was; only what is to come is warmer."""
        model = {"": shipped().material("lacquer-sprayed").cure}
        coats = [Coat(at_h=24.0 * d + 1.5 * i, dry_um=12.0) for d in range(5) for i in range(3)]
        told, _ = merged([Air(at_h=200.0, temp_C=30.0)], [], [], 200.0)
        cool, _ = merged([], [], [], 200.0)
        asked = Sampling(sample_h=[50.0, 120.0, 199.0], until_h=24 * 90)
        warm, still = (harden(model, coats, under=Conditions(air=air), sampling=asked) for air in (told, cool))
        for column in ("film_um", "phi_mean", "Tg_min_C"):
            self.assertEqual(warm.column(column).tolist(), still.column(column).tolist())
        late = [windows(found).level_h for found in (warm, still)]
        self.assertTrue(200.0 < late[0] < late[1], late)
