"""What is left of an instrument's plan, as steps of the shop's."""

import itertools
import unittest

from ravden.catalogue import assemble
from ravden.catalogue.tables import shipped
from ravden.core.ahead.outlook import outlook
from ravden.core.calendar.hours import WorkHours
from ravden.core.method.compose import with_zones
from ravden.core.record import Air, Coat, Instrument, Sanding
from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.jobs import NIGHT_MIN, Wall, left_of
from ravden.core.schedule.shop import shop_of
from ravden.core.schedule.verify import verify

TABLES = shipped()
DRAWER = assemble.drawer_of(TABLES, None)
NINE = WorkHours(hour_at_zero=9.0)
EVENINGS = WorkHours(week=(((19.0, 21.5),),) * 4 + ((), ((9.0, 13.0),), ()), hour_at_zero=9.0)


def made(method_id, acts=(), now_h=0.0, hours=NINE, promised_h=None, finishes=None):
    """Outlook, and steps of the shop whose day 0 is today. finishes: of zones in another finish."""
    finishes = finishes or {}
    method = with_zones(TABLES.method(method_id), finishes, assemble.ways(TABLES, finishes.values()), {})
    kind = TABLES.kind("parlour-guitar")
    material = TABLES.material(method.material)
    item = Instrument(
        id="x", name="Plover", kind=kind.id, measures=assemble.measures_of(kind), material=material.id,
        method=method.id, sheen="gloss", min_film_um=method.least_um(material), promised_h=promised_h,
    )  # fmt: skip
    project = assemble.project(TABLES, item, (Air(at_h=0.0, temp_C=20.0, rh=0.5), *acts), finishes=finishes)
    found = outlook(project, method, DRAWER, now_h, hours)
    return found, left_of(found, Wall(hours=hours, today=hours.local(now_h)[0]))


def planned(found, left, hours=NINE):
    day, hour = hours.local(found.now_h)
    problem = shop_of((left,), hours, day, round(hour * 60))
    plan = dispatch(problem).plan
    return problem, plan


class EveryMethod(unittest.TestCase):
    def test_is_planned_whole_and_by_every_rule(self):
        for method in TABLES.methods.values():
            with self.subTest(method.id):
                found, left = made(method.id)
                problem, plan = planned(found, left)
                self.assertEqual(verify(problem, plan), ())
                coats = sum(s.count for s in method.stage if s.kind == "coats")
                steps = list(zip(left.job.steps, left.what, strict=True))
                laid = [(s, w) for s, w in steps if method.stage[w.place].kind == "coats"]
                told = sum(s.coats or w.kind == "hands" for s, w in laid if w.kind in ("coats", "hands"))
                self.assertEqual(told, coats)
                self.assertEqual(len({s.id for s, _ in steps}), len(steps))
                worked = {w.place for _, w in steps}
                for place, stage in enumerate(method.stage):
                    self.assertTrue(place in worked or stage.kind == "wait", stage.label)
                hands = sum(s.hands_min for s, w in steps if w.kind in ("hands", "wheel") and not s.coats)
                own = [w for s, w in steps if w.kind == "hands"]
                self.assertGreaterEqual(hands, 30 * bool(own))

    def test_takes_no_less_time_in_the_shop_than_by_itself(self):
        for name in ("lacquer-fine-start", "french-polish-full"):
            if name not in TABLES.methods:
                continue
            found, left = made(name)
            _, plan = planned(found, left)
            last = max(p.starts_min[-1] for p in plan.placed.values())
            alone = Wall(hours=NINE, today=0).minute(found.forward.finished_h)
            self.assertGreater(last, alone - 1440, name)


