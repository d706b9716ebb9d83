"""What stands behind the Booth's bench mode and its page after a session, on a film known by hand."""

import unittest

from msgspec.structs import replace

from ravden.catalogue.assemble import drawer_of
from ravden.catalogue.tables import shipped
from ravden.core.abrasive.scratch import per_pass_um, rubbing_minutes
from ravden.core.ahead.one_more import one_more
from ravden.core.ahead.outlook import outlook
from ravden.core.calendar.hours import WorkHours
from ravden.core.errors import InputError
from ravden.core.film.wetcoat import Conditions
from ravden.core.materials.mixing import thinned_solids
from ravden.core.method.habit import CareHabit
from ravden.core.record import Coat, Mishap, Reading, Sanding
from ravden.core.session.aftermath import aftermath
from ravden.core.session.batch import Layer, mix
from ravden.core.session.bench import bench, worked_zones
from ravden.core.session.wet_edge import open_s, wet_edge_order
from ravden.text.say import fault, say
from tests.core.test_methods import METHODS, bare

FINE = METHODS["lacquer-fine-start"]
WEEKS_H = 24 * 50.0


def seen(method, acts, now_h):
    made = bare(method)
    project = replace(made, acts=(*made.acts, *acts))
    return outlook(project, method, drawer_of(shipped(), None), now_h, WorkHours(hour_at_zero=8.0))


