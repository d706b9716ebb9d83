"""Where a rule turns: the last value on one side of it and the first on the other."""

import math
import unittest
from dataclasses import replace as replace_plain

from msgspec.structs import replace

from ravden.catalogue.tables import shipped
from ravden.core.abrasive.grades import ambiguity, candidates
from ravden.core.abrasive.hands import UNEVEN_LN_SD, Belief, Rubbed
from ravden.core.abrasive.hands import seen as hands_seen
from ravden.core.abrasive.sandthrough import ODDS_LIMIT, odds_through
from ravden.core.ahead.compare import offer
from ravden.core.ahead.counsel import flush_from_h
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.outlook import outlook
from ravden.core.calendar.hours import WorkHours
from ravden.core.climate.series import GAP_H, LONGEST_H, NOTICE_K, NOTICE_RH, merged, thinned
from ravden.core.errors import InputError
from ravden.core.film import pores
from ravden.core.film.ledger import MAX_BRANCHES, Ledger
from ravden.core.method.habit import CARES, CareHabit
from ravden.core.record import Air
from tests.core.film.shops import ZONES
from tests.core.test_counsel import seen
from tests.core.test_plan import CATALOGUE, DRAWER, TEN_COATS, coats, project

GRADES = shipped().abrasives
NOW_H = 650.0


class Edges(unittest.TestCase):
    def test_the_range_of_a_belief_holds_eight_in_ten(self):
        low, high = Belief(ln_mean=0.1, ln_sd=0.3).range()
        self.assertAlmostEqual(math.log(low), 0.1 - 0.3 * 1.28155, places=3)
        self.assertAlmostEqual(math.log(high), 0.1 + 0.3 * 1.28155, places=3)

    def test_a_film_known_for_sure_is_through_or_is_not(self):
        self.assertEqual([odds_through(100, 0, 0, gone, 40, 5) for gone in (60, 61)], [0.0, 1.0])
        self.assertAlmostEqual(odds_through(100, 10, 0, 60, 40, 5), 0.5)

    def test_a_bare_number_on_one_scale_and_on_several(self):
        self.assertEqual(ambiguity("7", candidates(GRADES, "400")[:1]).code, "no-scale")
        self.assertEqual(ambiguity("400", candidates(GRADES, "400")).code, "many-scales")

    def test_an_error_is_named_from_further_out(self):
        told = [InputError(path, "no").within("coats").path for path in ("um", "[2].um", "")]
        self.assertEqual(told, ["coats.um", "coats[2].um", "coats"])

    def test_pores_are_flush_from_the_first_hour_from_which_none_sinks_in_sight(self):
        found = seen(project((Air(at_h=0.0, temp_C=38.0, rh=0.4), *coats(TEN_COATS))), now_h=NOW_H)
        line, at = found.timeline, flush_from_h(found)
        sinks = [pores.sink_um(pores.PORE_UM, min(max(float(v), 0.0), 0.9)) for v in line.phi_mean]
        after = [s for h, s in zip(line.hours, sinks, strict=True) if h >= at]
        before = [s for h, s in zip(line.hours, sinks, strict=True) if h < at]
        self.assertGreater(at, NOW_H)
        self.assertLessEqual(max(after), pores.SEEN_UM)
        self.assertGreater(before[-1], pores.SEEN_UM)


class Learnt(unittest.TestCase):
    def rubbed(self, before_um, after_um, sd_um=2.0):
        rung = DRAWER.rung(next(a for a in DRAWER.abrasives if a.name == "P800"), "wet", 120.0)
        return Rubbed(rung=rung, before_um=before_um, after_um=after_um, sd_um=sd_um, minutes=30.0, area_cm2=1000.0)

    def test_a_reading_that_shows_no_film_gone_says_only_that_little_went(self):
        error = math.sqrt(2.0) * 2.0
        (none,), (more,), (half,) = (
            hands_seen([r], []).cut
            for r in (self.rubbed(100, 100), self.rubbed(100, 103), self.rubbed(100, 100 - error / 2))
        )
        self.assertEqual(none, more)
        self.assertAlmostEqual(none[0], half[0])
        self.assertAlmostEqual(none[1], math.hypot(2.0, UNEVEN_LN_SD))
        (much,) = hands_seen([self.rubbed(100, 90)], []).cut
        self.assertAlmostEqual(much[0] - none[0], math.log(10 / (error / 2)))
        self.assertAlmostEqual(much[1], math.hypot(error / 10, UNEVEN_LN_SD))

    def test_more_counts_than_are_kept_apart_are_as_wide_as_they_are_together(self):
        base, many = Ledger(ZONES).coat(10, count_odds={5: 0.5, 6: 0.5}), MAX_BRANCHES - 4
        odds = dict.fromkeys(range(1, many + 1), 1.0 / many)
        each = [base.coat(10, count=n).film("0") for n in odds]
        means = [f.mean_um for f in each]
        mean = sum(means) / many
        var = sum(f.sd_um**2 + (m - mean) ** 2 for f, m in zip(each, means, strict=True)) / many
        found = base.coat(10, count_odds=odds).film("0")
        self.assertAlmostEqual(found.mean_um, mean, delta=0.01 * mean)
        self.assertAlmostEqual(found.sd_um, math.sqrt(var), delta=0.06 * math.sqrt(var))


