"""The rub-out of a project: what was done and asked, soft film, flatted film, hands learnt from the journal."""

import unittest
from dataclasses import replace

from msgspec import structs

from ravden.catalogue import assemble
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage
from ravden.core.record import Coat, Mishap, Reading, Sanding
from ravden.core.rubout.hands import hands_of
from ravden.core.rubout.rub_out import Ask, RubFilm, beside, rub_out
from ravden.core.state.history import known
from ravden.journal.kinds.drawer import DrawerSet, OwnAbrasive
from ravden.text.say import fault, say
from tests.core.mended import outlook_at
from tests.core.test_plan import CATALOGUE, DRAWER, coats, project


def film(acts, at_h=900.0, margin_K=38.0, **kw):
    p = structs.replace(project(acts), **kw)
    return RubFilm(
        project=p, ledger=known(p, at_h).ledger, margin_K=lambda um: margin_K, whole_K=margin_K, texture_um=8.0,
        at_h=at_h,
    )  # fmt: skip


def thick(n=14):
    return coats([1.5 * i for i in range(n)])


def rung_done(at_h, grade, **kw):
    return Sanding(at_h=at_h, um=5, grade=grade, mode="wet", part=True, **kw)


class WhatIsAsked(unittest.TestCase):
    def test_what_is_not_asked_is_as_the_method_and_the_instrument_have_it(self):
        f = film(thick())
        found = rub_out(f, DRAWER, Ask())
        self.assertEqual((found.texture_um, found.target, found.own), (8.0, f.project.instrument.sheen, False))
        other = rub_out(f, DRAWER, Ask(texture_um=3.0, target="satin", mode="dry", block="orbital"))
        self.assertEqual((other.texture_um, other.target), (3.0, "satin"))
        self.assertTrue(all(r.backing.id == "orbital" for r in other.drawer if r.abrasive.kind == "paper"))
        self.assertGreater(other.drawer[0].rz_um / found.drawer[0].rz_um, 0.8)

    def test_wet_or_dry_is_the_methods_word_until_somebody_says_otherwise(self):
        for method, mode in (("waterborne-sprayed", "dry"), ("lacquer-flow-coat", "wet")):
            found = outlook_at(method, "h").rub_out
            self.assertEqual({s.rung.mode for s in found.ladder.steps if s.rung.abrasive.kind == "paper"}, {mode})
            self.assertEqual(found.mode, mode)
            other = "wet" if mode == "dry" else "dry"
            self.assertEqual(rub_out(found.film, DRAWER, Ask(mode=other)).mode, other)
        with self.assertRaisesRegex(InputError, "only a level or a rub-out is wet or dry"):
            Stage(kind="scuff", label="Scuff", mode="dry")

    def test_soft_film_gets_the_ladder_of_the_day_it_may_be_sanded(self):
        soft = rub_out(film(thick(), margin_K=4.0), DRAWER, Ask())
        self.assertTrue(soft.at_cured)
        self.assertIsNotNone(soft.ladder)
        none = rub_out(film(thick(), margin_K=None), DRAWER, Ask())
        self.assertTrue(none.at_cured)
        self.assertFalse(rub_out(film(thick()), DRAWER, Ask()).at_cured)

    def test_a_levelling_counts_however_it_is_told(self):
        """In the Booth, with its mode and zones; by the form, with neither; or later."""
        all_of_it = tuple(z.name for z in project().zones if z.kind != "edge")
        told = [
            Sanding(at_h=800.0, um=12, grade="P800", mode="wet", zones=all_of_it, purpose="level"),
            Sanding(at_h=800.0, um=12, grade="P800", purpose="level"),
            Sanding(at_h=800.0, um=12, grade="FEPA-P:P800", purpose="level", minutes=80),
        ]
        found = [rub_out(film([*thick(), one]), DRAWER, Ask(target="gloss")) for one in told]
        ladders = [[s.rung.abrasive.name for s in f.ladder.steps] for f in found]
        self.assertEqual(ladders, [ladders[0]] * 3)
        self.assertNotIn("P800", ladders[0])
        self.assertEqual({f.job.after.abrasive.name for f in found}, {"P800"})
        scuffed = Sanding(at_h=800.0, um=2, grade="P800", purpose="scuff")
        self.assertIsNone(rub_out(film([*thick(), scuffed]), DRAWER, Ask(target="gloss")).job.after)

    def test_a_sequence_of_ones_own(self):
        f = film(thick())
        mine = rub_out(f, DRAWER, Ask(target="satin", sequence=("FEPA-P:P1000", "FEPA-P:P2000")))
        self.assertTrue(mine.own)
        self.assertEqual([s.rung.abrasive.name for s in mine.ladder.steps], ["P1000", "P2000"])
        empty = rub_out(f, DRAWER, Ask(sequence=()))
        self.assertIsNone(empty.ladder)
        self.assertIn("put one in", say(empty.refusal))

    def test_beside_is_worked_out_only_when_wanted(self):
        f = film(thick())
        plain, full = rub_out(f, DRAWER, Ask()), rub_out(f, DRAWER, Ask(), full=True)
        self.assertEqual((plain.changes, plain.equal, plain.others), ((), (), ()))
        self.assertTrue(full.changes and full.others)
        self.assertEqual(len(beside(plain).changes), len(full.changes))

    def test_flatted_film_is_left_alone(self):
        f = film((*thick(), Coat(at_h=200, dry_um=12, finish="lacquer-satin")))
        self.assertTrue(f.flatted)
        self.assertIn("dulled by particles", say(rub_out(f, DRAWER, Ask(target="gloss")).refusal))
        self.assertFalse(film(thick()).flatted)

    def test_masked_zones_are_left_out(self):
        f = film(thick(), masked=("sides",))
        names = {z.name for z in rub_out(f, DRAWER, Ask()).job.zones}
        self.assertNotIn(f.project.zone("sides").label, names)


