"""What was foretold against what came: inside or not, shares with what they leave open, and what speaks for a rate."""

import math
import unittest
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np

from ravden.core.abrasive.hands import Belief
from ravden.core.ahead.drying_rate import heard, rate
from ravden.core.ahead.foretold import FILM, MINUTES, WINDOW, Foretold, Known, bias, film, minutes, share, widened
from ravden.core.ahead.looks import films, ready_between
from ravden.core.record import Coat, Mishap, Sanding
from ravden.text import right_words
from ravden.text.units import Units
from tests.core.rate_shops import learnt

AT = datetime(2026, 5, 4, tzinfo=UTC)


def told(low=80.0, likely=100.0, high=120.0, came=100.0, since=None, what=FILM):
    return Foretold(
        what=what, of="a", name="A", label="Top", finish="lacquer-sprayed", at=AT, low=low, likely=likely, high=high,
        came_low=came if since is None else since, came_high=came,
    )  # fmt: skip


def wait(likely, came, since=0.0, **kw):
    return replace(told(low=0.6 * likely, likely=likely, high=1.7 * likely, came=came, since=since, what=WINDOW), **kw)


class Inside(unittest.TestCase):
    def test_what_is_known_to_a_point_is_inside_or_not(self):
        self.assertEqual([told(came=c).inside for c in (79.9, 80, 120, 120.1)], [False, True, True, False])

    def test_work_done_long_after_says_nothing_and_before_the_range_says_sooner(self):
        late, soon, within = wait(200.0, 1000.0), wait(200.0, 100.0), wait(200.0, 250.0)
        self.assertEqual([w.tells for w in (late, soon, within)], [False, True, True])
        self.assertEqual([w.inside for w in (soon, within)], [False, True])
        bracket = wait(200.0, 150.0, since=100.0)
        self.assertTrue(bracket.inside)
        self.assertAlmostEqual(bracket.came, math.sqrt(100 * 150))
        never = wait(200.0, math.inf, since=500.0)
        self.assertTrue(never.tells and not never.inside)
        self.assertEqual(never.came, 500.0)

    def test_what_lies_between_two_moments_counts_with_its_chance(self):
        self.assertAlmostEqual(wait(200.0, 1e6).chance, 0.9, delta=0.02)  # it could not have failed
        self.assertEqual(wait(200.0, 100.0).chance, 0.0)
        self.assertEqual(wait(200.0, 260.0, since=210.0).chance, 1.0)
        self.assertLess(wait(200.0, math.inf, since=330.0).chance, 0.5)

    def test_a_reading_scatters_about_the_film(self):
        low, likely, high = film(100, 80, 120, 3)
        self.assertLess(low, 80)
        self.assertGreater(high, 120)
        self.assertEqual(likely, 100)
        self.assertLess(film(100, 99, 101, 9)[2], film(100, 99, 101, 1)[2])

    def test_eight_in_ten_becomes_nine_in_ten(self):
        low, high = widened(50.0, 100.0, 200.0)
        self.assertAlmostEqual(math.log(100 / low) / math.log(2), 1.645 / 1.2816)
        self.assertAlmostEqual(low * high, 1e4)

    def test_minutes_are_as_wide_as_the_belief_and_one_time_against_the_next(self):
        low, likely, high = minutes(30.0, Belief(ln_mean=math.log(0.8), ln_sd=0.2), 0.25)
        self.assertAlmostEqual(likely, 24.0)
        self.assertAlmostEqual(math.log(high / low), 2 * 1.645 * math.hypot(0.2, 0.25))


class Shares(unittest.TestCase):
    def test_few_leave_much_open(self):
        all_in = share([told()] * 3)
        self.assertEqual((all_in.inside, all_in.of), (3, 3))
        self.assertLess(all_in.low, 0.6)
        many = share([told()] * 100 + [told(came=300)] * 11)
        self.assertTrue(0.84 < many.low < 0.901 < many.high < 0.95)
        self.assertIn("90 % meant", right_words.held(many))
        self.assertIn("less than", right_words.held(share([told()] * 10 + [told(came=300)] * 10)))
        self.assertEqual(share([]).of, 0)

    def test_the_interval_holds_the_truth_nine_times_in_ten(self):
        rng, hits = np.random.default_rng(3), 0
        for _ in range(400):
            n = int(rng.integers(5, 40))
            inside = rng.random(n) < 0.9
            found = share([told() if i else told(came=300) for i in inside])
            hits += found.low <= 0.9 <= found.high
        self.assertGreater(hits / 400, 0.85)


