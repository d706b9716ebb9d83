"""``ravden compute plan``: what the trade would accept, what the shop's hours allow, and what is refused."""

import itertools
import json
import random
import unittest
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import msgspec

from ravden.app import compute
from ravden.app.plan_case import PlanIn, told
from ravden.app.plan_of import plan_of
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.exchange.compute import decoded
from ravden.journal.entry import Entry
from ravden.journal.fold import fold
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.zones import ZonesSet
from ravden.text.say import fault
from tests import practice

BERLIN = ZoneInfo("Europe/Berlin")
EVENINGS = {
    "mon": [["18:00", "21:00"]], "tue": [["18:00", "21:00"]], "thu": [["18:30", "22:00"]],
    "sat": [["09:00", "12:00"], ["13:00", "17:30"]],
}  # fmt: skip
DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def plan(**case):
    """The answer for a case from nine in the morning of a day in winter."""
    whole = {"start": "2026-01-12T09:00:00+00:00", "now_h": 0} | case
    return compute.run("plan", json.dumps(whole).encode())


def at(text):
    return datetime.fromisoformat(text)


def hands(answer):
    """Every stretch of hands, in order, with the step it is of."""
    rows = [(at(a), at(b), s) for s in answer["steps"] for a, b in s.get("hands", ())]
    return sorted(rows, key=lambda row: row[0])


def answers(case):
    """What the cases ask of a plan: fitted to the least film at 20 C and 50 %, worked eight to eight."""
    given = {"kind" if k == "instrument" else k: v for k, v in case["input"].items() if k != "machine"}
    found = plan(instrument=given, machine=case["input"].get("machine", "hand"), fit=True)
    ladder = found["ladder"]["sequence"]
    out = {
        "own_coats": found["coats"]["planned"], "film_um": max(z["mean_um"] for z in found["zones"]),
        "refused": float(not ladder), "ladder_steps": len(ladder),
        "ladder_polishes": sum(s["grade"].startswith("COMPOUND") for s in ladder),
    }  # fmt: skip
    minutes = sum(s["minutes"] for s in ladder)
    out |= {
        "finished_h": (at(found["ready"]["likely"]) - at("2026-01-12T09:00:00+00:00")).total_seconds() / 3600,
        "ladder_min": minutes, "first_d50": ladder[0]["d50_um"] if ladder else None,
        "last_is_wool": float(bool(ladder) and "WOOL" in ladder[-1]["grade"]),
        "ml_oil": found["ml_total"].get("polymerising-oil", 0.0),
    }  # fmt: skip
    body = [s for s in found["steps"] if s["kind"] == "coats" and "zones" not in s]
    levels = [s for s in found["steps"] if s["kind"] == "level"]
    finish = next((s for s in found["steps"] if s["kind"] == "finish"), None)
    if levels:
        out["level_min"] = sum((at(b) - at(a)).total_seconds() / 60 for a, b in levels[0]["hands"])
        out["last_level_min"] = sum((at(b) - at(a)).total_seconds() / 60 for a, b in levels[-1]["hands"])
        d50 = {a.id: a.d50_um for a in shipped().abrasives}
        out["last_level_d50"] = d50[levels[-1]["grades"][0]]
    if finish is not None and body:
        out["refit_after_h"] = (at(finish["hands"][0][0]) - at(body[-1]["hands"][-1][0])).total_seconds() / 3600
    lights = [s for s in found["steps"] if s["kind"] == "light"]
    if lights and body:
        out["light_after_h"] = (at(lights[-1]["hands"][0][0]) - at(body[-1]["hands"][-1][1])).total_seconds() / 3600
    last, nth, windows = None, 0, iter(found["windows"])
    window = None
    for step in found["steps"]:
        if step["kind"] == "coats" and "zones" not in step:
            last = at(step["hands"][-1][0])
        elif step["kind"] == "wait" and "zones" not in step:
            window = next(windows)
        elif step["kind"] == "level":
            for end in ("early", "likely", "late"):
                hours = (at(window[end]) - last).total_seconds() / 3600
                out[f"level_{'wait' if end == 'likely' else end}_h:{nth}"] = hours
            nth += 1
    return out


class Practice(unittest.TestCase):
    def test_every_plan_is_inside_the_trade_s_range(self):
        cases = practice.of_kind("plan")
        self.assertEqual(len(cases), 14)
        for case in cases:
            with self.subTest(case=case["id"], why=case["why"]):
                self.assertEqual(practice.outside(case, answers(case)), [])


