"""When hands may do what with the film as it is, why, and what would help."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.ui.places.film.waits import WaitsShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.tone import set_tone

MOST_ROWS, MOST_LINES = 7, 6


class WaitsPanel(QWidget):
    """Shows a WaitsShown."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        self.note = Label()
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        box.addWidget(self.note)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(0)
        self.cells: list[tuple[QLabel, QLabel, QLabel]] = []
        for i in range(MOST_ROWS):
            label, when, span = Label(), Label(), Label()
            when.setObjectName("odds")
            span.setObjectName("muted")
            span.setWordWrap(True)
            grid.addWidget(label, 2 * i, 0, 2, 1, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(when, 2 * i, 1)
            grid.addWidget(span, 2 * i + 1, 1)
            self.cells.append((label, when, span))
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        self.lines = [Label() for _ in range(MOST_LINES)]
        for line in self.lines:
            line.setWordWrap(True)
            line.setObjectName("said")
            box.addWidget(line)
        box.addStretch(1)
        self.compare = QPushButton("Beside what was said before")
        self.compare.setCheckable(True)
        self.compare.setToolTip("The same film with the built-in figures and rules of an earlier Ravden")
        box.addWidget(self.compare)
        self.card = QPushButton("What the witness card says …")
        box.addWidget(self.card)

    def show_waits(self, shown: WaitsShown) -> None:
        """Show this."""
        for i, cells in enumerate(self.cells):
            row = shown.rows[i] if i < len(shown.rows) else None
            for cell, text in zip(cells, (row.label, row.when, row.range) if row else ("", "", ""), strict=True):
                cell.setText(text)
                cell.setVisible(bool(text))
            cells[2].setToolTip(row.more if row else "")
            set_tone(cells[1], row.tone if row else "plain")
        for i, line in enumerate(self.lines):
            tone, text = shown.lines[i] if i < len(shown.lines) else ("plain", "")
            line.setText(text)
            line.setVisible(bool(text))
            set_tone(line, tone)
        self.compare.setVisible(shown.comparable)
        self.note.setText(shown.note)
        self.note.setVisible(bool(shown.note))