class Rates(unittest.TestCase):
    def test_looks_on_both_sides_speak_for_a_rate_of_the_shops_own(self):
        fast = [wait(240.0, 160.0, since=140.0) for _ in range(4)]
        found = rate(fast)
        self.assertAlmostEqual(found.ln_mean, math.log(240 / 150), delta=0.08)
        self.assertLess(found.ln_sd, 0.15)
        self.assertGreater(found.spread, found.ln_sd)
        self.assertEqual((found.agree, found.waits), (4, 4))
        text, put = right_words.advice("Sprayed lacquer", fast, taken=False)
        self.assertIn("likely ready 4 days before Ravden says (4 of 4 ready before its likely day)", text)
        self.assertEqual(put, found)
        self.assertIsNone(right_words.advice("Sprayed lacquer", fast, taken=True)[1])

    def test_slow_films_are_told_as_such(self):
        slow = [wait(240.0, 480.0, since=420.0) for _ in range(6)]
        text, _ = right_words.advice("Sprayed lacquer", slow, taken=False)
        self.assertRegex(text, "likely ready 9 days after Ravden says .6 of 6 still soft on its likely day")

    def test_work_done_without_trouble_says_ready_by_then_and_no_more(self):
        """Thirty levelled when planned, some way past the likely day: nothing moves, and nothing says usually."""
        well = [wait(290.0, 450.0, noticed=0.7) for _ in range(30)]
        self.assertIsNone(rate(well))
        said, put = right_words.advice("Lacquer", well, taken=False)
        self.assertIsNone(put)
        self.assertIn("levelled 30 times without trouble, which says ready by then and no more", said)
        self.assertIn("does a nail dent", said)
        self.assertNotIn("usually", said)
        self.assertLess(abs(heard(well).look_h / 290.0 - 1), 0.15)

    def test_a_rate_that_was_in_use_already_is_built_upon(self):
        used = [wait(240.0, 245.0, since=235.0, rate_ln=0.3) for _ in range(6)]
        self.assertLess(abs(heard(used).ln_mean - 0.3), 0.1)
        slow = [wait(240.0, 400.0, since=380.0, rate_ln=0.3) for _ in range(6)]
        self.assertLess(rate(slow).ln_mean, 0.0)

    def test_one_wait_or_waits_that_quarrel_speak_for_none(self):
        self.assertIsNone(rate([wait(240.0, 120.0, since=110.0)]))
        self.assertIsNone(rate([wait(240.0, 1000.0)] * 5))
        self.assertIsNone(heard([told()]))

    def test_shops_that_look_settle_on_the_truth_and_none_runs_away(self):
        """Goals of the full table in benchmarks/waits.py, with fewer shops."""
        for true in (0.6, 1.0, 1.6):
            rng = np.random.default_rng(11)
            off = [abs(learnt(rng, true, "look", 0.1, 12)[-1] - 1) for _ in range(6)]
            self.assertLess(sorted(off)[4], 0.10, true)
        for _ in range(2):
            steps = learnt(np.random.default_rng(5), 1.0, "paper", 0.2, 30)
            self.assertLess(max(abs(s - 1) for s in steps), 0.03)

    def test_bias_is_told_where_it_is_no_chance(self):
        self.assertAlmostEqual(bias([told(came=c) for c in (128, 130, 132, 131)], FILM), 1.3, places=1)
        self.assertIsNone(bias([told(came=c) for c in (80, 130, 95, 110)], FILM))
        self.assertIsNone(bias([told()], FILM))
        text, _ = right_words.advice("Lacquer", [told(came=c) for c in (128, 130, 132)], taken=False)
        self.assertIn("30 % thicker", text)
        timed = [replace(told(came=c), what=MINUTES) for c in (70, 72, 71)]
        self.assertIn("29 % less time", right_words.advice("Lacquer", timed, taken=False)[0])
        longer = [replace(told(came=c), what=MINUTES) for c in (130, 132, 131)]
        self.assertIn("31 % more time", right_words.advice("Lacquer", longer, taken=False)[0])
        self.assertIn("nothing to change", right_words.advice("Lacquer", [told()] * 3, taken=False)[0])


