"""The ladders a finisher would believe: the trade's ranges, the reference results, and who is kept off."""

import itertools
import json
import math
import unittest
from dataclasses import replace

import numpy as np

from ravden.app import compute
from ravden.catalogue.tables import DEFAULT_DRAWER
from ravden.core.abrasive import sandthrough
from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.job import KEY
from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.reasons import kept_off, to_measure
from ravden.core.abrasive.remarks import judge
from ravden.core.abrasive.scratch import rate_um_s, rubbing_minutes
from ravden.core.abrasive.verdict import gauged
from ravden.core.errors import InputError
from ravden.core.rubout.rub_out import Drawer
from ravden.text.say import fault, say
from tests import practice
from tests.core.rubbing import CATALOGUE, find, job, zone

COARSE_FINE = ["coarse", "fine"]


def body(film=120.0, sd=6.0, end_grain=None):
    def part(name, kind, share_of_film, area, **kw):
        return {"name": name, "kind": kind, "film_um": film * share_of_film, "sd_um": sd, "area_cm2": area} | kw

    return [
        part("faces", "flat", 1, 1675), part("sides", "flat", 0.85, 543, share=0.8),
        part("contours", "contour", 0.9, 228),
        part("end grain", "flat", 0.65 if end_grain is None else end_grain, 96, share=0.3, floor=0.5),
        part("edges", "edge", 0.65, 58),
    ]  # fmt: skip


def asked(texture, **kw):
    film = {k: kw.pop(k) for k in ("film", "sd", "end_grain") if k in kw}
    given = {"texture_um": texture, "zones": body(**film), "min_film_um": 50, "hardness_MPa": 100, "target": "mirror",
             "polisher": "wheel"}  # fmt: skip
    return compute.run("rubout", json.dumps(given | kw).encode())


def grades(found):
    return [s["grade"].split(":")[1].split(" ")[0] for s in found["sequence"]]


def held(name, backing="firm", mode="wet", hardness=120.0):
    drawer = Drawer(abrasives=(), backings=CATALOGUE.backings, block=backing, polisher="wheel")
    return drawer.rung(find(CATALOGUE.abrasives, name), mode, hardness)


class Practice(unittest.TestCase):
    def test_every_case_is_inside_the_trade_s_range(self):
        cases = practice.of_kind("rubout")
        self.assertEqual(len(cases), 19)
        for case in cases:
            with self.subTest(case=case["id"], why=case["why"]):
                self.assertEqual(practice.outside(case, practice.rubout(case["input"])), [])

    def test_a_sander_left_on_one_spot(self):
        spot, expect = (practice.CASES["spot-through"][k] for k in ("input", "expect"))
        given = spot["spot"]
        rung = held(given["grade"], given["backing"], given["mode"], given["hardness_MPa"])
        took = given["film_um"] / rate_um_s(rung) / 60.0
        self.assertTrue(expect[0]["low"] <= took <= expect[0]["high"], took)


