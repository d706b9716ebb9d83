"""One record that cannot be worked out: it is named, the way to the entry stands open, and every other goes on."""

from unittest import mock

from ravden.app.outlook_request import OutlookRequest
from ravden.core.errors import InputError
from ravden.core.record import Sanding
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.sanding import SandingLogged
from tests.ui.support import WindowTest, settle, wait_until

WHY = "the film would be thinner than nothing"


def spoilt(um):
    """Outlooks as they are, but where the record has a sanding of so much: there they fail."""
    run = OutlookRequest.run

    def fails(request):
        if any(isinstance(a, Sanding) and a.um == um for a in request.rack.acts):
            raise InputError("um", WHY)
        return run(request)

    return mock.patch.object(OutlookRequest, "run", fails)


class OneBadRecord(WindowTest):
    def setUp(self):
        super().setUp()
        patch = spoilt(1.75)
        patch.start()
        self.addCleanup(patch.stop)
        self.bad = self.session.log(SandingLogged(um=1.75, purpose="scuff"), instrument="heron")
        self.clock.turn(minutes=1)
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        wait_until(lambda: self.window.places.troubles.get("heron") is not None)
        settle(self.window)

    def lane(self, name):
        rows = (row for _, row in self.window.rack.lanes.rows() if not isinstance(row, str))
        return next(row for row in rows if row.name == name)

    def test_it_is_named_on_the_rack_and_the_others_stay_in_the_plan(self):
        self.window.turn_to("rack")
        settle(self.window)
        self.assertEqual(set(self.window.places.found), {"tern", "wren"})
        days = self.window.places.planning.days
        self.assertTrue({d.instrument for d in days.doings} >= {"tern", "wren"})
        self.assertIn("Heron's record cannot be worked out since", self.window.rack.told[0].text.text())
        self.assertEqual(self.lane("Heron").tone, "warn")
        self.assertIn("see its Log", self.lane("Heron").next_when)

    def test_its_film_shows_the_entries_with_the_one_to_blame_chosen(self):
        self.session.select("heron", "test")
        self.window.turn_to("film")
        settle(self.window)
        self.assertEqual(self.window.film.side.log.chosen, self.bad.id)
        self.assertTrue(self.window.film.timeline.isHidden() or not self.window.film.timeline.isVisible())
        self.session.take_back(self.bad.id, "log")
        settle(self.window)
        self.assertEqual(self.window.places.troubles, {})
        self.assertTrue(self.window.film.timeline.isVisible())
        self.assertIn("heron", self.window.places.found)

    def test_the_rest_learns_from_the_rest(self):
        self.session.log(CoatLogged(dry_um=12), instrument="tern")
        settle(self.window)
        self.assertEqual(self.window.places.found["tern"].project.coats[-1].dry_um, 12)
        self.assertEqual(self.faults, [])
