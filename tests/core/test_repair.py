"""Repairs worked out: no contradiction in any plan with one in it, and coats and cuts that come from the ledger."""

import itertools
import unittest
from dataclasses import replace

import numpy as np
from msgspec import structs

from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.film.filter import Priors
from ravden.core.film.layers import witness_odds
from ravden.core.method.mending import put_in
from ravden.core.method.slots import as_now, named, place_of, slot, starts
from ravden.core.method.steps import Stage, progress
from ravden.core.record import MISHAPS, Coat, Mishap, Sanding, StepDone
from ravden.core.repair import sizing
from ravden.core.repair.case import case_of, check, doubt
from ravden.core.repair.table import GROUPS, STAGES
from ravden.core.rubout.patch import SHAVED_FROM_UM, patch
from ravden.core.state.damage import spot_film
from ravden.core.state.history import known
from tests.core.mended import DEFECT, METHODS, SIZES_MM, breaches, outlook_at, with_defect, worked_out

KINDS = shipped().repairs.kinds
EVERY = tuple(itertools.product(METHODS, STAGES, KINDS, SIZES_MM))
ONE_IN = 41  # of the table is gone through here; benchmarks/repairs.py goes through all of it
DRAWS = 200_000


def case(found, what, **fields):
    turned, mishap = with_defect(found, what, **fields)
    return case_of(turned, mishap, KINDS[what])


class TheTable(unittest.TestCase):
    def test_no_plan_contradicts_itself(self):
        for method, stage, what, size in EVERY[::ONE_IN]:
            with self.subTest(method=method, stage=stage, defect=what, size=size):
                found, mishap = with_defect(outlook_at(method, stage), what, size_mm=size)
                lies, made = worked_out(found, mishap)
                self.assertTrue(made.ways)
                self.assertLessEqual(len(made.ways), 5)
                for way in made.ways:
                    self.assertEqual(breaches(lies, way), [], way.name)
                    self.assertIsNone(way.forward.stuck, way.name)

    def test_every_defect_has_a_repair_on_every_finish_at_every_stage(self):
        recipes = shipped().repairs.recipes
        self.assertEqual(set(KINDS), set(MISHAPS))
        without = [
            (kind, group, stage)
            for kind in KINDS for group in GROUPS for stage in STAGES
            if not any(
                r.defect == kind and (r.groups == "*" or group in r.groups) and stage in r.stages and not r.only
                for r in recipes
            )
        ]  # fmt: skip
        self.assertEqual(without, [])

    def test_several_ways_are_judged_by_their_own_figures(self):
        found, mishap = with_defect(outlook_at("lacquer-flow-coat", "h"), "sand-through", size_mm=6.0)
        ways = worked_out(found, mishap)[1].ways
        self.assertEqual(len(ways), 2)
        soonest = [w for w in ways if "soonest" in w.best]
        self.assertEqual(soonest, [min(ways, key=lambda w: w.ready_h[1])])
        self.assertTrue(all(w.ready_h[1] >= w.ready_h[0] - 1e-6 for w in ways))  # a spot may be ready with the rest

    def test_a_film_dulled_by_particles_is_never_polished(self):
        found, mishap = with_defect(outlook_at("satin-over-gloss", "f"), "swirl", size_mm=300.0)
        lies, made = worked_out(found, mishap)
        self.assertFalse(lies.gloss)
        self.assertFalse(any(s.op in ("polish", "rub") for w in made.ways for s in w.steps))
        gloss = worked_out(*with_defect(outlook_at("lacquer-flow-coat", "f"), "swirl", size_mm=300.0))[1]
        self.assertIn("polish", [s.op for w in gloss.ways for s in w.steps])

    def test_a_flatted_top_is_never_left_with_a_sanded_patch(self):
        for what in ("run", "nib", "sand-through", "satin-haze", "ding"):
            _, made = worked_out(*with_defect(outlook_at("satin-over-gloss", "f"), what, size_mm=6.0))
            for way in made.ways:
                sands = [i for i, s in enumerate(way.steps) if s.op in ("touch", "cut", "cut-back", "flat")]
                if not sands:
                    continue
                self.assertEqual((way.steps[-1].op, way.steps[-1].finish), ("overall", "lacquer-satin"), way.name)
                self.assertEqual(sum(s.finish == "lacquer-satin" for s in way.steps), 1)
                self.assertGreater(len(way.steps) - 1, sands[-1])
        _, gloss = worked_out(*with_defect(outlook_at("lacquer-flow-coat", "f"), "run", size_mm=6.0))
        self.assertTrue(any("overall" not in [s.op for s in w.steps] for w in gloss.ways))


