"""What may be chosen, and why: constraints, ties, schools, remarks, wear, odds against brute force."""

import math
import random
import unittest
from dataclasses import replace

from ravden.core.abrasive import gloss, sandthrough
from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.explain import changes
from ravden.core.abrasive.grades import candidates, custom, find, twins
from ravden.core.abrasive.ladder import evaluate, score
from ravden.core.abrasive.remarks import ambiguous, judge
from ravden.core.abrasive.schools import schools
from ravden.core.abrasive.scratch import minutes, pieces_of_paper
from ravden.core.abrasive.sequence import affordable, equally_good, more_film_um
from ravden.core.errors import InputError
from ravden.text.say import fault, say, sentence
from tests.core.rubbing import (
    CATALOGUE,
    COMPOUNDS,
    OWNED,
    WOOL,
    every_sequence,
    job,
    names,
    random_case,
    rung,
    rungs,
    zone,
)


class Optimum(unittest.TestCase):
    def test_equal_to_every_sequence_tried_on_random_drawers(self):
        rng = random.Random(20)
        feasible = bound = 0
        for case in range(60):
            the_job, drawer = random_case(rng)
            best = min((cost for cost, _ in every_sequence(the_job, drawer)), default=None)
            found = affordable(the_job, drawer)
            with self.subTest(case=case):
                if best is None:
                    self.assertIsNone(found)
                    bound += 1
                    continue
                feasible += 1
                got = next(cost for cost, pick in every_sequence(the_job, drawer) if pick == found)
                self.assertAlmostEqual(got, best, places=7)
        self.assertGreater(feasible, 12)
        self.assertGreater(bound, 12)

    def test_equally_good_ones_are_those_within_six_percent(self):
        drawer = [rung(o) for o in OWNED]
        found = equally_good(job(18), drawer)
        papers = ["-".join(r.abrasive.name[1:] for r in p if r.abrasive.kind == "paper") for p in found]
        self.assertEqual(papers[0], "320-600-1200")
        self.assertLessEqual(set(papers), {"400-800-1200", "400-600-1200", "320-600-1200", "400-800-1500"})
        self.assertEqual(len(set(found)), 8)
        scores = [score(job(18), p) for p in found]
        self.assertEqual(scores, sorted(scores))
        self.assertLessEqual(scores[-1], 1.06 * scores[0])

    def test_a_contour_that_cannot_pay_refuses_and_says_what_would_do(self):
        zones = (zone(film=120, name="top"), zone("contour", 78, 12, 400, "arch"))
        drawer = [rung(o) for o in OWNED]
        found = plan(job(35, zones=zones), drawer)
        self.assertEqual((found.verdict.word, found.verdict.short), ("refused", ("arch",)))
        self.assertRegex(say(found.reason), r"Lay about \d+ µm more first")
        more = more_film_um(job(35, zones=zones), drawer)
        richer = tuple(replace(z, film_um=z.film_um + more) for z in zones)
        poorer = tuple(replace(z, film_um=z.film_um + more - 10) for z in zones)
        self.assertIsNotNone(affordable(job(35, zones=richer), drawer))
        self.assertIsNone(affordable(job(35, zones=poorer), drawer))

    def test_edges_count_only_when_they_are_worked(self):
        zones = (zone(film=120, name="top"), zone("edge", 42, 8, 60, "edges"))
        drawer = [rung(o) for o in OWNED]
        self.assertEqual(plan(job(18, zones=zones), drawer).verdict.word, "ok")
        self.assertEqual(plan(job(18, zones=zones, edges_count=True), drawer).verdict.short, ("edges",))

    def test_the_work_goes_on_from_the_rung_done_last(self):
        drawer = [rung(o) for o in OWNED]
        after = rung("FEPA-P:P800")
        found = plan(job(18, after=after), drawer)
        self.assertEqual(names(found)[0], "P1200")
        self.assertAlmostEqual(found.steps[0].remove_um, 2.19, delta=0.01)
        self.assertIn("P800 scratch", say(found.steps[0].why))


