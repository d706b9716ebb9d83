"""A step taken up again after a year: the film is cleaned and keyed before its next coat, whatever it is."""

import unittest

import msgspec

from ravden.app.plan_case import PlanIn, told
from ravden.catalogue.tables import shipped

YEAR_H = 24.0 * 365


def outlook(method, now_h):
    """Three coats of the build laid, a day apart, and looked at so long after."""
    found = shipped().method(method)
    first = next(i for i, s in enumerate(found.stage) if s.kind == "coats")
    acts = [{"kind": "step", "at_h": 0.1 * (i + 1), "step": s.key} for i, s in enumerate(found.stage[:first])]
    um = found.stage[first].um or shipped().material(found.material).coat_dry_um
    acts += [{"kind": "coat", "at_h": 24.0 * n, "dry_um": um} for n in (1, 2)]
    case = {
        "start": "2026-03-02T09:00+01:00", "now_h": now_h, "acts": acts,
        "instrument": {"kind": "solid-body", "method": method, "sheen": "gloss"},
    }  # fmt: skip
    return told(msgspec.convert(case, PlanIn), shipped()).asked.run()


def keyed(found):
    """Whether a scuff stands before the next coat."""
    (first, *_) = found.forward.coats
    return any(s.kind == "scuff" and s.to_h <= first.at_h for s in found.forward.between)


class AfterAYear(unittest.TestCase):
    def test_a_film_that_melts_is_keyed_after_a_year_and_not_before(self):
        for method in ("lacquer-flow-coat", "shellac-pad-rounds"):
            self.assertFalse(keyed(outlook(method, 24.0 * 60)), method)
            self.assertTrue(keyed(outlook(method, 48.0 + YEAR_H + 24.0)), method)

    def test_only_its_first_coat_is(self):
        found = outlook("lacquer-flow-coat", 48.0 + YEAR_H + 24.0)
        self.assertGreater(len(found.forward.coats), 1)
        self.assertEqual(sum(s.kind == "scuff" for s in found.forward.between), 1)
