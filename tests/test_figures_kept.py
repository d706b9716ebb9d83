"""Every figure told of the made-up shop is the one told before, unless somebody meant to move it."""

import math
import unittest

from tests import figures

WITHIN = 2e-4  # of a figure: what another processor may round otherwise
MOST_SHOWN = 25


def moved(before, after):
    """Paths at which two tellings differ, and how."""
    for path in sorted(before.keys() | after.keys()):
        was, now = before.get(path, "nothing"), after.get(path, "nothing")
        if type(was) is float and type(now) is float:
            alike = math.isclose(was, now, rel_tol=WITHIN, abs_tol=1e-9)
        else:
            alike = was == now
        if not alike:
            yield f"{path}: {was} -> {now}"


class FiguresKept(unittest.TestCase):
    def test_what_is_told_of_the_made_up_shop_has_not_moved(self):
        found = list(moved(figures.kept(), figures.told()))
        shown = "\n".join(found[:MOST_SHOWN])
        self.assertEqual(
            len(found), 0,
            f"\n{shown}\nIf they were meant to move: python -m tests.figures keeps them, and the change log says why.",
        )  # fmt: skip

    def test_a_figure_that_moves_is_seen(self):
        self.assertEqual(list(moved({"a": 1.0, "b": "x"}, {"a": 1.001, "b": "x"})), ["a: 1.0 -> 1.001"])
        self.assertEqual(list(moved({"a": 1.0}, {"a": 1.00001})), [])
        self.assertEqual(list(moved({"a": 1}, {})), ["a: 1 -> nothing"])
