"""What lands, how heavy a coat may be, how many it takes, and what shows later: reference values, limits, refusals."""

import math
import unittest

import numpy as np

from ravden.catalogue.tables import shipped
from ravden.core.climate.air import cooling_K, dew_point_C, spare_K
from ravden.core.errors import InputError
from ravden.core.film import coats, deposit, layers, pores, wetcoat
from ravden.core.film.ledger import Ledger
from ravden.core.film.wetcoat import Conditions, Flow
from ravden.core.record import Zone

CATALOGUE = shipped()
FLOWS = {name: f.flow for name, f in CATALOGUE.families.items() if f.flow is not None}
# The window of shellac was worked out for brushing, at a slightly thinner solution.
FLOWS["shellac"] = Flow(
    solids=0.17, eta_Pa_s=0.020, rise=0.10, loss_um_s=0.80, no_flow=0.38, tension_N_m=0.023, density_kg_m3=851,
    flat_um=90, flight_loss=0.0,
)  # fmt: skip


class Deposits(unittest.TestCase):
    def test_a_gun_layer_scales_as_its_settings(self):
        usual = {"fluid_ml_min": 150, "travel_m_min": 24, "fan_m": 0.25, "overlap": 0.5, "transfer": 0.65}
        one = deposit.gun_wet_um(deposit.Gun(**usual))
        self.assertAlmostEqual(one, 32.5)
        self.assertAlmostEqual(deposit.gun_wet_um(deposit.Gun(**usual | {"travel_m_min": 12})), 2 * one)
        self.assertAlmostEqual(deposit.gun_wet_um(deposit.Gun(**usual), 3), 3 * one)
        for wrong in ({"overlap": 1.0}, {"transfer": 1.2}, {"fan_m": 0}, {"fluid_ml_min": float("nan")}):
            self.assertRaises(InputError, deposit.Gun, **(usual | wrong))

    def test_material_and_film_are_inverses(self):
        ml = deposit.material_ml(1500, 100, 0.17, 0.65, 0.8)
        self.assertAlmostEqual(deposit.volume_dry_um(ml, 1500, 0.17, 0.65, 0.8), 100)
        self.assertAlmostEqual(ml * 0.17 * 0.65 * 0.8, 0.15 * 100)

    def test_oil_fills_the_wood_before_it_films(self):
        self.assertEqual([round(f, 1) for f in deposit.oil_film_um(250, [80] * 6, 4)], [0, 0, 0, 2.0, 5.2, 8.7])
        films = deposit.oil_film_um(60, [80] * 12, 4)
        self.assertEqual(films, sorted(films))
        self.assertLess(films[-1], 12 * 4)

    def test_cloth_and_pad(self):
        self.assertEqual(deposit.cloth_wet_um(10, 2000, 0), 50)
        self.assertRaises(InputError, deposit.cloth_wet_um, 10, 2000, 11)
        self.assertRaises(InputError, deposit.cloth_wet_um, -1, 2000)


class Air(unittest.TestCase):
    def test_dew_points(self):
        for temp, rh, want in ((20, 0.5, 9.26), (25, 0.6, 16.69), (30, 0.8, 26.17)):
            self.assertAlmostEqual(dew_point_C(temp, rh), want, delta=0.01)
        self.assertAlmostEqual(dew_point_C(18, 1.0), 18)
        self.assertRaises(InputError, dew_point_C, 20, 0)

    def test_a_drying_coat_chills_its_surface(self):
        for blend, want in (("fast", 7.60), ("medium", 4.89), ("slow", 2.8)):
            self.assertAlmostEqual(cooling_K(100, 25, blend), want, delta=0.05)

    def test_spare_over_the_dew_point(self):
        table = {
            (20, 0.5): (4.2, 6.6, 8.4), (25, 0.5): (3.5, 6.3, 8.4), (25, 0.6): (0.7, 3.4, 5.5),
            (25, 0.7): (-1.7, 1.0, 3.1), (28, 0.8): (-4.5, -1.6, 0.7),
        }  # fmt: skip
        for (temp, rh), row in table.items():
            for blend, want in zip(("fast", "medium", "slow"), row, strict=True):
                self.assertAlmostEqual(spare_K(100, temp, rh, blend), want, delta=0.1)


