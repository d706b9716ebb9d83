"""Handing over from one paper to the next: the closed forms, and what they mean on a ladder."""

import math
import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from ravden.core.errors import InputError
from ravden.core.rubout.rub_out import Ask, rub_out
from ravden.core.surface.handover import LEVEL, PV_PER_SIGMA, SHARES, fall_um, handing_over, mean_removed_um, saved_um
from ravden.core.surface.lamp import lamp, radiance
from tests.core.test_plan import DRAWER
from tests.core.test_rubout_plan import film, thick


class ClosedForms(unittest.TestCase):
    def test_film_to_a_touched_share(self):
        for touched, over_sigma in (
            (0.25, 0.149154), (0.5, 0.398942), (0.75, 0.823644), (0.9, 1.328895), (0.99, 2.329737),
        ):  # fmt: skip
            self.assertAlmostEqual(mean_removed_um(PV_PER_SIGMA, touched), over_sigma, places=6)
        shares = [round(mean_removed_um(1.0, f), 2) for f in (0.5, 0.75, 0.9, 0.99)]
        self.assertEqual(shares, [0.08, 0.16, 0.26, 0.45])

    def test_what_is_saved_and_what_is_topped_up(self):
        for pv, touched, fall, saved in (
            (18, 0.75, 5.772, 4.24), (18, 0.9, 3.651, 3.651), (8, 0.75, 2.565, 2.565), (35, 0.9, 7.098, 4.24),
        ):  # fmt: skip
            self.assertAlmostEqual(fall_um(pv, touched), fall, places=3)
            self.assertAlmostEqual(saved_um(pv, touched, 4.24), saved, places=3)

    def test_against_heights_drawn(self):
        import numpy as np

        heights = np.random.default_rng(5).standard_normal(400_000) * 18 / PV_PER_SIGMA
        for touched in (0.5, 0.75, 0.9):
            plane = np.quantile(heights, 1 - touched)
            self.assertAlmostEqual(np.maximum(heights - plane, 0).mean(), mean_removed_um(18, touched), delta=0.02)

    @given(st.floats(1, 200), st.floats(0.5, 0.98), st.floats(0.1, 20))
    def test_later_is_never_cheaper_and_nothing_is_saved_beyond_the_need(self, pv, touched, need):
        self.assertLessEqual(saved_um(pv, touched, need), need)
        self.assertGreaterEqual(saved_um(pv, touched, need), saved_um(pv, min(touched + 0.01, LEVEL), need))
        self.assertAlmostEqual(saved_um(pv, LEVEL, need), 0.0, places=9)
        self.assertLess(mean_removed_um(pv, touched), mean_removed_um(pv, LEVEL))

    def test_what_cannot_be_is_refused(self):
        for pv, touched in ((0, 0.5), (math.nan, 0.5), (10, 0), (10, 1.0), (10, math.nan)):
            with self.assertRaises(InputError):
                mean_removed_um(pv, touched)


class Lamps(unittest.TestCase):
    def test_a_lamp_of_three_tubes_as_it_is_mirrored(self):
        for rough, angle, tube, gap, mirrored in (
            (0.31, 20, 0.2269, 0.2216, 0.0), (0.31, 60, 0.3634, 0.3445, 0.0), (0.31, 82, 0.6432, 0.2151, 0.37844),
            (0.119, 20, 0.5131, 0.4855, 0.00146), (0.119, 60, 0.6389, 0.4231, 0.15753),
            (0.119, 82, 0.9313, 0.0487, 0.86659), (0.051, 20, 0.713, 0.3473, 0.30151),
            (0.051, 60, 0.889, 0.1368, 0.71216), (0.051, 82, 0.9869, 0.0095, 0.97404),
        ):  # fmt: skip
            found = lamp(rough, angle)
            self.assertAlmostEqual(found.tube, tube, delta=0.01)
            self.assertAlmostEqual(found.gap, gap, delta=0.01)
            self.assertAlmostEqual(found.mirrored, mirrored, places=4)

    def test_finer_is_sharper_and_grazing_flatters(self):
        rough = (0.6, 0.3, 0.1, 0.05, 0.01)
        for angle in (20, 60, 82):
            told = [lamp(r, angle).contrast for r in rough]
            self.assertEqual(told, sorted(told))
        for r in rough:
            self.assertLess(lamp(r, 20).contrast, lamp(r, 82).contrast)

    def test_a_picture_of_it_is_the_same_each_time_and_as_large_as_asked(self):
        seen = radiance(0.1, 60, 90, 60)
        self.assertEqual(seen.shape, (60, 90))
        self.assertTrue((seen == radiance(0.1, 60, 90, 60)).all())
        smooth = radiance(0.0, 60, 240, 40)
        row = smooth[20] > 0.5
        self.assertEqual(int(abs(row[1:].astype(int) - row[:-1]).sum()), 6)  # three tubes, two edges each
        for wrong in ((-0.1, 60, 90, 60), (0.1, 89, 90, 60), (0.1, 60, 4, 60)):
            with self.assertRaises(InputError):
                radiance(*wrong)


class OnALadder(unittest.TestCase):
    def ladder(self, **ask):
        return rub_out(film(thick()), DRAWER, Ask(target="gloss", texture_um=18.0, **ask)).ladder

    def test_all_dull_costs_what_the_ladder_says_and_sooner_costs_less_film(self):
        steps = self.ladder().steps
        found = handing_over(steps, 18.0)
        self.assertEqual([h.touched for h in found], list(SHARES))
        self.assertAlmostEqual(found[-1].film_um, steps[0].remove_um + steps[1].remove_um, places=6)
        self.assertAlmostEqual(found[-1].minutes, steps[0].minutes + steps[1].minutes, places=6)
        self.assertLess(found[0].film_um, found[1].film_um)
        self.assertLess(found[1].film_um, found[2].film_um)

    def test_nothing_is_said_where_it_does_not_hold(self):
        steps = self.ladder().steps
        self.assertEqual(handing_over(steps[:1], 18.0), ())
        self.assertEqual(handing_over(steps, 0.0), ())
        soft = replace(steps[0], rung=replace(steps[0].rung, backing=DRAWER.backings["foam"]))
        self.assertEqual(handing_over([soft, *steps[1:]], 18.0), ())
        compound = next(i for i, s in enumerate(steps) if s.rung.abrasive.ra_um is not None)
        self.assertEqual(handing_over(steps[compound - 1 :], 18.0), ())
