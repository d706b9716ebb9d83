"""What was done on an instrument, under its film on the Rack: coats as tallies, sandings and readings."""

from collections.abc import Callable
from datetime import datetime, timedelta

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from ravden.ui.places.rack.presenter import LaneShown
from ravden.ui.theme.style import current
from ravden.ui.widgets import tally

SESSION = timedelta(hours=10)  # coats closer together than this are drawn as one session


def paint(
    painter: QPainter, lane: LaneShown, y: float, start: datetime, x_of: Callable[[datetime], float],
    between: tuple[float, float],
) -> None:  # fmt: skip
    """The marks of a lane at a height [px]. start: of the axis; x_of: where a moment lies across; between: the axis."""
    p = current()
    edge, right = between
    coming = () if lane.blocks else lane.planned_coats
    for moments, planned in ((lane.coats, False), (coming, True)):
        for group in _sessions(moments):
            x = max(x_of(group[0]), edge)
            if group[-1] >= start and x < right:
                box = tally.draw(painter, x, y, len(group), p.muted if planned else p.ink, planned=planned)
                edge = box.right() + 6
    for moment in lane.sandings:
        x = x_of(moment)
        painter.setPen(QPen(QColor(p.accent), 2.5))
        painter.drawLine(QPointF(x - 7, y + 20), QPointF(x + 7, y + 20))
    for moment in lane.readings:
        x = x_of(moment)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.accent))
        painter.drawPolygon(QPolygonF([QPointF(x - 5, y + 25), QPointF(x + 5, y + 25), QPointF(x, y + 16)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)


def _sessions(moments: tuple[datetime, ...]) -> list[list[datetime]]:
    """Coats of one session together."""
    out: list[list[datetime]] = []
    for m in moments:
        if out and m - out[-1][-1] < SESSION:
            out[-1].append(m)
        else:
            out.append([m])
    return out
