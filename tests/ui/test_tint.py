"""Colour in a coat: logged by its step, told otherwise, and shown where the film is."""

from msgspec.structs import replace

from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.plan import PlanSet
from ravden.ui.places.rubout.readiness import colour_words
from tests.ui.support import WindowTest, settle


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
