"""The Booth: turns told by journal and clock, keys that log, restarts that lose nothing."""

import unittest
from datetime import timedelta
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage
from ravden.core.record import MISHAPS
from ravden.journal.booth import SessionPart
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.booth_acts import PassLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.session import SessionBegun, SessionEnded
from ravden.ui.places.booth import presenter
from ravden.ui.places.booth.acts import act
from ravden.ui.places.booth.said import clock_text
from tests.core.test_methods import METHODS
from tests.ui.support import WindowTest, settle

FINE = METHODS["lacquer-fine-start"]


def plover(method, **told):
    """A slab on the rack, finished by a method."""
    return InstrumentAdded(
        id="plover", name="Plover", instrument_kind="solid-slab", material=method.material,
        measures=measures_of(shipped().kind("solid-slab")), method=method.id, sheen="satin", **told,
    )  # fmt: skip


class Mishaps(unittest.TestCase):
    def test_every_mishap_has_a_sentence(self):
        defects = shipped().defects
        self.assertEqual(set(defects), set(MISHAPS))
        self.assertTrue(all(label and now.endswith(".") for label, now in defects.values()))

    def test_counting_down_in_words(self):
        told = [clock_text(s) for s in (0, 59.9, 61, 3599, 3600, 5400)]
        self.assertEqual(told, ["0:00", "0:59", "1:01", "59:59", "1 h 00", "1 h 30"])


class BoothTest(WindowTest):
    """The Booth on one instrument of the demo."""

    plans = False

    instrument = "heron"

    def setUp(self):
        super().setUp()
        self.choose(self.instrument, "booth")
        self.booth = self.window.booth

    def begin(self, *names):
        """A session on these, as if they had been chosen."""
        chosen = names or (self.instrument,)
        self.window.places.booth.choosing.choice.by_hand = {i: i in chosen for i in self.session.shop.racked}
        self.press(Qt.Key.Key_Space)

    def press(self, key, after_s=0.5):
        """A key, some time after the one before."""
        self.clock.turn(seconds=after_s)
        QTest.keyClick(self.booth, key)
        settle(self.window)

    def wait(self, **by):
        self.clock.turn(**by)
        self.window.places.booth.show()
        settle(self.window)

    def last(self):
        return self.session.entries[-1].body

    def told(self):
        """The line at the foot of the run: what was logged last, or why it was not."""
        return self.booth.run.told.text()