class TheSpot(unittest.TestCase):
    def test_a_sand_through_at_the_edge_is_what_brute_force_makes_of_it(self):
        found = outlook_at("lacquer-flow-coat", "b")
        zone = found.project.zone("edges")
        turned, mishap = with_defect(found, "sand-through", zone="edges", size_mm=4.0)
        local = [
            Coat(at_h=found.now_h + n, dry_um=12, zones=("edges",), mends=DEFECT, spot=True) for n in range(5)
        ]  # fmt: skip
        project = structs.replace(turned.project, acts=(*turned.project.acts, *local))
        there = spot_film(project, mishap, found.now_h + 9)
        self.assertIsNone(there.lost_um)
        pr, rng = Priors(), np.random.default_rng(7)
        g = np.exp(pr.g_ln_mean + pr.g_ln_sd * rng.standard_normal(DRAWS))
        k = zone.k_mean * (1 + zone.k_cv * rng.standard_normal(DRAWS))
        noise = np.hypot(pr.coat_common, pr.coat_zone)
        film = sum(12 * g * k * (1 + noise * rng.standard_normal(DRAWS)) for _ in local)
        mine = there.ledger.film(there.zone.name)
        self.assertAlmostEqual(mine.mean_um, float(film.mean()), delta=0.06 * film.mean())
        self.assertAlmostEqual(mine.sd_um, float(film.std()), delta=0.12 * film.std())
        for um in (20.0, 35.0, 50.0):
            odds = there.ledger.odds_below(there.zone.name, um)
            self.assertAlmostEqual(odds, float((film < um).mean()), delta=0.06)

    def test_local_coats_are_none_of_the_zone_and_nothing_of_the_zone_is_lost(self):
        found = outlook_at("lacquer-flow-coat", "h")
        before = found.ledger.mean_um("top")
        at = found.now_h
        acts = (
            *found.project.acts, Coat(at_h=at, dry_um=12, zones=("top",), mends=DEFECT, spot=True),
            Sanding(at_h=at + 1, um=9, zones=("top",), mends=DEFECT, spot=True),
        )  # fmt: skip
        after = known(structs.replace(found.project, acts=acts), at + 2).ledger
        self.assertEqual(after.mean_um("top"), before)
        self.assertEqual(after.mean_um("card"), found.ledger.mean_um("card"))

    def test_a_run_waits_for_its_own_thick_film(self):
        waits = []
        for height in (5.0, 60.0):
            turned, mishap = with_defect(outlook_at("lacquer-flow-coat", "h"), "run", height_um=height)
            way = worked_out(turned, mishap)[1].ways[0]
            step = next(s for s in way.forward.steps if way.method.stage[s.index].op == "wait-level")
            waits.append(step.film_h)
        self.assertGreater(waits[1] - waits[0], 48.0)

    def test_stripped_a_zone_starts_from_nothing(self):
        found = outlook_at("waterborne-sprayed", "h")
        at = found.now_h
        acts = (
            *found.project.acts, Sanding(at_h=at, um=150, zones=("top",), mends=DEFECT, bared=True),
            Coat(at_h=at + 1, dry_um=20, zones=("top",), mends=DEFECT),
        )  # fmt: skip
        after = known(structs.replace(found.project, acts=acts), at + 2).ledger
        self.assertAlmostEqual(after.mean_um("top"), 20.0, delta=3.0)
        self.assertAlmostEqual(after.mean_um("back"), found.ledger.mean_um("back"), delta=1e-9)