class Reference(unittest.TestCase):
    def test_a_body_by_hand_and_under_the_machine(self):
        table = (
            (3, "wet", ["P1500", *COARSE_FINE], 118, 5.3), (5, "wet", ["P800", "P1500", *COARSE_FINE], 160, 9.9),
            (8, "wet", ["P800", "P1500", *COARSE_FINE], 207, 12.7),
            (12, "wet", ["P400", "P800", "P1500", *COARSE_FINE], 213, 20.8),
            (18, "wet", ["P400", "P800", "P1500", *COARSE_FINE], 258, 26.4),
            (3, "machine", ["P2000", *COARSE_FINE], 44, None),
            (5, "machine", ["P1200", "P2000", *COARSE_FINE], 57, None),
            (8, "machine", ["P1000", "P2000", *COARSE_FINE], 67, None),
            (12, "machine", ["P600", "P1200", "P2000", *COARSE_FINE], 76, None),
            (18, "machine", ["P400", "P800", "P1500", *COARSE_FINE], 80, None),
        )  # fmt: skip
        for texture, mode, ladder, time, film in table:
            with self.subTest(texture=texture, mode=mode):
                found = asked(texture, mode=mode)
                self.assertEqual((found["verdict"], grades(found)), ("ok", ladder))
                self.assertEqual(round(found["minutes"]), time)
                if film is not None:
                    self.assertAlmostEqual(found["total_um"], film, delta=0.05)
        self.assertEqual(asked(18, mode="machine")["kept_off"]["contours"], "FEPA-P:P800")

    def test_a_film_that_is_short_says_how_much_more(self):
        for sd, more in ((6, 25), (25, 50)):
            found = asked(35, sd=sd)
            self.assertEqual((found["verdict"], found["short"][0]), ("refused", "sides"))
            self.assertEqual(grades(found), ["P280", "P500", "P1000", "P1500", *COARSE_FINE])
            self.assertAlmostEqual(found["total_um"], 48.1, delta=0.05)
            self.assertIn(f"Lay about {more} µm more first", found["reason"])

    def test_a_film_never_measured_gets_the_same_ladder_and_where_to_measure(self):
        for texture, where in ((3, ["sides"]), (5, ["sides"]), (8, ["sides"]), (12, ["sides", "contours", "faces"])):
            found, known = asked(texture, sd=25), asked(texture)
            self.assertEqual((found["verdict"], grades(found)), ("measure", grades(known)))
            self.assertEqual(found["measure"][:3], where)
            self.assertRegex(found["reason"], "^Measure first, on sides")
        self.assertEqual(grades(asked(18, sd=25)), ["P500", "P800", "P1200", *COARSE_FINE])

    def test_a_level_that_coats_follow_ends_on_a_key(self):
        for texture, ladder, time, film in (
            (14, ["P400", "P600"], 136, 16.7), (18, ["P320", "P600"], 138, 23.3), (28, ["P320", "P600"], 185, 32.5),
        ):  # fmt: skip
            found = asked(texture, target="key", min_film_um=12.5)
            self.assertEqual((found["verdict"], grades(found), round(found["minutes"])), ("ok", ladder, time))
            self.assertAlmostEqual(found["total_um"], film, delta=0.05)
        buried = asked(10, target="key", min_film_um=5, film=40, sd=4)
        self.assertEqual((grades(buried), round(buried["minutes"])), (["P320"], 50))

    def test_a_dull_sheen_takes_no_longer_than_a_bright_one(self):
        took = {}
        for sheen, ladder, time in (
            ("matte", ["P1000"], 113), ("satin", ["P600", "synthetic"], 109),
            ("semi-gloss", ["P800", "P1500", "coarse"], 193), ("gloss", ["P800", "P1500", "coarse", "medium"], 201),
            ("mirror", ["P800", "P1500", *COARSE_FINE], 207),
        ):  # fmt: skip
            found = asked(8, target=sheen)
            took[sheen] = found["minutes"]
            self.assertEqual((grades(found), round(found["minutes"])), (ladder, time), sheen)
        rng = np.random.default_rng(4)
        for _ in range(20):
            given = {"texture": float(rng.uniform(2, 25)), "hardness_MPa": float(rng.uniform(50, 200))}
            texture = given.pop("texture")
            dull, bright = (asked(texture, target=t, film=300, **given) for t in ("satin", "mirror"))
            if dull["sequence"] and bright["sequence"]:
                self.assertLessEqual(dull["minutes"], bright["minutes"] + 1e-6, (texture, given))
                later = [step["minutes"] for step in bright["sequence"][1:] if step["grade"].startswith("FEPA-P")]
                self.assertTrue(all(t <= 0.85 * bright["sequence"][0]["minutes"] for t in later), (texture, given))

    def test_minutes_for_a_micrometre(self):
        """First and later papers by hand; everything else is at one pace."""
        table = (
            ("firm", "wet", {"P220": (1.19, 0.63), "P400": (3.43, 1.82), "P600": (5.59, 2.97), "P800": (7.32, 3.89),
                             "P1000": (9.18, 4.88), "P1200": (10.98, 5.84), "P1500": (13.34, 7.09),
                             "P2000": (16.32, 8.67)}),
            ("firm", "machine", {"P400": (0.48,), "P800": (1.02,), "P1000": (1.27,), "P1500": (1.85,),
                                 "P2000": (2.26,)}),
            ("firm", "wet", {"FOAM-CLASS:1000": (1.93,), "FOAM-CLASS:2000": (3.47,), "FOAM-CLASS:3000": (5.34,),
                             "FOAM-CLASS:5000": (8.68,)}),
        )  # fmt: skip
        for backing, mode, rows in table:
            for name, per_um in rows.items():
                rung = held(name if ":" in name else f"FEPA-P:{name}", backing, mode)
                for first, wanted in zip((True, False), (*per_um, *per_um), strict=False):
                    rub = rubbing_minutes(rung, 1.0, 1000.0, first=first)
                    self.assertAlmostEqual(rub, wanted, delta=0.006 + 0.002 * wanted, msg=(name, backing, first))
        for hardness, wanted in ((60, 5.18), (90, 6.34), (120, 7.32), (200, 9.45)):
            rub = rubbing_minutes(held("FEPA-P:P800", hardness=hardness), 1.0, 1000.0, first=True)
            self.assertAlmostEqual(rub, wanted, delta=0.01)

    def test_powders_on_felt(self):
        for name, rz, per_um, most in (
            ("pumice FF", 1.82, 4.0, 2.5), ("pumice FFF", 1.31, 5.3, 2.5), ("pumice FFFF", 0.82, 8.0, 2.5),
            ("rottenstone", 0.26, 40.0, 1.6),
        ):  # fmt: skip
            rung = held(f"LOOSE-POWDER:{name}", hardness=90)
            self.assertEqual(rung.backing.id, "felt")
            self.assertAlmostEqual(rung.rz_um, rz, delta=0.005, msg=name)
            self.assertAlmostEqual(rubbing_minutes(rung, 1.0, 1000.0, first=False), per_um, delta=0.1, msg=name)
            self.assertAlmostEqual(rung.d_max_um, most, delta=0.01, msg=name)

    def test_what_a_paper_takes(self):
        for name, um in (("P2500", 3.1), ("P2000", 4.1), ("P1500", 5.5), ("P1200", 7.3), ("P1000", 9.5), ("P800", 12.2),
                         ("P600", 15.6), ("P500", 19.6), ("P400", 24.3), ("P320", 36.3), ("P240", 51.1)):  # fmt: skip
            self.assertAlmostEqual(held(f"FEPA-P:{name}").d_max_um, um, delta=0.06)

    def test_finest_wool_leaves_satin(self):
        wool = held("STEEL-WOOL:#0000 (fibre 25 um)", mode="dry", hardness=90)
        self.assertAlmostEqual(wool.rz_um, 1.37, delta=0.005)


