"""A session from beginning to end through the window: chosen, begun, paused, mixed, ended, and what it did told
after."""

import itertools
from datetime import timedelta
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetrics
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton

from ravden.catalogue.assemble import measures_of
from ravden.journal.kinds.booth_acts import CareLogged, PassLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import ExposureLogged, LightOnLogged
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.ui.places.booth import chimes, turns
from ravden.ui.places.booth.sounds import Sounds
from tests.ui.support import settle, wait_until
from tests.ui.test_booth import BoothTest

TWO_METRES_MM, SCREEN_MM, SCREEN_PX = 2000.0, 286.0, 1280  # a 13-inch screen, 16 to 10
LEAST_ARC_MIN = 10.0  # a capital of 5 minutes of arc is the limit of a sound eye; twice that is read at a glance


class Bench(BoothTest):
    """With a further instrument on the rack."""

    def add(self, name, method_id, kind="solid-slab", *, settled=True, **more):
        method = self.session.catalogue.method(method_id)
        body = InstrumentAdded(
            id=name, name=name.title(), instrument_kind=kind, material=method.material, method=method_id,
            measures=measures_of(self.session.catalogue.kind(kind)), sheen="gloss", min_film_um=50.0, **more,
        )  # fmt: skip
        self.session.log(body, instrument=name)
        if settled:
            settle(self.window)

    def notice(self):
        return self.window.notice.text.text()

    def side(self):
        return " | ".join(label.text() for label in self.booth.run.lines if not label.isHidden())


class Before(Bench):
    def rows(self):
        return [r.text() for r in self.booth.before.rows if not r.isHidden()]

    def test_what_is_ready_is_proposed_and_can_be_changed(self):
        self.assertEqual(self.booth.page, "before")
        self.assertTrue(self.rows()[0].startswith("1  ✓  Heron"))
        self.assertIn("begin on Heron", self.booth.before.begin.text())
        self.press(Qt.Key.Key_1)
        self.assertFalse(self.booth.before.begin.isEnabled())
        self.press(Qt.Key.Key_Space)
        self.assertIn("choose an instrument", self.notice().lower())
        self.assertIsNone(self.session.shop.session)
        self.booth.before.rows[0].click()
        settle(self.window)
        self.assertIn("begin on Heron", self.booth.before.begin.text())

    def test_the_order_is_the_users(self):
        self.add("plover", "acrylic-lacquer")
        self.window.places.booth.choosing.choice.by_hand = {"heron": True, "plover": True}
        self.window.places.booth.show()
        names = list(self.booth.before.ids)
        for _ in range(names.index("plover") - names.index("heron")):
            self.booth.before.ups[self.booth.before.ids.index("plover")].click()
        settle(self.window)
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.session.shop.session.instruments, ("plover", "heron"))

    def test_the_mix_is_for_everything_in_the_session(self):
        alone = self.booth.before.mixes.text()
        self.assertRegex(alone, r"Make ready \d+ ml of sprayed lacquer and \d+ ml of thinner\.")
        project = self.session.rack.project
        area = sum(z.area_cm2 * z.k_mean for z in project.zones)
        # Two coats of 12 um are left of this session; 65 % of the solids land, 80 % of the path is over the work.
        total = 2 * area * 1e-4 * 12 / (0.17 / 1.2 * 0.65 * 0.8) * 1.15
        told = [int(w) for w in alone.split() if w.isdigit()]
        self.assertAlmostEqual(sum(told), total, delta=0.06 * total + 5)

    def test_checks_are_ticked_by_letter_and_what_is_not_is_kept(self):
        texts = [c.text() for c in self.booth.before.checks if not c.isHidden()]
        self.assertTrue(texts[0].startswith("A  –  Work and hands clean"))
        self.press(Qt.Key.Key_A)
        self.booth.before.checks[1].click()
        settle(self.window)
        self.assertTrue(self.booth.before.checks[0].isChecked() and self.booth.before.checks[1].isChecked())
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.last(), SessionBegun(instruments=("heron",), unchecked=("strained", "lit", "air")))
        self.assertEqual(self.booth.page, "run")

    def test_cautions_and_air_stand_beside(self):
        self.assertIn("Solvent vapour", self.booth.before.cautions.text())
        self.assertIn("data sheet", self.booth.before.cautions.text())
        air = " ".join(a.text() for a in self.booth.before.air if not a.isHidden())
        self.assertIn("humidity", air)
        self.assertIn("Sprayed lacquer: the air is within its", air)
        self.assertIn("A fresh coat is", air)

    def test_nothing_to_do_says_what_is_next(self):
        self.session.undo()  # the coat of today, so that nothing but waiting is left after the next lines
        for name in ("heron", "wren"):
            entry = next(e for e in self.session.entries if isinstance(e.body, InstrumentAdded) and e.body.id == name)
            self.session.take_back(entry.id)
        settle(self.window)
        self.window.places.booth.show()
        self.assertTrue(all("nothing for hands now" in row for row in self.rows()), self.rows())
        self.assertIn("Nothing is ready to work on", self.booth.before.empty.text())
        self.assertFalse(self.booth.before.begin.isEnabled())

    def test_every_control_has_a_name(self):
        keys = ("Z", "Escape", "Space", "N", "Escape", "E", "Space")
        for key in (getattr(Qt.Key, f"Key_{name}") for name in keys):
            for control in self.booth.findChildren((QPushButton, QComboBox, QLineEdit)):
                if control.isVisible():
                    named = control.accessibleName() or getattr(control, "text", str)()
                    self.assertTrue(named.strip(), (self.booth.page, control))
            self.press(key)


