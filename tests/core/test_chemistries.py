"""Films that react, cure by light, carry water or never harden: closed forms, rules, stacks, windows."""

import math
import unittest

import numpy as np
from msgspec.structs import replace

from ravden.catalogue.material_tables import read_cure
from ravden.catalogue.tables import shipped
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.evaporative import water_gone_h
from ravden.core.cure.film import StackHistory, harden
from ravden.core.cure.layered import LayerHistory, cure_depth_um, pot_life_h, solve, tg_C
from ravden.core.cure.models import Crosslink, LightCure, NeverHard, Oxidation
from ravden.core.cure.windows import windows
from ravden.core.errors import InputError
from ravden.core.record import Air, Coat, Exposure, Sanding

CATALOGUE = shipped()
SOFT = {"Tg0_C": -190.0, "Tg1_C": -90.0}  # never glassy, so that nothing slows the reaction
FREE = Crosslink(k20_per_h=0.1, n=1.0, **SOFT)
OIL = Oxidation(induction_h=5.0, k20_per_h=0.1, thick_um=1e4, **SOFT)
WARM = [Air(at_h=0, temp_C=20)]


def one(at_h=0.0, um=30.0, finish=""):
    return Coat(at_h=at_h, dry_um=um, finish=finish)


def alpha(model, coats, at_h, air=WARM, **kw):
    return float(solve(model, coats, under=Conditions(air=air), sampling=Sampling(sample_h=[at_h]), **kw).samples[0, 8])


def model(name):
    return CATALOGUE.material(name).cure


class Depths(unittest.TestCase):
    def test_softness_is_told_at_the_middle_of_each_share_from_the_wood_up(self):
        laid = [one(0.0), one(24.0), one(48.0)]
        found = solve(FREE, laid, under=Conditions(air=WARM), sampling=Sampling(sample_h=[60.0]))
        three, six, one_of = (found.softness_C(n)[0].tolist() for n in (3, 6, 1))
        self.assertTrue(three[0] > three[1] > three[2])
        self.assertEqual(six, [t for t in three for _ in range(2)])
        self.assertEqual(one_of, [three[1]])

    def test_a_drying_film_too(self):
        lacquer = model("lacquer-sprayed")
        asked = Sampling(sample_h=[0.2, 1.0, 20.0])
        film = harden({"": lacquer}, [one(um=12.0)], under=Conditions(air=WARM), sampling=asked)
        self.assertGreater(film.column("phi_max")[0], 0.15)
        for soft, least in zip(film.softness_C(60), film.column("Tg_min_C"), strict=True):
            self.assertAlmostEqual(soft.min(), least, delta=1.5)
            self.assertEqual(soft.argmin(), 0)  # by the wood

    def test_a_stack_holds_the_solvent_of_all_its_films(self):
        models = {"": model("lacquer-sprayed"), "seal": model("shellac-pad")}
        laid = [one(0.0, 20.0, "seal"), one(2.0, 30.0)]
        stack = harden(models, laid, under=Conditions(air=WARM), sampling=Sampling(sample_h=[3.0]))
        parts = [part.samples[0] for part in stack.parts]
        film, dry = sum(p[2] for p in parts), sum(p[1] for p in parts)
        self.assertAlmostEqual(stack.column("film_um")[0], film)
        self.assertAlmostEqual(stack.column("dry_um")[0], dry)
        self.assertAlmostEqual(stack.column("phi_mean")[0], sum(p[3] * p[2] for p in parts) / film)
        self.assertGreater(stack.column("phi_mean")[0], 0.05)
        self.assertAlmostEqual(stack.column("Tg_min_C")[0], min(p[5] for p in parts))

    def test_the_pot_lasts_until_its_share_has_reacted(self):
        for n in (1.0, 2.0):
            pot = Crosslink(k20_per_h=0.2, n=n, **SOFT)
            t = pot_life_h(pot, 20)
            self.assertAlmostEqual(alpha(replace(pot, pot_share=0.99), [one()], t), pot.pot_share, delta=1e-3)


