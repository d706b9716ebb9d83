"""Coats on, in strokes that are read from two metres."""

from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import current, fit
from ravden.ui.widgets import tally
from ravden.ui.widgets.picture import Picture

TALLY_SCALE, GAP_PX = 4.2, 8.0


class BigTally(Picture):
    """Coats on, in strokes of five, and those still to come thin beside them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.done, self.of = 0, 0
        fit(self, lambda w: w.take_height(int(tally.HEIGHT_PX * TALLY_SCALE) + 6))

    def show_tally(self, done: int, of: int, what: str = "coats") -> None:
        """Show so many of so many coats, or zones."""
        self.done, self.of = done, of
        self.setAccessibleName(f"{done} of {of} {what}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        # Forty coats shrink until they fit.
        wide = tally.width_px(self.done) + tally.width_px(max(self.of - self.done, 0)) + GAP_PX + 6
        scale = min(TALLY_SCALE, self.width() / wide)
        painter.translate(0, (self.height() - tally.HEIGHT_PX * scale) / 2 - 1)
        painter.scale(scale, scale)
        drawn = tally.draw(painter, 3.5, 1, self.done, current().ink)
        gap = GAP_PX if self.done else 2.0
        tally.draw(painter, drawn.right() + gap, 1, max(self.of - self.done, 0), current().muted, planned=True)