class Words(unittest.TestCase):
    def test_a_line_says_what_was_said_and_what_came(self):
        units = Units()
        self.assertEqual(right_words.line(told(), units), "foretold 80–120 µm, came 100 µm")
        self.assertIn("more than foretold", right_words.line(told(came=200), units))
        self.assertIn("by 10 h", right_words.line(wait(12.0, 10.0), units))
        self.assertIn("says nothing", right_words.line(wait(12.0, 100.0), units))
        self.assertIn("later than foretold", right_words.line(wait(240.0, math.inf, since=600.0), units))
        self.assertIn("mil", right_words.line(told(), Units(system="us")))


class Ends(unittest.TestCase):
    """Between which hours a film got ready."""

    def between(self, *acts):
        acts = (Coat(at_h=0.0, dry_um=12.0), *acts)
        ((coat, levels, looks),) = films(acts)
        return ready_between(coat, levels, looks, acts, math.inf)

    def level(self, at_h):
        return Sanding(at_h=at_h, um=8.0, purpose="level")

    def clogs(self, at_h):
        return Mishap(at_h=at_h, what="clogs", zone="top")

    def test_paper_that_clogs_found_it_soft(self):
        well = self.between(self.level(300.0))
        self.assertEqual((well.low_h, well.high_h), (0.0, 300.0))
        before = self.between(self.clogs(200.0), self.level(300.0))
        self.assertEqual((before.low_h, before.high_h), (200.0, 300.0))
        after = self.between(self.level(200.0), self.clogs(200.3), self.level(300.0))
        self.assertEqual((after.low_h, after.high_h), (200.0, 300.0))
        late = self.between(self.level(200.0), self.clogs(290.0))  # of something else: the level went well
        self.assertEqual((late.low_h, late.high_h), (0.0, 200.0))


class AtItsEnd(unittest.TestCase):
    """A wait counts as it was reckoned when it ended, as unsure as its film was."""

    def heard_of(self, known):
        waits = [
            replace(told(150.0, 300.0, 600.0, 210.0, 190.0, WINDOW), known=known, at=AT.replace(day=1 + n))
            for n in range(6)
        ]
        return heard(waits)

    def test_a_film_that_was_measured_meanwhile_is_no_fast_shop(self):
        as_foretold = self.heard_of(None)
        self.assertGreater(as_foretold.ln_mean, 0.25)
        self.assertIsNotNone(as_foretold.forward)
        measured = self.heard_of(Known(likely=200.0, rate_ln=0.0, sd=0.05))
        self.assertAlmostEqual(measured.ln_mean, 0.0, delta=0.03)
        self.assertIsNone(measured.forward)

    def test_a_film_that_is_hardly_known_says_little(self):
        sure, unsure = (self.heard_of(Known(likely=300.0, rate_ln=0.0, sd=sd)) for sd in (0.05, 0.6))
        self.assertGreater(unsure.ln_sd, 1.3 * sure.ln_sd)
        self.assertLess(unsure.ln_mean, sure.ln_mean)

    def in_air(self, air_C, rate_ln, n):
        """Waits at so many degrees of a film that is ready by so much of a rate sooner, found so by looks."""
        came = 240.0 * math.exp(-rate_ln)
        return [
            replace(
                wait(240.0, came * 1.05, since=came * 0.95), at=AT.replace(day=1 + i),
                known=Known(likely=240.0, rate_ln=0.0, sd=0.05, air_C=air_C),
            )
            for i in range(n)
        ]  # fmt: skip

    def test_a_rate_learnt_in_summer_is_another_in_winter_where_warmth_counts_for_less(self):
        """A degree counts for .05 of ln here and for .07 by the finish's law: 8 K apart they differ by .16."""
        year = [*self.in_air(24.0, -0.10, 6), *self.in_air(16.0, 0.06, 6)]
        summer, winter = heard(year, 24.0), heard(year, 16.0)
        self.assertAlmostEqual(summer.ln_mean, -0.10, delta=0.05)
        self.assertAlmostEqual(winter.ln_mean, 0.06, delta=0.05)
        self.assertEqual(heard(year).ln_mean, winter.ln_mean)  # as at the newest of them
        self.assertAlmostEqual(heard(year, 8.0).ln_mean, 0.22, delta=0.12)

    def test_of_air_it_has_not_seen_a_shop_knows_its_rate_less_well(self):
        summer = self.in_air(24.0, -0.10, 8)
        there, far = heard(summer, 24.0), heard(summer, 10.0)
        self.assertTrue(there.ln_mean < far.ln_mean < 0.0)  # it leans back to the usual
        self.assertGreater(far.ln_sd, 1.5 * there.ln_sd)