class WetCoat(unittest.TestCase):
    def test_windows_of_every_family_upright_and_flat(self):
        table = {
            "lacquer": (61, 97, 150), "lacquer-thinned": (46, 67, 150), "acrylic-lacquer": (55, 85, 150),
            "two-part": (59, 93, 180), "polyester": (25, 154, 500), "waterborne": (57, 92, 125),
            "oil-varnish": (36, 51, 100), "shellac": (28, 34, 90),
        }  # fmt: skip
        for name, (low, upright, flat) in table.items():
            found = wetcoat.window(FLOWS[name], Conditions())
            self.assertAlmostEqual(found.low_um, low, delta=0.7, msg=name)
            self.assertAlmostEqual(found.high_um, upright, delta=0.9, msg=name)
            self.assertAlmostEqual(wetcoat.window(FLOWS[name], Conditions(slope_deg=0)).high_um, flat, delta=0.5)

    def test_air_and_thinner_move_the_window(self):
        table = {
            (15, 0.5, "medium"): (56, 86), (30, 0.5, "medium"): (67, 111), (22, 0.5, "slow"): (52, 80),
            (28, 0.75, "medium"): (66, 77),
        }  # fmt: skip
        for (temp, rh, thinner), (low, high) in table.items():
            found = wetcoat.window(FLOWS["lacquer"], Conditions(temp_C=temp, rh=rh, thinner=thinner))
            self.assertAlmostEqual(found.low_um, low, delta=0.8)
            self.assertAlmostEqual(found.high_um, high, delta=0.9)
        damp = wetcoat.window(FLOWS["lacquer"], Conditions(temp_C=28, rh=0.75, thinner="fast"))
        self.assertFalse(damp.open)
        self.assertEqual(damp.high_why, "blush")
        for rh, (low, high) in ((0.3, (62, 103)), (0.8, (45, 68))):
            found = wetcoat.window(FLOWS["waterborne"], Conditions(rh=rh))
            self.assertAlmostEqual(found.low_um, low, delta=0.9)
            self.assertAlmostEqual(found.high_um, high, delta=0.9)

    def test_sag_goes_as_the_cube_root(self):
        flow = FLOWS["lacquer"]
        upright = wetcoat.sag_um(flow, Conditions(temp_C=25))
        self.assertAlmostEqual(upright, 102, delta=0.5)
        for slope, want in ((45, 114.5), (15, 160.0)):
            self.assertAlmostEqual(wetcoat.sag_um(flow, Conditions(temp_C=25, slope_deg=slope)), want, delta=0.8)
        self.assertEqual(wetcoat.sag_um(flow, Conditions(slope_deg=0)), math.inf)
        self.assertAlmostEqual(wetcoat.level_um(flow, Conditions(temp_C=25), 3) / 2,
                               wetcoat.level_um(flow, Conditions(temp_C=25), 1.5))  # fmt: skip

    def test_thinning_runs_sooner_and_levels_sooner(self):
        thick, thin = (wetcoat.window(FLOWS["lacquer"], Conditions(thinner_ratio=r)) for r in (0.0, 0.3))
        self.assertLess(thin.low_um, thick.low_um)
        self.assertLess(thin.high_um, thick.high_um)
        own = wetcoat.window(FLOWS["lacquer-thinned"], Conditions())
        by_ratio = wetcoat.window(FLOWS["lacquer"], Conditions(thinner_ratio=0.17 / 0.13 - 1))
        self.assertAlmostEqual(own.high_um, by_ratio.high_um, delta=0.5)

    def test_conditions_that_cannot_be(self):
        for wrong in ({"temp_C": 90}, {"rh": 0}, {"slope_deg": 120}, {"thinner_ratio": -1}, {"thinner": "quick"}):
            self.assertRaises(InputError, Conditions, **wrong)


