"""The plan of an instrument in the real window: edited, dated, drawn under the film, and carried in and out as
files."""

import json

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ravden.app import by_plan
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.zones import ZonesSet
from ravden.ui.places.methods import plan_presenter
from ravden.ui.places.rack import presenter as rack_presenter
from ravden.ui.shell import one_page
from tests.ui.support import WindowTest, settle
from tests.ui.test_methods import MethodsTest


class PlanTest(MethodsTest):
    def setUp(self):
        super().setUp()
        self.view.pages.turn_to("plan")
        settle(self.window)
        self.plan = self.view.plan

    def labels(self):
        return [r.label for r in self.plan.model.rows]

    def row(self, label):
        return self.labels().index(label)

    def pick(self, label):
        self.plan.pick(self.row(label))

    def press(self, button):
        button.click()
        settle(self.window)


class Editing(PlanTest):
    def test_every_step_is_dated_and_the_next_one_is_picked(self):
        rows = self.plan.model.rows
        self.assertEqual(len(rows), len(self.session.rack.method.stage))
        self.assertEqual(rows[0].state, "now")
        self.assertEqual(self.plan.row, 0)
        self.assertTrue(all(r.when for r in rows))
        self.session.log(StepLogged(step="Sand the bare wood"), instrument="plover")
        self.session.log(StepLogged(step="Fill the pores", skipped=True), instrument="plover")
        settle(self.window)
        self.assertEqual([r.state for r in self.plan.model.rows[:3]], ["done", "skipped", "now"])

    def test_a_step_is_changed_and_taken_back(self):
        self.pick("Build")
        self.assertEqual(self.plan.form.numbers["count"].text(), "10")
        self.plan.form.numbers["count"].setText("7")
        self.plan.form.label.setText("Thin build")
        self.press(self.plan.form.keep)
        stage = next(s for s in self.session.rack.method.stage if s.label == "Thin build")
        self.assertEqual(stage.count, 7)
        self.assertEqual(len(self.window.places.film.found.forward.coats), 7)
        self.assertIn("Thin build changed", self.window.notice.text.text())
        self.assertFalse(self.plan.own.isHidden())
        self.window.anywhere.undo()
        settle(self.window)
        self.assertIn("Build", self.labels())
        self.assertTrue(self.plan.own.isHidden())

    def test_what_cannot_be_is_told_beside_the_button(self):
        count = len(self.session.entries)
        self.pick("Build")
        for name, text, word in (("count", "0", "count"), ("count", "2.5", "whole"), ("between_h", "x", "no number")):
            self.plan.form.numbers[name].setText(text)
            self.press(self.plan.form.keep)
            self.assertIn(word, self.plan.form.fault.text().lower())
            self.plan.form.show_step(self.session.rack.method.stage[self.plan.row], self.session.units)
        self.press(self.plan.drop)
        self.assertIn("before any coat", self.plan.form.fault.text())
        self.assertEqual(len(self.session.entries), count)

    def test_steps_are_put_in_left_out_and_moved(self):
        self.pick("Mask what stays bare")
        self.assertIn("Without it", self.plan.consequence.text())
        self.press(self.plan.drop)
        self.assertNotIn("Mask what stays bare", self.labels())
        self.pick("Build")
        self.plan.new_kind.setCurrentIndex(self.plan.new_kind.findData("finish"))
        self.press(self.plan.insert)
        new = "Finish: new step"
        self.assertEqual(self.row(new), self.row("Build") + 1)
        self.assertEqual(self.plan.row, self.row(new))
        self.press(self.plan.down)
        self.assertEqual(self.row(new), self.row("Build") + 2)
        self.press(self.plan.own)
        self.assertEqual(self.session.rack.method, self.session.catalogue.method("lacquer-fine-start"))

    def test_coats_are_fitted_to_the_film(self):
        self.assertIn("9 coats would leave the least film everywhere", self.plan.fit_words.text())
        self.assertIn("The plan has 10", self.plan.fit_words.text())
        self.pick("Build")
        self.plan.form.numbers["count"].setText("4")
        self.press(self.plan.form.keep)
        self.assertIn("The plan has 4", self.plan.fit_words.text())
        self.press(self.plan.fit)
        fitted = self.session.rack.method.coats
        self.assertGreater(fitted, 4)
        self.assertTrue(self.plan.fit.isHidden())
        self.assertIn("asks for no other number", self.plan.fit_words.text())
        self.assertEqual(len(self.window.places.film.found.forward.coats), fitted)

    def test_a_way_of_colouring_is_put_in(self):
        at = self.plan.colour.findData("water-dye")
        self.assertIn("Against it", self.plan.colour.itemData(at, Qt.ItemDataRole.ToolTipRole))
        self.plan.colour.setCurrentIndex(at)
        self.plan.colour.activated.emit(at)
        settle(self.window)
        self.assertLess(self.row("Pre-wet, dye, wipe even"), self.row("Fill the pores"))

    def test_a_zone_in_another_finish_has_steps_of_its_own(self):
        self.session.log(ZonesSet(finishes={"neck": "polymerising-oil"}), instrument="plover")
        settle(self.window)
        mine = next(r for r in self.plan.model.rows if r.label.endswith(": neck"))
        self.assertEqual(mine.state, "ahead")
        coats = self.session.rack.method.stage[mine.index].count
        for _ in range(coats):
            self.session.log(CoatLogged(dry_um=2.5, finish="polymerising-oil"), instrument="plover")
        settle(self.window)
        self.assertEqual(next(r for r in self.plan.model.rows if r.label == mine.label).state, "done")
        self.assertEqual(self.window.places.film.found.progress.index, 0)

    def test_a_plan_is_for_the_method_in_use(self):
        by_plan.edit_plan(
            self.session, (Stage(kind="coats", label="One", count=1, per_session=1, between_h=1),), "one coat"
        )
        self.assertEqual(self.session.rack.method.coats, 1)
        by_plan.choose_method(self.session, "plover", "shellac-pad-rounds")
        self.assertGreater(self.session.rack.method.coats, 1)
        with self.assertRaises(InputError):
            self.session.log(PlanSet(method="oil-wiped"), instrument="plover")

    def test_a_plan_of_two_hundred_steps(self):
        stages = self.session.rack.method.stage
        many = [Stage(kind="prepare", label=f"Step {i}", hours=0.1, how="x" * 200) for i in range(190)]
        by_plan.edit_plan(self.session, (*many, *stages), "many")
        settle(self.window)
        self.assertEqual(len(self.plan.model.rows), 190 + len(stages))
        self.plan.pick(188)
        self.plan.form.label.setText("Changed")
        self.press(self.plan.form.keep)
        self.assertEqual(self.labels()[188], "Changed")
        self.assertEqual(self.plan.row, 188)

    def test_insertable_steps_of_every_kind_can_be_kept(self):
        for kind in plan_presenter.KIND:
            step = plan_presenter.step_to_insert(kind)
            self.plan.form.show_step(step, self.session.units)
            self.assertEqual(self.plan.form.typed(), step)
            self.assertTrue(plan_presenter.left_out_words(step))