class Run(Bench):
    def setUp(self):
        super().setUp()
        self.begin()

    def test_a_pause_is_written_told_and_gone_on_from(self):
        self.press(Qt.Key.Key_P)
        self.assertEqual(self.last(), SessionPaused())
        self.wait(minutes=3)
        self.assertIn("Left for 3:00", self.booth.run.banner.text())
        self.press(Qt.Key.Key_P)
        self.assertEqual(self.last(), SessionPaused(on=False))
        self.assertTrue(self.booth.run.banner.isHidden())
        self.booth.run.small["pause"].click()
        self.press(Qt.Key.Key_Space)  # whoever logs is back at it
        kinds = [type(e.body) for e in self.session.entries[-2:]]
        self.assertEqual(kinds, [SessionPaused, PassLogged])
        self.assertIsNone(self.session.shop.session.paused)

    def test_a_bounced_key_is_one_press(self):
        self.press(Qt.Key.Key_Space)
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Space, after_s=0.1)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("Two presses at once", self.told())
        self.press(Qt.Key.Key_Space, after_s=1)
        self.assertEqual(len(self.session.entries), count + 1)

    def test_two_keys_at_once_end_in_a_record_that_says_both(self):
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Space)
        self.press(Qt.Key.Key_Backspace, after_s=0.0)
        self.assertEqual(len(self.session.entries), count + 2)
        self.assertIn("pass 1 of 2", self.booth.run.now.text())

    def test_hands_turn_to_what_is_ready_next(self):
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        self.add("plover", "acrylic-lacquer")
        self.add("dotterel", "acrylic-lacquer", settled=False)
        settle(self.window)
        self.session.select("heron", "test")
        self.begin("heron", "plover", "dotterel")
        first = self.session.selected
        seen = [first]
        for _ in range(3):
            self.press(Qt.Key.Key_Space)
            seen.append(self.session.selected)
        self.assertEqual(set(seen[:3]), {"heron", "plover", "dotterel"})
        self.assertEqual(seen[3], first)  # its flash-off ends first
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(self.session.selected, seen[2])  # back at the one whose pass was taken back

    def test_a_pot_life_runs_from_the_mix(self):
        self.assertTrue(self.booth.run.small["mix"].isHidden())
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        self.add("plover", "two-part-clear")
        self.session.select("plover", "test")
        self.begin("plover")
        self.assertFalse(self.booth.run.small["mix"].isHidden())
        self.press(Qt.Key.Key_M)
        self.assertIsInstance(self.last(), MixMade)
        self.assertGreater(self.last().ml, 20)
        self.wait(minutes=100)
        air = 21  # of the demo shop: 180 min at 20 C are 168 here
        left = 180 * 2 ** ((20 - air) / 10) - 100
        self.assertIn(f"{int(left) // 60} h {int(left) % 60:02d} of pot life left", self.side())
        self.assertTrue(self.booth.run.banner.isHidden())
        self.wait(minutes=65)  # the last five minutes are read from two metres
        self.assertIn("of pot life left: Two-part clear", self.booth.run.banner.text())
        self.assertNotIn("pot life", self.side())
        self.wait(minutes=5)
        self.assertIn("past its pot life", self.booth.run.banner.text())
        self.press(Qt.Key.Key_P)
        self.wait(minutes=1)
        self.assertIn("Left for 1:00", self.booth.run.banner.text())
        self.assertIn("past its pot life", self.side())

    def test_the_end_tells_what_was_done(self):
        self.wait(hours=6)
        for _ in range(2):
            self.press(Qt.Key.Key_Space, after_s=70)
            self.press(Qt.Key.Key_Space, after_s=70)
            self.wait(minutes=90)
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_A)
        self.press(Qt.Key.Key_E)
        self.assertIsInstance(self.last(), SessionEnded)
        self.assertEqual(self.booth.page, "after")
        told = " ".join(label.text() for label in self.booth.after.lines)
        self.assertIn("2 coats laid", told)
        self.assertIn("Run or sag, top", told)
        self.assertIn("Level sand window", told)
        self.assertIn("Next: coat 10 of 10 now", told)
        self.assertRegex(told, r"Top: \d+ µm \(\d+–\d+ µm\)")
        self.assertIn("never into a drain", self.booth.after.clean.text())
        self.assertIn("Worth measuring", self.booth.after.measure.text())
        self.booth.after.reading.click()
        self.assertTrue(self.window.card.isVisible())
        self.window.card.hide()
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.booth.page, "before")

    def test_the_film_of_every_zone_stands_beside_the_run(self):
        bars = self.booth.run.bars
        empty = bars.grab().toImage()
        for zone in self.session.rack.project.zones:
            self.assertRegex(bars.accessibleName(), rf"{zone.label} \d+ µm")
        self.press(Qt.Key.Key_Space)
        self.press(Qt.Key.Key_Space, after_s=70)
        self.assertNotEqual(bars.grab().toImage(), empty)
        self.window.looks.turn_units()
        self.assertIn("mil", bars.accessibleName())
        bars.show_bars(())
        self.assertEqual(bars.height(), 0)

    def test_a_coat_left_half_done_is_told_as_such(self):
        self.press(Qt.Key.Key_Space)
        self.press(Qt.Key.Key_E)
        told = " ".join(label.text() for label in self.booth.after.lines)
        self.assertIn("1 pass of a coat that was not finished", told)
        self.assertRegex(told, r"Next: coat 8 of 10, pass 2 in 0:\d\d")

    def test_fewer_coats_than_planned_move_the_window(self):
        self.wait(hours=6)
        self.press(Qt.Key.Key_E)
        told = " ".join(label.text() for label in self.booth.after.lines)
        self.assertIn("0 coats laid, 2 planned", told)

    def test_an_ended_session_is_told_after_a_restart_and_taken_back_by_backspace(self):
        self.press(Qt.Key.Key_E)
        self.window = self.open()
        self.choose("heron", "booth")
        self.booth = self.window.booth
        self.assertEqual(self.booth.page, "after")
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(self.booth.page, "run")
        self.assertIn("Taken back: Session over", self.told())

    def test_after_a_restart_the_window_opens_on_the_session_where_hands_were(self):
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        self.add("plover", "acrylic-lacquer")
        self.begin("heron", "plover")
        self.press(Qt.Key.Key_Space)
        first = self.session.entries[-1].instrument
        self.assertNotEqual(self.session.selected, first)
        turned_to = self.session.selected
        self.press(Qt.Key.Key_Space, after_s=20)  # both flash off; the first is ready sooner
        self.clock.turn(seconds=10)
        self.window.turn_to("rack")
        self.window = again = self.open()
        self.assertEqual((again.stack.currentWidget(), again.booth.page), (again.booth, "run"))
        self.assertEqual(again.session.selected, first)
        self.assertEqual(again.booth.run.count.text(), "0:30")
        again.session.select(turned_to, "test")
        again.session.log(MishapLogged(what="nib", zone="top"), instrument=turned_to)
        self.window = self.open()
        self.assertEqual(self.session.selected, turned_to)  # still looked at: it was only noted
        self.session.log(SessionEnded())
        self.window.turn_to("rack")
        self.window = self.open()
        self.assertIs(self.window.stack.currentWidget(), self.window.rack)

    def test_backspace_goes_no_further_back_than_the_session(self):
        self.press(Qt.Key.Key_Space)
        self.press(Qt.Key.Key_Backspace)
        self.press(Qt.Key.Key_Backspace)  # the session itself
        self.assertEqual(self.booth.page, "before")
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("ctrl+z", self.notice().lower())
        self.begin("heron")
        self.press(Qt.Key.Key_Space)
        self.wait(days=2)
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("No session is going on", self.notice())

    def test_a_session_just_begun_comes_back_on_its_first_instrument(self):
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        self.add("plover", "acrylic-lacquer")  # what was logged before the session says nothing of hands
        self.window.places.booth.choosing.choice.order = ["plover", "heron"]
        self.begin("heron", "plover")
        self.session.select("tern", "elsewhere")
        self.window.turn_to("rack")
        self.window.turn_to("booth")
        self.assertEqual(self.session.selected, "plover")
        self.window = self.open()
        self.assertEqual(self.session.selected, "plover")

    def test_a_session_left_alone_for_half_a_day_is_over(self):
        self.wait(hours=13)
        self.assertEqual(self.booth.page, "before")

    def test_an_instrument_taken_off_the_rack_ends_its_part(self):
        entry = next(e for e in self.session.entries if isinstance(e.body, InstrumentAdded) and e.body.id == "heron")
        self.session.take_back(entry.id)
        settle(self.window)
        self.window.places.booth.show()
        self.assertEqual(self.booth.page, "before")
        self.assertNotIn("heron", self.booth.before.ids)

    def test_a_file_moved_away_is_told_and_nothing_is_lost_in_it(self):
        moved = self.path.with_name("elsewhere.ravden")
        self.path.rename(moved)
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Space)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("moved or deleted", self.told())
        self.assertIn("moved or deleted", self.side())
        moved.rename(self.path)
        self.press(Qt.Key.Key_Space)
        self.assertEqual(len(self.session.entries), count + 1)

    def test_a_file_made_read_only_is_told_and_still_kept(self):
        self.path.chmod(0o444)
        self.addCleanup(self.path.chmod, 0o644)
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), PassLogged)
        self.assertIn("made read-only", self.side())

    def test_the_sensor_is_live_and_its_silence_is_told(self):
        control = self.window.places.booth
        control.listen_to(lambda: (27.0, 0.40, self.clock.time, True))
        control.show()
        self.assertIn("27 °C, 40 % humidity, by the sensor", self.side())
        gone = self.clock.time
        control.listen_to(lambda: (27.0, 0.40, gone, False))
        self.wait(minutes=5)
        self.assertIn("silent since", self.side())
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), PassLogged)