class ClosedForms(unittest.TestCase):
    def test_first_and_second_order(self):
        for t in (0.5, 3.0, 12.0, 40.0):
            self.assertAlmostEqual(alpha(FREE, [one()], t), 1 - math.exp(-0.1 * t), delta=1e-4)
            second = Crosslink(k20_per_h=0.1, n=2.0, **SOFT)
            self.assertAlmostEqual(alpha(second, [one()], t), 0.1 * t / (1 + 0.1 * t), places=5)

    def test_warmth_is_arrhenius(self):
        factor = math.exp(-55000 / 8.314462618 * (1 / 303.15 - 1 / 293.15))
        warm = alpha(FREE, [one()], 6.0, [Air(at_h=0, temp_C=30)])
        self.assertAlmostEqual(warm, 1 - math.exp(-0.1 * factor * 6), places=5)
        turned = alpha(FREE, [one()], 6.0, [Air(at_h=0, temp_C=20), Air(at_h=2, temp_C=30)])
        self.assertAlmostEqual(turned, 1 - math.exp(-0.1 * (2 + 4 * factor)), places=5)

    def test_an_oil_waits_and_then_takes_up_oxygen(self):
        self.assertEqual(alpha(OIL, [one()], 4.9), 0.0)
        self.assertAlmostEqual(alpha(OIL, [one()], 15.0), 1 - math.exp(-1.0), places=4)
        thick = Oxidation(induction_h=0, k20_per_h=0.1, thick_um=12, **SOFT)
        for um in (6.0, 12.0, 36.0):
            want = 1 - math.exp(-0.1 * 10 / (1 + (um / 12) ** 2))
            self.assertAlmostEqual(alpha(thick, [one(um=um)], 10.0), want, places=4)

    def test_glass_stops_it(self):
        glassy = Crosslink(k20_per_h=1.0, n=1.0, Tg0_C=-40, Tg1_C=90)
        self.assertLess(alpha(glassy, [one()], 30.0), 0.95)
        self.assertGreater(alpha(glassy, [one()], 30.0, [Air(at_h=0, temp_C=60)]), 0.97)
        self.assertAlmostEqual(float(tg_C(np.array([1.0]), glassy)[0]), 90)
        self.assertAlmostEqual(float(tg_C(np.array([0.0]), glassy)[0]), -40)

    def test_light_sets_to_the_working_curve(self):
        resin = LightCure(depth_um=150, gel_mJ_cm2=20)
        for dose in (40, 400, 4000):
            depth = cure_depth_um(resin, dose)
            self.assertAlmostEqual(depth, 150 * math.log(dose / 20))
            film = 2 * depth
            found = solve(
                resin,
                [one(um=film)],
                under=Conditions(exposures=[Exposure(at_h=1, dose_mJ_cm2=dose)]),
                sampling=Sampling(sample_h=[2.0]),
            )
            heights = np.cumsum(found.thick)
            half = found.alpha_samples[0] >= 0.5
            self.assertAlmostEqual(film - heights[~half].max(initial=0.0), depth, delta=film / 6)
        self.assertEqual(cure_depth_um(resin, 19), 0)

    def test_staged_light_adds_up_and_without_light_it_stays_wet(self):
        resin = LightCure(depth_um=150, gel_mJ_cm2=20)
        staged = solve(
            resin,
            [one()],
            under=Conditions(exposures=[Exposure(at_h=h, dose_mJ_cm2=50) for h in (1, 2)]),
            sampling=Sampling(sample_h=[3.0]),
        )
        whole = solve(
            resin,
            [one()],
            under=Conditions(exposures=[Exposure(at_h=1, dose_mJ_cm2=100)]),
            sampling=Sampling(sample_h=[3.0]),
        )
        self.assertAlmostEqual(float(staged.samples[0, 8]), float(whole.samples[0, 8]), places=9)
        dark = solve(resin, [one()], sampling=Sampling(sample_h=[500.0], until_h=1000))
        self.assertEqual(float(dark.samples[0, 8]), 0)
        self.assertIsNone(windows(dark).level_h)

    def test_water_leaves_as_the_air_allows(self):
        water = model("waterborne")
        coat = Coat(at_h=2, dry_um=20)
        wet = 2.1 * 20
        self.assertAlmostEqual(water_gone_h(water, coat, 2.0, [Air(at_h=0, temp_C=20, rh=0.5)]), 2 + wet / (250 * 0.5))
        self.assertEqual(water_gone_h(water, coat, 2.0, [Air(at_h=0, temp_C=20, rh=1.0)]), math.inf)
        turned = [Air(at_h=0, temp_C=20, rh=1.0), Air(at_h=10, temp_C=20, rh=0.5)]
        self.assertAlmostEqual(water_gone_h(water, coat, 2.0, turned), 10 + wet / 125)


