"""Tinted coats: where the colour ends, paper that stops above it, and what is refused."""

import unittest

from msgspec.structs import replace

from ravden.catalogue.method_files import check_stages
from ravden.core.abrasive.verdict import REFUSED
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.outlook import outlook
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage
from ravden.core.record import Coat, Mishap, Reading, Sanding
from ravden.core.state.colour import colour_of
from ravden.core.state.history import known
from tests.core.mended import worked_out
from tests.core.test_plan import CATALOGUE, DRAWER, LACQUER, NINE, project


def burst(clear, seal=3, tints=2):
    """Seal, tinted coats, and so many clear ones over them."""
    acts = [Coat(at_h=1.5 * i, dry_um=12) for i in range(seal)]
    acts += [Coat(at_h=48 + 2.0 * i, dry_um=6, tinted="clear") for i in range(tints)]
    return acts + [Coat(at_h=96 + 1.5 * i, dry_um=12) for i in range(clear)]


def over(acts, zone="top", at_h=900.0):
    made = project(acts)
    return colour_of(made, known(made, at_h).ledger, made.zone(zone))


class WhereItEnds(unittest.TestCase):
    def test_the_film_over_it_is_that_of_the_clear_coats(self):
        self.assertIsNone(over(burst(5, tints=0)))
        none = over(burst(0))
        self.assertEqual(none.over_um, 0.0)
        five, ten = over(burst(5)), over(burst(10))
        self.assertAlmostEqual(five.over_um, 5 * 12 * 1.03, delta=4)
        self.assertAlmostEqual(ten.over_um, 2 * five.over_um, delta=2)
        self.assertAlmostEqual(ten.top_um, five.top_um, delta=0.5)
        self.assertEqual(five.keep_um, 8.0)

    def test_sanding_takes_the_clear_and_not_the_colour(self):
        whole = over(burst(5))
        cut = over([*burst(5), Sanding(at_h=500.0, um=10, purpose="level")])
        self.assertAlmostEqual(cut.over_um, whole.over_um - 10, delta=1.5)
        self.assertAlmostEqual(cut.top_um, whole.top_um, delta=1.5)


class Paper(unittest.TestCase):
    def ladder(self, clear, texture=8.0):
        method = replace(LACQUER, texture_um=texture)
        stages = [replace(s, count=5 + clear) if s.kind == "coats" else s for s in method.stage]
        found = outlook(project(burst(clear)), replace(method, stage=tuple(stages)), DRAWER, 1200.0, NINE)
        return found, found.rub_out

    def test_it_stops_above_the_colour(self):
        found, plenty = self.ladder(8)
        self.assertEqual(plenty.ladder.verdict.word, "ok")
        top = next(z for z in plenty.job.zones if z.name == "Top")
        self.assertLess(top.film_um, found.ledger.mean_um("top") - 30)
        self.assertAlmostEqual(top.floor * plenty.job.min_film_um, 8.0, delta=0.1)
        _, little = self.ladder(2, texture=14.0)
        self.assertNotEqual(little.ladder.verdict.word, "ok")
        plain = [replace(c, tinted="") for c in burst(2)]
        self.assertGreater(little.film.ledger.mean_um("top"), 60.0, "all of it would do, were there no colour in it")
        self.assertIsNone(colour_of(project(plain), little.film.ledger, project(plain).zone("top")))

    def test_a_film_that_is_all_colour_is_refused(self):
        _, rub = self.ladder(0)
        self.assertEqual(rub.ladder.verdict.word, REFUSED)

    def test_fit_leaves_tinted_coats_as_many_as_they_are(self):
        stages = []
        for s in LACQUER.stage:
            if s.kind == "coats":
                tint = replace(s, label="Shade the edges", count=2, um=6.0, tinted="clear")
                stages += [replace(s, label="Seal", count=2), tint, replace(s, count=3)]
            else:
                stages.append(s)
        method = replace(LACQUER, stage=tuple(stages))
        check_stages(method.stage, CATALOGUE)
        fit = fitted(outlook(project(), method, DRAWER, 0.0, NINE, whole=False))
        self.assertEqual([s.count for s in fit.stage if s.tinted], [2])
        self.assertGreater(fit.coats, 7)


