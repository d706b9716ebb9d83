"""Turns in the booth, told by acts and the clock: passes, coats, cares, light, zones beside, the clock set back."""

import unittest

from msgspec.structs import replace

from ravden.catalogue.tables import shipped
from ravden.core.method.steps import progress
from ravden.core.record import Care, Coat, Exposure, LightOn, Pass, Sanding, StepDone
from ravden.core.session.booth import turn
from ravden.core.session.off_plan import off_plan_turn
from tests.core.test_methods import METHODS, bare

FINE = METHODS["lacquer-fine-start"]


class Turns(unittest.TestCase):
    def at(self, now_h, *acts, opens=None, method=FINE):
        made = bare(method)
        booth = shipped().booth
        return turn(replace(made, acts=(*made.acts, *acts)), method, booth.habit, now_h, opens, booth.places)

    def test_pass_flash_pass_coat_flash_coat(self):
        first = self.at(10.0)
        self.assertEqual((first.kind, first.coat, first.nth_pass, first.due_h), ("coat", 1, 1, None))
        self.assertFalse(first.ends_coat)
        second = self.at(10.01, Pass(at_h=10.0))
        self.assertEqual((second.kind, second.nth_pass, second.ends_coat), ("pass", 2, True))
        self.assertAlmostEqual((second.due_h - 10.0) * 3600, 60.0, 6)
        third = self.at(10.1, Pass(at_h=10.0), Coat(at_h=10.05, dry_um=12))
        self.assertEqual((third.kind, third.coat, third.nth_pass, third.in_session), ("coat", 2, 1, 1))
        self.assertAlmostEqual(third.due_h, 10.05 + 1.5)

    def test_work_before_the_coat_is_told(self):
        self.assertEqual(self.at(10.0).before, "Sand the bare wood")
        self.assertEqual(self.at(10.0, StepDone(at_h=9.0, step=FINE.stage[3].label)).before, "")

    def test_a_session_has_an_end(self):
        coats = [Coat(at_h=10.0 + 1.5 * i, dry_um=12) for i in range(3)]
        stop = self.at(13.5, *coats, opens=33.0)
        self.assertEqual((stop.kind, stop.in_session, stop.due_h), ("stop", 3, 33.0))
        self.assertEqual(self.at(34.0, *coats, opens=33.0).kind, "coat")

    def test_a_coat_begun_and_left_is_begun_anew(self):
        self.assertEqual(self.at(10.5, Pass(at_h=10.0)).nth_pass, 2)
        self.assertEqual(self.at(34.0, Pass(at_h=10.0)).nth_pass, 1)

    def test_a_pad_lays_a_coat_in_three_ways(self):
        pad = METHODS["shellac-pad-rounds"]
        found = [self.at(1.0, *(Pass(at_h=0.9 + 0.01 * i) for i in range(n)), method=pad) for n in range(3)]
        self.assertEqual([f.what for f in found], ["in circles", "in figures of eight", "in straight strokes"])
        self.assertEqual([f.ends_coat for f in found], [False, False, True])

    def test_when_no_coat_is_next(self):
        coats = [Coat(at_h=10.0 + i, dry_um=12) for i in range(10)]
        self.assertEqual(self.at(40.0, *coats).kind, "other")
        self.assertEqual(self.at(40.0, *coats).label, "Cure to level")

    def test_acts_ahead_of_a_clock_set_back_still_count(self):
        acts = (Pass(at_h=10.0), Coat(at_h=10.05, dry_um=12), Pass(at_h=10.2))
        there, back = self.at(10.21, *acts), self.at(9.2, *acts)
        self.assertEqual((back.kind, back.coat, back.nth_pass), (there.kind, there.coat, there.nth_pass))
        self.assertEqual((there.clock_back, back.clock_back, back.due_h), (False, True, None))

    def test_wiped_oil_is_wiped_off_and_over_again(self):
        oil = METHODS["oil-wiped"]
        on = self.at(1.0, Pass(at_h=0.99), method=oil)
        self.assertEqual((on.kind, on.what, on.ends_coat), ("pass", "off", True))
        self.assertAlmostEqual((on.due_h - 0.99) * 60, 5.0)
        coat = Coat(at_h=1.0, dry_um=2.5)
        resting = self.at(1.1, coat, method=oil)
        self.assertEqual((resting.kind, resting.what, resting.nth_pass, resting.passes), ("care", "wipe", 1, 4))
        self.assertAlmostEqual(resting.due_h, 1.5)
        again = self.at(1.6, coat, Care(at_h=1.55, what="wipe"), method=oil)
        self.assertAlmostEqual(again.due_h, 2.0)
        late = self.at(2.6, coat, Care(at_h=2.55, what="wipe"), method=oil)  # two were missed: one makes up for them
        self.assertAlmostEqual(late.due_h, 3.0)
        self.assertEqual(self.at(3.2, coat, Care(at_h=3.1, what="wipe"), method=oil).kind, "coat")
        self.assertEqual(self.at(4.5, coat, method=oil).kind, "coat")  # an hour past its last time, nobody asks

    def test_slow_resin_is_turned_until_it_is_lit(self):
        light = METHODS["light-cured-polyester"]
        coats = [Coat(at_h=float(i), dry_um=100) for i in range(3)]
        first = self.at(2.01, *coats, method=light)
        self.assertEqual((first.kind, first.what, round((first.due_h - 2) * 60)), ("care", "turn", 3))
        turned = [Care(at_h=2 + m / 60, what="turn") for m in range(3, 59, 5)]
        self.assertEqual(self.at(2.99, *coats, *turned, method=light).kind, "light")
        given = Exposure(at_h=2.5, dose_mJ_cm2=100, zones=("top",))
        self.assertNotEqual(self.at(2.6, *coats, given, method=light).kind, "care")

    def test_light_goes_round_the_faces_twice(self):
        light = METHODS["light-cured-polyester"]
        acts = [Coat(at_h=float(i), dry_um=100) for i in range(3)]
        acts += [Care(at_h=2 + m / 60, what="turn") for m in range(3, 59, 5)]
        seen, now = [], 3.1
        for _ in range(20):
            found = self.at(now, *acts, method=light)
            if found.kind not in ("light", "lit"):
                break
            if found.kind == "light":
                seen.append((found.label, round(found.seconds)))
                acts.append(LightOn(at_h=max(now, found.due_h), zones=found.zones, mW_cm2=found.mW_cm2))
                now = acts[-1].at_h + 0.001
            else:
                self.assertAlmostEqual((found.due_h - found.since_h) * 3600, found.seconds, 6)
                now = found.due_h
                acts.append(Exposure(at_h=now, dose_mJ_cm2=found.mW_cm2 * found.seconds, zones=found.zones))
                now += 0.001
        self.assertEqual(len(seen), 6)
        self.assertEqual([label.split(":")[1] for label, _ in seen], [" set the skin"] * 3 + [" cure"] * 3)
        self.assertEqual({s for _, s in seen[:3]}, {5})
        # The working curve, by hand: 20 mJ/cm2 e^(300/150) ln 10 / ln 2 with three tenths to spare, at 20 mW/cm2.
        self.assertEqual(seen[3][1], round(20 * 2.718281828**2 * 3.321928 * 1.3 / 20))

    def test_sunlight_on_everything_is_enough(self):
        light = METHODS["light-cured-polyester"]
        acts = [Coat(at_h=float(i), dry_um=100) for i in range(3)] + [Exposure(at_h=3.0, dose_mJ_cm2=6000)]
        self.assertEqual(self.at(3.1, *acts, method=light).kind, "other")

    def test_a_neck_in_oil_is_offered_once_the_body_rests(self):
        violin = METHODS["violin-varnish"]
        from ravden.core.method.compose import with_zones

        booth = shipped().booth
        made = bare(violin, kind="viola")
        oil = METHODS["oil-neck"]
        both = with_zones(violin, {"neck": oil.material}, {oil.material: oil}, {"neck": "Neck"})
        made = replace(
            made, finishes={"neck": shipped().material(oil.material)},
            acts=(*made.acts, Coat(at_h=5.0, dry_um=15, bare=("neck",))),
        )  # fmt: skip
        found = turn(made, both, booth.habit, 5.1, None, booth.places)
        self.assertEqual((found.kind, found.zones, found.finish), ("coat", ("neck",), oil.material))
        on = replace(made, acts=(*made.acts, Coat(at_h=5.2, dry_um=2.5, zones=("neck",), finish=oil.material)))
        after = turn(on, both, booth.habit, 5.3, None, booth.places)
        self.assertEqual((after.kind, after.what, after.zones), ("care", "wipe", ("neck",)))


