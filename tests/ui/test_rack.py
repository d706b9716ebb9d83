"""The Rack with many lanes: closer, grouped by what is next, found by typing."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ravden.catalogue.assemble import measures_of
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.ui.places.rack import lane_words
from tests.ui.support import WindowTest, settle

NEW = ("linnet", "dipper", "plover")


class Many(WindowTest):
    def setUp(self):
        super().setUp()
        method = self.session.catalogue.method("lacquer-fine-start")
        for name in NEW:
            body = InstrumentAdded(
                id=name, name=name.title(), instrument_kind="solid-slab", material=method.material, method=method.id,
                measures=measures_of(self.session.catalogue.kind("solid-slab")), sheen="gloss", min_film_um=50.0,
            )  # fmt: skip
            self.session.log(body, instrument=name)
        settle(self.window)
        self.window.turn_to("rack")
        settle(self.window)
        self.rack = self.window.rack

    def names(self):
        return [row.name for _, row in self.rack.lanes.rows() if not isinstance(row, str)]

    def headings(self):
        return [row for _, row in self.rack.lanes.rows() if isinstance(row, str)]

    def test_found_by_typing_and_all_again(self):
        QTest.keyClick(self.window, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.rack.sought.hasFocus())
        QTest.keyClicks(self.rack.sought, "parlour shellac")
        self.assertEqual(self.names(), ["Wren"])
        QTest.keyClick(self.rack.sought, Qt.Key.Key_Return)
        settle(self.window)
        self.assertTrue(self.rack.lanes.hasFocus())
        self.assertEqual(self.session.selected, "wren")
        self.rack.sought.setText("cello")
        self.assertIn("None of 6", self.rack.none.text())
        self.rack.sought.setFocus()
        QTest.keyClick(self.rack.sought, Qt.Key.Key_Escape)
        self.assertEqual(len(self.names()), 6)

    def test_grouped_by_what_is_next(self):
        self.assertEqual(self.headings(), [])
        QTest.keyClick(self.window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
        headings = self.headings()
        self.assertGreater(len(headings), 1)
        self.assertEqual(sum(int(h.split(": ")[1]) for h in headings), 6)
        self.assertEqual(sorted(self.names()), sorted(["Tern", "Wren", "Heron", "Linnet", "Dipper", "Plover"]))
        tones = [row.tone == "open" for _, row in self.rack.lanes.rows() if not isinstance(row, str)]
        self.assertTrue(tones[0])
        rows = list(self.rack.lanes.rows())
        together = next(i for i, (_, row) in enumerate(rows) if row == f"{rows[1][1].sort}: {headings[0][-1]}")
        self.assertEqual(together, 0)

    def test_closer_lanes_take_less_room_and_are_hit_where_they_are(self):
        tall = self.rack.lanes.minimumHeight()
        heights = []
        for density in ("close", "lines"):
            self.rack.density.setCurrentIndex(self.rack.density.findData(density))
            QApplication.processEvents()
            heights.append(self.rack.lanes.minimumHeight())
            for y, row in self.rack.lanes.rows():
                self.assertEqual(self.rack.lanes.lane_at(y + 3).id, row.id)
        self.assertTrue(tall > heights[0] > heights[1])
        self.rack.group.setChecked(True)
        (first, heading), (_, lane) = list(self.rack.lanes.rows())[:2]
        self.assertIsInstance(heading, str)
        self.assertIsNone(self.rack.lanes.lane_at(first + 3))
        self.assertEqual(self.rack.lanes.span_of(lane.id)[0], first + 28)

    def test_a_lane_says_in_words_what_there_is_no_room_for(self):
        lane = next(row for _, row in self.rack.lanes.rows() if not isinstance(row, str) and row.id == "tern")
        said = lane_words.told_of(lane)
        for words in ("Tern", "Solid body", lane.next_act, lane.next_when):
            self.assertIn(words, said)

    def test_how_it_was_left_is_remembered(self):
        self.rack.density.setCurrentIndex(self.rack.density.findData("close"))
        self.rack.group.setChecked(True)
        self.window = self.open()
        self.assertEqual(self.window.rack.density.currentData(), "close")
        self.assertTrue(self.window.rack.group.isChecked())

    def test_the_one_turned_to_is_brought_into_sight(self):
        bar = self.window.rack.findChild(type(self.rack.lanes.parent().parent())).verticalScrollBar()
        self.session.select("tern", "test")
        settle(self.window)
        self.assertEqual(bar.value(), 0)
        self.session.select("plover", "test")
        settle(self.window)
        self.assertGreater(bar.value(), 0)
