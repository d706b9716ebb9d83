"""Names are shown as they were written: nothing that is typed is taken for markup, in any place, head or tip."""

import re
from pathlib import Path

from msgspec import structs
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QLabel, QLineEdit, QWidget

import ravden
from ravden.core.errors import InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.drawer import DrawerSet, OwnAbrasive
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.shop_name import ShopNamed
from tests.ui.support import WindowTest, settle

NASTY = "<img src=file:///x><b>Heron</b>"


class AsWritten(WindowTest):
    def setUp(self):
        super().setUp()
        session = self.session
        session.log(ShopNamed(name=NASTY))
        added = next(e for e in session.entries if isinstance(e.body, InstrumentAdded) and e.body.id == "heron")
        session.correct(added.id, structs.replace(added.body, name=NASTY))
        rack = session.shop.racked["heron"]
        steps = tuple(replace(s, label=f"{NASTY} {i}"[:60]) for i, s in enumerate(rack.method.stage))
        session.log(PlanSet(method=rack.instrument.method, stage=steps, what=NASTY), instrument="heron")
        session.log(CoatLogged(dry_um=9, how=NASTY), instrument="heron")
        own = OwnAbrasive(label=NASTY, d50_um=12.0)
        session.log(DrawerSet(owned=("P400", "P800"), own=(own,)))
        settle(self.window)

    def taken_for_markup(self):
        for label in self.window.findChildren(QLabel):
            if "<img" in label.text() and label.textFormat() != Qt.TextFormat.PlainText:
                yield f"label {label.text()[:60]!r} in {label.parent()}"
        for widget in self.window.findChildren(QWidget):
            if "<img" in widget.toolTip():
                yield f"tip {widget.toolTip()[:60]!r} of {widget}"

    def test_no_label_and_no_tip_takes_a_name_for_markup(self):
        seen = 0
        for place in ("rack", "film", "booth", "rubout", "shop", "methods"):
            self.choose("heron", place)
            self.assertEqual(list(self.taken_for_markup()), [], place)
            texts = [w.text() for kind in (QLabel, QAbstractButton) for w in self.window.findChildren(kind)]
            seen += sum("<img" in text for text in texts)
        self.assertGreater(seen, 4)
        for model in (self.window.methods.plan.table.model(), self.window.shop.book.list.model()):
            for row in range(model.rowCount()):
                tip = model.index(row, 1).data(Qt.ItemDataRole.ToolTipRole)
                self.assertNotIn("<img", tip or "")
        for kind in ("coat", "sanding", "reading"):
            self.window.anywhere.ask(kind)
            self.assertEqual(list(self.taken_for_markup()), [], kind)
            self.window.card.hide()

    def test_no_form_takes_what_is_typed_for_markup(self):
        tried = 0
        for kind in ("coat", "sanding", "reading", "air", "cabinet", "light", "zones", "mishap"):
            try:
                self.window.anywhere.ask(kind)
            except (InputError, KeyError):
                continue
            card = self.window.card
            for edit in card.findChildren(QLineEdit):
                if edit.isVisible():
                    before = edit.text()
                    tried += 1
                    edit.setText(NASTY)
                    card.submit()
                    self.assertEqual(list(self.taken_for_markup()), [], (kind, edit.accessibleName()))
                    edit.setText(before)
            card.hide()
        self.assertGreater(tried, 9)

    def test_whatever_is_shown_says_whether_it_is_markup(self):
        """No label guesses by what stands in it, and none of those that are markup has what was typed in it as such."""
        for place in ("rack", "film", "booth", "rubout", "shop", "methods"):
            self.choose("heron", place)
            for label in self.window.findChildren(QLabel):
                self.assertNotEqual(label.textFormat(), Qt.TextFormat.AutoText, (place, label.text(), label.parent()))
                self.assertNotIn("<img", label.text() if label.textFormat() == Qt.TextFormat.RichText else "")

    def test_no_label_of_the_toolkit_is_made_as_it_comes(self):
        found = []
        for path in sorted((Path(ravden.__file__).parent / "ui").rglob("*.py")):
            if path.name not in ("label.py", "explained.py"):
                found += [path.name for line in path.read_text().splitlines() if re.search(r"(?<![\w.])QLabel\(", line)]
        self.assertEqual(found, [])