class Odds(unittest.TestCase):
    def test_reference_results(self):
        for kind, film, sd, kw, most in (
            ("flat", 120, 10, {}, 46.92), ("contour", 108, 12, {}, 43.53), ("edge", 72, 14, {}, 25.96),
            ("flat", 120, 40, {}, 4.65), ("flat", 78, 6, {"share": 0.3, "floor": 0.5}, 35.88),
        ):  # fmt: skip
            found = sandthrough.most_removal_um(replace(zone(kind, film, sd), **kw), 0.15, 40)
            self.assertAlmostEqual(found, most, delta=0.006)
        for kind, film, sd, odds in (("flat", 90, 10, 0.0656), ("flat", 90, 30, 0.2982), ("contour", 90, 15, 0.0408),
                                     ("edge", 60, 12, 0.2488), ("flat", 90, 0, 0.0001)):  # fmt: skip
            self.assertAlmostEqual(sandthrough.zone_odds(zone(kind, film, sd), 25, 0.15, 40), odds, delta=6e-5)

    def test_against_drawn_films(self):
        draw = np.random.default_rng(4)
        n = 200_000
        for sd, spot in itertools.product((0.4, 4.0, 20.0), (0.4, 4.0, 20.0)):
            for patches in (5, 10):
                over = -1.2 * math.hypot(sd, spot)
                mean = draw.normal(0, sd, n)
                least = mean + spot * draw.normal(0, 1, (n, patches)).min(axis=1)
                seen = float(np.mean(least < over))
                told = sandthrough.odds_through(100, sd, spot, 60 + over, 40, patches)
                error = 3 * math.sqrt(max(told * (1 - told), 1e-6) / n)
                self.assertAlmostEqual(told, seen, delta=0.001 + error)