class Rules(unittest.TestCase):
    def test_no_window_before_the_water_has_gone(self):
        damp = harden(
            {"": model("waterborne")},
            [one()],
            under=Conditions(air=[Air(at_h=0, temp_C=20, rh=1.0)]),
            sampling=Sampling(until_h=500),
        )
        found = windows(damp)
        self.assertEqual([found.at(n) for n in ("touch_dry", "scuff", "level", "buff", "case")], [None] * 5)
        self.assertEqual(len(damp.wet), 1)
        dry = windows(
            harden(
                {"": model("waterborne")},
                [one()],
                under=Conditions(air=[Air(at_h=0, temp_C=20, rh=0.3)]),
                sampling=Sampling(until_h=2000),
            )
        )
        slow = windows(
            harden(
                {"": model("waterborne")},
                [one()],
                under=Conditions(air=[Air(at_h=0, temp_C=20, rh=0.8)]),
                sampling=Sampling(until_h=2000),
            )
        )
        self.assertLess(dry.level_h, slow.level_h)

    def test_a_wet_coat_is_not_lost_when_a_history_goes_on(self):
        air = [Air(at_h=0, temp_C=20, rh=0.5)]
        early = harden({"": model("waterborne")}, [one()], under=Conditions(air=air), sampling=Sampling(until_h=0.3))
        self.assertEqual(len(early.wet), 1)
        on = harden(
            {"": model("waterborne")},
            [],
            after=early,
            under=Conditions(air=air),
            sampling=Sampling(until_h=400, sample_h=[400]),
        )
        whole = harden(
            {"": model("waterborne")},
            [one()],
            under=Conditions(air=air),
            sampling=Sampling(until_h=400, sample_h=[400]),
        )
        self.assertAlmostEqual(float(on.column("dry_um")[0]), 30)
        self.assertAlmostEqual(windows(on).level_h, windows(whole).level_h, delta=0.02 * windows(whole).level_h)

    def test_paper_on_a_coat_full_of_water_takes_that_coat_first(self):
        models, air = {"": model("waterborne")}, [Air(at_h=0, temp_C=20, rh=0.5)]
        coats = [Coat(at_h=0.0, dry_um=20), Coat(at_h=50.0, dry_um=20)]
        for um in (3.0, 22.0):
            cut = [Sanding(at_h=50.05, um=um)]
            found = harden(
                models,
                coats,
                sandings=cut,
                under=Conditions(air=air),
                sampling=Sampling(sample_h=[50.1, 400.0], until_h=400),
            )
            self.assertAlmostEqual(float(found.column("dry_um")[0]), 20.0 if um < 20 else 40.0 - um)
            self.assertAlmostEqual(float(found.column("dry_um")[1]), 40.0 - um)
        soon = harden(
            models,
            coats[:1],
            sandings=[Sanding(at_h=0.01, um=3)],
            under=Conditions(air=air),
            sampling=Sampling(until_h=1.0),
        )
        on = harden(models, [], after=soon, under=Conditions(air=air), sampling=Sampling(sample_h=[400.0], until_h=400))
        self.assertAlmostEqual(float(on.column("dry_um")[0]), 17.0)
        with self.assertRaises(InputError):
            harden(
                models,
                coats[:1],
                sandings=[Sanding(at_h=0.01, um=21)],
                under=Conditions(air=air),
                sampling=Sampling(until_h=1.0),
            )

    def test_a_coat_just_laid_on_a_wet_one_has_no_softening_point_yet(self):
        models = {"": model("waterborne"), "shellac-pad": model("shellac-pad")}
        coats = [Coat(at_h=0.0, dry_um=20), Coat(at_h=0.1, dry_um=3, finish="shellac-pad")]
        found = harden(
            models,
            coats,
            under=Conditions(air=[Air(at_h=0, temp_C=20, rh=0.5)]),
            sampling=Sampling(sample_h=[0.1, 300.0], until_h=300),
        )
        self.assertTrue(math.isnan(found.least_Tg_over_top_C(0, 5.0)))
        self.assertGreater(found.least_Tg_over_top_C(1, 5.0), 0)

    def test_coats_laid_on_wet_ones_go_on_from_any_moment(self):
        air = [Air(at_h=0, temp_C=20, rh=0.5)]
        coats = [Coat(at_h=0.4 * i, dry_um=20) for i in range(4)]
        models = {"": model("waterborne")}
        whole = windows(harden(models, coats, under=Conditions(air=air), sampling=Sampling(until_h=2000)))
        for moment in (1.3, 2.0, 2.4, 3.7, 4.1, 5.5, 5.7, 7.4, 7.6):
            with self.subTest(moment=moment):
                early = harden(models, coats, under=Conditions(air=air), sampling=Sampling(until_h=moment))
                late = windows(
                    harden(models, [], after=early, under=Conditions(air=air), sampling=Sampling(until_h=2000))
                )
                self.assertAlmostEqual(late.level_h, whole.level_h, delta=0.02 * whole.level_h)

    def test_windows_come_in_order_and_later_in_the_cold(self):
        for name in ("two-part-clear", "oil-varnish", "waterborne", "acrylic-lacquer"):
            usual, cold = (
                windows(
                    harden(
                        {"": model(name)},
                        [one(um=24)],
                        under=Conditions(air=[Air(at_h=0, temp_C=t)]),
                        sampling=Sampling(until_h=24 * 300),
                    )
                )
                for t in (20, 15)
            )
            hours = [usual.scuff_h, usual.level_h, usual.buff_h, usual.case_h]
            self.assertEqual(hours, sorted(hours), name)
            self.assertGreater(cold.level_h, usual.level_h, name)

    def test_oil_and_wax_are_never_offered_a_level_or_a_buff(self):
        found = windows(harden({"": model("oil-wax")}, [one(um=1)], sampling=Sampling(until_h=500)))
        self.assertEqual((found.scuff_h, found.level_h, found.buff_h), (None, None, None))
        self.assertEqual(found.case_h, 24)

    def test_the_last_moment_without_a_scuff(self):
        clear = windows(harden({"": model("two-part-clear")}, [one()], sampling=Sampling(until_h=500)))
        self.assertTrue(clear.next_coat_h < clear.recoat_until_h < 24)
        self.assertIsNone(
            windows(harden({"": model("lacquer-sprayed")}, [one()], sampling=Sampling(until_h=500))).recoat_until_h
        )
        water = windows(
            harden({"": model("waterborne")}, [one()], under=Conditions(air=WARM), sampling=Sampling(until_h=500))
        )
        self.assertAlmostEqual(water.recoat_until_h - 24, 2.1 * 30 / 125, delta=0.01)

    def test_a_varnish_covered_too_soon_is_told_and_slows_what_lies_on_it(self):
        varnish = model("oil-varnish")
        hasty = solve(varnish, [one(0, 24), one(8, 24)], sampling=Sampling(sample_h=[60]))
        patient = solve(varnish, [one(0, 24), one(48, 24)], sampling=Sampling(sample_h=[100]))
        self.assertEqual([b.coat for b in hasty.buried], [0])
        self.assertEqual(patient.buried, ())
        self.assertLess(float(hasty.samples[0, 8]), float(patient.samples[0, 8]))

    def test_later_coats_of_an_oil_dry_slower(self):
        oil = model("polymerising-oil")
        first = windows(solve(oil, [one(0, 2)], sampling=Sampling(until_h=500))).next_coat_h
        sixth = (
            windows(solve(oil, [one(24.0 * i, 4) for i in range(6)], sampling=Sampling(until_h=900))).next_coat_h - 120
        )
        self.assertGreater(sixth, first)

    def test_sanding_takes_from_the_top_and_no_more_than_there_is(self):
        clear = model("two-part-clear")
        found = solve(
            clear, [one(0, 30), one(2, 30)], sandings=[Sanding(at_h=50, um=40)], sampling=Sampling(sample_h=[60])
        )
        self.assertAlmostEqual(float(found.samples[0, 1]), 20)
        self.assertRaises(InputError, solve, clear, [one()], sandings=[Sanding(at_h=5, um=40)])

    def test_going_on_is_the_same_as_whole(self):
        clear = model("two-part-clear")
        first = solve(clear, [one(0), one(2)], under=Conditions(air=WARM), sampling=Sampling(until_h=10))
        on = solve(
            clear, [one(12)], after=first, under=Conditions(air=WARM), sampling=Sampling(sample_h=[30], until_h=100)
        )
        whole = solve(
            clear, [one(0), one(2), one(12)], under=Conditions(air=WARM), sampling=Sampling(sample_h=[30], until_h=100)
        )
        np.testing.assert_allclose(on.samples, whole.samples)
        self.assertAlmostEqual(windows(on).level_h, windows(whole).level_h)

    def test_adding_no_coat_changes_nothing_and_a_finer_grid_little(self):
        clear = model("two-part-clear")
        plain = windows(solve(clear, [one()], sampling=Sampling(until_h=800)))
        dense = windows(solve(clear, [one()], sampling=Sampling(sample_h=np.linspace(1, 790, 400), until_h=800)))
        for name in ("level", "buff"):
            self.assertAlmostEqual(plain.at(name), dense.at(name), delta=0.01 * plain.at(name))