class Wool(unittest.TestCase):
    def test_reference_ends(self):
        for papers, time, film, gu60 in (
            (("P1000", "P2000", WOOL), 92.4, 8.73, 35.1), (("P1000", "P1500", WOOL), 88.1, 8.73, 33.9),
            (("P1000", "P2000", *COMPOUNDS[:2], WOOL), 108.6, 10.18, 47.6),
        ):  # fmt: skip
            found = evaluate(job(8, target="satin"), rungs(*papers))
            self.assertAlmostEqual(found.minutes, time, delta=0.1)
            self.assertAlmostEqual(found.film_used_um, film, delta=0.01)
            self.assertAlmostEqual(found.steps[-1].gu60, gu60, delta=0.1)

    def test_how_wool_looks_depends_on_what_is_underneath(self):
        for name, over_polish, over_p800 in (
            (WOOL, 48, 32), ("STEEL-WOOL:#000 (fibre 35 um)", 29, 17), ("NON-WOVEN:grey ultra-fine", 18, 7),
            ("NON-WOVEN:white polishing", 59, 28),
        ):  # fmt: skip
            wool = rung(name)
            for under, gu60 in ((rung(COMPOUNDS[1]), over_polish), (rung("FEPA-P:P800"), over_p800)):
                found = gloss.sheen_over(gloss.rq_um(wool.rz_um), gloss.rq_um(under.rz_um), wool.abrasive.covered, 1.51)
                self.assertAlmostEqual(found.gu60, gu60, delta=1.0)

    def test_wool_after_coarse_paper_and_paper_after_wool_are_refused(self):
        self.assertIsNone(affordable(job(18, target="satin"), rungs("P400", WOOL)))
        codes = {r.code for r in judge(job(18), rungs("P1000", "P2000", WOOL, COMPOUNDS[0]))}
        self.assertIn("AFTER_WOOL", codes)

    def test_satin_may_end_in_wool_when_there_is_no_fine_paper(self):
        drawer = rungs("P800", "P1200", WOOL)
        self.assertEqual(names(plan(job(8, target="satin"), drawer))[-1], "steel wool #0000")

    def test_wool_begins_only_on_a_surface_that_is_flat_already(self):
        self.assertIsNone(affordable(job(3, target="satin"), rungs(WOOL)))
        self.assertEqual(names(plan(job(1.5, target="satin"), rungs(WOOL))), ["steel wool #0000"])


class Remarks(unittest.TestCase):
    def codes(self, the_job, *papers, drawer=()):
        return {r.code: sentence(r.said) for r in judge(the_job, rungs(*papers), drawer)}

    def test_every_remark_in_words(self):
        cases = (
            (job(18), ("P800", "ANSI-CAMI:800", "P1000"), "BACKWARD", "goes backwards"),
            (job(18), ("P1200", "ANSI-CAMI:600"), "SAME_SIZE", "One of them is enough"),
            (job(18), ("P400", "P1500"), "JUMP_TOO_BIG", "2.8 times"),
            (job(5), ("P1000", COMPOUNDS[0]), "CANNOT_ERASE", "its practical limit"),
            (job(3), ("P320", "P500"), "START_TOO_COARSE", "6 µm deep, the texture only 3 µm"),
            (job(35), ("P2000",), "START_TOO_FINE", "32 µm to remove, 4 µm"),
            (job(18), ("FOAM-CLASS:3000",), "START_SOFT", "shine the orange peel"),
            (job(18), ("P1000", "P2000", *COMPOUNDS[:2]), "FINISH_MISSES_SHEEN", "about 83 gloss units"),
            (job(18, flatted=True), ("P1000", "P2000"), "FLATTED_FILM_WONT_POLISH", "clear gloss over it"),
            (job(18, film=58), ("P500", "P1000", "P2000"), "FILM_CAP", "allowed by its odds"),
            (job(8), ("P800", "P1200", *COMPOUNDS), "TIGHT", "close to what it can do"),
        )  # fmt: skip
        for the_job, papers, code, words in cases:
            with self.subTest(code=code):
                found = self.codes(the_job, *papers)
                self.assertIn(code, found)
                self.assertIn(words, found[code])

    def test_a_full_ladder_is_wasteful_and_a_single_one_slow(self):
        full = self.codes(job(18), "P400", "P600", "P800", "P1000", "P1200", "P1500", "P2000", "P2500", *COMPOUNDS)
        self.assertRegex(full["WASTEFUL_RUNG"], r"You could leave out P\d+: about \d+ minutes and [\d.]+ µm saved")
        drawer = [rung(o) for o in OWNED]
        slow = self.codes(job(3), "P1000", "P1200", "P1500", "P2000", "P2500", OWNED[10], *COMPOUNDS, drawer=drawer)
        self.assertRegex(slow["SLOW"], r"about [\d.]+ times as long as ")

    def test_the_proposed_ladder_has_no_grave_remark(self):
        drawer = [rung(o) for o in OWNED]
        for texture in (3, 8, 18):
            best = plan(job(texture, slack=0.8), drawer)
            self.assertFalse([r for r in judge(job(texture), best.rungs, drawer) if r.grave])

    def test_a_bare_number_is_asked_about(self):
        for bare in ("240", "400", "800", "1200", "2000", "#800"):
            self.assertEqual(ambiguous(CATALOGUE.abrasives, ("P400", bare))[0].at, 1)
        self.assertEqual(ambiguous(CATALOGUE.abrasives, ("220", "P800", "9 um")), ())
        self.assertEqual([g.d50_um for g in candidates(CATALOGUE.abrasives, "800")], [21.8, 18.0, 14.0, 12.2])