class WhatWasDone(unittest.TestCase):
    def test_rungs_since_the_last_coat_count(self):
        acts = (*thick(), rung_done(700, "P1000"), rung_done(701, "P1500", zones=("top",)))
        f = film(acts)
        self.assertEqual([d.grade for d in f.done], ["P1000", "P1500"])
        found = rub_out(f, DRAWER, Ask())
        self.assertEqual(found.job.after.abrasive.name, "P1500")
        again = film((*acts, Coat(at_h=750, dry_um=12)))
        self.assertEqual(again.done, ())
        self.assertIsNone(rub_out(again, DRAWER, Ask()).job.after)

    def test_a_sanding_that_was_no_rung_changes_nothing(self):
        plain = Sanding(at_h=700, um=5, purpose="level")  # nobody knows with what
        scuffed = Sanding(at_h=701, um=2, grade="P1500", purpose="scuff", mode="wet")
        self.assertEqual(film((*thick(), plain, scuffed)).done, ())

    def test_a_reached_sheen_is_told(self):
        f = film((*thick(), rung_done(700, "P2000")))
        found = rub_out(f, DRAWER, Ask(target="satin"))
        self.assertIsNone(found.ladder)
        self.assertIn("satin is reached with P2000", say(found.refusal))

    def test_a_grade_no_longer_owned_is_passed_over(self):
        f = film((*thick(), rung_done(700, "P1000"), rung_done(701, "P777")))
        self.assertEqual(rub_out(f, DRAWER, Ask()).job.after.abrasive.name, "P1000")

    def test_mishaps_take_no_film(self):
        with_it = film((*thick(), Mishap(at_h=700, what="stray-scratch", zone="top", grade="P1000")))
        self.assertAlmostEqual(with_it.ledger.mean_um("top"), film(thick()).ledger.mean_um("top"))
        self.assertRaises(InputError, Mishap, at_h=0, what="dragon", zone="top")


