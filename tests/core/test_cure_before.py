"""The waits as they were told before they were set anew: the figures of then, for who compares."""

import unittest

from ravden.catalogue.tables import shipped
from ravden.core.cure.asked import Sampling
from ravden.core.cure.before import windows_before
from ravden.core.cure.film import harden
from tests.core.test_cure_practice import YEAR_H, coats


def before(material, laid):
    """Days after the last coat at which level, buff and case were told to open."""
    last = max(c.at_h for c in laid)
    found = harden(
        {"": shipped().cure_before.get(material, shipped().materials[material].cure)},
        laid,
        sampling=Sampling(until_h=last + YEAR_H),
    )
    told = windows_before(found, 20.0)
    return {name: (told[name] - last) / 24 for name in ("level", "buff", "case")}


class Before(unittest.TestCase):
    def test_the_figures_of_then(self):
        rows = (
            ("waterborne", coats(3, 20, 3), (3.1, 7.8, 16.9)),
            ("waterborne", coats(10, 20, 3), (27.3, 79.1, 180.1)),
            ("waterborne", coats(9, 14, 3), (9.4, 30.0, 70.0)),
            ("two-part-clear", coats(3, 32, 3, 0.25), (24.5 / 24, 2.8, 14.2)),
            ("lacquer-sprayed", coats(10, 10, 3, 1.5), (None, 14.7, None)),
            ("lacquer-sprayed", coats(14, 10, 4, 1.5), (None, 29.3, None)),
            ("shellac-pad", coats(8, 3), (50.5 / 24, None, None)),
        )
        for material, laid, wanted in rows:
            got = before(material, laid)
            for name, days in zip(("level", "buff", "case"), wanted, strict=True):
                if days is not None:
                    with self.subTest(material=material, coats=len(laid), window=name):
                        self.assertAlmostEqual(got[name], days, delta=0.02 * days + 0.06)

    def test_only_what_changed_is_kept(self):
        now = shipped().materials
        for name, model in shipped().cure_before.items():
            self.assertIs(type(model), type(now[name].cure))
            self.assertNotEqual(model, now[name].cure)
        self.assertNotIn("lacquer-sprayed", shipped().cure_before)


if __name__ == "__main__":
    unittest.main()
