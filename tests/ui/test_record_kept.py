"""What the record says is what was done: judged zone by zone, taken back whole, known by its own time and step."""

from datetime import timedelta

from msgspec import structs
from msgspec.structs import replace

from ravden.app import finish_record
from ravden.core.errors import InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.drawer import DrawerSet
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.step import StepLogged
from ravden.text.say import whole_fault
from ravden.ui.places.film import presenter
from tests.ui.test_session import NOW, SessionTest


class RecordTest(SessionTest):
    def bare(self, name="new"):
        """Another instrument like Heron, with nothing on it."""
        old = next(e.body for e in self.session.entries if isinstance(e.body, InstrumentAdded) and e.body.id == "heron")
        self.session.log(structs.replace(old, id=name, name=name.title()), instrument=name, at=NOW - timedelta(days=20))
        self.session.select(name, "rack")
        return name

    def flats(self, name):
        return [z for z in self.session.shop.racked[name].project.zones if z.kind == "flat"]

    def shown(self, name):
        return self.session.request(name).run()


class Sanded(RecordTest):
    def test_ten_coats_alike_can_lose_thirty_microns(self):
        name = self.bare()
        self.session.log(CoatLogged(dry_um=12, count=10), instrument=name, at=NOW - timedelta(days=9))
        before = self.shown(name).ledger.mean_um("top")
        self.session.log(SandingLogged(um=30), instrument=name)
        self.assertAlmostEqual(self.shown(name).ledger.mean_um("top"), before - 30, delta=1.5)

    def test_zone_by_zone_through_every_grit(self):
        name = self.bare()
        self.session.log(CoatLogged(dry_um=12, count=9), instrument=name, at=NOW - timedelta(days=9))
        zones = [z.name for z in self.session.shop.racked[name].project.zones if z.sanding > 0]
        for um in (14.0, 5.0, 3.0, 2.0):
            for zone in zones:
                self.session.log(SandingLogged(um=um, zones=(zone,), part=True), instrument=name)
        for zone in self.flats(name):
            off = sum(s.share(zone) for s in self.session.shop.racked[name].project.sandings)
            self.assertAlmostEqual(off, 24.0 * zone.sanding)

    def test_more_than_a_zone_has_is_refused_for_that_zone(self):
        name = self.bare()
        self.session.log(CoatLogged(dry_um=12), instrument=name, at=NOW - timedelta(days=9))
        self.session.log(CoatLogged(dry_um=12, zones=("back",), count=9), instrument=name, at=NOW - timedelta(days=8))
        self.session.log(SandingLogged(um=60, zones=("back",)), instrument=name)
        with self.assertRaises(InputError) as caught:
            self.session.log(SandingLogged(um=60, zones=("top",)), instrument=name)
        self.assertIn("off the top, which has about 13 µm", whole_fault(caught.exception, self.session.units))

    def test_what_was_read_counts_too(self):
        name = self.bare()
        self.session.log(CoatLogged(dry_um=12), instrument=name, at=NOW - timedelta(days=9))
        for zone in self.session.shop.racked[name].project.zones:
            self.session.log(ReadingLogged(zone=zone.name, um=90, n=9), instrument=name)
        before = self.shown(name).ledger.mean_um("top")
        self.assertGreater(before, 1.5 * 12)
        self.session.log(SandingLogged(um=32, zones=("top",)), instrument=name)
        self.assertLess(self.shown(name).ledger.mean_um("top"), before - 10)