class OtherFinishes(Bench):
    def begin_on(self, name, method, coats=0, **more):
        self.add(name, method, **more)
        for _ in range(coats):
            self.clock.turn(hours=1)
            self.session.log(CoatLogged(dry_um=100), instrument=name)
        self.session.select(name, "test")
        settle(self.window)
        self.begin(name)

    def test_oil_is_wiped_on_off_and_over_again(self):
        self.begin_on("plover", "oil-wiped")
        self.assertIn("On. Little oil", self.booth.run.how.text())
        self.assertRegex(self.booth.run.zones.text(), "^1.*2.*Top&nbsp;by&nbsp;itself")
        self.press(Qt.Key.Key_Space)
        self.assertIn("Off", self.booth.run.how.text())
        self.assertEqual(self.booth.run.count.text(), "5:00")
        self.press(Qt.Key.Key_Space, after_s=300)
        self.assertEqual((self.booth.run.now.text(), self.booth.run.count.text()), ("Wipe over again", "30:00"))
        self.press(Qt.Key.Key_Space, after_s=1900)
        self.assertEqual(self.last(), CareLogged(what="wipe"))
        self.assertIn("2 of 4 times", self.booth.run.next.text())

    def test_the_lamp_is_timed_and_its_dose_is_kept(self):
        self.begin_on("plover", "light-cured-polyester", coats=3)
        self.assertEqual(self.booth.run.now.text(), "Turn the work")
        self.wait(minutes=58)
        self.press(Qt.Key.Key_Space)
        self.assertEqual(self.last(), CareLogged(what="turn"))
        self.wait(minutes=3)
        self.assertEqual(self.booth.run.title.text(), "Plover   Face 1 of 3")
        self.assertEqual(self.booth.run.now.text(), "Light on the front")
        self.assertIn("Set the skin.", self.booth.run.how.text())
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), LightOnLogged)
        self.assertEqual(self.booth.run.now.text(), "Lamp on, front")
        zones = self.last().zones
        self.press(Qt.Key.Key_Space, after_s=7)
        self.assertEqual(self.last(), ExposureLogged(dose_mJ_cm2=140, zones=zones, how="lamp of 20 mW/cm² for 7 s"))

    def test_the_lamp_that_was_on_in_a_crash_goes_on_where_the_clock_says(self):
        self.begin_on("plover", "light-cured-polyester", coats=3)
        self.wait(minutes=58)
        self.press(Qt.Key.Key_Space)
        self.wait(minutes=3)
        self.press(Qt.Key.Key_Space)
        self.clock.turn(seconds=3)
        self.window = self.open()
        self.choose("plover", "booth")
        self.booth = self.window.booth
        self.assertEqual(self.booth.run.count.text(), "0:02")
        self.wait(seconds=12)
        self.assertEqual(self.booth.run.under.text(), "over: lamp off")

    def test_the_lamp_of_the_shop_is_asked_for(self):
        self.add("plover", "light-cured-polyester")
        self.session.select("plover", "test")
        self.window.places.booth.choosing.choice.by_hand = {"heron": False, "plover": True}
        self.window.places.booth.show()
        self.assertFalse(self.booth.before.lamp_row.isHidden())
        self.booth.before.lamp.setText("8")
        self.booth.before.lamp.editingFinished.emit()
        self.begin("plover")
        self.assertEqual(self.session.shop.session.lamp_mW_cm2, 8)


