"""The trainer: exercises at the left, the panel or what came of it in the middle, what is in the hand at the right."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from ravden.ui.places.rubout.trainer.gloss_view import GlossView
from ravden.ui.places.rubout.trainer.hand_bar import HandBar
from ravden.ui.places.rubout.trainer.panel_view import PanelView
from ravden.ui.places.rubout.trainer.result_view import ResultView
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.own_keys import is_own
from ravden.ui.widgets.page import Page

LIST_W, HAND_W = 196, 236
KEYS = (
    "Drag: rub.  Arrows: move, with Space: a stroke.  [ ]: lamp round, Shift: higher.  L: swing it.  "
    "1–5 or wheel: press.  Nothing here touches your instruments."
)
OWN = {
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_Return,
    Qt.Key.Key_Enter,
}  # fmt: skip


class TrainerPage(Page):
    """Every key but Tab and Esc is the exercise's own while it is looked at."""

    chosen = pyqtSignal(str)
    board_chosen = pyqtSignal(str)
    key_pressed = pyqtSignal(object)
    key_released = pyqtSignal(object)

    def __init__(self, exercises: Sequence[tuple[str, str]], parent: QWidget | None = None) -> None:
        super().__init__("Practise", parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.task = Label()
        self.task.setWordWrap(True)
        self.board = QComboBox()
        self.board.setAccessibleName("What is practised on")
        fit(self.board, lambda w: w.setMaximumWidth(px(210)))
        self.board.activated.connect(lambda: self.board_chosen.emit(str(self.board.currentData())))
        self.add_head(self.task, self.board)
        self.buttons: dict[str, QPushButton] = {}
        side = QWidget()
        fit(side, lambda w: w.setFixedWidth(px(LIST_W)))
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for i, (name, title) in enumerate(exercises, start=1):
            button = QPushButton(f"{i}  {title}")
            button.setCheckable(True)
            button.setObjectName("pick")
            button.clicked.connect(lambda _=False, n=name: self.chosen.emit(n))
            column.addWidget(button)
            self.buttons[name] = button
        self.indicative = Label()
        self.indicative.setWordWrap(True)
        self.indicative.setObjectName("muted")
        column.addStretch(1)
        column.addWidget(self.indicative)
        self.panel, self.gloss, self.result = PanelView(), GlossView(), ResultView()
        self.middle = QStackedWidget()
        for each in (self.panel, self.gloss, self.result):
            self.middle.addWidget(each)
        self.hand = HandBar()
        fit(self.hand, lambda w: w.setFixedWidth(px(HAND_W)))
        row = QHBoxLayout()
        row.setSpacing(14)
        row.addWidget(side)
        row.addWidget(self.middle, 1)
        row.addWidget(self.hand)
        self.box.addLayout(row, 1)
        self.fault = Label()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        self.hint = Label(KEYS)
        self.hint.setObjectName("muted")
        self.hint.setWordWrap(True)
        self.box.addWidget(self.fault)
        self.box.addWidget(self.hint)

    def turn_to(self, middle: QWidget) -> None:
        """Show the panel, the gloss or the result; only the panel has something in the hand."""
        self.middle.setCurrentWidget(middle)
        self.hand.setVisible(middle is self.panel)
        self.hint.setVisible(middle is self.panel)

    def tell_fault(self, text: str) -> None:
        """What cannot be; nothing: all is well."""
        self.fault.setText(f"{text[:1].upper()}{text[1:]}." if text else "")
        self.fault.setVisible(bool(text))

    def mark(self, exercise: str, done: set[str]) -> None:
        """Which exercise is on, and which were done before."""
        for name, button in self.buttons.items():
            button.setChecked(name == exercise)
            plain = button.text().removesuffix("  ✓")
            button.setText(f"{plain}  ✓" if name in done else plain)

    def event(self, event: QEvent | None) -> bool:
        return is_own(event, OWN) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None:
            self.key_pressed.emit(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None:
            self.key_released.emit(event)