class InTheShopsHours(unittest.TestCase):
    def check(self, answer, hours, closed=()):
        rows = hands(answer)
        self.assertGreater(len(rows), 8)
        for (_, end, one), (begin, _, other) in itertools.pairwise(rows):
            self.assertLessEqual(end, begin, (one["label"], other["label"]))
        for begin, end, step in rows:
            here, there = begin.astimezone(BERLIN), end.astimezone(BERLIN)
            self.assertNotIn(here.date().isoformat(), closed)
            spans = hours.get(DAYS[here.weekday()], [])
            inside = any(a <= f"{here:%H:%M}" and f"{there:%H:%M}" <= b for a, b in spans)
            self.assertTrue(inside and here.date() == there.date(), (step["label"], here, there))

    def test_evenings_and_a_saturday_with_a_holiday(self):
        for method in ("lacquer-fine-start", "two-part-clear", "light-cured-polyester", "violin-varnish"):
            kind = "violin" if method.startswith("violin") else "solid-body"
            closed = ["2026-03-17", "2026-03-21"]
            found = plan(
                start="2026-03-09T09:00+01:00", zone="Europe/Berlin", hours=EVENINGS, closed=closed,
                instrument={"kind": kind, "method": method, "ground": "close-grain"},
            )  # fmt: skip
            with self.subTest(method=method):
                self.check(found, EVENINGS, closed)

    def test_when_the_clocks_go_forward_the_shop_opens_by_the_clock(self):
        found = plan(
            start="2026-03-27T12:00+01:00", zone="Europe/Berlin",
            hours={d: [["08:00", "12:00"]] for d in DAYS}, instrument={"kind": "solid-body", "method": "oil-wiped"},
        )  # fmt: skip
        self.check(found, {d: [["08:00", "12:00"]] for d in DAYS})
        offsets = {at(b).astimezone(BERLIN).utcoffset() for b, _, _ in [(s[0].isoformat(), 0, 0) for s in hands(found)]}
        self.assertEqual(len(offsets), 2)

    def test_a_coat_too_late_to_hold_is_scuffed_for(self):
        weekends = {"sat": [["09:00", "17:00"]]}
        found = plan(hours=weekends, instrument={"kind": "solid-body", "method": "waterborne-sprayed"})
        scuffs = [s for s in found["steps"] if s["kind"] == "scuff"]
        self.assertTrue(any("within" in s for s in scuffs))
        self.assertIn("LATE_COATS", [r["code"] for r in found["remarks"]])
        daily = plan(instrument={"kind": "solid-body", "method": "lacquer-fine-start"})
        self.assertFalse(any("within" in s for s in daily["steps"]))

    def test_cold_air_keeps_coats_further_apart_than_habit(self):
        one = {"kind": "solid-body", "method": "kit-in-a-week"}
        gaps = []
        for temp_C in (22, 8):
            found = plan(instrument=one, air=[{"at_h": 0, "temp_C": temp_C, "rh": 0.5}])
            build = next(s for s in found["steps"] if s["kind"] == "coats" and s["coats"] > 2)
            starts = [at(a) for a, _ in build["hands"]]
            gaps.append(min(b - a for a, b in itertools.pairwise(starts)))
        self.assertEqual(gaps[0], timedelta(hours=1))
        self.assertGreater(gaps[1], timedelta(hours=1.3))

    def test_zones_in_another_finish_wait_for_their_own_film(self):
        one, gaps = {"kind": "violin", "method": "violin-varnish"}, []
        for temp_C in (20, 10):
            found = plan(instrument=one, air=[{"at_h": 0, "temp_C": temp_C, "rh": 0.5}])
            neck = next(s for s in found["steps"] if s["kind"] == "coats" and s.get("zones") == ["neck"])
            starts = [at(a) for a, _ in neck["hands"]]
            gaps.append(min(b - a for a, b in itertools.pairwise(starts)))
        self.assertLessEqual(gaps[0], timedelta(hours=25))
        self.assertGreater(gaps[1], timedelta(hours=28))


