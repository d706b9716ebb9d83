"""Coats on, in strokes that are read from two metres."""

from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import current
from ravden.ui.widgets import tally

TALLY_SCALE = 4.2


class BigTally(QWidget):
    """Coats on, in strokes of five, and those still to come thin beside them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.done, self.of = 0, 0
        self.setFixedHeight(int(tally.HEIGHT_PX * TALLY_SCALE) + 6)

    def show_tally(self, done: int, of: int) -> None:
        """Show these."""
        self.done, self.of = done, of
        self.setAccessibleName(f"{done} of {of} coats")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(TALLY_SCALE, TALLY_SCALE)
        drawn = tally.draw(painter, 2, 1, self.done, current().ink)
        gap = 8.0 if self.done else 2.0
        tally.draw(painter, drawn.right() + gap, 1, max(self.of - self.done, 0), current().muted, planned=True)
