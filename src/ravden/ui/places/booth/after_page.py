"""After a session: what it did and changed, what to measure, what to clean."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ravden.ui.places.booth.after import AfterShown
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.tone import set_tone

HINT_H, SIDE_W = 44, 330
COLUMNS = 2


class AfterPage(QWidget):
    """Says when it has been read, and when a reading is to be logged."""

    done_asked, reading_asked = pyqtSignal(), pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.lines: list[QLabel] = []
        self._shown: AfterShown | None = None
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        outer.addWidget(self._done(), 1)
        outer.addWidget(self._to_do())

    def _done(self) -> QWidget:
        frame, box = panel()
        self.title = Label()
        self.title.setObjectName("title")
        box.addWidget(self.title)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        box.addWidget(self._scroll, 1)
        self.done, self.reading = QPushButton("Space: read, and ready for the next"), QPushButton("R: log a reading")
        self.done.setObjectName("main")
        self.done.clicked.connect(self.done_asked)
        self.reading.clicked.connect(self.reading_asked)
        row = QHBoxLayout()
        for button, stretch in ((self.done, 2), (self.reading, 1)):
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setStyleSheet("font-size: 19px; padding: 6px 4px;")
            fit(button, lambda w: w.setMinimumHeight(px(64)))
            row.addWidget(button, stretch)
        box.addLayout(row)
        hint = Label("Backspace goes back into the session.")
        hint.setObjectName("muted")
        fit(hint, lambda w: w.setMinimumHeight(px(HINT_H)))
        box.addWidget(hint)
        return frame

    def _to_do(self) -> QWidget:
        frame, box = panel()
        fit(frame, lambda w: w.setFixedWidth(px(SIDE_W)))
        self.measure, self.clean = Label(), Label()
        self._heads: list[tuple[QLabel, QLabel]] = []
        for words, label, name in (("To measure", self.measure, "said"), ("To clean", self.clean, "fault")):
            head = Label(words)
            head.setObjectName("big")
            label.setObjectName(name)
            label.setWordWrap(True)
            label.setStyleSheet("font-size: 18px;")
            box.addWidget(head)
            box.addWidget(label)
            box.addSpacing(18)
            self._heads.append((head, label))
        box.addStretch(1)
        return frame

    def show_after(self, shown: AfterShown) -> None:
        """Show this."""
        if shown == self._shown:
            return
        self._shown = shown
        self.title.setText(shown.title)
        self.lines = []
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(24)
        columns = min(COLUMNS, max(len(shown.blocks), 1))
        for i, (name, lines) in enumerate(shown.blocks):
            block = QVBoxLayout()
            self._add(block, name, "big", "plain", 22)
            for text, tone in lines:
                self._add(block, text, "said", tone, 18)
            block.addStretch(1)
            grid.addLayout(block, i // columns, i % columns)
        for column in range(columns):
            grid.setColumnStretch(column, 1)
        grid.setRowStretch(grid.rowCount(), 1)
        self._scroll.setWidget(inner)  # the one before goes with its labels
        self.measure.setText(shown.measure)
        self.clean.setText("\n\n".join(shown.clean))
        for head, label in self._heads:
            head.setVisible(bool(label.text()))
            label.setVisible(bool(label.text()))

    def _add(self, block: QVBoxLayout, text: str, name: str, tone: str, px: int) -> None:
        label = Label(text)
        label.setObjectName(name)
        label.setWordWrap(True)
        label.setStyleSheet(f"font-size: {px}px;")
        set_tone(label, tone)
        block.addWidget(label)
        self.lines.append(label)