class HowMuch(unittest.TestCase):
    def test_local_coats_hold_the_least_film_in_nine_of_ten_and_one_fewer_does_not(self):
        lies = case(outlook_at("lacquer-flow-coat", "h"), "sand-through", size_mm=6.0)
        count, um = sizing.local_coats(lies), sizing.coat_um(lies)
        name, cut = lies.there.zone.name, sizing.cuts_to_come(lies)

        def odds(n):
            ledger = lies.there.ledger.coat(um, [name], count=n).worn({name: cut})
            return ledger.odds_below(name, sizing.floor_um(lies))

        self.assertLessEqual(odds(count), sizing.THIN_ODDS)
        self.assertGreater(odds(count - 1), sizing.THIN_ODDS)

    def test_witness_lines_want_a_layer_the_next_levelling_stays_in(self):
        lies = case(outlook_at("waterborne-sprayed", "h"), "witness")
        count, cut = sizing.witness_coats(lies), sizing.cuts_to_come(lies)
        layer = sizing.coat_um(lies) * lies.zone.k_mean
        self.assertLessEqual(witness_odds(count * layer, cut, sizing.NEW_CV), sizing.WITNESS_ODDS + 1e-9)
        self.assertTrue(count == 1 or witness_odds((count - 1) * layer, cut, sizing.NEW_CV) > sizing.WITNESS_ODDS)

    def test_a_cloud_of_two_coats_is_cut_back_two_coats(self):
        found = outlook_at("waterborne-sprayed", "h")
        own = list(found.project.coats)
        lies = case(found, "milky")
        self.assertAlmostEqual(sizing.cut_back(lies).um, own[-1].dry_um, delta=0.25 * own[-1].dry_um)
        deeper = case(found, "milky", depth_um=45.0)
        self.assertEqual(sizing.cut_back(deeper).um, 45.0)
        self.assertGreater(sizing.cut_back(deeper).odds_over, sizing.cut_back(lies).odds_over)

    def test_a_patch_has_a_ladder_of_its_own(self):
        rub = outlook_at("lacquer-flow-coat", "h").rub_out
        high, low = patch(rub, "top", SHAVED_FROM_UM + 20), patch(rub, "top", 5.0)
        self.assertEqual((high.shaved, low.shaved), (True, False))
        self.assertIsNotNone(low.ladder)
        self.assertNotEqual(
            [s.rung.abrasive.id for s in low.ladder.steps], [s.rung.abrasive.id for s in rub.ladder.steps]
        )


class WhatCannotBe(unittest.TestCase):
    def refused(self, found, word, what="run", **fields):
        turned, mishap = with_defect(found, what, **fields)
        with self.assertRaises(InputError) as caught:
            check(turned, mishap)
        self.assertIn(word, str(caught.exception))
        return caught.exception.path

    def test_is_told_by_field(self):
        found = outlook_at("lacquer-flow-coat", "h")
        self.assertEqual(self.refused(found, "still to come", ago_h=-5.0), "at_h")
        self.assertEqual(self.refused(found, "deeper", what="print", depth_um=900.0), "depth_um")
        bare = replace(found, project=structs.replace(found.project, masked=("neck",)))
        self.assertEqual(self.refused(bare, "masked", zone="neck"), "zone")
        before = structs.replace(found.project, acts=())
        wood = replace(found, project=before, known=replace(found.known, folded=known(before, found.now_h)))
        self.assertEqual(self.refused(wood, "bare wood"), "zone")
        acts = (*found.project.acts, Sanding(at_h=found.now_h - 0.5, um=90, zones=("top",), bared=True))
        stripped = structs.replace(found.project, acts=acts)
        gone = replace(
            found, project=stripped, known=replace(found.known, folded=known(stripped, found.now_h))
        )  # fmt: skip
        self.assertEqual(self.refused(gone, "stripped", zone="top"), "zone")

    def test_what_speaks_against_it_is_told_and_not_refused(self):
        found = outlook_at("lacquer-flow-coat", "h")
        self.assertEqual(doubt(case(found, "satin-haze")).code, "no-satin")
        self.assertEqual(doubt(case(found, "witness")).code, "melts-into-one")
        self.assertIsNone(doubt(case(outlook_at("satin-over-gloss", "f"), "satin-haze")))
        other = Mishap(at_h=found.now_h - 1, what="sand-through", zone="top", place=(100.0, 10.0), id=98)
        both = replace(found, project=structs.replace(found.project, acts=(*found.project.acts, other)))
        self.assertEqual(doubt(case(both, "run", place=(104.0, 12.0), zone="top")).code, "contradicts")
        self.assertIsNone(doubt(case(both, "run", place=(300.0, 12.0), zone="top")))