class InTheCold(unittest.TestCase):
    def test_lacquer_is_planned_with_as_many_coats_a_day_as_its_flash_allows(self):
        halves = WorkHours(week=(((8.0, 12.0), (13.0, 17.5)),) * 5 + ((), ()), hour_at_zero=9.0)
        most = []
        for temp_C in (20.0, 16.0, 12.0, 10.0, 8.0):
            with self.subTest(temp_C):
                found, left = made("lacquer-fine-start", [Air(at_h=0.1, temp_C=temp_C, rh=0.5)], hours=halves)
                self.assertIsNotNone(left)
                problem, plan = planned(found, left, halves)
                self.assertIsNotNone(plan)
                self.assertEqual(verify(problem, plan), ())
                most.append(max(s.coats for s in left.job.steps))
        self.assertEqual(most, sorted(most, reverse=True))
        self.assertEqual((most[0] > 1, most[-1] >= 1), (True, True))


HALVES = WorkHours(week=(((8.0, 12.0), (13.0, 17.5)),) * 7, hour_at_zero=8.0)


class WhoeverLooks(unittest.TestCase):
    """The plan asks the coat, its session and the shop's hours; never what day whoever looks has."""

    def sessions(self, left):
        return [s.coats for s in left.job.steps if s.sprayed]

    def test_a_session_is_over_when_the_shop_shuts(self):
        acts = [
            Coat(at_h=24.0 * d + h, dry_um=12) for d, h in ((0, 7.0), (1, 7.0))
        ]  # the last at three in the afternoon
        method = "lacquer-fine-start"
        evening, morning = (made(method, acts, at, HALVES)[1] for at in (34.0, 47.9))
        self.assertEqual(self.sessions(evening), self.sessions(morning))
        still = made(method, [Coat(at_h=0.5, dry_um=12)], 1.0, HALVES)[1]  # the morning is young
        self.assertLess(self.sessions(still)[0], TABLES.method(method).stage[4].per_session)

    def test_a_coat_a_day_is_asked_for_the_next_morning_before_and_after_midnight(self):
        method = "shellac-pad-rounds"
        hours = WorkHours(week=(((8.0, 17.5),),) * 7, hour_at_zero=8.0)
        acts = [Coat(at_h=24.0 * d + 9.0, dry_um=3) for d in range(3)]  # at five in the afternoon
        opens = []
        for now_h in (58.0, 63.9, 64.1, 71.0):  # the evening, and from midnight on
            found, left = made(method, acts, now_h, hours)
            first = left.job.steps[0]
            opens.append(Wall(hours=hours, today=0).minute(found.now_h) + first.wait_min[0][1])
        self.assertLessEqual(max(opens), 3 * 1440 + 8 * 60 + 5)

    def test_coats_go_together_as_they_stand(self):
        found, left = made("lacquer-fine-start")
        usual = self.sessions(left)
        stage = next(s for s in found.method.stage if s.kind == "coats")
        wall = Wall(hours=NINE, today=0)
        stood = {stage.id: [(1, 1), (2, 3)]}
        again = left_of(found, wall, sessions=stood)
        self.assertEqual(self.sessions(again)[:2], [1, 2])
        self.assertEqual(sum(self.sessions(again)), sum(usual))
        self.assertEqual(self.sessions(left_of(found, wall, sessions={stage.id: [(1, 90)]})), usual)  # no more than fit