class Compared(unittest.TestCase):
    def test_the_zone_told_is_the_worst_against_its_own_limit(self):
        made = project(())
        method = CATALOGUE.method("lacquer-fine-start")
        found = offer(made, method, DRAWER, 0.0, WorkHours(hour_at_zero=9.0))
        fit = fitted(outlook(made, method, DRAWER, 0.0, WorkHours(hour_at_zero=9.0), whole=False))
        whole = outlook(made, replace(method, stage=fit.stage), DRAWER, 0.0, WorkHours(hour_at_zero=9.0))
        kinds = {z.label: z.kind for z in made.zones}
        worst = max(whole.rub_out.ladder.odds.items(), key=lambda pair: pair[1] / ODDS_LIMIT[kinds[pair[0]]])
        self.assertEqual(found.odds, worst)


class OfTheAir(unittest.TestCase):
    USUAL = (Air(at_h=0.0, temp_C=12.0, rh=0.7, source="usual"),)

    def after(self, rows, now_h, forecast=()):
        series, _ = merged(rows, self.USUAL, forecast, now_h)
        return [(a.at_h, a.temp_C) for a in series if a.at_h >= now_h]

    def test_a_logger_holds_for_a_while_after_its_last_row(self):
        log = [Air(at_h=float(h), temp_C=21.0, rh=0.5, source="log") for h in range(5)]
        self.assertEqual(self.after(log, 4.5), [(4.0 + GAP_H, 12.0)])
        self.assertEqual(self.after(log, 40.0), [(40.0, 12.0)])

    def test_what_is_told_by_hand_holds_for_a_day_and_a_forecast_a_day_longer_than_its_last_row(self):
        told = [Air(at_h=0.0, temp_C=20.0, rh=0.5)]
        self.assertEqual(self.after(told, 3.0), [(27.0, 12.0)])
        coming = [Air(at_h=h, temp_C=15.0, rh=0.5, source="forecast") for h in (0.0, 24.0)]
        self.assertEqual(self.after(told, 3.0, coming), [(3.0, 15.0), (24.0, 15.0), (48.0, 12.0)])


class InTheCold(unittest.TestCase):
    def test_a_coat_waits_for_air_that_dries_it(self):
        cold = Air(at_h=0.0, temp_C=3.0, rh=0.5)
        warm = Air(at_h=70.0, temp_C=21.0, rh=0.5, source="forecast")
        waits, goes = (
            seen(project((*air, *coats(TEN_COATS[:1]))), now_h=24.0).forward.coats[0].at_h
            for air in ((cold, warm), (replace(cold, temp_C=21.0), warm))
        )
        self.assertGreaterEqual(waits, 70.0)
        self.assertLess(goes, 48.0)


class Cares(unittest.TestCase):
    def test_a_care_comes_again_until_its_end(self):
        care = CareHabit(
            material="x", what=CARES[0], label="", first_min=10, every_min=20, until_min=50, how="", basis="A"
        )
        self.assertEqual(care.times_h, (10 / 60, 30 / 60, 50 / 60))
        self.assertEqual(replace_plain(care, until_min=49).times_h, (10 / 60, 30 / 60))


class Thinned(unittest.TestCase):
    def kept(self, *rows):
        air = [Air(at_h=h, temp_C=t, rh=rh) for h, t, rh in rows]
        return [a.at_h for a in thinned(air)]

    def test_a_row_that_says_nothing_new_is_left_out(self):
        same = (20.0, 0.5)
        self.assertEqual(self.kept((0, *same), (1, *same), (2, *same)), [0, 2])
        self.assertEqual(self.kept((0, *same), (1, 20 + NOTICE_K, 0.5), (2, *same)), [0, 1, 2])
        self.assertEqual(self.kept((0, *same), (1, 20, 0.5 + NOTICE_RH), (2, 20, 0.5 + NOTICE_RH)), [0, 1, 2])

    def test_the_last_before_a_gap_is_kept_and_one_now_and_then(self):
        same = (20.0, 0.5)
        gap = 1 + GAP_H + 0.1
        self.assertEqual(self.kept((0, *same), (1, *same), (gap, *same), (gap + 1, *same)), [0, 1, gap, gap + 1])
        hours = [float(h) for h in range(int(2 * LONGEST_H) + 2)]
        told = self.kept(*((h, *same) for h in hours))
        self.assertEqual(told[:3], [0, LONGEST_H, 2 * LONGEST_H])
