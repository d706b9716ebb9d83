"""A panel that is practised on: scripted hands, paper that loads and wears, what ends it, and that nothing is lost."""

import unittest

import numpy as np
from msgspec.structs import replace

from ravden.core.errors import InputError
from ravden.core.surface.contact import Backs
from ravden.core.surface.score import Worked, score
from ravden.core.surface.trial import FACES, OVER_MM, Hold, Setup, Sheet, Trial, par
from tests.core.reference import surface
from tests.core.test_levelling import BACKS

SHEETS = (Sheet(label="P800", grain_um=21.8, kappa=0.191), Sheet(label="P1200", grain_um=15.3, kappa=0.108))
SETUP = Setup(sheets=SHEETS, backings=BACKS, base=(0.2, 0.085, 0.028), cells=128, film_sd_um=0.0)


def played(hold, stop, setup=SETUP, then=None):
    """Even rounds until it should stop, the paper wiped and changed as it needs; then with another until 99 %."""
    trial = Trial(setup)
    for held, ends in ((hold, stop), (then, lambda told: told.touched >= 0.99)):
        if held is None:
            continue
        for _ in range(400):
            trial.round(held)
            if trial.paper.cut < 0.45:
                trial.wipe()
                if trial.paper.cut < 0.45:
                    trial.new_piece()
            if ends(trial.told()) or trial.told().through:
                break
    return trial


class Hands(unittest.TestCase):
    def test_marks_in_the_order_of_what_they_did(self):
        careful = par(SETUP)
        firm, soft = Hold(), Hold(backing="foam")
        fingers = Hold(backing="finger", face="fingers")
        trials = {
            "firm": played(firm, lambda t: t.touched >= 0.99),
            "most of it": played(firm, lambda t: t.touched >= 0.9),
            "too far": played(firm, lambda t: t.used_um >= careful.used_um + 6),
            "soft": played(soft, lambda t: t.touched >= 0.99),
            "fingers": played(fingers, lambda t: t.touched >= 0.99 or t.used_um > 9.5),
            "through": played(firm, lambda t: False, replace(SETUP, film_um=20.0, floor_um=12.0)),
            "nothing": Trial(SETUP),
        }
        marks = {name: score(trial.worked(careful)).total for name, trial in trials.items()}
        self.assertEqual(sorted(marks, key=lambda n: -marks[n])[:3], ["firm", "most of it", "too far"])
        self.assertGreater(marks["firm"], 75)
        self.assertLess(marks["soft"], 40)
        self.assertLess(marks["fingers"], 25)
        self.assertTrue(trials["through"].told().through)
        self.assertLessEqual(marks["through"], min(40, marks["soft"]))
        self.assertEqual(marks["nothing"], 0.0)

    def test_marks_worked_out_elsewhere(self):
        for case in surface()["score"]:
            want = case["score"]
            found = score(Worked(**{k: v for k, v in case.items() if k != "score"}))
            self.assertAlmostEqual(found.total, want, delta=0.01)
            self.assertEqual(found.through, case["least_um"] <= 0)

    def test_handing_over_costs_time_and_no_more_film(self):
        whole = played(Hold(), lambda t: t.touched >= 0.99).told()
        over = played(Hold(), lambda t: t.touched >= 0.75, then=Hold(sheet=1)).told()
        self.assertGreater(over.minutes, whole.minutes)
        self.assertEqual(over.pieces, 2)
        self.assertLess(over.used_um, whole.used_um + 1.0)

    def test_the_same_panel_and_strokes_again(self):
        one, two = (played(Hold(), lambda t: t.touched > 0.6) for _ in range(2))
        self.assertTrue((one.work.film_um == two.work.film_um).all())
        other = Trial(replace(SETUP, seed=2))
        self.assertFalse((other.before_um == one.before_um).all())


