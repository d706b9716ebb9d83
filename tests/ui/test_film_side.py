"""The panels beside the timeline, in the real window: trying out a coat, the plan, putting the record right."""

from datetime import timedelta

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from tests.ui.support import DRAWN, WindowTest, settle


class Side(WindowTest):
    def choose_and_fill(self, field, choice, **typed):
        card = self.window.card
        box = card.inputs[field]
        box.setCurrentIndex(box.findData(choice))
        box.activated.emit(box.currentIndex())
        self.fill(card, **typed)
        card.submit()
        settle(self.window)
        return card

    def setUp(self):
        super().setUp()
        self.choose("heron", "film")
        self.side = self.window.film.side

    def turn(self, page):
        QTest.mouseClick(self.side.buttons[page], Qt.MouseButton.LeftButton)
        settle(self.window)

    def slide(self, name, value):
        self.side.coat.sliders[name].setValue(value)
        settle(self.window)


class NextCoat(Side):
    def setUp(self):
        super().setUp()
        self.turn("coat")

    def test_it_starts_as_planned_and_safe(self):
        panel = self.side.coat
        self.assertEqual(panel.values["coats"].text(), "3 coats")
        self.assertEqual(panel.values["mix"].text(), "20 %")
        self.assertIn("Safe, upright and flat", panel.verdict.text())
        self.assertIn("12 µm dry a coat", panel.detail.text())
        self.assertGreater(self.colours(panel.bar), 8)

    def test_the_picture_and_the_outcome_follow_the_sliders(self):
        planned = self.window.film.timeline.shown.planned_coats_h
        before = self.side.coat.outcome.text()
        self.slide("coats", 6)
        self.assertEqual(len(self.window.film.timeline.shown.planned_coats_h), 6)
        self.assertNotEqual(self.side.coat.outcome.text(), before)
        self.assertEqual(len(self.window.places.film.shown.planned_coats_h), 3)
        film = self.window.film.timeline.shown.timeline.dry_um[-1]
        self.slide("amount", 100)
        self.assertGreater(self.window.film.timeline.shown.timeline.dry_um[-1], film + 20)
        self.side.coat.as_planned.click()
        settle(self.window)
        self.assertEqual(self.window.film.timeline.shown.planned_coats_h, planned)

    def test_turning_away_shows_the_plan_again(self):
        self.slide("coats", 9)
        self.turn("zones")
        self.assertEqual(len(self.window.film.timeline.shown.planned_coats_h), 3)

    def test_too_heavy_too_light_and_flat_only(self):
        verdict = self.side.coat.verdict
        for place, said in ((190, "Too heavy"), (20, "Too light"), (110, "Safe lying flat only")):
            self.slide("amount", place)
            self.assertIn(said, verdict.text())
        self.assertEqual(verdict.property("tone"), "plain")

    def test_damp_air_is_told_before_spraying(self):
        self.session.log(AirLogged(temp_C=30, rh=0.85))
        settle(self.window)
        self.assertIn("No safe coat in this air", self.side.coat.verdict.text())
        self.assertIn("drier air", self.side.coat.verdict.text())
        self.assertEqual(self.side.coat.verdict.property("tone"), "warn")

    def test_such_a_coat_is_logged_with_how_it_was_laid(self):
        self.slide("amount", 60)
        self.assertEqual(self.side.coat.lay.text(), "Log a coat of 60 µm")
        self.side.coat.lay.click()
        settle(self.window)
        body = self.session.entries[-1].body
        self.assertEqual(body.how, "60 µm wet, thinned 20 %")
        self.assertAlmostEqual(body.dry_um, 60 * 0.1804, delta=0.1)
        self.assertEqual(self.coats("heron"), 8)
        self.assertEqual(self.side.coat.values["coats"].text(), "2 coats")
        self.assertEqual(self.side.coat.values["amount"].text(), "60 µm")

    def test_a_pad_has_its_own_sliders(self):
        self.choose("wren", "film")
        panel = self.side.coat
        self.assertEqual((panel.labels["amount"].text(), panel.labels["mix"].text()), ("Taken up, a session", "Cut"))
        self.assertTrue(panel.bar.isHidden())
        self.slide("amount", 190)
        self.assertIn("Too much for one session", panel.verdict.text())

    def test_where_the_build_is_over_more_coats_can_be_tried(self):
        self.choose("tern", "film")
        self.assertEqual(self.side.coat.values["coats"].text(), "0 coats")
        self.slide("coats", 2)
        shown = self.window.film.timeline.shown
        self.assertEqual(len(shown.planned_coats_h), 2)
        self.assertTrue(all(h >= shown.now_h for h in shown.planned_coats_h))

    def test_sliders_answer_to_the_keyboard(self):
        slider = self.side.coat.sliders["coats"]
        slider.setFocus()
        QTest.keyClick(slider, Qt.Key.Key_Right)
        settle(self.window)
        self.assertEqual(self.side.coat.values["coats"].text(), "4 coats")


