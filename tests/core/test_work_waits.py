"""What a bench, the air and the film have to say to the work that is next."""

import unittest

from msgspec.structs import replace

from ravden.core.ahead.outlook import outlook
from ravden.core.climate.blush import SLOW, blushes, hindered, slow_only
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import harden
from ravden.core.cure.windows import windows
from ravden.core.method.steps import WORK_KINDS, progress
from ravden.core.record import Air, Coat, Sanding, StepDone, judged_C
from ravden.core.rubout.aim import SANDED
from ravden.core.state.history import cure, film_events, thickest
from tests.core.test_methods import METHODS, NINE, bare
from tests.core.test_plan import CATALOGUE, DRAWER

LACQUER = CATALOGUE.material("lacquer-sprayed")
MASKED = (*WORK_KINDS, *SANDED, "scuff")


def waits(material, laid, temp_C=20.0, rh=0.5, bench_C=None):
    """Hours of level and case after the last coat."""
    air = [Air(at_h=0.0, temp_C=temp_C, rh=rh)]
    last = max(c.at_h for c in laid)
    model = CATALOGUE.material(material).cure
    found = harden({"": model}, laid, under=Conditions(air=air), sampling=Sampling(until_h=last + 4000))
    told = windows(found, judged_C(temp_C if bench_C is None else bench_C))
    return told.level_h - last, told.case_h - last