class OffPlan(unittest.TestCase):
    """Coats that a session lays though the plan has none, or on some zones alone."""

    def at(self, now_h, *acts, begun_h=0.0, zones=(), method=FINE):
        made = bare(method)
        return off_plan_turn(
            replace(made, acts=(*made.acts, *acts)), method, shipped().booth.habit, now_h, begun_h, zones
        )

    def test_an_extra_coat_while_the_film_waits(self):
        coats = [Coat(at_h=10.0 + i, dry_um=12) for i in range(10)]
        self.assertEqual(Turns().at(100.0, *coats).kind, "other")
        first = self.at(100.0, *coats, begun_h=100.0)
        self.assertEqual((first.kind, first.coat, first.nth_pass, first.passes), ("coat", 1, 1, 2))
        self.assertEqual((first.off_plan, first.due_h, first.in_session), (True, None, 0))
        second = self.at(100.1, *coats, Pass(at_h=100.05), begun_h=100.0)
        self.assertEqual((second.kind, second.nth_pass), ("pass", 2))
        self.assertAlmostEqual((second.due_h - 100.05) * 3600, 60.0, 6)
        then = self.at(100.2, *coats, Coat(at_h=100.1, dry_um=12), begun_h=100.0)
        self.assertEqual((then.kind, then.coat, then.in_session), ("coat", 2, 1))
        self.assertAlmostEqual(then.due_h, 100.1 + 1.5)

    def test_it_has_the_methods_end_of_a_session(self):
        coats = [Coat(at_h=10.0 + 1.5 * i, dry_um=12) for i in range(3)]
        stop = self.at(13.5, *coats, begun_h=9.0)
        self.assertEqual((stop.kind, stop.in_session, stop.per_session), ("stop", 3, 3))
        self.assertEqual(self.at(13.5, *coats[:2], begun_h=9.0).kind, "coat")
        self.assertEqual(self.at(40.0, *coats, begun_h=39.0).in_session, 0)
        at_once = Coat(at_h=13.0, dry_um=12, count=3, earlier_h=(3.0, 1.5))
        told = self.at(13.5, at_once, begun_h=9.0)
        self.assertEqual((told.kind, told.in_session, told.coat), (stop.kind, stop.in_session, stop.coat))
        for apart, counted in ((7.5, 3), (8.5, 1)):
            late = Coat(at_h=11.5 + apart, dry_um=12)
            self.assertEqual(self.at(12.0 + apart, *coats[:2], late, begun_h=9.0).in_session, counted)

    def test_only_coats_on_these_zones_count(self):
        acts = (Coat(at_h=10.0, dry_um=12, zones=("top",)), Coat(at_h=10.5, dry_um=12))
        self.assertEqual(self.at(11.0, *acts, zones=("top",)).coat, 3)
        back = self.at(11.0, *acts, zones=("back",))
        self.assertEqual((back.coat, back.zones), (2, ("back",)))
        self.assertEqual(self.at(11.0, *acts).coat, 2)

    def test_a_clock_set_back_counts_nothing_down(self):
        back = self.at(9.0, Coat(at_h=10.0, dry_um=12))
        self.assertEqual((back.clock_back, back.due_h, back.coat), (True, None, 2))

    def test_oil_is_wiped_over_before_the_next_extra_coat(self):
        oil = METHODS["oil-wiped"]
        self.assertEqual(self.at(1.1, Coat(at_h=1.0, dry_um=2.5), method=oil).kind, "care")

    def test_a_coat_on_some_zones_is_no_coat_of_the_plan(self):
        some = Coat(at_h=10.0, dry_um=12, zones=("top",))
        self.assertEqual(Turns().at(11.0, some).coat, 1)
        self.assertAlmostEqual(Turns().at(11.0, some).due_h, 11.5)  # but it is wet
        coats = [Coat(at_h=20.0 + i, dry_um=12) for i in range(10)]
        self.assertEqual(progress(FINE, coats, 900.0).coats_done, 10)
        waiting = progress(FINE, [*coats, Sanding(at_h=800.0, um=10, purpose="level")], 900.0)
        again = progress(FINE, [*coats, Sanding(at_h=800.0, um=10, purpose="level"), replace(some, at_h=850.0)], 900.0)
        self.assertLess(again.index, waiting.index)  # what was levelled and touched up waits again
        self.assertEqual(again.coats_done, 10)

    def test_the_front_one_day_and_the_back_the_next_are_a_coat(self):
        front = Coat(at_h=10.0, dry_um=12, zones=("top", "sides", "edges"))
        back = Coat(at_h=34.0, dry_um=12, zones=("back", "neck", "head"))
        self.assertEqual((Turns().at(11.0, front).coat, Turns().at(60.0, front, back).coat), (1, 2))
        again = replace(front, at_h=61.0)
        self.assertEqual(Turns().at(80.0, front, back, again).coat, 2)  # counted anew from there
        whole = Coat(at_h=30.0, dry_um=12)
        self.assertEqual(Turns().at(60.0, front, whole, back).coat, 2)  # a whole coat between ends the round
        masked = replace(bare(FINE), masked=("neck", "head"))
        self.assertEqual(masked.body, ("top", "back", "sides"))
        done = progress(FINE, (front, replace(back, zones=("back",))), 60.0, masked.body)
        self.assertEqual(done.coats_done, 1)

    def test_passes_of_a_coat_on_some_zones_are_none_of_the_next(self):
        acts = (Coat(at_h=10.0, dry_um=12), Pass(at_h=10.5), Coat(at_h=10.6, dry_um=12, zones=("top",)))
        found = Turns().at(11.0, *acts)
        self.assertEqual((found.kind, found.coat, found.nth_pass), ("coat", 2, 1))
        self.assertAlmostEqual(found.due_h, 12.1)


