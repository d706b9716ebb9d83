"""The shop plan: proven figures, rules that every plan keeps, faults that the check finds, what never gets worse."""

import copy
import json
import random
import unittest
from pathlib import Path
from unittest import mock

import msgspec
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from ravden.app.compute import run
from ravden.core.errors import InputError
from ravden.core.schedule import exact
from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.improve import Effort, improve
from ravden.core.schedule.odds import Draw, odds, sampled_ends
from ravden.core.schedule.problem import GRID, Plan, figures, job_end, moved
from ravden.core.schedule.reasons import because
from ravden.core.schedule.renew import AIMS, FEWEST_CHANGES, FEWEST_LATE, FRESH, Renewal
from ravden.core.schedule.repair import cannot_stand, keep
from ravden.core.schedule.squeeze import squeeze
from ravden.core.schedule.tidy import tidied
from ravden.core.schedule.verify import verify
from ravden.exchange.compute_schedule_in import ScheduleIn, problem_of
from tests.core.shops import HOURS, shop

CASES = json.loads((Path(__file__).resolve().parent.parent / "data/schedule.json").read_text(encoding="utf-8"))
NONE = Draw(samples=3, sick_odds=0.0, hand_sd=0.0)


def problem(case):
    return problem_of(msgspec.convert(case, ScheduleIn))


def calm(case):
    """The same with waits that come as they are reckoned."""
    case = copy.deepcopy(case)
    for instrument in case["instruments"]:
        for step in instrument["steps"]:
            step["wait_sd"] = 0.0
    return case


def as_previous(p, plan):
    return {"steps": [
        {"instrument": p.jobs[j].id, "step": p.jobs[j].steps[k].id, "who": x.who, "starts_min": list(x.starts_min),
         "cabinet": x.cabinet} for (j, k), x in plan.placed.items()
    ]}  # fmt: skip


class Proven(unittest.TestCase):
    def test_figures_that_were_proved_elsewhere(self):
        for case in CASES:
            with self.subTest(case["name"]):
                found = run("schedule", json.dumps({**case["input"], "effort": {"rounds": 2}}).encode())
                want = case["expect"]
                self.assertEqual(found["status"], want["status"])
                if want["status"] == "impossible":
                    self.assertEqual(found["clash"], want["clash"])
                    self.assertEqual(found["relief_late_days"], want["relief_late_days"])
                    ends = {x["instrument"]: x["earliest_min"] for x in found["impossible"]}
                    self.assertEqual(ends, want["earliest_min"])
                    continue
                for name in ("late_days", "moved", "setups", "sum_end_days", "cost"):
                    self.assertEqual(found[name], want[name], name)

    def test_their_plans_are_clean_and_cost_what_they_say(self):
        from ravden.core.schedule.problem import Placed, Session

        for case in CASES:
            if "plan" not in case:
                continue
            p, told = problem(case["input"]), case["plan"]
            ids = {(job.id, s.id): (j, k) for j, job in enumerate(p.jobs) for k, s in enumerate(job.steps)}
            opened = p.open_session
            placed = {
                ids[s["instrument"], s["step"]]: Placed(
                    who=s["who"], starts_min=tuple(s["starts_min"]), scuff_min=s["scuff_min"],
                    scuff_who=s.get("scuff_who"), cabinet=s["cabinet"],
                ) for s in told["steps"]
            }  # fmt: skip
            sessions = tuple(
                Session(**s, loaded=opened is not None and s["from_min"] == opened.since_min) for s in told["sessions"]
            )
            plan = Plan(placed=placed, sessions=sessions)
            self.assertEqual(verify(p, plan), (), case["name"])
            found = figures(p, plan)
            for name in ("late_days", "moved", "setups", "sum_end_days"):
                self.assertEqual(getattr(found, name), told[name])

    def test_without_the_solver_there_is_a_plan_and_no_proof(self):
        with mock.patch.object(exact, "available", lambda: False):
            for case in CASES[:3]:
                found = run("schedule", json.dumps({**case["input"], "effort": {"rounds": 4}}).encode())
                self.assertEqual(found["status"], "found")
                self.assertLessEqual(found["late_days"], case["expect"]["late_days"] + 1)


