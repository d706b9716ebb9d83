"""Scratches, ladders, sheen and odds against their reference results."""

import itertools
import unittest

from ravden.core.abrasive import gloss, sandthrough
from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.grades import find
from ravden.core.abrasive.job import finishes, reachable
from ravden.core.abrasive.ladder import score
from ravden.core.abrasive.sandthrough import ZoneFilmLeft
from ravden.core.abrasive.scratch import deepest_factor, hardness_from_margin_MPa, peak_to_valley_um
from ravden.core.abrasive.sequence import cheapest
from ravden.core.errors import InputError
from ravden.text.say import fault, say
from tests.core.rubbing import CATALOGUE, COMPOUNDS, OWNED, job, names, rung

FOUR = ["coarse compound", "medium compound", "fine compound", "ultrafine compound"]


class Scratch(unittest.TestCase):
    def test_reference_scratches(self):
        p1500 = find(CATALOGUE.abrasives, "FEPA-P:P1500")
        for hardness, rz in ((50, 3.13), (80, 2.65), (120, 2.30), (180, 2.00), (220, 1.86)):
            self.assertAlmostEqual(
                peak_to_valley_um(p1500, CATALOGUE.backings["firm"], "wet", hardness), rz, delta=0.01
            )
        for backing, rz in (("rigid", 2.65), ("foam", 1.50), ("finger", 3.23), ("orbital", 2.12)):
            self.assertAlmostEqual(peak_to_valley_um(p1500, CATALOGUE.backings[backing]), rz, delta=0.01)
        self.assertAlmostEqual(rung("FEPA-P:P1500", mode="dry").rz_um, 2.65, delta=0.01)

    def test_deepest_scratch_grows_slowly_with_area(self):
        for area, factor in ((1, 1.54), (100, 2.04), (1200, 2.32), (5000, 2.48)):
            self.assertAlmostEqual(deepest_factor(area, 0.11), factor, delta=0.005)

    def test_a_soft_film_is_refused(self):
        self.assertRaises(InputError, hardness_from_margin_MPa, 14.0)


class Grades(unittest.TestCase):
    def test_the_trap_of_one_number(self):
        for bare in ("800", "1200", "400"):
            with self.assertRaises(InputError) as caught:
                find(CATALOGUE.abrasives, bare)
            self.assertIn("Is there a P", fault(caught.exception))
        self.assertEqual(find(CATALOGUE.abrasives, "P800").d50_um, 21.8)
        self.assertRaises(InputError, find, CATALOGUE.abrasives, "P777")

    def test_every_shipped_grade_is_sound(self):
        self.assertGreater(len(CATALOGUE.abrasives), 100)
        self.assertEqual(len({a.id for a in CATALOGUE.abrasives}), len(CATALOGUE.abrasives))
        for a in CATALOGUE.abrasives:
            self.assertTrue(a.basis, a.id)


class Ladders(unittest.TestCase):
    def test_lower_sheens_stop_earlier(self):
        drawer = [rung(o) for o in OWNED]
        for target, last in (("satin", "P2000"), ("semi-gloss", FOUR[0]), ("gloss", FOUR[1]), ("matte", "P800")):
            ladder = plan(job(18, target=target), drawer)
            self.assertEqual(names(ladder)[-1], last)

    def test_the_shortest_path_is_the_best_of_all_subsets(self):
        owned = ("FEPA-P:P600", "FEPA-P:P800", "FEPA-P:P1000", "FEPA-P:P1500", "FEPA-P:P2000", "FOAM-CLASS:3000",
                 *COMPOUNDS[:2])  # fmt: skip
        for texture, target in itertools.product((3, 12, 20), ("satin", "gloss")):
            the_job = job(texture, target=target)
            drawer = sorted((rung(o) for o in owned), key=lambda r: -r.rz_um)
            best = None
            for size in range(1, len(drawer) + 1):
                for pick in itertools.combinations(drawer, size):
                    steps = [reachable(the_job, r, pick[i - 1] if i else None, last=False) for i, r in enumerate(pick)]
                    if None in steps or not finishes(the_job, pick[-1]):
                        continue
                    cost = score(the_job, pick)
                    best = cost if best is None else min(best, cost)
            found = cheapest(the_job, drawer)
            if best is None:
                self.assertIsNone(found)
            else:
                self.assertAlmostEqual(score(the_job, found), best, places=9)

    def test_refusals_say_what_to_do(self):
        cases = (
            (job(18), [], "drawer is empty"),
            (job(40), [rung("FEPA-P:P2000")], "wanted first"),
            (job(3), [rung("FEPA-P:P2000")], "ends at mirror"),
            (job(8), [rung("FEPA-P:P800"), rung(COMPOUNDS[2])], "too far apart"),
        )
        for the_job, drawer, words in cases:
            with self.assertRaises(InputError) as caught:
                plan(the_job, drawer)
            self.assertIn(words, fault(caught.exception))

    def test_thin_film_and_unknown_film_are_told_apart(self):
        drawer = [rung(o) for o in OWNED]
        thin = plan(job(18, film=60), drawer)
        self.assertEqual(thin.verdict.word, "refused")
        self.assertIn("Lay about", say(thin.reason))
        vague = (ZoneFilmLeft(name="top", kind="flat", film_um=140, sd_um=40, area_cm2=1200),)
        unsure = plan(job(18, zones=vague), drawer)
        self.assertEqual(unsure.verdict.word, "measure")
        self.assertIn("known only to ±40 µm", say(unsure.reason))


class SheenAndOdds(unittest.TestCase):
    def test_gloss_table(self):
        for rq, gu60 in ((1.27, 2), (0.90, 3), (0.31, 20), (0.119, 58), (0.090, 69), (0.026, 89)):
            self.assertAlmostEqual(gloss.gloss_gu(rq, 1.51, 60), gu60, delta=max(0.6, 0.01 * gu60))
        self.assertAlmostEqual(gloss.gloss_gu(0.0, 1.51, 20), 84.7, delta=0.05)

    def test_names_have_no_gaps(self):
        seen = [gloss.name_of(5.0, gu, 1.51) for gu in range(90)]
        self.assertEqual(list(dict.fromkeys(seen)), ["dead flat", "matte", "eggshell", "satin", "semi-gloss", "gloss"])

    def test_caps_and_limits(self):
        self.assertEqual(sandthrough.odds_through(100, 0, 0, 61, 40, 1), 1.0)
        self.assertEqual(sandthrough.odds_through(100, 0, 0, 59, 40, 1), 0.0)
        self.assertAlmostEqual(sandthrough.odds_through(100, 10, 0, 60, 40, 9), 0.5)
        self.assertEqual([sandthrough.odds_class(p) for p in (0.001, 0.03, 0.1, 0.5)],
                         ["under 1 %", "1–5 %", "5–20 %", "over 20 %"])  # fmt: skip
