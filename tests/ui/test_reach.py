"""For everybody: each control has a name, is reached by keyboard, is large enough to touch, and nothing is cut off with
larger type."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QAbstractSpinBox,
    QComboBox,
    QLabel,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QScrollBar,
    QTableView,
    QTextBrowser,
)

from ravden.ui.shell.registry import PLACES
from ravden.ui.theme import style
from ravden.ui.widgets.picture import Picture
from tests.ui.support import WindowTest, settle

CONTROLS = (
    QAbstractButton, QAbstractSlider, QAbstractSpinBox, QComboBox, QLineEdit, QListWidget, QPlainTextEdit, QTableView,
    QTextBrowser, Picture,
)  # fmt: skip
TOUCH_PX = 44


def name_of(widget, page):
    """What a screen reader says of a control, by the toolkit's own rule."""
    if widget.accessibleName():
        return widget.accessibleName()
    if isinstance(widget, QAbstractButton) and widget.text():
        return widget.text()
    buddies = [label.text() for label in page.findChildren(QLabel) if label.buddy() is widget]
    return buddies[0] if buddies else ""


class Reach(WindowTest):
    def shown(self):
        """Every page there is, by a name for it: the places, and what lies over them."""
        for key, label in PLACES:
            self.choose("tern", key)
            yield label, self.window.stack.currentWidget()
        for label, turn in (
            ("Settings", self.window.show_settings), ("Guide", self.window.help.open_guide),
            ("About", self.window.help.about), ("Add", self.window.anywhere.add_instrument),
            ("Start", self.window.starting.ask), ("Choices", self.window.starting.show),
        ):  # fmt: skip
            self.window.turn_to("film")
            settle(self.window)
            turn()
            settle(self.window)
            yield label, self.window.stack.currentWidget()

    def controls(self, page):
        for widget in page.findChildren(CONTROLS):
            if widget.isVisible() and not isinstance(widget, QScrollBar) and not widget.objectName().startswith("qt_"):
                yield widget

    def test_every_control_has_a_name(self):
        seen = 0
        for label, page in self.shown():
            for widget in self.controls(page):
                self.assertTrue(name_of(widget, page).strip(), f"{label}: {widget!r} {widget.objectName()}")
                seen += 1
        self.assertGreater(seen, 150)

    def test_every_control_is_reached_by_the_keyboard_or_has_a_key_on_it(self):
        for label, page in self.shown():
            for widget in self.controls(page):
                by_tab = bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)
                told = widget.text() if isinstance(widget, QAbstractButton) else ""
                # A picture nobody can act on is read as a table; keys stand on the Booth's; panels turn by Alt.
                other = isinstance(widget, Picture) or label == "Booth" or widget.objectName() == "turn" or "(" in told
                self.assertTrue(by_tab or other, f"{label}: {widget!r} {told}")

    def test_what_is_touched_in_the_booth_is_large_enough(self):
        self.choose("heron", "booth")
        for _ in range(2):
            for widget in self.controls(self.window.booth):
                if isinstance(widget, QAbstractButton):
                    self.assertGreaterEqual(widget.height(), TOUCH_PX, widget.text())
            self.key(Qt.Key.Key_Space)

    def test_no_label_is_cut_off_at_any_size(self):
        self.addCleanup(style.apply, self.app, "light")
        for size in (100, 150):
            self.window.remembered.text = size
            self.window.looks.take_up()
            for label, page in self.shown():
                for text in page.findChildren(QLabel):
                    if not text.isVisible() or not text.text() or text.textFormat() == Qt.TextFormat.RichText:
                        continue
                    room = text.contentsRect()
                    wanted = text.heightForWidth(room.width()) if text.wordWrap() else text.sizeHint().height()
                    told = f"{label} at {size} %: “{text.text()[:50]}” {room.width()}x{room.height()} wants {wanted}"
                    self.assertGreaterEqual(room.height() + 3, min(wanted, text.sizeHint().height() * 40), told)
