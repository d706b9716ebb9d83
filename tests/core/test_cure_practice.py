"""The waits a finisher would believe: the trade's ranges, and the reference results, within 1 %."""

import unittest

from ravden.catalogue.tables import shipped
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import harden
from ravden.core.cure.layered import solve
from ravden.core.cure.windows import cut_hours, cut_window, windows
from ravden.core.record import Air, Coat, Sanding
from tests import practice

MATERIALS = shipped().materials
YEAR_H = 24 * 365.0
NAMES = ("next_coat", "scuff", "level", "buff", "case")


def coats(count, um, a_day=1, gap_h=1.0, finish=""):
    return [Coat(at_h=24 * (i // a_day) + gap_h * (i % a_day), dry_um=um, finish=finish) for i in range(count)]


def found(material, laid, *, over=None, cuts=(), temp_C=20.0, airflow=1.0, sampled=False):
    models = {"": MATERIALS[material].cure} | ({"over": MATERIALS[over].cure} if over else {})
    last = max(c.at_h for c in laid)
    return harden(
        models,
        laid,
        sandings=cuts,
        under=Conditions(air=[Air(at_h=0, temp_C=temp_C, rh=0.5)], airflow=airflow),
        sampling=Sampling(until_h=last + YEAR_H, sample_h=cut_hours(last, last + YEAR_H) if sampled else ()),
    )


def waits(history, laid):
    """Hours from the last coat as it was laid; one with water is film only when that has left."""
    opens, last = windows(history), max(c.at_h for c in laid)
    return {name: None if (h := opens.at(name)) is None else h - last for name in NAMES}


def answers(case):
    """What the cases ask of a film, and how its level compares with another case's."""
    told = practice.cure(case["input"])
    for e in case["expect"]:
        if e["what"].startswith("ratio_level:"):
            other = practice.cure(_other(case, e["what"].split(":")[1]))
            told[e["what"]] = told["level_h"] / other["level_h"]
    return told


def _other(case, name):
    """The case it is held against: one of them, or the same coats in a shop of 20 C."""
    if name in practice.CASES:
        return practice.CASES[name]["input"]
    usual = {"climate": [{"at_h": 0, "temp_C": 20, "rh": 0.5}]}
    return {k: v for k, v in case["input"].items() if k != "bench_C"} | usual


class Practice(unittest.TestCase):
    def test_every_case_is_inside_the_trade_s_range(self):
        cases = practice.of_kind("cure")
        self.assertEqual(len(cases), 33)
        for case in cases:
            with self.subTest(case=case["id"], why=case["why"]):
                self.assertEqual(practice.outside(case, answers(case)), [])


class Reference(unittest.TestCase):
    """next, scuff, level and buff in hours, case in days; None: not told."""

    def check(self, material, laid, next_h, scuff_h, level_h, buff_h, case_d, **kw):
        history = found(material, laid, **kw)
        told = waits(history, laid)
        wanted = {"next_coat": next_h, "scuff": scuff_h, "level": level_h, "buff": buff_h,
                  "case": None if case_d is None else 24 * case_d}  # fmt: skip
        for name, hours in wanted.items():
            if hours is not None:
                self.assertAlmostEqual(told[name], hours, delta=0.012 * hours + 0.006, msg=name)
        return history

    def test_waterborne(self):
        day = 24.0
        self.check("waterborne", coats(1, 20), 0.81, 0.94, 6.47, 9.47, None)
        self.check("waterborne", coats(3, 20, 3), 0.64, 0.71, 48.0, 2.5 * day, 4.5)
        self.check("waterborne", coats(10, 20, 3), 0.63, 0.69, 14.9 * day, 18.9 * day, 42.2)
        self.check("waterborne", coats(10, 20, 2), 0.64, 0.72, 11.9 * day, 15.9 * day, 39.2)
        self.check("waterborne", coats(9, 14, 3), 0.43, 0.48, 4.3 * day, 5.9 * day, 15.1)

    def test_lacquer_and_shellac(self):
        day = 24.0
        self.check("lacquer-sprayed", coats(10, 10, 3, 1.5), 0.72, 7.56, 7.8 * day, 8.2 * day, 23.2)
        self.check("lacquer-sprayed", coats(12, 10, 3, 1.5), 1.01, None, 11.7 * day, 11.7 * day, None)
        self.check("lacquer-sprayed", coats(14, 10, 4, 1.5), 0.93, 12.95, 15.7 * day, 15.7 * day, 45.9)
        self.check("lacquer-sprayed", coats(7, 18, 2, 3), 1.50, 18.13, 13.0 * day, 13.0 * day, 37.5)
        self.check("lacquer-sprayed", coats(10, 8, 4), 0.69, 9.08, 5.1 * day, 6.2 * day, 15.0)
        self.check("shellac-pad", coats(8, 2), 0.61, 9.27, 29.7, 58.4, 4.3)
        self.check("shellac-pad", coats(8, 3), 1.17, 16.1, 67.6, 5.5 * day, 9.7)

    def test_two_parts_hold_solvent(self):
        self.check("two-part-clear", coats(3, 20, 3, 0.25), 0.17, 12.5, 19.5, 43.7, 8.6)
        self.check("two-part-clear", coats(3, 32, 3, 0.25), 0.17, 12.8, 28.6, 43.7, 8.6)
        for um, level_h, case_d in ((20, 54.2, 8.6), (24, 73.6, 9.0), (32, 122.0, 11.2)):
            self.check("two-part-clear", coats(8, um, 8, 0.25), 0.17, None, level_h, None, case_d)
        layer = solve(
            MATERIALS["two-part-clear"].cure,
            [Coat(at_h=0, dry_um=96)],
            sampling=Sampling(sample_h=[24, 100], until_h=200),
        )
        self.assertAlmostEqual(float(layer.phi_samples[0, 0]), 0.0299, delta=0.0001)
        self.assertAlmostEqual(float(layer.alpha_samples[0, 0]), 0.833, delta=0.0005)
        for i, tg in ((0, 23.14), (1, 37.68)):
            self.assertAlmostEqual(layer.least_Tg_over_top_C(i, 96), tg, delta=0.02)

    def test_films_that_harden_alike_are_one(self):
        laid = [*coats(9, 12, 3, 1.5), Coat(at_h=24 * 12, dry_um=12, finish="over")]
        cut = [Sanding(at_h=24 * 12 - 1, um=7.4)]
        for over in ("lacquer-satin", "acrylic-lacquer"):
            one = self.check("lacquer-sprayed", laid, 0.76, 5.26, 8.1 * 24, 8.1 * 24, 27.6, over=over, cuts=cut)
            self.assertFalse(hasattr(one, "parts"))
        self.assertTrue(hasattr(found("lacquer-sprayed", laid, over="waterborne", cuts=cut), "parts"))

    def test_a_sealer_under_lacquer_keeps_only_what_it_held(self):
        sealer = [Coat(at_h=1.0 * i, dry_um=10) for i in range(7)]
        lacquer = [Coat(at_h=24 * (3 + i // 3) + 1.5 * (i % 3), dry_um=12, finish="over") for i in range(8)]
        stack = waits(found("waterborne", [*sealer, *lacquer], over="lacquer-sprayed"), lacquer)
        alone = waits(found("lacquer-sprayed", coats(8, 12, 3, 1.5)), coats(8, 12, 3, 1.5))
        self.assertAlmostEqual(stack["case"], 21.8 * 24, delta=0.02 * 21.8 * 24)
        self.assertAlmostEqual(alone["case"], 21.8 * 24, delta=0.01 * 21.8 * 24)

    def test_oil(self):
        """A fast skin and a slow tail: next and scuff in hours, level, buff and case in days."""
        day = 24.0
        for um, next_h, scuff_h, level_d, buff_d, case_d in (
            (2.5, 15.6, 29.6, 2.55, 3.9, 5.1), (3.5, 26.5, 49.1, 3.6, 5.0, 6.3),
        ):  # fmt: skip
            self.check("polymerising-oil", coats(1, um), next_h, scuff_h, level_d * day, buff_d * day, case_d)
        for um, next_h in ((0.05, 2.9), (0.5, 3.4)):
            self.check("polymerising-oil", coats(1, um), next_h, None, None, None, None)
        rushed = [Coat(at_h=9.0 * i, dry_um=2.5) for i in range(8)]
        self.check("polymerising-oil", rushed, 27.9, 51.1, 3.64 * day, 5.0 * day, 6.8)
        daily = [Coat(at_h=24.0 * i, dry_um=2.0) for i in range(6)]
        self.check("polymerising-oil", daily, 11.2, 21.2, 2.07 * day, 3.4 * day, 4.6)

    def test_oil_varnish(self):
        day = 24.0
        for laid, next_h, scuff_h, level_d, buff_d, case_d in (
            (coats(1, 24), 23.0, 33.6, 12.8, 21.2, 29.0),
            ([Coat(at_h=day * i, dry_um=16) for i in range(3)], 14.6, 20.6, 13.0, 21.3, 32.3),
            ([Coat(at_h=day * i, dry_um=10) for i in range(8)], 10.5, 14.2, 10.0, 18.5, 30.9),
            ([Coat(at_h=day * i, dry_um=24) for i in range(4)], 23.0, 33.6, 23.0, 26.8, 48.7),
            ([Coat(at_h=2 * day * i, dry_um=24) for i in range(4)], 23.0, 33.5, 13.8, 23.8, 38.9),
        ):  # fmt: skip
            self.check("oil-varnish", laid, next_h, scuff_h, level_d * day, buff_d * day, case_d)

    def test_light_reaches_the_skin(self):
        laid = [Coat(at_h=24.0 * i, dry_um=16) for i in range(3)]
        model = MATERIALS["oil-varnish"].cure
        for light, temp_C, next_h, level_d, case_d in ((3.0, 28.0, 2.7, 3.3, 8.1), (3.0, 20.0, 4.9, 5.95, 16.4)):
            air = [Air(at_h=0.0, temp_C=temp_C, light=light)]
            history = harden({"": model}, laid, under=Conditions(air=air), sampling=Sampling(until_h=2000.0))
            told = windows(history)
            for at, hours in ((told.next_coat_h, next_h), (told.level_h, 24 * level_d), (told.case_h, 24 * case_d)):
                self.assertAlmostEqual(at - 48.0, hours, delta=0.015 * hours + 0.06)

    def test_a_cabinet_has_a_fan_in_it(self):
        still, cabinet = (Air(at_h=0, temp_C=32, source=s) for s in ("told", "cabinet"))
        model = MATERIALS["polymerising-oil"].cure
        slow, fast = (
            windows(harden({"": model}, coats(1, 2.5), under=Conditions(air=[a]), sampling=Sampling(until_h=500)))
            for a in (still, cabinet)
        )
        self.assertAlmostEqual(slow.next_coat_h / fast.next_coat_h, 3.0**0.24, delta=0.02)
        lacquer = MATERIALS["lacquer-sprayed"].cure
        slow, fast = (
            windows(harden({"": lacquer}, coats(1, 12), under=Conditions(air=[a]), sampling=Sampling(until_h=500)))
            for a in (still, cabinet)
        )
        self.assertLess(fast.scuff_h, slow.scuff_h)

    def test_a_level_that_coats_follow_by_the_depth_of_its_cut(self):
        table = (
            ("lacquer-sprayed", coats(6, 12, 3, 1.5), ((4, 29.7), (7.4, 35.8), (11, 42.0), (16.6, 54.9)), 104.3),
            ("lacquer-sprayed", coats(9, 12, 3, 1.5), ((4, 36.8), (7.4, 63.9), (11, 77.7), (16.6, 91.7)), 231.8),
            ("waterborne", coats(4, 20, 2), ((7.4, 8.4), (13.8, 13.1)), 56.2),
            ("shellac-pad", coats(8, 3), ((3.1, 34.4),), 67.6),
            ("two-part-clear", coats(3, 32, 3, 0.25), ((11, 17.6),), 28.5),
        )  # fmt: skip
        for material, laid, cuts, whole_h in table:
            history = found(material, laid, sampled=True)
            for cut_um, hours in cuts:
                told = cut_window(history, cut_um) - max(c.at_h for c in laid)
                self.assertAlmostEqual(told, hours, delta=0.01 * hours, msg=(material, cut_um))
            self.assertAlmostEqual(waits(history, laid)["level"], whole_h, delta=0.01 * whole_h)
            self.assertEqual(windows(history, 20.0, cuts[0][0]).level_h, cut_window(history, cuts[0][0]))

    def test_a_rushed_coat_slows_the_next_one_only(self):
        model = MATERIALS["polymerising-oil"].cure
        hasty = solve(model, [Coat(at_h=h, dry_um=2.5) for h in (0, 5, 60, 120)], sampling=Sampling(until_h=400))
        self.assertEqual([b.coat for b in hasty.buried], [0])
        patient = solve(model, [Coat(at_h=h, dry_um=2.5) for h in (0, 55, 110, 170)], sampling=Sampling(until_h=450))
        # The last coat, laid long after the hasty one, takes no longer than where nothing was rushed.
        told, wanted = (windows(h).next_coat_h - h.last_coat_h for h in (hasty, patient))
        self.assertAlmostEqual(told, wanted, delta=0.01 * wanted)
        absorbed = solve(
            model, [Coat(at_h=h, dry_um=um) for h, um in ((0, 0.2), (1, 2.5))], sampling=Sampling(until_h=200)
        )
        self.assertEqual(absorbed.buried, ())
