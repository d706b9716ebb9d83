"""Repairs side by side: the film where it went wrong, under each other on one axis of days."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.ui.places.repair.presenter import WayShown
from ravden.ui.theme.style import current, font
from ravden.ui.widgets import strata
from ravden.ui.widgets.picture import Picture

ROW_H, WORDS_H, AXIS_H, LEFT, RIGHT = 124, 62, 24, 12, 14
BACK_DAYS = 6.0  # of the past that is drawn
STEPS = (1, 2, 5, 7, 14, 28, 56)


class WaysView(Picture):
    """Paints the repairs; says which one was clicked, or turned to with the arrow keys."""

    picked = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ways: tuple[WayShown, ...] = ()
        self._at = 0
        self.dim = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Repairs side by side")
        self.setToolTip("Click a repair, or turn to it with the arrow keys, to see its steps")

    def sizeHint(self) -> QSize:
        return QSize(560, self.minimumHeight())

    def show_ways(self, ways: tuple[WayShown, ...], at: int) -> None:
        """Show these; at: the one looked at."""
        self._ways, self._at, self.dim = ways, at, False
        self.need_height(AXIS_H + ROW_H * max(len(ways), 1))
        said = "; ".join(f"{w.name}: {w.ready}, {w.numbers}" for w in ways)
        self.setAccessibleDescription(said)
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._pick(int((self.pointed(event.position()).y() - AXIS_H) // ROW_H))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if by is None:
            super().keyPressEvent(event)
        else:
            self._pick(self._at + by)

    def _pick(self, at: int) -> None:
        if 0 <= at < len(self._ways):
            self.picked.emit(at)

    def _span(self) -> tuple[float, float]:
        """First and last day of the axis, from now."""
        first, last = -1.0, 4.0
        for way in self._ways:
            if way.line is not None:
                first = min(first, max((float(way.line.hours[0]) - way.now_h) / 24.0, -BACK_DAYS))
                last = max(last, (float(way.line.hours[-1]) - way.now_h) / 24.0)
            if way.ready_h is not None:
                last = max(last, (way.ready_h - way.now_h) / 24.0 + 1.0)
        return first, last

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.dim:
            painter.setOpacity(0.45)
        if not self._ways:
            return
        p, (first, last) = current(), self._span()
        wide = self.width() - LEFT - RIGHT

        def x(day: float) -> float:
            return LEFT + wide * (min(max(day, first), last) - first) / (last - first)

        step = next((s for s in STEPS if (last - first) / s <= 9), STEPS[-1])
        painter.setFont(font(12))
        for day in range(0, int(last) + 1, step):
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(x(day), AXIS_H - 3), QPointF(x(day), self.height()))
            painter.setPen(QColor(p.muted))
            painter.drawText(
                QRectF(x(day) - 30, 3, 60, 18), Qt.AlignmentFlag.AlignHCenter, "now" if not day else f"+{day} d"
            )
        for n, way in enumerate(self._ways):
            self._row(painter, way, AXIS_H + n * ROW_H, n == self._at, (first, last), x)
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(1, AXIS_H + self._at * ROW_H + 1, self.width() - 2, ROW_H - 2))

    def _row(
        self,
        painter: QPainter,
        way: WayShown,
        y: float,
        here: bool,
        span: tuple[float, float],
        x: Callable[[float], float],
    ) -> None:
        p = current()
        if here:
            painter.fillRect(QRectF(1, y + 1, self.width() - 2, ROW_H - 2), QColor(p.accent_soft))
        room = self.width() - LEFT - RIGHT
        ready_font = font(13, bold=True)
        painter.setFont(ready_font)
        ready_w = min(painter.fontMetrics().horizontalAdvance(way.ready) + 4.0, room * 0.66)
        painter.setPen(QColor(p.warn if way.later else p.open_ink))
        painter.drawText(QRectF(LEFT + room - ready_w, y + 6, ready_w, 18), Qt.AlignmentFlag.AlignRight, way.ready)
        self._cut(
            painter,
            QRectF(LEFT, y + 4, room - ready_w - 10, 20),
            ("✓ " if way.chosen else "") + way.name,
            15,
            p.ink,
            bold=True,
        )
        self._cut(painter, QRectF(LEFT, y + 24, room, 17), way.numbers, 12, p.ink)
        painter.setFont(font(12, bold=True))
        best = f"{way.best[:1].upper()}{way.best[1:]}." if way.best else ""
        best_w = painter.fontMetrics().horizontalAdvance(best) + (8.0 if best else 0.0)
        self._cut(painter, QRectF(LEFT, y + 41, best_w, 17), best, 12, p.open_ink, bold=True)
        self._cut(painter, QRectF(LEFT + best_w, y + 41, room - best_w, 17), way.risk, 12, p.muted)
        base, top = y + ROW_H - 8.0, y + WORDS_H
        painter.setPen(QPen(QColor(p.wood), 3))
        painter.drawLine(QPointF(LEFT, base + 1), QPointF(LEFT + room, base + 1))
        if way.line is not None:
            self._film(painter, way, (top, base), span)
        if way.ready_h is not None:
            at = x((way.ready_h - way.now_h) / 24.0)
            painter.setPen(QPen(QColor(p.open_ink), 2))
            painter.drawLine(QPointF(at, top), QPointF(at, base))
            painter.setBrush(QColor(p.open_ink))
            painter.drawEllipse(QPointF(at, top + 4), 4, 4)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.ink), 1.4))
        painter.drawLine(QPointF(x(0), top), QPointF(x(0), base))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, y + ROW_H - 1), QPointF(self.width(), y + ROW_H - 1))

    def _film(
        self, painter: QPainter, way: WayShown, between: tuple[float, float], span: tuple[float, float]
    ) -> None:  # fmt: skip
        assert way.line is not None
        p, (top, base), (first, last) = current(), between, span
        wide, high = self.width() - LEFT - RIGHT, int(base - top)
        calm = way.line.phi_mean < 0.25
        most = float(np.max(way.line.film_um[calm])) if calm.any() else float(np.max(way.line.film_um))
        top_um = max(1.08 * most, way.floor_um * 1.3, 5.0)
        hours = way.now_h + 24.0 * (first + (np.arange(wide) + 0.5) / wide * (last - first))
        image = strata.film_image(way.line, hours, high, top_um, way.now_h, p)
        painter.drawImage(QPointF(LEFT, base - high), image)
        if way.floor_um > 0:
            y = base - high * way.floor_um / top_um
            painter.setPen(QPen(QColor(p.floor), 1.2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(LEFT, y), QPointF(LEFT + wide, y))

    @staticmethod
    def _cut(painter: QPainter, room: QRectF, text: str, px: int, colour: str, *, bold: bool = False) -> None:
        painter.setFont(font(px, bold=bold))
        painter.setPen(QColor(colour))
        short = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignLeft, short)
