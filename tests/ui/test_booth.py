"""The Booth: turns told by journal and clock, keys that log, restarts that lose nothing."""

import shutil
import tempfile
import unittest
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage
from ravden.core.plan.booth import turn
from ravden.core.record import MISHAPS, Coat, Pass, StepDone
from ravden.journal.entries import AirLogged, CoatLogged, InstrumentAdded, MishapLogged, PassLogged
from ravden.journal.store import Journal
from ravden.ui.booth import presenter
from ravden.ui.clock import HandClock
from ravden.ui.session import ShopSession
from tests.core.test_methods import METHODS, bare
from tests.ui.support import NOW, WindowTest, settle

FINE = METHODS["lacquer-fine-start"]


class Turns(unittest.TestCase):
    def at(self, now_h, *acts, way="spray", opens=None, method=FINE):
        made = bare(method)
        return turn(replace(made, acts=(*made.acts, *acts)), method, way, now_h, opens)

    def test_pass_flash_pass_coat_flash_coat(self):
        first = self.at(10.0)
        self.assertEqual((first.kind, first.coat, first.nth_pass, first.due_h), ("coat", 1, 1, None))
        self.assertFalse(first.ends_coat)
        second = self.at(10.01, Pass(at_h=10.0))
        self.assertEqual((second.kind, second.nth_pass, second.ends_coat), ("pass", 2, True))
        self.assertAlmostEqual((second.due_h - 10.0) * 3600, 60.0, 6)
        third = self.at(10.1, Pass(at_h=10.0), Coat(at_h=10.05, dry_um=12))
        self.assertEqual((third.kind, third.coat, third.nth_pass, third.in_session), ("coat", 2, 1, 1))
        self.assertAlmostEqual(third.due_h, 10.05 + 1.5)

    def test_work_before_the_coat_is_told(self):
        self.assertEqual(self.at(10.0).before, "Sand the bare wood")
        self.assertEqual(self.at(10.0, StepDone(at_h=9.0, step=FINE.stage[3].label)).before, "")

    def test_a_session_has_an_end(self):
        coats = [Coat(at_h=10.0 + 1.5 * i, dry_um=12) for i in range(3)]
        stop = self.at(13.5, *coats, opens=33.0)
        self.assertEqual((stop.kind, stop.in_session, stop.due_h), ("stop", 3, 33.0))
        self.assertEqual(self.at(34.0, *coats, opens=33.0).kind, "coat")

    def test_a_coat_begun_and_left_is_begun_anew(self):
        self.assertEqual(self.at(10.5, Pass(at_h=10.0)).nth_pass, 2)
        self.assertEqual(self.at(34.0, Pass(at_h=10.0)).nth_pass, 1)

    def test_a_pad_lays_a_coat_in_one(self):
        found = self.at(1.0, way="pad", method=METHODS["shellac-pad-rounds"])
        self.assertTrue(found.ends_coat)

    def test_when_no_coat_is_next(self):
        coats = [Coat(at_h=10.0 + i, dry_um=12) for i in range(10)]
        self.assertEqual(self.at(40.0, *coats).kind, "other")
        self.assertEqual(self.at(40.0, *coats).label, "Cure to level")

    def test_every_mishap_has_a_sentence(self):
        defects = shipped().defects
        self.assertEqual(set(defects), set(MISHAPS))
        self.assertTrue(all(label and now.endswith(".") for label, now in defects.values()))

    def test_counting_down_in_words(self):
        told = [presenter.clock_text(s) for s in (0, 59.9, 61, 3599, 3600, 5400)]
        self.assertEqual(told, ["0:00", "0:59", "1:01", "59:59", "1 h 00", "1 h 30"])


