"""Outlines from measurements against the reference bodies; zones and their areas."""

import unittest

import numpy as np

from ravden.catalogue import assemble
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.instrument.outline import outline, periodic_spline, sine_outline, sine_terms
from ravden.core.record import Measures

CATALOGUE = shipped()


def measures(**given):
    usual = {
        "family": "waisted", "length_mm": 508, "upper_mm": 292, "waist_mm": 273, "lower_mm": 397,
        "depth_neck_mm": 100, "depth_tail_mm": 122,
    }  # fmt: skip
    return Measures(**(usual | given))


class Sine(unittest.TestCase):
    def test_coefficients_of_the_large_flat_top(self):
        terms = sine_terms(measures(stations=(0.19, 0.40, 0.75)))
        want = (187.30, -17.31, 33.02, 11.91, -7.26, -2.56, 3.12, -2.31)
        for got, expected in zip(terms, want, strict=True):
            self.assertAlmostEqual(got, expected, delta=0.01)

    def test_area_is_exactly_pi_l_b1_over_two(self):
        body = sine_outline(measures())
        x, y = body.points[:, 0], body.points[:, 1]
        shoelace = abs(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2 / 100
        self.assertAlmostEqual(body.plan_cm2, shoelace, delta=0.001 * shoelace)

    def test_widths_are_met(self):
        m = measures()
        terms = sine_terms(m)
        for share, width in zip((0.19, 0.42, 0.755), (m.upper_mm, m.waist_mm, m.lower_mm), strict=True):
            t = np.arccos(1 - 2 * share)
            self.assertAlmostEqual(2 * np.sin(np.arange(1, 9) * t) @ terms, width, places=6)

    def test_plausible_bodies(self):
        for kind, low, high in (("orchestra-guitar", 1250, 1420), ("viola", 640, 740), ("tenor-ukulele", 470, 520)):
            body = assemble.body(assemble.measures_of(CATALOGUE.kind(kind)))
            self.assertTrue(low < body.plan_cm2 < high, (kind, body.plan_cm2))

    def test_impossible_measurements_are_refused(self):
        self.assertRaises(InputError, measures, waist_mm=300)
        self.assertRaises(InputError, measures, length_mm=float("nan"))
        self.assertRaises(InputError, outline, measures(family="round"), {})
        self.assertRaises(InputError, measures, family="bowed", waist_mm=300)


class Spline(unittest.TestCase):
    def test_reference_areas(self):
        table = {
            "solid body, double cut": (952, 1451, 638), "solid body, single cut slab": (1003, 1316, 579),
            "solid body, single cut carved": (1046, 1373, None), "solid body bass, double cut": (1094, 1672, 736),
            "mandolin, teardrop": (598, 947, 398),
        }  # fmt: skip
        for name, (plan, perimeter, sides) in table.items():
            points = np.array(CATALOGUE.shapes[name])
            depth = 42 if name == "mandolin, teardrop" else 44
            m = measures(
                family=name, length_mm=float(np.ptp(points[:, 0])), lower_mm=float(np.ptp(points[:, 1])),
                depth_neck_mm=depth, depth_tail_mm=depth,
            )  # fmt: skip
            body = outline(m, CATALOGUE.shapes)
            self.assertAlmostEqual(body.plan_cm2, plan, delta=1)
            self.assertAlmostEqual(body.perimeter_mm, perimeter, delta=1)
            if sides is not None:
                self.assertAlmostEqual(body.sides_cm2, sides, delta=1)

    def test_it_is_the_spline_of_the_textbook(self):
        from scipy.interpolate import CubicSpline

        rng = np.random.default_rng(3)
        at = np.concatenate([[0.0], np.cumsum(rng.uniform(0.5, 3, 9))])
        values = rng.normal(size=(10, 2))
        values[-1] = values[0]
        where = np.linspace(0, at[-1], 500, endpoint=False)
        want = CubicSpline(at, values, bc_type="periodic")(where)
        np.testing.assert_allclose(periodic_spline(at, values, where), want, atol=1e-10)

    def test_area_scales_with_both_measures(self):
        kind = CATALOGUE.kind("mandola")
        m = assemble.measures_of(kind)
        twice = Measures(
            family=m.family, length_mm=2 * m.length_mm, upper_mm=m.upper_mm, waist_mm=m.waist_mm,
            lower_mm=2 * m.lower_mm, depth_neck_mm=46, depth_tail_mm=52,
        )  # fmt: skip
        small, large = (outline(x, CATALOGUE.shapes).plan_cm2 for x in (m, twice))
        self.assertAlmostEqual(large / small, 4, delta=0.08)


class Zones(unittest.TestCase):
    def test_every_kind_has_sound_zones(self):
        from ravden.core.record import Instrument

        for kind in CATALOGUE.kinds.values():
            for method in CATALOGUE.methods.values():
                item = Instrument(
                    id="x", name="X", kind=kind.id, measures=assemble.measures_of(kind), material=method.material,
                    method=method.id, sheen="gloss", min_film_um=20,
                )  # fmt: skip
                zones = {z.name: z for z in assemble.zones(CATALOGUE, item)}
                self.assertLessEqual({"sides", "edges"}, set(zones))
                self.assertEqual("top" in zones, kind.family != "shell")
                self.assertEqual("neck" in zones, kind.neck_length_mm > 0)
                self.assertEqual("contours" in zones, kind.contour_share > 0)
                self.assertEqual("end-grain" in zones, kind.end_grain_share > 0)
                self.assertLess(zones["edges"].area_cm2, 0.5 * zones["sides"].area_cm2)
                self.assertLess(zones["edges"].k_mean, zones["sides"].k_mean)
                self.assertEqual(zones["edges"].kind, "edge")
