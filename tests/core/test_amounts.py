"""How much goes on: the film of a coat by the way it is laid, what the wood absorbs of it, the ml of a session."""

import unittest

from ravden.catalogue import assemble
from ravden.catalogue.amounts import own_coats_left
from ravden.core.ahead.outlook import outlook
from ravden.core.method.steps import Stage
from ravden.core.record import Instrument
from ravden.core.session.batch import Layer, absorbed_ml, mix
from tests import practice
from tests.core.test_methods import METHODS, NINE, bare
from tests.core.test_plan import CATALOGUE, DRAWER


def amount(instrument, material, by, coat, coats, ground):
    """Millilitres for these coats on the whole instrument, and the dry film of one."""
    kind, finish = CATALOGUE.kind(instrument), CATALOGUE.material(material)
    item = Instrument(id="x", name="Plover", kind=instrument, measures=assemble.measures_of(kind), ground=ground,
                      material=material, method="oil-and-wax", sheen="satin", min_film_um=0)  # fmt: skip
    made = assemble.project(CATALOGUE, item, ())
    lost = {z.name: CATALOGUE.absorbs_ml_m2(assemble.ground(CATALOGUE, made, z.name)) for z in made.zones}
    layer = Layer(coats=coats, dry_um=made.dry_um(finish, by), absorbed_ml=absorbed_ml(made.zones, lost, coat, coats),
                  area_cm2=sum(z.area_cm2 * z.k_mean for z in made.zones))  # fmt: skip
    return mix(finish, by, CATALOGUE.tool(by).transfer, [layer]).total_ml, layer.dry_um


def answers(case):
    """What the cases ask of an amount."""
    ml, dry_um = amount(**case["input"])
    return {"ml": ml, "dry_um": dry_um, "bodies_per_125_ml": 125 / ml}


class Amounts(unittest.TestCase):
    def test_every_case_is_inside_the_trade_s_range(self):
        cases = practice.of_kind("amount")
        self.assertEqual(len(cases), 14)
        for case in cases:
            with self.subTest(case=case["id"], why=case["why"]):
                self.assertEqual(practice.outside(case, answers(case)), [])

    def test_the_wood_absorbed_of_the_first_coats_only(self):
        wiped = [amount("parlour-guitar", "shellac-pad", "wipe", n, 1, "close-grain")[0] for n in (1, 2, 3, 4, 5)]
        self.assertEqual(sorted(wiped, reverse=True), wiped)
        self.assertEqual(wiped[3], wiped[4])
        self.assertGreater(wiped[0], 2 * wiped[3])

    def test_open_pores_drink_more_and_filled_ones_less(self):
        ml = {
            g: amount("solid-slab", "shellac-pad", "brush", 1, 1, g)[0] for g in CATALOGUE.grounds if g != "end-grain"
        }
        self.assertGreater(ml["open-grain"], ml["close-grain"])
        self.assertEqual(max(ml, key=ml.get), "open-grain")

    def test_a_gun_lays_what_it_lays(self):
        layer = Layer(coats=1, dry_um=12.0, area_cm2=5000.0)
        thirsty = Layer(coats=1, dry_um=12.0, area_cm2=5000.0, absorbed_ml=40.0)
        lacquer = CATALOGUE.material("lacquer-sprayed")
        self.assertEqual(mix(lacquer, "spray", 0.5, [layer]), mix(lacquer, "spray", 0.5, [thirsty]))
        by_hand = [mix(lacquer, "brush", 0.8, [each]).total_ml for each in (layer, thirsty)]
        self.assertAlmostEqual(by_hand[1] - by_hand[0], 40.0 / 0.8)


class OfAPlan(unittest.TestCase):
    def test_the_coats_left_take_what_the_same_coats_take_in_the_booth(self):
        found = outlook(
            bare(METHODS["shellac-under-waterborne"]), METHODS["shellac-under-waterborne"], DRAWER, 0.0, NINE
        )
        left = own_coats_left(CATALOGUE, found)
        self.assertEqual(list(left), ["wipe"])
        # The two wipes of waterborne are the third and fourth coat on this wood.
        ml, _ = amount("parlour-guitar", "waterborne", "wipe", 3, 2, found.project.instrument.ground)
        self.assertAlmostEqual(left["wipe"].total_ml, ml)


class OneCoat(unittest.TestCase):
    def test_a_coat_is_as_thick_as_its_step_says_or_as_its_tool_lays(self):
        made, lacquer = bare(METHODS["lacquer-fine-start"]), CATALOGUE.material("lacquer-sprayed")
        self.assertEqual(made.dry_um(lacquer), lacquer.coat_dry_um)
        self.assertEqual(made.dry_um(lacquer, "spray"), lacquer.coat_dry_um)
        self.assertEqual(made.dry_um(lacquer, "wipe", 40.0), 40.0)
        self.assertLess(made.dry_um(lacquer, "wipe"), made.dry_um(lacquer, "brush"))
        oil = CATALOGUE.material("oil-wax")
        self.assertEqual(made.dry_um(oil, "brush"), oil.coat_dry_um)  # it is wiped off again

    def test_a_step_takes_no_film_that_is_none(self):
        for um in (0.0, -3.0, 5001.0):
            with self.assertRaises(ValueError):
                Stage(kind="coats", label="x", count=1, per_session=1, between_h=1.0, um=um)

    def test_a_thin_method_starts_from_a_thin_film(self):
        thin, usual = METHODS["shellac-under-waterborne"], METHODS["waterborne-sprayed"]
        material = CATALOGUE.material("waterborne")
        self.assertEqual(usual.least_um(material), material.min_film_um)
        self.assertLess(thin.least_um(material), material.min_film_um / 3)


if __name__ == "__main__":
    unittest.main()