class Keys(WindowTest):
    def setUp(self):
        super().setUp()
        self.choose("heron", "booth")
        self.booth = self.window.booth

    def press(self, key):
        QTest.keyClick(self.booth, key)
        settle(self.window)

    def wait(self, **by):
        self.clock.turn(**by)
        self.window.places.booth.show()

    def last(self):
        return self.session.entries[-1].body

    def test_space_logs_pass_and_coat(self):
        self.wait(hours=6)
        self.assertEqual(self.booth.now.text(), "Coat 8 of 10, pass 1 of 2")
        before = self.coats("heron")
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), PassLogged)
        self.assertEqual(self.coats("heron"), before)
        self.assertEqual(self.booth.count.text(), "1:00")
        self.wait(seconds=45)
        self.assertEqual((self.booth.count.text(), self.booth.under.text()), ("0:15", "until the film is ready"))
        self.wait(seconds=75)
        self.assertEqual((self.booth.count.text(), self.booth.under.text()), ("+1:00", "ready since"))
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), CoatLogged)
        self.assertEqual(self.coats("heron"), before + 1)
        self.assertEqual(self.booth.tally.done, 8)
        self.assertIn("Top:", self.booth.film.text())

    def test_backspace_takes_back_only_its_own(self):
        self.press(Qt.Key.Key_Space)
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.entries), count + 1)
        self.assertIn("pass 1 of 2", self.booth.now.text())
        self.session.log(MishapLogged(what="run", zone="top"), instrument="heron")
        self.press(Qt.Key.Key_Backspace)
        self.session.log(AirLogged(temp_C=20))
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("no coat, pass or mishap", self.window.notice.text.text())

    def test_a_mishap_is_noted_without_stopping(self):
        self.press(Qt.Key.Key_N)
        self.assertTrue(self.booth.defects.isVisible())
        self.press(Qt.Key.Key_Right)
        self.press(Qt.Key.Key_E)
        self.assertFalse(self.booth.defects.isVisible())
        zones = [z.name for z in self.session.rack.project.zones]
        self.assertEqual((self.last().what, self.last().zone), ("blush", zones[1]))
        self.assertIn("dew point", self.window.notice.text.text())
        count = len(self.session.entries)
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_C)  # a letter of the list, not the coat of the whole window
        self.assertEqual(self.last().what, "orange-peel")
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_Escape)
        self.assertEqual(len(self.session.entries), count + 1)

    def test_mouse_and_touch_do_the_same(self):
        self.booth.act.click()
        self.assertIsInstance(self.last(), PassLogged)
        self.booth.mishap.click()
        self.booth.defects.buttons["nib"].click()
        self.assertEqual(self.last().what, "nib")
        self.booth.back.click()
        self.assertIn("Taken back", self.window.notice.text.text())
        for widget in (self.booth.now, self.booth.count, self.booth.tally, self.booth.defects.where):
            self.assertTrue(widget.accessibleName())

    def test_several_instruments_in_turn(self):
        ids = list(self.booth._ids)
        self.assertIn("heron", ids)
        self.press(Qt.Key.Key_Down)
        if len(ids) > 1:
            self.assertNotEqual(self.session.selected, "heron")
            self.press(Qt.Key.Key_Up)
        self.assertEqual(self.session.selected, "heron")
        self.choose("tern", "booth")
        self.assertEqual(self.booth.under.text(), "no coat is next")
        self.press(Qt.Key.Key_Space)
        self.assertIn("no coat is next on Tern", self.window.notice.text.text().lower().replace("tern", "Tern"))

    def test_after_a_restart_the_count_stands_where_the_clock_says(self):
        self.wait(hours=6)
        self.press(Qt.Key.Key_Space)
        self.clock.turn(seconds=20)
        self.window = self.open()
        self.choose("heron", "booth")
        self.assertEqual(self.window.booth.count.text(), "0:40")
        self.assertEqual(self.window.booth.now.text(), "Coat 8 of 10, pass 2 of 2")

    def test_a_clock_set_back_does_no_harm(self):
        self.wait(hours=6)
        self.press(Qt.Key.Key_Space)
        self.clock.time -= timedelta(hours=1)
        self.window.places.booth.show()
        self.assertIn("pass 1 of 2", self.booth.now.text())  # the pass has not happened yet by this clock
        self.press(Qt.Key.Key_Space)
        self.assertIsInstance(self.last(), PassLogged)

    def test_the_whole_screen_and_back(self):
        self.press(Qt.Key.Key_F11)
        self.assertTrue(self.window.isFullScreen())
        self.press(Qt.Key.Key_F11)
        self.assertFalse(self.window.isFullScreen())

    def test_a_file_that_only_may_be_read_is_told(self):
        self.session.journal._lock, kept = None, self.session.journal._lock
        count = len(self.session.entries)
        self.press(Qt.Key.Key_Space)
        self.assertEqual(len(self.session.entries), count)
        self.assertIn("reading only", self.window.notice.text.text())
        self.session.journal._lock = kept

    def test_enough_for_today_is_told_with_the_number(self):
        for _ in range(3):
            self.session.log_usual_coat()
            self.clock.turn(minutes=90)
        settle(self.window)
        self.window.places.booth.show()
        self.assertEqual(self.booth.now.text(), "Cure to level")
        self.choose("heron", "booth")
        self.session.undo()
        settle(self.window)
        self.window.places.booth.show()
        self.assertEqual(self.booth.now.text(), "Stop here today")
        self.assertIn("3 of 3 coats of a session are on", self.booth.under.text())

    def test_the_clock_runs_only_where_it_is_looked_at(self):
        control = self.window.places.booth
        self.assertTrue(control.tick.isActive())
        self.window.turn_to("film")
        control.show()
        self.assertFalse(control.tick.isActive())