class Grades(unittest.TestCase):
    def test_the_trap_is_told_from_either_side(self):
        p800, cami = (find(CATALOGUE.abrasives, n) for n in ("P800", "ANSI-CAMI:800"))
        self.assertIn(cami, twins(CATALOGUE.abrasives, p800))
        self.assertIn(p800, twins(CATALOGUE.abrasives, cami))
        self.assertEqual(twins(CATALOGUE.abrasives, find(CATALOGUE.abrasives, WOOL)), ())

    def test_every_row_of_the_table_is_there_once(self):
        self.assertEqual(len(CATALOGUE.abrasives), 136)
        stones = [a for a in CATALOGUE.abrasives if not a.on_film]
        self.assertEqual({a.system for a in stones}, {"FEPA-F", "GARNET"})

    def test_what_is_told_in_micrometres(self):
        mine = custom("nine", 9.0)
        self.assertEqual((mine.name, mine.low_um, mine.kind), ("nine", 9.0 * 0.85, "paper"))
        polish, shipped = custom("paste", 3.0, "polish"), find(CATALOGUE.abrasives, COMPOUNDS[1])
        self.assertAlmostEqual(polish.ra_um, shipped.ra_um, delta=0.005)
        for label, um, kind in (("", 9, "paper"), ("x", 0, "paper"), ("x", math.nan, "paper"), ("x", 9, "sponge")):
            self.assertRaises(InputError, custom, label, um, kind)

    def test_names_as_a_finisher_says_them(self):
        said = {find(CATALOGUE.abrasives, n).name for n in (
            "CUSHION-CLOTH:9 um grain", "GARNET:6/0 (220)", "MICRON-FILM:9um", "LOOSE-POWDER:pumice FFF",
            "NON-WOVEN:grey ultra-fine", "JIS-ER:#800", "FEPA-F:F400")}  # fmt: skip
        self.assertEqual(said, {"cushioned 9 um", "garnet 6/0 (220)", "9 um film", "pumice FFF", "grey non-woven",
                                "JIS fine #800", "F400"})  # fmt: skip

    def test_wear_scratches_less_and_cuts_slower(self):
        fresh, worn = rung("FEPA-P:P1500", wear=0.0), rung("FEPA-P:P1500", wear=1.0)
        self.assertAlmostEqual(fresh.rz_um, 2.88, delta=0.01)
        self.assertAlmostEqual(worn.rz_um, 1.75, delta=0.01)
        self.assertGreater(minutes(worn, 5, 1000, first=True), 2.0 * minutes(fresh, 5, 1000, first=True))
        self.assertAlmostEqual(pieces_of_paper(rung("FEPA-P:P800"), 1.0, 1000), 0.082, delta=0.0005)