COATS = Stage(kind="coats", label="Build", count=6, per_session=3, between_h=1.0, hours=0.3)
PLAN = named((
    COATS, Stage(kind="wait", label="Cure", window="level"), Stage(kind="level", label="Level"),
    Stage(kind="wait", label="Cure to buff", window="buff"), Stage(kind="rub-out", label="Rub out"),
))  # fmt: skip
LOCAL = Stage(
    kind="coats", label="Local", count=3, per_session=3, between_h=1.0, mends=7, patch="top", spot=True, op="local",
    id="mend-7-0-local",
)  # fmt: skip
OVERALL = Stage(kind="coats", label="Over", count=1, per_session=1, between_h=1.0, mends=7, op="overall", id="m7")
WORK = Stage(kind="mend", label="Clean", hours=0.2, mends=7, patch="top", spot=True, op="clean", id="mend-7-1-clean")


class InThePlan(unittest.TestCase):
    def method(self, stages):
        return structs.replace(shipped().method("lacquer-fine-start"), stage=tuple(stages))

    def at(self, stages, acts):
        return progress(self.method(stages), acts, 1e6, ("top",))

    def test_coats_under_way_are_cut_in_two_and_go_on_after_it(self):
        laid = [Coat(at_h=n, dry_um=12) for n in range(2)]
        done = self.at(PLAN, laid)
        plan = put_in(PLAN, done, (WORK, LOCAL))
        self.assertEqual(
            [(s.label, s.count) for s in plan[:4]], [("Build", 2), ("Clean", 0), ("Local", 3), ("Build", 4)]
        )
        self.assertEqual(self.at(plan, laid).index, 1)
        # Whatever is held to a coat stays on it: the sixth is the fourth of the second half.
        self.assertEqual([place_of(plan, f"Build#{n}") for n in (1, 2, 3, 6)], [0, 0, 3, 3])
        self.assertEqual(slot(starts(plan)[3], 4), "Build#6")
        self.assertEqual(place_of(plan, as_now(PLAN, "4.1")), 7)

    def test_acts_on_the_patch_work_it_off_and_none_of_the_plan(self):
        laid = [Coat(at_h=n, dry_um=12) for n in range(6)]
        plan = put_in(PLAN, self.at(PLAN, laid), (WORK, LOCAL))
        acts = [*laid, StepDone(at_h=10, step=WORK.id)]
        self.assertEqual(self.at(plan, acts).index, 2)
        acts += [Coat(at_h=11 + n, dry_um=12, zones=("top",), mends=7, spot=True) for n in range(2)]
        half = self.at(plan, acts)
        self.assertEqual((half.index, half.coats_in_stage, half.coats_done), (2, 2, 6))
        acts.append(Coat(at_h=14, dry_um=12, zones=("top",), mends=7, spot=True))
        self.assertEqual(plan[self.at(plan, acts).index].label, "Cure")

    def test_what_happened_wins(self):
        laid = [Coat(at_h=n, dry_um=12) for n in range(6)]
        plan = put_in(PLAN, self.at(PLAN, laid), (WORK, LOCAL))
        level = [*laid, Sanding(at_h=90, um=9, purpose="level")]
        self.assertEqual(plan[self.at(plan, level).index].label, "Cure to buff")

    def test_coats_all_over_have_it_cured_and_sanded_again(self):
        acts = [Coat(at_h=n, dry_um=12) for n in range(6)] + [Sanding(at_h=90, um=9, purpose="level")]
        plan = put_in(PLAN, self.at(PLAN, acts), (OVERALL,))
        labels = [s.label for s in plan]
        self.assertEqual(labels[3:6], ["Over", "Cure, again", "Level, again"])
        self.assertEqual(labels[6:], ["Cure to buff", "Rub out"])
        over = [*acts, Coat(at_h=100, dry_um=12)]
        self.assertEqual(plan[self.at(plan, over).index].label, "Cure, again")

    def test_two_repairs_share_their_coats_all_over(self):
        acts = [Coat(at_h=n, dry_um=12) for n in range(6)]
        done = self.at(PLAN, acts)
        more = structs.replace(OVERALL, mends=8, count=2, id="m8")
        plan = put_in(put_in(PLAN, done, (OVERALL,)), done, (more,))
        self.assertEqual([(s.label, s.count) for s in plan if s.op == "overall"], [("Over", 2)])

    def test_later_is_before_the_next_levelling(self):
        cut = Stage(kind="level", label="Shave", um=40, hours=0.3, mends=7, patch="top", spot=True, op="cut", id="c")
        plan = put_in(PLAN, self.at(PLAN, ()), (cut,), later=True)
        self.assertEqual([s.label for s in plan[1:4]], ["Cure", "Shave", "Level"])
