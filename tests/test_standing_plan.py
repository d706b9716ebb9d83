"""The plan that stands, kept in the shop file: what is read back is what was written, and what is none is none."""

import json
import shutil
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from ravden.app.plan_moves import Move, still_told
from ravden.app.standing_plan import NAME, Standing, keep, kept, standing
from ravden.core.climate.series import Cabinet
from ravden.journal.crew import KeptStep
from ravden.journal.store import Journal

STEP = KeptStep(instrument="wren", step="Build#3", who="Odd", starts=("2026-05-05T08:00:00.000+00:00",))
MOVE = Move(
    instrument="wren", name="Wren", what="Coat 3", was="2026-05-04T08:00:00.000+00:00", now=STEP.starts[0],
    told="2026-05-04T12:00:00.000+00:00", code="missed",
)  # fmt: skip


class Stands(unittest.TestCase):
    def setUp(self):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        self.journal = Journal.create(folder / "shop.ravden")
        self.addCleanup(self.journal.close)

    def told(self):
        return standing(
            {("wren", "Build#3"): STEP}, {"wren": {"Build#3": (30.0, 30.5)}},
            {"wren": (Cabinet(at_h=40.0, hours=20.0, temp_C=35.0, rh=0.3),)}, 17, (MOVE,), (0, 1, 4),
        )  # fmt: skip

    def test_it_is_read_back_as_it_was_written(self):
        self.assertEqual(kept(self.journal), Standing())
        keep(self.journal, self.told())
        self.assertEqual(kept(self.journal), self.told())
        self.assertEqual(kept(self.journal).by_step, {("wren", "Build#3"): STEP})
        self.assertEqual(self.journal.entries(), [])  # nothing happened by it

    def test_what_is_no_plan_of_any_shop_is_none(self):
        keep(self.journal, self.told())
        sound = json.loads(self.journal.recall(NAME))

        def spoilt(path, value):
            body = json.loads(json.dumps(sound))
            *way, last = path
            at = body
            for part in way:
                at = at[part]
            at[last] = value
            return json.dumps(body)

        for path, value in (
            (("steps", 0, "starts"), ["9999-12-31T23:59:59+00:00"]), (("steps", 0, "starts"), ["soon"]),
            (("steps", 0, "starts"), []), (("steps", 0, "starts"), ["2026-05-05T08:00:00"]),
            (("steps", 0, "scuff"), "x"), (("hands", "wren", "Build#3"), [1e300, 1e301]),
            (("hands", "wren", "Build#3"), [5.0, 1.0]), (("stays", "wren", 0, "temp_C"), 4e3),
            (("stays", "wren", 0, "rh"), -1.0), (("moves", 0, "told"), "yesterday"), (("moves", 0, "by_min"), 10**12),
            (("last",), "a"), (("steps",), 5),
        ):  # fmt: skip
            with self.subTest(path=path, value=value):
                self.journal.remember(NAME, spoilt(path, value))
                self.assertEqual(kept(self.journal), Standing())
        for text in ("", "{", "[" * 100_000, "null"):
            self.journal.remember(NAME, text)
            self.assertEqual(kept(self.journal), Standing())

    def test_what_a_disk_has_changed_is_none(self):
        import sqlite3

        keep(self.journal, self.told())
        db = sqlite3.connect(self.journal.path, isolation_level=None)
        db.execute("UPDATE remembered SET body = replace(body, 'Odd', 'Ida')")
        db.close()
        self.assertEqual(kept(self.journal), Standing())

    def test_a_move_is_told_for_a_day_and_one_of_an_instrument_at_a_time(self):
        evening, later = datetime(2026, 5, 4, 20, tzinfo=UTC), datetime(2026, 5, 5, 13, tzinfo=UTC)
        other = Move(
            instrument="tern", name="Tern", what="Level", was=MOVE.was, now=MOVE.now, told=MOVE.told, code="film"
        )
        self.assertEqual(still_told((MOVE,), (other,), evening), (other, MOVE))
        self.assertEqual(still_told((MOVE,), (other,), later), (other,))
        again = Move(
            instrument="wren", name="Wren", what="Level", was=MOVE.was, now=MOVE.now, told=MOVE.told, code="air"
        )
        self.assertEqual(still_told((MOVE,), (again,), evening), (again,))