class Plan(Side):
    def test_coats_material_and_pores_are_told(self):
        self.turn("plan")
        found = self.window.places.film.found
        panel = self.side.plan
        coats = found.counsel.coats
        self.assertEqual(coats.zone, "sides")
        # The plan and the rub-out give one figure for one question.
        self.assertAlmostEqual(1.0 - coats.odds_planned, found.rub_out.ladder.odds["Sides"], delta=0.003)
        self.assertIn(f"{100 * min(coats.odds_planned, 0.99):.0f} % odds of 50 µm everywhere", panel.lines[0].text())
        self.assertIn("ml of thinner", panel.lines[1].text())
        sink = found.counsel.sinks[0].by_filling["unfilled"]
        self.assertEqual(panel.cells[1][3].text(), f"{sink:.1f}")
        self.assertLess(float(panel.cells[1][1].text()), float(panel.cells[1][2].text()))
        self.assertLess(float(panel.cells[3][3].text()), float(panel.cells[1][3].text()))

    def test_too_much_film_is_said(self):
        self.session.log(CoatLogged(dry_um=12, count=9), instrument="heron")
        self.turn("plan")
        said = " ".join(label.text() for label in self.side.plan.lines)
        self.assertIn("That is too much", said)

    def test_shortcuts_turn_the_panels(self):
        self.key(Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.side.page, "plan")
        self.key(Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.side.page, "zones")


class Log(Side):
    def setUp(self):
        super().setUp()
        self.turn("log")
        self.list = self.side.log.list

    def choose_row(self, row):
        self.list.setCurrentRow(row)
        return self.side.log.chosen

    def test_every_entry_says_what_it_did(self):
        self.assertEqual(self.list.count(), 9)
        self.assertIn("coat 7", self.list.item(0).text())
        self.assertRegex(self.list.item(0).text(), r"\+1\d, now \d+ \(±[\d.]+ → ±[\d.]+ µm\)")
        self.assertIn("scuff P400", self.list.item(1).text())

    def test_a_coat_is_corrected_and_the_record_keeps_both(self):
        before = self.window.places.film.found.zones[0].film.mean_um
        number = self.choose_row(0)
        self.side.log.correct.click()
        card = self.window.card
        self.assertTrue(card.heading.text().startswith("Correct: Coat 7 on Heron"))
        self.assertEqual(card.inputs["dry_um"].text(), "12")
        self.fill(card, dry_um="24")
        card.submit()
        settle(self.window)
        self.assertGreater(self.window.places.film.found.zones[0].film.mean_um, before + 8)
        self.assertEqual(self.coats("heron"), 7)
        self.assertEqual(self.session.entries[-1].corrects, number)
        self.assertEqual(self.session.entry(number).body.dry_um, 12)
        self.window.anywhere.undo()
        settle(self.window)
        self.assertAlmostEqual(self.window.places.film.found.zones[0].film.mean_um, before, delta=1e-6)
        self.window.anywhere.redo()
        settle(self.window)
        self.assertGreater(self.window.places.film.found.zones[0].film.mean_um, before + 8)

    def test_a_correction_that_cannot_be_changes_nothing(self):
        self.choose_row(0)
        self.side.log.correct.click()
        count = len(self.session.entries)
        self.fill(self.window.card, dry_um="-3")
        self.window.card.submit()
        self.assertIn("greater than 0", self.window.card.faults["dry_um"].text())
        self.assertEqual(len(self.session.entries), count)

    def test_any_entry_is_taken_back(self):
        self.choose_row(3)
        QTest.keyClick(self.list, Qt.Key.Key_Delete)
        settle(self.window)
        self.assertEqual(self.coats("heron"), 6)
        self.assertEqual(self.list.count(), 8)
        self.assertIn("Taken back", self.window.notice.text.text())

    def test_a_reading_against_the_rest_is_kept_and_marked(self):
        for um in (85, 260):
            self.session.log(ReadingLogged(zone="top", um=um, n=3), instrument="heron")
            settle(self.window)
        self.assertIn("Check it", self.list.item(0).text())
        self.assertNotIn("Check it", self.list.item(1).text())
        self.assertLess(self.window.places.film.found.zones[0].film.mean_um, 110)
        self.assertIn("the rest says about", self.list.item(0).text())


