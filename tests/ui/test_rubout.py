"""The Rub-out place in the real window: asked, toggled, logged in two keys, the drawer, the wheel, the bench card."""

import html
import re

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.ui.places.rubout import acts, bench_card, drawer_words, extras, textures
from tests.ui.support import WindowTest, settle


class RubOutTest(WindowTest):
    plans = False

    def setUp(self):
        super().setUp()
        self.choose("tern", "rubout")
        self.view = self.window.rubout
        self.side = self.view.side

    @property
    def shown(self):
        return self.view.shown

    @property
    def rub(self):
        return self.window.places.rubout

    def ask(self, texture_um=8.0, sheen="mirror"):
        self.view.texture.setCurrentIndex(self.view.texture.findData(texture_um))
        self.view.sheen.setCurrentIndex(self.view.sheen.findData(sheen))
        self.view.sheen.activated.emit(self.view.sheen.currentIndex())
        settle(self.window)
        return self.shown

    def press(self, *keys):
        for key in keys:
            QTest.keyClick(self.view.ladder, key)
            settle(self.window)

    def cured(self):
        """Thick, measured and hard."""
        for z in self.session.rack.project.zones:
            self.session.log(ReadingLogged(zone=z.name, um=160, n=5), instrument="tern")
        self.clock.turn(days=40)
        self.window.places.refresh(("tern",))
        settle(self.window)

    def grades(self):
        return [r.grade for r in self.shown.ladder.rungs]


class Asking(RubOutTest):
    def test_texture_and_sheen_change_the_ladder(self):
        mirror, satin, rough = self.ask(8.0, "mirror"), self.ask(8.0, "satin"), self.ask(18.0, "satin")
        self.assertEqual(mirror.ladder.rungs[-1].sheen, "mirror")
        self.assertEqual(satin.ladder.rungs[-1].sheen, "satin")
        self.assertLess(len(satin.ladder.rungs), len(mirror.ladder.rungs))
        self.assertLess(rough.ladder.rungs[-1].left_um, satin.ladder.rungs[-1].left_um - 5)
        self.assertGreater(self.colours(self.view.ladder), 20)

    def test_every_rung_says_what_to_look_for_and_why(self):
        for rung in self.ask().ladder.rungs:
            self.assertTrue(rung.look_for and rung.why and rung.scratch and rung.time and rung.needed)
            self.assertRegex(rung.band, r"^\d+–\d+ / \d+–\d+$")

    def test_a_measured_texture(self):
        preset = self.shown.asked.texture_um in [um for _, um, _ in self.shown.asked.textures]
        self.assertNotEqual(self.view.texture.currentText(), "measured")  # nobody has
        self.assertEqual(self.view.texture.currentText() == "as is usual", not preset)
        self.view.pv.setValue(13)
        settle(self.window)
        self.assertEqual(self.shown.asked.texture_um, 13.0)
        self.assertEqual(self.view.texture.currentText(), "measured")
        self.assertIn("13 µm of texture", self.shown.ladder.rungs[0].why)

    def test_too_rough_for_the_film_says_what_would_do(self):
        shown = self.ask(35.0, "mirror")
        self.assertEqual(shown.told.tone, "warn")
        self.assertRegex(shown.told.detail, r"Lay about \d+ µm more first|touches of a gauge")

    def test_a_sander_is_quicker_than_a_block(self):
        self.cured()
        by_hand = self.rub.rub.ladder.minutes
        self.view.block.setCurrentIndex(self.view.block.findData("orbital"))
        self.view.block.activated.emit(0)
        settle(self.window)
        self.assertEqual(self.rub.rub.ladder.steps[0].rung.backing.id, "orbital")
        self.assertLess(self.rub.rub.ladder.minutes, by_hand)

    def test_us_units_reach_every_sentence(self):
        self.window.looks.turn_units()
        shown = self.ask()
        said = " ".join(
            (*(r.why for r in shown.ladder.rungs), *(r.needed for r in shown.ladder.rungs), shown.told.detail)
        )
        self.assertIsNone(re.search(r"\b[uµ]m\b", said), said)
        self.assertTrue(all(r.off.endswith("mil") for r in shown.ladder.rungs))
        self.assertEqual(self.view.pv.suffix(), " mil")

    def test_no_false_decimals(self):
        shown = self.ask()
        for odds in (z.odds for z in shown.zones.zones):
            self.assertIn(odds, ("under 1 %", "1–5 %", "5–20 %", "over 20 %", "kept off"))
        self.assertRegex(shown.zones.totals, r"about \d+ µm \([\d.]+–[\d.]+ µm\)")


