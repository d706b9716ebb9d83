"""What is done from the days ahead: begun, put off, given away, done already, held, kept, asked."""

import tempfile
from datetime import datetime, timedelta
from pathlib import Path
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ravden.app.plan_of import plan_in_shop, plan_of
from ravden.app.standing_plan import kept
from ravden.core.schedule.clash import clash
from ravden.core.schedule.improve import Effort, first_plan
from ravden.core.schedule.problem import figures
from ravden.core.schedule.squeeze import squeeze
from ravden.core.schedule.wire import SearchTold, problem_in, sent, squeezed_told, taken
from ravden.journal.entry import iso
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import DayOff, DaysStruck, PersonSet
from ravden.journal.kinds.pin import PinSet
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.promise import PromiseSet
from tests.ui.support import NoSearch, WindowTest, settle, wait_until

CTRL = Qt.KeyboardModifier.ControlModifier


class DaysTest(WindowTest):
    def setUp(self):
        NoSearch.begun.clear()
        super().setUp()
        self.window.turn_to("rack")
        QTest.keyClick(self.window, Qt.Key.Key_E, CTRL)
        settle(self.window)
        self.shown = self.window.rack.days

    def log(self, *bodies):
        for body in bodies:
            self.session.log(body, origin="test")
        settle(self.window)

    def two(self):
        self.log(PersonSet(name="Odd"), PersonSet(name="Ida", buffs=False))

    def gaps(self):
        """Two instruments stand six days later than they could: their waits have shrunk since they were planned."""
        planning = self.window.places.planning

        def later(text):
            return iso(datetime.fromisoformat(text) + timedelta(days=6))

        planning.stand({
            key: step if key[0] == "heron" else replace(step, starts=tuple(map(later, step.starts)))
            for key, step in self.days().made.steps.items()
        })  # fmt: skip
        settle(self.window)

    def offered(self):
        """The plan somebody would make anew is offered, once nothing else is to do."""
        planning = self.window.places.planning
        planning.think_again()
        wait_until(lambda: planning.offer is not None)

    def days(self):
        return self.window.places.planning.days

    def doing(self, instrument, what):
        return next(d for d in self.days().doings if d.instrument == instrument and d.what.startswith(what))

    def turn(self, instrument, what):
        rows = self.shown.model.rows
        at = next(
            n for n, r in enumerate(rows) if r.doing and r.instrument == instrument and r.doing.what.startswith(what)
        )
        self.shown.list.selectRow(at)
        self.shown.list.setFocus()

    def press(self, key):
        QTest.keyClick(self.shown.list, key)
        settle(self.window)

    def said(self):
        answer = self.shown.answer
        return "" if answer.isHidden() else f"{answer.heading.text()}\n{answer.lines.text()}"