class BadInput(unittest.TestCase):
    def stages(self, *kinds):
        made = {
            "clear": Stage(kind="coats", label="Clear", count=2, per_session=2, between_h=1.5),
            "tint": Stage(kind="coats", label="Shade", count=2, per_session=2, between_h=1.5, tinted="clear"),
            "level": Stage(kind="level", label="Level"),
        }
        return [made[k] for k in kinds]

    def test_what_cannot_be(self):
        check_stages(self.stages("clear", "level", "tint", "clear", "level"), CATALOGUE)
        for kinds, said in ((("tint", "clear"), "a stain"), (("clear", "tint", "level", "tint", "clear"), "no level")):
            with self.subTest(kinds), self.assertRaisesRegex(InputError, said):
                check_stages(self.stages(*kinds), CATALOGUE)
        with self.assertRaisesRegex(InputError, "only coats"):
            Stage(kind="level", label="Level", tinted="clear")
        with self.assertRaisesRegex(InputError, "clear or opaque"):
            Coat(at_h=0.0, dry_um=12, tinted="blue")


class Through(unittest.TestCase):
    """Sanded through to the colour: what is under its top is still there, and it is put right by tint and clear."""

    def film(self, *acts, clear=6):
        made = project([*burst(clear), *acts])
        ledger = known(made, 950.0).ledger
        return {f.name: f.mean_um for f in ledger.films()}, ledger, made

    def shown(self, what="sand-through", **fields):
        return Mishap(at_h=900.0, what=what, zone="top", id=77, **fields)

    def test_what_is_under_the_colour_is_still_there(self):
        cut = Sanding(at_h=890.0, um=66.0, purpose="level", id=70)
        sanded = self.film(cut)[0]["top"]
        colour = self.film(cut, self.shown(colour=True))[0]["top"]
        wood = self.film(cut, self.shown())[0]["top"]
        self.assertGreater(colour, wood + 10)
        self.assertLessEqual(colour, sanded)
        whole, _, made = self.film(cut, self.shown(colour=True, spread="zone"))
        self.assertGreater(whole["top"], 25)
        self.assertLess(self.film(cut, self.shown(spread="zone"))[0]["top"], 1.0)
        ends = over(made.acts, at_h=950.0)
        self.assertEqual(ends.over_um, 0.0)

    def test_told_as_a_reading_it_is_the_same(self):
        cut = Sanding(at_h=890.0, um=66.0, purpose="level", id=70)
        reading = Reading(at_h=900.0, what="through", zone="top", spot=True, colour=True, id=78)
        self.assertEqual(self.film(cut, reading)[0], self.film(cut, self.shown(colour=True))[0])
        self.assertEqual(self.film(cut, self.shown(colour=True), reading)[0], self.film(cut, reading)[0])

    def test_wood_seen_after_colour_is_more_than_that(self):
        cut = Sanding(at_h=890.0, um=66.0, purpose="level", id=70)
        wood = Reading(at_h=901.0, what="through", zone="top", spot=True, id=78)
        self.assertLess(self.film(cut, self.shown(colour=True), wood)[0]["top"], self.film(cut, wood)[0]["top"] + 2)

    def ways(self, **fields):
        cut = Sanding(at_h=890.0, um=8.0, purpose="level", id=70)
        made = project([*burst(8), cut, self.shown(**fields)])
        found = outlook(made, LACQUER, DRAWER, 950.0, NINE)
        return worked_out(found, self.shown(**fields))[1].ways

    def test_it_is_put_right_by_tint_and_then_clear(self):
        for fields in ({"colour": True}, {}):
            ways = self.ways(**fields)
            self.assertTrue(ways)
            for way in ways:
                coats = [(s.op, s.tinted, s.um) for s in way.steps if s.kind == "coats"]
                self.assertEqual(coats[0], ("tint", "clear", 6.0))
                self.assertIn(coats[1][:2], (("local", ""), ("drop", "")))
                self.assertNotIn("colour", [s.op for s in way.steps])
        clear = {way.name: sum(s.count for s in way.steps if s.op == "local") for way in self.ways(colour=True)}
        bare = {way.name: sum(s.count for s in way.steps if s.op == "local") for way in self.ways()}
        self.assertLess(max(clear.values()), max(bare.values()))  # the seal and the tint are still there

    def test_only_a_sand_through_shows_colour(self):
        with self.assertRaisesRegex(InputError, "colour"):
            Mishap(at_h=0.0, what="run", zone="top", colour=True)
        with self.assertRaisesRegex(InputError, "colour"):
            Reading(at_h=0.0, what="gauge", zone="top", um=80, colour=True)