class Readings(Side):
    def read(self, what, **typed):
        self.key(Qt.Key.Key_R)
        return self.choose_and_fill("what", what, **typed)

    def sd(self, zone="top"):
        return next(z.film.sd_um for z in self.window.places.film.found.zones if z.name == zone)

    def test_every_kind_narrows_the_film(self):
        for what, typed in (
            ("comb", {"zone": "top", "um": "50", "high_um": "75"}), ("volume", {"ml": "40"}),
            ("card", {"g": "1.1"}), ("micrometer", {"um": "90"}),
        ):  # fmt: skip
            before = self.sd()
            card = self.read(what, **typed)
            self.assertTrue(card.isHidden(), card.fault.text())
            self.assertEqual(self.session.entries[-1].body.what, what)
            if what != "micrometer":  # it comes last, and a card on the scale has said the same better
                self.assertLess(self.sd(), before)

    def test_what_cannot_be_is_refused_beside_its_field(self):
        count = len(self.session.entries)
        card = self.read("comb", zone="top", um="75", high_um="50")
        self.assertIn("teeth are reversed", card.faults["high_um"].text())
        self.window.card.hide()
        card = self.read("card", g="-0.4")
        self.assertIn("gains weight", card.faults["g"].text())
        self.assertEqual(len(self.session.entries), count)

    def test_a_spot_seen_through(self):
        before = next(z.film.mean_um for z in self.window.places.film.found.zones if z.name == "edges")
        top = self.window.places.film.found.zones[0].film.mean_um
        self.read("through", zone="edges", spot="spot")
        found = self.window.places.film.found
        after = next(z.film.mean_um for z in found.zones if z.name == "edges")
        self.assertAlmostEqual(after, before, delta=0.01)  # a block's rim did it: the edge is no thinner for it
        self.assertEqual(found.ledger.thin_spots, ("edges",))
        self.assertAlmostEqual(found.zones[0].film.mean_um, top, delta=0.01)
        self.read("through", zone="edges", spot="whole")
        self.assertLess(next(z.film.mean_um for z in self.window.places.film.found.zones if z.name == "edges"), 1)

    def test_a_reading_is_kept_where_it_was_taken_on_the_outline(self):
        outline = self.side.zones.outline
        top = next(path for name, path in outline.areas if name == "top")
        spot = top.boundingRect().center()
        QTest.mouseClick(outline, Qt.MouseButton.LeftButton, pos=spot.toPoint())
        settle(self.window)
        self.key(Qt.Key.Key_R)
        self.fill(self.window.card, um="90")
        self.window.card.submit()
        settle(self.window)
        place = self.session.entries[-1].body.place
        self.assertAlmostEqual(place[1], 0, delta=6)
        self.assertTrue(100 < place[0] < 280, place)
        self.assertEqual(self.window.places.film.shown.places[-1][:2], place)

    def test_odds_on_the_outline(self):
        film = self.side.zones.outline.grab().toImage()
        self.side.zones.odds.click()
        self.assertNotEqual(self.side.zones.outline.grab().toImage(), film)


