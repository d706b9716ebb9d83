"""The air: logger files in many layouts, gaps, forecasts, months, cabinets; and what the window makes of them."""

import random
import unittest
from datetime import UTC, datetime, timedelta, timezone
from zoneinfo import ZoneInfo

from ravden.app.air_files import import_air
from ravden.core.climate.series import Cabinet, in_cabinets, merged, thinned
from ravden.core.errors import InputError
from ravden.core.record import Air
from ravden.exchange import air_csv
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.text.say import whole_fault
from tests.ui.support import NOW, WindowTest, settle
from tests.ui.test_session import SessionTest

ROME = ZoneInfo("Europe/Rome")

# What each of the layouts below says: two rows, the first at half past eight with 18.5 °C and 55 %.
HALF_PAST_EIGHT = (2, datetime(2026, 3, 14, 8, 30, tzinfo=UTC), 18.5, 0.55)


class Layouts(unittest.TestCase):
    def check(self, text, first, temp=18.5, rh=0.55, zone=UTC, rows=2):
        found = air_csv.read(text, zone)
        self.assertEqual(len(found.rows), rows)
        self.assertEqual(found.rows[0].at, first)
        self.assertAlmostEqual(found.rows[0].temp_C, temp, places=6)
        self.assertAlmostEqual(found.rows[0].rh, rh, places=6)
        self.assertEqual(found.bad, ())

    def firsts(self, *texts):
        """How many rows each of them has, and what the first says."""
        read = [air_csv.read(text, UTC) for text in texts]
        self.assertEqual([found.bad for found in read], [()] * len(texts))
        return [
            (len(found.rows), found.rows[0].at, round(found.rows[0].temp_C, 6), round(found.rows[0].rh, 6))
            for found in read
        ]

    def test_common_ones(self):
        found = self.firsts(
            "time,temp_C,rh\n2026-03-14T08:30:00Z,18.5,55\n2026-03-14T09:30:00Z,18.6,54\n",
            "Timestamp;Temperature (\u00b0C);Relative humidity (%)\n14.03.2026 08:30;18,5;55\n"
            "14.03.2026 09:30;18,6;54\n",
            "Date\tTime\tTemp\tHumidity\n2026/03/14\t08:30\t18.5\t55\n2026/03/14\t09:30\t18.6\t54\n",
            "logger 7 in the back room\nserial 12\n\nDate/Time,Celsius(C),Humidity(%rh)\n14/03/2026 08:30,18.5,55\n"
            "14/03/2026 09:30,18.6,54\n",
            "2026-03-14 08:30,18.5,55\n2026-03-14 09:30,18.6,54\n",
            "Time,Temperature (F),RH\n03/14/2026 08:30:00 AM,65.3,55\n03/14/2026 09:30:00 AM,65.5,54\n",
        )
        self.assertEqual(found, [HALF_PAST_EIGHT] * 6)

    def test_a_comma_between_cells_and_in_their_numbers(self):
        found = self.firsts(
            "time,temp,rh\n2026-03-14 08:30,18,5,55,0\n2026-03-14 09:30,18,6,54,2\n",
            "2026-03-14 08:30,18,5,55,0\n2026-03-14 09:30,18,6,54,2\n",
            "Date,Time,Temp,Humidity\n14.03.2026,08:30,18,5,55,0\n14.03.2026,09:30,18,6,54,1\n",
            "time,temp,rh,battery,volts\n2026-03-14 08:30,18.5,55,90,3\n2026-03-14 09:30,19.0,54,90,3\n",
        )
        self.assertEqual(found, [HALF_PAST_EIGHT] * 4)

    def test_the_dew_point_is_not_the_air(self):
        names = (
            "dew point temp C,temp C,rh",
            "Taupunkt °C,Temperatur °C,Feuchte",
            "wet bulb temp,temp,abs humidity g,rh",
        )
        more = {n: ",9,55" if "abs" in n else ",55" for n in names}
        found = self.firsts(*(
            f"time,{n}\n" + "".join(f"2026-03-14 0{h}:30,9.1,18.5{more[n]}\n" for h in (8, 9)) for n in names
        ))  # fmt: skip
        self.assertEqual(found, [HALF_PAST_EIGHT] * 3)

    def test_clocks_of_twelve_hours_and_short_years(self):
        at = datetime(2026, 3, 14, 20, 30, 5, tzinfo=UTC)
        for first, second in (
            ("14/03/26 20:30:05", "14/03/26 21:30:05"), ("14/03/2026 08:30:05 PM", "14/03/2026 09:30:05 PM"),
            ("03/14/26 08:30:05 PM", "03/14/26 09:30:05 PM"), ("2026-03-14 08:30:05 PM", "2026-03-14 09:30:05 PM"),
            ("14.03.26 20:30:05", "14.03.26 21:30:05"),
        ):  # fmt: skip
            with self.subTest(first=first):
                self.check(f"time,temp,rh\n{first},18.5,55\n{second},18.6,54\n", at)

    def test_a_clock_never_set_costs_its_rows_alone(self):
        rows = ["1904-01-01 00:00:00", "0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "2026-03-14 08:30"]
        found = air_csv.read("time,temp,rh\n" + "".join(f"{at},18.5,55\n" for at in rows), UTC)
        self.assertEqual(([n for n, _ in found.bad], len(found.rows)), ([2, 3, 4], 1))
        self.assertIn("1904", found.bad[0][1])

    def read(self, heading, *rows):
        lines = [f"2026-03-14 {8 + i:02d}:30,{row}" for i, row in enumerate(rows)]
        return air_csv.read("\n".join([heading, *lines]), UTC)

    def test_humidity_as_a_share_is_read_as_one_and_said(self):
        found = self.read("time,temp,rh", "18.5,0.55", "18.6,0.52", "18.7,1.0")
        self.assertEqual([round(r.rh, 2) for r in found.rows], [0.55, 0.52, 1.0])
        self.assertIn("humidity taken as a share of one", found.taken_as)
        plain = self.read("time,temp,rh %", "18.5,0.55", "18.6,0.52")  # the heading says hundredths
        self.assertEqual(([round(r.rh, 4) for r in plain.rows], plain.taken_as), ([0.0055, 0.0052], ()))
        self.assertEqual(self.read("time,temp,rh", "18.5,55", "18.6,52").taken_as, ())

    def test_fahrenheit_without_a_unit_is_no_hot_shop(self):
        found = self.read("time,temp,rh", "57,55", "58,54", "56,50")
        self.assertEqual([round(r.temp_C, 1) for r in found.rows], [13.9, 14.4, 13.3])
        self.assertIn("Fahrenheit", found.taken_as[0])
        warm = self.read("time,temp °C,rh", "57,55", "58,54", "56,50")  # it says Celsius: an oven
        self.assertEqual([r.temp_C for r in warm.rows], [57, 58, 56])
        self.assertEqual(self.read("time,temp,rh", "31,55", "32,54").rows[0].temp_C, 31)

    def test_the_zone_a_heading_names_is_that_of_its_times(self):
        for heading, hour in (
            ("Date Time, GMT+00:00", 8), ("Date Time, GMT+02:00", 6), ("Date Time, UTC-3", 11), ("Date Time", 7),
        ):  # fmt: skip
            lines = [f'"{heading}",temp,rh', "2026-03-14 08:30,18.5,55", "2026-03-14 09:30,18.6,55"]
            found = air_csv.read("\n".join(lines), timezone(timedelta(hours=1)))
            self.assertEqual(found.rows[0].at, datetime(2026, 3, 14, hour, 30, tzinfo=UTC), heading)
            self.assertEqual(bool(found.taken_as), heading != "Date Time")

    def test_one_row_that_cannot_be_costs_itself_alone(self):
        found = self.read("time,temp,rh", "18.5,55", "-25,55", "18.6,54", "999,55")
        self.assertEqual(([n for n, _ in found.bad], len(found.rows)), ([3, 5], 2))
        late = air_csv.read("time,temp,rh\n2026-03-14 08:30,18.5,55\n2260-03-14 09:30,18.6,54\n", UTC)
        self.assertEqual([n for n, _ in late.bad], [3])

    def test_a_row_of_a_million_empty_cells_is_not_looked_at(self):
        with self.assertRaises(InputError) as caught:
            air_csv.read("time,temp,rh\n" + "," * 1_500_000, UTC)
        self.assertIn("row 2 is longer than any logger writes", whole_fault(caught.exception))

    def test_it_can_be_stopped(self):
        class Enough(Exception):
            pass

        shares = []

        def tick(share):
            shares.append(share)
            if len(shares) == 2:
                raise Enough

        rows = "".join(f"2026-03-14 {i // 60 % 24:02d}:{i % 60:02d},18.5,55\n" for i in range(15_000))
        with self.assertRaises(Enough):
            air_csv.read("time,temp,rh\n" + rows, UTC, "x", tick)
        self.assertEqual(shares[0], 0.0)
        self.assertLess(shares[1], 0.5)

    def test_a_quotation_mark_that_is_never_closed(self):
        with self.assertRaises(InputError) as caught:
            air_csv.read('time,temp,rh\n"2026' + "x" * 140_000, UTC)
        self.assertIn("quotation mark", str(caught.exception))

    def test_offsets_and_zones(self):
        self.check("time,temp,rh\n2026-03-14T09:30:00+01:00,18.5,55\n2026-03-14T10:30:00+01:00,18.5,55\n",
                   datetime(2026, 3, 14, 8, 30, tzinfo=UTC))  # fmt: skip
        self.check("time,temp,rh\n2026-07-14 10:30,18.5,55\n2026-07-14 11:30,18.5,55\n",
                   datetime(2026, 7, 14, 8, 30, tzinfo=UTC), zone=ROME)  # fmt: skip

    def test_the_hour_that_comes_twice(self):
        rows = [f"2026-10-25 0{h}:{m:02d},18.5,55" for h, m in ((1, 30), (2, 0), (2, 30), (2, 0), (2, 30), (3, 0))]
        found = air_csv.read("time,temp,rh\n" + "\n".join(rows), ROME)
        minutes = [(b.at - a.at).total_seconds() / 60 for a, b in zip(found.rows, found.rows[1:], strict=False)]
        self.assertEqual(minutes, [30.0] * 5)

    def test_without_humidity_half_is_taken(self):
        self.assertEqual(air_csv.read("2026-03-14 08:30,18.5\n", UTC).rows[0].rh, 0.5)

    def test_bad_rows_are_told_by_number(self):
        text = (
            "time,temp,rh\n2026-03-14 08:30,18.5,55\n2026-03-14 09:30,85,55\n2026-03-14 10:30,18,140\nsoon,18,50\n"
            "2026-03-14 11:30,,50\n2026-03-14 12:30,warm,50\n2026-03-14 13:30,19,50\n"
        )
        found = air_csv.read(text, UTC)
        self.assertEqual([n for n, _ in found.bad], [3, 4, 5, 6, 7])
        self.assertIn("85", found.bad[0][1])
        self.assertIn("140", found.bad[1][1])
        self.assertEqual(len(found.rows), 2)

    def test_what_is_no_log_is_refused(self):
        for text in ("", "hello", "a,b,c\nd,e,f\n", "time,temp\nsoon,warm\n"):
            self.assertRaises(InputError, air_csv.read, text, UTC)


class Series(unittest.TestCase):
    def log(self, *hours, temp=18.0):
        return [Air(at_h=h, temp_C=temp, source="log") for h in hours]

    def at(self, air, hour):
        return max((a for a in air if a.at_h <= hour), key=lambda a: a.at_h)

    usual = (Air(at_h=0, temp_C=10, source="usual"), Air(at_h=700, temp_C=12, source="usual"))

    def test_a_gap_is_bridged_by_the_usual_air_and_told(self):
        air, gaps = merged(self.log(0, 1, 2, 400, 401), self.usual, (), 402)
        self.assertEqual([(g.from_h, g.to_h) for g in gaps], [(8.0, 400)])
        self.assertEqual([self.at(air, h).source for h in (5, 20, 399, 400.5)], ["log", "usual", "usual", "log"])
        held, same = merged(self.log(0, 1, 2, 400), (), (), 402)
        self.assertEqual((self.at(held, 200).temp_C, len(same)), (18, 1))

    def test_a_hand_told_air_holds_and_then_the_season_does(self):
        told = [Air(at_h=0, temp_C=21)]
        self.assertEqual(merged(told, (), (), 500)[0], tuple(told))
        air, gaps = merged(told, self.usual, (), 500)
        self.assertEqual([self.at(air, h).temp_C for h in (499, 523, 525, 800)], [21, 21, 10, 12])
        self.assertEqual(gaps, ())

    def test_a_forecast_counts_from_now_on(self):
        ahead = [Air(at_h=h, temp_C=t, source="forecast") for h, t in ((90, 15), (110, 16), (130, 17))]
        air, _ = merged([Air(at_h=0, temp_C=21)], self.usual, ahead, 100)
        self.assertEqual([self.at(air, h).temp_C for h in (99, 101, 120, 140, 160)], [21, 15, 16, 17, 10])

    def test_a_cabinet_is_around_one_instrument_for_its_time(self):
        air = in_cabinets(
            [Air(at_h=0, temp_C=18), Air(at_h=20, temp_C=16)], [Cabinet(at_h=10, hours=24, temp_C=32, rh=0.3)]
        )
        self.assertEqual([self.at(air, h).temp_C for h in (5, 15, 30, 35)], [18, 32, 32, 16])

    def test_a_log_is_thinned_without_losing_its_changes_or_gaps(self):
        rows = [Air(at_h=h / 6, temp_C=18 + (h > 60), source="log") for h in range(120)]
        kept = thinned(rows)
        self.assertLess(len(kept), 12)
        self.assertEqual(self.at(kept, 15).temp_C, 19)
        self.assertEqual(merged(kept, self.usual, (), 20)[1], ())


class InTheShop(SessionTest):
    def file(self, text, name="log.csv"):
        path = self.folder / name
        path.write_text(text)
        return path

    def rows(self, start, hours, temp=12.0):
        return "time,temp,rh\n" + "".join(
            f"{(start + timedelta(hours=h)).isoformat()},{temp},60\n" for h in range(hours)
        )

    def level_h(self):
        windows = {w.name: w.likely_h for w in self.session.request("tern").run().windows}
        return windows["buff"]

    def test_a_logger_file_drives_the_past(self):
        before = self.level_h()
        said = import_air(self.session, self.file(self.rows(NOW - timedelta(days=12), 24 * 12, 30.0)), "log")
        self.assertIn("288 rows read", said)
        self.assertLess(self.level_h(), before - 24)
        self.session.undo()
        self.assertAlmostEqual(self.level_h(), before, places=6)

    def test_bad_rows_gaps_and_the_future_are_told(self):
        text = self.rows(NOW - timedelta(days=40), 5) + f"{(NOW - timedelta(days=1)).isoformat()},90,60\n"
        text += f"{(NOW - timedelta(hours=2)).isoformat()},18,60\n{(NOW + timedelta(days=2)).isoformat()},18,60\n"
        said = import_air(self.session, self.file(text), "log")
        for words in ("1 left out (row 7: 90 \u00b0C", "1 of the future left out", "1 gap", "bridged by the usual air"):
            self.assertIn(words, said)

    def test_what_cannot_be_read_changes_nothing(self):
        count = len(self.session.entries)
        future = self.file(self.rows(NOW + timedelta(days=1), 5), "future.csv")
        for path, source in (
            (self.file("hello"), "log"), (self.folder / "none.csv", "log"), (future, "log"),
            (self.file(self.rows(NOW - timedelta(days=9), 5), "old.csv"), "forecast"),
        ):  # fmt: skip
            with self.assertRaises(InputError) as caught:
                import_air(self.session, path, source)
            self.assertIn(path.name.split(".")[0] if path.name != "log.csv" else "log.csv", caught.exception.path)
        self.assertEqual(len(self.session.entries), count)

    def test_a_noisy_year_of_five_minutes_is_taken(self):
        rng, start = random.Random(1), NOW - timedelta(days=365)
        lines = [
            f"{start + timedelta(minutes=5 * i):%Y-%m-%d %H:%M+00:00},{18 + rng.gauss(0, 0.3):.2f},50\n"
            for i in range(365 * 288)
        ]
        said = import_air(self.session, self.file("time,temp,rh\n" + "".join(lines)), "log")
        self.assertIn("105120 rows read", said)
        rows = self.session.entries[-1].body
        self.assertLess(len(rows.hours), 20_000)
        self.assertLess(max(abs(t - 18) for t in rows.temp_C), 1)

    def test_years_that_cannot_be(self):
        count = len(self.session.entries)
        for year, words in (("0001", "of the year 1"), ("2135", "the future")):
            with self.subTest(year=year), self.assertRaisesRegex(InputError, words):
                import_air(self.session, self.file(f"time,temp,rh\n{year}-05-05T10:00:00+00:00,20,50\n" * 2), "log")
        with self.assertRaisesRegex(InputError, "some of it is in the future"):
            self.session.log(AirSeries(source="log", hours=(0.0, 8e5), temp_C=(20.0, 20.0), rh=(0.5, 0.5)))
        self.assertEqual(len(self.session.entries), count)

    def test_a_cold_forecast_puts_windows_off(self):
        before = self.level_h()
        import_air(self.session, self.file(self.rows(NOW, 24 * 20, 12.0), "cold.csv"), "forecast")
        self.assertGreater(self.level_h(), before + 24)

    def test_the_cabinet_brings_one_instrument_forward(self):
        before, heron = self.level_h(), self.session.request("heron").run().windows[0].likely_h
        self.session.log(CabinetLogged(hours=120, temp_C=32), instrument="tern", at=NOW)
        self.assertLess(self.level_h(), before - 24)
        self.assertAlmostEqual(self.session.request("heron").run().windows[0].likely_h, heron, places=6)

    def test_air_that_cannot_be_is_refused(self):
        for body in (
            AirUsual(temp_C=(20.0,) * 11, rh=(0.5,) * 11), AirUsual(temp_C=(20.0,) * 12, rh=(1.4,) * 12),
            AirSeries(source="log", hours=(0.0, 1.0), temp_C=(20.0, 85.0), rh=(0.5, 0.5)),
            AirSeries(source="log", hours=(1.0, 0.0), temp_C=(20.0, 20.0), rh=(0.5, 0.5)),
            AirSeries(source="dream", hours=(0.0,), temp_C=(20.0,), rh=(0.5,)), AirLogged(temp_C=float("nan")),
        ):  # fmt: skip
            with self.subTest(body=body):
                self.assertRaises(InputError, self.session.log, body)
        for body in (CabinetLogged(hours=0, temp_C=30), CabinetLogged(hours=5, temp_C=75)):
            self.assertRaises(InputError, self.session.log, body, instrument="tern")


class InTheWindow(WindowTest):
    def test_months_and_days_by_hand(self):
        self.window.anywhere.ask("usual")
        self.fill(self.window.card, Jan="14 70", Jul="warm")
        self.window.card.submit()
        self.assertIn("write temperature and humidity", self.window.card.faults["Jul"].text())
        self.fill(self.window.card, Jul="26 45")
        self.window.card.submit()
        settle(self.window)
        self.assertEqual(self.session.shop.air.usual[0], (14.0, 0.7))
        self.window.anywhere.ask("forecast")
        self.fill(self.window.card, day0="15 80", day1="16 75")
        self.window.card.submit()
        settle(self.window)
        self.assertEqual([row[1] for row in self.session.shop.air.forecast], [15.0, 16.0])

    def test_the_cabinet_is_logged_and_shown(self):
        self.choose("tern", "film")
        self.window.anywhere.ask("cabinet")
        self.window.card.submit()
        settle(self.window)
        self.assertIn("Warm cabinet 30 \u00b0C", self.window.air.text())
        self.assertIn("in the warm cabinet", self.window.notice.text.text())
