"""What is typed about coats, readings and zones, turned into entries; what cannot be is refused at its field."""

import unittest

from msgspec.structs import replace

from ravden.app import coat_forms, reading_forms, zone_forms
from ravden.catalogue.assemble import measures_of, project
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.materials import mixing
from ravden.core.record import Coat, Instrument, Reading
from ravden.core.state.history import known
from ravden.text.units import Units

CATALOGUE = shipped()
METRIC, US = Units(), Units(system="us")


def bench(method="lacquer-fine-start", **given):
    material = CATALOGUE.method(method).material
    item = Instrument(
        id="x", name="X", kind="parlour-guitar", measures=measures_of(CATALOGUE.kind("parlour-guitar")),
        material=material, method=method, sheen="gloss", min_film_um=20,
    )  # fmt: skip
    return project(CATALOGUE, item, (), **given)


LACQUER, SHELLAC = bench(), bench("shellac-pad-rounds")


def filled(fields, **typed):
    return {f.name: f.value for f in fields} | typed


class Coats(unittest.TestCase):
    def lay(self, by, where=LACQUER, units=METRIC, **typed):
        fields = coat_forms.fields(CATALOGUE, where, units, by)
        return coat_forms.read(CATALOGUE, where, filled(fields, **typed), units)

    def test_each_way_of_knowing_gives_the_film_it_should(self):
        area = sum(z.area_cm2 for z in LACQUER.zones) * 1e-4
        solids = 0.17 / 1.2
        self.assertEqual(self.lay("dry", dry_um="12").dry_um, 12)
        self.assertAlmostEqual(self.lay("gun").dry_um, 32.5 * solids)
        self.assertAlmostEqual(self.lay("volume", ml="100").dry_um, 100 * solids * 0.65 * 0.8 / area, places=6)
        self.assertAlmostEqual(self.lay("can", grams="100").dry_um, 100 * 0.09 / 1.35 * 0.5 / area, places=6)
        self.assertAlmostEqual(self.lay("brush", wet_um="80", thinner="0").dry_um, 80 * 0.17)
        self.assertAlmostEqual(self.lay("cloth", ml="20", left="5").dry_um, 15 / area * solids, places=6)
        self.assertAlmostEqual(self.lay("cloth", ml="20").dry_um, 14 / area * solids, places=6)
        self.assertAlmostEqual(self.lay("wet", wet_um="60", thinner="0").dry_um, 60 * 0.2145, delta=0.02)

    def test_a_volume_lands_as_the_tool_lands_it(self):
        oil = bench("violin-varnish")
        area = sum(z.area_cm2 for z in oil.zones) * 1e-4
        brushed = self.lay("volume", oil, ml="30", thinner="0").dry_um
        self.assertAlmostEqual(brushed, 30 * oil.material.volume_solids / area, places=6)
        by_gun = {f.name: f.value for f in coat_forms.fields(CATALOGUE, LACQUER, METRIC, "volume")}
        self.assertEqual(by_gun["transfer"], "65")

    def test_a_pad_by_volume_and_cut(self):
        area = sum(z.area_cm2 for z in SHELLAC.zones) * 1e-4
        body = self.lay("pad", SHELLAC, ml="8", cut="1.5")
        self.assertAlmostEqual(body.dry_um, 8 * 0.1352 * 0.8 / area, delta=0.01)
        self.assertEqual(body.how, "8 ml of a 1.5 lb cut")

    def test_cuts_in_both_conventions(self):
        self.assertEqual(coat_forms.cut("2"), 2)
        self.assertEqual(coat_forms.cut("2 lb"), 2)
        self.assertAlmostEqual(coat_forms.cut("239.65 g/L"), 2, places=3)
        self.assertAlmostEqual(coat_forms.cut("250 g/Ls"), 2.666, places=3)
        self.assertRaises(InputError, coat_forms.cut, "thin")

    def test_counts_as_people_say_them(self):
        self.assertEqual(coat_forms.counts("3"), (3, ()))
        self.assertEqual(coat_forms.counts("9 or 10"), (1, ((9, 0.5), (10, 0.5))))
        self.assertEqual([n for n, _ in coat_forms.counts("4-6")[1]], [4, 5, 6])
        self.assertEqual([n for n, _ in coat_forms.counts("4 to 6")[1]], [4, 5, 6])
        for wrong in ("", "some", "10 or 9", "9 or 9", "1-40", "2.5"):
            with self.assertRaises(InputError) as caught:
                coat_forms.counts(wrong)
            self.assertEqual(caught.exception.path, "count")

    def test_us_units_are_taken_and_shown(self):
        self.assertAlmostEqual(self.lay("dry", units=US, dry_um="0.5").dry_um, 12.7)
        self.assertIn("mil", self.lay("wet", units=US, wet_um="2.5").how)

    def test_what_cannot_be_names_its_field(self):
        for by, typed, field in (
            ("dry", {"dry_um": "0"}, "dry_um"), ("gun", {"overlap": "100"}, "overlap"),
            ("gun", {"fan": "0"}, "fan"), ("can", {"grams": "-5"}, "grams"),
            ("volume", {"ml": ""}, "ml"), ("cloth", {"ml": "5", "left": "6"}, "left"),
            ("wet", {"wet_um": "60", "thinner": "-3"}, "thinner"), ("dry", {"count": "0"}, "count"),
        ):  # fmt: skip
            with self.subTest(by=by), self.assertRaises(InputError) as caught:
                self.lay(by, **typed)
            self.assertEqual(caught.exception.path, field)

    def test_a_masked_zone_takes_no_material(self):
        masked = bench(masked=("back", "sides"))
        self.assertLess(coat_forms.covered_cm2(masked, ""), coat_forms.covered_cm2(LACQUER, "") - 2000)
        names = {
            value for f in coat_forms.fields(CATALOGUE, masked, METRIC) if f.name == "on" for value, _ in f.choices
        }
        self.assertFalse({"back", "sides"} & names)