class TheSameAsTheWindow(unittest.TestCase):
    START = datetime(2026, 5, 4, 7, tzinfo=UTC)

    def both(self, instrument, dated):
        """The plan a case gives, and that of a shop file with the same entries."""
        acts = [{"at_h": h, **msgspec.to_builtins(body)} for h, body in dated]
        case = {"start": self.START.isoformat(), "now_h": 90.0, "acts": acts, "fit": False, "instrument": instrument}
        raw = json.dumps(case).encode()
        found = compute.run("plan", raw)
        first = next(iter(told(decoded(raw, PlanIn), shipped()).shop.racked.values()))
        entries = [Entry(id=1, at=self.START, logged_at=self.START, instrument="", body=_added(first))]
        entries += [
            Entry(id=i, at=self.START + timedelta(hours=h), logged_at=self.START, instrument="instrument", body=b)
            for i, (h, b) in enumerate(dated, start=2)
        ]
        return found, plan_of(fold(entries, shipped()), "instrument", self.START + timedelta(hours=90))

    def check_same(self, found, window):
        ahead = [(window.method.stage[s.index].label, s.from_h) for s in window.forward.steps]
        mine = [
            (s["label"], (at(s["begins"]) - self.START).total_seconds() / 3600)
            for s in found["steps"] if s["begins"] and "within" not in s and s["state"] != "done"
        ]  # fmt: skip
        self.assertEqual([label for label, _ in mine], [label for label, _ in ahead])
        for (label, hour), (_, other) in zip(mine, ahead, strict=True):
            self.assertAlmostEqual(hour, other, delta=1 / 1800, msg=label)
        for z in found["zones"]:
            self.assertAlmostEqual(z["now_um"], next(w for w in window.zones if w.name == z["name"]).film.mean_um)

    def test_random_journals_have_one_plan(self):
        bodies = (("lacquer-fine-start", "solid-body"), ("shellac-pad-rounds", "parlour-guitar"),
                  ("waterborne-sprayed", "tenor-ukulele"), ("oil-wiped", "bass"))  # fmt: skip
        for seed, (method, kind) in enumerate(bodies):
            with self.subTest(method=method):
                dice = random.Random(seed)
                hour, dated = 24.0, []
                for _ in range(dice.randint(2, 9)):
                    hour += dice.uniform(1.0, 7.0)
                    dated.append((hour, CoatLogged(dry_um=round(dice.uniform(2, 12), 2), count=dice.randint(1, 2))))
                    if dice.random() < 0.3:
                        dated.append((hour + 0.5, ReadingLogged(zone="top", um=round(dice.uniform(5, 60), 1), n=3)))
                    if dice.random() < 0.3:
                        dated.append((hour + 0.7, SandingLogged(um=0.5, grade="P400", purpose="scuff")))
                self.check_same(*self.both({"kind": kind, "method": method}, dated))

    def test_steps_and_film_are_those_of_the_journal(self):
        dated = [(30.0, CoatLogged(dry_um=12.0, count=3)), (54.0, CoatLogged(dry_um=12.0, count=3)),
                 (80.0, SandingLogged(um=2.0, purpose="scuff")), (81.0, ZonesSet(masked=("head",)))]  # fmt: skip
        found, window = self.both({"kind": "solid-body", "method": "lacquer-fine-start"}, dated)
        self.check_same(found, window)
        head = next(z for z in found["zones"] if z["name"] == "head")
        self.assertEqual(head["now_state"], "masked")
        self.assertEqual(found["coats"]["laid"], 6)

    def test_done_next_and_skipped_are_told(self):
        found = plan(
            now_h=6, acts=[{"at_h": 2, "kind": "step", "step": "Sand the bare wood"},
                           {"at_h": 3, "kind": "step", "step": "Fill the pores", "skipped": True}],
            instrument={"kind": "solid-body", "method": "lacquer-fine-start"},
        )  # fmt: skip
        states = [s["state"] for s in found["steps"]]
        self.assertEqual(states[:3], ["done", "skipped", "next"])
        self.assertEqual(set(states[3:]), {"planned"})
        self.assertEqual(found["steps"][0]["ends"], "2026-01-12T11:00:00+00:00")


def _added(rack):
    from ravden.journal.kinds.instrument import InstrumentAdded

    i = rack.instrument
    return InstrumentAdded(
        id=i.id, name=i.name, instrument_kind=i.kind, measures=i.measures, material=i.material, method=i.method,
        sheen=i.sheen, min_film_um=i.min_film_um, ground=i.ground,
    )  # fmt: skip


