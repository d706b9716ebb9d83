"""A shop acted out in small: people follow the plan on films of laws of their own, and nothing contradicts itself. The
year, with its bars, is in benchmarks/true_shop.py."""

import tempfile
import unittest
from pathlib import Path

from benchmarks.acted.acting import ActedShop
from benchmarks.acted.laws import Laws
from benchmarks.acted.shops import SHOPS


class ActedOut(unittest.TestCase):
    def acted(self, shop, days, *, mistakes=False):
        with tempfile.TemporaryDirectory() as folder:
            made = ActedShop(Path(folder) / "true.ravden", 5, SHOPS[shop], Laws(5), mistakes=mistakes)
            return made.run(days)

    def test_an_instrument_from_bare_wood_to_its_case(self):
        came = self.acted("hobby", 55)
        self.assertEqual(came.failed, set())
        self.assertEqual(came.disagreed, [])
        self.assertEqual(came.unplanned, 0)
        self.assertEqual(came.refused, [])
        self.assertGreaterEqual(came.cases, 1)
        self.assertGreater(len(came.films), 5)
        self.assertGreater(len(came.waits), 0)
        self.assertLess(came.moves, 0.3 * came.looks)

    def test_several_at_once_with_mistakes(self):
        came = self.acted("one", 12, mistakes=True)
        self.assertEqual((came.failed, came.unplanned, came.refused), (set(), 0, []))
        self.assertGreater(len(came.coat_s), 10)


if __name__ == "__main__":
    unittest.main()
