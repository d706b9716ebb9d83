"""How many coats, how much material, and what will show later."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from ravden.ui.places.film.advice import PlanShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.tone import set_tone

MOST_LINES, MOST_ROWS = 6, 4


class PlanPanel(QWidget):
    """Shows a PlanShown."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(9)
        self.lines = [Label() for _ in range(MOST_LINES)]
        for line in self.lines:
            line.setWordWrap(True)
            line.setObjectName("said")
            box.addWidget(line)
        self.steps = Label()
        self.steps.setWordWrap(True)
        self.steps.setAccessibleName("Steps still to come")
        self.steps_heading = Label("Still to come")
        self.steps_heading.setObjectName("heading")
        box.addWidget(self.steps_heading)
        box.addWidget(self.steps)
        self.heading = Label("Pores, if flush when sanded")
        self.heading.setObjectName("heading")
        box.addWidget(self.heading)
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        self.cells = [[Label() for _ in range(4)] for _ in range(MOST_ROWS)]
        for i, row in enumerate(self.cells):
            for j, cell in enumerate(row):
                side = Qt.AlignmentFlag.AlignLeft if j == 0 else Qt.AlignmentFlag.AlignRight
                cell.setObjectName("muted" if i == 0 else "strong" if j else "")
                grid.addWidget(cell, i, j, side)
        grid.setColumnStretch(0, 1)
        box.addLayout(grid)
        self.note = Label()
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        box.addWidget(self.note)
        box.addStretch(1)

    def show_plan(self, shown: PlanShown) -> None:
        """Show this."""
        for i, label in enumerate(self.lines):
            tone, text = shown.lines[i] if i < len(shown.lines) else ("plain", "")
            label.setText(text)
            label.setVisible(bool(text))
            set_tone(label, tone)
        self.steps.setText("\n".join(f"{when}: {label}" for label, when in shown.steps))
        self.steps_heading.setVisible(bool(shown.steps))
        rows = (shown.columns, *shown.rows[: MOST_ROWS - 1]) if shown.rows else ()
        for i, cells in enumerate(self.cells):
            for j, cell in enumerate(cells):
                cell.setText(rows[i][j] if i < len(rows) else "")
                cell.setVisible(i < len(rows))
        self.heading.setVisible(bool(rows))
        self.note.setVisible(bool(rows))
        self.note.setText(shown.note)