class Clean(unittest.TestCase):
    @settings(max_examples=10)
    @given(st.integers(0, 10_000), st.integers(1, 6), st.integers(1, 2))
    def test_every_plan_keeps_every_rule(self, seed, pieces, people):
        p = problem(shop(seed, pieces, people))
        first = dispatch(p).plan
        self.assertEqual(verify(p, first), ())
        search = Renewal(p, first, FRESH, seed)
        search.turn(0.5, 30)
        self.assertEqual(verify(p, search.best), ())
        self.assertLessEqual(search.key, FRESH.key(p, first))
        neat = tidied(p, search.best)
        self.assertEqual(verify(p, neat), ())
        self.assertEqual(replace(figures(p, neat), idle_min=0), replace(figures(p, search.best), idle_min=0))
        self.assertLessEqual(figures(p, neat).idle_min, figures(p, search.best).idle_min)

    def test_a_day_begins_no_sooner_than_its_booth_wants(self):
        prepare = {"id": "prepare", "kind": "hand", "hands_min": 60}
        coat = {"id": "coat", "kind": "coats", "material": "lacquer", "coats": 1, "coat_min": 10,
                "flash_min": [30, 60], "since_min": 0, "wait_min": 15 * 60, "after": None}  # fmt: skip
        case = {**shop(1, 1), "now_min": 0, "instruments": [
            {"id": "harp", "steps": [prepare]}, {"id": "viola", "steps": [coat]},
        ]}  # fmt: skip
        p = problem(case)
        plan = dispatch(p).plan
        self.assertEqual([plan.placed[j, 0].starts_min for j in (0, 1)], [(8 * 60,), (15 * 60,)])
        neat = tidied(p, plan)
        self.assertEqual([neat.placed[j, 0].starts_min for j in (0, 1)], [(13 * 60 + 50,), (15 * 60,)])
        self.assertEqual(figures(p, neat).idle_min, 0)
        pinned = problem({**case, "instruments": [
            {"id": "harp", "steps": [{**prepare, "pin": {"at_min": 480}}]}, {"id": "viola", "steps": [coat]},
        ]})  # fmt: skip
        self.assertEqual(tidied(pinned, dispatch(pinned).plan).placed[0, 0].starts_min, (480,))

    @settings(max_examples=3)
    @given(st.integers(0, 10_000))
    def test_what_is_at_once_never_beats_what_is_proved(self, seed):
        p = problem(shop(seed, 2))
        best = improve(p, FRESH, Effort(rounds=1))
        if best.proved:
            self.assertEqual(verify(p, best.plan), ())
            for order in ((0, 1), (1, 0)):
                self.assertLessEqual(FRESH.key(p, best.plan), FRESH.key(p, dispatch(p, order).plan))

    def test_the_same_seed_gives_the_same_bytes(self):
        case = {**shop(5, 7, 2), "effort": {"rounds": 2, "seed": 3}, "odds": {"samples": 50}}
        one, two = (run("schedule", json.dumps(case).encode()) for _ in range(2))
        self.assertEqual(json.dumps(one), json.dumps(two))

    def test_small_exact_models_leave_the_others_where_they_are(self):
        p = problem(shop(8, 6))
        base = dispatch(p).plan
        found = exact.around(p, base, frozenset({0, 1}), {"late_days": 1000, "cost": 1}, deterministic=1.0)
        self.assertIsNotNone(found.plan)
        self.assertEqual(verify(p, found.plan), ())
        self.assertLessEqual(FRESH.key(p, found.plan), FRESH.key(p, base))
        for key, placed in base.placed.items():
            if key[0] > 1:
                self.assertEqual(found.plan.placed[key], placed)

    def test_days_that_are_closed_have_no_work(self):
        def days(case):
            return {t // 1440 for p in dispatch(problem(case)).plan.placed.values() for t in p.starts_min}

        shut = sorted(days(shop(3, 4)))[1:4]
        self.assertFalse(set(shut) & days({**shop(3, 4), "closed_days": shut}))
        with self.assertRaisesRegex(InputError, "closed_days"):
            problem({**shop(3, 4), "closed_days": [-1]})

    def test_names_change_nothing(self):
        case = shop(3, 2, 2)
        other = copy.deepcopy(case)
        for n, instrument in enumerate(other["instruments"]):
            instrument["id"] = f"other {n}"
        for person, name in zip(other["people"], ("Zo", "Ann"), strict=True):
            person["name"] = name
        with mock.patch.object(exact, "available", lambda: False):
            a, b = (run("schedule", json.dumps({**c, "effort": {"rounds": 2}}).encode()) for c in (case, other))
        self.assertEqual([s["starts_min"] for s in a["steps"]], [s["starts_min"] for s in b["steps"]])


FAULTS = {
    "grid": lambda d, s, p: {"starts_min": tuple(t + 1 for t in p.starts_min)},
    "before now": lambda d, s, p: {"starts_min": tuple(t - p.starts_min[0] for t in p.starts_min)},
    "nobody": lambda d, s, p: {"who": "Nobody"},
    "at night": lambda d, s, p: {"starts_min": tuple(t - p.starts_min[0] % 1440 + 120 for t in p.starts_min)},
    "too soon": lambda d, s, p: {"starts_min": tuple(t - 1440 for t in p.starts_min)} if s.after is not None else {},
    "flash": lambda d, s, p: (
        {"starts_min": (p.starts_min[0], *(t + 200 for t in p.starts_min[1:]))} if s.coats > 1 else {}
    ),
    "a coat less": lambda d, s, p: {"starts_min": p.starts_min[1:]} if s.coats > 1 else {},
    "a scuff by nobody": lambda d, s, p: {"scuff_who": None} if p.scuff_min is not None else {},
    "a scuff too soon": lambda d, s, p: {"scuff_min": p.scuff_min - 1440} if p.scuff_min is not None else {},
    "a scuff not wanted": lambda d, s, p: {"scuff_min": p.starts_min[0]} if s.scuff is None else {},
    "a cabinet that is not": lambda d, s, p: {"cabinet": True} if s.cabinet_wait_min is None else {},
    "far away": lambda d, s, p: {"starts_min": tuple(t + 400 * 1440 for t in p.starts_min)},
}  # fmt: skip
SESSION_FAULTS = {
    "none": lambda s: None, "short": lambda s: replace(s, to_min=s.to_min - 30),
    "late": lambda s: replace(s, from_min=s.from_min + 15), "others": lambda s: replace(s, who="Mirre"),
    "other day": lambda s: replace(s, from_min=s.from_min + 1440, to_min=s.to_min + 1440),
    "loaded": lambda s: replace(s, loaded=True), "off the grid": lambda s: replace(s, from_min=s.from_min - 2),
}  # fmt: skip


class Faults(unittest.TestCase):
    def test_every_fault_that_is_put_in_is_found(self):
        tried = 0
        for seed in range(5):
            p = problem(shop(seed, 5, 2))
            plan = dispatch(p).plan
            self.assertEqual(verify(p, plan), ())
            for key, placed in plan.placed.items():
                for name, spoil in FAULTS.items():
                    change = spoil(p, p.jobs[key[0]].steps[key[1]], placed)
                    if change:
                        spoilt = {**plan.placed, key: replace(placed, **change)}
                        self.assertTrue(verify(p, Plan(placed=spoilt, sessions=plan.sessions)), (seed, key, name))
                        tried += 1
                missing = {k: v for k, v in plan.placed.items() if k != key}
                self.assertTrue(verify(p, Plan(placed=missing, sessions=plan.sessions)))
            for n, session in enumerate(plan.sessions):
                for name, spoil in SESSION_FAULTS.items():
                    other = spoil(session)
                    rest = [*plan.sessions[:n], *([other] if other else []), *plan.sessions[n + 1 :]]
                    self.assertTrue(verify(p, Plan(placed=plan.placed, sessions=tuple(rest))), (seed, n, name))
                    tried += 1
        self.assertGreater(tried, 500)

    def test_two_things_at_once(self):
        codes = set()
        for seed in range(20):
            p = problem(shop(seed, 5, 1))
            plan = dispatch(p).plan
            hands = [k for k in plan.placed if not p.jobs[k[0]].steps[k[1]].sprayed]
            a, b = random.Random(seed).sample(hands, 2)
            moved_to = replace(plan.placed[a], starts_min=plan.placed[b].starts_min, who=plan.placed[b].who)
            codes |= {x.code for x in verify(p, Plan(placed={**plan.placed, a: moved_to}, sessions=plan.sessions))}
        self.assertIn("hands", codes)

    def test_places_that_are_full(self):
        case = shop(4, 6, 2)
        p = problem(case)
        plan = dispatch(p).plan
        self.assertTrue(any(x.cabinet for x in plan.placed.values()))
        fewer = problem({**case, "cabinet_places": 0})
        self.assertIn("cabinet-full", {x.code for x in verify(fewer, plan)})
        narrow = problem({**case, "arbors": 0})
        self.assertIn("arbor", {x.code for x in verify(narrow, plan)})
        wet = problem({**case, "drying_places": 0})
        self.assertIn("drying", {x.code for x in verify(wet, plan)})
        one = problem({**case, "drying_places": 1})
        self.assertEqual(verify(one, dispatch(one).plan), ())


class Kept(unittest.TestCase):
    def test_nothing_changed_moves_nothing(self):
        for seed in range(10):
            case = shop(seed, 6, 2)
            p = problem(case)
            plan = dispatch(p).plan
            again = problem({**case, "previous": as_previous(p, plan)})
            self.assertEqual(cannot_stand(again), set())
            self.assertEqual(moved(again, keep(again)), 0)

    def test_a_day_away_moves_less_than_a_new_plan_does(self):
        fewer = whole = 0
        for seed in range(8):
            case = shop(seed, 8, 2)
            p = problem(case)
            plan = dispatch(p).plan
            away = copy.deepcopy(case)
            away["people"][0]["away"] = [[1440, 3 * 1440]]
            again = problem({**away, "previous": as_previous(p, plan)})
            kept = keep(again)
            self.assertEqual(verify(again, kept), ())
            self.assertTrue(cannot_stand(again))
            fewer += moved(again, kept)
            whole += moved(again, dispatch(again).plan)
        self.assertLess(fewer, 0.9 * whole)

    def test_the_two_offers_differ_in_what_they_put_first(self):
        case = CASES[5]["input"]
        p = problem(case)
        changes = improve(p, FEWEST_CHANGES, Effort(rounds=2), keep(p)).plan
        late = improve(p, FEWEST_LATE, Effort(rounds=2), keep(p)).plan
        self.assertLess(figures(p, changes).moved, figures(p, late).moved)
        self.assertLess(figures(p, late).late_days, figures(p, changes).late_days)
        self.assertEqual(AIMS["fresh"], FRESH)


class Promised(unittest.TestCase):
    def test_without_noise_the_odds_are_the_plan(self):
        for seed in range(10):
            p = problem(calm(shop(seed, 5, 2)))
            plan = dispatch(p).plan
            ends = sampled_ends(p, plan, NONE)
            for j in range(len(p.jobs)):
                self.assertEqual(set(ends[j] * GRID), {job_end(p, plan, j)}, (seed, j))

    def test_an_earlier_promise_is_less_likely(self):
        case = shop(2, 4)
        p = problem(case)
        plan = dispatch(p).plan
        told = []
        for days in (-2, 0, 2, 6):
            jobs = tuple(replace(job, promised_min=job_end(p, plan, j) + days * 1440) for j, job in enumerate(p.jobs))
            told.append(odds(replace(p, jobs=jobs), plan, Draw(samples=400)))
        for j in range(len(p.jobs)):
            row = [t[j] for t in told]
            self.assertEqual(row, sorted(row))
            self.assertEqual(row[0], 0.0)
            self.assertGreater(row[-1], 0.8)

    def test_bad_days_and_illness_make_it_less_likely(self):
        case = shop(6, 4)
        usual = {**case, "instruments": [{**x, "promised_min": 30 * 1440} for x in case["instruments"]]}
        often = copy.deepcopy(usual)
        for paint in often["materials"].values():
            paint["bad_odds"] = 0.7
        p, q = problem(usual), problem(often)
        plan = dispatch(p).plan
        means = [
            sum(e.mean() for e in sampled_ends(which, plan, Draw(samples=300, sick_odds=ill)).values())
            for which, ill in ((p, 0.0), (q, 0.0), (p, 0.4))
        ]
        self.assertGreater(means[1], means[0])
        self.assertGreater(means[2], means[0])

    def test_what_has_the_same_name_has_the_same_luck(self):
        """Another instrument that other hands work on changes nobody's odds; a person's illness is one for all."""
        alone = problem(shop(3, 1, week=HOURS))
        plan, draw = dispatch(alone).plan, Draw(samples=500, sick_odds=0.1)
        ends = sampled_ends(alone, plan, draw)[0]
        self.assertGreater(len(set(ends)), 20)
        other = problem(shop(8, 1, week=HOURS))
        more = replace(other.jobs[0], id="another")
        both = replace(
            alone, jobs=(more, *alone.jobs), people=(replace(alone.people[0], name="Mirre"), *alone.people),
            horizon_days=max(alone.horizon_days, other.horizon_days), materials={**other.materials, **alone.materials},
        )  # fmt: skip
        theirs = {
            (0, k): replace(p, who="Mirre", scuff_who=p.scuff_who and "Mirre")
            for (_, k), p in dispatch(other).plan.placed.items()
        }
        mine = {(1, k): p for (_, k), p in plan.placed.items()}
        again = sampled_ends(both, Plan(placed={**theirs, **mine}), draw)
        self.assertEqual(list(again[1]), list(ends))
        self.assertNotEqual(list(again[0])[:50], list(ends)[:50])
        self.assertNotEqual(list(sampled_ends(alone, plan, replace(draw, seed=2))[0]), list(ends))

    def test_waits_spread_as_they_are_told(self):
        """One long wait alone: the end lies as far about its likely length as its spread says."""
        day = [[[0, 1440]]] * 7
        case = {"people": [{"name": "Odd", "week": day}], "materials": {}, "horizon_days": 200, "instruments": [
            {"id": "one", "steps": [
                {"id": "prepare", "kind": "hand", "hands_min": 5},
                {"id": "level", "kind": "hand", "hands_min": 5, "wait_min": 20 * 1440, "wait_sd": 0.25},
            ]}]}  # fmt: skip
        p = problem(case)
        plan = dispatch(p).plan
        early = Plan(placed={**plan.placed, (0, 1): replace(plan.placed[0, 1], starts_min=(10,))})
        ends = sampled_ends(p, early, Draw(samples=4000, sick_odds=0.0, hand_sd=0.0))[0] * GRID / 1440
        ln = np.log(ends / 20)
        self.assertAlmostEqual(ln.mean(), 0.0, delta=0.02)
        self.assertAlmostEqual(ln.std(), 0.25, delta=0.01)

    def test_why_it_is_over_when_it_is(self):
        p = problem(CASES[1]["input"])
        plan = improve(p, FRESH, Effort(rounds=1)).plan
        for j, job in enumerate(p.jobs):
            chain = because(p, plan, j)
            self.assertLessEqual(len(chain), 6)
            self.assertEqual(chain[0].step, job.steps[-1].id)
            for link in chain:
                self.assertIn(link.code, ("film", "hands", "shut", "air", "company", "pin", "day", "needs", "begin"))
                self.assertGreaterEqual(link.wait_min, 0)
        self.assertIn("film", {link.code for j in range(len(p.jobs)) for link in because(p, plan, j)})

    def test_can_it_be_ready_by_then(self):
        p = problem(shop(11, 5))
        plan = dispatch(p).plan
        last = max(range(len(p.jobs)), key=lambda j: job_end(p, plan, j))
        found = squeeze(p, plan, last, 1440 * 9, Effort(rounds=1))
        self.assertLessEqual(found.alone_min, found.first.end_min)
        self.assertLessEqual(found.best.end_min, job_end(p, plan, last))
        for way in (found.first, found.best):
            self.assertEqual(verify(p, way.plan), ())
            for other in way.others:
                self.assertNotEqual(other.late_days, other.before)


OPEN = {"material": "lacquer", "who": "Odd", "since_min": 480}


class CannotBe(unittest.TestCase):
    def ask(self, **change):
        return run("schedule", json.dumps({**shop(1, 2), "effort": {"rounds": 0}, **change}).encode())

    def test_results_that_are_no_plan(self):
        short = self.ask(horizon_days=3)
        self.assertEqual(short["status"], "none")
        case = shop(1, 2)
        case["instruments"][0]["steps"][0]["pin"] = {"at_min": 2 * 1440 + 120}  # in the night
        pinned = run("schedule", json.dumps({**case, "effort": {"rounds": 0}}).encode())
        self.assertEqual((pinned["status"], pinned["pin"]), ("impossible", ["piece 0", "prepare"]))
        alone = shop(1, 2)
        alone["instruments"][1] |= {"firm": True, "promised_min": 600}
        firm = run("schedule", json.dumps({**alone, "effort": {"rounds": 0}}).encode())
        self.assertEqual((firm["status"], firm["clash"]), ("impossible", ["piece 1"]))

    def test_a_promise_in_the_past_is_late_and_no_error(self):
        case = shop(1, 2)
        case["instruments"][0]["promised_min"] = -2880
        found = run("schedule", json.dumps({**case, "effort": {"rounds": 0}}).encode())
        self.assertGreater(found["late_days"], 2)

    def test_nothing_left_to_do(self):
        found = self.ask(instruments=[])
        self.assertEqual((found["status"], found["steps"], found["cost"]), ("found", [], 0))

    def test_pins_hold(self):
        case = shop(1, 2, 2)
        case["instruments"][0]["steps"][0]["pin"] = {"day": 4, "who": "Mirre"}
        case["instruments"][1]["steps"][0]["pin"] = {"not_before_min": 3 * 1440}
        found = run("schedule", json.dumps({**case, "effort": {"rounds": 1}}).encode())
        first = {s["instrument"]: s for s in found["steps"] if s["step"] == "prepare"}
        self.assertEqual((first["piece 0"]["who"], first["piece 0"]["starts_min"][0] // 1440), ("Mirre", 4))
        self.assertGreaterEqual(first["piece 1"]["starts_min"][0], 3 * 1440)

    def test_bad_input_with_its_path(self):
        base, steps = shop(1, 2), [{"id": "a", "kind": "hand", "hands_min": 60}]
        coats = {"id": "c", "kind": "coats", "material": "lacquer", "coats": 2, "coat_min": 10, "flash_min": [30, 60]}

        def with_steps(*more):
            return {"instruments": [{"id": "x", "steps": [*steps, *more]}]}

        at = "instruments[0].steps[1]"
        for change, path in (
            ({"people": []}, "people"), ({"people": [base["people"][0]] * 2}, "people[1].name"),
            ({"people": [{"name": "A", "week": HOURS[:6]}]}, "people[0].week"),
            ({"people": [{"name": "A", "week": [[[600, 500]], *HOURS[1:]]}]}, "people[0].week[0][0]"),
            ({"people": [{"name": "A", "week": [[[601, 700]], *HOURS[1:]]}]}, "people[0].week[0][0]"),
            ({"people": [{"name": "A", "week": HOURS, "spray": False}]}, "people"),
            ({"now_min": 3}, "now_min"), ({"horizon_days": 401}, "horizon_days"),
            ({"first_weekday": 7}, "first_weekday"),
            ({"instruments": [base["instruments"][0]] * 2}, "instruments[1].id"),
            (with_steps(steps[0]), "instruments[0].steps[1].id"),
            (with_steps({**coats, "material": "tar"}), f"{at}.material"),
            (with_steps({**coats, "flash_min": [60, 30]}), f"{at}.flash_min"),
            (with_steps({**coats, "hands_min": 5}), f"{at}.hands_min"),
            (with_steps({"id": "b", "kind": "hand"}), f"{at}.hands_min"),
            (with_steps({**coats, "after": "z"}), f"{at}.after"),
            (with_steps({**coats, "needs": ["c"]}), f"{at}.needs[0]"),
            (with_steps({**coats, "coats": 60}), f"{at}.coats"),
            (with_steps({"id": "b", "kind": "hand", "hands_min": 600}), f"{at}.hands_min"),
            (with_steps({**coats, "wait_min": [[0, 100], [0, 50]]}), f"{at}.wait_min[1]"),
            (with_steps({**coats, "wait_min": [[0, 9000], [1, 100]]}), f"{at}.wait_min[1]"),
            (with_steps({**coats, "wait_min": 100, "shuts_min": 50}), f"{at}.shuts_min"),
            (with_steps({**coats, "wet_min": 60}, {"id": "d", "kind": "hand", "hands_min": 5}),
             "instruments[0].steps[2].wait_min"),
            (with_steps({**coats, "pin": {"who": "Z"}}), f"{at}.pin.who"), ({"mode": "fewest_changes"}, "mode"),
            ({"in_cabinet": [{"until_min": 5}] * 2}, "in_cabinet"),
            ({"open_session": {**OPEN, "material": "tar"}}, "open_session.material"),
            ({"open_session": {**OPEN, "who": "Z"}}, "open_session.who"),
            ({"open_session": {**OPEN, "since_min": 600}}, "open_session.since_min"),
            ({"previous": {"steps": [{"instrument": "z", "step": "a", "who": "Odd", "starts_min": [0]}]}},
             "previous.steps[0].instrument"),
            ({"squeeze": {"instrument": "z", "by_min": 5}}, "squeeze.instrument"),
            ({"odds": {"samples": 0}}, "odds.samples"), ({"effort": {"rounds": 1, "seconds": 1}}, "effort"),
            ({"shine": 1}, ""),
        ):  # fmt: skip
            with self.subTest(path), self.assertRaises(InputError) as caught:
                self.ask(**change)
            self.assertEqual(caught.exception.path, path)