class Toggling(RubOutTest):
    def test_putting_one_in_and_taking_it_out(self):
        self.ask()
        before, spare = self.grades(), self.shown.ladder.spares[0]
        row = next(r for r in self.view.ladder.rows if r.spare is spare)
        QTest.mouseClick(self.view.ladder, Qt.MouseButton.LeftButton, pos=QPoint(300, row.y + 8))
        settle(self.window)
        self.assertIn(spare.grade, self.grades())
        self.assertTrue(self.shown.ladder.own)
        row = next(r for r in self.view.ladder.rows if r.grade == spare.id)
        QTest.mouseClick(self.view.ladder, Qt.MouseButton.LeftButton, pos=QPoint(300, row.y + 8))
        settle(self.window)
        self.assertEqual(self.grades(), before)

    def test_reading_a_rung_changes_nothing(self):
        self.ask()
        row = next(r for r in self.view.ladder.rows if r.rung is not None)
        QTest.mouseClick(self.view.ladder, Qt.MouseButton.LeftButton, pos=QPoint(300, row.y + 70))
        settle(self.window)
        self.assertFalse(self.shown.ladder.own)

    def test_a_bad_ladder_is_told_so_and_the_way_back(self):
        self.cured()
        self.ask()
        while "compound" not in self.grades()[0]:
            self.view.ladder.chosen = next(i for i, r in enumerate(self.view.ladder.rows) if r.index == 0)
            self.press(Qt.Key.Key_Space)
        self.assertEqual(self.shown.told.heading, "This ladder will not work as it stands.")
        self.assertIn("It will shine the orange peel, not level it.", self.shown.told.detail)
        self.assertIn("too fine to level", self.shown.told.detail)
        self.side.turn_to("ways")
        self.assertTrue(self.side.ways.remarks.text().startswith("•"))
        self.side.ways.return_.click()
        settle(self.window)
        self.assertFalse(self.shown.ladder.own)

    def test_keys_walk_the_ladder(self):
        self.view.ladder.chosen = 0
        self.press(Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Up)
        self.assertEqual(self.view.ladder.chosen, 1)

    def test_another_way_is_taken_over(self):
        self.cured()
        self.ask()
        self.side.turn_to("ways")
        ways = extras.ways(self.session, self.rub.rub)
        self.assertTrue({"Coarse start, every grade", "Fine start, few grades"} <= {w.name for w in ways})
        self.side.ways.buttons[-2].click()
        settle(self.window)
        self.assertEqual(tuple(r.id for r in self.shown.ladder.rungs), [w for w in ways if w.sequence][-2].sequence)


