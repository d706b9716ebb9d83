"""Plans of any method on any body, at any stage of the work, in any hours and air: hands inside the hours and one
thing at a time, nothing in the past, and a date or the reason why there is none."""

import itertools
import json
import random
import unittest
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ravden.app import compute
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError

CATALOGUE = shipped()
DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
WEEKS = (
    {d: [["08:00", "20:00"]] for d in DAYS},
    {d: [["18:00", "22:00"]] for d in DAYS[:5]},
    {"sat": [["09:00", "12:00"], ["13:00", "18:00"]], "sun": [["10:00", "16:00"]]},
    {d: [["07:30", "12:00"], ["12:45", "17:15"]] for d in DAYS[:5]},
)
STARTS = (("2026-03-20T09:00+01:00", "Europe/Berlin"), ("2026-10-15T14:00-04:00", "America/New_York"))
CLOSED = ("2026-03-28", "2026-10-26")
SECOND = timedelta(seconds=1)


def at(text):
    return None if text is None else datetime.fromisoformat(text)


class AnyPlan(unittest.TestCase):
    def case(self, chance):
        method = chance.choice(list(CATALOGUE.methods.values()))
        start, zone = chance.choice(STARTS)
        air = [{"at_h": 0, "temp_C": chance.choice((10, 20, 30)), "rh": chance.choice((0.3, 0.5, 0.7))}]
        if chance.random() < 0.3:
            air.append({"at_h": chance.choice((40, 200)), "temp_C": chance.choice((2, 24)), "rh": 0.95})
        return {
            "start": start, "zone": zone, "now_h": 200, "air": air, "hours": chance.choice(WEEKS), "closed": CLOSED,
            "instrument": {
                "kind": chance.choice(list(CATALOGUE.kinds)), "method": method.id,
                "sheen": chance.choice(("satin", "gloss", "mirror")), "ground": chance.choice(("sealed", "open-grain")),
            },
            "acts": self.acts(chance, method) if chance.random() < 0.6 else [],
        }  # fmt: skip

    def acts(self, chance, method):
        """The first steps of a method, worked at any pace."""
        out, t = [], 0.0
        for stage in method.stage:
            count = stage.count if stage.kind == "coats" and not stage.zones else 1
            for _ in range(count):
                t += chance.choice((0.5, 1.5, 6, 20))
                if t > 190 or stage.kind == "rub-out" or stage.zones:
                    return out
                body = {
                    "coats": {"kind": "coat", "dry_um": chance.choice((3, 12, stage.um or 20)), "finish": stage.finish},
                    "scuff": {"kind": "sanding", "um": 2, "purpose": "scuff"},
                    "level": {"kind": "sanding", "um": 2, "purpose": "level"},
                }.get(stage.kind, {"kind": "step", "step": stage.label, "skipped": chance.random() < 0.1})  # fmt: skip
                if stage.kind != "wait":
                    out.append({"at_h": t, **body})
        return out

    def test_hands_hours_order_and_reasons(self):
        chance, planned = random.Random(11), 0
        for n in range(45):
            case = self.case(chance)
            try:
                found = compute.run("plan", json.dumps(case).encode())
            except InputError:
                continue  # paper on a film there was none of
            with self.subTest(n=n, method=case["instrument"]["method"]):
                self.hands(found, case)
                self.order(found, case)
                self.dates(found)
                planned += 1
        self.assertGreater(planned, 35)

    def hands(self, found, case):
        rows = sorted((at(a), at(b), s["label"]) for s in found["steps"] for a, b in s.get("hands", ()))
        for (_, end, one), (begin, _, other) in itertools.pairwise(rows):
            self.assertLessEqual(end, begin + SECOND, (one, other))
        for begin, end, label in rows:
            here, there = (t.astimezone(ZoneInfo(case["zone"])) for t in (begin, end))
            spans = case["hours"].get(DAYS[here.weekday()], ())
            inside = any(a <= f"{here:%H:%M}" and f"{there:%H:%M}" <= b for a, b in spans)
            self.assertTrue(inside and here.date().isoformat() not in CLOSED, (label, here, there))

    def order(self, found, case):
        now = last = at(case["start"]) + timedelta(hours=case["now_h"])
        for step in found["steps"]:
            if step["state"] in ("next", "planned") and step.get("begins"):
                self.assertGreaterEqual(at(step["begins"]), now - SECOND, step["label"])
                if "within" not in step and "zones" not in step:
                    self.assertGreaterEqual(at(step["begins"]), last - SECOND, step["label"])
                    last = at(step["ends"])

    def dates(self, found):
        for window in (*found["windows"], found["ready"]):
            early, likely, late = (at(window[k]) for k in ("early", "likely", "late"))
            self.assertTrue(early is None or early <= likely + SECOND, window)
            self.assertTrue(late is None or late >= likely - SECOND, window)
        why = [r["code"] for r in found["remarks"]]
        self.assertTrue(found["ready"]["likely"] is not None or {"NEVER_DRIES", "REFUSED"} & set(why), why)


if __name__ == "__main__":
    unittest.main()