class Sessions(unittest.TestCase):
    def coats(self, left):
        return [(s, w) for s, w in zip(left.job.steps, left.what, strict=True) if s.sprayed]

    def test_are_of_so_many_coats_and_of_different_days(self):
        found, left = made("lacquer-fine-start")
        stage = next(s for s in found.method.stage if s.kind == "coats")
        steps = self.coats(left)
        of_it = [s for s, w in steps if found.method.stage[w.place] == stage]
        self.assertTrue(all(s.coats <= stage.per_session for s in of_it))
        self.assertEqual(sum(s.coats for s in of_it), stage.count)
        for step in of_it[1:]:
            self.assertGreaterEqual(step.wait_min[0][1], NIGHT_MIN)
        self.assertEqual(of_it[0].flash_min[0], round(60 * stage.between_h))
        problem, plan = planned(found, left)
        days = [plan.placed[0, k].starts_min[0] // 1440 for k, s in enumerate(left.job.steps) if s in of_it]
        self.assertEqual(len(set(days)), len(of_it))
        self.assertEqual(len(problem.materials), len({s.material for s, _ in steps}))

    def test_are_shorter_where_an_evening_is(self):
        found, left = made("lacquer-fine-start", hours=EVENINGS)
        longest = max(s.coats for s, _ in self.coats(left))
        by_day = max(s.coats for s, _ in self.coats(made("lacquer-fine-start")[1]))
        self.assertLess(longest, by_day)
        problem, plan = planned(found, left, EVENINGS)
        self.assertEqual(verify(problem, plan), ())

    def test_none_follows_a_full_one_on_the_same_day(self):
        method = TABLES.method("lacquer-fine-start")
        stage = next(s for s in method.stage if s.kind == "coats")
        coats = tuple(Coat(at_h=24.0 + i * stage.between_h, dry_um=12.0) for i in range(stage.per_session))
        found, left = made(method.id, coats, coats[-1].at_h + stage.between_h)
        _, plan = planned(found, left)
        at = next(n for n, s in enumerate(left.job.steps) if s.sprayed)
        self.assertEqual(plan.placed[0, at].starts_min[0] // 1440, 1)
        alone = Wall(hours=NINE, today=NINE.local(found.now_h)[0]).minute(found.forward.coats[0].at_h)
        self.assertGreaterEqual(plan.placed[0, at].starts_min[0], alone)

    def test_one_begun_today_is_gone_on_with(self):
        method = TABLES.method("lacquer-fine-start")
        place = next(i for i, s in enumerate(method.stage) if s.kind == "coats")
        stage = method.stage[place]
        coats = (Coat(at_h=24.0, dry_um=12.0),)
        _, left = made(method.id, coats, 24.5)
        first, what = self.coats(left)[0]
        self.assertEqual((what.place, what.nth, what.of), (place, 2, stage.count))
        self.assertEqual(first.coats, min(stage.per_session, stage.count) - 1)
        self.assertEqual(first.wait_min, ((0, round(60 * stage.between_h) - 30),))
        _, tomorrow = made(method.id, coats, 48.0)
        self.assertEqual(self.coats(tomorrow)[0][0].coats, min(stage.per_session, stage.count - 1))


class Waits(unittest.TestCase):
    def test_for_the_level_is_longer_than_likely_and_says_how_sure(self):
        method = TABLES.method("lacquer-fine-start")
        place = next(i for i, s in enumerate(method.stage) if s.window == "level")
        found, left = made(method.id)
        level = next(n for n, w in enumerate(left.what) if w.place > place and w.kind == "hands")
        step, window = left.job.steps[level], next(w for w in found.windows if w.name == "level")
        before = next(s for s in found.forward.steps if s.index == place)
        likely, late = (60 * (h - before.from_h) for h in (window.likely_h, window.late_h))
        self.assertTrue(likely < step.wait_min[0][1] < late)
        self.assertAlmostEqual((step.wait_min[0][1] - likely) / (late - likely), 0.409, delta=0.01)
        self.assertTrue(0.05 < step.wait_sd < 0.9)

    def test_that_is_over_already_lets_work_begin_now(self):
        method = TABLES.method("lacquer-fine-start")
        coats = tuple(Coat(at_h=24.0 * d + h, dry_um=12.0) for d in range(1, 5) for h in (0.0, 2.0, 4.0))
        found, left = made(method.id, coats, 24.0 * 60)
        self.assertEqual(found.method.stage[found.progress.index].window, "level")
        self.assertEqual(left.job.steps[0].wait_min, ((0, 0),))
        problem, plan = planned(found, left)
        self.assertEqual(plan.placed[0, 0].starts_min, (problem.now_min,))

    def test_a_promise_is_of_the_shops_clock(self):
        _, left = made("lacquer-fine-start", now_h=30.0, promised_h=24.0 * 40)
        self.assertEqual(left.job.promised_min, 39 * 1440 + 9 * 60)


class Beside(unittest.TestCase):
    """A neck oiled while the body is lacquered."""

    def steps(self, acts=(), now_h=0.0):
        found, left = made("lacquer-fine-start", acts, now_h, finishes={"neck": "polymerising-oil"})
        neck = [n for n, w in enumerate(left.what) if found.method.stage[w.place].zones]
        return found, left, neck

    def test_the_neck_follows_itself_and_the_refit_waits_for_it(self):
        found, left, neck = self.steps()
        coats = [n for n in neck if left.what[n].kind == "hands"]
        self.assertEqual([left.what[n].nth for n in coats], list(range(1, len(coats) + 1)))
        for one, two in itertools.pairwise(coats):
            self.assertEqual(left.job.steps[two].after, one)
        self.assertNotIn(left.job.steps[coats[0]].after, (None, *neck))
        kinds = [found.method.stage[w.place].kind for w in left.what]
        refit = kinds.index("finish", coats[-1])
        self.assertEqual(left.job.steps[refit].needs, (coats[-1],))
        over = next(n for n in neck if left.what[n].kind == "case")
        self.assertEqual(left.job.steps[over].after, coats[-1])
        self.assertGreater(left.job.steps[over].wait_min[0][1], 1440)
        problem, plan = planned(found, left)
        self.assertEqual(verify(problem, plan), ())

    def test_one_that_was_begun_does_not_begin_again_nor_wait_for_the_body(self):
        _, whole, all_of_it = self.steps()
        told = [w for w in whole.what if w.kind == "hands" and w.place == whole.what[all_of_it[0]].place]
        oil = Coat(at_h=24.0, dry_um=4.0, zones=("neck",), finish="polymerising-oil")
        found, left, neck = self.steps((oil,), 26.0)
        first = left.what[neck[0]]
        self.assertEqual((first.nth, first.of), (2, told[0].of))
        step = left.job.steps[neck[0]]
        self.assertIsNone(step.after)
        self.assertGreater(step.wait_min[0][1], 0)
        problem, plan = planned(found, left)
        self.assertEqual(verify(problem, plan), ())


class Hands(unittest.TestCase):
    def test_a_long_job_is_cut_where_no_evening_holds_it(self):
        coats = tuple(Coat(at_h=24.0 * d + h, dry_um=12.0) for d in range(1, 5) for h in (0.0, 2.0, 4.0))
        found, left = made("lacquer-fine-start", (*coats, Sanding(at_h=24.0 * 59, um=12, purpose="level")), 24.0 * 60)
        short = WorkHours(week=(((19.0, 19.5),),) * 7, hour_at_zero=9.0)
        cut = left_of(found, Wall(hours=short, today=short.local(found.now_h)[0]))
        whole = sum(s.hands_min for s, w in zip(left.job.steps, left.what, strict=True) if w.kind == "hands")
        pieces = [(s, w) for s, w in zip(cut.job.steps, cut.what, strict=True) if w.kind == "hands"]
        self.assertGreater(len(pieces), len(left.job.steps))
        self.assertTrue(all(s.hands_min <= 30 for s, _ in pieces))
        self.assertLess(abs(sum(s.hands_min for s, _ in pieces) - whole), 5 * len(pieces))
        self.assertTrue(all(w.nth <= w.of for _, w in pieces))

    def test_what_is_cut_fits_an_evening_and_waits_for_no_saturday(self):
        coats = tuple(Coat(at_h=24.0 * d + h, dry_um=12.0) for d in range(1, 5) for h in (0.0, 2.0, 4.0))
        found, left = made("lacquer-fine-start", coats, 24.0 * 60, EVENINGS)
        level = [s.hands_min for s, w in zip(left.job.steps, left.what, strict=True) if w.place == left.what[0].place]
        self.assertGreater(sum(level), 150)
        self.assertLessEqual(max(level), 150)
        _, plan = planned(found, left, EVENINGS)
        first = [plan.placed[0, k].starts_min[0] // 1440 for k in range(len(level))]
        self.assertLessEqual(first[-1] - first[0], len(level) + 3)

    def test_what_never_dries_is_in_no_plan(self):
        method = TABLES.method("lacquer-fine-start")
        cold = (Air(at_h=0.5, temp_C=-5.0, rh=0.5),)
        found, left = made(method.id, cold, 1.0)
        self.assertIsNotNone(found.forward.stuck)
        self.assertIsNone(left)