class WhatIsShown(WindowTest):
    """The words of the place, in other air, on other finishes, at other moments."""

    def shown(self, name="heron"):
        self.session.select(name, "test")
        settle(self.window)
        found = self.window.places.film_found
        return presenter.show(self.session, self.window.places.found, found)

    def test_the_air_is_judged_against_the_finish(self):
        plain = self.shown()
        self.assertEqual(plain.air_tone, "plain")
        self.assertRegex(plain.limit, r"Wet coat, upright: \d+ to \d+ µm on the comb")
        self.session.log(AirLogged(temp_C=24, rh=0.88))
        damp = self.shown()
        self.assertEqual(damp.air_tone, "warn")
        self.assertIn("under the dew point", damp.air)

    def test_padded_shellac_has_neither_comb_nor_dew_point(self):
        shown = self.shown("wren")
        self.assertEqual(shown.limit, "")
        self.assertNotIn("dew point", shown.air)

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
        self.assertEqual(shown.now, "Coat 1 of 10, pass 1 of 2")
        self.assertIn("plover", [r.id for r in shown.rows])

    def test_a_long_overrun_is_no_overrun(self):
        self.session.select("heron", "test")
        self.session.log(PassLogged(), instrument="heron")
        self.clock.turn(minutes=30)
        self.assertEqual(self.shown().count, "+29:00")
        self.clock.turn(minutes=90)
        self.assertEqual((self.shown().count, self.shown().under_count), ("now", "ready for hands"))

    def test_another_finish_over_the_own_is_laid_as_such(self):
        method = self.session.catalogue.method("shellac-under-waterborne")
        self.session.log(
            InstrumentAdded(
                id="plover", name="Plover", instrument_kind="solid-slab", material=method.material,
                measures=measures_of(self.session.catalogue.kind("solid-slab")), method=method.id, sheen="satin",
                min_film_um=75.0,
            )
        )  # fmt: skip
        self.session.select("plover", "test")
        self.session.log(PassLogged(), instrument="plover")
        body = presenter.act(self.session, None)
        self.assertEqual((body.finish, body.dry_um), ("shellac-pad", 3.0))

    def test_the_soonest_stands_first(self):
        self.session.log(PassLogged(), instrument="heron")
        rows = self.shown().rows
        self.assertEqual([r.ready for r in rows], sorted((r.ready for r in rows), reverse=True))

    def test_a_method_that_is_done_says_so(self):
        method = self.session.catalogue.method("oil-and-wax")
        self.session.log(
            InstrumentAdded(
                id="plover", name="Plover", instrument_kind="solid-slab", material=method.material,
                measures=measures_of(self.session.catalogue.kind("solid-slab")), method=method.id, sheen="satin",
                min_film_um=0.0,
                plan=(Stage(kind="coats", label="One", count=1, per_session=1, between_h=1.0),),
            )
        )  # fmt: skip
        self.session.log(CoatLogged(dry_um=1), instrument="plover")
        shown = self.shown("plover")
        self.assertEqual(shown.now, "The method is done")
        with self.assertRaises(InputError):
            presenter.act(self.session, None)


class Soak(unittest.TestCase):
    """Three hours, twelve instruments, four hundred acts."""

    NAMES = tuple(f"bird-{i}" for i in range(12))

    def prepared(self, path):
        found = shipped()
        many = replace(FINE.stage[4], count=90, per_session=50)
        plan = (*FINE.stage[:4], many, *FINE.stage[5:])
        journal = Journal.create(path)
        for name in self.NAMES:
            body = InstrumentAdded(
                id=name, name=name, instrument_kind="solid-slab", material="lacquer-sprayed", plan=plan,
                measures=measures_of(found.kind("solid-slab")), method=FINE.id, sheen="gloss", min_film_um=50.0,
            )  # fmt: skip
            journal.append(body, at=NOW, logged_at=NOW, instrument=name)
        journal.close()

    def run_session(self, path, reopen_every):
        self.prepared(path)
        clock = HandClock(NOW)
        session = ShopSession(shipped(), clock)
        session.open(path)
        acknowledged = 0
        for i in range(400):
            clock.turn(seconds=27)
            session.select(self.NAMES[i % 12], "soak")
            session.log(presenter.act(session, None), instrument=session.selected, origin="booth")
            acknowledged += 1
            if i % 17 == 16:
                session.undo("booth")
                acknowledged += 1
            if reopen_every and i % reopen_every == reopen_every - 1:
                # Nothing is handed over: all that goes on is what the file says and what the clock says.
                session.journal.close()
                session = ShopSession(shipped(), clock)
                session.open(path)
        entries = [(e.at, e.instrument, type(e.body), e.corrects) for e in session.entries]
        self.assertEqual(len(entries), len(self.NAMES) + acknowledged)
        films = {n: session.request(n).run().ledger.mean_um("top") for n in self.NAMES[:3]}
        session.close()
        return entries, films

    def test_interrupted_or_not_it_is_the_same_record(self):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        whole = self.run_session(folder / "whole.ravden", 0)
        broken = self.run_session(folder / "broken.ravden", 20)
        self.assertEqual(whole, broken)
        kinds = [kind for _, _, kind, _ in whole[0]]
        self.assertGreater(kinds.count(CoatLogged), 150)
        self.assertGreater(kinds.count(PassLogged), 150)