class Stacks(unittest.TestCase):
    def setUp(self):
        self.models = {"": model("lacquer-sprayed"), "seal": model("epoxy-seal"), "shellac": model("shellac-pad")}

    def test_a_seal_under_lacquer(self):
        coats = [one(0, 15, "seal"), one(48, 12), one(50, 12)]
        found = harden(
            self.models,
            coats,
            sandings=[Sanding(at_h=24, um=3)],
            sampling=Sampling(sample_h=[47, 60, 400], until_h=2000),
        )
        self.assertIsInstance(found, StackHistory)
        np.testing.assert_allclose(found.column("dry_um"), [12, 36, 36], atol=1e-6)
        self.assertGreater(found.column("Tg_min_C")[2], found.column("Tg_min_C")[1])
        alone = harden(
            {"": self.models[""]}, [one(48, 12), one(50, 12)], sampling=Sampling(sample_h=[400], until_h=2000)
        )
        self.assertAlmostEqual(windows(found).level_h, windows(alone).level_h, delta=0.1 * windows(alone).level_h)
        self.assertEqual(found.softness_C(24).shape, (3, 24))

    def test_solvent_under_another_finish_leaves_slower(self):
        under = [one(0, 12, "shellac"), one(6, 24, "seal")]
        covered = harden(self.models, under, sampling=Sampling(sample_h=[100], until_h=200))
        bare = harden(self.models, under[:1], sampling=Sampling(sample_h=[100], until_h=200))
        self.assertGreater(covered.parts[0].column("phi_mean")[0], bare.column("phi_mean")[0])

    def test_sanding_through_the_top_goes_into_what_is_under_it(self):
        coats = [one(0, 15, "seal"), one(48, 10)]
        found = harden(
            self.models, coats, sandings=[Sanding(at_h=300, um=14)], sampling=Sampling(sample_h=[310], until_h=400)
        )
        self.assertAlmostEqual(float(found.column("dry_um")[0]), 11, places=6)
        self.assertGreater(found.least_Tg_over_top_C(0, 500), -100)

    def test_a_stack_goes_on_as_one(self):
        coats = [one(0, 15, "seal"), one(48, 12)]
        first = harden(self.models, coats, sampling=Sampling(until_h=60))
        on = harden(self.models, [one(72, 12)], after=first, sampling=Sampling(sample_h=[100], until_h=300))
        whole = harden(self.models, [*coats, one(72, 12)], sampling=Sampling(sample_h=[100], until_h=300))
        np.testing.assert_allclose(on.samples, whole.samples)

    def test_an_unknown_finish_is_refused(self):
        self.assertRaises(InputError, harden, self.models, [one(finish="paint")])


