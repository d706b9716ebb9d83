"""The worked numbers in the docstrings of the core are right."""

import doctest
import importlib
import pkgutil
import unittest

import ravden.core


class WorkedNumbers(unittest.TestCase):
    def test_every_worked_number(self):
        tried = 0
        for info in pkgutil.walk_packages(ravden.core.__path__, "ravden.core."):
            module = importlib.import_module(info.name)
            result = doctest.testmod(module)
            self.assertEqual(result.failed, 0, info.name)
            tried += result.attempted
        self.assertGreater(tried, 12)