class Readings(unittest.TestCase):
    def read(self, what, units=METRIC, place=None, **typed):
        fields = reading_forms.fields(CATALOGUE, LACQUER, units, "top", what)
        return reading_forms.read(CATALOGUE, LACQUER, filled(fields, **typed), units, place)

    def test_each_kind(self):
        gauge = self.read("gauge", um="92", n="3", place=(120.0, 4.0))
        self.assertEqual((gauge.zone, gauge.um, gauge.n, gauge.place), ("top", 92, 3, (120.0, 4.0)))
        comb = self.read("comb", um="50", high_um="75", thinner="0")
        self.assertAlmostEqual(comb.landed, 0.2145, places=4)
        card = self.read("card", g="1.35", cm2="100")
        self.assertAlmostEqual(card.um, 100)
        self.assertEqual(card.how, "1.35 g")
        area = sum(z.area_cm2 for z in LACQUER.zones) * 1e-4
        self.assertAlmostEqual(self.read("volume", ml="100").um, 100 * 0.17 / 1.2 * 0.65 * 0.8 / area)
        self.assertTrue(self.read("through", zone="edges").spot)
        self.assertFalse(self.read("not-through", zone="edges", spot="whole").spot)
        self.assertAlmostEqual(self.read("micrometer", US, um="4").um, 101.6)

    def test_a_volume_speaks_of_the_zones_and_the_finish_of_the_last_coat(self):
        oil = bench("violin-varnish")
        top = next(z for z in oil.zones if z.name == "top")
        coats = (Coat(at_h=0, dry_um=30), Coat(at_h=24, dry_um=12, zones=("top",)))
        project = replace(oil, acts=coats)
        solids = mixing.thinned_solids(oil.material.volume_solids, oil.material.thinner_ratio)
        ml = 12.0 * top.area_cm2 * 1e-4 / solids
        typed = filled(reading_forms.fields(CATALOGUE, project, METRIC, "top", "volume"), ml=f"{ml}")
        self.assertEqual(typed["transfer"], "100")
        read = reading_forms.read(CATALOGUE, project, typed, METRIC)
        self.assertAlmostEqual(read.um, 12.0, delta=0.01)
        before = reading_forms.read(CATALOGUE, project, typed, METRIC, at_h=12.0)
        self.assertLess(before.um, 12.0 / 3)  # it spoke of the coat on the whole body then
        told = known(replace(project, acts=(*coats, Reading(at_h=25, what="volume", um=read.um))), 30).ledger
        self.assertAlmostEqual(told.mean_um("top"), known(project, 30).ledger.mean_um("top"), delta=1.5)

    def test_what_cannot_be_names_its_field(self):
        for what, typed, field in (
            ("gauge", {"um": "-4"}, "um"), ("gauge", {"um": "92", "n": "2.5"}, "n"), ("card", {"g": "-1"}, "g"),
            ("card", {"g": "1", "cm2": "0"}, "cm2"), ("comb", {"um": "75", "high_um": "50"}, "high_um"),
            ("micrometer", {"um": "nan"}, "um"), ("volume", {"ml": "0"}, "ml"),
        ):  # fmt: skip
            with self.subTest(what=what), self.assertRaises(InputError) as caught:
                self.read(what, **typed)
            self.assertEqual(caught.exception.path, field)


class Zones(unittest.TestCase):
    def test_masks_and_other_finishes(self):
        typed = filled(zone_forms.fields(CATALOGUE, LACQUER), neck="masked", head="shellac-pad")
        body = zone_forms.read(LACQUER, typed)
        self.assertEqual((body.masked, body.finishes), (("neck",), {"head": "shellac-pad"}))
        again = {f.name: f.value for f in zone_forms.fields(CATALOGUE, bench(masked=("neck",)))}
        self.assertEqual((again["neck"], again["top"]), ("masked", "finished"))