class Keys(BoothTest):
    def setUp(self):
        super().setUp()
        self.begin()

    def test_space_logs_pass_and_coat(self):
        self.wait(hours=6)
        self.assertEqual(self.booth.run.now.text(), "Coat 8 of 10, pass 1 of 2")
        before = self.coats("heron")
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), PassLogged)
        self.assertEqual(self.coats("heron"), before)
        self.assertEqual(self.booth.run.count.text(), "1:00")
        self.wait(seconds=45)
        self.assertEqual(
            (self.booth.run.count.text(), self.booth.run.under.text()), ("0:15", "until the film is ready")
        )
        self.wait(seconds=75)
        self.assertEqual((self.booth.run.count.text(), self.booth.run.under.text()), ("+1:00", "over: ready for hands"))
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), CoatLogged)
        self.assertEqual(self.coats("heron"), before + 1)
        self.assertEqual(self.booth.run.tally.done, 8)
        self.assertIn("Top:", self.booth.run.film.text())

    def test_backspace_takes_back_only_its_own(self):
        self.press(Qt.Key.Key_Space)
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.entries), count + 1)
        self.assertIn("pass 1 of 2", self.booth.run.now.text())
        self.session.log(MishapLogged(what="run", zone="top"), instrument="heron")
        self.press(Qt.Key.Key_Backspace)
        self.session.log(AirLogged(temp_C=20))
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("no act of the Booth", self.told())
        self.wait(seconds=9)
        self.assertIn("Shop air 20", self.told())

    def test_a_mishap_is_noted_without_stopping(self):
        self.press(Qt.Key.Key_N)
        self.assertTrue(self.booth.defects.isVisible())
        self.press(Qt.Key.Key_Right)
        self.press(Qt.Key.Key_E)
        self.assertFalse(self.booth.defects.isVisible())
        zones = [z.name for z in self.session.rack.project.zones]
        self.assertEqual((self.last().what, self.last().zone), ("blush", zones[1]))
        self.assertIn(f"Blush, {self.session.rack.project.zones[1].label.lower()}. Stop spraying", self.told())
        self.assertTrue(self.window.notice.isHidden())
        count = len(self.session.entries)
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_C)  # a letter of the list, not the coat of the whole window
        self.assertEqual(self.last().what, "orange-peel")
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_Escape)
        self.assertEqual(len(self.session.entries), count + 1)

    def test_mouse_and_touch_do_the_same(self):
        self.booth.run.act.click()
        self.assertIsInstance(self.last(), PassLogged)
        self.booth.run.mishap.click()
        self.booth.defects.leave.click()
        self.assertFalse(self.booth.defects.isVisible())
        self.booth.run.mishap.click()
        self.booth.defects.after.click()
        self.booth.defects.after.click()
        self.booth.defects.before.click()
        self.booth.defects.buttons["nib"].click()
        self.assertEqual((self.last().what, self.last().zone), ("nib", self.session.rack.project.zones[1].name))
        self.booth.run.back.click()
        self.assertIn("Taken back", self.told())
        for widget in (self.booth.run.now, self.booth.run.count, self.booth.run.tally, self.booth.defects.where):
            self.assertTrue(widget.accessibleName())

    def test_several_instruments_in_turn(self):
        ids = list(self.booth.run.ids)
        self.assertIn("heron", ids)
        self.press(Qt.Key.Key_Down)
        if len(ids) > 1:
            self.assertNotEqual(self.session.selected, "heron")
            self.press(Qt.Key.Key_Up)
        self.assertEqual(self.session.selected, "heron")
        self.window.turn_to("rack")
        self.choose("tern", "booth")
        self.assertEqual(self.session.selected, "heron")  # hands are on an instrument of the session
        self.session.select("tern", "elsewhere")
        self.wait(seconds=1)
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Space)
        self.assertIn("Tern is not in this session", self.told())
        self.assertEqual(len(self.session.entries), count)
        self.press(Qt.Key.Key_Down)
        self.assertEqual(self.session.selected, "heron")

    def test_where_no_coat_is_next_nothing_is_logged(self):
        self.press(Qt.Key.Key_E)
        self.press(Qt.Key.Key_Space)
        self.begin("heron", "tern")
        self.session.select("tern", "test")
        settle(self.window)
        self.assertEqual(self.booth.run.under.text(), "no coat is next")
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Space)
        self.assertIn("No coat is next on Tern", self.told())
        self.assertEqual(len(self.session.entries), count)

    def test_after_a_restart_the_count_stands_where_the_clock_says(self):
        self.wait(hours=6)
        self.press(Qt.Key.Key_Space)
        self.clock.turn(seconds=20)
        self.window = self.open()
        self.choose("heron", "booth")
        self.assertEqual(self.window.booth.run.count.text(), "0:40")
        self.assertEqual(self.window.booth.run.now.text(), "Coat 8 of 10, pass 2 of 2")

    def test_a_clock_set_back_does_no_harm(self):
        self.wait(hours=6)
        self.press(Qt.Key.Key_Space)
        self.clock.time -= timedelta(hours=1)
        self.window.places.booth.show()
        self.assertIn("pass 2 of 2", self.booth.run.now.text())  # what was done is not forgotten
        self.assertEqual(self.booth.run.count.text(), "?")
        self.assertIn("clock was set back", self.booth.run.under.text())
        before = self.coats("heron")
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), CoatLogged)
        self.assertEqual(self.coats("heron"), before + 1)
        self.assertGreaterEqual(self.session.entries[-1].at, self.session.entries[-2].at)
        self.clock.turn(hours=1, minutes=2)
        self.window.places.booth.show()
        self.assertIn("Coat 9 of 10, pass 1 of 2", self.booth.run.now.text())

    def test_the_whole_screen_and_back(self):
        self.press(Qt.Key.Key_F11)
        self.assertTrue(self.window.isFullScreen())
        self.press(Qt.Key.Key_F11)
        self.assertFalse(self.window.isFullScreen())

    def test_a_file_that_only_may_be_read_is_told(self):
        count = len(self.session.entries)
        with mock.patch("ravden.journal.on_disk.fcntl.flock", side_effect=BlockingIOError(11, "held")):
            self.session.close()
            self.session.open(self.path)
        self.press(Qt.Key.Key_Space)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("reading only", self.told())

    def test_enough_for_today_is_told_with_the_number(self):
        for _ in range(3):
            self.session.log_usual_coat()
            self.clock.turn(minutes=90)
        settle(self.window)
        self.window.places.booth.show()
        self.assertEqual(self.booth.run.now.text(), "Cure to level")
        self.choose("heron", "booth")
        self.session.undo()
        settle(self.window)
        self.window.places.booth.show()
        self.assertEqual(self.booth.run.now.text(), "Stop here today")
        self.assertIn("3 of 3 coats of a session are on", self.booth.run.under.text())

    def test_the_clock_runs_while_looked_at_and_while_a_session_goes_on(self):
        control = self.window.places.booth
        self.assertTrue(control.tick.isActive())
        self.window.turn_to("film")
        control.show()
        self.assertTrue(control.tick.isActive())  # its sounds are heard in every place
        self.session.log(SessionEnded())
        settle(self.window)
        self.assertFalse(control.tick.isActive())