class Coats(Side):
    def lay(self, by, **typed):
        self.clock.turn(hours=4)  # what was laid before is dry for the next
        self.window.anywhere.ask("coat")
        card = self.choose_and_fill("by", by, **typed)
        self.assertTrue(card.isHidden(), card.fault.text() + str([f.text() for f in card.faults.values()]))
        return self.session.entries[-1].body

    def test_by_gun_wet_film_volume_and_can(self):
        self.assertAlmostEqual(self.lay("gun", passes="2").dry_um, 65 * 0.17 / 1.2, delta=0.01)
        self.assertAlmostEqual(self.lay("wet", wet_um="60").dry_um, 10.8, delta=0.1)
        self.assertIn("40 ml used", self.lay("volume", ml="40").how)
        self.assertIn("from a can", self.lay("can", grams="60").how)

    def test_nine_or_ten(self):
        body = self.lay("dry", count="2 or 3")
        self.assertEqual(body.count_odds, ((2, 0.5), (3, 0.5)))
        self.assertIn("2 or 3 coats", self.window.notice.text.text().lower())
        self.turn("log")
        self.assertIn("2 or 3 coats", self.side.log.list.item(0).text())

    def test_one_zone_alone(self):
        before = {z.name: z.film.mean_um for z in self.window.places.film.found.zones}
        self.lay("dry", on="edges")
        after = {z.name: z.film.mean_um for z in self.window.places.film.found.zones}
        self.assertGreater(after["edges"], before["edges"] + 4)
        self.assertAlmostEqual(after["top"], before["top"], delta=1e-6)


class Zones(Side):
    def set_zones(self, **typed):
        self.key(Qt.Key.Key_M)
        self.fill(self.window.card, **typed)
        self.window.card.submit()
        settle(self.window)

    def film(self):
        return {z.name: z.film.mean_um for z in self.window.places.film.found.zones}

    def test_a_masked_zone_gets_no_more_film(self):
        self.set_zones(neck="masked")
        before = self.film()
        self.clock.turn(hours=2)
        self.window.anywhere.log_coat()
        settle(self.window)
        after = self.film()
        self.assertAlmostEqual(after["neck"], before["neck"], delta=1e-6)
        self.assertGreater(after["top"], before["top"] + 8)
        planned = self.window.places.film.found.forward.coats
        self.assertTrue(all("neck" in c.bare for c in planned))

    def test_a_zone_in_another_finish_has_its_own_coats(self):
        self.set_zones(neck="shellac-pad")
        before = self.film()
        self.clock.turn(hours=2)
        self.window.anywhere.ask("coat")
        self.fill(self.window.card, on="finish:shellac-pad", dry_um="4")
        self.window.card.submit()
        settle(self.window)
        self.assertEqual(self.session.entries[-1].body.finish, "shellac-pad")
        after = self.film()
        self.assertAlmostEqual(after["neck"] - before["neck"], 4 * 0.85, delta=0.5)
        self.assertAlmostEqual(after["top"], before["top"], delta=1e-6)
        self.assertEqual(self.window.places.film.found.progress.coats_done, 7)

    def test_masking_everything_leaves_nothing_to_coat(self):
        names = [z.name for z in self.session.rack.project.zones]
        self.set_zones(**dict.fromkeys(names, "masked"))
        self.key(Qt.Key.Key_C)
        self.assertIn("every zone is masked", self.window.notice.text.text().lower())


