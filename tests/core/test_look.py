"""Photos laid over each other, and the rule: against results worked out elsewhere, and what must not move it."""

import unittest

import numpy as np
from scipy.ndimage import gaussian_filter

from ravden.core.errors import InputError
from ravden.core.surface import align
from ravden.core.surface.look import CANNOT_TELL, SPOTS, looked_at
from tests.core.reference import surface


def panels(seed, discs, exposure=1.0):
    """Three photos of one panel with shiny discs, as the reference has them."""
    r, n = np.random.default_rng(seed), 320
    x = (np.arange(n) + 0.5) / 4
    across, upright = np.meshgrid(x, x)
    shiny = np.zeros((n, n), dtype=bool)
    for _ in range(discs):
        at_x, at_y = r.uniform(8, 72, 2)
        shiny |= (across - at_x) ** 2 + (upright - at_y) ** 2 < r.uniform(0.6, 2.4) ** 2
    out = []
    for dull, bright, tilt in ((0.30, 0.12, 0.3), (0.26, 0.13, -0.2), (0.20, 0.34, 0.15)):
        grain = np.clip(1 + 0.05 * r.standard_normal((n, n)), 0.2, None)
        out.append(exposure * np.where(shiny, bright, dull) * (1 + tilt * (across / 80 - 0.5)) * grain)
    return out


class Rule(unittest.TestCase):
    def test_results_worked_out_elsewhere(self):
        for case in surface()["look_rule"]["cases"]:
            found, want = looked_at(*panels(case["seed"], case["discs"])), case["out"]
            self.assertEqual(found.verdict, want["verdict"])
            self.assertAlmostEqual(found.lit_share, want["lit_share"], delta=0.002)
            self.assertAlmostEqual(found.parts, want["parts"], delta=1)
            for spot, known in zip(found.spots, want["largest"], strict=False):
                self.assertAlmostEqual(spot.x_mm, known["x_mm"], delta=0.2)
                self.assertAlmostEqual(spot.y_mm, known["y_mm"], delta=0.2)
                self.assertAlmostEqual(spot.mm2, known["mm2"], delta=0.05 * known["mm2"] + 0.01)

    def test_twice_the_light_moves_it_hardly(self):
        usual, bright = (looked_at(*panels(3, 40, e)) for e in (1.0, 2.0))
        self.assertAlmostEqual(usual.lit_share, bright.lit_share, delta=0.01)

    def test_what_is_ringed(self):
        spotted, silent = looked_at(*panels(3, 40)), looked_at(*panels(1, 0))
        self.assertEqual((spotted.verdict, len(spotted.ringed)), (SPOTS, spotted.parts))
        self.assertEqual((silent.verdict, len(silent.ringed)), (CANNOT_TELL, 12))

    def test_a_taped_corner_and_the_rim_are_left_out(self):
        shots = panels(3, 40)
        shots[2][:40, :40] = 0.9  # a corner left glossy
        with_it, without = looked_at(*shots), looked_at(*shots, (0.0, 0.0, 10.5, 10.5))
        self.assertGreater(with_it.lit_share, without.lit_share + 0.005)
        self.assertFalse([s for s in without.spots if s.x_mm < 10 and s.y_mm < 10])
        with self.assertRaises(InputError):
            looked_at(*shots, (0.0, 0.0, 80.0, 80.0))
        with self.assertRaises(InputError):
            looked_at(shots[0], shots[1][:50], shots[2])


class Align(unittest.TestCase):
    def test_four_corners_make_it_square(self):
        told = surface()["homography"]
        matrix = align.homography(tuple(told["size"]), tuple(map(tuple, told["corners"])))
        self.assertLess(float(np.abs(matrix - np.array(told["matrix"])).max()), 1e-6)
        for one in told["maps"]:
            u, v, w = matrix @ [*one["to"], 1.0]
            self.assertAlmostEqual(u / w, one["at"][0], places=4)
            self.assertAlmostEqual(v / w, one["at"][1], places=4)

    def test_corners_that_cross_or_make_no_panel_are_refused(self):
        good = ((0.0, 0.0), (20.0, 0.0), (20.0, 20.0), (0.0, 20.0))
        self.assertEqual(align.px_per_mm((10, 10), good), 2.0)
        for wrong in (
            (good[0], good[2], good[1], good[3]), good[::-1], (good[0], good[0], *good[2:]), good[:3],
            ((0.0, 0.0), (10.0, 0.0), (20.0, 0.1), (0.0, 20.0)), ((np.nan, 0.0), *good[1:]),
        ):  # fmt: skip
            with self.assertRaises(InputError):
                align.homography((10.0, 10.0), wrong)
        with self.assertRaises(InputError):
            align.homography((0.0, 10.0), good)

    def test_a_shift_is_found(self):
        told = surface()["shift"]
        noise = np.random.default_rng(told["seed"]).standard_normal((96, 120))
        first = gaussian_filter(noise, 2, mode="wrap")
        found = align.shift_px(first, np.roll(first, told["rolled"], (0, 1)))
        for got, want in zip(found, told["found"], strict=True):
            self.assertAlmostEqual(got, want, delta=told["tolerance_px"])

    def test_parts_of_a_pixel_are_found_too_and_moved_back(self):
        first = gaussian_filter(np.random.default_rng(2).standard_normal((120, 120)), 3).astype(np.float32)
        other = np.nan_to_num(align.moved(first, (1.4, -2.6)))
        by = align.shift_px(first, other)
        self.assertAlmostEqual(by[0], -1.4, delta=0.15)
        self.assertAlmostEqual(by[1], 2.6, delta=0.15)
        back = align.moved(other, by)[20:-20, 20:-20]
        self.assertLess(float(np.abs(back - first[20:-20, 20:-20]).mean()), 0.15 * float(np.abs(first).mean()))

    def test_what_a_photo_does_not_show_is_not_made_up(self):
        light = np.ones((40, 40), dtype=np.float32)
        outside = align.homography((10.0, 10.0), ((-20.0, 0.0), (20.0, 0.0), (20.0, 39.0), (-20.0, 39.0)))
        seen = align.squared(light, outside, (10.0, 10.0))
        self.assertEqual(seen.shape, (40, 40))
        self.assertGreater(float(np.isnan(seen).mean()), 0.4)
