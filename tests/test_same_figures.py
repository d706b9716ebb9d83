"""What shows the same tomorrow, one by one: times away, copies, frozen figures, logger files and more."""

import shutil
import sqlite3
from datetime import UTC, date, datetime, timedelta
from unittest import mock

from ravden.app import forms, shop_acts
from ravden.app.booth_air import bad_air
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.app.was_right import asked
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.exchange import air_csv
from ravden.journal import on_disk
from ravden.journal.copies import backup_path
from ravden.journal.kinds.air import AirSeries, AirUsual
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import MOST_OFF, DayOff
from ravden.journal.kinds.handed_over import CheckSeen
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.learning import LearningRuled
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text.units import Units
from tests.ui.test_session import NOW, SessionTest

DAY = timedelta(days=1)


class Away(SessionTest):
    def test_nothing_is_done_to_an_instrument_while_it_was_away(self):
        self.session.select("heron", "test")
        self.session.hand_over(NOW)
        self.clock.turn(days=20)
        self.session.bring_back("heron")
        with self.assertRaisesRegex(InputError, "Heron was away then: handed over on 2026-05-04, back on 2026-05-24"):
            self.session.log(CoatLogged(dry_um=12), instrument="heron", at=NOW + 9 * DAY)
        self.session.log(CoatLogged(dry_um=12), instrument="heron")


class OneAct(SessionTest):
    def test_a_coat_is_called_the_same_taken_back_and_brought_back(self):
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        gone, back = self.session.undo(), self.session.redo()
        self.assertEqual(gone.removeprefix("Taken back: "), back.removeprefix("Brought back: "))
        self.assertRegex(gone, "Coat 8 on Heron")

    def test_a_hand_over_that_came_to_nothing_leaves_no_name(self):
        self.session.select("heron", "test")
        with mock.patch.object(self.session, "request", side_effect=InputError("x", "cannot be")):
            self.assertRaises(InputError, self.session.hand_over, NOW, "Somebody Here")
        self.assertEqual(self.session.journal.people(), {})
        self.assertIn("heron", self.session.shop.racked)
        self.session.hand_over(NOW, "Somebody Here")
        self.assertEqual(list(self.session.people.values()), ["Somebody Here"])
        self.session.undo()
        self.assertIn("heron", self.session.shop.racked)


class Files(SessionTest):
    def test_a_file_that_cannot_be_written_shows_what_is_in_its_log_too(self):
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        there = self.folder / "locked"
        there.mkdir()
        for name in (self.path.name, f"{self.path.name}-wal"):
            shutil.copyfile(self.path.with_name(name), there / name)
        count = len(self.session.everything())
        db = on_disk.read_aside(there / self.path.name, there / f"{self.path.name}-wal")
        self.assertEqual(db.execute("SELECT count(*) FROM entry").fetchone()[0], count)
        with self.assertRaises(sqlite3.OperationalError):
            db.execute("INSERT INTO person (name) VALUES ('x')")
        db.close()

    def test_a_copy_is_of_a_shop_and_not_of_a_name(self):
        self.session.close()
        self.session.open(self.path)
        self.session.close()
        first = backup_path(self.path).read_bytes()
        self.path.unlink()
        other = ShopSession(shipped(), self.clock)
        other.open(self.path, create=True)
        other.close()
        other.open(self.path)
        other.close()
        kept = next(self.folder.glob(f"{self.path.stem}-other-*{self.path.suffix}"))
        self.assertEqual(kept.read_bytes(), first)
        with sqlite3.connect(backup_path(self.path)) as db:
            self.assertEqual(db.execute("SELECT count(*) FROM entry").fetchone()[0], 0)
        db.close()