class WhoIsKeptOff(unittest.TestCase):
    def drawer(self):
        return [held(name) for name in DEFAULT_DRAWER]

    def test_thin_end_grain_joins_late_or_never_and_the_ladder_stands(self):
        for share, joins in ((0.36, True), (0.22, False)):
            found = asked(18, end_grain=share)
            self.assertEqual(found["verdict"], "ok")
            grade = found["kept_off"]["end grain"]
            self.assertEqual(grade is not None, joins)
            before = [s for s in found["sequence"] if s["grade"] != grade]
            self.assertAlmostEqual(before[0]["film_left_um"]["end grain"], 120 * share)

    def test_in_words(self):
        thin = zone("flat", 30, 4, 60, "End grain")
        zones = (zone(film=150, sd=5, name="Top"), replace(thin, share=0.3, floor=0.5))
        ladder = plan(job(18, zones=zones), self.drawer())
        said = say(kept_off(ladder, "End grain"))
        self.assertRegex(said, r"^End grain: too thin for the whole ladder; (leave it alone|go over it lightly, from)")
        self.assertEqual(say(kept_off(ladder, "Top")), "")

    def test_edges_join_at_the_first_soft_grade_and_not_before(self):
        zones = (zone(film=150, sd=5, name="top"), zone("edge", 140, 5, 50, "edges"))
        ladder = evaluate(job(8, zones=zones), [held(f"FEPA-P:{p}") for p in ("P800", "P1500")] + [
            held(c) for c in ("COMPOUND:coarse (Ra 0.07)", "COMPOUND:fine (Ra 0.02)")])  # fmt: skip
        self.assertEqual(ladder.edges_from, "coarse compound")
        self.assertEqual(ladder.steps[1].film_left_um["edges"], 140)
        self.assertEqual(ladder.odds["edges"] >= 0, True)
        bare = (zones[0], zone("edge", 12, 3, 50, "edges"))
        self.assertTrue(evaluate(job(8, zones=bare), ladder.rungs).edges_kept_out)

    def test_what_settles_it_depends_on_what_there_is_to_measure_with(self):
        zones = (zone(film=100, sd=26, name="Top"), zone(film=100, sd=26, name="Back"))
        the_job = job(12, zones=zones)
        ladder = plan(the_job, self.drawer())
        self.assertEqual(ladder.verdict.word, "measure")
        self.assertIn("touches of a gauge", say(to_measure(the_job, ladder)))
        for tools, words in ((("comb", "scale"), "card weighed"), (("comb",), "comb in the next coat"),
                             ((), "colour of the dust")):  # fmt: skip
            said = say(to_measure(the_job, ladder, tools))
            self.assertIn(words, said)
            self.assertNotIn("gauge there", said)

    def test_measured_and_still_close_is_called_tight(self):
        found = next(
            (the_job, ladder)
            for film in range(60, 120)
            for the_job in [job(12, zones=(gauged(zone(film=film, sd=40, name="Sides")),))]
            for ladder in [plan(the_job, self.drawer())]
            if ladder.verdict.word == "measure"
        )
        self.assertEqual(found[1].verdict.close, ("Sides",))
        self.assertRegex(say(found[1].reason), r"^Tight on Sides: about \d+ µm should be left over a floor of 40 µm")

    def test_a_reading_as_expected_settles_what_was_to_be_measured(self):
        zones = (zone(film=110, sd=26, name="Top"),)
        before = plan(job(12, zones=zones), self.drawer())
        after = plan(job(12, zones=tuple(gauged(z) for z in zones)), self.drawer())
        self.assertEqual((before.verdict.word, after.verdict.word), ("measure", "ok"))
        self.assertEqual(before.rungs, after.rungs)

    def test_a_refusal_never_has_another_aim(self):
        found = plan(job(18, film=60), self.drawer())
        self.assertEqual(found.verdict.word, "refused")
        self.assertEqual(found.rungs, plan(job(18, film=400), self.drawer()).rungs)


