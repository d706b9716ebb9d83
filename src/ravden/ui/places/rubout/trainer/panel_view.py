"""The panel in the light of a lamp that goes round it: rubbed by mouse or finger, the block shown where it stands."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import current
from ravden.ui.widgets.picture import Picture

PANEL_SHARE, RING_SHARE, LAMP_R = 0.66, 0.475, 11
RING_GRAB = 26  # how near the ring one has to press to take the lamp


class PanelView(Picture):
    """Says where it was rubbed [mm], that the lamp was turned, and that it should be pressed harder or less."""

    rubbed = pyqtSignal(object, object)
    pointed_at = pyqtSignal(object)
    clicked = pyqtSignal(object)
    lamp_turned = pyqtSignal(float)
    pressed_more = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.image: QImage | None = None
        self.size_mm = 90.0
        self.face_mm = (60.0, 30.0)
        self.at_mm = (45.0, 45.0)
        self.lamp_deg, self.lamp_low = 20.0, 12.0
        self.marks: list[tuple[float, float]] = []
        self.rubs = True
        self._from: tuple[float, float] | None = None
        self._turning = False
        self.setMouseTracking(True)
        self.setAccessibleName("The panel, in raking light")
        self.setMinimumSize(300, 300)

    def show_image(self, image: QImage, words: str) -> None:
        """The newest picture of it; words: the same to who cannot see it."""
        self.image = image
        self.setAccessibleDescription(words)
        self.update()

    def _square(self) -> QRectF:
        side = min(self.width(), self.height())
        return QRectF((self.width() - side) / 2, (self.height() - side) / 2, side, side)

    def panel_rect(self) -> QRectF:
        """Where the panel lies."""
        square = self._square()
        side = PANEL_SHARE * square.width()
        return QRectF(square.center().x() - side / 2, square.center().y() - side / 2, side, side)

    def to_mm(self, at: QPointF) -> tuple[float, float]:
        """A place in the widget, on the panel [mm]."""
        panel = self.panel_rect()
        scale = self.size_mm / panel.width()
        return (at.x() - panel.left()) * scale, (at.y() - panel.top()) * scale

    def of_mm(self, at_mm: tuple[float, float]) -> QPointF:
        """A place on the panel, in the widget."""
        panel = self.panel_rect()
        scale = panel.width() / self.size_mm
        return QPointF(panel.left() + at_mm[0] * scale, panel.top() + at_mm[1] * scale)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        theme = current()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        panel, square = self.panel_rect(), self._square()
        if self.image is not None:
            painter.drawImage(panel, self.image)
        painter.setPen(QPen(QColor(theme.line), 1))
        painter.drawRect(panel)
        radius = RING_SHARE * square.width()
        painter.drawEllipse(square.center(), radius, radius)
        lamp = self._lamp_at()
        painter.setPen(QPen(QColor(theme.ink), 2))
        painter.setBrush(QColor("#fff6d0"))
        painter.drawEllipse(lamp, LAMP_R, LAMP_R)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        towards = square.center() - lamp
        far = math.hypot(towards.x(), towards.y()) or 1.0
        painter.drawLine(lamp + towards / far * (LAMP_R + 3), lamp + towards / far * (LAMP_R + 15))
        if self.rubs:
            scale = panel.width() / self.size_mm
            middle, (w, h) = self.of_mm(self.at_mm), self.face_mm
            face = QRectF(middle.x() - w * scale / 2, middle.y() - h * scale / 2, w * scale, h * scale)
            painter.setPen(QPen(QColor("#ffffff"), 3))
            painter.drawRect(face)
            painter.setPen(QPen(QColor("#1d1d1d"), 1, Qt.PenStyle.DashLine))
            painter.drawRect(face)
        else:
            here = self.of_mm(self.at_mm)  # where Space marks
            painter.setPen(QPen(QColor("#ffffff"), 1))
            painter.drawLine(here - QPointF(7, 0), here + QPointF(7, 0))
            painter.drawLine(here - QPointF(0, 7), here + QPointF(0, 7))
        painter.setPen(QPen(QColor("#ffffff"), 3))
        for mark in self.marks:
            painter.drawEllipse(self.of_mm(mark), 9, 9)
        painter.setPen(QPen(QColor("#1d1d1d"), 1))
        for mark in self.marks:
            painter.drawEllipse(self.of_mm(mark), 9, 9)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.accent), 2))
            painter.drawRect(panel.adjusted(-4, -4, 4, 4))

    def _lamp_at(self) -> QPointF:
        square = self._square()
        radius, turn = RING_SHARE * square.width(), math.radians(self.lamp_deg)
        return QPointF(square.center().x() + radius * math.cos(turn), square.center().y() + radius * math.sin(turn))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = self.pointed(event.position())
        middle = self._square().center()
        out = math.hypot(at.x() - middle.x(), at.y() - middle.y())
        if abs(out - RING_SHARE * self._square().width()) < RING_GRAB and not self.panel_rect().contains(at):
            self._turning = True
            self._turn_to(at)
        elif self.rubs:
            self._from = self.to_mm(at)
            self.pointed_at.emit(self._from)
        else:
            self.clicked.emit(self.to_mm(at))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = self.pointed(event.position())
        if self._turning:
            self._turn_to(at)
            return
        here = self.to_mm(at)
        if self._from is not None:
            self.rubbed.emit(self._from, here)
            self._from = here
        elif self.rubs:
            self.pointed_at.emit(here)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from, self._turning = None, False

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.angleDelta().y():
            self.pressed_more.emit(1 if event.angleDelta().y() > 0 else -1)
            event.accept()

    def _turn_to(self, at: QPointF) -> None:
        middle = self._square().center()
        self.lamp_turned.emit(math.degrees(math.atan2(at.y() - middle.y(), at.x() - middle.x())) % 360)
