"""Colour in a coat: logged by its step, told otherwise, and shown where the film is."""

from msgspec.structs import replace

from ravden.app import reading_forms
from ravden.core.errors import InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.plan import PlanSet
from ravden.ui.places.rubout.readiness import colour_words
from tests.ui.support import NOW, WindowTest, settle


class Tint(WindowTest):
    plans = False
    there = ("heron",)

    def setUp(self):
        super().setUp()
        rack = self.session.shop.racked["heron"]
        stages = []
        for stage in rack.method.stage:
            if stage.kind == "coats" and not stage.finish and not stage.zones:
                tint = replace(stage, label="Shade the edges", count=2, um=6.0, tinted="clear")
                stages += [replace(stage, count=8), tint, replace(stage, label="Clear over it", count=5)]
            else:
                stages.append(stage)
        self.session.log(PlanSet(method=rack.instrument.method, stage=tuple(stages)), instrument="heron")
        settle(self.window)

    def coats(self):
        return [(c.dry_um, c.tinted) for c in self.session.shop.racked["heron"].project.coats][-4:]

    def test_a_coat_has_what_its_step_has_and_what_is_told(self):
        for hours in (2, 24, 24):
            self.clock.turn(hours=hours)
            self.session.log_usual_coat("test")
        self.assertEqual(self.coats()[-2:], [(6.0, "clear"), (6.0, "clear")])
        self.clock.turn(hours=24)
        self.session.log(CoatLogged(dry_um=12.0, tinted="opaque"), instrument="heron")
        self.clock.turn(hours=24)
        self.session.log(CoatLogged(dry_um=12.0, tinted="none"), instrument="heron")
        self.assertEqual(self.coats()[-2:], [(12.0, "opaque"), (12.0, "")])
        self.window.turn_to("film")
        settle(self.window)
        lines = [text for _, text in self.window.film.section.shown.lines]
        self.assertIn("colour up to here", lines)
        said = colour_words(self.session, self.window.places.found["heron"].rub_out)
        self.assertRegex(said, r"Clear over the colour: about \d+ µm on the .*; this ladder takes \d+ µm\.")
        self.window = self.open()
        self.assertEqual(self.coats()[-2:], [(12.0, "opaque"), (12.0, "")])

    def mishap(self):
        return self.session.shop.racked["heron"].acts[-1]

    def test_a_sand_through_shows_colour_first_and_wood_if_one_says_so(self):
        for hours in (2, 24, 24, 24):
            self.clock.turn(hours=hours)
            self.session.log_usual_coat("test")
        self.session.select("heron", "test")
        settle(self.window)
        self.window.something_wrong()
        page = self.window.repairs.view
        page.noting.zone.setCurrentIndex(page.noting.zone.findData("top"))
        page.noting.buttons["sand-through"].click()
        settle(self.window)
        self.assertTrue(self.mishap().colour)
        box = page.fields["colour"]
        self.assertEqual(box.currentText(), "colour")
        box.setCurrentIndex(box.findData("wood"))
        box.activated.emit(box.currentIndex())
        settle(self.window)
        self.assertFalse(self.mishap().colour)
        self.window = self.open()
        self.assertFalse(self.mishap().colour)

    def test_a_meter_s_form_asks_what_shows_where_there_is_colour(self):
        form = reading_forms.fields(self.session.catalogue, self.rack.project, self.session.units, "top", "through")
        self.assertNotIn("colour", [f.name for f in form])
        for hours in (2, 24, 24):
            self.clock.turn(hours=hours)
            self.session.log_usual_coat("test")
        form = reading_forms.fields(self.session.catalogue, self.rack.project, self.session.units, "top", "through")
        typed = {f.name: f.value for f in form}
        self.assertEqual(typed["colour"], "colour")
        body = reading_forms.read(self.session.catalogue, self.rack.project, typed, self.session.units)
        self.session.log(body, instrument="heron")
        self.assertTrue(self.mishap().colour)
        with self.assertRaisesRegex(InputError, "what showed was wood"):
            self.session.log(replace(body, zone="top"), instrument="heron", at=NOW)

    @property
    def rack(self):
        return self.session.shop.racked["heron"]