class BadInput(unittest.TestCase):
    def drawer(self, *names):
        return [held(n) for n in names or DEFAULT_DRAWER]

    def test_all_zones_below_the_floor_and_a_floor_above_the_film(self):
        found = plan(job(8, zones=(zone(film=30, name="Top"), zone("edge", 10, 2, 50, "Edges"))), self.drawer())
        self.assertEqual(found.verdict.word, "refused")
        self.assertIn("no sound film would be left" if found.steps[-1].film_left_um["Top"] < 1 else "only about",
                      say(found.reason))  # fmt: skip

    def test_a_film_known_exactly(self):
        found = plan(job(8, zones=(zone(film=150, sd=0.0, name="Top"),)), self.drawer())
        self.assertEqual(found.verdict.word, "ok")

    def test_one_paper_or_compounds_alone_say_what_is_wanted(self):
        for drawer, words in (
            (["FEPA-P:P1000"], "ends at mirror"), (["COMPOUND:coarse (Ra 0.07)", "COMPOUND:fine (Ra 0.02)"], "level"),
        ):  # fmt: skip
            with self.assertRaises(InputError) as caught:
                plan(job(8), self.drawer(*drawer))
            self.assertIn(words, fault(caught.exception))
        with self.assertRaises(InputError) as caught:
            plan(job(8, target=KEY), self.drawer("FEPA-P:P2000"))
        self.assertIn("add a paper of 22 to 26 µm grain", fault(caught.exception))

    def test_a_zone_of_no_area_is_named(self):
        zones = body()
        zones[1]["area_cm2"] = 0
        with self.assertRaises(InputError) as caught:
            compute.run("rubout", json.dumps({"texture_um": 8, "zones": zones}).encode())
        self.assertIn("zones[1].area_cm2", caught.exception.path)

    def test_a_target_the_surface_is_past_already(self):
        after = held("COMPOUND:fine (Ra 0.02)")
        with self.assertRaises(InputError) as caught:
            without = [r for r in self.drawer() if r.abrasive.kind != "wool"]  # which takes a mirror back to satin
            plan(job(3, target="satin", after=after), without)
        self.assertIn("satin", fault(caught.exception))

    def test_a_practised_finisher_s_own_ladders_pass(self):
        papers = [held(n, "orbital-foam", "machine", 90) for n in (
            "FEPA-P:P1000", "FEPA-P:P1200", "FEPA-P:P1500", "FEPA-P:P2000", "FOAM-CLASS:3000", "FOAM-CLASS:5000",
            "COMPOUND:medium (Ra 0.04)", "COMPOUND:fine (Ra 0.02)")]  # fmt: skip
        zones = (zone(film=150, sd=6, name="top"),)
        self.assertEqual([r.code for r in judge(job(3, zones=zones, mode="machine"), papers) if r.grave], [])
        thumb = judge(
            job(3, zones=(zone(film=18, sd=2, name="top"),), target=KEY, key_um=(15.3, 18.3), min_film=2.5),
            [held("FEPA-P:P1000", "foam", "dry", 90)],
        )
        self.assertEqual([r.code for r in thumb if r.grave], [])