class WhatIsSaid(unittest.TestCase):
    def test_where_nothing_dries_it_says_so(self):
        for air, method in (((20, 0.97), "waterborne-sprayed"), ((2, 0.5), "two-part-clear")):
            found = plan(
                air=[{"at_h": 0, "temp_C": air[0], "rh": air[1]}], instrument={"kind": "solid-body", "method": method}
            )
            with self.subTest(method=method):
                last = found["windows"][-1]
                self.assertIsNone(last["likely"])
                remark = next(r for r in found["remarks"] if r["code"] == "NEVER_DRIES")
                self.assertEqual((remark["temp_C"], remark["rh"]), air)
                self.assertEqual(found["ready"]["likely"], None)

    def test_light_is_a_step_and_a_lamp_is_asked_for(self):
        one = {"kind": "solid-slab", "method": "light-cured-polyester"}
        found = plan(instrument=one)
        lights = [s for s in found["steps"] if s["kind"] == "light"]
        coats = sum(s["coats"] for s in found["steps"] if s["kind"] == "coats")
        self.assertEqual(len(lights), coats)
        self.assertIn("NO_LAMP", [r["code"] for r in found["remarks"]])
        self.assertGreater(lights[-1]["dose_mJ_cm2"], 3 * lights[0]["dose_mJ_cm2"])
        for light in lights:
            self.assertGreater(light["hands_min"], 5)

    def test_amounts_are_by_material(self):
        found = plan(
            instrument={"kind": "parlour-guitar", "method": "shellac-under-waterborne", "ground": "open-grain"}
        )
        by_step = [s for s in found["steps"] if "ml" in s]
        self.assertEqual(set(found["ml_total"]), {"shellac-pad", "waterborne"})
        self.assertAlmostEqual(sum(s["ml"] for s in by_step), sum(found["ml_total"].values()))

    def test_the_ladder_s_grades_are_in_the_steps(self):
        found = plan(instrument={"kind": "solid-body", "method": "lacquer-fine-start"}, machine="orbital")
        level, rub = (next(s for s in found["steps"] if s["kind"] == k) for k in ("level", "rub-out"))
        self.assertEqual(level["grades"] + rub["grades"], [s["grade"] for s in found["ladder"]["sequence"]])
        self.assertEqual(set(found["ladder"]["zones"].values()) - {"worked", "lightly", "kept_off"}, set())


ONE = {"kind": "solid-body", "method": "lacquer-fine-start"}
COAT = {"at_h": 3, "kind": "coat", "dry_um": 12}
# The field that is named, what is said of it, and the case.
BAD = (
    ("start", "needs its offset", {"start": "2026-01-12T09:00"}),
    ("start", "must be a date and time", {"start": "tomorrow"}),
    ("zone", "no time zone", {"zone": "Nowhere/Land"}),
    ("now_h", "must be between 0", {"now_h": -1}),
    ("instrument.method", "unknown method magic", {"instrument": {**ONE, "method": "magic"}}),
    ("instrument.measures.nose_mm", "no measure", {"instrument": {**ONE, "measures": {"nose_mm": 3}}}),
    ("instrument.measures.length_mm", "must be between 20", {"instrument": {**ONE, "measures": {"length_mm": 3}}}),
    ("instrument.sheen", "must be one of", {"instrument": {**ONE, "sheen": "shiny"}}),
    ("hours", "never open", {"hours": {"mon": []}}),
    ("hours.mon", "such as 08:00", {"hours": {"mon": [["8 am", "12:00"]]}}),
    ("hours.monday", "must be one of", {"hours": {"monday": [["08:00", "12:00"]]}}),
    ("hours", "follow one another", {"hours": {"mon": [["12:00", "08:00"]]}}),
    ("air[1].at_h", "backwards", {"air": [{"at_h": 5, "temp_C": 20}, {"at_h": 1, "temp_C": 20}]}),
    ("drawer[0]", "not in the table", {"drawer": ["FEPA-P:P3"]}),
    ("wear.FEPA-P:P800", "must be between 0", {"wear": {"FEPA-P:P800": 3}}),
    ("usual_air", "each month", {"usual_air": [[20, 0.5]]}),
    # What the window would refuse to log is refused here.
    ("acts[0].at_h", "must not be after", {"acts": [COAT]}),
    ("acts[1].at_h", "backwards", {"now_h": 9, "acts": [COAT, {**COAT, "at_h": 1}]}),
    ("acts[0].um", "no film", {"now_h": 9, "acts": [{"at_h": 3, "kind": "sanding", "um": 3}]}),
    ("acts[0]", "dry_mils", {"now_h": 9, "acts": [{**COAT, "dry_mils": 3}]}),
    ("acts[0].kind", "dance", {"now_h": 9, "acts": [{"at_h": 1, "kind": "dance"}]}),
    ("acts[0].dose_mJ_cm2", "not cured by light",
     {"now_h": 9, "acts": [{"at_h": 1, "kind": "light", "dose_mJ_cm2": 100}]}),
    ("acts[1].zones", "is masked",
     {"now_h": 9, "acts": [{"at_h": 1, "kind": "zones", "masked": ["top"]}, {**COAT, "zones": ["top"]}]}),
)  # fmt: skip


class Refused(unittest.TestCase):
    def test_bad_input_names_its_field_and_says_why(self):
        for path, words, case in BAD:
            with self.subTest(path=path, words=words):
                with self.assertRaises(InputError) as caught:
                    plan(**({"instrument": ONE} | case))
                self.assertEqual(caught.exception.path, path)
                self.assertIn(words, fault(caught.exception))


if __name__ == "__main__":
    unittest.main()
