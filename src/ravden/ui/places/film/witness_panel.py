"""What the witness card says: what was assumed, what was measured, what follows; taken over only when asked."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.places.film.witness import WitnessShown
from ravden.ui.widgets.label import Label

MOST_ROWS, MOST_LINES = 6, 4


class WitnessPanel(QWidget):
    """Shows a WitnessShown."""

    left = pyqtSignal()
    accepted = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(9)
        heading = Label("The witness card")
        heading.setObjectName("heading")
        box.addWidget(heading)
        self.lines = [Label() for _ in range(MOST_LINES)]
        for line in self.lines:
            line.setWordWrap(True)
            box.addWidget(line)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(3)
        self.cells = [[Label() for _ in range(3)] for _ in range(MOST_ROWS)]
        for i, row in enumerate(self.cells):
            for j, cell in enumerate(row):
                cell.setObjectName("muted" if i == 0 else "strong" if j == 2 else "")
                grid.addWidget(cell, i, j, Qt.AlignmentFlag.AlignLeft)
        grid.setColumnStretch(2, 1)
        box.addLayout(grid)
        box.addStretch(1)
        self.back = QPushButton("Back")
        self.back.clicked.connect(self.left)
        self.take = QPushButton("Use this rate from now on")
        self.take.setToolTip("Every window of this finish in this shop moves to it; it can be taken back")
        self.take.clicked.connect(self.accepted)
        foot = QHBoxLayout()
        foot.addWidget(self.back)
        foot.addWidget(self.take, 1)
        box.addLayout(foot)

    def show_witness(self, shown: WitnessShown) -> None:
        """Show this."""
        for i, line in enumerate(self.lines):
            text = shown.lines[i] if i < len(shown.lines) else ""
            line.setText(text)
            line.setVisible(bool(text))
        for i, cells in enumerate(self.cells):
            row = shown.rows[i] if i < len(shown.rows) else ("", "", "")
            for cell, text in zip(cells, row, strict=True):
                cell.setText(text)
                cell.setVisible(bool(text))
        self.take.setEnabled(shown.can_accept)
