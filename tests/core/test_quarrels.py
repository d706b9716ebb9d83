"""Quarrels answered for a case, and old finishes told apart."""

import itertools
import re
import unittest

from msgspec.structs import replace

from ravden.core.ahead.outlook import outlook
from ravden.core.errors import InputError
from ravden.core.method.refinish import ANSWERS, Tried, class_of, likely, oil_left, over
from ravden.core.quarrels.all import ASKED, quarrels
from ravden.core.record import Coat
from ravden.text.quarrels import QUESTIONS
from ravden.text.say import say
from tests.core.test_methods import METHODS, NINE, bare
from tests.core.test_plan import CATALOGUE, DRAWER


def answered(method_id, *acts, now_h=0.0, **change):
    made = bare(METHODS[method_id])
    made = replace(made, acts=(*made.acts, *acts), instrument=replace(made.instrument, **change))
    found = outlook(made, METHODS[method_id], DRAWER, now_h, NINE)
    return {q.id: q for q in quarrels(found, CATALOGUE.scuffs, CATALOGUE.preps)}


class Quarrels(unittest.TestCase):
    def test_every_method_gets_two_sentences_and_the_other_side(self):
        asked = set()
        for method_id in METHODS:
            for name, q in answered(method_id, ground="open-grain").items():
                asked.add(name)
                with self.subTest(method=method_id, quarrel=name):
                    self.assertTrue(QUESTIONS[q.id].endswith("?"))
                    self.assertTrue(say(q.other).endswith("."), say(q.other))
                    sentences = re.findall(r"[.!](?= |$)", say(q.answer))
                    self.assertEqual(len(sentences), 2, say(q.answer))
                    self.assertNotIn("nan", say(q.answer))
        self.assertGreaterEqual(len(asked), 15)
        self.assertGreaterEqual(len(ASKED), 17)

    def test_chemistry_decides_between_coats(self):
        self.assertTrue(say(answered("lacquer-fine-start")["between"].answer).startswith("Only nibs"))
        self.assertTrue(say(answered("waterborne-sprayed")["between"].answer).startswith("Yes"))
        self.assertTrue(say(answered("oil-wiped")["between"].answer).startswith("Hardly"))
        self.assertNotIn("between", answered("oil-and-wax"))
        self.assertNotIn("fineness", answered("oil-wiped"))
        self.assertIn("rust", say(answered("waterborne-sprayed")["wool"].answer))
        self.assertTrue(say(answered("waterborne-sprayed")["wet"].answer).startswith("Dry"))
        self.assertTrue(say(answered("lacquer-fine-start")["wet"].answer).startswith("Wet"))
        self.assertIn("craters", say(answered("waterborne-sprayed")["soap"].answer))

    def test_thin_or_thick_says_the_coats_it_reckoned_with(self):
        for method_id in METHODS:
            said = answered(method_id).get("weight")
            if said is None:
                continue
            found = outlook(bare(METHODS[method_id]), METHODS[method_id], DRAWER, 0.0, NINE)
            coats = sum(not c.finish for c in found.forward.coats)
            with self.subTest(method=method_id):
                self.assertEqual(said.answer.values["coats"], coats)
                self.assertAlmostEqual(said.answer.values["fewer"], coats / 1.5, delta=1.0)

    def test_thin_or_thick_counts_what_is_left_of_a_step_under_way(self):
        for done in (0, 1, 4, 7):
            said = answered("lacquer-fine-start", *(Coat(at_h=1.0 + i, dry_um=12) for i in range(done)), now_h=20.0)
            with self.subTest(done=done):
                self.assertEqual(said["weight"].answer.values["coats"], 10 - done)
                self.assertAlmostEqual(said["weight"].answer.values["fewer"], (10 - done) / 1.5, delta=0.51)

    def test_water_softens_a_young_waterborne_film(self):
        coat, hours = Coat(at_h=1.0, dry_um=20), (3.0, 24.0 * 30)
        codes = [answered("waterborne-sprayed", coat, now_h=h)["wet"].answer.code for h in hours]
        self.assertEqual(codes, ["wet-young", "wet"])
        self.assertEqual(answered("waterborne-sprayed")["wet"].answer.code, "wet-young")

    def test_the_case_decides_the_rest(self):
        young = answered("waterborne-sprayed", Coat(at_h=1.0, dry_um=20), now_h=3.0)["between"].answer
        old = answered("waterborne-sprayed", Coat(at_h=1.0, dry_um=20), now_h=60.0)["between"].answer
        self.assertIn("does not yet", say(young))
        self.assertIn("needs one", say(old))
        self.assertNotIn("satin", answered("lacquer-fine-start", sheen="gloss"))
        self.assertIn("flatted coat", say(answered("satin-over-gloss", sheen="satin")["satin"].answer))
        self.assertNotIn("pore-level", answered("lacquer-fine-start", ground="sealed"))
        sunk = say(answered("lacquer-fine-start", ground="open-grain")["pore-level"].answer)
        full, half = (float(x) for x in re.findall(r"([\d.]+) µm", sunk)[:2])
        self.assertGreater(half, full)

    def test_waiting_is_told_against_three_coats_on_a_shelf(self):
        text = say(answered("lacquer-fine-start")["waiting"].answer)
        mine = float(re.match(r"(\d+) days", text)[1]) * 24
        shelf = float(re.search(r"bear it after ([\d.]+) h", text)[1])
        self.assertGreater(mine, 3 * shelf)