class Answers(PlanTest):
    def test_quarrels_are_answered_for_this_instrument(self):
        self.view.pages.turn_to("quarrels")
        settle(self.window)
        text = self.view.quarrels.page.toPlainText()
        self.assertIn("Plover", self.view.quarrels.about.text())
        for words in ("Sand between coats?", "Only nibs", "The other side:", "µm"):
            self.assertIn(words, text)
        self.assertNotIn(" um", text)
        self.window.looks.turn_units()
        settle(self.window)
        self.assertIn("mil", self.view.quarrels.page.toPlainText())

    def test_an_old_finish_is_told_apart(self):
        self.view.pages.turn_to("old")
        old = self.view.old
        self.assertIn("any of these", old.page.toPlainText())
        old.alcohol.setCurrentIndex(old.alcohol.findData("nothing"))
        old.thinner.setCurrentIndex(old.thinner.findData("nothing"))
        old.thick.setCurrentIndex(old.thick.findData("yes"))
        old.thick.activated.emit(1)
        self.assertEqual([old.under.itemData(i) for i in range(old.under.count())], ["two-part", "light"])
        old.balls.setChecked(True)
        self.assertIn("Oil is left", old.page.toPlainText())
        old.under.setCurrentIndex(1)
        old.under.activated.emit(1)
        self.assertIn("Over light-cured", old.page.toPlainText())
        old.alcohol.setCurrentIndex(old.alcohol.findData("softens"))
        old.alcohol.activated.emit(1)
        self.assertIn("No usual finish", old.page.toPlainText())

    def test_a_price_makes_a_cost(self):
        self.view.pages.turn_to("beside")
        settle(self.window)
        self.assertNotIn("costing", self.offers()["lacquer-fine-start"].numbers)
        self.view.pick("lacquer-fine-start")
        self.view.price.setText("40")
        self.view.price.returnPressed.emit()
        settle(self.window)
        offer = self.offers()["lacquer-fine-start"]
        self.assertIn("costing", offer.numbers)
        self.assertEqual(self.view.price.text(), "40")
        self.view.price.setText("dear")
        self.view.price.returnPressed.emit()
        self.assertIn("no price", self.window.notice.text.text())

    def test_a_new_method_is_offered_when_the_next_one_is_added(self):
        path = self.folder / "mine.toml"
        self.control.write("oil-wiped", path)
        path.write_text(path.read_text().replace('"oil-wiped"', '"my-oil"'))
        self.control.read(path)
        self.window.anywhere.add_instrument()
        self.assertGreaterEqual(self.window.page.inputs["method"].findData("my-oil"), 0)
        self.window.turn_to("methods")


