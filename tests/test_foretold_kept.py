"""What was foretold of an instrument in the Book and came: kept in the file, and read back as it was."""

import math
import shutil
import tempfile
import unittest
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

from ravden.app.foretold_kept import foretold_of, keep_foretold
from ravden.app.lessons import keep
from ravden.core.ahead.foretold import FILM, WINDOW, Foretold, Known
from ravden.core.state.learnt import Lesson
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.store import Journal

AT = datetime(2026, 5, 4, 9, 30, tzinfo=UTC)
TOLD = Foretold(
    what=FILM, of="wren", name="Wren", label="Top", finish="shellac-pad", at=AT, low=80.0, likely=100.0, high=120.0,
    came_low=95.0, came_high=97.5,
)  # fmt: skip


class KeptForetold(unittest.TestCase):
    def setUp(self):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        self.journal = Journal.create(folder / "shop.ravden")
        self.addCleanup(self.journal.close)
        self.entry = self.journal.append(CoatLogged(dry_um=10.0), at=AT, logged_at=AT, instrument="wren")

    def test_to_the_digit_a_wait_nobody_saw_the_end_of_too(self):
        never = replace(
            TOLD, what=WINDOW, came_low=300.25, came_high=math.inf, rate_ln=0.125, noticed=0.7,
            known=Known(likely=240.0, rate_ln=0.1, sd=0.2, air_C=18.5),
        )  # fmt: skip
        keep(self.journal, "wren", self.entry.id, Lesson(gun=None, words=()))
        keep_foretold(self.journal, "wren", (TOLD, never))
        self.assertEqual(foretold_of(self.journal), {"wren": (TOLD, never)})

    def test_beside_no_lesson_there_is_nothing_to_keep_it_beside(self):
        keep_foretold(self.journal, "wren", (TOLD,))
        self.assertEqual(foretold_of(self.journal), {})
        self.assertEqual(foretold_of(None), {})