class HowMany(unittest.TestCase):
    def test_reference_plans(self):
        table = (
            ((12, 35, 60, 0.90), {}, 12, 0.9154), ((12, 35, 60, 0.90), {"gun_cv": 0.08, "zone_cv": 0.08}, 10, 0.9147),
            ((12, 35, 60, 0.95), {}, 14, 0.9695), ((25, 40, 90, 0.90), {}, 8, 0.9263),
            ((2.5, 4, 12, 0.90), {}, 10, 0.9371), ((90, 80, 250, 0.90), {"gun_cv": 0.20}, 6, 0.9743),
        )  # fmt: skip
        for given, spread, want, odds in table:
            count = coats.coats_to_plan(*given, **spread)
            self.assertEqual(count, want)
            self.assertAlmostEqual(coats.odds_of_floor(count, *given[:3], **spread), odds, delta=6e-4)

    def test_odds_agree_with_draws(self):
        rng = np.random.default_rng(3)
        n, size = 12, 200_000
        ln = np.sqrt(np.log(1 + 0.25**2))
        film = n * 12 * np.exp(ln * rng.normal(size=size)) * np.exp(0.1196 * rng.normal(size=size) - 0.5 * 0.1196**2)
        s = np.sqrt(np.log(1 + 0.35**2))
        held = film * (1 + 0.1 / math.sqrt(n) * rng.normal(size=size)) - 35 * np.exp(
            s * rng.normal(size=size) - s * s / 2
        )
        self.assertAlmostEqual(coats.odds_of_floor(n, 12, 35, 60), float((held >= 60).mean()), delta=0.004)

    def test_a_live_ledger_asks_for_fewer_once_the_gun_is_known(self):
        zones = [Zone(name="top", label="Top", kind="flat", area_cm2=1000)]
        removed = {"top": 35.0}
        fresh = coats.coats_left(Ledger(zones), 12, removed, 60, planned=8)
        self.assertAlmostEqual(fresh.coats, 12, delta=1)
        known = Ledger(zones).coat(12, count=6).gauge("top", 72, 5)
        left = coats.coats_left(known, 12, removed, 60, planned=3)
        self.assertLess(left.coats + 6, fresh.coats)
        self.assertGreaterEqual(left.odds, 0.90)
        self.assertLess(coats.coats_left(known, 12, removed, 60, planned=left.coats - 1).odds_planned, 0.90)

    def test_a_floor_out_of_reach_is_said(self):
        zones = [Zone(name="top", label="Top", kind="flat", area_cm2=1000)]
        self.assertIsNone(coats.coats_left(Ledger(zones), 1.0, {}, 900, planned=3).coats)
        self.assertRaises(InputError, coats.coats_to_plan, 0, 35, 60)


class Later(unittest.TestCase):
    def test_witness_lines_agree_with_draws(self):
        rng = np.random.default_rng(4)

        def draw(mean, cv):
            spread = math.sqrt(math.log1p(cv**2))
            return mean * np.exp(spread * rng.normal(size=200_000) - 0.5 * spread**2)

        broken = draw(30.0, 0.35) > draw(36.0, 0.28) * draw(1.0, 0.07)
        self.assertAlmostEqual(layers.witness_odds(36, 30, 0.28), float(broken.mean()), delta=0.004)
        needed = layers.layer_needed_um(20, 0.28)
        self.assertAlmostEqual(layers.witness_odds(needed, 20, 0.28), 0.10, places=6)
        self.assertLess(layers.dissolving_share(24), layers.dissolving_share(24 * 200))

    def test_pores(self):
        self.assertEqual(pores.shrink_strain(0.015, 0.015), 0)
        for solids, want in ((0.13, 22.8), (0.20, 14.2), (0.30, 8.9), (0.50, 4.6)):
            self.assertAlmostEqual(pores.depth_after_um(120, solids, want), 5.0, delta=0.1)
        self.assertRaises(InputError, pores.sink_um, -1, 0.1)
