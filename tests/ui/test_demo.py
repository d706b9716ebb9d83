"""The whole demo shop, all eight instruments of it, without a window."""

import shutil
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from ravden.app.clock import HandClock
from ravden.app.next_act import next_act, when_text
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.demo import ferrow_lane
from ravden.ui.places.rubout import presenter as rubout


class FerrowLane(unittest.TestCase):
    def opened(self, now):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        ferrow_lane.build(folder / "lane.ravden", now)
        session = ShopSession(shipped(), HandClock(now))
        session.open(folder / "lane.ravden")
        self.addCleanup(session.close)
        return session

    def test_every_bench_has_something_to_say_on_any_day(self):
        for now in (datetime(2026, 5, 4, 15, tzinfo=UTC), datetime(2027, 1, 1, 0, 30, tzinfo=UTC)):
            session = self.opened(now)
            said = {}
            for name in session.shop.racked:
                session.select(name, "test")
                found = session.request(name, advise=True).run()
                act = next_act(session, found, name)
                said[name] = f"{act.what}: {when_text(act, session.local(now))}"
                self.assertTrue(act.what, name)
                self.assertEqual(rubout.show(session, found).title, found.project.instrument.name)
                self.assertFalse(any(s.index < found.progress.index for s in found.forward.steps), name)
            self.assertEqual(len(said), 8)
            self.assertGreater(len(set(said.values())), 5, said)
            self.assertEqual(len({r.instrument.method for r in session.shop.racked.values()}), 8)

    def test_a_coat_just_laid_breaks_nothing(self):
        session = self.opened(datetime(2026, 5, 4, 15, tzinfo=UTC))
        for name in session.shop.racked:
            session.select(name, "test")
            before = session.request(name).run().ledger.mean_um("top")
            session.log_usual_coat("test")
            found = session.request(name, advise=True).run()
            self.assertGreater(found.ledger.mean_um("top"), before, name)
            self.assertTrue(rubout.show(session, found).told.heading, name)
