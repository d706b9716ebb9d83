"""Whole plans as a trade would accept them: fitted to the least film at 20 C and 50 %, worked eight to eight."""

import unittest
from dataclasses import replace

from ravden.catalogue import assemble
from ravden.core.plan.fit import fitted
from ravden.core.plan.hours import WorkHours
from ravden.core.plan.outlook import outlook
from ravden.core.record import Air, Instrument
from tests import practice
from tests.core.test_methods import METHODS
from tests.core.test_plan import CATALOGUE, DRAWER

FROM_NINE = WorkHours(hour_at_zero=9.0)


def planned(instrument, method, sheen, ground="close-grain"):
    """The outlook of an instrument from nothing, its coats fitted."""
    kind, steps = CATALOGUE.kind(instrument), METHODS[method]
    material = CATALOGUE.material(steps.material)
    item = Instrument(
        id="x", name="Plover", kind=instrument, measures=assemble.measures_of(kind), ground=ground, sheen=sheen,
        material=material.id, method=method, min_film_um=steps.least_um(material),
    )  # fmt: skip
    made = assemble.project(CATALOGUE, item, (Air(at_h=0.0, temp_C=20.0, rh=0.5),))
    found = outlook(made, steps, DRAWER, 0.0, FROM_NINE)
    fit = fitted(found)
    return found if fit is None else outlook(made, replace(steps, stage=fit.stage), DRAWER, 0.0, FROM_NINE)


def answers(found):
    """What the cases ask of a plan."""
    steps, ladder = {s.index: s for s in found.forward.steps}, found.rub_out.ladder
    grades = () if ladder is None else ladder.rungs
    polishes = [g for g in grades if g.abrasive.kind == "polish"]
    out = {
        "own_coats": found.method.coats, "film_um": float(found.timeline.dry_um[-1]), "refused": float(ladder is None),
        "ladder_polishes": len(polishes), "ladder_steps": len(grades),
    }  # fmt: skip
    last, nth = None, 0
    for i, stage in enumerate(found.method.stage):
        if stage.kind == "coats" and not stage.zones:
            last = max(c.at_h for c in found.forward.coats if c.at_h <= steps[i].to_h and c.zones is None)
        elif stage.kind in ("level", "rub-out"):
            out[f"level_wait_h:{nth}"] = steps[i].from_h - last
            nth += 1
    return out


class Plans(unittest.TestCase):
    def test_every_case_is_inside_the_trade_s_range(self):
        practice.hold(self, "plan", 4, lambda case: answers(planned(**case["input"])))
