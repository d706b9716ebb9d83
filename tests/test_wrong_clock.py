"""A clock that was wrong: what is dated after now is told, and put right as one act, or left."""

from datetime import UTC, datetime, timedelta

from ravden.app.clock import HandClock
from ravden.app.wrong_clock import LEAVE, THEN, dated_ahead, fields, sentence, set_right
from ravden.app.wrong_clock import NOW as JUST_NOW
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal.kinds.coat import CoatLogged
from tests.in_folder import OnShop

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
AHEAD = timedelta(days=1500)


class Ahead(OnShop):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, ("heron", "tern"))
        self.clock = HandClock(NOW)
        self.session = self.open()

    def wrong(self, ahead=AHEAD):
        """Two coats by a clock that is wrong, and then it is right again."""
        self.clock.time = NOW + ahead
        first = self.session.log(CoatLogged(dry_um=11), instrument="heron")
        self.clock.turn(hours=2)
        second = self.session.log(CoatLogged(dry_um=12), instrument="heron")
        self.clock.time = NOW + timedelta(hours=5)
        return first.id, second.id

    def coats(self):
        return [(round(a.at_h, 3), a.dry_um) for a in self.session.shop.racked["heron"].project.coats]

    def test_nothing_is_told_where_no_clock_was_wrong(self):
        self.session.log(CoatLogged(dry_um=11), instrument="heron")
        self.assertEqual(dated_ahead(self.session), ())

    def test_they_are_told_now_at_opening_and_when_their_day_has_come(self):
        ids = self.wrong()
        self.assertEqual(tuple(e.id for e in dated_ahead(self.session)), ids)
        said = sentence(self.session, dated_ahead(self.session))
        self.assertIn("2 entries, the last of Wed 12 Jun 2030, are dated after now and count from then on", said)
        self.assertIn("2030", said)
        self.session.close()
        self.session = self.open()
        self.assertEqual(tuple(e.id for e in dated_ahead(self.session)), ids)
        self.session.log(CoatLogged(dry_um=9), instrument="tern")
        self.clock.time = NOW + AHEAD + timedelta(days=1)
        self.assertEqual(tuple(e.id for e in dated_ahead(self.session)), ids)
        self.assertIn("put back afterwards", sentence(self.session, dated_ahead(self.session)))

    def test_now_puts_the_last_to_now_and_keeps_their_distance(self):
        before = self.coats()
        self.wrong()
        found = dated_ahead(self.session)
        self.assertEqual(fields(found)[0].value, JUST_NOW)
        said = set_right(self.session, found, {"what": JUST_NOW, "at": ""})
        self.assertIn("2 entries put to today", said)
        self.assertEqual(dated_ahead(self.session), ())
        new = self.coats()[len(before) :]
        self.assertEqual([um for _, um in new], [11, 12])
        self.assertAlmostEqual(new[1][0] - new[0][0], 2.0)
        self.session.undo()  # one act
        self.assertEqual(len(dated_ahead(self.session)), 2)

    def test_then_is_typed_and_leave_changes_nothing(self):
        self.wrong()
        found, many = dated_ahead(self.session), len(self.session.entries)
        set_right(self.session, found, {"what": LEAVE, "at": ""})
        self.assertEqual(len(self.session.entries), many)
        for at in ("", "2030-01-01", "soon"):
            with self.assertRaises(InputError) as caught:
                set_right(self.session, found, {"what": THEN, "at": at})
            self.assertEqual(caught.exception.path, "at")
        self.assertEqual(len(self.session.entries), many)
        set_right(self.session, found, {"what": THEN, "at": "2026-05-04 17:30"})
        self.assertEqual(dated_ahead(self.session), ())
        last = self.session.shop.racked["heron"].project.coats[-1]
        self.assertEqual(self.session.shop.racked["heron"].moment(last.at_h).minute, 30)

    def test_one_that_cannot_be_moved_there_moves_none(self):
        self.wrong()
        found, many = dated_ahead(self.session), len(self.session.entries)
        with self.assertRaises(InputError) as caught:
            set_right(self.session, found, {"what": THEN, "at": "2020-05-04 17:30"})
        self.assertIn("not on the rack yet", str(caught.exception.said))
        self.assertEqual(len(self.session.entries), many)
