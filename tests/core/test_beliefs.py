"""Figures of a shop's own: what is believed of them, what the user says about that, and what plans do with it."""

import math
import unittest
from datetime import UTC, datetime, timedelta

import numpy as np
from msgspec.structs import replace

from ravden.core.abrasive.scratch import rubbing_minutes
from ravden.core.method.steps import as_told, textures_met
from ravden.core.record import Coat, Reading, Sanding
from ravden.core.record.word import Rule, Word, gathered
from ravden.core.rubout.rub_out import Drawer
from ravden.core.rubout.words import words_on
from ravden.core.state.beliefs import PRIORS, Beliefs
from ravden.core.state.zone_factors import TAU, zone_factors
from tests.core.learning_shops import inside, next_one
from tests.core.test_plan import CATALOGUE, DRAWER, LACQUER, project

DAY = datetime(2026, 3, 1, tzinfo=UTC)


def word(key, ln, sd=0.3, day=0, of="a"):
    return Word(key=key, ln=ln, sd=sd, at=DAY + timedelta(days=day), of=of)


def believed(*words, **rules):
    return Beliefs(words=gathered({}, words), rules=rules)


def said(acts, textures_um=(18.0,)):
    made = project(acts)
    return words_on(made, DRAWER, "m", textures_um, lambda h: DAY + timedelta(hours=h), "spray")


class Believed(unittest.TestCase):
    def test_words_are_weighed_by_how_sure_they_are(self):
        found = believed(word("texture/m", 0.4, 0.3), word("texture/m", 0.0, 0.6, day=3)).of("texture/m")
        p = PRIORS["texture"] ** -2 + 0.3**-2 + 0.6**-2
        self.assertAlmostEqual(found.ln_mean, 0.4 * 0.3**-2 / p)
        self.assertAlmostEqual(found.ln_sd, p**-0.5)
        self.assertEqual(found.readings, 2)

    def test_how_far_one_time_lies_beside_the_next_is_learnt_like_a_mean(self):
        alike = [word(f"minutes/P{g}", 0.3 + 0.05 * (-1) ** n, day=n) for g in (800, 1200) for n in range(20)]
        apart = [word(f"minutes/P{g}", 0.3 + 0.5 * (-1) ** n, day=n) for g in (800, 1200) for n in range(20)]
        none, close, wide = (believed(*w).scatter("minutes", 0.25) for w in ([], alike, apart))
        self.assertEqual(none, 0.25)
        self.assertAlmostEqual(close, math.sqrt((10 * 0.25**2 + 40 * 0.05**2) / 48))
        self.assertGreater(wide, 0.45)
        self.assertEqual(believed(*apart).scatter("polishing", 0.25), 0.25)

    def test_set_back_only_what_comes_after_counts(self):
        rules = {"texture/m": Rule(since=DAY + timedelta(days=1))}
        found = Beliefs(words=gathered({}, [word("texture/m", 0.9), word("texture/m", -0.2, day=2)]), rules=rules).of(
            "texture/m"
        )
        self.assertLess(found.ln_mean, 0.0)
        self.assertEqual(found.readings, 1)

    def test_frozen_it_stays_where_it_was(self):
        rules = {"hours/coats": Rule(frozen=(0.2, 0.1))}
        found = Beliefs(words=gathered({}, [word("hours/coats", 1.5)]), rules=rules).of("hours/coats")
        self.assertEqual((found.ln_mean, found.ln_sd), (0.2, 0.1))

    def test_minutes_of_a_paper_go_with_how_fast_it_cuts_until_somebody_looked(self):
        fast = believed(word("cut", 0.5, 0.05))
        self.assertAlmostEqual(fast.prior("minutes/FEPA-P:P800").ln_mean, -fast.of("cut").ln_mean)
        self.assertEqual(fast.prior("polishing/coarse").ln_mean, 0.0)

    def test_zones_need_three_instruments(self):
        two = [word("zone/f/spray/top", 0.2, 0.05, of=name) for name in "ab"]
        self.assertEqual(believed(*two).factors("f", "spray"), {})
        three = believed(*two, word("zone/f/spray/top", 0.2, 0.05, of="c")).factors("f", "spray")
        self.assertEqual(three["top"].instruments, 3)
        self.assertEqual(believed(*two).factors("other", "spray"), {})

    def test_what_all_zones_share_is_the_gun_and_no_zone(self):
        told = [[("top", 0.3, 0.05), ("back", 0.3, 0.05), ("sides", 0.3, 0.05)] for _ in range(6)]
        alike = zone_factors(told)
        self.assertTrue(all(abs(f.ln) < 0.06 for f in alike.values()), alike)
        thin = zone_factors([[(z, ln - 0.2 * (z == "sides"), sd) for z, ln, sd in one] for one in told])
        self.assertLess(thin["sides"].ln, -0.1)
        self.assertLess(thin["sides"].sd, TAU)

    def test_in_200_made_up_shops_the_ranges_hold_what_they_say(self):
        for kind, share in inside(np.random.default_rng(7), 200).items():
            with self.subTest(kind):
                self.assertGreaterEqual(share, 0.85)
                self.assertLessEqual(share, 0.95)

    def test_with_what_was_learnt_the_next_film_is_known_better_and_its_range_holds_no_less(self):
        (before, off), (after, less_off) = (
            next_one(np.random.default_rng(4), 50, learn=learn) for learn in (False, True)
        )
        self.assertLess(less_off, 0.9 * off)
        self.assertGreaterEqual(after, min(before, 0.90) - 0.03)
        self.assertLess(after, 0.99)


