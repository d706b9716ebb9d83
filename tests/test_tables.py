"""The tables that come with the program: every row reads, refers to something, and lies where it should."""

import unittest

from ravden.catalogue.tables import shipped
from ravden.core.film.wetcoat import Conditions, window
from ravden.core.record import GROUNDS

FOUND = shipped()


class Rows(unittest.TestCase):
    def test_every_material_has_its_row_of_flow_and_the_same_solids_range(self):
        for material in FOUND.materials.values():
            family = FOUND.families[material.flow]
            if material.cure.model in ("evaporative", "crosslink") and material.id not in (
                "epoxy-seal",
                "epoxy-fast",
                "shellac-pad",
            ):
                self.assertTrue(family.solids_low <= material.volume_solids <= family.solids_high, material.id)
            self.assertLess(material.min_film_um, material.max_film_um)
            self.assertIn(FOUND.applied[material.id], ("spray", "pad", "brush", "wipe"))
            self.assertGreater(material.flash_s, 0)

    def test_the_usual_coat_of_every_sprayed_finish_is_safe_somewhere(self):
        for material in FOUND.materials.values():
            flow = FOUND.families[material.flow].flow
            if flow is not None and FOUND.applied[material.id] == "spray":
                at = Conditions(thinner_ratio=material.thinner_ratio, slope_deg=0)
                self.assertTrue(window(flow, at).open, material.id)

    def test_grounds_drink_less_with_every_coat(self):
        for name in GROUNDS:
            lost = FOUND.absorbed(name)
            self.assertEqual(list(lost), sorted(lost, reverse=True))
        self.assertEqual(FOUND.absorbed("sealed"), ())
        self.assertGreater(FOUND.absorbed("open-grain")[0], FOUND.absorbed("close-grain")[0])

    def test_applicators_and_families_keep_their_ranges(self):
        for a in FOUND.applicators.values():
            self.assertTrue(a.transfer_low <= a.transfer <= a.transfer_high, a.id)
            self.assertLess(a.dry_low_um, a.dry_high_um)
        for f in FOUND.families.values():
            self.assertTrue(f.solids_low <= f.solids <= f.solids_high, f.id)
            self.assertTrue(f.min_um <= f.usual_high_um <= f.max_um, f.id)
            self.assertTrue(f.basis)

    def test_every_method_ends_in_a_wait_its_finish_can_reach(self):
        for method in FOUND.methods.values():
            self.assertIn(method.material, FOUND.materials)
            self.assertEqual(method.stage[-1].window, "case", method.id)
            if FOUND.materials[method.material].cure.model == "never":
                self.assertFalse({s.kind for s in method.stage} & {"level", "rub-out"})