class WhatIsShown(WindowTest):
    """The words of the place, in other air, on other finishes, at other moments."""

    plans = False

    def shown(self, name="heron"):
        self.session.select(name, "test")
        settle(self.window)
        found = self.window.places.film.found
        return presenter.show(self.session, self.window.places.found, found)

    def test_the_air_is_judged_against_the_finish(self):
        plain = self.shown()
        self.assertEqual({tone for _, tone in plain.lines}, {"plain"})
        self.assertIn("The air is within its 16 °C to 30 °C, up to 65 %.", plain.lines[-1][0])
        self.assertRegex(plain.lines[-1][0], r"Wet coat, upright: \d+ to \d+ µm on the comb")
        self.session.log(AirLogged(temp_C=24, rh=0.88))
        damp = self.shown()
        self.assertEqual(damp.lines[-1][1], "warn")
        self.assertIn("under the dew point", damp.lines[-1][0])
        self.assertIn("Too damp: it blushes. Wanted: 16 °C", damp.lines[-1][0])
        self.session.log(CoatLogged(dry_um=3), instrument="wren")
        self.clock.turn(days=1)
        pad = SessionPart(instrument="wren", off_plan="coat")
        self.session.log(SessionBegun(instruments=("wren",), parts=(pad,)))
        shellac = self.shown("wren")
        self.assertIn(("Too damp: it clouds. Wanted: 16 °C to 30 °C, up to 65 %.", "warn"), shellac.lines)

    def test_padded_shellac_has_neither_comb_nor_dew_point(self):
        shown = self.shown("wren")
        told = " ".join(text for text, _ in shown.lines)
        self.assertNotIn("dew point", told)
        self.assertNotIn("comb", told)

    def test_bare_wood_has_no_film_yet(self):
        self.session.log(
            InstrumentAdded(
                id="plover", name="Plover", instrument_kind="solid-slab", material="lacquer-sprayed",
                measures=measures_of(self.session.catalogue.kind("solid-slab")), method=FINE.id, sheen="gloss",
                min_film_um=50.0,
            )
        )  # fmt: skip
        shown = self.shown("plover")
        self.assertEqual((shown.film, shown.done), ("No film yet.", 0))
        self.assertEqual(shown.said.now, "Coat 1 of 10, pass 1 of 2")
        self.assertIn("plover", [r.id for r in shown.rows])

    def test_a_long_overrun_is_no_overrun(self):
        self.session.select("heron", "test")
        self.session.log(PassLogged(), instrument="heron")
        self.clock.turn(minutes=30)
        self.assertEqual(self.shown().said.count, "+29:00")
        self.clock.turn(minutes=90)
        self.assertEqual((self.shown().said.count, self.shown().said.under), ("now", "ready for hands"))

    def test_another_finish_over_the_own_is_laid_as_such(self):
        method = self.session.catalogue.method("shellac-under-waterborne")
        self.session.log(plover(method, min_film_um=75.0))
        self.session.select("plover", "test")
        self.session.log(PassLogged(), instrument="plover")
        body = act(self.session, None)
        self.assertEqual(body.finish, "shellac-pad")
        self.assertAlmostEqual(body.dry_um, 2.97, places=2)  # 22 um of wet film from a cloth, .135 of it solids

    def test_the_soonest_stands_first(self):
        self.session.log(PassLogged(), instrument="heron")
        rows = self.shown().rows
        self.assertEqual([r.ready for r in rows], sorted((r.ready for r in rows), reverse=True))

    def test_a_method_that_is_done_says_so(self):
        method = self.session.catalogue.method("oil-and-wax")
        taken = Stage(kind="coats", label="One", count=1, per_session=1, between_h=1.0)
        self.session.log(plover(method, min_film_um=0.0, plan=(taken,)))
        self.session.log(CoatLogged(dry_um=1), instrument="plover")
        self.assertEqual(self.shown("plover").said.now, "Wipe over again")
        self.clock.turn(hours=4)
        shown = self.shown("plover")
        self.assertEqual(shown.said.now, "All steps are done")
        with self.assertRaises(InputError):
            act(self.session, None)
