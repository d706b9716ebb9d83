"""The mixing desk: amounts that add up, in steps that can be measured, by either convention."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from ravden.core.errors import InputError
from ravden.core.materials import desk
from ravden.core.materials.mixing import shellac_volume_solids, thinned_solids


def amounts(recipe):
    return {p.what: p.amount for p in recipe.parts}


class Desk(unittest.TestCase):
    @settings(max_examples=80)
    @given(st.floats(20, 3000), st.floats(0, 3), st.floats(0, 1), st.sampled_from([1.0, 5.0, 10.0, 25.0]))
    def test_it_reaches_and_keeps_its_proportion_as_well_as_the_cup_lets_it(self, ml, ratio, retarder, step):
        made = desk.thinned(ml, ratio, 0.17, retarder=retarder, step_ml=step)
        poured = amounts(made)
        self.assertAlmostEqual(sum(poured.values()), made.ml)
        self.assertAlmostEqual(sum(p.exact for p in made.parts), ml, places=6)
        for part in made.parts:
            measured = step if part.amount >= 2 * step else 1.0 if part.amount >= 2 else 0.1
            self.assertAlmostEqual(part.amount / measured, round(part.amount / measured), places=6)
        base = made.parts[0].amount
        self.assertGreaterEqual(base, ml / (1 + ratio) - 1e-6)
        self.assertLessEqual(base, 1.1 * ml / (1 + ratio) + 2 * step)
        rest = sum(poured.values()) - base
        if ratio * base > 0.2:
            self.assertLessEqual(abs(rest - base * ratio), 0.5 * step * (len(made.parts) - 1) + 1e-6)
        self.assertAlmostEqual(made.solids, 0.17 * base / made.ml)

    def test_to_a_solids_is_thinning_by_the_ratio_that_gives_it(self):
        made = desk.to_solids(600, 0.10, 0.20)
        self.assertEqual(amounts(made), {"base": 300, "thinner": 300})
        self.assertAlmostEqual(made.solids, thinned_solids(0.20, 1.0))

    def test_both_conventions_of_a_cut_say_the_same(self):
        for pounds in (0.5, 1.0, 2.0, 3.0, 4.0):
            litre = 1000.0
            flakes = {p.what: p.exact for p in desk.from_flakes(litre, pounds).parts}["flakes"]
            again = desk.from_flakes(litre, flakes, desk.PER_LITRE)
            self.assertAlmostEqual({p.what: p.exact for p in again.parts}["flakes"], flakes, places=6)
            self.assertAlmostEqual(desk.from_flakes(litre, pounds).solids, shellac_volume_solids(pounds), delta=1e-3)

    def test_from_a_stronger_cut_is_the_same_shellac_as_from_flakes(self):
        for have, wanted in ((3.0, 1.5), (4.0, 2.0), (2.0, 0.5)):
            made = desk.from_stronger(1000, have, wanted)
            self.assertAlmostEqual(made.solids, shellac_volume_solids(wanted), delta=2e-3)
            self.assertAlmostEqual(sum(p.exact for p in made.parts), 1000)

    def test_hardener_by_volume_and_by_weight(self):
        self.assertEqual(amounts(desk.catalysed(300, 2, 1)), {"base": 200, "hardener": 100})
        made = desk.catalysed(300, 100, 50, by_weight=True, base_g_ml=1.0, hardener_g_ml=1.0)
        self.assertEqual([(p.what, p.amount, p.unit) for p in made.parts],
                         [("base", 200, "g"), ("hardener", 100, "g")])  # fmt: skip
        heavy = desk.catalysed(300, 100, 50, by_weight=True, base_g_ml=1.2, hardener_g_ml=1.0)
        poured = amounts(heavy)
        self.assertAlmostEqual(poured["hardener"] / poured["base"], 0.5, delta=0.01)
        self.assertAlmostEqual(poured["base"] / 1.2 + poured["hardener"], heavy.ml, delta=1.5)
        thinned = amounts(desk.catalysed(330, 2, 1, thinner=0.1))
        self.assertEqual(thinned["thinner"] / (thinned["base"] + thinned["hardener"]), 0.1)

    def test_dye_by_its_strength(self):
        self.assertEqual(amounts(desk.dyed(500, 5)), {"carrier": 500, "dye": 2.5})
        self.assertEqual(amounts(desk.dyed(2000, 20))["dye"], 40)

    def test_what_cannot_be_is_told_by_field(self):
        for make, path in (
            (lambda: desk.thinned(0, 1, 0.2), "ml"), (lambda: desk.thinned(1e9, 1, 0.2), "ml"),
            (lambda: desk.thinned(10, -1, 0.2), "ratio"), (lambda: desk.to_solids(10, 0.3, 0.2), "wanted"),
            (lambda: desk.thinned(10, 1, 0.2, retarder=2), "retarder"), (lambda: desk.from_flakes(10, 20), "cut"),
            (lambda: desk.from_flakes(10, 2, "oz"), "convention"), (lambda: desk.from_stronger(10, 2, 3), "cut"),
            (lambda: desk.catalysed(10, 0, 1), "base_parts"), (lambda: desk.catalysed(10, 1, -1), "hardener_parts"),
            (lambda: desk.catalysed(10, 1, 1, by_weight=True, base_g_ml=0), "base_g_ml"),
            (lambda: desk.dyed(10, 0), "g_per_litre"), (lambda: desk.thinned(10, 1, 0.2, step_ml=0), "step_ml"),
        ):  # fmt: skip
            with self.subTest(path=path), self.assertRaises(InputError) as caught:
                make()
            self.assertEqual(caught.exception.path, path)
