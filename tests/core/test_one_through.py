"""A sand-through is one record: told as a reading, as what went wrong, or as both."""

import unittest

from msgspec.structs import replace

from ravden.core.record import Coat, Mishap, Reading
from ravden.core.state.history import known
from tests.core.mended import outlook_at

TOLD = {
    "reading": (Reading(at_h=900.0, what="through", zone="{}", spot=True, id=901),),
    "mishap": (Mishap(at_h=900.0, what="sand-through", zone="{}", id=901),),
    "both": (
        Mishap(at_h=900.0, what="sand-through", zone="{}", id=901),
        Reading(at_h=900.5, what="through", zone="{}", spot=True, id=902),
    ),
}


class OneRecord(unittest.TestCase):
    def setUp(self):
        self.project = outlook_at("lacquer-flow-coat", "h").project

    def film(self, *acts, now_h=901.0):
        ledger = known(replace(self.project, acts=(*self.project.acts, *acts)), now_h).ledger
        return {f.name: (f.mean_um, f.sd_um) for f in ledger.films()}, ledger

    def told(self, how, zone, **change):
        return self.film(*(replace(a, zone=zone, **change) for a in TOLD[how]))

    def test_however_it_is_told_the_film_is_one(self):
        for zone in ("top", "edges"):
            found = [self.told(how, zone) for how in TOLD]
            for films, ledger in found[1:]:
                self.assertEqual(films, found[0][0], zone)
                self.assertEqual(ledger.thin_spots, (zone,))

    def test_an_edge_worn_through_says_nothing_of_the_rest(self):
        before, _ = self.film()
        self.assertEqual(self.told("mishap", "edges")[0], before)
        whole = self.film(Mishap(at_h=900.0, what="sand-through", zone="edges", spread="zone", id=901))[0]
        self.assertLess(whole.pop("edges")[0], 1.0)
        for name, (mean, _) in whole.items():
            self.assertAlmostEqual(mean, before[name][0], delta=0.01)

    def test_a_flat_worn_through_was_thin_and_tells_of_the_others(self):
        before, _ = self.film()
        after, _ = self.told("mishap", "top")
        self.assertLess(after["top"][0], before["top"][0] - 5)
        self.assertLess(after["back"][0], before["back"][0] - 1)

    def test_one_more_after_a_coat_is_another(self):
        once = Mishap(at_h=900.0, what="sand-through", zone="top", id=901)
        coat = Coat(at_h=901.0, dry_um=12.0, id=902)
        again = replace(once, at_h=902.0, id=903)
        alone, _ = self.film(once, coat, now_h=903.0)
        both, _ = self.film(once, coat, again, now_h=903.0)
        self.assertLess(both["top"][0], alone["top"][0] - 1)