class UnderTheFilm(WindowTest):
    plans = False

    def test_a_step_in_the_wood_leads_to_its_page(self):
        self.choose("heron", "film")
        line = self.window.film.timeline
        shown = self.window.places.film.shown
        kinds = {s.kind for s in shown.steps}
        self.assertTrue({"coats", "wait", "level", "finish"} <= kinds)
        self.assertTrue(any(not s.planned for s in shown.steps))
        level = next(s for s in shown.steps if s.kind == "level")
        band = line.band_of_wood()
        spot = QPoint(int(line.x_of(level.from_h)) + 2, int(band.center().y()))
        QTest.mouseMove(line, spot)
        QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=spot)
        settle(self.window)
        self.assertIs(self.window.stack.currentWidget(), self.window.methods)
        self.assertEqual(self.window.methods.pages.page, "plan")
        self.assertEqual(self.window.methods.plan.row, level.index)
        self.assertEqual(self.window.methods.plan.form.label.text(), level.label)

    def test_preparation_stands_before_the_film(self):
        self.choose("heron", "film")
        self.session.log(StepLogged(step="Mask what stays bare"), instrument="heron",
                         at=self.session.rack.project.coats and self.session.rack.moment(0.5))  # fmt: skip
        settle(self.window)
        shown = self.window.places.film.shown
        mask = next(s for s in shown.steps if s.kind == "mask")
        self.assertFalse(mask.planned)
        self.assertLess(mask.from_h, shown.timeline.hours[0])
        self.assertLessEqual(shown.warp.hours[0], mask.from_h)

    def test_enter_at_the_cursor_opens_the_step(self):
        self.choose("heron", "film")
        line = self.window.film.timeline
        level = next(s for s in self.window.places.film.shown.steps if s.kind == "level")
        line.move_to(line.x_of(level.from_h) + 1)
        QTest.keyClick(line, Qt.Key.Key_Return)
        settle(self.window)
        self.assertEqual(self.window.methods.plan.row, level.index)