class AtTheBench(RubOutTest):
    def setUp(self):
        super().setUp()
        self.cured()
        self.ask(8.0, "mirror")

    def sandings(self):
        return [e.body for e in self.session.entries if isinstance(e.body, SandingLogged) and e.instrument == "tern"]

    def test_a_rung_in_two_keys(self):
        first = self.grades()[0]
        film = self.session.request("tern").run().ledger.mean_um("top")
        self.press(Qt.Key.Key_1)
        self.assertIn(f"{first}, done on:", self.view.hint.text())
        self.assertIn("2 Back", self.view.hint.text())
        self.press(Qt.Key.Key_1)
        logged = self.sandings()[-1]
        self.assertEqual((logged.grade, logged.zones, logged.part), (first, ("top",), True))
        found = self.session.request("tern").run()
        self.assertAlmostEqual(found.ledger.mean_um("top"), film - logged.um, delta=0.6)
        self.assertIn(f"{first} done", self.shown.ladder.done[0])
        self.assertEqual(self.window.places.film.found.progress.index, found.progress.index)
        self.assertNotIn(first, self.grades())

    def test_the_stage_is_done_with_the_last_paper_on_every_zone(self):
        before = self.session.request("tern").run().progress.index
        papers = sum(s.rung.abrasive.kind != "polish" for s in self.rub.rub.ladder.steps)
        for _ in range(papers):
            self.press(Qt.Key.Key_1, Qt.Key.Key_0)
        self.assertFalse(self.sandings()[-1].part)
        self.assertGreater(self.session.request("tern").run().progress.index, before)
        self.assertEqual(self.rub.rub.ladder.steps[0].rung.abrasive.kind, "polish")
        while self.shown.ladder.rungs:
            self.press(Qt.Key.Key_1, Qt.Key.Key_0)
        self.assertEqual(self.shown.told.heading, "The ladder is climbed.")
        self.assertTrue(all(z.before == z.after for z in self.shown.zones.zones))

    def test_wrong_keys_are_told_and_esc_leaves(self):
        self.press(Qt.Key.Key_0)
        self.assertIn("First the number of the rung", self.view.hint.text())
        self.press(Qt.Key.Key_9)
        self.assertIn("no such rung", self.view.hint.text())
        self.press(Qt.Key.Key_1, Qt.Key.Key_Escape)
        self.assertIn("A number logs that rung", self.view.hint.text())
        count = len(self.sandings())
        self.press(Qt.Key.Key_1)
        self.view.key_pressed.emit("1")
        self.assertEqual(len(self.sandings()), count + 1)

    def test_a_zone_too_thin_for_the_rung_is_not_logged_with_the_rest(self):
        self.session.log(ReadingLogged(zone="end-grain", um=26, n=9), instrument="tern")
        settle(self.window)
        self.assertIn("End grain: too thin for the whole ladder", self.shown.zones.edges)
        self.press(Qt.Key.Key_1)
        self.assertIn("0 all but the edges and end grain", self.view.hint.text())
        self.press(Qt.Key.Key_0)
        self.assertNotIn("end-grain", self.sandings()[-1].zones)
        self.assertIn("top", self.sandings()[-1].zones)

    def test_undo_brings_the_rung_back(self):
        first = self.grades()
        self.press(Qt.Key.Key_1, Qt.Key.Key_0)
        self.window.anywhere.undo()
        settle(self.window)
        self.assertEqual(self.grades(), first)
        self.assertEqual(self.shown.ladder.done, ())

    def test_a_coat_begins_again_from_the_texture(self):
        self.press(Qt.Key.Key_1, Qt.Key.Key_0)
        self.session.log(CoatLogged(dry_um=12), instrument="tern")
        settle(self.window)
        self.assertEqual(self.shown.ladder.done, ())
        self.assertIn("of texture", self.shown.ladder.rungs[0].why)

    def test_a_stray_scratch_proposes_the_step_back(self):
        self.press(Qt.Key.Key_1, Qt.Key.Key_0, Qt.Key.Key_X)
        self.assertTrue(any(isinstance(e.body, MishapLogged) for e in self.session.entries))
        self.assertRegex(self.shown.told.detail, r"Stray scratch, Top: .*patch.*about [\d.]+ µm and \d+ min, leaving")
        self.press(Qt.Key.Key_1, Qt.Key.Key_0)
        self.assertNotIn("Stray scratch", self.shown.told.detail)

    def test_readings_before_and_after_teach_the_hands(self):
        usual = self.rub.rub.ladder.minutes
        self.session.log(SandingLogged(um=20, grade="P800", minutes=6.0, mode="wet", part=True), instrument="tern")
        self.clock.turn(hours=0.1)
        for z in self.session.rack.project.zones:
            self.session.log(ReadingLogged(zone=z.name, um=130, n=5), instrument="tern")
        self.session.log(ReadingLogged(what="gloss", zone="top", gu60=3.0), instrument="tern")
        settle(self.window)
        hands = self.rub.rub.held.hands
        self.assertGreater(hands.cut.factor, 1.3)
        self.assertGreater(hands.cut.readings, 3)
        self.assertEqual(hands.scratch.readings, 1)
        self.assertIn("times as fast as assumed", self.shown.zones.totals)
        self.assertLess(self.rub.rub.ladder.minutes, usual)

    def test_a_correction_keeps_what_the_form_does_not_ask(self):
        self.press(Qt.Key.Key_1, Qt.Key.Key_1)
        entry = self.session.entries[-1]
        self.window.anywhere.correct(entry.id)
        self.fill(self.window.card, minutes="25", um="6")
        self.window.card.keep.click()
        settle(self.window)
        fixed = self.sandings()[-1]
        self.assertEqual((fixed.minutes, fixed.zones, fixed.part), (25.0, ("top",), True))

    def test_zone_keys_leave_out_what_is_masked(self):
        found = self.window.places.film.found
        keys = acts.zone_keys(found)
        self.assertEqual(keys[0][:2], ("0", ""))
        self.assertEqual([z for _, z, _ in keys[1:]], [z.name for z in found.project.zones][: len(keys) - 1])

    def test_the_bench_card_is_one_page(self):
        path = self.folder / "card.pdf"
        self.assertEqual(self.rub.write_card(path), "The bench card is in card.pdf")
        raw = path.read_bytes()
        self.assertTrue(raw.startswith(b"%PDF"))
        self.assertEqual(len(re.findall(rb"/Type\s*/Page\b", raw)), 1)
        missing = self.folder / "nowhere" / "card.pdf"
        self.window.guarded(lambda: self.rub.write_card(missing))
        self.assertIn("card.pdf", self.window.notice.text.text())


