"""A test with a folder of its own."""

import shutil
import tempfile
import unittest
from pathlib import Path

from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped


class InFolder(unittest.TestCase):
    """folder: gone when the test is over; path: a shop file there, not made yet."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        self.path = self.folder / "lane.ravden"


class OnShop(InFolder):
    """The same with a session on the shop file, once it was made; clock: turned by hand, set before it is opened."""

    def open(self):
        session = ShopSession(shipped(), self.clock)
        session.open(self.path)
        self.addCleanup(session.close)
        return session

    def again(self):
        """Closed, and opened as the next start would find it."""
        self.session.close()
        self.session = self.open()
        return self.session