def daily(count, um, a_day=1, gap_h=1.5):
    return [Coat(at_h=24.0 * (i // a_day) + gap_h * (i % a_day), dry_um=um) for i in range(count)]


class TheBench(unittest.TestCase):
    def test_it_counts_in_part(self):
        table = {
            "lacquer-sprayed": (daily(9, 12, 3), ((13.4, 35.9), (9.7, 27.6), (8.1, 26.1), (7.6, 26.7))),
            "shellac-pad": (daily(10, 3), ((5.8, 18.0), (4.3, 15.0), (3.8, 16.0), (3.8, 12.8))),
            "two-part-clear": (daily(3, 20, 3, 1.0), ((1.51, 24.0), (0.81, 8.6), (0.53, 3.5), (0.44, 2.3))),
        }
        for material, (laid, rows) in table.items():
            for temp_C, (level_d, case_d) in zip((12, 20, 28, 32), rows, strict=True):
                level, case = waits(material, laid, temp_C)
                with self.subTest(material=material, temp_C=temp_C):
                    self.assertAlmostEqual(case / 24, case_d, delta=0.06)
                    if material != "two-part-clear":
                        self.assertAlmostEqual(level / 24, level_d, delta=0.06)

    def test_no_window_asks_for_more_than_a_finish_can_give(self):
        """Shellac in a workshop of forty degrees is cased all the same."""
        _, case = waits("shellac-pad", daily(10, 3), 40.0)
        self.assertAlmostEqual(case / 24, 8.7, delta=0.3)

    def test_where_nobody_told_the_air_it_is_the_benchs(self):
        made = bare(METHODS["lacquer-fine-start"])
        silent = replace(made, acts=(), instrument=replace(made.instrument, bench_C=12.0))
        told = replace(silent, acts=(Air(at_h=0.0, temp_C=12.0, rh=0.5),))
        ready = [
            outlook(p, METHODS["lacquer-fine-start"], DRAWER, 0.0, NINE, whole=False).forward.finished_h
            for p in (silent, told)
        ]
        self.assertEqual(*ready)
        self.assertEqual(silent.air, ())  # it is no reading


class TheAir(unittest.TestCase):
    def test_damp_slows_what_carries_water_and_dry_air_is_no_faster(self):
        usual, _ = waits("waterborne", daily(9, 20, 3))
        for rh, times in ((0.3, 1.0), (0.7, 1.3), (0.8, 1.6), (0.85, 1.9), (0.9, 2.2)):
            level, _ = waits("waterborne", daily(9, 20, 3), rh=rh)
            self.assertAlmostEqual(level / usual, times, delta=0.12, msg=rh)
        self.assertEqual(waits("lacquer-sprayed", daily(9, 12, 3), rh=0.85), waits("lacquer-sprayed", daily(9, 12, 3)))

    def test_what_turns_white(self):
        for temp_C, rh in ((18.0, 0.85), (20.0, 0.85), (25.0, 0.80)):
            air = Air(at_h=0.0, temp_C=temp_C, rh=rh)
            self.assertTrue(slow_only(LACQUER, air), (temp_C, rh))
            self.assertEqual(hindered(LACQUER, air), "")
        damp = Air(at_h=0.0, temp_C=20.0, rh=0.89)
        self.assertTrue(blushes(LACQUER, 20.0, 0.89, SLOW))
        self.assertEqual(hindered(LACQUER, damp), "blush")
        self.assertEqual(hindered(LACQUER, damp, "brush"), "")  # it chills half as much
        self.assertEqual(hindered(CATALOGUE.material("waterborne"), damp), "")
        self.assertEqual(hindered(LACQUER, Air(at_h=0.0, temp_C=2.0, rh=0.5)), "cold")

    def test_a_coat_is_held_to_the_first_fair_hour(self):
        method = METHODS["lacquer-fine-start"]
        made = bare(method)
        damp = [Air(at_h=0.0, temp_C=20.0, rh=0.89), Air(at_h=55.0, temp_C=20.0, rh=0.5)]
        done = [StepDone(at_h=0.1, step=s.key) for s in method.stage if s.kind in WORK_KINDS][:4]
        found = outlook(replace(made, acts=(*damp, *done)), method, DRAWER, 1.0, NINE, whole=False)
        self.assertGreaterEqual(found.forward.coats[0].at_h, 55.0)


class TheFilm(unittest.TestCase):
    def test_six_minutes_after_any_coat_of_any_method_no_work_is_too_soon(self):
        looks = 0
        for method in METHODS.values():
            acts, now = [], 0.0
            for stage in method.stage:
                if stage.zones or stage.kind != "coats":
                    at = max([a.at_h for a in acts], default=0.0) + (500.0 if stage.kind == "wait" else 1.0)
                    if stage.kind in (*SANDED, "scuff"):
                        acts.append(Sanding(at_h=at, um=stage.um or 2.0, purpose=stage.kind))
                    elif not stage.zones:
                        acts.append(StepDone(at_h=at, step=stage.key))
                    now = max([a.at_h for a in acts], default=0.0) + 0.1
                    continue
                made = bare(method)
                made = replace(made, acts=tuple(sorted((*made.acts, *acts), key=lambda a: a.at_h)))
                ahead = outlook(made, method, DRAWER, now, NINE, whole=False).forward
                acts += [c for c in ahead.coats if c.zones is None and c.finish == stage.finish][: stage.count]
                now = acts[-1].at_h + 0.1
                made = replace(made, acts=tuple(sorted((*bare(method).acts, *acts), key=lambda a: a.at_h)))
                found = outlook(made, method, DRAWER, now, NINE, whole=False)
                step = next((s for s in found.forward.steps if s.hands and method.stage[s.index].kind in MASKED), None)
                if step is None or any(c.at_h < step.from_h and c.zones is None for c in found.forward.coats):
                    continue
                looks += 1
                with self.subTest(method=method.id, after=stage.label, next=method.stage[step.index].label):
                    self.check(made, found, method.stage[step.index], step)
        self.assertGreater(looks, 18)

    def check(self, made, found, stage, step):
        zone = thickest(made, found.ledger)
        laid, cuts = film_events(made, zone, 1.0, found.now_h)
        last = laid[-1].at_h
        history = cure(made, laid, cuts, Sampling(until_h=last + 4000), light=found.forward.light)
        told = windows(history, made.instrument.judged_C)
        if told.scuff_h is not None:
            self.assertGreaterEqual(step.from_h, 0.97 * (told.scuff_h - last) + last - 0.2)
        if stage.kind == "finish":
            least = (made.layers.get(laid[-1].finish) or made.material).handle_h
            self.assertGreaterEqual(step.from_h, last + least - 1e-6)
        if stage.kind == "rub-out" and told.level_h is not None:
            self.assertGreaterEqual(step.from_h, 0.9 * (told.level_h - last) + last - 0.2)
        self.assertGreaterEqual(step.from_h, found.now_h - 1e-6)

    def test_one_more_seal_is_no_thick_coat(self):
        method = METHODS["light-cured-polyester"]
        seals = [Coat(at_h=1.0 * n, dry_um=10) for n in range(4)]
        thick = next(i for i, s in enumerate(method.stage) if s.um == 300)
        self.assertEqual(progress(method, seals, 10.0).index, thick)
        after = [*seals, Coat(at_h=8.0, dry_um=280)]
        self.assertGreater(progress(method, after, 10.0).index, thick)
