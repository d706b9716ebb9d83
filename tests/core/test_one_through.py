"""A sand-through is one record: told as a reading, as what went wrong, or as both."""

import unittest

from msgspec.structs import replace

from ravden.core.record import Coat, Mishap, Reading, Sanding
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

    def test_a_flat_worn_through_was_thin_where_it_may_have_been(self):
        before, _ = self.film()
        dug = self.told("mishap", "top")[0]
        self.assertAlmostEqual(dug["top"][0], before["top"][0], delta=1.0)  # so thick a film was dug into
        cut = Sanding(at_h=890.0, um=before["top"][0] - 12.0, purpose="level", id=900)
        sanded, _ = self.film(cut)
        mishap = Mishap(at_h=900.0, what="sand-through", zone="top", id=901)
        thin, _ = self.film(cut, mishap)
        self.assertLess(thin["top"][0], sanded["top"][0] - 3)
        self.assertLess(thin["back"][0], sanded["back"][0] - 1)

    def test_all_of_a_thick_flat_cut_through_says_little_of_the_others(self):
        before, _ = self.film()
        bare, _ = self.film(Mishap(at_h=900.0, what="sand-through", zone="top", spread="zone", id=901))
        self.assertLess(bare.pop("top")[0], 1.0)
        for name, (mean, _) in bare.items():
            self.assertAlmostEqual(mean, before[name][0], delta=1.0)

    def test_one_more_after_a_coat_is_another(self):
        cut = Sanding(at_h=890.0, um=self.film()[0]["top"][0] - 12.0, purpose="level", id=900)
        once = Mishap(at_h=900.0, what="sand-through", zone="top", id=901)
        coat = Coat(at_h=901.0, dry_um=2.0, id=902)
        again = replace(once, at_h=902.0, id=903)
        alone, _ = self.film(cut, once, coat, now_h=903.0)
        both, _ = self.film(cut, once, coat, again, now_h=903.0)
        self.assertLess(both["top"][0], alone["top"][0] - 0.1)
