"""The shop's hours: typed, kept, planned in; its clock across the nights when it is put forward or back."""

import unittest
from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar

from ravden.app import forms, holidays_of, hours_form
from ravden.app.clock import HandClock
from ravden.app.plan_of import plan_of
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.exchange.calendar import calendar
from ravden.journal.hours import DAYS, Closed, ShopHours
from ravden.journal.kinds.hours import HoursSet
from tests.in_folder import InFolder
from tests.ui.support import WindowTest, settle

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
ROME = ShopHours(zone="Europe/Rome")
EVENINGS = dict.fromkeys(DAYS[:5], ((18.0, 21.5),)) | {"sat": ((9.0, 12.0), (13.0, 18.0))}


class Typed(unittest.TestCase):
    def test_a_day_as_people_write_it(self):
        for text, found in (
            ("8-12, 13:30-18", ((8, 12), (13.5, 18))), ("8–20", ((8, 20),)), ("", ()), ("shut", ()),
            ("9am-5:30pm", ((9, 17.5),)), ("6 to 12; 22-24", ((6, 12), (22, 24))), ("12am-1am", ((0, 1),)),
        ):  # fmt: skip
            with self.subTest(text=text):
                self.assertEqual(hours_form.spans(text, "mon"), found)
                self.assertEqual(hours_form.spans(hours_form.spelt(found), "mon"), found)

    def test_what_is_no_day_is_told_at_it(self):
        for text in ("8", "8-", "12-8", "8-12, 11-18", "25-26", "8:75-9", "13pm-14", "from 8"):
            with self.subTest(text=text), self.assertRaises(InputError) as caught:
                hours_form.spans(text, "tue")
            self.assertEqual(caught.exception.path, "tue")

    def test_closed_days(self):
        text = "2026-12-24 to 2027-01-02  Christmas\n\n2026-12-08 Immaculate Conception\n2026-08-15"
        found = hours_form.closed(text)
        self.assertEqual([c.first for c in found], ["2026-08-15", "2026-12-08", "2026-12-24"])
        self.assertEqual(hours_form.closed(hours_form.closed_lines(found)), found)
        days = ShopHours(closed=found).closed_days
        self.assertEqual(len(days), 12)
        self.assertIn(date(2027, 1, 2), days)
        for bad in ("tomorrow", "2026-13-01", "2026-05-05 to 2026-05-01", "2026-01-01 to 2029-01-01"):
            with self.subTest(bad=bad), self.assertRaises(InputError):
                hours_form.closed(bad)

    def test_holidays_are_a_start(self):
        found = holidays_of.of("DE", "BY", date(2026, 12, 1), 2)
        self.assertEqual((found[0].first, found[0].name), ("2026-12-25", "Christmas Day"))
        self.assertIn("2027-01-06", [c.first for c in found])
        self.assertNotIn("2027-01-06", [c.first for c in holidays_of.of("DE", "", date(2026, 12, 1), 2)])


class Clock(unittest.TestCase):
    """Rome puts its clock forward on 29 March 2026 at 2 and back on 25 October at 3."""

    def at(self, text, now):
        return forms.moment(text, ROME.local(now), ROME)

    def test_typed_across_a_change_in_either_direction(self):
        monday = datetime(2026, 3, 30, 7, tzinfo=UTC)
        self.assertEqual(self.at("2026-03-28 12:00", monday), datetime(2026, 3, 28, 11, tzinfo=UTC))
        self.assertEqual(self.at("2026-03-29 12:00", monday), datetime(2026, 3, 29, 10, tzinfo=UTC))
        self.assertEqual(self.at("yesterday 12:00", monday), datetime(2026, 3, 29, 10, tzinfo=UTC))
        autumn = datetime(2026, 10, 26, 7, tzinfo=UTC)
        self.assertEqual(self.at("2026-10-24 12:00", autumn), datetime(2026, 10, 24, 10, tzinfo=UTC))
        self.assertEqual(self.at("yesterday 12:00", autumn), datetime(2026, 10, 25, 11, tzinfo=UTC))

    def test_an_hour_that_is_not_there_and_one_that_comes_twice(self):
        with self.assertRaisesRegex(InputError, "no 02:30"):
            self.at("2026-03-29 02:30", datetime(2026, 3, 30, 7, tzinfo=UTC))
        between = datetime(2026, 10, 25, 0, 45, tzinfo=UTC)
        self.assertEqual(self.at("2:30", between), datetime(2026, 10, 25, 0, 30, tzinfo=UTC))
        after = datetime(2026, 10, 25, 2, tzinfo=UTC)
        self.assertEqual(self.at("2:30", after), datetime(2026, 10, 25, 1, 30, tzinfo=UTC))

    def test_midnights_are_the_walls(self):
        found = ROME.midnights(datetime(2026, 3, 28, tzinfo=UTC), datetime(2026, 3, 31, tzinfo=UTC))
        self.assertEqual([m.astimezone(UTC).hour for m in found], [23, 22, 22])
        self.assertTrue(all(m.hour == 0 for m in found))

    def test_years_typed_wrong(self):
        for text in ("0001-01-01 10:00", "1066-10-14"):
            with self.subTest(text=text), self.assertRaisesRegex(InputError, "before 1950"):
                self.at(text, NOW)
        with self.assertRaisesRegex(InputError, "year right"):
            forms.promise("9999-12-31", ROME.local(NOW), ROME)


