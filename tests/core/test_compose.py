"""A method made to fit one instrument: zones beside the body, colour put in, steps changed, coats fitted to the
film."""

import itertools
import unittest

from msgspec.structs import replace

from ravden.catalogue import assemble
from ravden.catalogue.method_files import check_stages, read_method_file, write_method
from ravden.core.ahead.building import ODDS_OF_THICK, ODDS_WANTED
from ravden.core.ahead.counsel import witness
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.outlook import outlook
from ravden.core.ahead.waits import waits
from ravden.core.errors import InputError
from ravden.core.method.compose import coloured, edited, moved, with_zones
from ravden.core.method.steps import Stage, ZoneFinish, left, progress
from ravden.core.record import Coat, Sanding, StepDone
from ravden.text.say import fault, whole_fault
from tests.core.test_methods import METHODS, NINE, bare
from tests.core.test_plan import CATALOGUE, DRAWER

FINE = METHODS["lacquer-fine-start"]
NECK = {"neck": "polymerising-oil"}


def with_neck(method=FINE, finishes=NECK):
    names = {z.name: z.label for z in bare(method).zones}
    return with_zones(method, finishes, assemble.ways(CATALOGUE, finishes.values()), names)


def necked(*acts):
    made = bare(FINE)
    return assemble.project(CATALOGUE, made.instrument, (*made.acts, *acts), (), NECK)


class BesideTheBody(unittest.TestCase):
    def test_the_neck_is_oiled_while_the_body_waits(self):
        method = with_neck()
        found = outlook(necked(), method, DRAWER, 0.0, NINE)
        by_label = {method.stage[s.index].label: s for s in found.forward.steps}
        oil = next(s for label, s in by_label.items() if label.endswith(": neck") and "Cure" not in label)
        self.assertGreaterEqual(oil.from_h, by_label["Build"].to_h)
        self.assertLess(oil.to_h, by_label["Cure to level"].to_h)
        neck = [c for c in found.forward.coats if c.finish]
        self.assertEqual({c.zones for c in neck}, {("neck",)})
        self.assertEqual(len(neck), METHODS["oil-neck"].coats)
        for a, b in itertools.pairwise(neck):
            self.assertGreaterEqual(b.at_h - a.at_h, 12.0)
        self.assertIn("Cure to case: neck", by_label)
        # The body's own coats keep off it, and its day does not move.
        self.assertTrue(all("neck" in c.bare for c in found.forward.coats if not c.finish))
        whole = outlook(bare(FINE), FINE, DRAWER, 0.0, NINE)
        self.assertEqual(found.forward.finished_h, whole.forward.finished_h)

    def test_each_track_counts_its_own_coats(self):
        method = with_neck()
        oil = Coat(at_h=40.0, dry_um=2.5, zones=("neck",), finish="polymerising-oil")
        body = Coat(at_h=30.0, dry_um=12)
        for acts, coats, oils in (
            ((), 0, 0),
            ((body,), 1, 0),
            ((oil,), 0, 1),
            ((body, oil), 1, 1),
            ((oil, replace(oil, at_h=70.0), body), 1, 2),
        ):
            done = progress(method, acts, 100.0)
            self.assertEqual(done.coats_done, coats)
            self.assertEqual(dict(done.zone_coats), {"polymerising-oil": oils})
            open_coats = {s.label: s.count for _, s in left(method, done) if s.kind == "coats"}
            self.assertEqual(open_coats.get("Build"), FINE.coats - coats)
            self.assertEqual(sum(n for label, n in open_coats.items() if "neck" in label),
                             METHODS["oil-neck"].coats - oils)  # fmt: skip

    def test_the_last_oil_coat_ends_its_track(self):
        method = with_neck()
        coats = METHODS["oil-neck"].coats
        acts = [Coat(at_h=10.0 + 24 * i, dry_um=2.5, zones=("neck",), finish="polymerising-oil") for i in range(coats)]
        found = outlook(necked(*acts), method, DRAWER, 200.0, NINE)
        self.assertFalse([c for c in found.forward.coats if c.finish])
        self.assertEqual(found.progress.index, 0)

    def test_oil_still_to_come_on_the_neck_is_no_coat_over_the_body(self):
        laid = [Coat(at_h=10.0 + i, dry_um=12, bare=("neck",)) for i in range(10)]
        cut = Sanding(at_h=15.5, um=3, purpose="scuff")
        acts = sorted([*laid, cut], key=lambda a: a.at_h)
        both = []
        for made, method in ((necked(*acts), with_neck()), (bare(FINE), FINE)):
            made = made if method is not FINE else replace(made, acts=(*made.acts, *acts))
            found = outlook(made, method, DRAWER, 60.0, NINE, "top")
            self.assertTrue(found.forward.before_coats)
            seen, ahead = witness(found), waits(found)
            self.assertLess(seen.odds, 1e-4)  # 48 um lie over the scuff, and some 10 are taken
            both.append((seen.layer_um, [w.name for w in ahead.waits]))
        self.assertEqual(both[0], both[1])

    def test_two_zones_of_one_finish_are_one_track(self):
        method = with_neck(finishes={"neck": "polymerising-oil", "head": "polymerising-oil"})
        mine = [s for s in method.stage if s.zones and s.kind == "coats"]
        self.assertEqual({s.zones for s in mine}, {("neck", "head")})
        self.assertEqual(with_neck(method, {"neck": "polymerising-oil", "head": "polymerising-oil"}), method)

    def test_a_satin_zone_takes_the_satin_coats_of_another_method(self):
        method = with_neck(finishes={"head": "lacquer-satin"})
        mine = [s for s in method.stage if s.zones and s.kind == "coats"]
        self.assertEqual([(s.finish, s.count) for s in mine], [("lacquer-satin", 1)])

    def test_a_method_file_may_give_zones_a_finish(self):
        self.assertEqual(METHODS["violin-varnish"].zone, (ZoneFinish(name="neck", finish="polymerising-oil"),))
        text = write_method(METHODS["violin-varnish"])
        self.assertEqual(read_method_file(text, "v.toml", CATALOGUE), METHODS["violin-varnish"])
        bad = text.replace('finish = "polymerising-oil"', 'finish = "honey"')
        with self.assertRaises(InputError) as caught:
            read_method_file(bad, "v.toml", CATALOGUE)
        line = bad.splitlines().index('finish = "honey"') + 1
        self.assertEqual(caught.exception.path, f"v.toml, line {line}")