class Found(unittest.TestCase):
    def level(self, **fields):
        return Sanding(at_h=900.0, um=9, grade="P800", mode="wet", zones=("top",), **fields)

    def of(self, acts, what, **kw):
        return [w for w in said(acts, **kw) if w.key.startswith(what)]

    def test_a_texture_that_was_told_is_heard_once_a_levelling(self):
        acts = (Coat(at_h=0, dry_um=12, count=8), self.level(texture_um=27.0, part=True), self.level(texture_um=27.0))
        found = self.of(acts, "texture")
        self.assertEqual(len(found), 1)
        self.assertAlmostEqual(found[0].ln, math.log(1.5))
        again = (*acts, Coat(at_h=950, dry_um=12), replace(self.level(texture_um=12.0), at_h=1800.0))
        self.assertEqual(len(self.of(again, "texture")), 2)
        # A later level is set against what its own coats were planned to have, not against the first's.
        alike = [w for w in said(again, (18.0, 8.0)) if w.key.startswith("texture/")]
        self.assertAlmostEqual(alike[0].ln, math.log(27 / 18))
        self.assertAlmostEqual(alike[1].ln, math.log(12 / 8))

    def test_textures_met_by_round_of_coats(self):
        flow = CATALOGUE.method("lacquer-flow-coat")
        met = textures_met(flow)
        self.assertEqual(met[0], flow.texture_um)
        self.assertLess(met[1], 0.5 * met[0])
        self.assertEqual(textures_met(CATALOGUE.method("oil-wiped")), (CATALOGUE.method("oil-wiped").texture_um,))

    def test_what_the_first_rung_took_speaks_of_the_texture(self):
        def took(um):
            return (
                Coat(at_h=0, dry_um=12, count=14), Reading(at_h=899.0, zone="top", um=160, n=9), self.level(),
                Reading(at_h=901.0, zone="top", um=160 - um, n=9),
            )  # fmt: skip

        (found,) = self.of(took(23.0), "texture")
        self.assertAlmostEqual(found.ln, math.log(23.0 / (1.15 * 0.8) / 18.0), places=6)
        self.assertEqual(self.of(took(2.0), "texture"), [])  # no more than the paper's own scratch

    def test_a_zone_ticked_in_no_time_is_no_measurement(self):
        def timed(minutes):
            return self.of((Coat(at_h=0, dry_um=12, count=8), self.level(minutes=minutes)), "minutes")

        (usual,) = timed(40.0)
        expected = 40.0 / math.exp(usual.ln)
        (slow,) = timed(2.0 * expected)
        self.assertAlmostEqual(slow.ln, math.log(2.0))
        self.assertEqual([timed(0.19 * expected), timed(5.1 * expected)], [[], []])
        self.assertEqual(len(timed(0.21 * expected)), 1)

    def test_zones_are_told_by_the_first_reading_of_what_was_laid(self):
        coats = Coat(at_h=0, dry_um=12, count=6)
        (one,) = self.of((coats, Reading(at_h=700, zone="top", um=90), Reading(at_h=800, zone="top", um=60)), "zone")
        self.assertGreater(one.ln, 0.1)
        unsure = replace(coats, count_odds=((5, 0.5), (6, 0.5)))
        self.assertEqual(self.of((unsure, Reading(at_h=700, zone="top", um=90)), "zone"), [])
        cut = Sanding(at_h=650, um=50)
        self.assertEqual(self.of((coats, cut, Reading(at_h=700, zone="top", um=20)), "zone"), [])


class PlansUseIt(unittest.TestCase):
    def test_a_method_has_the_texture_and_hours_of_the_shop(self):
        learnt = believed(word(f"texture/{LACQUER.id}", 0.5, 0.05), word("hours/coats", -0.4, 0.05))
        here = learnt.method(LACQUER)
        self.assertGreater(here.texture_um, 1.5 * LACQUER.texture_um)
        for before, after in zip(LACQUER.stage, here.stage, strict=True):
            if before.kind == "coats" and not before.by:
                self.assertLess(after.hands_h, 0.75 * before.hours)
                self.assertEqual(as_told(after), before)
            else:
                self.assertEqual(after, before)
        self.assertIs(Beliefs().method(LACQUER), LACQUER)

    def test_a_rung_takes_as_long_as_it_takes_here(self):
        grade = next(a for a in DRAWER.abrasives if a.name == "P800")
        usual = DRAWER.rung(grade, "wet", 120.0)
        learnt = believed(word("cut", 0.6, 0.02), word(f"minutes/{grade.id}", 0.5, 0.02))
        mine = Drawer(abrasives=DRAWER.abrasives, backings=DRAWER.backings, hands=learnt.hands())
        rung = mine.rung(grade, "wet", 120.0)
        ratio = rubbing_minutes(rung, 5, 1000, first=True) / rubbing_minutes(usual, 5, 1000, first=True)
        self.assertAlmostEqual(ratio, learnt.of(f"minutes/{grade.id}").factor, places=6)

    def test_zones_take_the_factor_and_are_no_surer_than_one_instrument_is_like_the_next(self):
        words = [word("zone/f/spray/sides", -0.25, 0.03, of=str(i)) for i in range(40)]
        words += [word("zone/f/spray/top", 0.0, 0.03, of=str(i)) for i in range(40)]
        zones = project().zones
        here = {z.name: z for z in believed(*words).zones(zones, "f", "spray")}
        for z in zones:
            if z.name == "sides":
                self.assertLess(here[z.name].k_mean, 0.95 * z.k_mean)
                self.assertTrue(0.06 < here[z.name].k_cv < z.k_cv)
            elif z.name != "top":
                self.assertIs(here[z.name], z)
        self.assertEqual(CATALOGUE.kind("mandola").family, project().instrument.measures.family)
