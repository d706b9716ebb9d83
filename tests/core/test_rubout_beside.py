"""The wheel, scuffs, bare wood, stray scratches, and what readings teach of the user's hands."""

import itertools
import math
import unittest
from dataclasses import replace

import numpy as np

from ravden.core.abrasive import buffing, prep, scuff
from ravden.core.abrasive.gloss import rq_um
from ravden.core.abrasive.hands import Hands, Rubbed, Shone, learn
from ravden.core.abrasive.scratch import minutes, rate_um_s, rubbing_minutes
from ravden.core.abrasive.stray import step_back
from ravden.core.errors import InputError
from ravden.text.say import fault, say
from tests.core.rubbing import CATALOGUE, COMPOUNDS, job, rung, rungs

FEPA = [a for a in CATALOGUE.abrasives if a.system == "FEPA-P"]


class Wheel(unittest.TestCase):
    def test_reference_heat(self):
        for film, time, kelvin in ((120, 0.05, 21.12), (120, 0.3, 57.20), (120, 1.0, 116.81), (1e5, 0.3, 51.503),
                                   (0, 0.3, 81.434)):  # fmt: skip
            self.assertAlmostEqual(buffing.rise_K(50, time, film), kelvin, delta=0.0015 * kelvin)

    def test_against_finite_differences(self):
        # Film of 120 um on wood, half a millimetre deep in all, in steps of 2 um.
        dx, dt, flux = 2e-6, 5e-6, 50e3
        k = np.where(np.arange(400) < 60, 0.20, 0.15)
        rho_c = np.where(np.arange(400) < 60, 1200 * 1500, 600 * 1600)
        between = 2 * k[:-1] * k[1:] / (k[:-1] + k[1:])
        temp = np.zeros(400)
        for _ in range(int(0.05 / dt)):
            flow = between * np.diff(temp) / dx
            change = np.concatenate(([flow[0] + flux], np.diff(flow), [-flow[-1]]))
            temp += dt * change / (rho_c * dx)
        surface = temp[0] + flux * dx / 2 / 0.20
        self.assertAlmostEqual(buffing.rise_K(50, 0.05, 120), surface, delta=0.25)

    def test_slow_fine_never(self):
        wheel = buffing.Wheel(press_N=20, pace_m_s=0.20)
        self.assertAlmostEqual(wheel.rim_m_s, 13.74, delta=0.01)
        self.assertAlmostEqual(buffing.judge(wheel, 120, 60).rise_K, 29, delta=0.5)
        said = [buffing.judge(wheel, 120, m).verdict for m in (60, 35, 20)]
        self.assertEqual(said, ["fine", "slow", "never"])
        self.assertEqual(buffing.judge(replace(wheel, rpm=1500), 120, 120).verdict, "slow")
        for kw, words in (({"flatted": True}, "flattening agent"), ({"waxy": True}, "burnish")):
            found = buffing.judge(wheel, 120, 60, **kw)
            self.assertEqual(found.verdict, "never")
            self.assertIn(words, say(found.said))
        self.assertIn("no film", say(buffing.judge(wheel, 0, None).said))
        self.assertIn("slower wheel", say(buffing.judge(wheel, 120, 28).said))
        self.assertIn("Wait", say(buffing.judge(wheel, 120, 5).said))

    def test_impossible_wheels(self):
        for kw in ({"rpm": 0}, {"diameter_mm": math.nan}, {"press_N": -1}, {"pace_m_s": 0}):
            self.assertRaises(InputError, buffing.Wheel, **kw)


class Scuffs(unittest.TestCase):
    def test_reference_strokes_and_depths(self):
        drawer = rungs("P240", "P320", "P400", "P600")
        found = {
            r.rung.abrasive.name: r
            for habit in CATALOGUE.scuffs.values()
            for r in scuff.scuff(habit, drawer, 1200)
        }  # fmt: skip
        for name, strokes, deepest in (("P240", 11, 19), ("P320", 16, 14), ("P400", 25, 10), ("P600", 40, 7)):
            self.assertAlmostEqual(found[name].strokes, strokes, delta=1)
            self.assertAlmostEqual(found[name].deepest_um, deepest, delta=0.6)
            self.assertAlmostEqual(found[name].beneath_um, 2 * found[name].deepest_um)

    def test_only_layering_films_have_to_hide_the_grooves(self):
        drawer = rungs("P320", "P400", "P600")
        self.assertTrue(all(r.next_coat_um is None for r in scuff.scuff(CATALOGUE.scuffs["dissolving"], drawer, 1200)))
        layering = scuff.scuff(CATALOGUE.scuffs["layering"], drawer, 1200)
        self.assertEqual([r.rung.abrasive.name for r in layering], ["P320", "P400"])
        for r, um in zip(layering, (30, 21), strict=True):
            self.assertAlmostEqual(r.next_coat_um, um, delta=1)
        with self.assertRaises(InputError) as caught:
            scuff.scuff(CATALOGUE.scuffs["light"], rungs("P2000"), 1200)
        self.assertIn("no paper between 35 and 58 µm", fault(caught.exception))