class Paper(BoothTest):
    """Tern waits to be levelled in the demo; a gauge has just settled how much film there is."""

    instrument = "tern"

    def setUp(self):
        super().setUp()
        self.clock.turn(days=30)
        self.session.log_usual_coat()  # so that its readings are not of a film long sanded
        self.session.undo()
        self.window.places.refresh(tuple(self.session.shop.racked))
        settle(self.window)
        self.begin()

    def test_what_the_paper_should_leave_is_seen_where_there_is_room_and_said(self):
        run = self.booth.run
        self.assertTrue(run.seen.isVisible())
        self.assertIn("one dull glow, no tubes", run.seen_words.text())
        self.assertEqual(run.seen.accessibleDescription(), run.seen_words.text())
        self.assertIsNotNone(run.seen.image)
        self.window.resize(1120, 720)
        settle(self.window)
        self.booth.act_asked.emit()
        settle(self.window)
        self.assertFalse(run.seen.isVisible())

    def test_zone_by_zone_grade_by_grade(self):
        found = self.window.places.film.found
        zones = [z for z in found.project.zones if z.kind != "edge"]
        rungs = [s.rung.abrasive.name for s in found.rub_out.ladder.steps]
        seen = []
        for _ in range(len(zones) + 1):
            seen.append(self.booth.run.now.text())
            self.assertRegex(self.booth.run.title.text(), r"Tern +Grade \d of \d")
            self.press(Qt.Key.Key_Space, after_s=600)
        self.assertEqual(seen[: len(zones)], [f"{rungs[0]} on the {z.label.lower()}" for z in zones])
        self.assertNotIn(rungs[0], seen[-1])
        entries = [e.body for e in self.session.entries[-len(zones) - 1 : -1]]
        self.assertEqual([e.zones for e in entries], [(z.name,) for z in zones])
        self.assertEqual({e.grade for e in entries}, {rungs[0]})
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(self.booth.run.now.text(), seen[-1])

    def test_minutes_pattern_and_caution_are_told(self):
        run = self.booth.run
        self.assertRegex(run.count.text(), r"^\d+(:| h )\d\d$")
        left = run.count.text()
        self.wait(minutes=5)
        self.assertNotEqual(run.count.text(), left)
        self.press(Qt.Key.Key_P)
        left = run.count.text()
        self.wait(minutes=5)
        self.assertEqual(run.count.text(), left)  # a pause is no work
        self.press(Qt.Key.Key_P)
        self.wait(hours=5)
        self.assertTrue(run.count.text().startswith("+"))
        self.assertIn("Lanes like mowing", run.how.text())
        self.assertIn("Off the edges", run.how.text())
        self.assertIn("mains-powered", run.cautions.text())
        self.assertIn("data sheet", run.cautions.text())
        self.assertIn("low spot", run.next.text())
        self.assertNotIn("dew point", " ".join(label.text() for label in run.lines))
        strip = [z.label for z in self.session.rack.project.zones if z.kind != "edge"]
        self.assertEqual(run.zones.text().count("&nbsp; ") + 1, len(strip))
        self.assertTrue(run.tally.isHidden())
        self.press(Qt.Key.Key_Space)
        self.assertIn(f"✓&nbsp;{strip[0]}", run.zones.text())

    def test_the_end_of_a_zone_and_of_a_paper_is_heard(self):
        bench = turns.bench_of(self.session, turns.turn_of(self.session, "tern", self.window.places.film.found),
                               self.window.places.film.found)  # fmt: skip
        known = {"tern": self.window.places.film.found}
        begun = self.session.shop.session.begun

        def heard(minutes):
            at, step = begun + timedelta(minutes=minutes), timedelta(seconds=2)
            return chimes.between(self.session, known, at - step, at + step)

        self.assertIn("ready", heard(bench.minutes))
        self.assertNotIn("ready", heard(bench.minutes / 2.3))
        if bench.faces > 1:
            self.assertIn("pot", heard(bench.minutes / bench.faces))

    def test_the_end_of_paper_says_what_to_wipe_up_and_what_has_long_been_open(self):
        self.press(Qt.Key.Key_Space, after_s=600)
        self.press(Qt.Key.Key_E)
        told = " ".join(label.text() for label in self.booth.after.lines)
        self.assertIn("1 zone sanded", told)
        self.assertIn("Level sand window: open since", told)
        self.assertIn("Next: paper may go on it", told)
        self.assertIn("slurry", self.booth.after.clean.text())

    def test_a_scratch_is_noted_on_the_zone_in_hand_after_its_grade(self):
        self.press(Qt.Key.Key_Space, after_s=600)
        grade, zone = self.booth.run.now.text().split(" on the ")
        self.press(Qt.Key.Key_N)
        self.assertEqual(self.booth.defects.where.currentText().lower(), zone)
        self.booth.defects.buttons["stray-scratch"].click()
        self.assertEqual((self.last().what, self.last().zone, self.last().grade), ("stray-scratch", "back", grade))
        self.assertIn("back one or two grades", self.told())

    def test_in_a_low_window_bars_make_way_for_warnings(self):
        run = self.booth.run
        self.assertFalse(run.bars.isHidden())
        self.window.resize(1120, 720)
        settle(self.window)
        self.window.places.booth.show()
        settle(self.window)
        shown = [w for w in (run.film, run.bars, *run.lines, run.cautions) if w.isVisible()]
        for above, below in itertools.pairwise(shown):
            self.assertLessEqual(above.geometry().bottom(), below.geometry().top(), below.accessibleName())
        self.assertLessEqual(run.cautions.geometry().bottom(), run.beside_area.height())
        for label in (label for label in shown if label is not run.bars):
            self.assertGreaterEqual(label.height(), label.heightForWidth(label.width()), label.text())

    def test_paper_stays_on_one_instrument(self):
        self.press(Qt.Key.Key_Space, after_s=600)
        self.assertEqual(self.session.selected, "tern")

    def test_a_film_too_soft_is_refused(self):
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        for _ in range(4):
            self.session.log(CoatLogged(dry_um=12), instrument="tern")
        settle(self.window)
        self.window.places.booth.show()
        ticked = {self.booth.before.ids[n] for n, r in enumerate(self.booth.before.rows) if r.isChecked()}
        self.assertNotIn("tern", ticked)