class DrawerPanelTest(RubOutTest):
    def type_in(self, text):
        self.side.drawer.entry.setText(text)
        self.side.drawer.add.click()
        settle(self.window)

    def test_a_bare_number_is_asked_about_and_answered(self):
        self.type_in("800")
        self.assertIn("could be anything from 12 to 22 µm", self.side.drawer.note.text())
        self.assertIsNone(self.session.shop.drawer)
        button = next(b for b in self.side.drawer.choice_buttons if b.text().startswith("CAMI 800"))
        button.click()
        settle(self.window)
        self.assertIn("ANSI-CAMI:800", self.session.shop.drawer.owned)
        self.assertIn("P800 is not CAMI 800: 21.8 and 12.2 µm.", self.side.drawer.traps.text())
        self.assertIn("the same number elsewhere", self.side.drawer.note.text())

    def test_micrometres_wear_and_out(self):
        self.type_in("7 um film")
        self.assertEqual(self.session.shop.drawer.own[0].d50_um, 7.0)
        self.side.drawer.worn.emit("FEPA-P:P2500", 0.9)
        settle(self.window)
        self.assertEqual(self.session.drawer.wear["FEPA-P:P2500"], 0.9)
        self.side.drawer.rows["FEPA-P:P2500"][2].click()
        settle(self.window)
        self.assertNotIn("FEPA-P:P2500", self.side.drawer.rows)
        self.assertNotIn("P2500", self.grades())
        self.window.anywhere.undo()
        settle(self.window)
        self.assertIn("FEPA-P:P2500", self.side.drawer.rows)

    def test_the_block_papers_are_used_on_is_kept(self):
        box = self.side.drawer.block
        box.setCurrentIndex(box.findData("rigid"))
        box.activated.emit(box.currentIndex())
        settle(self.window)
        self.assertEqual(self.session.shop.drawer.block, "rigid")
        self.assertEqual(self.view.block.currentData(), "rigid")
        self.assertIn("rigid block", self.shown.ladder.rungs[0].backing)
        self.assertIn("gloss units", self.view.sheen.toolTip())

    def test_what_is_no_abrasive_is_told(self):
        for text, words in (("", "Type a grade"), ("P777", "not in the table"), ("9 um sponge", "no kind of abrasive"),
                            ("P800", "in the drawer already")):  # fmt: skip
            self.type_in(text)
            self.assertIn(words, self.side.drawer.note.text())
        self.assertIsNone(self.session.shop.drawer)

    def test_an_empty_drawer_and_one_abrasive(self):
        self.cured()
        for grade in [a.id for a in self.session.drawer.abrasives if a.id != "FEPA-P:P2000"]:
            self.session.log(drawer_words.without(self.session.drawer, grade))
        settle(self.window)
        self.ask(8.0, "mirror")
        self.assertIn("of texture: a paper of about", self.shown.told.detail)
        self.session.log(drawer_words.without(self.session.drawer, "FEPA-P:P2000"))
        settle(self.window)
        self.assertIn("The drawer is empty", self.shown.told.detail)

    def test_the_drawer_survives_a_restart(self):
        self.type_in("CAMI 600")
        self.window.close()
        self.window = self.open()
        self.assertIn("ANSI-CAMI:600", [a.id for a in self.session.drawer.abrasives])