class Waiting(Side):
    def setUp(self):
        super().setUp()
        self.turn("waits")

    def test_every_window_with_its_range_reason_and_help(self):
        panel = self.side.waits
        rows = {c[0].text(): (c[1].text(), c[2].text()) for c in panel.cells if c[0].text()}
        self.assertEqual(list(rows), ["Next pass", "As planned", "Next coat", "Scuff", "Level sand", "Buff", "Case"])
        self.assertIn("s after the last", rows["Next pass"][0])
        self.assertEqual(rows["As planned"], ("today 15:15", "by habit 3 coats a session, 1.5 h apart"))
        self.assertEqual(rows["Next coat"][0], "now")
        self.assertRegex(rows["Level sand"][0], r"^likely ready .* \(nine in ten by ")
        self.assertIn("after what is planned: likely ready", rows["Level sand"][1])
        self.assertRegex(rows["Level sand"][1], r"softest depth (wet|soft)")
        self.assertIn("−25 K is wanted", next(c[2].toolTip() for c in panel.cells if c[0].text() == "Next coat"))
        self.assertIn("5 % allowed", rows["Buff"][1])
        said = " ".join(line.text() for line in panel.lines)
        for words in ("needs no scuff", "% solvent there", "heaviest session", "would come sooner", "warmer"):
            self.assertIn(words, said)
        self.assertIn(f"from {DRAWN} samples", panel.note.text())

    def test_warmth_brings_it_forward_as_it_said(self):
        from ravden.core.ahead.waits import waits

        found = self.window.places.film.found
        told = next(x for x in waits(found).levers if x.what == "warmer")
        self.session.log(AirLogged(temp_C=26))
        settle(self.window)
        later = {w.name: w.likely_h for w in waits(self.window.places.film.found).waits}
        before = {w.name: w.likely_h for w in waits(found).waits}
        self.assertAlmostEqual(before[told.window] - later[told.window], told.gained_h, delta=0.1 * told.gained_h + 1)

    def test_the_witness_card_is_fitted_and_taken_over_only_when_asked(self):
        self.choose("tern", "film")
        QTest.mouseClick(self.side.waits.card, Qt.MouseButton.LeftButton)
        settle(self.window)
        panel = self.side.witness
        said = " ".join(line.text() for line in panel.lines)
        self.assertIn("4 weighings", said)
        self.assertIn("slower than assumed", said)
        before = {w.name: w.likely_h for w in self.window.places.film.found.windows}
        panel.take.click()
        settle(self.window)
        self.assertIn("This rate is in use.", " ".join(line.text() for line in panel.lines))
        after = {w.name: w.likely_h for w in self.window.places.film.found.windows}
        self.assertGreater(after["buff"], before["buff"])
        self.assertFalse(panel.take.isEnabled())
        self.window.anywhere.undo()
        settle(self.window)
        self.assertAlmostEqual(
            {w.name: w.likely_h for w in self.window.places.film.found.windows}["buff"], before["buff"]
        )

    def test_without_a_card_it_says_what_to_do(self):
        QTest.mouseClick(self.side.waits.card, Qt.MouseButton.LeftButton)
        settle(self.window)
        self.assertIn("Weigh the witness card", self.side.witness.lines[0].text())
        self.assertFalse(self.side.witness.take.isEnabled())
        self.key(Qt.Key.Key_R)
        box = self.window.card.inputs["what"]
        box.setCurrentIndex(box.findData("nail-dents"))
        box.activated.emit(box.currentIndex())
        self.window.card.submit()
        settle(self.window)
        self.assertIn("1 observation", self.side.witness.lines[0].text())