class OverAnotherFinish(unittest.TestCase):
    def test_another_finish_can_be_planned_over_what_lies_there(self):
        method = METHODS["shellac-under-waterborne"]
        laid = tuple(Coat(at_h=h, dry_um=3, finish="shellac-pad") for h in (3.0, 5.0))
        made = bare(method)
        found = outlook(replace(made, acts=(*made.acts, *laid)), method, DRAWER, 8.0, NINE)
        self.assertIsNotNone(found.forward.finished_h)
        self.assertEqual(found.timeline.hours[0], 3.0)
        # Two wipes of shellac as told, two of waterborne: 22 um wet, .30 of it solids; what smoothing takes is off.
        rubbed = sum(s.um for s in found.forward.sandings)
        self.assertGreater(rubbed, 1.0)
        # Of an applicator nobody has measured yet the mean lays 3 % more than its likeliest.
        self.assertAlmostEqual(found.timeline.dry_um[-1], 6 + 13.2 * 1.03 - rubbed, delta=0.1)


class Colour(unittest.TestCase):
    def test_every_module_goes_into_every_method_that_colours_wood(self):
        self.assertGreaterEqual(len(CATALOGUE.modules), 6)
        put = 0
        for module, method in itertools.product(CATALOGUE.modules.values(), METHODS.values()):
            with self.subTest(module=module.id, method=method.id):
                try:
                    made = coloured(method, module)
                except InputError as error:
                    self.assertEqual(method.stage[[s.kind for s in method.stage].index("colour") - 1].kind, "scuff")
                    self.assertIn("blocks the wood", fault(error))
                    continue
                put += 1
                check_stages(made.stage, CATALOGUE)
                kinds = [s.kind for s in made.stage]
                self.assertLess(max(i for i, k in enumerate(kinds) if k == "colour"), kinds.index("coats"))
                labels = [s.label for s in made.stage]
                self.assertEqual(labels[labels.index(module.stage[0].label) :][: len(module.stage)],
                                 [s.label for s in module.stage])  # fmt: skip
                self.assertEqual(coloured(made, module).coats, method.coats)
        self.assertGreater(put, 80)

    def test_opaque_colour_comes_after_the_filler_and_dye_before(self):
        for module_id, after in (("opaque-thin", True), ("water-dye", False)):
            kinds = [s.kind for s in coloured(FINE, CATALOGUE.modules[module_id]).stage]
            self.assertEqual(kinds.index("colour") > kinds.index("pores"), after)

    def test_modules_say_what_to_do_and_against(self):
        for module in CATALOGUE.modules.values():
            self.assertTrue(module.why and module.against and module.solvent and module.basis)
            self.assertTrue(all(s.how and s.inspect and s.wrong for s in module.stage))


