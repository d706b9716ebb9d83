"""The picture of methods side by side: their films under each other on one axis of days."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.ui.places.methods.presenter import OfferShown
from ravden.ui.theme.style import current, font
from ravden.ui.widgets.picture import Picture

ROW_H, AXIS_H, WORDS_H, LEFT, RIGHT = 104, 26, 58, 14, 16
STEPS = (1, 2, 5, 7, 14, 28, 56)


class CompareView(Picture):
    """Paints offers; says which one was clicked."""

    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._offers: tuple[OfferShown, ...] = ()
        self._chosen = ""
        self._unit = "µm"
        self.dim = False
        self.setAccessibleName("Methods side by side")

    def sizeHint(self) -> QSize:
        return QSize(700, self.minimumHeight())

    def show_offers(self, offers: tuple[OfferShown, ...], chosen: str) -> None:
        """Show these."""
        self._offers, self._chosen, self.dim = offers, chosen, False
        self.need_height(AXIS_H + ROW_H * max(len(offers), 1))
        self.setAccessibleDescription("; ".join(f"{o.label}: {o.ready_words}, {o.numbers}" for o in offers))
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        i = int((self.pointed(event.position()).y() - AXIS_H) // ROW_H)
        if 0 <= i < len(self._offers):
            self.picked.emit(self._offers[i].id)

    def _last_day(self) -> float:
        ends = [
            d for o in self._offers for d in (*o.ready[1:], float(o.days[-1]) if len(o.days) else None) if d is not None
        ]
        likely = [o.ready[1] for o in self._offers if o.ready[1] is not None]
        # A long tail of one range must not squeeze the others together.
        return max(5.0, min(max(ends, default=30.0), 1.5 * max(likely, default=30.0)))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if not self._offers:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.dim:
            painter.setOpacity(0.45)
        p = current()
        last = self._last_day()
        width = self.width() - LEFT - RIGHT

        def x(day: float) -> float:
            return LEFT + width * min(max(day, 0.0), last) / last

        step = next((s for s in STEPS if last / s <= 10), STEPS[-1])
        painter.setFont(font(12))
        for day in range(0, int(last) + 1, step):
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(x(day), AXIS_H - 4), QPointF(x(day), self.height()))
            painter.setPen(QColor(p.muted))
            text = "today" if day == 0 else f"day {day}"
            side = Qt.AlignmentFlag.AlignLeft if day == 0 else Qt.AlignmentFlag.AlignHCenter
            painter.drawText(QRectF(x(day) - (0 if day == 0 else 30), 3, 60, 18), side, text)
        for i, offer in enumerate(self._offers):
            self._row(painter, offer, AXIS_H + i * ROW_H, x)

    def _row(self, painter: QPainter, offer: OfferShown, y: int, x: Callable[[float], float]) -> None:
        p = current()
        if offer.id == self._chosen:
            painter.fillRect(QRectF(2, y + 1, self.width() - 4, ROW_H - 2), QColor(p.accent_soft))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(15, bold=True))
        painter.drawText(QRectF(LEFT, y + 3, self.width() * 0.45, 20), Qt.AlignmentFlag.AlignLeft, offer.label)
        painter.setPen(QColor(p.warn if offer.ready[1] is None else p.open_ink))
        painter.setFont(font(13, bold=True))
        room = QRectF(self.width() * 0.42, y + 4, self.width() * 0.58 - RIGHT, 18)
        painter.drawText(room, Qt.AlignmentFlag.AlignRight, offer.ready_words)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(12))
        painter.drawText(
            QRectF(LEFT, y + 22, self.width() - LEFT - RIGHT, 17), Qt.AlignmentFlag.AlignLeft, offer.numbers
        )
        painter.setPen(QColor(p.warn if offer.tone == "warn" else p.muted))
        metrics = painter.fontMetrics()
        risk = metrics.elidedText(offer.risk[:1].upper() + offer.risk[1:], Qt.TextElideMode.ElideRight,
                                  int(self.width() - LEFT - RIGHT))  # fmt: skip
        painter.drawText(QRectF(LEFT, y + 38, self.width() - LEFT - RIGHT, 17), Qt.AlignmentFlag.AlignLeft, risk)
        base, top = y + ROW_H - 8.0, y + WORDS_H + 2.0
        highest = max(float(np.max(offer.film_um)) if len(offer.film_um) else 0.0, offer.floor_um, 1.0)

        def up(um: float) -> float:
            return base - (base - top) * um / highest

        painter.setPen(QPen(QColor(p.wood), 3))
        painter.drawLine(QPointF(LEFT, base + 1), QPointF(self.width() - RIGHT, base + 1))
        for _kind, begin, end in offer.marks:
            painter.fillRect(QRectF(x(begin), base - 5, max(x(end) - x(begin), 3.0), 5), QColor(p.wood_line))
        if len(offer.days):
            shape = [QPointF(x(float(offer.days[0])), base)]
            shape += [QPointF(x(float(d)), up(float(f))) for d, f in zip(offer.days, offer.film_um, strict=True)]
            shape.append(QPointF(shape[-1].x(), base))
            painter.setPen(QPen(QColor(p.ink), 1))
            painter.setBrush(QColor(p.ramp[3]))
            painter.drawPolygon(QPolygonF(shape))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        if offer.floor_um > 0:
            painter.setPen(QPen(QColor(p.floor), 1.2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(LEFT, up(offer.floor_um)), QPointF(self.width() - RIGHT, up(offer.floor_um)))
        early, likely, late = offer.ready
        if likely is not None:
            painter.setPen(QPen(QColor(p.open_ink), 3))
            a, b = x(likely if early is None else early), x(likely if late is None else late)
            painter.drawLine(QPointF(a, base - 10), QPointF(b, base - 10))
            painter.setBrush(QColor(p.open_ink))
            painter.drawEllipse(QPointF(x(likely), base - 10), 5, 5)
            painter.setBrush(Qt.BrushStyle.NoBrush)