class OtherFinishes(WindowTest):
    plans = False

    def add(self, method, kind="parlour-guitar", coats=((0.01, None),)):
        from ravden.catalogue.assemble import measures_of
        from ravden.journal.kinds.instrument import InstrumentAdded
        from tests.ui.support import NOW

        found = self.session.catalogue
        material = found.material(found.method(method).material)
        body = InstrumentAdded(
            id="new", name="New", instrument_kind=kind, measures=measures_of(found.kind(kind)), material=material.id,
            method=method, sheen="gloss", min_film_um=material.min_film_um,
        )  # fmt: skip
        self.session.log(body, instrument="new", at=NOW - timedelta(days=20))
        for days, um in coats:
            self.session.log(
                CoatLogged(dry_um=um or material.coat_dry_um), instrument="new", at=NOW - timedelta(days=days)
            )
        self.choose("new", "film")
        self.window.film.side.turn_to("waits")
        settle(self.window)
        return self.window.film.side.waits

    def said(self, panel):
        return " ".join(line.text() for line in panel.lines)

    def test_every_chemistry_is_shown_in_every_place(self):
        tables = self.session.catalogue
        methods = {type(tables.material(m.material).cure): m.id for m in tables.methods.values()}
        self.assertGreaterEqual(len(methods), 5)
        for method in methods.values():
            with self.subTest(method=method):
                self.add(method, coats=((2.0, None), (1.0, None)))
                for page in ("zones", "coat", "waits", "plan", "log"):
                    self.window.film.side.turn_to(page)
                    settle(self.window)
                for place in ("rack", "rubout", "shop", "film"):
                    self.window.turn_to(place)
                    settle(self.window)
                self.assertEqual(self.window.places.film.found.progress.coats_done, 2)
            while "new" in self.session.shop.racked:
                self.session.undo()
            settle(self.window)

    def test_a_full_session_waits_for_the_morning(self):
        panel = self.add("lacquer-fine-start", coats=((0.2, None), (0.15, None), (0.1, None)))
        rows = {c[0].text(): c[2].text() for c in panel.cells}
        self.assertEqual(rows["As planned"], "this session is full; by habit 3 coats a session, 1.5 h apart")
        self.assertIn("top ", rows["Next coat"])

    def test_a_coat_past_its_recoat_window_is_scuffed_for_first(self):
        self.add("waterborne-sprayed", coats=((4.0, None),))
        self.assertIn("Scuff before the next coat: now", self.window.film.told.heading.text())
        self.window.turn_to("booth")
        settle(self.window)
        self.assertTrue(any("before it a scuff" in row.text() for row in self.window.booth.before.rows))
        self.window.turn_to("film")
        self.session.log(SandingLogged(um=1, purpose="scuff"), instrument="new")
        settle(self.window)
        self.assertIn("Coat 2 of", self.window.film.told.heading.text())

    def test_a_month_without_a_reading_is_told(self):
        from ravden.journal.kinds.air import AirSeries

        log = AirSeries(source="log", hours=(0.0, 1.0), temp_C=(20.0, 20.0), rh=(0.5, 0.5))
        self.session.log(log, at=self.clock.now() - timedelta(days=30))
        panel = self.add("lacquer-fine-start", coats=((12.0, None),))
        self.assertEqual(self.session.shop.air.told[-1][3], "told")
        for entry in [e for e in self.session.entries if isinstance(e.body, AirLogged)]:
            self.session.take_back(entry.id)
        settle(self.window)
        self.assertIn("Nobody knows the air of 12 days", self.said(panel))

    def test_pot_life_and_rest_before_light_are_told(self):
        self.assertIn("In a shallow cup the mix lasts", self.said(self.add("two-part-clear")))
        while "new" in self.session.shop.racked:
            self.session.undo()
        settle(self.window)
        self.assertIn("let it level and lose vapour for 55 min", self.said(self.add("light-cured-polyester")))

    def test_oil_and_wax_are_offered_no_sanding(self):
        panel = self.add("oil-and-wax")
        self.assertIn("wipe off what is left after 15 min", self.said(panel))
        labels = {c[0].text() for c in panel.cells if not c[0].isHidden()}
        self.assertFalse({"Scuff", "Level sand", "Buff"} & labels)

    def test_light_is_logged_and_dim_zones_are_named(self):
        panel = self.add("light-cured-polyester", coats=((1.0, 70.0), (0.98, 70.0), (0.96, 70.0)))
        self.assertIn("Not cured to the wood yet", self.said(panel))
        self.assertIn("Light, face by face: now", self.window.film.told.heading.text())
        self.key(Qt.Key.Key_L)
        self.fill(self.window.card, source="sun", strength="6", minutes="0")
        self.window.card.submit()
        self.assertIn("greater than 0", self.window.card.faults["minutes"].text())
        self.fill(self.window.card, minutes="30")
        self.window.card.submit()
        settle(self.window)
        self.assertNotIn("Not cured", self.said(panel))
        self.assertEqual(self.session.entries[-1].body.dose_mJ_cm2, 6 * 30 * 60)
        self.assertIn(("Level sand", "now"), [(c[0].text(), c[1].text()) for c in panel.cells])

    def test_light_on_lacquer_is_refused(self):
        self.choose("heron", "film")
        self.key(Qt.Key.Key_L)
        self.window.card.submit()
        self.assertIn("not cured by light", self.window.card.fault.text())

    def test_a_two_part_clear_tells_the_last_moment_without_a_scuff(self):
        self.assertIn("holds without a scuff until", self.said(self.add("two-part-clear", coats=((0.05, None),))))
        self.session.undo()
        self.session.log(CoatLogged(dry_um=30), instrument="new", at=self.clock.now() - timedelta(days=3))
        settle(self.window)
        self.assertIn("needs a scuff first", self.said(self.window.film.side.waits))

    def test_a_varnish_covered_too_soon_is_told(self):
        self.assertIn(
            "Coat 2 went on 4.8 h after the last; it wanted",
            self.said(self.add("varnish-brushed", coats=((2.0, 30.0), (1.8, 30.0)))),
        )

    def test_a_wet_waterborne_coat_opens_nothing(self):
        self.session.log(AirLogged(temp_C=18, rh=0.98))
        panel = self.add("waterborne-sprayed", coats=((0.005, None),))
        self.assertIn("water of 1 coat has not left", self.said(panel))
        self.assertNotIn("now", [cells[1].text() for cells in panel.cells])

    def test_a_layer_of_another_finish_lies_on_the_same_zones(self):
        self.choose("heron", "film")
        self.clock.turn(hours=3)
        self.window.anywhere.ask("coat")
        self.fill(self.window.card, on="finish:shellac-pad", dry_um="3")
        self.window.card.submit()
        settle(self.window)
        found = self.window.places.film.found
        self.assertEqual(len(found.past.found.groups), 2)
        self.assertIn("shellac-pad", found.ledger.others)