class Kept(InFolder):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, ("heron",))
        self.session = ShopSession(shipped(), HandClock(NOW))
        self.session.open(self.path)
        self.addCleanup(self.session.close)

    def work(self):
        """The local stretches in which hands are wanted."""
        found = self.session.request("heron").run()
        rack = self.session.shop.racked["heron"]
        steps = [s for s in found.forward.steps if s.hands_h > 0 and s.from_h > found.now_h]
        return [(self.session.local(rack.moment(s.from_h)), self.session.local(rack.moment(s.to_h))) for s in steps]

    def test_the_plan_keeps_to_them(self):
        self.session.log(HoursSet(zone="Europe/Rome", week=EVENINGS, closed=(Closed(first="2026-05-05"),)))
        found = self.work()
        self.assertGreater(len(found), 2)
        for begins, _ in found:
            open_h = begins.hour + begins.minute / 60
            spans = EVENINGS.get(DAYS[begins.weekday()], ())
            self.assertTrue(any(a - 0.02 <= open_h <= b + 0.02 for a, b in spans), begins)
            self.assertNotEqual(begins.date(), date(2026, 5, 5))

    def test_they_come_back_with_the_file_and_can_be_taken_back(self):
        before = self.work()
        self.session.log(HoursSet(zone="Asia/Tokyo", week=EVENINGS))
        self.session.close()
        self.session.open(self.path)
        self.assertEqual(self.session.shop.hours.zone, "Asia/Tokyo")
        self.assertEqual(self.session.local(NOW).hour, 0)
        self.session.undo()
        self.assertEqual(self.session.shop.hours, ShopHours())
        self.assertEqual(self.work(), before)

    def test_a_file_and_the_window_agree(self):
        self.session.log(HoursSet(zone="Asia/Tokyo", week=EVENINGS))
        mine = self.session.request("heron").run().forward.steps
        self.assertEqual(mine, plan_of(self.session.shop, "heron", NOW).forward.steps)

    def test_a_calendar_is_in_utc(self):
        self.session.log(HoursSet(zone="America/New_York", week=EVENINGS))
        found = self.session.request("heron").run()
        raw = calendar(self.session.shop, "heron", found, NOW)
        timed = [e["dtstart"].dt for e in Calendar.from_ical(raw).walk("VEVENT") if "T" in str(e["dtstart"].to_ical())]
        self.assertTrue(timed)
        self.assertEqual({t.utcoffset() for t in timed}, {timedelta(0)})
        hours = {t.astimezone(self.session.shop.hours.clock).hour for t in timed}
        self.assertLessEqual(hours, {*range(9, 13), *range(13, 22)})

    def test_what_cannot_be_is_refused_at_its_field(self):
        for body, field in (
            (HoursSet(zone="Mars/Base"), "zone"), (HoursSet(week={"someday": ((8, 9),)}), "week"),
            (HoursSet(week={"mon": ((9, 8),)}), "hours"), (HoursSet(week={"mon": ()}), "hours"),
            (HoursSet(closed=(Closed(first="soon"),)), "closed"),
        ):  # fmt: skip
            with self.subTest(body=body), self.assertRaises(InputError) as caught:
                self.session.log(body)
            self.assertEqual(caught.exception.path, field)

    def test_a_zone_this_machine_does_not_know(self):
        hours = ShopHours(zone="Mars/Base", week=((),) * 7)
        self.assertEqual(hours.local(NOW), NOW)
        self.assertEqual(hours.local(NOW).utcoffset(), NOW.astimezone().utcoffset())


