"""Shipped tables are whole, and a fault in a table names the file and the place."""

import unittest

from ravden.catalogue import reading, tables
from ravden.catalogue.method_tables import read_method
from ravden.core.abrasive.scratch import Backing
from ravden.core.errors import InputError
from ravden.text.say import whole_fault

METHOD = """
id = "m"
label = "M"
material = "lacquer-sprayed"
why = "because"
texture_um = 8
[[stage]]
kind = "coats"
label = "Build"
count = {count}
per_session = 3
between_h = 1.5
"""


class Shipped(unittest.TestCase):
    def test_everything_refers_to_something(self):
        found = tables.shipped()
        for method in found.methods.values():
            self.assertIn(method.material, found.materials)
            self.assertTrue(method.why and method.basis)
        for kind in found.kinds.values():
            self.assertTrue(kind.family in found.shapes or kind.family in ("waisted", "bowed", "box", "shell", "neck"))
        for name in tables.DEFAULT_DRAWER:
            self.assertIn(name, {a.id for a in found.abrasives})
        for material in found.materials.values():
            self.assertTrue(material.basis and material.cautions and material.dust_colour)
            self.assertTrue(any("data sheet" in c for c in material.cautions))

    def test_unknown_names_are_refused(self):
        found = tables.shipped()
        for look in (found.material, found.method, found.kind):
            self.assertRaises(InputError, look, "nothing")


class Faults(unittest.TestCase):
    def expect_refused(self, words, call):
        with self.assertRaises(InputError) as caught:
            call()
        self.assertIn(words, whole_fault(caught.exception))

    def test_faults_of_a_method_file(self):
        self.assertEqual(read_method(METHOD.format(count=4), "m.toml").coats, 4)
        self.expect_refused("m.toml", lambda: read_method("id = ", "m.toml"))
        self.expect_refused("m.toml", lambda: read_method(METHOD.format(count='"four"'), "m.toml"))
        self.expect_refused("must be between 1 and 500", lambda: read_method(METHOD.format(count=0), "m.toml"))
        self.expect_refused("m.toml", lambda: read_method('id = "m"', "m.toml"))

    def test_faults_of_a_csv_table(self):
        head = "id,label,c_back,p_kPa,v_m_s,contact_cm2,gumbel_b,cv,f_contour,f_edge,basis"
        good = "firm,firm,1,2,0.4,70,0.11,0.15,1.6,3,ENG"
        self.assertEqual(len(reading.read_csv(f"{head}\n{good}\n{good}", Backing, "b.csv")), 2)
        self.expect_refused("b.csv, line 3", lambda: reading.read_csv(f"{head}\n{good}\nfirm,firm", Backing, "b.csv"))
        bad = good.replace("0.4", "fast")
        self.expect_refused("b.csv, line 2", lambda: reading.read_csv(f"{head}\n{bad}", Backing, "b.csv"))
