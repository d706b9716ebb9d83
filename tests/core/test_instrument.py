"""Outlines from measurements against the reference bodies; zones and their areas."""

import unittest

import numpy as np

from ravden.catalogue import assemble
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.instrument.outline import outline, periodic_spline, sine_outline, sine_terms
from ravden.core.instrument.zones import zones_of
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


class EveryFamily(unittest.TestCase):
    def test_areas_and_perimeters(self):
        table = {  # plan, perimeter, sides [m2, m, m2]
            "large-guitar": (0.1495, 1.498, 0.1668), "large-guitar-cutaway": (0.1429, 1.495, 0.1667),
            "orchestra-guitar": (0.1371, 1.461, 0.1401), "parlour-guitar": (0.1119, 1.351, 0.1221),
            "extra-large-guitar": (0.1646, 1.625, 0.1811), "classical-guitar": (0.1326, 1.436, 0.1394),
            "archtop-16": (0.1450, 1.527, 0.1161), "archtop-17-cutaway": (0.1529, 1.605, 0.1220),
            "concert-ukulele": (0.0421, 0.833, 0.0555), "tenor-ukulele": (0.0494, 0.899, 0.0631),
            "violin": (0.0529, 0.976, 0.0298), "viola": (0.0696, 1.117, 0.0413), "cello": (0.2323, 2.056, 0.2345),
            "solid-body": (0.0952, 1.451, 0.0638), "solid-slab": (0.1003, 1.316, 0.0579),
            "solid-carved": (0.1046, 1.373, 0.0687), "bass": (0.1094, 1.672, 0.0736),
            "mandolin": (0.0598, 0.947, 0.0398),
        }  # fmt: skip
        for name, (plan, perimeter, sides) in table.items():
            body = assemble.body(assemble.measures_of(CATALOGUE.kind(name)))
            self.assertAlmostEqual(body.plan_cm2 / 1e4, plan, delta=2e-4, msg=name)
            self.assertAlmostEqual(body.perimeter_mm / 1e3, perimeter, delta=3e-3, msg=name)
            self.assertAlmostEqual(body.sides_cm2 / 1e4, sides, delta=2e-4, msg=name)

    def test_arched_faces_are_larger(self):
        for name, face in (("archtop-16", 0.1473), ("archtop-17-cutaway", 0.1555), ("violin", 0.0551)):
            body = assemble.body(assemble.measures_of(CATALOGUE.kind(name)))
            self.assertAlmostEqual(body.face_cm2 / 1e4, face, delta=2e-4)

    def test_a_circle_and_a_rectangle(self):
        drum = outline(measures(family="shell", length_mm=350, depth_neck_mm=100, depth_tail_mm=100), {})
        self.assertAlmostEqual(drum.plan_cm2, np.pi * 35**2 / 4, places=6)
        self.assertAlmostEqual(drum.perimeter_mm, np.pi * 350, delta=0.05)
        self.assertAlmostEqual(drum.sides_cm2 / 1e4, 0.110, delta=1e-3)
        self.assertEqual(drum.face_cm2, 0)
        box = outline(measures(family="box", length_mm=480, lower_mm=300, depth_neck_mm=300, depth_tail_mm=300), {})
        self.assertAlmostEqual((2 * box.plan_cm2 + box.sides_cm2) / 1e4, 0.756, places=6)
        self.assertAlmostEqual(box.perimeter_mm, 2 * (480 + 300), places=6)

    def test_a_spline_through_a_circle_is_one(self):
        t = np.linspace(0, 2 * np.pi, 24, endpoint=False)
        points = [[float(100 * np.cos(a)), float(100 * np.sin(a))] for a in t]
        body = outline(measures(family="ring", length_mm=200, lower_mm=200), {"ring": points})
        self.assertAlmostEqual(body.plan_cm2, np.pi * 100, delta=0.05)
        self.assertAlmostEqual(body.perimeter_mm, 200 * np.pi, delta=0.1)

    def test_a_cutaway_takes_from_one_side_only(self):
        whole, cut = (outline(measures(cutaway_mm=d, cutaway_left_mm=30), {}) for d in (0, 100))
        left, right = (np.abs(cut.points[cut.points[:, 1] * side > 0][:, 1]).max() for side in (1, -1))
        self.assertAlmostEqual(left, right, delta=0.5)
        self.assertLess(cut.plan_cm2, whole.plan_cm2 - 40)
        for wrong in ({"cutaway_mm": 400}, {"cutaway_left_mm": 200}, {"arch_mm": -1}, {"stations": (0.5, 0.4, 0.7)}):
            self.assertRaises(InputError, measures, **wrong)


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
                if kind.family == "neck":
                    self.assertEqual(set(zones), {"neck", "head"})
                    continue
                self.assertLessEqual({"sides", "edges"}, set(zones))
                self.assertEqual("top" in zones, kind.family != "shell")
                self.assertEqual("neck" in zones, kind.neck_length_mm > 0)
                self.assertEqual("contours" in zones, kind.contour_share > 0)
                self.assertEqual("end-grain" in zones, kind.end_grain_share > 0)
                self.assertLess(zones["edges"].area_cm2, 0.5 * zones["sides"].area_cm2)
                self.assertLess(zones["edges"].k_mean, zones["sides"].k_mean)
                self.assertEqual(zones["edges"].kind, "edge")

    def test_carved_edges_and_end_grain_are_parts_of_the_whole(self):
        kind = CATALOGUE.kind("parlour-guitar")
        m = assemble.measures_of(kind)
        body = assemble.body(m)

        def areas(**shares):
            found = zones_of(m, body, CATALOGUE.zone_habits, padded=False, neck_girth_mm=90, head_cm2=150, **shares)
            return {z.name: z.area_cm2 for z in found}

        whole, cut = areas(), areas(contour_share=0.1, end_grain_share=0.2)
        self.assertNotIn("contours", whole)
        self.assertAlmostEqual(cut["contours"], 0.1 * (whole["top"] + whole["back"]))
        self.assertAlmostEqual(cut["end-grain"], 0.2 * whole["sides"])
        for name, share in (("top", 0.9), ("back", 0.9), ("sides", 0.8)):
            self.assertAlmostEqual(cut[name], share * whole[name])
        for name in ("neck", "head", "edges"):
            self.assertEqual(cut[name], whole[name])