class Beside(RubOutTest):
    def test_the_wheel_follows_its_numbers(self):
        self.side.turn_to("wheel")
        self.assertEqual(self.side.wheel.told.heading.text(), "14 m/s at the rim, heat medium")
        self.assertIn("Never", self.side.wheel.told.text.text())
        self.cured()
        self.side.wheel.spins["press_N"].setValue(5)
        self.side.wheel.spins["rpm"].setValue(500)
        self.assertIn("heat low", self.side.wheel.told.heading.text())
        self.assertIn("Fine", self.side.wheel.told.text.text())

    def test_paper_between_coats_and_on_wood(self):
        self.side.turn_to("paper")
        self.assertIn("Nibs and level only", self.side.paper.scuff.text())
        paper = self.side.paper
        paper.next.setCurrentIndex(paper.next.findData("dye"))
        paper.next.activated.emit(0)
        self.assertIn("Go fine: P120", paper.wood.text())
        self.assertIn("P800", paper.wood.text())

    def test_other_chemistries_are_scuffed_their_own_way(self):
        catalogue = self.session.catalogue
        found = {name: extras.chemistry(m) for name, m in catalogue.materials.items()}
        self.assertEqual(found["lacquer-sprayed"], "dissolving")
        self.assertEqual(found["waterborne"], "water")
        self.assertEqual(found["two-part-clear"], "reactive")
        self.assertEqual(found["light-cured"], "light")
        self.assertEqual(found["oil-varnish"], "layering")

    def test_panels_by_key(self):
        for key, page in (
            (Qt.Key.Key_2, "ways"),
            (Qt.Key.Key_3, "drawer"),
            (Qt.Key.Key_4, "wheel"),
            (Qt.Key.Key_5, "paper"),
        ):
            QTest.keyClick(self.view.ladder, key, Qt.KeyboardModifier.AltModifier)
            self.assertEqual(self.side.page, page)

    def test_a_satin_coat_on_top_is_never_rubbed_up(self):
        self.session.log(CoatLogged(dry_um=12, finish="lacquer-satin"), instrument="tern")
        settle(self.window)
        self.assertEqual(self.shown.told.heading, "This film is not rubbed out.")
        self.assertIn("clear gloss over it", self.shown.told.detail)
        self.assertIn("flattening agent", self.side.wheel.told.text.text())

    def test_oil_and_wax_are_neither_scuffed_nor_buffed(self):
        body = self.session.shop.racked["wren"].instrument
        added = InstrumentAdded(
            id="drum", name="Drum", instrument_kind=body.kind, measures=body.measures, material="oil-wax",
            method="oil-and-wax", sheen="matte", min_film_um=1.0,
        )  # fmt: skip
        self.session.log(added)
        self.session.log(CoatLogged(dry_um=3), instrument="drum")
        self.choose("drum", "rubout")
        self.assertIn("not scuffed", self.side.paper.scuff.text())
        self.assertIn("burnish", self.side.wheel.told.text.text())

    def test_the_picture_of_a_texture_grows_rougher(self):
        def edges(um):
            image = textures.icon(um).pixmap(textures.SIZE).toImage()
            return len({image.pixel(x, y) for x in range(image.width()) for y in range(image.height())})

        self.assertGreater(edges(35.0), edges(3.0))

    def test_the_card_says_what_the_screen_says(self):
        self.ask()
        text = html.unescape(bench_card.html(self.shown))
        for rung in self.shown.ladder.rungs:
            self.assertIn(rung.grade, text)
            self.assertIn(rung.look_for.split(":")[0][:30], text)
        for z in self.shown.zones.zones:
            self.assertIn(z.label, text)
        self.assertIn("the eye at each rung decides", " ".join(text.split()))


class See(WindowTest):
    plans = False

    def rows(self):
        return [row for row in self.window.rubout.side.see.rows if not row.isHidden()]

    def test_each_rung_has_its_pictures_and_their_words(self):
        self.choose("tern", "rubout")
        self.assertEqual(self.rows(), [])
        self.window.rubout.side.turn_to("see")
        settle(self.window)
        shown, steps = self.rows(), self.window.places.rubout.rub.ladder.steps
        names = [row.name.text() for row in shown]
        self.assertEqual(names, [s.rung.abrasive.name.replace(" um", " µm") for s in steps])
        self.assertIn("no tubes", shown[0].words.text())
        self.assertIn("three sharp tubes", shown[-1].words.text())
        first, last = (self.colours(row.pictures[1]) for row in (shown[0], shown[-1]))
        self.assertGreater(last, first)  # a mirrored lamp against a dull one
        for name, row in zip(names, shown, strict=True):
            here = [p for p in row.pictures if not p.isHidden()]
            self.assertEqual([p.accessibleName() for p in here][:2], [f"{name}, 60°", f"{name}, 20°"])
            self.assertTrue(all(p.accessibleDescription() and p.toolTip() for p in here))

    def test_the_first_paper_is_seen_on_its_way_to_level_and_under_a_loupe(self):
        self.choose("tern", "rubout")
        self.window.rubout.side.turn_to("see")
        settle(self.window)
        first, last = self.rows()[0], self.rows()[-1]
        captions = [p.caption for p in first.pictures]
        for caption in ("loupe, 2.4 mm", "75 % dull", "90 % dull", "99 % dull"):
            self.assertIn(caption, captions)
        self.assertNotIn("loupe, 2.4 mm", [p.caption for p in last.pictures if not p.isHidden()])

    def test_another_ladder_has_other_pictures_and_none_has_none(self):
        self.choose("tern", "rubout")
        self.window.rubout.side.turn_to("see")
        settle(self.window)
        box = self.window.rubout.sheen
        box.setCurrentIndex(box.findData("satin"))
        box.activated.emit(box.currentIndex())
        settle(self.window)
        steps = self.window.places.rubout.rub.ladder.steps
        self.assertEqual(len(self.rows()), len(steps))
        self.assertNotIn("three sharp tubes", self.rows()[-1].words.text())