class Acts(unittest.TestCase):
    def test_a_stroke_stands_for_as_many_as_it_says(self):
        took = []
        for stands_for in (1, 4, 8, 16):
            trial = Trial(SETUP)
            trial.rub((30, 45), (60, 45), Hold(stands_for=stands_for))
            took.append(trial.work.volume_um_mm2)
            self.assertAlmostEqual(trial.minutes, 0.03 * stands_for / 0.4 / 60)
        self.assertEqual(took, sorted(took))
        self.assertGreater(took[3], 10 * took[0])
        with self.assertRaises(InputError):
            trial.rub((30, 45), (60, 45), Hold(stands_for=3))

    def test_the_block_hangs_over_so_far_and_no_farther(self):
        trial, hold = Trial(SETUP), Hold()
        self.assertEqual(trial.kept((-50, 45), hold), (30 - OVER_MM, 45))
        self.assertEqual(trial.kept((200, 45), hold), (90 - 30 + OVER_MM, 45))
        self.assertEqual(trial.kept((45, 200), replace(hold, turned=True))[1], 90 - 30 + OVER_MM)

    def test_what_is_rubbed_is_hidden_until_it_is_wiped(self):
        for mode in ("wet", "dry"):
            trial = Trial(replace(SETUP, mode=mode))
            for _ in range(6):
                trial.rub((30, 45), (60, 45), Hold())
            hidden = trial.seen(20, 12)
            trial.wipe()
            self.assertGreater(float(np.abs(trial.seen(20, 12) - hidden).mean()), 0.003)

    def test_dust_tells_of_wood_before_it_is_bare(self):
        trial = Trial(replace(SETUP, film_um=3.0, floor_um=1.0, pv_um=1.0, mode="dry"))
        thick = Trial(replace(SETUP, mode="dry"))
        for each in (trial, thick):
            each.rub((30, 45), (60, 45), Hold(load_kPa=8.0, stands_for=16))
        worked = slice(50, 78), slice(40, 90)
        red = [float((t.seen(20, 12)[worked][..., 0] - t.seen(20, 12)[worked][..., 2]).mean()) for t in (trial, thick)]
        self.assertGreater(red[0], red[1])

    def test_bare_wood_is_seen_and_told(self):
        trial = Trial(replace(SETUP, film_um=10.0, floor_um=2.0))
        for _ in range(40):
            trial.rub((30, 45), (60, 45), Hold(load_kPa=8.0, stands_for=16))
        told = trial.told()
        self.assertTrue(told.through)
        self.assertLessEqual(told.least_um, 0.0)
        worked = trial.worked(par(SETUP))
        self.assertEqual(worked.least_um, 0.0)

    def test_pieces_run_out_and_another_paper_is_a_new_piece(self):
        trial = Trial(replace(SETUP, pieces=2))
        trial.rub((30, 45), (60, 45), Hold())
        worn = trial.paper
        trial.new_piece()
        self.assertGreater(trial.paper.cut, worn.cut)
        with self.assertRaises(InputError):
            trial.new_piece()
        free = Trial(SETUP)
        free.rub((30, 45), (60, 45), Hold())
        free.rub((30, 45), (60, 45), Hold(sheet=1))
        self.assertEqual((free.pieces, free.paper.grain_um), (2, 15.3))

    def test_a_clogged_paper_pills_only_where_that_is_the_game(self):
        strays = {}
        for pills in (False, True):
            trial = Trial(replace(SETUP, mode="dry", pieces=3, pills=pills))
            for _ in range(14):
                trial.round(Hold(stands_for=16))
            strays[pills] = len(trial.strays)
            self.assertTrue(trial.paper.pills)
        self.assertEqual(strays[False], 0)
        self.assertGreater(strays[True], 2)

    def test_fingers_leave_grooves_where_a_block_leaves_none(self):
        grooves = {}
        for name, hold in (("fingers", Hold(backing="finger", face="fingers")), ("block", Hold())):
            trial = Trial(replace(SETUP, pv_um=0.0, film_um=140.0))
            while trial.told().mean_um < 4:
                trial.round(hold)
                trial.wipe()
            across = trial.work.gone_um[32:96].mean(axis=0)[16:112]
            grooves[name] = float(np.ptp(across - np.convolve(across, np.ones(29) / 29, "same"))[()])
        self.assertGreater(grooves["fingers"], 2 * grooves["block"])

    def test_halves_are_alike_and_each_has_its_own_backing(self):
        trial = Trial(replace(SETUP, halves=True))
        half = trial.setup.cells // 2
        self.assertTrue((trial.before_um[:, :half] == trial.before_um[:, half:]).all())
        for _ in range(14):
            trial.round(Hold(face="small"))
            trial.wipe()
        left, right = trial.work.height_um[:, :half], trial.work.height_um[:, half:]
        self.assertLess(float(left.std()), 0.8 * float(right.std()))
        self.assertLessEqual(trial.kept((44.0, 45), Hold(face="small"))[0] + FACES["small"].wide_mm / 2, 45.0)

    def test_an_edge_goes_first_where_the_block_hangs_over(self):
        inside, over = (Trial(replace(SETUP, edge=True, pv_um=6.0)) for _ in range(2))
        for trial, x in ((inside, 34.0), (over, 14.0)):
            for _ in range(25):
                trial.rub((x, 20), (x, 70), Hold())
        band = [float(t.work.gone_um[:, 5:11].mean()) for t in (inside, over)]
        self.assertGreater(band[1], 1.5 * band[0])

    def test_stray_scratches_flare_up_where_the_lamp_stands_across_them(self):
        trial = Trial(replace(SETUP, pv_um=0.0, strays=1))
        stray = trial.strays[0]
        across, along = (trial.seen(stray.along_deg + turn, 12) for turn in (90, 0))
        col, row = (int(v / trial.work.dx_mm) for v in (stray.x_mm, stray.y_mm))
        here = [float(p[row - 1 : row + 2, col - 1 : col + 2].max()) for p in (across, along)]
        self.assertGreater(here[0], here[1] + 0.2)
        self.assertEqual(trial.strays_near(stray.x_mm, stray.y_mm, 3), 0)
        self.assertIsNone(trial.strays_near(stray.x_mm + 40, stray.y_mm + 40, 3))

    def test_what_cannot_be_is_refused(self):
        for wrong in ({"sheets": ()}, {"first": 2}, {"strays": -1}, {"v_m_s": 0}, {"film_um": 0}):
            with self.assertRaises(InputError):
                Trial(replace(SETUP, **wrong))
        with self.assertRaises(InputError):
            Trial(SETUP).rub((1, 1), (2, 2), Hold(sheet=5))
        with self.assertRaises(InputError):
            Trial(replace(SETUP, backings={"firm": Backs(E_kPa=0, t_mm=1, D=1)}))
