"""The shop's air through time: temperature as a line, humidity shaded, gaps hatched, what is expected dotted."""

from datetime import datetime

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.text import written
from ravden.text.units import Units
from ravden.text.written import MONTHS
from ravden.ui.places.shop.presenter import AirPoint, ShopShown
from ravden.ui.theme.style import current, fit, font
from ravden.ui.widgets.picture import Picture

LEFT, RIGHT, TOP, BOTTOM = 52, 46, 14, 30
HUMID_SHARE = 0.3


class AirPlot(Picture):
    """Draws a ShopShown's air."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown: ShopShown | None = None
        self._units = Units()
        fit(self, lambda w: w.need_height(240))
        self.setAccessibleName("The shop's air")

    def show_air(self, shown: ShopShown, units: Units) -> None:
        """Show this."""
        self._shown, self._units = shown, units
        self.setAccessibleDescription(f"{shown.heading} {shown.detail}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        shown = self._shown
        if shown is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        box = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        warm = QRectF(box.left(), box.top(), box.width(), box.height() * (1 - HUMID_SHARE) - 14)
        damp = QRectF(box.left(), box.bottom() - box.height() * HUMID_SHARE, box.width(), box.height() * HUMID_SHARE)
        span = (shown.end - shown.start).total_seconds()

        def x(at: datetime) -> float:
            return box.left() + box.width() * min(max((at - shown.start).total_seconds() / span, 0.0), 1.0)

        temps = [a.temp_C for a in shown.points] or [20.0]
        low, high = min([*temps, 15.0]) - 2, max([*temps, 25.0]) + 2
        painter.setFont(font(12))
        self._days(painter, shown, box, x)
        for value in range(int(low // 5) * 5 + 5, int(high) + 1, 5):
            y = warm.bottom() - (value - low) / (high - low) * warm.height()
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            painter.setPen(QColor(p.muted))
            painter.drawText(
                QRectF(0, y - 9, LEFT - 6, 18), Qt.AlignmentFlag.AlignRight, self._units.temperature(value)
            )
        for share in (0.0, 0.5, 1.0):
            y = damp.bottom() - share * damp.height()
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            painter.setPen(QColor(p.muted))
            painter.drawText(QRectF(0, y - 9, LEFT - 6, 18), Qt.AlignmentFlag.AlignRight, f"{100 * share:.0f} %")
        for begin, stop in shown.gaps:
            area = QRectF(x(begin), box.top(), max(x(stop) - x(begin), 1), box.height())
            painter.fillRect(area, QBrush(QColor(p.line), Qt.BrushStyle.BDiagPattern))
        for i, point in enumerate(shown.points):
            following = shown.points[i + 1] if i + 1 < len(shown.points) else None
            self._stretch(painter, shown, point, following, x, warm, damp, low, high)
        at = x(shown.now)
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawLine(QPointF(at, box.top() - 4), QPointF(at, box.bottom()))
        painter.drawText(QRectF(at + 4, box.top() - 6, 40, 16), Qt.AlignmentFlag.AlignLeft, "now")

    def _stretch(
        self, painter: QPainter, shown: ShopShown, point: AirPoint, following: AirPoint | None, x: object, warm: QRectF,
        damp: QRectF, low: float, high: float,
    ) -> None:  # fmt: skip
        """One stretch of steady air; what is expected, after now, is dotted."""
        p = current()
        stop = shown.end if following is None else following.at

        def height(temp_C: float) -> float:
            return warm.bottom() - (temp_C - low) / (high - low) * warm.height()

        y = height(point.temp_C)
        for begin, end, past in (
            (point.at, min(stop, shown.now), True), (max(point.at, shown.now), stop, False),
        ):  # fmt: skip
            if begin >= end:
                continue
            a, b = x(begin), x(end)  # type: ignore[operator]
            known = past and point.source in ("told", "log")
            painter.setPen(QPen(QColor(p.accent), 2.4 if known else 1.6,
                                Qt.PenStyle.SolidLine if known else Qt.PenStyle.DotLine))  # fmt: skip
            # Days of a year are joined: what lies between two of them is no step.
            to = y if following is None or not shown.year else height(following.temp_C)
            painter.drawPolyline(QPolygonF([QPointF(a, y), QPointF(b, to)]))
            colour = QColor(p.accent)
            colour.setAlpha(110 if known else 45)
            painter.fillRect(
                QRectF(a, damp.bottom() - point.rh * damp.height(), b - a, point.rh * damp.height()), colour
            )

    def _days(self, painter: QPainter, shown: ShopShown, box: QRectF, x: object) -> None:
        p = current()
        for day in shown.days:
            at = x(day)  # type: ignore[operator]
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(at, box.bottom()), QPointF(at, box.bottom() + 5))
            if shown.year or day.weekday() == 0:
                painter.setPen(QColor(p.muted))
                text = written.day(day, weekday=False) if not shown.year else MONTHS[day.month - 1]
                painter.drawText(QRectF(at + 2, box.bottom() + 6, 60, 18), Qt.AlignmentFlag.AlignLeft, text)