class OtherZones(WindowTest):
    plans = False

    def test_a_neck_in_oil_is_judged_by_its_own_least_film(self):
        self.choose("heron", "film")
        before = {r.name: r.odds for r in self.window.places.film.shown.rows}
        self.assertTrue(before["neck"])
        self.session.log(ZonesSet(finishes={"neck": "polymerising-oil", "head": "two-part-clear"}), instrument="heron")
        settle(self.window)
        after = {r.name: r.odds for r in self.window.places.film.shown.rows}
        self.assertEqual(after["neck"], "")  # oil asks for no least film
        self.assertEqual(after["head"], "over 50 %")  # its own asks for more than lies there
        self.assertEqual(after["top"], before["top"])

    def test_the_rack_draws_the_bodys_coats_alone(self):
        lanes = {lane.id: lane for lane in rack_presenter.show(self.session, self.window.places.found).lanes}
        before = len(lanes["heron"].planned_coats)
        self.session.log(ZonesSet(finishes={"neck": "polymerising-oil"}), instrument="heron")
        settle(self.window)
        lanes = {lane.id: lane for lane in rack_presenter.show(self.session, self.window.places.found).lanes}
        self.assertEqual(len(lanes["heron"].planned_coats), before)

    def test_coats_of_the_neck_are_not_counted_on_the_top(self):
        self.choose("heron", "film")
        coats = self.window.places.film.shown.planned_coats_h
        self.session.log(ZonesSet(finishes={"neck": "polymerising-oil"}), instrument="heron")
        settle(self.window)
        self.assertEqual(self.window.places.film.shown.planned_coats_h, coats)
        self.window.film.zone_picked.emit("neck")
        settle(self.window)
        self.assertGreater(len(self.window.places.film.shown.planned_coats_h), len(coats))


class Files(WindowTest):
    plans = False

    def test_out_and_in_again(self):
        self.choose("heron", "film")
        out = self.window.exchange
        path = self.folder / "heron.json"
        out.write_instrument(path)
        self.assertTrue(json.loads(path.read_text())["plan"])
        out.read_instrument(path)
        settle(self.window)
        self.assertEqual(self.session.selected, "heron-2")
        self.assertEqual(self.coats("heron-2"), self.coats("heron"))
        out.write_plan(self.folder / "plan.ics")
        self.assertTrue((self.folder / "plan.ics").read_bytes().startswith(b"BEGIN:VCALENDAR"))
        out.write_journal(self.folder / "journal.csv")
        self.assertEqual(len((self.folder / "journal.csv").read_text().splitlines()), len(self.session.entries) + 1)

    def test_a_record_fits_on_a_page(self):
        for name in ("tern", "wren", "heron"):
            self.choose(name, "film")
            path = self.folder / f"{name}.pdf"
            self.assertEqual(self.window.exchange.write_record(path), 1)
            self.assertTrue(path.read_bytes().startswith(b"%PDF"))

    def test_what_the_record_says(self):
        from ravden.app import finish_record

        self.choose("tern", "film")
        shown = finish_record.record(self.session, self.window.places.film.found)
        lines = dict(shown.lines)
        self.assertIn("11,", lines["Coats"])
        self.assertIn("still curing", lines["State"])
        self.assertEqual(len(shown.zones), len(self.window.places.film.found.zones))
        text = finish_record.html(shown)
        for words in ("dissolves in its own thinner", "Rubber stands", "nine times in ten", "data sheets"):
            self.assertIn(words, text)

    def test_a_long_page_is_set_smaller_until_it_fits(self):
        for lines, sheets in ((5, 1), (75, 1), (2000, None)):
            body = "".join(f"<p>line {i}</p>" for i in range(lines))
            found = one_page.write(body, "Lines", self.folder / "lines.pdf")
            if sheets is None:
                self.assertGreater(found, 1)  # smaller could not be read
            else:
                self.assertEqual(found, sheets)

    def test_bad_files_are_told(self):
        self.choose("heron", "film")
        count = len(self.session.entries)
        bad = self.folder / "bad.json"
        bad.write_text("{}")
        for act in (
            lambda: self.window.exchange.read_instrument(bad),
            lambda: self.window.exchange.read_instrument(self.folder / "none.json"),
            lambda: self.window.exchange.write_plan(self.folder / "no" / "folder.ics"),
            lambda: self.window.exchange.write_record(self.folder / "no" / "folder.pdf"),
        ):
            with self.assertRaises(InputError):
                act()
        self.assertEqual(len(self.session.entries), count)
