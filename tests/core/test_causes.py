"""Causes from the record: a journal built to have a cause ranks it first, and one without it does not."""

import math
import unittest
from dataclasses import replace

import msgspec
from msgspec import structs

from ravden.app.plan_case import PlanIn, told
from ravden.catalogue.tables import shipped
from ravden.core.record import MISHAPS, Mishap
from ravden.core.repair.causes import LOOKS, causes
from ravden.core.repair.evidence import POSSIBLE, VERY
from ravden.core.repair.record import Record, Settings
from ravden.text.repair_words import question


def coat(at_h, dry_um, **more):
    return {"kind": "coat", "at_h": at_h, "dry_um": dry_um, **more}


def sanding(at_h, um, purpose="level", **more):
    return {"kind": "sanding", "at_h": at_h, "um": um, "purpose": purpose, **more}


def air(temp_C, rh, at_h=0.0):
    return {"at_h": at_h, "temp_C": temp_C, "rh": rh}


def comb(at_h, low, high):
    return {"kind": "reading", "at_h": at_h, "what": "comb", "zone": "top", "um": low, "high_um": high, "landed": 0.2}


def record(what, method, acts, *, rows=(), at_h=None, told_=(), **more):
    """What the journal of one instrument holds when something is noticed an hour after the last act."""
    noticed = max(a["at_h"] for a in acts) + 1.0 if at_h is None else at_h
    case = {
        "start": "2026-03-02T09:00+01:00", "now_h": noticed, "acts": acts, "air": list(rows or (air(21, 0.45),)),
        "instrument": {"kind": "solid-body", "method": method},
    }  # fmt: skip
    found = told(msgspec.convert(case, PlanIn), shipped()).asked.run()
    mishap = Mishap(at_h=noticed, what=what, zone="top", id=99, told=told_)
    found = replace(found, project=structs.replace(found.project, acts=(*found.project.acts, mishap)))
    material = found.project.material
    return Record(
        found=found, mishap=mishap, flow=shipped().families[material.flow].flow,
        limits=shipped().booth.limits.get(material.family), overs=shipped().overs, **more,
    )  # fmt: skip


LACQUER, WATER, TWO = "lacquer-fine-start", "waterborne-sprayed", "two-part-clear"
COATS = [coat(24.0 * i + 1, 12) for i in range(8)]
DONE_H = COATS[-1]["at_h"]
LIT = {"kind": "light", "dose_mJ_cm2": 9000}
# The defect, its cause, a record that has it, and one that has not.
ROWS = (
    ("blush", "dew", record("blush", LACQUER, [coat(1, 12)], rows=[air(22, 0.86)]),
     record("blush", LACQUER, [coat(1, 12)])),
    ("milky", "too-heavy", record("milky", WATER, [coat(1, 60)]), record("milky", WATER, [coat(1, 20)])),
    ("run", "too-wet", record("run", LACQUER, [coat(1, 12), comb(1.01, 120, 140)]),
     record("run", LACQUER, [coat(1, 12), comb(1.01, 40, 50)])),
    ("run", "too-close", record("run", LACQUER, [coat(1, 8), coat(1.2, 8), comb(1.21, 30, 40)]),
     record("run", LACQUER, [coat(1, 8), coat(9, 8), comb(9.01, 30, 40)])),
    ("orange-peel", "too-dry", record("orange-peel", LACQUER, [coat(1, 3)]),
     record("orange-peel", LACQUER, [coat(1, 12)])),
    ("dry-spray", "warmer-air",
     record("dry-spray", LACQUER, [coat(1, 12), coat(25, 12)], rows=[air(18, 0.45), air(26, 0.45, 24)]),
     record("dry-spray", LACQUER, [coat(1, 12), coat(25, 12)])),
    ("fish-eye", "soap-paper",
     record("fish-eye", WATER, [coat(1, 20), sanding(20, 1, "scuff", grade="P400 soap-coated"), coat(24, 20)]),
     record("fish-eye", WATER, [coat(1, 20), coat(24, 20)])),
    ("fish-eye", "no-wipe",
     record("fish-eye", LACQUER, [coat(1, 12), sanding(20, 1, "scuff", grade="P400"), coat(24, 12)]),
     record("fish-eye", LACQUER, [coat(1, 12), coat(24, 12)])),
    ("pinholes", "short-rest", record("pinholes", "light-cured-polyester", [coat(1, 120), {**LIT, "at_h": 1.02}]),
     record("pinholes", "light-cured-polyester", [coat(1, 120), {**LIT, "at_h": 6.0}])),
    ("pop", "session", record("pop", LACQUER, [coat(1 + i, 12) for i in range(6)]),
     record("pop", LACQUER, [coat(1, 12)])),
    ("wrinkling", "too-soon", record("wrinkling", "varnish-brushed", [coat(1, 24), coat(3, 24)]),
     record("wrinkling", "varnish-brushed", [coat(1, 24), coat(60, 24)])),
    ("peeling", "too-late", record("peeling", TWO, [coat(1, 32), coat(400, 32)]),
     record("peeling", TWO, [coat(1, 32), coat(14, 32)])),
    ("witness", "layer-cut",
     record("witness", WATER, [coat(1, 20), sanding(40, 2, "scuff"), coat(44, 20), sanding(900, 18)]),
     record("witness", WATER, [coat(1, 20), sanding(40, 2, "scuff"), coat(44, 20), sanding(900, 2)])),
    ("sand-through", "film-thin", record("sand-through", LACQUER, [*COATS, sanding(900, 80)]),
     record("sand-through", LACQUER, [*COATS, sanding(900, 5)])),
    ("stray-scratch", "grade-skipped",
     record("stray-scratch", LACQUER, [*COATS, sanding(900, 5, grade="P400"), sanding(901, 2, grade="P2000")]),
     record("stray-scratch", LACQUER, [*COATS, sanding(900, 5, grade="P800"), sanding(901, 2, grade="P1000")])),
    ("print", "cased-early", record("print", LACQUER, COATS, at_h=DONE_H + 90, out_h=(DONE_H + 24,)),
     record("print", LACQUER, COATS, at_h=DONE_H + 4100, out_h=(DONE_H + 4000,))),
    ("sink-back", "levelled-early", record("sink-back", LACQUER, [*COATS, sanding(DONE_H + 20, 9)]),
     record("sink-back", LACQUER, [*COATS, sanding(DONE_H + 4000, 9)])),
    ("burn", "buffed-early", record("burn", LACQUER, [*COATS, sanding(DONE_H + 20, 1, "rub-out")]),
     record("burn", LACQUER, [*COATS, sanding(DONE_H + 4000, 1, "rub-out")])),
    ("checking", "too-thick", record("checking", LACQUER, [coat(24.0 * i + 1, 12) for i in range(20)]),
     record("checking", LACQUER, COATS)),
    ("checking", "cold", record("checking", LACQUER, COATS, rows=[air(20, 0.5), air(2, 0.5, DONE_H + 0.5)]),
     record("checking", LACQUER, COATS)),
    ("tacky", "coat-heavy", record("tacky", "oil-wiped", [coat(1, 12)]), record("tacky", "oil-wiped", [coat(1, 2.5)])),
)  # fmt: skip