class Told(RecordTest):
    def test_half_a_coat_here_and_there_is_one_and_cuts_are_told_of_a_zone(self):
        name = self.bare()
        zones = [z.name for z in self.session.shop.racked[name].project.zones]
        self.session.log(CoatLogged(dry_um=40, zones=tuple(zones[:2])), instrument=name, at=NOW - timedelta(days=9))
        self.session.log(CoatLogged(dry_um=40, zones=tuple(zones[2:])), instrument=name, at=NOW - timedelta(days=8))
        for zone in zones:
            self.session.log(SandingLogged(um=10, zones=(zone,), part=True), instrument=name)
        found = self.shown(name)
        lines = dict(finish_record.record(self.session, found).lines)
        self.assertTrue(lines["Coats"].startswith("1, "), lines["Coats"])
        self.assertTrue(lines["Sanded and rubbed"].startswith("10 µm off the flats"), lines["Sanded and rubbed"])
        self.session.log(CoatLogged(dry_um=10, zones=("top",)), instrument=name)
        lines = dict(finish_record.record(self.session, self.shown(name)).lines)
        self.assertTrue(lines["Coats"].startswith("1 to 2 by zone, "), lines["Coats"])

    def test_film_draws_the_cuts_of_its_zone_alone(self):
        name = self.bare()
        self.session.log(CoatLogged(dry_um=12, count=9), instrument=name, at=NOW - timedelta(days=9))
        for zone in self.session.shop.racked[name].project.zones:
            self.session.log(SandingLogged(um=4, zones=(zone.name,), part=True), instrument=name)
        found = self.session.request(name, zone="top").run()
        shown = presenter.show(self.session, found, None)
        self.assertEqual([um for _, um in shown.cuts_h], [4.0])
        self.assertEqual(len(shown.coats_h), 9)
        self.assertEqual(len(set(shown.coats_h)), 9)

    def test_a_step_done_stays_done_under_another_name(self):
        name = self.bare()
        rack = self.session.shop.racked[name]
        first = rack.method.stage[0]
        self.session.log(StepLogged(step=first.key), instrument=name)
        before = self.shown(name).progress.index
        self.assertEqual(before, 1)
        for label in ("Something else", "And again"):
            steps = list(self.session.shop.racked[name].method.stage)
            steps[0] = replace(steps[0], label=label, id=steps[0].key)
            self.session.log(PlanSet(method=rack.method.id, stage=tuple(steps)), instrument=name)
        self.assertEqual(self.shown(name).progress.index, before)
        self.assertEqual(self.session.shop.racked[name].method.stage[0].label, "And again")


class TakenBack(RecordTest):
    def coat(self, name="heron"):
        return self.session.shop.racked[name].project.coats[-1].dry_um

    def test_a_corrected_entry_goes_as_a_whole_and_comes_back_as_corrected(self):
        was = self.coat()
        first = self.session.log(CoatLogged(dry_um=9.5), instrument="heron")
        second = self.session.correct(first.id, CoatLogged(dry_um=11.5))
        third = self.session.correct(second.id, CoatLogged(dry_um=13.5))
        self.session.take_back(third.id)
        self.assertEqual(self.coat(), was)
        self.reopened()
        self.assertEqual(self.coat(), was)
        self.session.redo()
        self.assertEqual(self.coat(), 13.5)
        self.session.undo()  # of the correction alone, step by step
        self.assertEqual(self.coat(), 11.5)

    def reopened(self):
        self.session.close()
        self.session.open(self.path)

    def test_an_instrument_taken_off_takes_its_entries_along(self):
        name = self.bare()
        added = self.session.entries[-1]
        self.session.log(CoatLogged(dry_um=9.5), instrument="heron")
        self.session.log(CoatLogged(dry_um=9.5), instrument=name)
        self.session.take_back(added.id)
        self.assertNotIn(name, self.session.shop.racked)
        said = self.session.undo()  # not the coat of an instrument that is not there
        self.assertIn("Heron", said)
        self.session.redo()
        self.reopened()
        self.assertNotIn(name, self.session.shop.racked)


class ByTime(RecordTest):
    def test_what_was_told_of_an_earlier_day_does_not_win(self):
        then, now = NOW - timedelta(days=3), NOW - timedelta(hours=1)
        material = self.session.shop.racked["heron"].instrument.material
        pairs = (
            (PriceSet(material=material, per_litre=30.0), PriceSet(material=material, per_litre=20.0)),
            (
                RateAccepted(material=material, ln_mean=0.3, ln_sd=0.1),
                RateAccepted(material=material, ln_mean=0.1, ln_sd=0.1),
            ),
            (DrawerSet(owned=("P400",)), DrawerSet(owned=("P800",))),
            (ShopNamed(name="Now"), ShopNamed(name="Then")),
            (HoursSet(zone="Europe/Rome"), HoursSet(zone="Europe/Oslo")),
        )
        for newer, older in pairs:
            with self.subTest(kind=type(newer).__name__):
                self.session.log(newer, at=now)
                told = self.told_now()
                self.session.log(older, at=then)
                self.assertEqual(self.told_now(), told)

    def told_now(self):
        shop = self.session.shop
        return shop.prices, shop.rates, shop.drawer, shop.name, shop.hours