class Focus(Bench):
    """Keys go where the eyes are, whatever was clicked before."""

    def act(self, key):
        self.clock.turn(seconds=1)
        self.key(key)

    def test_space_begins_after_a_click_on_a_row_or_a_check(self):
        self.booth.setFocus()
        page = self.booth.before
        other = next(i for i in page.ids if i != "heron")
        QTest.mouseClick(page.rows[page.ids.index(other)], Qt.MouseButton.LeftButton)
        QTest.mouseClick(page.checks[0], Qt.MouseButton.LeftButton)
        self.act(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), SessionBegun)
        self.assertNotIn("clean", self.last().unchecked)

    def test_space_begins_once_the_lamp_was_typed(self):
        self.add("plover", "light-cured-polyester")
        self.window.places.booth.choosing.choice.by_hand = {i: i == "plover" for i in self.session.shop.racked}
        self.window.places.booth.show()
        lamp = self.booth.before.lamp
        lamp.setFocus()
        lamp.setText("35")
        self.act(Qt.Key.Key_Return)
        self.act(Qt.Key.Key_Space)
        self.assertEqual(self.session.shop.session.lamp_mW_cm2, 35)

    def test_the_keyboard_comes_back_from_a_form(self):
        self.begin()
        self.press(Qt.Key.Key_E)
        self.booth.setFocus()
        self.act(Qt.Key.Key_R)
        self.assertTrue(self.window.card.isVisible())
        self.act(Qt.Key.Key_Escape)
        self.assertIs(self.window.focusWidget(), self.booth)
        self.act(Qt.Key.Key_Space)
        self.assertEqual(self.booth.page, "before")
        self.window.turn_to("film")
        self.act(Qt.Key.Key_S)
        self.fill(self.window.card, um="3")
        self.act(Qt.Key.Key_Return)
        self.assertFalse(self.window.card.isVisible())
        self.assertIs(self.window.focusWidget(), self.window.film.timeline)


