"""An instrument dated by the shop's plan: one plan for its film, its dates and the hands."""

import unittest

from ravden.core.ahead.outlook import outlook, redated
from ravden.core.ahead.whatif import WhatIf, forward_with
from ravden.core.record import Coat
from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.hold import held_of, kept_to, opens_min, same
from ravden.core.schedule.jobs import Wall, left_of
from ravden.core.schedule.shop import shop_of
from tests.core.test_jobs import DRAWER, EVENINGS, NINE, made

SOME = ("lacquer-fine-start", "light-cured-polyester", "oil-wiped", "varnish-brushed", "waterborne-sprayed")


def beside(method_id, hours):
    """A method in a shop whose hands are on another instrument first: outlook, what is left, where the plan has it."""
    first, (found, left) = made("lacquer-flow-coat", hours=hours), made(method_id, hours=hours)
    wall = Wall(hours=hours, today=0)
    plan = dispatch(shop_of((first[1], left), hours, 0, 9 * 60), [0, 1]).plan
    placed = tuple(plan.placed[1, k] for k in range(len(left.job.steps)))
    return found, left, placed, wall


class Held(unittest.TestCase):
    def test_its_coats_and_work_are_where_the_plan_has_hands(self):
        for hours, names in ((NINE, SOME), (EVENINGS, SOME[:2])):
            for name in names:
                with self.subTest(name):
                    found, left, placed, wall = beside(name, hours)
                    held = held_of(left, placed, wall)
                    again = redated(found, held)
                    self.assertTrue(kept_to(again))
                    self.assertFalse(same(found.held, held))
                    self.assertTrue(same(again.held, held))
                    planned = [wall.hour(m) for s, p in zip(left.job.steps, placed, strict=True) for m in p.starts_min
                               if s.sprayed]  # fmt: skip
                    laid = [c.at_h for c in again.forward.coats]
                    for at in planned:
                        self.assertTrue(any(abs(at - h) < 0.01 for h in laid), (at, laid))
                    self.assertGreater(again.forward.finished_h, found.forward.finished_h - 24)

    def test_dated_anew_it_is_what_it_would_be_from_the_beginning(self):
        found, left, placed, wall = beside("waterborne-sprayed", NINE)
        held = held_of(left, placed, wall)
        whole = outlook(found.project, found.method, DRAWER, found.now_h, NINE, held=held)
        again = redated(found, held)
        self.assertEqual(again.forward, whole.forward)
        self.assertEqual(again.rub_out.ladder, whole.rub_out.ladder)
        self.assertEqual(again.timeline.film_um.tolist(), whole.timeline.film_um.tolist())

    def test_a_plan_that_is_too_soon_for_the_film_gives_way(self):
        found, left, placed, wall = beside("lacquer-fine-start", NINE)
        soon = {name: (h / 4, h / 4 + b - h) for name, (h, b) in held_of(left, placed, wall).items()}
        again = redated(found, soon)
        self.assertFalse(kept_to(again))
        own = [w.likely_h for w in found.forward.windows]
        gap = own[0] - max(c.at_h for c in found.forward.coats)
        laid = [c.at_h for c in again.forward.coats]
        self.assertAlmostEqual(again.forward.windows[0].likely_h - max(laid), gap, delta=0.1 * gap)

    def test_what_could_be_done_sooner_says_so(self):
        found, _ = made("lacquer-fine-start", (Coat(at_h=0.0, dry_um=12), Coat(at_h=2.0, dry_um=12)), now_h=30.0)
        wall = Wall(hours=NINE, today=1)
        left = left_of(found, wall)
        first = left.job.steps[0]
        at = wall.hour(2 * 1440 + 600)
        held = {f"Build#{left.what[0].nth + n}": (at + 2.5 * n, at + 2.5 * n + 0.4) for n in range(first.coats)}
        coats = next(s for s in redated(found, held).forward.steps if s.hands)
        self.assertAlmostEqual(coats.from_h, at)
        self.assertLess(coats.free_h, at - 12)
        self.assertEqual(forward_with(redated(found, held), WhatIf(coats=2)).coats[0].at_h, coats.from_h)

    def test_the_films_own_waits_run_from_its_last_coat(self):
        _, left, placed, _ = beside("lacquer-fine-start", NINE)
        opens = opens_min(left, placed)
        later = tuple(
            type(p)(who=p.who, starts_min=tuple(m + 5 * 1440 * (left.what[k].kind != "coats") for m in p.starts_min))
            for k, p in enumerate(placed)
        )
        case = next(k for k, w in enumerate(left.what) if w.kind == "case")
        self.assertTrue(left.job.steps[left.job.steps[case].after].sprayed)
        self.assertLess(opens_min(left, later)[case] - opens[case], 5 * 1440)