class Acts(DaysTest):
    def test_start_opens_the_booth_with_the_session_in_it(self):
        self.turn("heron", "Coat 8")
        self.press(Qt.Key.Key_Return)
        self.assertEqual((self.window.place, self.session.selected), ("booth", "heron"))
        rows = [row.text() for row in self.window.booth.before.rows if not row.isHidden()]
        self.assertTrue(rows[0].startswith("1"))
        self.assertIn("Heron", rows[0])
        self.assertEqual(
            self.window.places.booth.choosing.choice.by_hand, {"heron": True, "tern": False, "wren": False}
        )

    def test_later_is_not_before_the_day_after(self):
        self.turn("heron", "Coat 8")
        self.press(Qt.Key.Key_L)
        self.assertEqual(self.doing("heron", "Coat 8").at.date(), self.session.now.date() + timedelta(days=1))
        self.assertTrue(self.doing("heron", "Coat 8").pinned)
        self.turn("heron", "Coat 8")
        self.assertFalse(self.shown.buttons["unpin"].isHidden())
        self.press(Qt.Key.Key_Delete)
        self.assertEqual(self.doing("heron", "Coat 8").at.date(), self.session.now.date())
        self.assertEqual(self.session.shop.racked["heron"].pins, {})

    def test_done_already_logs_the_coat_when_it_was_planned(self):
        self.clock.turn(minutes=40)
        self.window.tick.timeout.emit()
        settle(self.window)
        planned = self.doing("heron", "Coat 8").at
        self.assertLess(planned, self.session.now)  # it is being done: it stands where it stood
        self.turn("heron", "Coat 8")
        self.press(Qt.Key.Key_D)
        self.assertEqual(self.coats("heron"), 8)
        self.assertEqual(self.session.entries[-1].at, planned)
        self.turn("heron", "Coat 10")
        self.press(Qt.Key.Key_D)
        self.assertIn("something else comes first", self.window.notice.text.text().lower())
        self.assertEqual(self.coats("heron"), 8)

    def test_a_pin_holds_it_and_one_that_cannot_stand_is_named(self):
        self.turn("heron", "Coat 8")
        self.press(Qt.Key.Key_P)
        before = self.doing("heron", "Coat 8").at
        step = self.doing("heron", "Coat 8").step
        self.assertEqual(self.session.shop.racked["heron"].pins[step].at, before)
        self.log(PersonSet(name="Odd", week={"sat": ((9.0, 17.0),)}))
        self.assertIn("A pin on Heron cannot stand", self.shown.told.text())
        self.assertNotEqual(self.doing("heron", "Coat 8").at, before)
        self.assertIn(step, self.session.shop.racked["heron"].pins)

    def test_two_people_work_at_once_and_hand_work_over(self):
        self.two()
        self.assertFalse(self.shown.list.isColumnHidden(4))
        headings = [r.heading for r in self.shown.model.rows if r.heading.startswith("Today")]
        self.assertEqual([h.split(",")[2].split(":")[0].strip() for h in headings], ["Odd", "Ida"])
        doing = self.doing("wren", "Level")
        self.turn("wren", "Level")
        self.press(Qt.Key.Key_S)
        other = self.doing("wren", "Level")
        self.assertEqual({doing.who, other.who}, {"Odd", "Ida"})
        self.assertEqual(self.session.shop.racked["wren"].pins[doing.step].who, other.who)

    def test_alone_and_without_a_promise_there_is_nothing_to_keep(self):
        for name in self.session.shop.racked:
            self.session.log(PromiseSet(), instrument=name)
        settle(self.window)
        self.assertTrue(self.shown.keep.isHidden())
        self.assertTrue(self.shown.buttons["else"].isHidden())
        self.assertTrue(self.window.rack.strip.isHidden())

    def test_the_days_are_printed_on_a_page(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "days.pdf"
            with mock.patch("PyQt6.QtWidgets.QFileDialog.getSaveFileName", return_value=(str(path), "")):
                self.shown.sheet.click()
            self.assertEqual(path.read_bytes()[:5], b"%PDF-")
        self.assertIn("days.pdf", self.window.notice.text.text())

    def test_each_of_several_calendars_is_asked_for_and_its_name_leads_nowhere_else(self):
        for name in ("Odd", "../Ida/B"):
            self.session.log(PersonSet(name=name))
        settle(self.window)
        with tempfile.TemporaryDirectory() as folder:
            asked = []

            def choose(window, title, start, kinds):
                asked.append(Path(start).name)
                return (str(Path(folder) / Path(start).name) if len(asked) > 1 else ""), ""

            with mock.patch("PyQt6.QtWidgets.QFileDialog.getSaveFileName", side_effect=choose):
                self.window.exchange.days_out()
            self.assertGreater(len(asked), 1)
            self.assertEqual(len(set(asked)), len(asked))
            self.assertTrue(all(a.startswith("shop-plan-") and a.endswith(".ics") for a in asked), asked)
            self.assertEqual(sorted(p.name for p in Path(folder).iterdir()), sorted(asked[1:]))

    def test_without_the_solver_a_line_says_so(self):
        self.assertNotIn("OR-Tools", self.shown.told.text())
        with mock.patch("ravden.core.schedule.exact.available", return_value=False):
            self.clock.turn(minutes=1)
            self.window.tick.timeout.emit()
            settle(self.window)
        self.assertIn("none is proved best", self.shown.told.text())

    def test_a_calendar_of_one_instrument_says_what_the_window_says(self):
        session = self.session
        found = plan_in_shop(session.shop, "heron", session.now)
        here = self.window.places.found["heron"]
        begins = [s.from_h for s in here.forward.steps]
        self.assertEqual(len(found.forward.steps), len(begins))
        for step, at in zip(found.forward.steps, begins, strict=True):
            self.assertAlmostEqual(step.from_h, at, places=4)
        alone = plan_of(session.shop, "heron", session.now)
        self.assertNotEqual([s.from_h for s in alone.forward.steps], begins)

    def test_today_tomorrow_and_the_week(self):
        for at, (first, none) in enumerate((("Today", "Tomorrow"), ("Tomorrow", "Today"))):
            self.shown.spans.button(at).click()
            settle(self.window)
            headings = [r.heading.split(",")[0] for r in self.shown.model.rows if r.heading]
            self.assertEqual(headings[0], first)
            self.assertNotIn(none, headings)


class Kept(DaysTest):
    def setUp(self):
        super().setUp()
        self.press(Qt.Key.Key_K)

    def test_nothing_in_it_moves_unasked(self):
        self.assertIsNotNone(self.session.shop.kept)
        self.assertEqual(self.shown.keep.text(), "Let it follow along  (K)")
        self.assertIn("nothing in it moves unasked", self.shown.told.text())
        before = {(d.instrument, d.step, d.what): d.at for d in self.days().doings if d.step}
        self.session.undo("test")
        self.assertIsNone(self.session.shop.kept)
        self.session.redo("test")
        settle(self.window)
        after = {(d.instrument, d.step, d.what): d.at for d in self.days().doings if d.step}
        self.assertEqual(before, after)

    def broken(self):
        """Nobody is there tomorrow and the day after."""
        first = self.session.now.date() + timedelta(days=1)
        self.log(DayOff(first=first.isoformat(), last=(first + timedelta(days=1)).isoformat()))

    def test_a_day_off_breaks_it_and_two_ways_out_are_offered(self):
        self.assertTrue(self.window.rack.strip.isHidden())
        self.broken()
        made = self.days().made
        self.assertGreater(len(made.broken), 0)
        self.assertFalse(self.window.rack.strip.isHidden())
        self.assertRegex(self.window.rack.broken.text(), r"\d+ steps? of this plan cannot stand")
        kept = self.session.shop.kept
        self.window.rack.ways.click()
        settle(self.window)
        self.assertIn("cannot stand", self.said())
        names = [w[1].text() for w in self.shown.answer.ways if not w[0].isHidden()]
        self.assertEqual(names, ["Fewest changes"])
        search = NoSearch.begun[-1]
        self.assertEqual(search.request.mode, "fewest_late_days")
        problem, plan = problem_in(search.request), taken(search.request.start)
        better = figures(problem, plan)
        told = SearchTold(
            seconds=1.0, figures=better, over=True,
            plan=sent(type(plan)(placed=plan.placed, sessions=plan.sessions)),
        )  # fmt: skip
        search.told(told)
        wait_until(lambda: "no better way" in self.said())
        self.assertIs(self.session.shop.kept, kept)  # offers never apply themselves
        self.shown.answer.ways[0][3].click()
        settle(self.window)
        self.assertEqual(self.days().made.broken, ())
        self.assertTrue(self.window.rack.strip.isHidden())
        self.assertEqual(self.session.entries[-1].body.offer, "changes")
        self.session.undo("test")
        settle(self.window)
        self.assertGreater(len(self.days().made.broken), 0)

    def test_days_struck_out_break_a_session(self):
        self.log(DaysStruck(days=(self.session.now.date().isoformat(),)))
        broken = {i for i, _ in self.days().made.broken}
        self.assertEqual(broken, {"heron"})

    def test_somebody_with_work_who_leaves(self):
        self.press(Qt.Key.Key_K)
        self.two()
        self.press(Qt.Key.Key_K)
        self.log(PersonSet(name="Odd", gone=True))
        self.assertEqual({d.who for d in self.days().doings}, {"Ida"})
        self.assertIsInstance(next(e.body for e in reversed(self.session.entries)), PersonSet)


class Asked(DaysTest):
    def test_why_then_in_a_chain(self):
        self.turn("heron", "Coat 9")
        self.press(Qt.Key.Key_W)
        lines = self.said().splitlines()
        self.assertEqual(lines[0], "Heron, back from its end")
        self.assertLessEqual(len(lines), 7)
        self.assertTrue(any("days for the film" in line for line in lines))
        QTest.keyClick(self.shown.list, Qt.Key.Key_Escape)
        settle(self.window)
        self.assertEqual(self.said(), "")
        self.assertTrue(self.shown.isVisible())

    def test_can_it_be_ready_by(self):
        self.turn("heron", "Coat 9")
        self.press(Qt.Key.Key_R)
        self.assertIn("Can Heron be ready by", self.said())
        day = self.shown.answer.day
        self.assertTrue(day.isVisible())
        day.setText("2026-05-10")
        QTest.keyClick(day, Qt.Key.Key_Return)
        settle(self.window)
        self.assertIn("With the shop for itself: ", self.said())
        self.assertIn("If it goes first: no", self.said())
        self.assertIn("Searching for a better way", self.said())
        search = NoSearch.begun[-1]
        asked = search.request
        with mock.patch("ravden.core.schedule.exact.available", return_value=False):
            found = squeeze(problem_in(asked), taken(asked.start), asked.squeeze, asked.by_min, Effort(rounds=1))
        search.told(squeezed_told(found, 0.1))
        wait_until(lambda: "As far as can be searched" in self.said())
        search.died("gone")
        answer = self.shown.answer
        self.assertEqual(answer.does.text(), "Promise it for Sun 10 May")
        answer.firm.setChecked(True)
        answer.does.click()
        settle(self.window)
        self.assertEqual(self.said(), "")
        self.assertTrue(self.session.shop.racked["heron"].firm)
        promise = next(p for p in self.days().promises if p.instrument == "heron")
        self.assertEqual((promise.promised.date().isoformat(), promise.word), ("2026-05-10", "unlikely"))

    def test_the_search_for_a_better_plan_is_taken_up_again_after_a_question(self):
        self.assertEqual(NoSearch.begun[-1].request.mode, "fresh")
        self.assertTrue(self.window.places.planning.searching.busy)
        for leaves in (False, True):  # the answer comes, or nobody waits for it
            self.turn("heron", "Coat 9")
            self.press(Qt.Key.Key_R)
            self.shown.answer.day.setText("2026-05-10")
            QTest.keyClick(self.shown.answer.day, Qt.Key.Key_Return)
            settle(self.window)
            asked = NoSearch.begun[-1]
            self.assertGreaterEqual(asked.request.squeeze, 0)
            if leaves:
                self.shown.answer.leave.click()
            else:
                asked.told(SearchTold(seconds=0.1, over=True))
            wait_until(lambda asked=asked: NoSearch.begun[-1] is not asked)
            self.assertEqual(NoSearch.begun[-1].request.mode, "fresh")

    def test_firm_dates_that_clash_are_named_with_the_least_relief(self):
        for name, days in (("heron", 6), ("tern", 40)):
            by = (self.session.now + timedelta(days=days)).isoformat()
            self.session.log(PromiseSet(promised=by, firm=name == "heron"), instrument=name)
        settle(self.window)
        rows = [r.cells for r in self.shown.model.rows if r.cells[0] == "Unlikely"]
        self.assertTrue(any("promised firmly" in cells[2] for cells in rows), rows)
        self.turn("heron", "Coat 9")
        self.press(Qt.Key.Key_W)
        self.assertIn("Searching", self.said())
        search = NoSearch.begun[-1]
        self.assertTrue(search.request.clash)
        problem = problem_in(search.request)
        with mock.patch("ravden.core.schedule.exact.available", return_value=False):
            found = clash(problem, Effort(rounds=1))
        search.told(SearchTold(seconds=0.1, over=True, clash=found))
        wait_until(lambda: "even alone" in self.said())
        self.assertIn("Heron, firm for Sun 10 May: alone ", self.said())
        self.assertRegex(self.said(), r"With none of them firm: \d+ days late in all")

    def test_what_stood_before_an_act_stands_again_when_it_is_taken_back(self):
        before = dict(self.days().made.steps)
        self.session.log(CoatLogged(dry_um=30), instrument="heron")
        settle(self.window)
        after = dict(self.days().made.steps)
        self.assertNotEqual(after, before)
        self.session.undo("test")
        settle(self.window)
        self.assertEqual(dict(self.days().made.steps), before)
        self.session.redo("test")
        settle(self.window)
        self.assertEqual(dict(self.days().made.steps), after)

    def test_a_day_that_is_over_is_refused(self):
        self.turn("heron", "Coat 9")
        self.press(Qt.Key.Key_R)
        self.shown.answer.day.setText("2026-05-01")
        QTest.keyClick(self.shown.answer.day, Qt.Key.Key_Return)
        settle(self.window)
        self.assertIn("day is over", self.window.notice.text.text())

    def test_a_search_that_dies_is_told_in_a_line(self):
        self.window.places.planning.searching.begin(NoSearch.begun[-1].request)
        NoSearch.begun[-1].died("The search came to an end by itself.")
        wait_until(lambda: "came to an end" in self.window.notice.text.text())
        self.assertFalse(self.window.places.planning.searching.busy)

    def test_a_better_plan_is_offered_and_nothing_moves_before_it_is_taken(self):
        stood = dict(self.days().made.steps)
        before = NoSearch.begun[-1]
        self.gaps()
        wait_until(lambda: NoSearch.begun[-1] is not before)
        self.assertNotEqual(dict(self.days().made.steps), stood)
        self.assertTrue(self.window.rack.strip.isHidden())
        search, planning = NoSearch.begun[-1], self.window.places.planning
        problem, plan = problem_in(search.request), first_plan(problem_in(search.request))[0]
        search.told(SearchTold(seconds=2.0, figures=figures(problem, plan), plan=sent(plan), over=True))
        wait_until(lambda: planning.offer is not None)
        settle(self.window)
        stood = dict(self.days().made.steps)
        self.assertFalse(self.window.rack.strip.isHidden())
        self.assertRegex(self.window.rack.broken.text(), r"^A better plan is at hand\. .* days? sooner")
        self.window.rack.ways.click()
        settle(self.window)
        self.assertIn("A better plan", self.said())
        self.assertIn("→", self.shown.answer.ways[0][2].text())
        self.assertEqual(dict(self.days().made.steps), stood)
        offer = planning.offer
        self.shown.answer.ways[0][3].click()
        settle(self.window)
        now, taken_up = self.days().made, offer.made.steps_of(offer.plan)
        work = [key for key in now.steps if not key[1].endswith("done")]
        self.assertEqual([now.steps[key].starts for key in work], [taken_up[key].starts for key in work])
        self.assertIsNone(self.session.shop.kept)
        self.assertTrue(self.window.rack.strip.isHidden())

    def test_an_offer_outlasts_the_minute_and_goes_with_the_next_act(self):
        self.gaps()
        self.offered()
        planning, offer = self.window.places.planning, self.window.places.planning.offer
        self.window.rack.ways.click()
        settle(self.window)
        self.clock.turn(minutes=1)
        self.window.places.refresh(tuple(self.session.shop.racked))
        settle(self.window)
        self.assertIs(planning.offer, offer)
        self.assertIn("A better plan", self.said())
        self.session.log(CoatLogged(dry_um=30), instrument="heron")
        settle(self.window)
        self.assertIsNone(planning.offer)
        self.assertEqual(self.said(), "")

    def test_who_works_here_taken_back_leaves_what_stood(self):
        before = {key: (s.who, s.starts) for key, s in self.days().made.steps.items()}
        self.two()
        self.assertNotEqual({key: (s.who, s.starts) for key, s in self.days().made.steps.items()}, before)
        for _ in range(2):
            self.session.undo("test")
        settle(self.window)
        self.assertEqual({key: (s.who, s.starts) for key, s in self.days().made.steps.items()}, before)

    def test_an_offer_that_was_left_is_not_made_again(self):
        self.gaps()
        self.offered()
        planning, stood = self.window.places.planning, dict(self.days().made.steps)
        self.window.rack.ways.click()
        settle(self.window)
        self.shown.answer.leave.click()
        settle(self.window)
        self.assertIsNone(planning.offer)
        self.assertTrue(self.window.rack.strip.isHidden())
        thought = []
        planning.thinking.done.connect(thought.append)
        planning.think_again()
        wait_until(lambda: thought)
        self.assertIsNone(planning.offer)
        self.assertEqual(dict(self.days().made.steps), stood)

    def test_what_moved_is_told_with_its_reason(self):
        self.clock.turn(hours=17)
        self.window.places.refresh(tuple(self.session.shop.racked))
        settle(self.window)
        headings = [r.heading for r in self.shown.model.rows if r.heading]
        self.assertIn("Moved", headings)
        rows = self.shown.model.rows[[r.heading for r in self.shown.model.rows].index("Moved") + 1 :]
        told = next(r.cells for r in rows if r.cells[1] == "Heron")
        self.assertRegex(told[2], r"^Coat 8 of \d+: .* → .*, since it was not done then$")
        self.assertEqual(told[0], "")  # what was done to a plan is no hour of work
        self.session.select("heron", "test")
        self.session.hand_over(self.session.now, "", "", "test")
        settle(self.window)
        self.assertNotIn("Heron", {r.cells[1] for r in self.shown.model.rows})

    def test_a_minute_that_moves_nothing_writes_nothing(self):
        planning = self.window.places.planning
        wait_until(lambda: kept(self.session.journal).hands == self.session.held)
        wrote = []
        with mock.patch("ravden.app.standing_plan.keep", side_effect=lambda _, found: wrote.append(found)):
            self.clock.turn(minutes=1)
            self.window.places.refresh(tuple(self.session.shop.racked))
            settle(self.window)
            planning.stop()  # what waits to be written is
            self.assertEqual(wrote, [])
            planning.live = True
            self.session.log(CoatLogged(dry_um=30), instrument="heron")
            settle(self.window)
            planning.stop()
        self.assertEqual(len(wrote), 1)

    def test_tomorrow_it_is_the_plan_of_today(self):
        planning = self.window.places.planning
        self.two()
        stood = dict(self.days().made.steps)
        self.window = self.open()
        self.assertIsNot(self.window.places.planning, planning)
        made = self.days().made
        self.assertEqual({key: (s.who, s.starts) for key, s in made.steps.items()},
                         {key: (s.who, s.starts) for key, s in stood.items()})  # fmt: skip
        self.assertFalse(made.anew)


class Pinned(DaysTest):
    def test_a_pin_of_a_step_that_is_no_more_does_nothing(self):
        rack = self.session.shop.racked["heron"]
        self.session.log(PinSet(step="Level sand#1", day="2026-05-29"), instrument="heron")
        settle(self.window)
        without = tuple(s for s in rack.method.stage if s.id != "Level sand")
        self.session.log(PlanSet(method=rack.instrument.method, stage=without), instrument="heron")
        settle(self.window)
        self.assertIn("Held no longer, since it is in the plan no more: Level sand", self.window.notice.text.text())
        self.assertEqual(self.session.shop.racked["heron"].pins, {})
        self.assertEqual(self.days().made.loose_pins, ())
        self.assertNotIn("pin", self.shown.told.text().lower().split("follows")[0].replace("opinion", ""))
        self.log(PlanKept())
        self.assertIsNone(self.session.shop.kept)


class Dragged(WindowTest):
    """A block of the plan dragged along its lane."""

    def setUp(self):
        super().setUp()
        self.window.turn_to("rack")
        settle(self.window)
        self.lanes = self.window.rack.lanes

    def block(self, step):
        lane = next(r for _, r in self.lanes.rows() if not isinstance(r, str) and r.id == "heron")
        block = next(b for b in lane.blocks if b.step == step)
        return lane, block

    def drag(self, step, days):
        lane, block = self.block(step)
        top = self.lanes.span_of(lane.id)[0]
        y = top + self.lanes.lane_h - 48 + 14
        start = QPoint(round(self.lanes.x_of(block.at)) + 4, y)
        end = QPoint(round(self.lanes.x_of(block.at + timedelta(days=days))), y)
        QTest.mousePress(self.lanes, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.lanes, QPoint((start.x() + end.x()) // 2, y))
        QTest.mouseMove(self.lanes, end)
        grabbed = self.lanes.grab().toImage()
        QTest.mouseRelease(self.lanes, Qt.MouseButton.LeftButton, pos=end)
        settle(self.window)
        return grabbed

    def test_it_is_pinned_on_the_day_it_is_dropped_on_and_taken_back(self):
        before = self.lanes.grab().toImage()
        _, block = self.block("Build#8")
        grabbed = self.drag("Build#8", 3)
        self.assertNotEqual(grabbed, before)  # the days it may go to are lit
        pin = self.session.shop.racked["heron"].pins["Build#8"]
        self.assertEqual(pin.day, block.at.date() + timedelta(days=3))
        _, moved = self.block("Build#8")
        self.assertEqual(moved.at.date(), pin.day)
        self.assertTrue(moved.pinned)
        self.session.undo("test")
        settle(self.window)
        self.assertEqual(self.block("Build#8")[1].at, block.at)

    def test_a_day_before_its_film_is_ready_says_its_rule(self):
        self.drag("Level sand#1", -9)
        self.assertIn("is not ready by then", self.window.notice.text.text())
        self.assertEqual(self.session.shop.racked["heron"].pins, {})

    def test_a_day_nobody_is_there_says_its_rule(self):
        first = self.session.now.date() + timedelta(days=2)
        self.session.log(DayOff(first=first.isoformat(), last=(first + timedelta(days=2)).isoformat()))
        settle(self.window)
        self.drag("Build#8", 3)
        self.assertIn("nobody is there", self.window.notice.text.text().lower())

    def test_a_click_on_a_block_only_chooses_its_lane(self):
        lane, block = self.block("Build#8")
        y = self.lanes.span_of(lane.id)[0] + self.lanes.lane_h - 48 + 14
        QTest.mouseClick(self.lanes, Qt.MouseButton.LeftButton, pos=QPoint(round(self.lanes.x_of(block.at)) + 4, y))
        self.assertEqual(self.session.selected, "heron")
        self.assertEqual(self.session.shop.racked["heron"].pins, {})