class Editing(unittest.TestCase):
    STEPS = FINE.stage

    def test_change_put_in_leave_out_move(self):
        new = Stage(kind="finish", label="Relieve the holes", hours=0.5)
        self.assertEqual(edited(self.STEPS, 0, new)[0], new)
        self.assertEqual(edited(self.STEPS, 2, new, insert=True)[3], new)
        self.assertEqual(edited(self.STEPS, -1, new, insert=True)[0], new)
        self.assertEqual(edited(self.STEPS, 1), (self.STEPS[0], *self.STEPS[2:]))
        self.assertEqual(moved(moved(self.STEPS, 3, 1), 4, -1), self.STEPS)
        for act in (lambda: moved(self.STEPS, 0, -1), lambda: edited(self.STEPS, 99)):
            with self.assertRaises(InputError):
                act()

    def test_colour_over_a_film_needs_a_coat_over_it(self):
        colour = Stage(kind="colour", label="Tint", hours=1.0)
        coats = next(i for i, s in enumerate(self.STEPS) if s.kind == "coats")
        with self.assertRaises(InputError) as caught:
            check_stages(edited(self.STEPS, coats, colour, insert=True), CATALOGUE)
        self.assertEqual(caught.exception.path, f"stage[{coats + 1}].kind")
        self.assertIn("no coat over it", fault(caught.exception))
        again = (*self.STEPS[: coats + 1], colour, *self.STEPS[coats:])
        check_stages(again, CATALOGUE)
        for method in METHODS.values():
            check_stages(method.stage, CATALOGUE)

    def test_a_plan_that_contradicts_itself_is_refused(self):
        coats = next(i for i, s in enumerate(self.STEPS) if s.kind == "coats")
        for steps, word in (
            (edited(self.STEPS, coats), "before any coat"),
            ((self.STEPS[0],), "no coat of its own"),
            (edited(self.STEPS, coats, replace(self.STEPS[coats], finish="honey")), "honey"),
            ((Stage(kind="coats", label="N", count=1, per_session=1, between_h=2, zones=("horn",), finish="oil-wax"),
              *self.STEPS), "horn"),
        ):  # fmt: skip
            with self.assertRaises(InputError) as caught:
                check_stages(steps, CATALOGUE, {"neck", "top"})
            self.assertIn(word, whole_fault(caught.exception))
        with self.assertRaises(InputError):
            Stage(kind="level", label="x", zones=("neck",))


class FittedCoats(unittest.TestCase):
    def test_every_method_is_fitted_within_its_greatest_film(self):
        for method in METHODS.values():
            with self.subTest(method=method.id):
                found = outlook(bare(method), method, DRAWER, 0.0, NINE, whole=False)
                fit = fitted(found)
                if found.project.instrument.min_film_um <= 0:
                    self.assertIsNone(fit)
                    continue
                mine = [s for s in fit.stage if s.kind == "coats" and not s.finish]
                own = [s.count for s in mine]
                self.assertEqual(sum(own), fit.coats)
                self.assertGreaterEqual(min(own), 1)
                project = found.project
                laid = sum(s.count * project.dry_um(project.material, s.by, s.um) for s in mine)
                self.assertLessEqual(laid, found.project.material.max_film_um)
                thick = max(project.dry_um(project.material, s.by, s.um) for s in mine)
                asked = ODDS_OF_THICK if thick >= project.instrument.min_film_um else ODDS_WANTED
                self.assertTrue(fit.capped or fit.odds >= asked, fit)
                if not fit.capped and fit.coats > len(own):
                    # One fewer would not do: it is the least number that holds.
                    fewer = fitted(
                        outlook(bare(method), replace(method, stage=fit.stage), DRAWER, 0.0, NINE, whole=False)
                    )
                    self.assertEqual(fewer.coats, fit.coats)

    def test_coats_laid_count_and_a_finished_build_asks_for_none(self):
        made = bare(FINE)
        laid = tuple(Coat(at_h=10.0 + i, dry_um=12) for i in range(6))
        some = fitted(outlook(replace(made, acts=(*made.acts, *laid)), FINE, DRAWER, 30.0, NINE))
        self.assertGreaterEqual(some.coats, 6)
        levelled = (*laid, *(Coat(at_h=20.0 + i, dry_um=12) for i in range(4)), Sanding(at_h=400.0, um=9))
        self.assertIsNone(fitted(outlook(replace(made, acts=(*made.acts, *levelled)), FINE, DRAWER, 410.0, NINE)))

    def test_more_sanding_asks_for_more_coats(self):
        deep = [replace(s, um=40.0) if s.kind == "level" else s for s in METHODS["acrylic-lacquer"].stage]
        plain = METHODS["acrylic-lacquer"]
        counts = [
            fitted(outlook(bare(plain), m, DRAWER, 0.0, NINE, whole=False)).coats
            for m in (plain, replace(plain, stage=tuple(deep)))
        ]
        self.assertGreater(counts[1], counts[0])


class WhatHappenedWins(unittest.TestCase):
    def test_a_step_put_in_before_what_is_done_changes_nothing(self):
        new = Stage(kind="prepare", label="Steam out the dents", hours=0.5)
        plan = replace(FINE, stage=edited(FINE.stage, -1, new, insert=True))
        acts = (StepDone(at_h=1.0, step="Fill the pores"), Coat(at_h=30.0, dry_um=12))
        before, after = progress(FINE, acts, 50.0), progress(plan, acts, 50.0)
        self.assertEqual(after.index, before.index + 1)
        self.assertEqual(after.coats_in_stage, before.coats_in_stage)