class Hands(unittest.TestCase):
    def gauged(self, gone, minutes=30.0, between=()):
        acts = (
            *thick(), Reading(at_h=899.0, zone="top", um=150, n=5),
            Sanding(at_h=900.0, um=5, grade="P1000", minutes=minutes, mode="wet", part=True, zones=("top",)), *between,
            Reading(at_h=901.0, zone="top", um=150 - gone, n=5),
        )  # fmt: skip
        return hands_of([project(acts)], DRAWER)

    def test_a_rung_between_two_readings_teaches(self):
        slow, fast = self.gauged(2.0), self.gauged(30.0)
        self.assertEqual((slow.cut.readings, fast.cut.readings), (1, 1))
        self.assertLess(slow.cut.factor, fast.cut.factor)

    def test_what_cannot_teach_does_not(self):
        for found in (
            self.gauged(5.0, minutes=0.0),
            self.gauged(5.0, between=(Coat(at_h=900.5, dry_um=12),)),
            self.gauged(5.0, between=(Sanding(at_h=900.5, um=3, grade="P2000", mode="wet"),)),
        ):
            self.assertEqual(found.cut.readings, 0)
        polish = Sanding(at_h=900.0, um=1, grade="coarse compound", minutes=9, mode="wet")
        self.assertEqual(hands_of([project((*thick(), polish))], DRAWER).cut.readings, 0)

    def test_gloss_teaches_the_scratch_and_impossible_gloss_does_not(self):
        rubbed = Sanding(at_h=900.0, um=5, grade="P1000", mode="wet", zones=("top",))
        for gu60, readings in ((3.0, 1), (99.0, 0)):
            acts = (*thick(), rubbed, Reading(at_h=901, what="gloss", zone="top", gu60=gu60))
            found = hands_of([project(acts)], DRAWER)
            self.assertEqual(found.scratch.readings, readings)
            self.assertEqual(found.scratch.factor > 1.05, bool(readings))

    def test_the_drawer_works_with_what_was_learnt(self):
        fast = self.gauged(30.0)
        usual, mine = rub_out(film(thick()), DRAWER, Ask()), rub_out(film(thick()), replace(DRAWER, hands=fast), Ask())
        paper = [r for r in mine.drawer if r.abrasive.kind == "paper"]
        self.assertTrue(all(abs(r.cut - fast.cut.factor) < 1e-9 for r in paper))
        self.assertTrue(all(r.cut == 1.0 for r in mine.drawer if r.abrasive.kind == "polish"))
        self.assertNotEqual(usual.ladder.minutes, mine.ladder.minutes)


class DrawerEntry(unittest.TestCase):
    def test_own_abrasives_wear_and_block(self):
        told = DrawerSet(
            owned=("FEPA-P:P800",),
            own=(OwnAbrasive(label="nine", d50_um=9.0),),
            wear={"FEPA-P:P800": 0.9},
            block="rigid",
        )
        made = assemble.drawer_of(CATALOGUE, told)
        self.assertEqual([a.name for a in made.abrasives], ["P800", "nine"])
        self.assertEqual(made.rung(made.abrasives[0], "wet", 120).wear, 0.9)
        self.assertEqual(made.rung(made.abrasives[0], "wet", 120).backing.id, "rigid")

    def test_what_cannot_be_is_refused_by_name(self):
        for told, path, words in (
            (DrawerSet(owned=("FEPA-P:P777",)), "owned", "not in the table"),
            (DrawerSet(owned=("FEPA-P:P800", "P800")), "owned", "P800 is in the drawer twice"),
            (DrawerSet(owned=("800",)), "owned", "Is there a P"),
            (DrawerSet(owned=(), block="brick"), "block", "must be one of"),
            (DrawerSet(owned=("FEPA-P:P800",), wear={"FEPA-P:P800": 2.0}), "wear of FEPA-P:P800", "between 0 and 1"),
            (DrawerSet(owned=(), own=(OwnAbrasive(label="x", d50_um=-1),)), "d50_um", "greater than 0"),
        ):
            with self.assertRaises(InputError) as caught:
                assemble.drawer_of(CATALOGUE, told)
            self.assertEqual(caught.exception.path, path)
            self.assertIn(words, fault(caught.exception))