class Figures(SessionTest):
    def test_a_gun_frozen_today_moves_nothing_that_was_begun_before(self):
        before = {n: self.session.request(n).run().ledger.films() for n in self.session.shop.racked}
        body = LearningRuled(key="gun/lacquer-sprayed", what="freeze", ln_mean=0.4, ln_sd=0.05)
        self.session.log(body)
        for name, films in before.items():
            self.assertEqual(self.session.request(name).run().ledger.films(), films)

    def test_done_already_is_at_its_planned_time(self):
        from ravden.app.shop_days import days_of
        from ravden.app.shop_plan import planned, snapshot

        outlooks = {n: self.session.request(n).run() for n in self.session.shop.racked}
        days = days_of(planned(snapshot(self.session.shop, NOW, outlooks, {})))
        doing = next(d for d in days.doings if d.first and d.kind == "coats" and d.own_coat)
        self.clock.time = doing.at + timedelta(hours=5)
        self.assertEqual(shop_acts.done_already(self.session, doing).at, doing.at)

    def test_a_file_of_four_hundred_days_off_can_lose_one(self):
        first = date(2026, 6, 1)
        for n in range(MOST_OFF):
            day = (first + timedelta(days=n)).isoformat()
            self.session.log(DayOff(first=day))
        with self.assertRaisesRegex(InputError, "at most 400"):
            self.session.log(DayOff(first="2029-01-01"))
        self.session.log(DayOff(first=first.isoformat(), cleared=True))
        self.assertEqual(len(self.session.shop.crew.off), MOST_OFF - 1)

    def test_usual_air_saved_as_it_was_shown_changes_nothing(self):
        told = AirUsual(temp_C=tuple(18.37 + n / 7 for n in range(12)), rh=tuple(0.4567 for _ in range(12)))
        self.session.log(told)
        units, usual = Units(system="us"), self.session.shop.air.usual
        typed = {f.name: f.value for f in forms.usual_fields(units, usual)}
        self.assertIsNone(forms.usual_kept(typed, units, usual))
        typed["Mar"] = "70 40"
        kept = forms.usual_kept(typed, units, usual)
        self.assertEqual(kept.temp_C[0], told.temp_C[0])
        self.assertAlmostEqual(kept.temp_C[2], 21.1, delta=0.05)

    def test_bad_air_follows_the_clock_on_the_wall_through_the_night_it_is_put_on(self):
        self.session.log(HoursSet(zone="Europe/Berlin"))
        night = datetime(2027, 3, 27, 11, tzinfo=UTC)  # at noon; the clock is put on the night after
        self.clock.time = night
        cold = AirSeries(source="forecast", hours=(0.0, 27.0, 30.0), temp_C=(20.0, 2.0, 20.0), rh=(0.5, 0.5, 0.5))
        self.session.log(cold)
        spans = bad_air(self.session.shop, self.session.local(night))["lacquer-sprayed"]
        self.assertEqual(spans[0][0], 24.0 + 16.0)  # 14:00 UTC on Sunday is 16:00 on the wall

    def test_was_ravden_right_knows_nothing_that_was_written_later(self):
        self.session.log(SandingLogged(um=3.0, purpose="level", grade="P1200"), instrument="tern", at=NOW)
        self.session.log(ReadingLogged(zone="top", um=90.0, n=3), instrument="heron", at=NOW + timedelta(minutes=1))
        before = asked(self.session, "heron").run()
        self.session.select("tern", "test")
        self.clock.turn(days=3)
        self.session.hand_over(NOW + 2 * DAY)
        cold = AirSeries(source="forecast", hours=(0.0, 30.0), temp_C=(8.0, 8.0), rh=(0.5, 0.5))
        self.session.log(cold)
        self.assertEqual([f.likely for f in asked(self.session, "heron").run()], [f.likely for f in before])

    def test_a_check_on_an_instrument_in_the_book_changes_what_it_taught_at_once(self):
        self.session.log(ReadingLogged(zone="top", um=90.0, n=3), instrument="heron")
        self.session.select("heron", "test")
        self.session.hand_over(NOW)
        self.session.log(CheckSeen(sink="slight"), instrument="heron")
        words = self.session.kept.taught()[2]
        again = ShopSession(shipped(), HandClock(self.clock.time))
        again.open(self.path)
        self.addCleanup(again.close)
        self.assertEqual(again.kept.taught()[2], words)


class Loggers(SessionTest):
    def read(self, head, row="2026-05-01 10:00,20.0,45"):
        return air_csv.read(f"{head}\n{row}\n{row}\n", UTC).rows[0]

    def test_a_heading_is_fahrenheit_only_where_the_unit_says_so(self):
        for head in ("Time,Temp of shelf,Humidity", "Time,Temperatur auf,RH", "Time,Temp off,Humidity"):
            self.assertEqual(self.read(head).temp_C, 20.0, head)
        for head in ("Time,Temp (°F),RH", "Time,Temperature (F),RH", "Time,Temp degF,RH", "Time,Fahrenheit,RH"):
            row = self.read(head, "2026-05-01 10:00,68.0,45")
            self.assertAlmostEqual(row.temp_C, 20.0, delta=0.01, msg=head)

    def test_what_is_not_the_air_is_passed_over_and_the_mean_comes_before_the_most(self):
        head = "Time,Battery temp,Signal %,Max temp °C,Mean temp °C,Battery %,Dew point °C,Humidity %"
        found = self.read(head, "2026-05-01 10:00,31,88,25,20,97,9,45")
        self.assertEqual((found.temp_C, found.rh), (20.0, 0.45))