class Explained(unittest.TestCase):
    def test_rungs_in_and_out(self):
        drawer = [rung(o) for o in OWNED]
        ladder = evaluate(job(18), rungs("P400", "P800", "P1200", COMPOUNDS[0], COMPOUNDS[2]))
        found = {c.rung.abrasive.name: c for c in changes(job(18), ladder, drawer)}
        for name, time, film in (
            ("P500", 9.8, 3.22), ("P600", 10.2, 2.39), ("P1000", 15.9, 2.24), ("P1500", 13.7, 1.03),
        ):  # fmt: skip
            self.assertAlmostEqual(found[name].minutes, time, delta=0.6)
            self.assertAlmostEqual(found[name].film_um, film, delta=0.02)
        self.assertEqual(
            say(found["P1200"].needed), "needed: without it coarse compound must take 3.8 µm, its limit is 3.0 µm"
        )
        self.assertNotIn("ultrafine compound", found)

    def test_two_schools(self):
        coarse, fine = schools(job(18), [rung(o) for o in OWNED])
        self.assertEqual(names(coarse.ladder)[:3], ["P500", "P600", "P800"])
        self.assertEqual(names(fine.ladder)[:3], ["P500", "P1000", "P2000"])
        self.assertAlmostEqual(fine.ladder.film_used_um, 24.29, delta=0.01)
        self.assertGreater(coarse.ladder.film_used_um, 1.3 * fine.ladder.film_used_um)
        none, _ = schools(job(18), rungs("P2500"))
        self.assertIsNone(none.ladder)

    def test_flatted_film_is_never_polished(self):
        for target, words in (("gloss", "clear gloss over it"), ("satin", "leave it as it is")):
            with self.assertRaises(InputError) as caught:
                plan(job(8, target=target, flatted=True), [rung(o) for o in OWNED])
            self.assertIn(words, fault(caught.exception))


class Odds(unittest.TestCase):
    def test_the_most_that_may_go_is_where_the_odds_meet_their_limit(self):
        rng = random.Random(3)
        for _ in range(300):
            z = zone(rng.choice(("flat", "contour", "edge")), rng.uniform(60, 200), rng.uniform(2, 20))
            cv, floor = rng.uniform(0.05, 0.4), rng.uniform(0, 40)
            most = sandthrough.most_removal_um(z, cv, floor)
            odds = sandthrough.zone_odds(z, most, cv, floor)
            limit = sandthrough.ODDS_LIMIT[z.kind]
            if most > 0:
                self.assertAlmostEqual(odds, limit, delta=1e-6)
            else:
                self.assertGreaterEqual(sandthrough.zone_odds(z, 1e-9, cv, floor), limit - 1e-6)

    def test_limits(self):
        sure = zone(film=100, sd=0)
        # Known exactly on the mean, and laid evenly: what is left to chance is one spot against the next.
        self.assertAlmostEqual(sandthrough.most_removal_um(sure, 0.0, 40), 60.0 - 5.0 * 2.57, delta=0.1)
        self.assertEqual(sandthrough.most_removal_um(zone(film=30), 0.15, 40), 0.0)
        self.assertEqual(sandthrough.safe_passes(17.8, 0, 0.0383, 3), 154)
        self.assertEqual(sandthrough.safe_passes(5, 9, 0.04, 1), 0)

    def test_bands_and_readings_back(self):
        band = gloss.band(0.31, None, 1.0, 1.51)
        self.assertAlmostEqual(band.gu60[0], 12, delta=1)
        self.assertAlmostEqual(band.gu60[1], 37, delta=1.5)
        for rq in (0.05, 0.2, 0.6):
            self.assertAlmostEqual(gloss.roughness_of_gloss(gloss.gloss_gu(rq, 1.51, 60), 1.51), rq, delta=1e-3)
        self.assertRaises(InputError, gloss.roughness_of_gloss, 95, 1.51)
