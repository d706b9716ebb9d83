"""The days ahead: all instruments' work in one list by day, on the Rack."""

import dataclasses
import itertools
import sys
from datetime import UTC, datetime, timedelta
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.app.looks_asked import looks
from ravden.app.next_act import next_act
from ravden.app.shop_days import Doing, ShopDays, asked
from ravden.app.shop_plan import NoDay
from ravden.core.ahead.foretold import WINDOW, Foretold
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.pin import PinSet
from ravden.journal.kinds.reading import ReadingLogged
from ravden.text import words
from ravden.ui.places.rack import days
from tests.ui.support import NOW, WindowTest, settle

GUN = ("Set up", "Clean the gun")
CTRL = Qt.KeyboardModifier.ControlModifier


class Days(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.turn_to("rack")
        settle(self.window)

    def planned(self):
        return asked(self.session, self.window.places.found)()

    def to_days(self):
        QTest.keyClick(self.window, Qt.Key.Key_E, CTRL)
        settle(self.window)
        return self.window.rack.days

    def rows(self):
        return self.window.rack.days.model.rows

    def test_no_two_works_want_the_same_hands(self):
        doings = self.planned().doings
        self.assertEqual({d.instrument for d in doings}, {"tern", "wren", "heron"})
        for one, two in itertools.pairwise(doings):
            self.assertLessEqual(one.at + timedelta(minutes=one.minutes), two.at)
        self.assertGreaterEqual(doings[0].at, self.session.now)

    def test_every_coat_lies_in_a_session_of_its_finish(self):
        doings = self.planned().doings
        laid = [d for d in doings if d.instrument == "heron" and d.what.startswith("Coat")]
        self.assertEqual([d.what for d in laid], [f"Coat {n} of 10" for n in (8, 9, 10)])
        for coat in laid:
            day = [d for d in doings if d.at.date() == coat.at.date() and d.what in GUN]
            self.assertEqual({d.name for d in day}, {"Sprayed lacquer"})
            self.assertLess(min(d.at for d in day if d.what == "Set up"), coat.at)
            self.assertGreater(max(d.at for d in day if d.what == "Clean the gun"), coat.at)

    def test_nothing_comes_before_its_film_allows_it(self):
        for name, found in self.window.places.found.items():
            first = next(d for d in self.planned().doings if d.instrument == name)
            act = next_act(self.session, found, name)
            self.assertGreaterEqual(first.at, min(act.at, self.session.local(self.session.now)))

    def test_the_list_and_back_to_the_lanes(self):
        rack = self.window.rack
        shown = self.to_days()
        self.assertTrue(shown.isVisible())
        self.assertFalse(rack.lanes.isVisible())
        self.assertTrue(shown.list.hasFocus())
        self.assertEqual([c.heading.text() for c in rack.told if c.isVisible()], ["Promise at risk"])
        self.assertTrue(self.rows()[0].heading.startswith("Today, Mon 4 May: "))
        self.assertEqual(shown.list.columnSpan(0, 0), 5)
        self.assertTrue(shown.list.isColumnHidden(4))
        self.assertIn("seven times in ten", shown.told.text())
        self.assertEqual(rack.days_ahead.text(), "The lanes again")
        QTest.keyClick(shown.list, Qt.Key.Key_Escape)
        self.assertFalse(shown.isVisible())
        self.assertTrue(rack.lanes.isVisible())
        self.assertTrue(rack.lanes.hasFocus())

    def test_another_theme_dresses_them_while_they_are_looked_at(self):
        shown = self.to_days()

        def light():
            image = shown.list.viewport().grab().toImage()
            return image.pixelColor(image.width() - 20, image.height() - 3).lightness()

        before = light()
        self.window.looks.turn_theme()
        settle(self.window)
        self.assertGreater(abs(light() - before), 100)

    def test_a_line_leads_to_where_the_work_is_done(self):
        shown = self.to_days()
        at = next(i for i, row in enumerate(self.rows()) if row.cells[2] == "Coat 8 of 10")
        shown.list.selectRow(at)
        QTest.keyClick(shown.list, Qt.Key.Key_Return)
        settle(self.window)
        self.assertEqual((self.session.selected, self.window.place), ("heron", "booth"))
        self.window.turn_to("rack")
        settle(self.window)
        shown.list.selectRow(next(i for i, row in enumerate(self.rows()) if row.where == "rubout"))
        named = shown.list.currentIndex().siblingAtColumn(1).data()
        shown.go.click()
        settle(self.window)
        self.assertEqual((self.session.selected, self.window.place), (named.lower(), "rubout"))
        self.window.turn_to("rack")
        settle(self.window)
        shown.list.selectRow(next(i for i, row in enumerate(self.rows()) if row.cells[2] == "Set up"))
        shown.list.doubleClicked.emit(shown.list.currentIndex())
        settle(self.window)
        self.assertEqual((self.session.selected, self.window.place), ("heron", "booth"))

    def test_it_follows_what_is_logged(self):
        self.to_days()
        self.assertIn("Coat 8 of 10", [row.cells[2] for row in self.rows()])
        self.session.select("heron", "test")
        QTest.keyClick(self.window, Qt.Key.Key_C)
        settle(self.window)
        said = [row.cells[2] for row in self.rows()]
        self.assertNotIn("Coat 8 of 10", said)
        self.assertIn("Coat 9 of 10", said)
        self.session.undo("test")
        settle(self.window)
        self.assertIn("Coat 8 of 10", [row.cells[2] for row in self.rows()])

    def test_it_is_planned_once_when_every_outlook_has_come_and_gives_way(self):
        was = sys.getswitchinterval()
        self.clock.turn(minutes=1)
        with mock.patch("ravden.app.shop_days.asked", side_effect=asked) as planned:
            self.window.places.refresh(tuple(self.session.shop.racked))
            settle(self.window)
            self.assertEqual(planned.call_count, 1)
            self.window.turn_to("film")
            self.window.turn_to("rack")
            settle(self.window)
            self.assertEqual(planned.call_count, 1)
        self.assertEqual(sys.getswitchinterval(), was)

    def test_only_in_the_shops_hours(self):
        week = {"fri": ((19.0, 21.5),), "sat": ((9.0, 13.0),)}
        self.session.log(HoursSet(zone="UTC", week=week, closed=()), origin="test")
        settle(self.window)
        doings = self.planned().doings
        self.assertGreater(len(doings), 5)
        for doing in doings:
            ends = doing.at + timedelta(minutes=doing.minutes)
            begins, stops = {4: (19 * 60, 21 * 60 + 30), 5: (9 * 60, 13 * 60)}[doing.at.weekday()]
            self.assertGreaterEqual(doing.at.hour * 60 + doing.at.minute, begins)
            self.assertLessEqual(ends.hour * 60 + ends.minute, stops)

    def test_what_no_day_holds_is_named_and_the_rest_planned(self):
        self.session.log(HoursSet(zone="UTC", week={"sat": ((9.0, 9.5),)}), origin="test")
        settle(self.window)
        planned = self.planned()
        self.assertEqual([(n.name, n.film) for n in planned.unplanned], [("Heron", False), ("Wren", False)])
        self.assertEqual({d.instrument for d in planned.doings}, {"tern"})
        self.to_days()
        rows = days.show(planned, self.session.local(NOW)).rows
        at = next(i for i, row in enumerate(rows) if row.heading == "No day found")
        self.assertEqual([row.cells[1] for row in rows[at + 1 : at + 3]], ["Heron", "Wren"])
        self.assertIn("long enough for one of its steps. Longer hours on one day would do", rows[at + 1].cells[2])
        self.window.rack.days_ahead.setChecked(False)
        lane = next(r for _, r in self.window.rack.lanes.rows() if not isinstance(r, str) and r.name == "Heron")
        self.assertIn("no day found", lane.next_when)

    def test_each_promise_with_its_odds_in_the_list_and_on_the_card(self):
        promises = {p.instrument: p for p in self.planned().promises}
        promised = {i for i, r in self.session.shop.racked.items() if r.instrument.promised_h is not None}
        self.assertEqual(set(promises), promised)
        heron, wren = promises["heron"], promises["wren"]
        self.assertGreater(heron.ends, heron.promised)
        self.assertEqual((heron.word, heron.loose), ("unlikely", "Cure to case"))
        self.assertLess(wren.ends, wren.promised)
        self.assertGreater(wren.odds, 0.3)
        self.to_days()
        at = next(i for i, row in enumerate(self.rows()) if row.heading == "Promised")
        said = self.rows()[at + 1]
        self.assertEqual((said.cells[:2], said.cells[3]), (("Unlikely", "Heron"), "hardly"))
        self.assertTrue(said.cells[2].endswith("; loosest: cure to case"))
        self.assertIn("assumed until this shop's own waits", self.window.rack.days.told.text())
        risk = self.window.rack.told[2]
        self.assertEqual(risk.heading.text(), "Promise at risk")
        self.assertIn(f"Heron by {words.day(heron.promised, self.session.local(NOW))}: unlikely", risk.text.text())

    def test_odds_rise_with_a_later_promise(self):
        was = {p.instrument: p.odds for p in self.planned().promises}["heron"]
        outlooks = dict(self.window.places.found)
        found = outlooks["heron"]
        item = found.project.instrument
        later = replace(found.project, instrument=replace(item, promised_h=item.promised_h + 24.0 * 60))
        outlooks["heron"] = dataclasses.replace(found, project=later)
        now = {p.instrument: p for p in asked(self.session, outlooks)().promises}["heron"]
        self.assertGreater(now.odds, was + 0.5)
        self.assertIn(now.word, ("tight", "safe"))

    def test_more_than_one_plan_holds_are_counted_those_promised_first_are_in_it(self):
        with mock.patch("ravden.app.shop_plan.MOST", 2):
            planned = self.planned()
        self.assertEqual({d.instrument for d in planned.doings}, {"heron", "tern"})
        self.assertEqual(planned.beyond, 1)
        said = days.show(planned, self.session.local(NOW)).told
        self.assertIn("Not in it: 1 more, those promised last", said)

    def test_as_a_table(self):
        self.to_days()
        first, second = self.window.places.rack.tables()
        self.assertEqual((first.title, second.title), ("Ferrow Lane: the days ahead", "Ferrow Lane: the Rack"))
        self.assertEqual(first.columns[4], "hands [min]")
        self.assertIn(("today", "Heron", "Coat 8 of 10", "25"), [(r[0], r[2], r[3], r[4]) for r in first.rows])


class Looks(WindowTest):
    there = ("tern", "wren", "gannet")

    def planned_later(self):
        self.session.log(PinSet(step="9.1", day="2026-05-09"), instrument="tern", origin="test")
        self.window.turn_to("rack")
        settle(self.window)
        return asked(self.session, self.window.places.found)()

    def test_a_nail_is_asked_for_where_it_would_tell_and_no_more_once_it_has_told(self):
        planned = self.planned_later()
        (look,) = planned.looks  # one a finish and week; the others are open since long
        self.assertEqual((look.instrument, look.at.date().isoformat()), ("tern", "2026-05-05"))
        rows = days.show(planned, self.session.local(NOW)).rows
        row = next(r for r in rows if r.cells[2] == days.LOOK)
        self.assertEqual((row.cells[1], row.where), ("Tern", "film"))
        lane = next(r for _, r in self.window.rack.lanes.rows() if not isinstance(r, str) and r.name == "Tern")
        self.assertEqual(lane.asks, "Try a nail tomorrow")
        self.session.log(ReadingLogged(what="nail-dents", zone="top"), instrument="tern", origin="test")
        settle(self.window)
        self.assertEqual(asked(self.session, self.window.places.found)().looks, ())

    def test_none_is_asked_for_of_a_finish_that_is_known(self):
        self.planned_later()
        told = [
            Foretold(
                what=WINDOW, of=str(n), name="", label="", finish="lacquer-sprayed", at=NOW, low=200.0, likely=300.0,
                high=450.0, came_low=290.0, came_high=310.0,
            )
            for n in range(24)
        ]  # fmt: skip
        shop = self.window.places.planning.days.made.asked
        self.assertEqual([look.instrument for look in looks(shop, {}, ())], ["tern"])
        self.assertEqual(looks(shop, {"tern": NOW + timedelta(hours=20)}, ()), ())  # paper tells as soon
        self.assertEqual(looks(shop, {}, told), ())


class Said(WindowTest):
    demo = False

    def test_what_stands_where_nothing_is_to_be_done(self):
        now = datetime(2026, 5, 4, 15, tzinfo=UTC)
        self.assertEqual(days.show(None, now).told, days.WORKING)
        self.assertEqual(days.show(ShopDays(), now).told, days.NONE)
        none = days.show(ShopDays(unplanned=(NoDay(instrument="wren", name="Wren", film=True),)), now)
        self.assertEqual(none.rows[0].heading, "No day found")
        self.assertIn("warm the room", none.rows[1].cells[2])
        self.assertTrue(self.window.rack.days_ahead.isHidden())

    def test_a_pin_that_cannot_stand_is_not_said_to_hold(self):
        now = datetime(2026, 5, 4, 15, tzinfo=UTC)
        for loose, said in ((False, "Level · pinned"), (True, "Level · its pin cannot stand")):
            doing = Doing(instrument="wren", name="Wren", what="Level", minutes=30, where="rubout", at=now,
                          pinned=True, loose=loose)  # fmt: skip
            self.assertEqual(days.show(ShopDays(doings=(doing,)), now).rows[1].cells[2], said)

    def test_hours_and_days_as_they_are_said(self):
        now = datetime(2026, 5, 4, 15, tzinfo=UTC)

        def doing(days_on, minutes):
            return Doing(instrument="wren", name="Wren", what="Level", minutes=minutes, where="rubout",
                         at=now + timedelta(days=days_on))  # fmt: skip

        shown = days.show(ShopDays(doings=(doing(1, 515), doing(1, 20), doing(3, 120), doing(8, 20))), now)
        self.assertEqual([r.heading for r in shown.rows if r.heading],
                         ["Tomorrow, Tue 5 May: 8.9 h of hands", "Thu 7 May: 2 h of hands"])  # fmt: skip
        self.assertEqual([r.cells[3] for r in shown.rows if not r.heading], ["8 h 35 min", "20 min", "2 h"])
        self.assertEqual(
            [days.tens(o) for o in (0.02, 0.33, 0.8, 0.97)], ["hardly", "3 in 10", "8 in 10", "nearly sure"]
        )