def cured(*more):
    """Ten coats, well known by gauge, seven weeks later."""
    coats = [Coat(at_h=10.0 + 24 * (i // 3) + 1.5 * (i % 3), dry_um=14, id=i + 1) for i in range(10)]
    made = bare(FINE)
    gauges = [Reading(at_h=WEEKS_H - 2, zone=z.name, um=118, n=3) for z in made.zones]
    return seen(FINE, [*coats, *gauges, *more], WEEKS_H + 1)


class SomeZones(unittest.TestCase):
    """A session on some zones alone, or in another order."""

    def test_the_order_is_the_sessions(self):
        found = cured()
        names = [z.name for z in worked_zones(found)]
        turn = bench(found, zones=names[::-1])
        self.assertEqual([z.name for z in turn.every], names[::-1])
        self.assertEqual((turn.zone.name, turn.done), (names[-1], ()))
        self.assertEqual(turn.rung, bench(found).rung)

    def test_one_zone_goes_up_the_ladder_by_itself_and_ends_no_stage(self):
        acts = []
        for i in range(30):
            try:
                turn = bench(cured(*acts), zones=("back",))
            except InputError as error:
                self.assertRegex(fault(error), "is reached with|all the sanding")
                break
            self.assertEqual((turn.zone.name, turn.part), ("back", True))
            acts.append(
                Sanding(
                    at_h=WEEKS_H + 0.01 * i, um=turn.entry_um, grade=turn.rung.abrasive.name, purpose=turn.purpose,
                    zones=("back",), part=True, mode="wet", id=100 + i,
                )
            )  # fmt: skip
        self.assertGreaterEqual(len(acts), 3)
        whole = cured(*acts)
        # The back is done; the top begins where it would have begun.
        first = bench(cured(), zones=("top",)).rung.abrasive
        self.assertEqual(bench(whole, zones=("top",)).rung.abrasive, first)
        with self.assertRaises(InputError):
            bench(whole, zones=("back",))

    def test_the_last_zone_ends_the_stage_however_they_were_split(self):
        acts, ends = [], []
        for name in [z.name for z in worked_zones(cured())]:
            for _ in range(30):
                try:
                    turn = bench(cured(*acts), zones=(name,))
                except InputError:
                    break
                acts.append(
                    Sanding(
                        at_h=WEEKS_H + 0.01 * len(acts), um=turn.entry_um, grade=turn.rung.abrasive.name,
                        purpose=turn.purpose, zones=(name,), part=True, mode="wet", id=100 + len(acts),
                    )
                )  # fmt: skip
                if not turn.part:
                    ends.append((name, turn.rung.abrasive.kind))
            else:
                self.fail("the ladder has no end")
        self.assertEqual({name for name, _ in ends}, {worked_zones(cured())[-1].name})
        self.assertEqual(ends[-1], (worked_zones(cured())[-1].name, "polish"))

    def test_edges_are_kept_off_unless_they_are_named(self):
        found = cured()
        self.assertEqual(bench(found, zones=("back", "top")).kept_off, ("Edges",))
        self.assertEqual(bench(found, zones=("back", "edges")).kept_off, ())
        with self.assertRaises(InputError):
            bench(found, zones=("horn",))


class ThinZones(unittest.TestCase):
    """End grain too thin for the whole ladder waits for its rung; a film never measured is measured first."""

    def thin(self, *more, um=32):
        coats = [Coat(at_h=10.0 + 24 * (i // 3) + 1.5 * (i % 3), dry_um=14, id=i + 1) for i in range(10)]
        made = bare(FINE)
        gauges = [Reading(at_h=WEEKS_H - 2, zone=z.name, um=um if z.name == "head" else 118, n=9) for z in made.zones]
        return seen(FINE, [*coats, *gauges, *more], WEEKS_H + 1)

    def climb(self, found_of):
        """Every turn up to the end, each logged as it was asked for."""
        acts, turns = [], []
        for _ in range(200):
            try:
                turn = bench(found_of(*acts))
            except InputError:
                return turns
            turns.append(turn)
            acts.append(
                Sanding(
                    at_h=WEEKS_H + 0.001 * len(acts), um=turn.entry_um, grade=turn.rung.abrasive.name,
                    purpose=turn.purpose, zones=(turn.zone.name,), part=turn.part, mode="wet", id=100 + len(acts),
                )
            )  # fmt: skip
        self.fail("the ladder has no end")

    def test_a_zone_that_is_left_alone_gets_no_turn_and_the_stage_ends_without_it(self):
        turns = self.climb(lambda *acts: self.thin(*acts, um=24))
        self.assertNotIn("head", {t.zone.name for t in turns})
        self.assertTrue(all("Head face" in t.kept_off for t in turns))
        self.assertFalse(turns[-1].part)

    def test_a_zone_that_joins_late_gets_only_what_it_bears(self):
        for um in range(50, 80, 6):
            turns = self.climb(lambda *acts, um=um: self.thin(*acts, um=um))
            at = [t.nth_rung for t in turns if t.zone.name == "head"]
            if at and min(at) > 1:
                break
        else:
            self.fail("no film joins late")
        late = [t for t in turns if t.zone.name == "head"]
        self.assertTrue(all(t.most >= t.strokes for t in late), [(t.most, t.strokes) for t in late])
        self.assertIn("Head face", turns[0].kept_off)
        self.assertNotIn("Head face", late[-1].kept_off)

    def test_what_was_never_measured_is_measured_first_and_a_reading_settles_it(self):
        coats = [Coat(at_h=10.0 + 24 * (i // 3) + 1.5 * (i % 3), dry_um=11, id=i + 1) for i in range(10)]
        unknown = bench(seen(FINE, coats, WEEKS_H + 1))
        self.assertRegex(say(unknown.measure), "^Measure first, on ")
        self.assertIsNone(unknown.warning)
        gauges = [Reading(at_h=WEEKS_H, zone=z.name, um=108 * z.k_mean, n=5) for z in bare(FINE).zones]
        known = bench(seen(FINE, [*coats, *gauges], WEEKS_H + 1))
        self.assertIsNone(known.measure)
        self.assertEqual(known.rung.abrasive, unknown.rung.abrasive)


class Paper(unittest.TestCase):
    def test_it_begins_with_the_ladders_first_rung_on_the_first_zone(self):
        found = cured()
        turn = bench(found)
        step = found.rub_out.ladder.steps[0]
        self.assertEqual((turn.rung, turn.um, turn.zone), (step.rung, step.remove_um, worked_zones(found)[0]))
        self.assertEqual((turn.nth, turn.nth_rung, turn.rungs), (1, 1, len(found.rub_out.ladder.steps)))
        self.assertEqual(turn.strokes, round(step.remove_um / per_pass_um(step.rung)))
        self.assertAlmostEqual(turn.minutes, rubbing_minutes(step.rung, step.remove_um, turn.zone.area_cm2, first=True))
        self.assertTrue(turn.part)
        self.assertIn("Edges", turn.kept_off)

    def test_every_zone_gets_every_rung_and_only_the_last_ends_the_stage(self):
        acts, seen_turns = [], []
        for i in range(200):
            try:
                turn = bench(cured(*acts))
            except InputError as error:
                self.assertRegex(fault(error), "is reached with|all the sanding")
                break
            seen_turns.append((turn.rung.abrasive.name, turn.zone.name, turn.purpose, turn.part))
            acts.append(
                Sanding(
                    at_h=WEEKS_H + 0.001 * i, um=turn.entry_um, grade=turn.rung.abrasive.name, purpose=turn.purpose,
                    zones=(turn.zone.name,), part=turn.part, mode="wet", id=100 + i,
                )
            )  # fmt: skip
        zones = [z.name for z in worked_zones(cured())]
        grades = list(dict.fromkeys(g for g, *_ in seen_turns))
        self.assertEqual([(g, z) for g, z, *_ in seen_turns], [(g, z) for g in grades for z in zones])
        papers = [g for g, _, purpose, _ in seen_turns if purpose == "level"]
        whole = [(g, purpose) for g, _, purpose, part in seen_turns if not part]
        self.assertEqual(whole, [(papers[-1], "level"), (grades[-1], "rub-out")])

    def test_the_most_shrinks_as_the_film_does(self):
        first = bench(cured())
        thin = cured(Sanding(at_h=WEEKS_H, um=20, grade="P1200", purpose="scuff", zones=(first.zone.name,), id=90))
        self.assertLess(bench(thin).most, first.most)

    def test_nothing_is_sanded_without_film_or_before_it_is_hard(self):
        with self.assertRaisesRegex(InputError, "no film"):
            bench(seen(FINE, [], 5.0))
        with self.assertRaisesRegex(InputError, "too soft"):
            bench(seen(FINE, [Coat(at_h=10.0, dry_um=12)], 11.0))

    def test_a_scuff_takes_the_finest_paper_that_still_gives_a_key(self):
        habit = shipped().scuffs["reactive"]
        turn = bench(cured(), habit)
        self.assertEqual((turn.purpose, turn.um, turn.rungs), ("scuff", 2.0, 1))
        self.assertGreaterEqual(turn.rung.abrasive.d50_um, habit.fine_um / 1.3)
        rest = worked_zones(cured())[1:]
        done = [Sanding(at_h=WEEKS_H, um=2, grade="P600", purpose="scuff", zones=(z.name,), part=True) for z in rest]
        last = bench(cured(*done), habit)
        self.assertEqual((last.zone, last.part), (worked_zones(cured())[0], False))


class Session(unittest.TestCase):
    def test_one_more_coat_keeps_the_bottom_soft_for_longer(self):
        coats = [Coat(at_h=10.0 + 1.5 * i, dry_um=14) for i in range(3)]
        found = seen(FINE, coats, 13.5)
        cost = one_more(found, 14)
        self.assertGreater(cost.with_it_h, cost.as_is_h + 6)
        self.assertGreater(one_more(found, 28).with_it_h, cost.with_it_h)

    def test_what_a_session_did_against_the_plan(self):
        before = seen(FINE, [Coat(at_h=10.0, dry_um=14)], 30.0)
        acts = [Coat(at_h=10.0, dry_um=14), Coat(at_h=30.5, dry_um=14), Mishap(at_h=30.6, what="run", zone="top")]
        found = aftermath(before, seen(FINE, acts, 33.0), 30.0, 33.0, 12.0)
        planned = sum(c.at_h <= 42.0 for c in before.forward.coats)
        self.assertEqual((found.done, found.planned, found.mishaps), (1, planned, (("run", "top"),)))
        self.assertGreater(planned, 1)
        level = next(m for m in found.moved if m.name == "level")
        self.assertIsNotNone(level.before_h)
        self.assertIsNone(aftermath(None, seen(FINE, acts, 33.0), 30.0, 33.0, 12.0).moved[0].before_h)

    def test_the_mix_is_the_volume_balance(self):
        lacquer = shipped().material("lacquer-sprayed")
        found = mix(lacquer, "spray", 0.65, [Layer(coats=2, dry_um=12, area_cm2=3000)])
        solids = thinned_solids(0.17, 0.2)
        self.assertAlmostEqual(found.total_ml, 2 * 0.3 * 12 / (solids * 0.65 * 0.8) * 1.15)
        self.assertAlmostEqual(found.supplied_ml + found.thinner_ml, found.total_ml)
        self.assertAlmostEqual(found.thinner_ml / found.supplied_ml, 0.2)
        brushed = mix(lacquer, "brush", 0.65, [Layer(coats=2, dry_um=12, area_cm2=3000)])
        self.assertAlmostEqual(brushed.total_ml, found.total_ml * 0.8)

    def test_a_wet_edge_is_always_met_while_there_is_one(self):
        places = shipped().booth.places
        zones = tuple(places)
        order, alone = wet_edge_order(zones, places)
        self.assertEqual(sorted((*order, alone)), sorted(zones))
        self.assertEqual(alone, "top")
        for i, zone in enumerate(order[1:], 1):
            self.assertTrue(set(places[zone].touches.split()) & set(order[:i]), (zone, order))

    def test_one_zone_is_no_face_by_itself(self):
        places = shipped().booth.places
        self.assertEqual(wet_edge_order(("top",), places), (("top",), ""))
        self.assertEqual(wet_edge_order((), places), ((), ""))

    def test_care_comes_again_and_again_until_its_end(self):
        care = CareHabit(
            material="x", what="turn", label="Turn it", first_min=30, every_min=60, until_min=150, how="", basis=""
        )
        self.assertEqual(care.times_h, (0.5, 1.5, 2.5))

    def test_shellac_gives_seconds_and_oil_varnish_minutes(self):
        families = shipped().families
        at = Conditions(temp_C=20)
        shellac, varnish = (open_s(families[f].flow, at, 40) for f in ("shellac", "oil-varnish"))
        self.assertLess(shellac, 90)
        self.assertGreater(varnish, 240)
        self.assertLess(open_s(families["shellac"].flow, Conditions(temp_C=30), 40), shellac)
        self.assertIsNone(open_s(families["polyester"].flow, at, 400))
