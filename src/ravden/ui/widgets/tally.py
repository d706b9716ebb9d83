"""Tally marks: coats in strokes, every fifth struck across."""

from PyQt6.QtCore import QLineF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPen

STROKE_PX, GROUP_GAP_PX, HEIGHT_PX = 4.0, 8.0, 13.0


def width_px(count: int) -> float:
    """How wide a tally of count strokes is."""
    groups, rest = divmod(count, 5)
    full = groups * (4 * STROKE_PX + GROUP_GAP_PX)
    return full + (rest * STROKE_PX if rest else -GROUP_GAP_PX if groups else 0.0)


def draw(painter: QPainter, x: float, y: float, count: int, colour: str, *, planned: bool = False) -> QRectF:
    """Draw a tally with its top left at (x, y); planned strokes are thin and pale. Returns its bounds."""
    pen = QPen(QColor(colour), 1.0 if planned else 2.0)
    painter.setPen(pen)
    at = x
    for i in range(count):
        if i % 5 == 4:
            start = at - 4 * STROKE_PX
            painter.drawLine(QLineF(start - 2, y + HEIGHT_PX - 2, at, y + 2))
            at += GROUP_GAP_PX
        else:
            painter.drawLine(QLineF(at + 1, y, at + 1, y + HEIGHT_PX))
            at += STROKE_PX
    return QRectF(x, y, width_px(count), HEIGHT_PX)