class SeenAndHeard(Bench):
    def test_a_full_shop_with_long_names_in_a_small_window_stays_readable(self):
        for i in range(14):
            self.add(f"a-bird-of-a-very-long-name-that-goes-on-{i}", "acrylic-lacquer")
        self.session.select("heron", "test")
        self.window.resize(1120, 720)
        names = tuple(self.session.shop.racked)
        self.window.places.booth.choosing.choice.by_hand = dict.fromkeys(names, True)
        self.window.places.booth.show()
        settle(self.window)
        self.assertIn("instruments", self.booth.before.begin.text())
        self.begin(*names)
        self.press(Qt.Key.Key_H)
        run = self.booth.run
        for label in (run.title, run.now, run.how, run.count, run.under, run.next):
            if label.isVisible():
                self.assertGreaterEqual(label.height(), label.heightForWidth(label.width()), label.text())
        self.assertLess(max(row.sizeHint().width() for row in run.rows if row.isVisible()), run.area.width())

    def test_mishaps_are_shown_as_they_look_where_they_can_be(self):
        self.begin()
        self.booth.ask_mishap()
        wait_until(lambda: not self.booth.defects.busy)
        buttons = self.booth.defects.buttons
        shown, none = (self.colours(buttons[name]) for name in ("run", "milky"))
        self.assertGreater(shown, 2 * none)
        self.assertIn("broad bright drop", buttons["run"].accessibleDescription())
        self.assertEqual(buttons["milky"].accessibleDescription(), "")

    def test_every_mishap_is_read_whole_in_the_smallest_window(self):
        self.begin()
        self.window.resize(1120, 720)
        settle(self.window)
        run = self.booth.run
        for what in self.session.catalogue.defects:
            self.booth.mishap_logged.emit(what, "top")
            settle(self.window)
            self.window.places.booth.show()
            run.layout().activate()
            for label in (run.now, run.how, run.count, run.under, run.next, run.told):
                self.assertGreaterEqual(label.height(), label.heightForWidth(label.width()), (what, label.text()))
            self.assertLess(run.small["pause"].geometry().bottom(), run.told.geometry().top())
            self.assertLessEqual(run.told.geometry().bottom(), run.frame_.height())

    def test_now_and_count_are_read_at_two_metres(self):
        self.begin()
        mm = SCREEN_MM / SCREEN_PX
        for large in (False, True):
            self.booth.run.large = large
            self.window.places.booth.show()
            for label in (self.booth.run.now, self.booth.run.count):
                cap_mm = QFontMetrics(label.font()).capHeight() * mm
                arc_min = cap_mm / TWO_METRES_MM * 3437.75
                self.assertGreater(arc_min, LEAST_ARC_MIN, label.text())

    def test_high_contrast_is_black_and_white_and_remembered(self):
        self.begin()
        before = self.booth.run.now.font().pixelSize()
        self.press(Qt.Key.Key_H)
        self.assertGreater(self.booth.run.now.font().pixelSize(), before)
        self.assertEqual(self.booth.grab().toImage().pixelColor(3, 3).name(), "#000000")
        self.window.close()
        self.window = self.open()
        self.choose("heron", "booth")
        self.assertEqual(self.window.booth.grab().toImage().pixelColor(3, 3).name(), "#000000")
        self.window.looks.turn_theme()
        self.assertNotEqual(self.window.booth.grab().toImage().pixelColor(3, 3).name(), "#000000")

    def test_a_sound_for_what_came_due_and_none_twice(self):
        self.begin()
        self.press(Qt.Key.Key_Space)
        known, start = self.window.places.found, self.clock.time

        def heard(after_s, by_s):
            then = start + timedelta(seconds=after_s)
            return chimes.between(self.session, known, then, then + timedelta(seconds=by_s))

        self.assertEqual(heard(0, 59), ())
        self.assertEqual(heard(59, 1), ("ready",))
        self.assertEqual(heard(60, 30), ())
        self.assertEqual(heard(119, 1), ("late",))
        self.assertEqual(heard(0, 3600), ())  # slept through: it is seen, and no longer heard
        self.press(Qt.Key.Key_P)
        self.assertEqual(heard(59, 2), ())

    def test_the_pot_is_heard_before_it_is_over(self):
        self.add("plover", "two-part-clear")
        self.session.select("plover", "test")
        self.begin("plover")
        self.press(Qt.Key.Key_M)
        made = self.clock.time
        over = made + timedelta(minutes=180 * 2 ** (-1 / 10))
        for at in (over - timedelta(minutes=5), over):
            step = timedelta(seconds=1)
            self.assertIn("pot", chimes.between(self.session, {}, at - step, at + step))
            self.assertNotIn("pot", chimes.between(self.session, {}, at + step, at + 2 * step))

    def test_sounds_are_turned_louder_quieter_off(self):
        self.begin()
        control = self.window.places.booth
        with mock.patch.object(Sounds, "play") as play:
            self.press(Qt.Key.Key_V)
            self.press(Qt.Key.Key_V)
            self.assertEqual(control.sounds.level, "off")
            self.assertIn("sound off", self.booth.run.small["sound"].text())
            self.assertEqual(self.window.remembered.sound, "off")
            self.press(Qt.Key.Key_V)
            self.assertEqual(play.call_args.args, ("ready",))
        control.sounds.level = "off"
        control.sounds.play("ready")
        self.assertIsNone(control.sounds.effects)  # silence loads nothing

    def test_the_tick_plays_what_came_due(self):
        self.begin()
        self.press(Qt.Key.Key_Space)
        control = self.window.places.booth
        control.tick.timeout.emit()
        with mock.patch.object(Sounds, "play") as play:
            self.clock.turn(seconds=60)
            control.tick.timeout.emit()
            control.tick.timeout.emit()
        self.assertEqual([c.args for c in play.call_args_list], [("ready",)])

    def test_a_machine_that_cannot_play_says_so_once(self):
        told = []
        sounds = Sounds()
        sounds.told.connect(told.append)
        with mock.patch.dict("sys.modules", {"PyQt6.QtMultimedia": None}):
            sounds.play("ready")
            sounds.play("late")
        self.assertEqual(len(told), 1)
        self.assertIn("no sound can be played", told[0])