class FromTheRecord(unittest.TestCase):
    def test_what_the_journal_has_comes_first_with_its_number(self):
        for what, code, with_it, without in ROWS:
            with self.subTest(defect=what, cause=code):
                found = causes(with_it)
                self.assertEqual(found[0].code, code, found)
                self.assertTrue(found[0].confidence == VERY or code in ("no-wipe",))
                self.assertTrue(math.isfinite(found[0].value))
                before = [c for c in causes(without)[:1] if not c.asks]
                self.assertNotIn(code, [c.code for c in before])

    def test_every_defect_has_somewhere_to_look(self):
        self.assertEqual(set(LOOKS), set(MISHAPS))
        for what, code, with_it, _ in ROWS:
            self.assertGreater(len(LOOKS[what]), 0, code)
            self.assertLessEqual(len(causes(with_it)), 5)

    def test_what_nobody_knows_is_asked_and_an_answer_counts(self):
        asked = [c for c in causes(record("fish-eye", LACQUER, [coat(1, 12)])) if c.asks]
        self.assertEqual([(c.code, c.confidence) for c in asked], [("silicone", POSSIBLE)])
        self.assertTrue(question("silicone").endswith("?"))
        yes = causes(record("fish-eye", LACQUER, [coat(1, 12)], told_=(("silicone", True),)))
        self.assertEqual([(c.code, c.confidence, c.asks) for c in yes], [("silicone", "likely", "")])
        self.assertEqual(causes(record("fish-eye", LACQUER, [coat(1, 12)], told_=(("silicone", False),))), ())

    def test_oil_on_another_lane_the_same_day(self):
        near = causes(record("fish-eye", LACQUER, [coat(30, 12)], near=(26.0,)))
        self.assertEqual((near[0].code, near[0].value), ("oil-near", 4.0))
        far = causes(record("fish-eye", LACQUER, [coat(30, 12)], near=(2.0,)))
        self.assertNotIn("oil-near", [c.code for c in far])

    def test_how_a_coat_was_thinned_counts_where_it_was_said(self):
        made = record("orange-peel", LACQUER, [coat(1, 12)])
        number = made.coats[-1].id
        thick = replace(made, settings={number: Settings(thinner_ratio=0.02)})
        usual = shipped().materials["lacquer-sprayed"].thinner_ratio
        thin = replace(made, settings={number: Settings(thinner_ratio=usual)})
        self.assertIn("thick-mix", [c.code for c in causes(thick) if not c.asks])
        self.assertNotIn("thick-mix", [c.code for c in causes(thin)])

    def test_without_air_the_dew_is_asked_for_and_not_supposed(self):
        made = record("blush", LACQUER, [coat(1, 12)])
        acts = tuple(a for a in made.found.project.acts if not hasattr(a, "temp_C"))
        bare = replace(made, found=replace(made.found, project=structs.replace(made.found.project, acts=acts)))
        self.assertEqual({c.code for c in causes(bare) if c.asks}, {"dew", "damp"})
