"""What a surface looks like: a lamp's edge mirrored in it, drawn from its peak to valley."""

import math
import random

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap, QPolygonF

from ravden.ui.theme.style import current
from ravden.ui.widgets.painting import painting

SIZE = QSize(72, 20)


def icon(pv_um: float) -> QIcon:
    """The lamp's edge in a surface this rough: sharp when smooth, broken when it is orange peel."""
    p = current()
    made = QPixmap(SIZE * 2)
    made.setDevicePixelRatio(2.0)
    made.fill(QColor(p.wood_line))
    with painting(made) as painter:
        _paint(painter, pv_um)
    return QIcon(made)


def _paint(painter: QPainter, pv_um: float) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    waves = random.Random(7)  # the same picture every time
    phases = [waves.uniform(0, 6.28) for _ in range(3)]
    swing = min(11.0, 0.32 * pv_um)
    points = []
    for x in range(SIZE.width() + 1):
        y = sum(math.sin(x / (5.5 - 1.3 * k) + phase) / (k + 1) for k, phase in enumerate(phases))
        points.append(QPointF(x, SIZE.height() / 2 + swing * y / 1.6))
    lit = QPolygonF([QPointF(0, 0), *points, QPointF(SIZE.width(), 0)])
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#fffbe9"))
    painter.drawPolygon(lit)
    for _ in range(int(pv_um / 3)):
        # Flakes of light among the dimples.
        at = QPointF(waves.uniform(2, SIZE.width() - 2), waves.uniform(SIZE.height() * 0.55, SIZE.height() - 2))
        painter.drawEllipse(at, 0.6 + pv_um / 40, 0.5 + pv_um / 60)
