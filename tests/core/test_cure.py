"""The solvent-loss solver against the reference runs, limits with known answers, and the rules it must keep."""

import json
import math
import unittest
from pathlib import Path

import numpy as np

from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.evaporative import COLUMN, SolventLoss, glass_transition_C, solve, wet_solvent
from ravden.core.cure.windows import WINDOW_NAMES, windows
from ravden.core.errors import InputError
from ravden.core.record import Air, Coat, Sanding

REFERENCE = json.loads((Path(__file__).parent.parent / "data" / "cure.json").read_text())["cases"]
LACQUER = SolventLoss(**REFERENCE["lacquer_9x10"]["material"])


def case(name):
    raw = REFERENCE[name]
    return (
        SolventLoss(**raw["material"]),
        [Coat(**c) for c in raw["coats"]],
        [Air(**a) for a in raw["climate"]],
        raw["expect"],
    )


def constant(d_um2_h, ke_um_h, solids=0.5):
    """A film whose diffusivity hardly depends on its solvent."""
    return SolventLoss(
        solids=solids, D0_um2_h=d_um2_h, beta=0, gamma=0, Ea_J_mol=0, ke20_um_h=ke_um_h, chi=0.5, Tg_dry_C=50,
        Tg_solvent_C=-150,
    )  # fmt: skip


def solved(name):
    material, coats, air, expect = case(name)
    asked = Sampling(sample_h=[e["at_h"] for e in expect])
    return solve(material, coats, under=Conditions(air=air), sampling=asked), expect


class Reference(unittest.TestCase):
    def test_reference_runs_within_their_tolerances(self):
        for name in REFERENCE:
            found, expect = solved(name)
            for i, row in enumerate(expect):
                with self.subTest(name, at_h=row["at_h"]):
                    got = {key: float(found.column(key)[i]) for key in row}
                    self.assertAlmostEqual(got["dry_um"], row["dry_um"], places=9)
                    self.assertAlmostEqual(got["film_um"], row["film_um"], delta=0.3)
                    for key in ("phi_mean", "phi_max"):
                        self.assertAlmostEqual(got[key], row[key], delta=max(0.02 * row[key], 5e-4))
                    self.assertAlmostEqual(got["Tg_min_C"], row["Tg_min_C"], delta=0.6)

    def test_mean_solvent_within_0_7_percent(self):
        for name in REFERENCE:
            found, expect = solved(name)
            for i, row in enumerate(expect):
                if row["phi_mean"] > 0.001:
                    self.assertLess(abs(found.column("phi_mean")[i] / row["phi_mean"] - 1), 0.007, (name, row["at_h"]))

    def test_solvent_put_in_is_left_or_lost(self):
        for name in REFERENCE:
            material, coats, air, _ = case(name)
            rows = solve(material, coats, under=Conditions(air=air), sampling=Sampling(until_h=2000)).steps
            held = rows[:, COLUMN["film_um"]] - rows[:, COLUMN["dry_um"]]
            gap = rows[:, COLUMN["put_um"]] - rows[:, COLUMN["lost_um"]] - held
            self.assertLess(np.abs(gap).max(), 1e-9)

    def test_balance_holds_through_sandings_and_a_sand_through(self):
        coats = [Coat(at_h=0, dry_um=30), Coat(at_h=24, dry_um=30)]
        cuts = [Sanding(at_h=20, um=5), Sanding(at_h=50, um=54.99)]
        rows = solve(LACQUER, coats, sandings=cuts, sampling=Sampling(until_h=80)).steps
        held = rows[:, COLUMN["film_um"]] - rows[:, COLUMN["dry_um"]]
        self.assertLess(np.abs(rows[:, COLUMN["put_um"]] - rows[:, COLUMN["lost_um"]] - held).max(), 1e-9)
        self.assertAlmostEqual(rows[-1, COLUMN["dry_um"]], 0.01, places=9)

    def test_halving_the_grid_moves_windows_less_than_one_percent(self):
        for name in ("lacquer_9x10", "shellac_10x2.5"):
            material, coats, air, _ = case(name)
            ours = windows(solve(material, coats, under=Conditions(air=air), sampling=Sampling(until_h=3000)))
            fine = windows(
                solve(
                    material,
                    coats,
                    under=Conditions(air=air),
                    sampling=Sampling(until_h=3000, tolerance=0.005, cells=36),
                )
            )
            for window in ("level", "buff", "case"):
                self.assertLess(abs(ours.at(window) / fine.at(window) - 1), 0.01, (name, window))