class OldFinishes(unittest.TestCase):
    KINDS, OVERS = CATALOGUE.old_finishes, CATALOGUE.overs

    def ids(self, **tried):
        return [k.id for k in likely(Tried(**tried), self.KINDS)]

    def test_drops_tell_them_apart(self):
        self.assertEqual(len(self.ids()), len(self.KINDS))
        self.assertEqual(self.ids(alcohol="softens", thick="no")[0], "shellac")
        self.assertIn("lacquer", self.ids(alcohol="nothing", thinner="softens"))
        self.assertNotIn("shellac", self.ids(alcohol="nothing", thinner="softens"))
        self.assertEqual(self.ids(alcohol="nothing", thinner="nothing", thick="yes"), ["two-part", "light"])
        for alcohol, thinner in itertools.product(ANSWERS, ANSWERS):
            self.assertLess(len(self.ids(alcohol=alcohol, thinner=thinner)), len(self.KINDS))

    def test_every_pair_is_in_the_table_with_a_reason(self):
        classes = {class_of(m) for m in CATALOGUE.materials.values()}
        self.assertEqual(classes, {k.id for k in self.KINDS})
        known = {m.id: class_of(m) for m in CATALOGUE.materials.values()}
        for name, row in (
            ("waterborne-satin", "waterborne"),
            ("two-part-satin", "two-part"),
            ("oil-varnish", "varnish"),
            ("polymerising-oil", "oil"),
            ("lacquer-sealer", "lacquer"),
            ("epoxy-seal", "two-part"),
        ):
            self.assertEqual(known[name], row, name)
        for under, top in itertools.product(classes, classes):
            row = over(self.OVERS, under, top)
            self.assertTrue(row.reason.endswith("."), row)
        self.assertEqual(len(self.OVERS), len({(r.under, r.over) for r in self.OVERS}))
        with self.assertRaises(InputError):
            over(self.OVERS, "honey", "lacquer")

    def test_what_the_trade_knows(self):
        self.assertEqual(over(self.OVERS, "lacquer", "lacquer").verdict, "yes")
        self.assertEqual(over(self.OVERS, "oil", "lacquer").barrier, "dewaxed shellac")
        self.assertEqual(over(self.OVERS, "oil-wax", "two-part").verdict, "no")
        self.assertEqual(over(self.OVERS, "lacquer", "two-part").verdict, "no")
        self.assertEqual(over(self.OVERS, "two-part", "two-part").verdict, "key")

    def test_signs_of_oil(self):
        self.assertIsNone(oil_left(Tried()))
        told = say(oil_left(Tried(balls=True, refuses=True)))
        self.assertIn("paper balls up and dye will not take", told)