class Tables(unittest.TestCase):
    """What the Booth goes by fits the materials and methods that are shipped."""

    def test_every_finish_and_way_has_its_passes(self):
        found = shipped()
        wanted = {(m, found.applied[m]) for m in found.materials}
        for method in METHODS.values():
            for stage in method.stage:
                if stage.kind == "coats":
                    finish = stage.finish or method.material
                    wanted.add((finish, stage.by or found.applied[finish]))
        for material, way in wanted:
            with self.subTest(material=material, way=way):
                self.assertGreaterEqual(len(found.booth.habit(material, way).passes), 1)

    def test_every_family_is_cleaned_up_after(self):
        found = shipped()
        families = {m.family for m in found.materials.values()}
        self.assertEqual((families | {"paper"}) ^ set(found.booth.cleanups), set())

    def test_every_zone_has_a_place_that_knows_its_neighbours(self):
        found = shipped()
        self.assertEqual(set(found.booth.places), {h.name for h in found.zone_habits})
        for place in found.booth.places.values():
            for other in place.touches.split():
                self.assertIn(place.zone, found.booth.places[other].touches.split(), (place.zone, other))

    def test_every_way_of_sanding_has_a_pattern_and_a_caution(self):
        booth = shipped().booth
        for mode in ("wet", "dry", "machine"):
            self.assertIn(mode, booth.bench_cautions)
            for kind in ("flat", "contour", "edge"):
                self.assertIn((kind, mode), booth.patterns)

    def test_checks_are_those_of_the_way_of_laying(self):
        booth = shipped().booth
        spray, pad = dict(booth.checks({"spray"})), dict(booth.checks({"pad"}))
        self.assertIn("strained", spray)
        self.assertNotIn("rags", spray)
        self.assertIn("rags", pad)
        self.assertLessEqual(len(booth.checks({"spray", "pad", "wipe", "brush"})), 7)

    def test_every_finish_says_last_whom_to_follow(self):
        for material in shipped().materials.values():
            self.assertIn("data sheet", material.cautions[-1], material.id)
            self.assertGreater(len(material.cautions), 1)

    def test_every_family_has_its_air(self):
        found = shipped()
        self.assertEqual({m.family for m in found.materials.values()}, set(found.booth.limits))
        lacquer = found.booth.limits["dissolving lacquer"]
        self.assertEqual(lacquer.outside(20, 0.5), ())
        self.assertEqual(lacquer.outside(lacquer.low_C, lacquer.high_rh), ())
        self.assertEqual([w.split(":")[0] for w in lacquer.outside(10, 0.9)], ["too cold", "too damp"])
        self.assertEqual([w.split(":")[0] for w in lacquer.outside(31, 0.2)], ["too hot"])

    def test_a_pot_life_halves_as_it_warms(self):
        pot = shipped().booth.habit("epoxy-seal").pot
        self.assertAlmostEqual(pot.at(20), 30)
        self.assertAlmostEqual(pot.at(30), 15)
        self.assertIsNone(shipped().booth.habit("lacquer-sprayed").pot)