class InTheWindow(WindowTest):
    def turn(self):
        self.window.turn_to("shop")
        self.window.shop.pages.turn_to("hours")
        settle(self.window)
        return self.window.shop.hours

    def test_hours_are_typed_kept_and_shown(self):
        page = self.turn()
        self.assertIn("No hours told yet", page.told.text())
        page.inputs["sat"].setText("9-12, 11-18")
        page.keep.click()
        self.assertIn("follow one another", page.faults["sat"].text())
        self.assertEqual(self.session.shop.hours, ShopHours(zone="Atlantic/Azores"))
        for day in DAYS:
            page.inputs[day].setText("18-21:30" if day in DAYS[:5] else "")
        page.inputs["zone"].setText("Europe/Rome")
        page.closed.setPlainText("2026-12-24 to 2026-12-31")
        page.keep.click()
        settle(self.window)
        self.assertEqual(page.faults["sat"].text(), "")
        self.assertIn("17.5 hours in all, by the clock of Europe/Rome", page.told.text())
        self.assertEqual(page.inputs["mon"].text(), "18–21:30")
        self.assertEqual(self.session.local(NOW).hour, 17)
        self.window.turn_to("rack")
        shut = {at.date().isoformat() for at, shut in self.rack_days() if shut}
        self.assertTrue({"2026-05-09", "2026-05-10"} <= shut)
        self.assertNotIn("2026-05-08", shut)

    def rack_days(self):
        from ravden.ui.places.rack import presenter

        return presenter.show(self.session, self.window.places.found).days

    def test_what_is_typed_stays_until_it_is_kept_or_left(self):
        page = self.turn()
        page.inputs["mon"].setText("7-9")
        self.session.log_usual_coat("test")
        settle(self.window)
        self.assertEqual(page.inputs["mon"].text(), "7-9")
        page.leave.click()
        self.assertEqual(page.inputs["mon"].text(), "8–20")

    def test_holidays_are_put_in_beside_what_is_there(self):
        page = self.turn()
        page.closed.setPlainText("2026-12-25 family")
        page.country.setCurrentIndex(page.country.findData("AT"))
        page.put.click()
        lines = page.closed.toPlainText().splitlines()
        self.assertIn("25/12/2026  family", lines)
        self.assertIn("26/12/2026  Saint Stephen's Day", lines)
        self.assertFalse(self.session.shop.hours.closed)

    def test_a_new_shop_keeps_the_zone_it_was_made_in(self):
        self.window.files.make_shop(self.folder / "new.ravden")
        self.assertEqual(self.session.shop.hours.zone, "Atlantic/Azores")

    def test_an_older_file_keeps_the_zone_it_is_first_opened_in_and_undo_knows_nothing_of_it(self):
        self.assertEqual(self.session.shop.hours.zone, "Atlantic/Azores")
        zones = sum(isinstance(e.body, HoursSet) for e in self.session.entries)
        self.assertEqual(zones, 1)
        self.assertNotIn("hours", self.window.notice.text.text())
        self.session.log_usual_coat("test")
        self.assertIn("Taken back: Coat", self.session.undo())
        self.window = self.open()
        self.assertEqual(sum(isinstance(e.body, HoursSet) for e in self.session.entries), zones)

    def test_the_air_of_a_year_is_shown_by_the_day(self):
        self.window.turn_to("shop")
        self.window.shop.year.click()
        self.assertIn("a year", self.window.shop.heading.text())
        from ravden.ui.places.shop import presenter

        shown = presenter.show(self.session, {}, year=True)
        self.assertLessEqual(len(shown.points), 382)
        self.assertAlmostEqual(shown.points[-1].temp_C, shown.points[-2].temp_C, delta=5)
        self.assertEqual({d.day for d in shown.days}, {1})
