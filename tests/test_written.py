"""Numbers, days and hours as the desktop writes them, and read back as they were written."""

import unittest
from datetime import date, datetime

from hypothesis import given
from hypothesis import strategies as st

from ravden.text import words, written
from ravden.text.units import Units
from ravden.text.written import Written

AT = datetime(2026, 11, 28, 14, 5)


class AsWritten(unittest.TestCase):
    def setUp(self):
        self.addCleanup(written.use, written.PLAIN)

    def test_a_comma_wherever_a_number_is_said(self):
        written.use(Written(decimal="comma"))
        self.assertEqual(Units().film(7.25), "7,2 µm")
        self.assertEqual(Units(system="us").film(91.0), "3,6 mil")
        self.assertEqual(words.wait(2.5), "2,5 h")
        self.assertEqual(Units().area_large(6200), "0,62 m²")

    def test_days_in_each_order(self):
        for dates, said, typed in (
            ("dmy", "Sat 28 Nov", "28/11/2026"), ("mdy", "Sat Nov 28", "11/28/2026"),
            ("ymd", "Sat 11-28", "2026-11-28"),
        ):  # fmt: skip
            written.use(Written(dates=dates))
            self.assertEqual(words.day(AT, datetime(2026, 11, 1)), said)
            self.assertEqual(written.typed_day(AT), typed)
        self.assertEqual(written.day(AT, year=True), "Sat 2026-11-28")

    def test_hours_by_either_clock(self):
        written.use(Written(clock="12"))
        shown = {h: written.clock(AT.replace(hour=h)) for h in (0, 9, 12, 23)}
        self.assertEqual(shown, {0: "12:05 am", 9: "9:05 am", 12: "12:05 pm", 23: "11:05 pm"})
        self.assertEqual(written.read_hour("2 pm"), (14, 0))
        self.assertEqual(written.read_hour("12:30 am"), (0, 30))
        for nothing in ("25:00", "13 pm", "0 am", "9:75", "noon", ""):
            self.assertIsNone(written.read_hour(nothing), nothing)

    @given(st.datetimes(datetime(1951, 1, 1), datetime(2199, 1, 1)), st.sampled_from(("dmy", "mdy", "ymd")),
           st.sampled_from(("24", "12")))  # fmt: skip
    def test_what_is_written_into_a_field_is_read_back(self, at, dates, clock):
        written.use(Written(dates=dates, clock=clock))
        day, _, hour = written.typed_moment(at).partition(" ")
        self.assertEqual(written.read_day(day), at.date())
        self.assertEqual(written.read_hour(hour), (at.hour, at.minute))

    def test_a_day_that_is_none(self):
        for text in ("2026-02-30", "31/31/2026", "yesterday", "28.11.26", ""):
            self.assertIsNone(written.read_day(text), text)
        written.use(Written(dates="dmy"))
        self.assertEqual(written.read_day("28.11.2026"), date(2026, 11, 28))
        self.assertEqual(written.read_day("2026-1-5"), date(2026, 1, 5))