class Limits(unittest.TestCase):
    def test_no_resistance_at_the_surface_gives_the_fourier_series(self):
        # With solvent scarce, D_L is D and the surface is dry: a slab losing from one face.
        d, z = 5.0, 20.0
        material = constant(d, 9e8, solids=0.999)
        hours = [2.0, 8.0, 20.0, 40.0]
        found = solve(material, [Coat(at_h=0, dry_um=z)], sampling=Sampling(sample_h=hours, tolerance=0.002, cells=72))
        start = wet_solvent(0.999)
        for i, t in enumerate(hours):
            terms = (
                8 / ((2 * n + 1) ** 2 * math.pi**2) * math.exp(-d * t * ((2 * n + 1) * math.pi / (2 * z)) ** 2)
                for n in range(200)
            )
            mean = (found.column("film_um")[i] / z - 1) / start
            self.assertAlmostEqual(mean, sum(terms), delta=0.005 * mean)

    def test_no_resistance_inside_gives_one_compartment(self):
        ke, z = 0.02, 10.0
        material = constant(1e6, ke, solids=0.9999)
        found = solve(material, [Coat(at_h=0, dry_um=z)], sampling=Sampling(sample_h=[20.0, 60.0]))
        a_slope = math.exp(1.5)  # a = phi exp(1 + chi) where solvent is scarce
        for i, t in enumerate((20.0, 60.0)):
            share = (found.column("film_um")[i] / z - 1) / wet_solvent(0.9999)
            self.assertAlmostEqual(share, math.exp(-ke * a_slope * t / z), delta=0.005 * share)

    def test_fox_equation_ends(self):
        ends = glass_transition_C(np.array([0.0, 1.0]), LACQUER)
        self.assertAlmostEqual(ends[0], 55.0)
        self.assertAlmostEqual(ends[1], -150.0)


class Behaviour(unittest.TestCase):
    def level(self, coats, **under):
        found = solve(LACQUER, coats, under=Conditions(**under), sampling=Sampling(until_h=4000))
        return windows(found).level_h - coats[-1].at_h

    def test_windows_fall_where_the_trade_has_them(self):
        _, coats, _, _ = case("lacquer_9x10")
        found = windows(solve(LACQUER, coats, sampling=Sampling(until_h=2000)))
        waits = [(found.at(w) - coats[-1].at_h) / 24 for w in ("level", "buff", "case")]
        for wait, usual in zip(waits, (6.8, 7.5, 19.0), strict=True):
            self.assertAlmostEqual(wait, usual, delta=0.05 * usual)
        self.assertEqual(sorted(waits), waits)

    def test_cold_slows_and_warm_speeds(self):
        _, coats, _, _ = case("lacquer_9x10")
        base = self.level(coats)
        self.assertAlmostEqual(self.level(coats, air=[Air(at_h=0, temp_C=15)]) / base, 1.5, delta=0.15)
        self.assertLess(self.level(coats, air=[Air(at_h=0, temp_C=32)]) / base, 0.55)

    def test_time_grows_with_the_square_of_the_film(self):
        thin = self.level([Coat(at_h=0, dry_um=40)])
        thick = self.level([Coat(at_h=0, dry_um=80)])
        self.assertAlmostEqual(thick / thin, 4.0, delta=0.4)

    def test_a_sample_at_a_coats_hour_is_taken_before_it(self):
        coats = [Coat(at_h=0, dry_um=10), Coat(at_h=5, dry_um=10)]
        found = solve(LACQUER, coats, sampling=Sampling(sample_h=[0, 5, 5.001]))
        self.assertEqual(list(found.column("dry_um")), [0.0, 10.0, 20.0])

    def test_a_new_coat_softens_the_old_skin(self):
        coats = [Coat(at_h=0, dry_um=20), Coat(at_h=48, dry_um=10)]
        found = solve(LACQUER, coats, sampling=Sampling(sample_h=[48, 49]))
        self.assertLess(found.column("Tg_min_C")[1], found.column("Tg_min_C")[0] - 10)

    def test_windows_are_none_before_the_end_and_without_coats(self):
        found = windows(solve(LACQUER, [Coat(at_h=0, dry_um=100)], sampling=Sampling(until_h=2)))
        self.assertIsNone(found.level_h)
        empty = windows(solve(LACQUER, [], sampling=Sampling(until_h=10)))
        self.assertEqual([empty.at(n) for n in WINDOW_NAMES], [None] * 5)

    def test_softness_over_the_top_is_harder_than_over_the_whole(self):
        found = solve(LACQUER, [Coat(at_h=0, dry_um=100)], sampling=Sampling(sample_h=[200.0]))
        top = found.least_Tg_over_top_C(0, 5.0)
        whole = found.least_Tg_over_top_C(0, 500.0)
        self.assertGreater(top, whole)
        self.assertAlmostEqual(whole, float(found.column("Tg_min_C")[0]), delta=0.5)


class BadInput(unittest.TestCase):
    def expect_refused(self, path, call):
        with self.assertRaises(InputError) as caught:
            call()
        self.assertEqual(caught.exception.path, path)

    def test_refusals_name_the_field(self):
        two = [Coat(at_h=5, dry_um=10), Coat(at_h=0, dry_um=10)]
        one = [Coat(at_h=0, dry_um=10)]
        self.expect_refused("coats[1].at_h", lambda: solve(LACQUER, two))
        self.expect_refused("sand[0].um", lambda: solve(LACQUER, one, sandings=[Sanding(at_h=1, um=11)]))
        self.expect_refused("airflow", lambda: solve(LACQUER, one, under=Conditions(airflow=float("nan"))))
        self.expect_refused("until_h", lambda: solve(LACQUER, one, sampling=Sampling(sample_h=[10], until_h=5)))
        self.expect_refused("sample_h", lambda: solve(LACQUER, one, sampling=Sampling(sample_h=[1, float("inf")])))
        self.expect_refused("dry_um", lambda: Coat(at_h=0, dry_um=float("nan")))
        self.expect_refused("temp_C", lambda: Air(at_h=0, temp_C=85.0))
