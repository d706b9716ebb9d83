"""A level that the film does not bear: in no plan, and said alike wherever the next act stands."""

from ravden.core.abrasive.verdict import REFUSED
from ravden.journal.kinds.coat import CoatLogged
from tests.ui.support import WindowTest, settle

MORE = "Lay about 95 µm more first"


class Refused(WindowTest):
    there = ("curlew", "wren")

    def setUp(self):
        super().setUp()
        self.window.turn_to("rack")
        settle(self.window)

    def days(self):
        return self.window.places.planning.days

    def lane(self):
        return next(r for _, r in self.window.rack.lanes.rows() if not isinstance(r, str) and r.name == "Curlew")

    def test_no_hands_are_booked_for_it_and_every_place_says_what_comes_first(self):
        found = self.window.places.found["curlew"]
        self.assertEqual(found.rub_out.ladder.verdict.word, REFUSED)
        self.assertEqual({d.instrument for d in self.days().doings}, {"wren"})
        self.assertEqual([(n.name, n.film) for n in self.days().unplanned], [("Curlew", True)])
        self.assertIsNone(found.forward.finished_h)
        lane = self.lane()
        self.assertEqual(lane.next_act, MORE)
        self.assertIn("does not carry the ladder", lane.next_when)
        self.window.rack.days_ahead.setChecked(True)
        settle(self.window)
        row = next(r for r in self.window.rack.days.model.rows if r.cells[1:2] == ("Curlew",))
        self.assertEqual(row.where, "rubout")
        self.assertIn("not planned on this film", row.cells[2])
        self.assertIn("about 95 µm more first", row.cells[2])

    def test_with_more_film_laid_the_level_has_its_day_and_taken_back_it_has_none(self):
        self.session.select("curlew", "test")
        for _ in range(3):
            self.session.log(CoatLogged(dry_um=45.0), instrument="curlew", origin="test")
        settle(self.window)
        found = self.window.places.found["curlew"]
        self.assertIsNone(found.forward.refused, found.forward.refused)
        self.assertIn("curlew", {d.instrument for d in self.days().doings})
        self.assertEqual(self.days().unplanned, ())
        self.assertNotEqual(self.lane().next_act, MORE)
        for _ in range(3):
            self.session.undo(origin="test")
        settle(self.window)
        self.assertEqual(self.lane().next_act, MORE)
