"""What the journal tells of hours, months and pauses, to the hour."""

import unittest
from datetime import UTC, datetime, timedelta

from msgspec import structs

from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.journal.air import ShopAir
from ravden.journal.entry import Entry
from ravden.journal.fold import Fold
from ravden.journal.hours import ShopHours
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.session import SessionBegun, SessionEnded, SessionPaused

ZERO = datetime(2026, 5, 4, 9, tzinfo=UTC)
KIND = shipped().kind("parlour-guitar")
ADDED = InstrumentAdded(
    id="x", name="X", instrument_kind=KIND.id, measures=measures_of(KIND), method="lacquer-fine-start", sheen="gloss",
    material="lacquer-sprayed", min_film_um=20, promised=(ZERO + timedelta(days=10, hours=3)).isoformat(),
)  # fmt: skip


class Promised(unittest.TestCase):
    def test_a_promise_is_counted_in_hours_from_its_own_zero(self):
        self.assertEqual(ADDED.record(ZERO).promised_h, 243.0)
        self.assertEqual(ADDED.record(ZERO + timedelta(hours=43)).promised_h, 200.0)
        self.assertIsNone(structs.replace(ADDED, promised=None).record(ZERO).promised_h)


class Months(unittest.TestCase):
    def test_each_month_has_its_own_usual_air(self):
        """From the month it came in, by the shop's midnight, and round the turn of the year."""
        months = tuple((float(i), 0.30 + 0.01 * i) for i in range(1, 13))
        air = ShopAir(hours=ShopHours(zone="Europe/Rome")).with_usual(months)
        zero = datetime(2026, 10, 20, 12, tzinfo=UTC)
        rows, _ = air.series(zero, zero)
        usual = [r for r in rows if r.source == "usual"]
        self.assertGreater(len(usual), 12)
        for row in usual[:8]:
            at = (zero + timedelta(hours=row.at_h)).astimezone(air.hours.clock)
            self.assertEqual((at.day, at.hour), (1, 0))
            self.assertEqual((row.temp_C, row.rh), months[at.month - 1])
        self.assertEqual([round(r.temp_C) for r in usual[:5]], [10, 11, 12, 1, 2])


class Paused(unittest.TestCase):
    def session(self, *told):
        bodies = [(0.0, ADDED, "x"), (1.0, SessionBegun(instruments=("x",)), "")]
        rows = [*bodies, *((h, b, "x" if isinstance(b, CoatLogged) else "") for h, b in told)]
        at = [ZERO + timedelta(hours=h) for h, _, _ in rows]
        entries = [
            Entry(id=i, at=t, logged_at=t, instrument=about, body=body)
            for i, (t, (_, body, about)) in enumerate(zip(at, rows, strict=True), start=1)
        ]
        whole, one_by_one = Fold(entries, shipped()), Fold((), shipped())
        for entry in entries:
            one_by_one.add(entry)
        self.assertEqual(whole.shop.session, one_by_one.shop.session)
        return whole.shop.session

    def test_it_is_paused_from_when_it_was_left_until_it_goes_on(self):
        at = {h: ZERO + timedelta(hours=h) for h in range(12)}
        self.assertIsNone(self.session().paused)
        left = self.session((2.0, SessionPaused(on=True)))
        self.assertEqual((left.paused, left.away), (at[2], timedelta()))
        self.assertEqual(left.worked(at[5]), timedelta(hours=1))
        on = self.session((2.0, SessionPaused(on=True)), (5.0, SessionPaused(on=False)))
        self.assertEqual((on.paused, on.away), (None, timedelta(hours=3)))
        self.assertEqual(on.worked(at[6]), timedelta(hours=2))
        coat = self.session((2.0, SessionPaused(on=True)), (5.0, SessionPaused(on=False)), (6.0, CoatLogged(dry_um=9)))
        self.assertEqual((coat.acted, coat.away, coat.worked(at[7])), (at[6], timedelta(), timedelta(hours=1)))

    def test_it_is_over_when_said_or_forgotten(self):
        self.assertTrue(self.session().is_open(ZERO + timedelta(hours=12)))
        self.assertFalse(self.session().is_open(ZERO + timedelta(hours=13)))
        self.assertFalse(self.session((2.0, SessionEnded())).is_open(ZERO + timedelta(hours=2)))
        forgotten = self.session((2.0, CoatLogged(dry_um=9)), (146.0, CoatLogged(dry_um=9)))
        self.assertEqual(forgotten.ended, ZERO + timedelta(hours=2))
        self.assertFalse(forgotten.is_open(ZERO + timedelta(hours=146)))

    def test_an_earlier_act_told_later_moves_nothing_back(self):
        late = self.session((5.0, CoatLogged(dry_um=9)), (3.0, CoatLogged(dry_um=9, zones=("top",))))
        self.assertEqual(late.acted, ZERO + timedelta(hours=5))
        self.assertEqual(late.last, ZERO + timedelta(hours=5))
