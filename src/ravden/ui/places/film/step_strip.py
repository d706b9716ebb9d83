"""The plan's steps drawn in the wood under the film: blocks of work, lines of waiting."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from ravden.ui.places.film.step_marks import StepMark, shows_work
from ravden.ui.theme.style import current, font

LEAST_PX = 5.0


def _box(mark: StepMark, x_of: Callable[[float], float], band: QRectF) -> QRectF:
    a, b = x_of(mark.from_h), x_of(mark.to_h)
    return QRectF(a, band.top() + 2, max(b - a, LEAST_PX), band.height() - 4)


def draw(painter: QPainter, marks: Sequence[StepMark], x_of: Callable[[float], float], band: QRectF) -> None:
    """Draw the steps in the band; names where there is room for them."""
    p = current()
    painter.setFont(font(11))
    taken = band.left()
    for mark in sorted(marks, key=lambda m: (shows_work(m), m.from_h)):
        box = _box(mark, x_of, band)
        colour = QColor(p.wood_line)
        if not shows_work(mark):
            painter.setPen(QPen(colour, 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(box.left(), band.center().y()), QPointF(box.right(), band.center().y()))
            continue
        painter.setPen(QPen(colour, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush if mark.planned else colour)
        painter.drawRect(box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        width = painter.fontMetrics().horizontalAdvance(mark.label)
        if box.width() > width + 8 and box.left() >= taken:
            painter.setPen(QColor(p.ink if mark.planned else p.panel))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, mark.label)
            taken = box.right()


def step_at(
    x: float, y: float, marks: Sequence[StepMark], x_of: Callable[[float], float], band: QRectF
) -> StepMark | None:
    """The step under a point; of several, the narrowest; None: no step there."""
    if not band.adjusted(0, -2, 0, 2).contains(QPointF(x, y)):
        return None
    under = [m for m in marks if _box(m, x_of, band).adjusted(-3, -4, 3, 4).contains(QPointF(x, band.center().y()))]
    return min(under, key=lambda m: (not shows_work(m), _box(m, x_of, band).width()), default=None)