class BareWood(unittest.TestCase):
    def test_reference_passes(self):
        for grain, before, light, heavy in ((125, 201, 3, 5), (82, 125, 3, 5), (68, 82, 2, 3), (46.2, 68, 3, 5),
                                            (100, 162, 3, 5), (68, 100, 3, 5)):  # fmt: skip
            self.assertEqual(prep.passes(grain, before, 700), heavy)
            self.assertEqual(prep.passes(grain, before, 450), light)

    def test_no_jump_is_too_big(self):
        for habit in CATALOGUE.preps.values():
            for last in (habit.coarse_um, habit.fine_um):
                found = prep.prep(201, last, FEPA, 3000)
                sizes = [201, *(r.abrasive.d50_um for r in found)]
                for a, b in itertools.pairwise(sizes):
                    self.assertTrue(1.12 < a / b <= 1.65, (habit.id, sizes))
                self.assertAlmostEqual(sizes[-1], last, delta=0.12 * last)

    def test_going_fine_takes_longer_and_the_gap_is_named(self):
        coarse = sum(r.minutes for r in prep.prep(201, 82, FEPA, 3000))
        fine = sum(r.minutes for r in prep.prep(201, 21.8, FEPA, 3000))
        self.assertGreater(fine, 1.8 * coarse)
        self.assertEqual(prep.prep(82, 82, FEPA, 3000), ())
        few = [a for a in FEPA if a.label in ("P80", "P400")]
        with self.assertRaises(InputError) as caught:
            prep.prep(201, 35, few, 3000)
        self.assertIn("too far apart", fault(caught.exception))
        with self.assertRaises(InputError) as caught:
            prep.prep(201, 35, [a for a in FEPA if a.label in ("P80", "P120")], 3000)
        self.assertIn("about 35 µm grain", fault(caught.exception))


class StrayScratch(unittest.TestCase):
    LADDER = rungs("P800", "P1200", "P2000", *COMPOUNDS[:2])

    def test_one_grade_back_at_paper(self):
        back = step_back(job(18), self.LADDER, 2)
        self.assertEqual([r.abrasive.name for r in back.rungs], ["P1200", "P2000"])
        self.assertTrue(2 < back.film_um < 8, back.film_um)
        self.assertLess(back.minutes, 0.2 * sum(minutes(r, 3, 1200, first=False) for r in back.rungs))

    def test_the_first_rung_works_it_out_itself(self):
        self.assertEqual(step_back(job(18), self.LADDER, 0).to, 0)
        self.assertRaises(InputError, step_back, job(18), self.LADDER, 9)

    def test_further_back_where_one_grade_cannot_reach(self):
        coarse_to_polish = rungs("P800", "P1500", *COMPOUNDS[:2])
        back = step_back(job(18), coarse_to_polish, 3)
        self.assertEqual(back.to, 2)
        self.assertGreater(step_back(job(18), coarse_to_polish, 2).film_um, back.film_um)


class Learning(unittest.TestCase):
    def seen(self, factor, n=3):
        """Readings of someone whose paper cuts ``factor`` times as fast as assumed."""
        r = rung("FEPA-P:P1000")
        gone = 12.0
        took = rubbing_minutes(r, gone, 1200, first=False) / factor
        return [Rubbed(rung=r, before_um=120, after_um=120 - gone, sd_um=1.5, minutes=took, area_cm2=1200)] * n

    def test_a_fast_hand_is_learnt_with_its_uncertainty(self):
        start = Hands()
        once, thrice = learn(self.seen(2.0, 1), []), learn(self.seen(2.0, 3), [])
        self.assertTrue(1.0 < once.cut.factor < thrice.cut.factor < 2.0)
        self.assertLess(thrice.cut.ln_sd, once.cut.ln_sd)
        self.assertLess(once.cut.ln_sd, start.cut.ln_sd)
        low, high = thrice.cut.range()
        self.assertTrue(low < thrice.cut.factor < high)
        self.assertEqual(thrice.cut.readings, 3)

    def test_readings_that_agree_move_nothing(self):
        self.assertAlmostEqual(learn(self.seen(1.0), []).cut.factor, 1.0, places=6)

    def test_no_film_gone_is_no_proof_of_standing_still(self):
        r = rung("FEPA-P:P2000")
        none = Rubbed(rung=r, before_um=100, after_um=101, sd_um=2, minutes=10, area_cm2=1200)
        found = learn([none], [])
        self.assertGreater(found.cut.factor, 0.3)

    def test_gloss_speaks_of_the_scratch(self):
        r = rung("FEPA-P:P2000")
        found = learn([], [Shone(rung=r, rq_um=1.5 * rq_um(r.rz_um))] * 2)
        self.assertTrue(1.1 < found.scratch.factor < 1.5)
        self.assertEqual(found.cut.readings, 0)
        deeper = replace(r, scratch=found.scratch.factor)
        self.assertAlmostEqual(deeper.rz_um / r.rz_um, found.scratch.factor)
        self.assertAlmostEqual(rate_um_s(replace(r, cut=2.0)) / rate_um_s(r), 2.0)


class Tables(unittest.TestCase):
    def test_every_row_carries_its_source(self):
        for rows in (CATALOGUE.scuffs.values(), CATALOGUE.preps.values(), CATALOGUE.backings.values()):
            for row in rows:
                self.assertTrue(row.basis.startswith(("ENG", "A ")), row)

    def test_scuffs_go_from_coarse_to_fine_and_prep_does_too(self):
        for row in (*CATALOGUE.scuffs.values(), *CATALOGUE.preps.values()):
            self.assertGreaterEqual(row.coarse_um, row.fine_um)

    def test_wool_scratches_only_a_share(self):
        for a in CATALOGUE.abrasives:
            self.assertEqual(a.covered < 1.0, a.kind == "wool", a.id)

    def test_every_kind_can_be_held(self):
        for a in CATALOGUE.abrasives:
            if a.on_film:
                r = rung(a.id)
                self.assertTrue(0 < r.rz_um < 100, a.id)
                self.assertGreater(r.d_max_um, 0)
                self.assertGreater(minutes(r, 1.0, 1000, first=True), 0)

    def test_loose_powder_works_finer_than_it_is_sold(self):
        pumice, film = rung("LOOSE-POWDER:pumice FFFF"), rung("MICRON-FILM:30um")
        self.assertLess(pumice.rz_um, film.rz_um)
        self.assertEqual(pumice.abrasive.grain_um, 10.0)