class NeckAlone(WindowTest):
    """A neck refinished for itself: it has a back and a head, and no body."""

    plans = False

    def test_it_goes_on_the_rack_is_coated_and_has_a_plan(self):
        self.window.anywhere.add_instrument()
        page = self.window.page
        kind = page.inputs["kind"]
        kind.setCurrentIndex(kind.findData("neck"))
        shown = [n for n in ("length_mm", "lower_mm", "waist_mm", "neck_length_mm") if not page.inputs[n].isHidden()]
        self.assertEqual(shown, ["neck_length_mm"])
        self.assertEqual(page.areas.text(), "Back of the neck 280 cm², head 330 cm².")
        self.assertEqual([name for name, _ in self.painted(page.outline)], ["neck", "head"])
        page.inputs["name"].setText("Twite")
        page.inputs["neck_length_mm"].setText("20")
        page.submit()
        self.assertIn("between 50 and 1500", page.faults["neck_length_mm"].text())
        page.inputs["neck_length_mm"].setText("330")
        page.submit()
        settle(self.window)
        self.session.log(CoatLogged(dry_um=12), instrument="twite")
        self.choose("twite", "film")
        picture = self.window.film.side.zones.outline
        neck, head = (path for _, path in self.painted(picture))
        QTest.mouseClick(picture, Qt.MouseButton.LeftButton, pos=head.boundingRect().center().toPoint())
        self.assertEqual(self.window.places.all["film"].zone, "head")
        self.assertFalse(neck.intersects(head.translated(0, -2)))

    def painted(self, picture):
        picture.grab()
        return picture.areas