class Constants(unittest.TestCase):
    def test_every_material_reads_and_hardens(self):
        for material in CATALOGUE.materials.values():
            light = [Exposure(at_h=1, dose_mJ_cm2=5000)] if material.cure.model == "light" else []
            found = harden(
                {"": material.cure},
                [one(um=material.coat_dry_um)],
                under=Conditions(exposures=light),
                sampling=Sampling(until_h=24 * 200),
            )
            self.assertIsNotNone(windows(found).case_h, material.id)

    def test_what_is_not_a_model_is_refused(self):
        for raw, path in (
            ({"model": "magic"}, "model"), ({"model": "crosslink"}, ""), ("lacquer", ""),
            ({"model": "crosslink", "k20_per_h": -1}, "k20_per_h"),
            ({"model": "light", "depth_um": 1, "smell": 2}, "smell"),
            ({"model": "never", "wipe_min": 0, "handle_h": 1, "reoil_h": 1}, "wipe_min"),
        ):  # fmt: skip
            with self.subTest(raw=raw), self.assertRaises(InputError) as caught:
                read_cure(raw)
            self.assertEqual(caught.exception.path, path)
        self.assertRaises(InputError, NeverHard, wipe_min=1, handle_h=-1, reoil_h=1)
        self.assertIsInstance(solve(model("oil-wax"), [one()], sampling=Sampling(until_h=5)), LayerHistory)
