"""A test with a folder of its own."""

import shutil
import tempfile
import unittest
from pathlib import Path


class InFolder(unittest.TestCase):
    """folder: gone when the test is over; path: a shop file there, not made yet."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        self.path = self.folder / "lane.ravden"
