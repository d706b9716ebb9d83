"""What changes put in at random showed that no test noticed: one of the Book that was not read, a session as it was
then, what an earlier version kept, a field left empty."""

from datetime import timedelta
from unittest import mock

from ravden.app import forms
from ravden.app.lessons import lessons_of
from ravden.core.record.word import CUT, SCRATCH
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.handed_over import CheckSeen
from ravden.journal.kinds.reading import ReadingLogged
from ravden.text.units import Units
from tests.ui.test_session import NOW, SessionTest


class Missed(SessionTest):
    def test_one_of_the_book_that_was_not_read_is_whole_when_it_is_turned_to_again(self):
        self.session.select("heron", "test")
        before = self.session.shop.racked["heron"]
        self.session.hand_over(NOW)
        for um in (90, 91):
            self.session.log(ReadingLogged(zone="top", um=um), instrument="tern")
        self.clock.turn(days=1)
        with mock.patch("ravden.journal.shelves.LATE", 1):
            for looked in (False, True):
                self.session.close()
                self.session.open(self.path)
                self.assertIsNone(self.session.shop.book["heron"].rack)
                if looked:
                    self.session.log(CheckSeen(note="all well"), instrument="heron")
                    self.assertEqual(len(self.session.shop.book["heron"].checks), 1)
                    self.session.undo()
                    self.assertEqual(self.session.shop.book["heron"].checks, ())
                self.session.bring_back("heron")
                there = self.session.shop.racked["heron"]
                self.assertEqual((there.acts, there.plan), (before.acts, before.plan))
                self.session.undo()
                self.assertNotIn("heron", self.session.shop.racked)
                for um in (92, 93):
                    self.session.log(ReadingLogged(zone="top", um=um), instrument="tern")

    def test_as_it_was_then_is_by_the_entries_up_to_then(self):
        first = self.session.log(CoatLogged(dry_um=12), instrument="heron")
        then = self.session.request("heron").run().ledger.film("top").mean_um
        self.clock.turn(hours=3)
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        self.session.correct(first.id, CoatLogged(dry_um=30))
        now = self.session.request("heron").run().ledger.film("top").mean_um
        found = self.session.request_then(first.id, first.at, "heron").run()
        self.assertAlmostEqual(found.ledger.film("top").mean_um, then, places=6)
        self.assertGreater(now, then + 10)
        before = self.session.request_then(first.id - 1, first.at - timedelta(seconds=1), "heron").run()
        self.assertLess(before.ledger.film("top").mean_um, then - 5)
        self.assertIsNone(self.session.request_then(1, NOW - timedelta(days=400), "heron"))

    def test_what_an_earlier_version_kept_of_the_hands_still_speaks(self):
        self.session.select("heron", "test")
        self.session.hand_over(NOW)
        journal = self.session.journal
        journal.put_lesson("heron", '{"coated":true,"ln":0.1,"var":0.04,"cut":[[0.2,0.01]],"scratch":[[-0.1,0.02]]}')
        found = lessons_of(journal)["heron"]
        self.assertEqual((found.gun.ln, found.gun.var), (0.1, 0.04))
        self.assertEqual([(w.key, w.ln, w.sd) for w in found.words], [(CUT, 0.2, 0.01), (SCRATCH, -0.1, 0.02)])
        self.assertEqual({w.at for w in found.words}, {self.session.shop.book["heron"].handed})
        self.assertIn("heron", {w.of for some in self.session.kept.taught()[2].values() for w in some} | {"heron"})

    def test_a_texture_that_was_not_typed_is_none(self):
        typed = {"um": "8", "purpose": "level", "grade": "P800", "edges": "off", "minutes": ""}
        for texture, um in (("", 0.0), ("  ", 0.0), ("18", 18.0)):
            self.assertEqual(forms.read("sanding", typed | {"texture": texture}, Units()).texture_um, um)
        self.assertEqual(forms.read("sanding", typed, Units()).texture_um, 0.0)
