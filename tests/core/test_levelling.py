"""Paper on a block: the closed forms it must meet, volume, balance over an edge, and what soft backings follow."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ravden.core.errors import InputError
from ravden.core.surface import panel
from ravden.core.surface.block import BlockWork, Face, lanes, moves
from ravden.core.surface.contact import Backs, Levelling, Rubbing, follows_kPa_um
from ravden.core.surface.paper import Paper
from ravden.core.surface.rounds import places
from tests.core.reference import surface

BACKS = {
    "rigid": Backs(E_kPa=3e6, t_mm=20, D=300), "firm": Backs(E_kPa=6000, t_mm=10, D=300),
    "foam": Backs(E_kPa=60, t_mm=10, D=3), "finger": Backs(E_kPa=40, t_mm=8, D=300),
}  # fmt: skip


LIGHT_KPA = 0.2  # so little that the paper's face hardly gives: a plane cuts the crests


def rubbing(backing, kappa=0.38, grain_um=22.0, iterations=2):
    return Rubbing(grain_um=grain_um, kappa=kappa, backs=BACKS[backing], iterations=iterations)


def flat(cells=96, film_um=120.0, size_mm=90.0):
    height = np.zeros((cells, cells), dtype=np.float32)
    return BlockWork(height, np.full_like(height, film_um), size_mm / cells)


class Closed(unittest.TestCase):
    def test_how_backings_answer_waves(self):
        for case in surface()["L2_keff_kPa_um"]:
            found = follows_kPa_um(rubbing(case["backing"], grain_um=33 / case["kp"]), case["lambda_mm"])
            self.assertAlmostEqual(found, case["keff"], places=6)

    def test_a_wave_that_is_touched_all_over_falls_as_it_should(self):
        cells, size, a, length, load = 128, 60.0, 0.4, 6.0, 6.0
        height = panel.wave(cells, size / cells, a, (length, 0.0)).astype(np.float32)
        soft = rubbing("foam", kappa=0.19)
        work = Levelling(height, np.full_like(height, 100), size / cells)
        gone = sum(work.rub(soft, load, 0.1) for _ in range(60))
        want = a * math.exp(-follows_kPa_um(soft, length) * gone / load)
        self.assertAlmostEqual(float(work.height_um.std()) * math.sqrt(2), want, delta=0.002 * a)

    def test_film_off_a_wave_by_the_share_touched(self):
        cells, size, a = 128, 60.0, 8.0
        height = panel.wave(cells, size / cells, a, (10.0, 0.0)).astype(np.float32)
        work, hard = Levelling(height, np.full_like(height, 200), size / cells), rubbing("rigid", kappa=0.05)
        gone = 0.0
        for case in surface()["L1_sine_removed_over_a"][1:4]:
            while float((work.gone_um > 0).mean()) < case["touched"]:
                gone += work.rub(hard, LIGHT_KPA, 2.0)
            self.assertAlmostEqual(gone / a, case["v"], delta=0.03)

    def test_a_gaussian_texture_needs_what_it_should(self):
        work = Levelling(
            panel.peel(256, 0.234, 18, panel.PEEL_MM, 4).astype(np.float32), np.full((256, 256), 100, np.float32), 0.234
        )
        sigma, hard = float(work.height_um.std()), rubbing("rigid", kappa=0.191)
        known = {case["touched"]: case["v"] for case in surface()["L3_gaussian_removed_over_sigma"]}
        gone = 0.0
        for share in (0.5, 0.75, 0.9):
            while float((work.gone_um > 0).mean()) < share:
                gone += work.rub(hard, LIGHT_KPA, 1.0)
            self.assertAlmostEqual(gone / sigma, known[share], delta=0.05)

    def test_load_over_an_edge(self):
        for case in surface()["L6_overhang"][:3]:
            work, hard = flat(384), rubbing("rigid", iterations=3)
            middle = case["block_mm"] / 2 - case["overhang_mm"]
            work.move(hard, Face(wide_mm=60, high_mm=30), case["P"], (middle, 45.0), 0.01)
            row = work.gone_um[192] / (0.38 * 0.01)  # the pressure that took it
            inner, edge, contact = case["inner_edge_contact_mm"]
            on = np.flatnonzero(row > 1e-3)
            self.assertAlmostEqual(float(row[on[0]]), edge, delta=0.03 * edge)
            self.assertAlmostEqual(len(on) * work.dx_mm, contact, delta=0.6)
            if inner > 0.5:
                self.assertAlmostEqual(float(row[on[-1]]), inner, delta=0.06 * inner)

    def test_a_paper_that_loads(self):
        told = surface()["paper"]
        paper, gone, seen = Paper(grain_um=told["grain_um"]), 0.0, []
        for n in range(1, 161):
            takes = told["kappa_um_kPa_m"] * paper.cut * told["load_kPa"] * told["stroke_m"]
            gone, paper = gone + takes, paper.after(takes * told["area_ratio"])
            paper = paper.wiped() if n in told["wipe_after"] else paper
            if n in (40, 160):
                seen.append((gone, paper.cut))
        for (mean, cut), sample in zip(seen, told["samples"], strict=True):
            self.assertAlmostEqual(mean, sample["mean_um"], delta=1e-4)
            self.assertAlmostEqual(cut, sample["cut"], delta=1e-4)


class Block(unittest.TestCase):
    def test_nothing_is_lost_or_made_in_a_thousand_moves(self):
        work, firm, face = flat(128), rubbing("firm", iterations=1), Face(wide_mm=60, high_mm=30)
        draw, slid = np.random.default_rng(2), 0.0
        for _ in range(1000):
            slide = float(draw.uniform(0.005, 0.04))
            work.move(firm, face, 2.0, (float(draw.uniform(31, 59)), float(draw.uniform(16, 74))), slide)
            slid += slide
        self.assertAlmostEqual(work.volume_um_mm2, 0.38 * 2.0 * slid * face.area_mm2, delta=0.002 * work.volume_um_mm2)
        self.assertAlmostEqual(float((120 - work.film_um).sum()), float(work.gone_um.sum()), delta=1.0)

    def test_a_mirrored_pass_leaves_the_mirror_of_it(self):
        height = panel.peel(128, 90 / 128, 12, (4.0, 9.0), 1).astype(np.float32)
        left, right = (BlockWork(h.copy(), np.full_like(h, 100), 90 / 128) for h in (height, height[:, ::-1]))
        face, firm = Face(wide_mm=60, high_mm=30), rubbing("firm")
        for x in (30.0, 40.0, 20.0):
            left.move(firm, face, 2.0, (x, 45.0), 0.2)
            right.move(firm, face, 2.0, (90 - x, 45.0), 0.2)
        self.assertLess(float(np.abs(left.gone_um - right.gone_um[:, ::-1]).max()), 0.06)

    def test_a_long_move_is_its_parts(self):
        face, firm = Face(wide_mm=60, high_mm=30), rubbing("firm")
        whole, parts = flat(128), flat(128)
        for at, mm in moves((30, 45), (60, 45), face):
            whole.move(firm, face, 2.0, at, mm / 1000 * 16)
        for start in (30, 45):
            for at, mm in moves((start, 45), (start + 15, 45), face):
                for _ in range(4):
                    parts.move(firm, face, 2.0, at, mm / 1000 * 4)
        self.assertAlmostEqual(whole.volume_um_mm2, parts.volume_um_mm2, delta=0.02 * whole.volume_um_mm2)
        self.assertLess(float(np.abs(whole.gone_um - parts.gone_um).max()), 0.05 * float(whole.gone_um.max()))

    def test_off_the_panel_nothing_is_touched(self):
        work = flat()
        self.assertEqual(work.move(rubbing("firm"), Face(wide_mm=60, high_mm=30), 2.0, (500.0, 45.0), 1.0), 0.0)
        self.assertEqual(float(work.gone_um.max()), 0.0)

    def test_never_more_than_the_film(self):
        work, face = flat(film_um=3.0), Face(wide_mm=60, high_mm=30)
        for at in places(face, 90.0, 90.0) * 8:
            work.move(rubbing("firm"), face, 8.0, at, 1.0)
        self.assertGreaterEqual(float(work.film_um.min()), 0.0)
        self.assertLessEqual(float(work.gone_um.max()), 3.00001)

    def test_fingers_press_in_lanes_and_a_block_does_not(self):
        y = np.linspace(-45, 45, 181, dtype=np.float32)[:, None]
        self.assertAlmostEqual(float(lanes(y, 0.0).mean()), 1.0, places=5)
        self.assertGreater(float(lanes(y, 0.0).max()), 1.3)
        self.assertFalse(np.allclose(lanes(y, 0.0), lanes(y, 2.0)))

    def test_a_round_takes_the_whole_panel_evenly(self):
        work, firm, face = flat(128, film_um=200), rubbing("firm", iterations=1), Face(wide_mm=60, high_mm=30)
        for i in range(6):
            turned = face.turned() if i % 2 else face
            for at in places(turned, 90.0, 90.0):
                work.move(firm, turned, 2.0, at, 0.2)
        self.assertGreater(float(work.gone_um.min()), 0.4 * float(work.gone_um.mean()))
        self.assertLess(float(work.gone_um.std()), 0.3 * float(work.gone_um.mean()))


class Panels(unittest.TestCase):
    @settings(max_examples=12)
    @given(st.floats(1, 60), st.integers(0, 10_000))
    def test_a_texture_is_as_high_as_asked_and_the_same_again(self, pv, seed):
        made = panel.peel(64, 1.0, pv, (3.0, 9.0), seed)
        self.assertAlmostEqual(panel.peak_to_valley_um(made), pv, delta=0.02 * pv)
        self.assertTrue((made == panel.peel(64, 1.0, pv, (3.0, 9.0), seed)).all())

    def test_panels_to_practise_on(self):
        usual = {"film_um": 100.0, "film_sd_um": 0.0, "floor_um": 40.0, "pv_um": 18.0, "seed": 3, "cells": 128}
        plain, edge = panel.made(**usual), panel.made(**usual, edge=True)
        self.assertAlmostEqual(float(plain.film_um.mean()), 100, delta=4)
        self.assertLess(float(edge.film_um[:, 0].mean()), 0.75 * float(edge.film_um[:, 64].mean()))
        self.assertLess(float(edge.height_um[:, 0].max()), -500)  # the arris falls away
        hump = panel.made(**usual, run_um=60.0)
        self.assertGreater(float(hump.height_um.max()), 45)
        for other in (panel.made(**usual, brush=True), panel.made(**usual, pored=True)):
            self.assertGreater(float(np.abs(other.height_um - plain.height_um).max()), 5)

    def test_what_cannot_be_is_refused(self):
        with self.assertRaises(InputError):
            panel.peel(64, 1.0, 10, (5.0, 2.0), 1)
        with self.assertRaises(InputError):
            panel.made(film_um=0, film_sd_um=0, floor_um=0, pv_um=5, seed=1)
        for wrong in ({"E_kPa": 0}, {"t_mm": math.nan}, {"D": -1}):
            with self.assertRaises(InputError):
                Backs(**{"E_kPa": 60, "t_mm": 10, "D": 3, **wrong})
        with self.assertRaises(InputError):
            Paper(grain_um=20, mode="machine")


class Backings(unittest.TestCase):
    def test_a_soft_pad_goes_dull_and_stays_wavy(self):
        left = {}
        for name in ("firm", "foam"):
            height = panel.peel(192, 0.3, 18, panel.PEEL_MM, 5).astype(np.float32)
            work = Levelling(height, np.full_like(height, 100), 0.3)
            with_it = rubbing(name, kappa=0.191)
            while float((work.gone_um >= with_it.touched_um).mean()) < 0.97:
                work.rub(with_it, 2.0, 0.1 if name == "firm" else 0.03)
            left[name] = float(work.height_um.std())
        self.assertLess(left["firm"], 0.4)
        self.assertGreater(left["foam"], 4 * left["firm"])
