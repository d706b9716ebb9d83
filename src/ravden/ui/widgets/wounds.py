"""The mark of something that went wrong: a broken ring, whole and filled where the next paper will do."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from ravden.ui.theme.style import current

R = 6.0


def mark(painter: QPainter, at: QPointF, *, heavy: bool) -> None:
    """One of them: a ring with a gap and a cross in it, so that it is told by its form and not by its colour."""
    p = current()
    painter.setPen(QPen(QColor(p.panel), 4.5))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(at, R, R)
    painter.setPen(QPen(QColor(p.warn if heavy else p.muted), 2.2))
    box = QRectF(at.x() - R, at.y() - R, 2 * R, 2 * R)
    painter.drawArc(box, 60 * 16, 300 * 16 if heavy else 360 * 16)
    if heavy:
        painter.drawLine(QPointF(at.x() - 2.5, at.y() - 2.5), QPointF(at.x() + 2.5, at.y() + 2.5))
        painter.drawLine(QPointF(at.x() - 2.5, at.y() + 2.5), QPointF(at.x() + 2.5, at.y() - 2.5))


def paint(painter: QPainter, marks: Iterable[tuple[float, bool]], wood: float) -> None:
    """Those of a lane, over its wood line: where across, and whether each is heavy."""
    for x, heavy in marks:
        mark(painter, QPointF(x, wood - R - 3.0), heavy=heavy)
