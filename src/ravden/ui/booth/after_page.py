"""After a session: what it did and changed, what to measure, what to clean."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ravden.ui.booth.after import AfterShown
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.tone import set_tone

NOTICE_H = 64
COLUMNS = 2


class AfterPage(QWidget):
    """Says when it has been read, and when a reading is to be logged."""

    done_asked, reading_asked = pyqtSignal(), pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        frame, box = panel()
        self.title = QLabel()
        self.title.setObjectName("title")
        box.addWidget(self.title)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        box.addWidget(self._scroll, 1)
        self.measure, self.clean = QLabel(), QLabel()
        self.measure.setStyleSheet("font-size: 18px;")
        self.clean.setObjectName("fault")
        self.clean.setStyleSheet("font-size: 18px;")
        for label in (self.measure, self.clean):
            label.setWordWrap(True)
            box.addWidget(label)
        self.done, self.reading = QPushButton("Space: read, and ready for the next"), QPushButton("R: log a reading")
        self.done.setObjectName("main")
        self.done.clicked.connect(self.done_asked)
        self.reading.clicked.connect(self.reading_asked)
        row = QHBoxLayout()
        for button, stretch in ((self.done, 2), (self.reading, 1)):
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setStyleSheet("font-size: 19px; padding: 6px 4px;")
            button.setMinimumHeight(64)
            row.addWidget(button, stretch)
        box.addLayout(row)
        box.addSpacing(NOTICE_H)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self.lines: list[QLabel] = []
        self._shown: AfterShown | None = None

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
        for i, (name, lines) in enumerate(shown.blocks):
            block = QVBoxLayout()
            self._add(block, name, "big", "plain", 22)
            for text, tone in lines:
                self._add(block, text, "said", tone, 18)
            block.addStretch(1)
            grid.addLayout(block, i // COLUMNS, i % COLUMNS)
        for column in range(COLUMNS):
            grid.setColumnStretch(column, 1)
        grid.setRowStretch(grid.rowCount(), 1)
        self._scroll.setWidget(inner)  # the one before goes with its labels
        self.measure.setText(shown.measure)
        self.measure.setVisible(bool(shown.measure))
        self.clean.setText("\n".join(shown.clean))
        self.clean.setVisible(bool(shown.clean))

    def _add(self, block: QVBoxLayout, text: str, name: str, tone: str, px: int) -> None:
        label = QLabel(text)
        label.setObjectName(name)
        label.setWordWrap(True)
        label.setStyleSheet(f"font-size: {px}px;")
        set_tone(label, tone)
        block.addWidget(label)
        self.lines.append(label)
