"""The safe wet film as two bars, upright and lying flat, with a tooth of a comb at the film the slider stands for."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.text.units import Units
from ravden.ui.places.film.trial import Bar
from ravden.ui.theme.style import current, fit, font
from ravden.ui.widgets.picture import Picture

ROW_H, LABEL_W = 20, 52


class WetBar(Picture):
    """Draws a Bar; without one it says why not."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bar: Bar | None = None
        self._wet = 0.0
        self._units = Units()
        fit(self, lambda w: w.take_height(2 * ROW_H + 22))

    def sizeHint(self) -> QSize:
        return QSize(260, 2 * ROW_H + 22)

    def show_bar(self, bar: Bar, wet_um: float, units: Units) -> None:
        """Show these limits, and this wet film."""
        self._bar, self._wet, self._units = bar, wet_um, units
        spans = [("upright", bar.upright), ("flat", bar.flat)]
        self.setAccessibleName("Safe wet film: " + "; ".join(
            f"{name} {units.film_range(*span)}" if span else f"{name} none" for name, span in spans
        ))  # fmt: skip
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if self._bar is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        width = self.width() - LABEL_W - 8.0

        def x(um: float) -> float:
            return LABEL_W + width * min(max(um / self._bar.most, 0.0), 1.0) if self._bar else 0.0

        painter.setFont(font(12))
        for row, (label, span) in enumerate((("upright", self._bar.upright), ("flat", self._bar.flat))):
            y = 2.0 + row * ROW_H
            painter.setPen(QColor(p.muted))
            painter.drawText(QRectF(0, y, LABEL_W - 4, ROW_H - 4), Qt.AlignmentFlag.AlignVCenter, label)
            painter.fillRect(QRectF(LABEL_W, y + 2, width, ROW_H - 8), QColor(p.line))
            if span is None:
                painter.drawText(
                    QRectF(LABEL_W + 4, y, width, ROW_H - 4), Qt.AlignmentFlag.AlignVCenter, "no safe film"
                )
                continue
            low, high = span
            painter.fillRect(QRectF(x(low), y + 2, max(x(high) - x(low), 2), ROW_H - 8), QColor(p.accent))
            painter.setPen(QColor(p.ink))
            middle = Qt.AlignmentFlag.AlignVCenter
            side = Qt.AlignmentFlag.AlignRight | middle
            painter.drawText(QRectF(x(low) - 34, y, 30, ROW_H - 4), side, self._units.film_number(low))
            if x(high) < LABEL_W + width - 30:
                painter.drawText(QRectF(x(high) + 4, y, 34, ROW_H - 4), middle, self._units.film_number(high))
        at, foot = x(self._wet), 2.0 + 2 * ROW_H
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawLine(QPointF(at, 1), QPointF(at, foot))
        painter.setBrush(QColor(p.ink))
        painter.drawPolygon(QPolygonF([QPointF(at, foot - 3), QPointF(at - 5, foot + 5), QPointF(at + 5, foot + 5)]))
        text = self._units.film(self._wet)
        beside = at + 9 if at < LABEL_W + width - 60 else at - 69
        align = Qt.AlignmentFlag.AlignLeft if beside > at else Qt.AlignmentFlag.AlignRight
        painter.setFont(font(12, bold=True))
        painter.drawText(QRectF(beside, foot - 4, 60, 16), align | Qt.AlignmentFlag.AlignVCenter, text)
