"""Four corners of the panel on the first photo: dragged, or chosen by number and nudged by the arrows."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import current
from ravden.ui.widgets.picture import Picture

NAMES = ("top left", "top right", "bottom right", "bottom left")
GRAB, INSET = 22, 0.12


class Corners(Picture):
    """corners: of the panel in the photo's own pixels, in the order of NAMES."""

    moved = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.image: QImage | None = None
        self.full = (1.0, 1.0)
        self.corners: list[tuple[float, float]] = []
        self.chosen = 0
        self._dragged = False
        self.setMinimumSize(320, 240)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Corners of the panel on the first photo")

    def show_photo(self, image: QImage, full: tuple[int, int]) -> None:
        """A photo, and how large its file is [px]: corners begin a little inside."""
        self.image, self.full = image, (float(full[0]), float(full[1]))
        w, h = self.full
        x, y = INSET * w, INSET * h
        self.corners = [(x, y), (w - x, y), (w - x, h - y), (x, h - y)]
        self._tell()

    def nudge(self, across: float, upright: float) -> None:
        """Move the corner chosen, in pixels of the photo."""
        x, y = self.corners[self.chosen]
        self._put(x + across, y + upright)

    def choose(self, corner: int) -> None:
        """Take a corner in hand."""
        self.chosen = corner
        self._tell()

    def _put(self, x: float, y: float) -> None:
        self.corners[self.chosen] = (min(max(x, 0.0), self.full[0]), min(max(y, 0.0), self.full[1]))
        self._tell()
        self.moved.emit()

    def _tell(self) -> None:
        if self.corners:
            at = "; ".join(f"{n} {x:.0f}, {y:.0f}" for n, (x, y) in zip(NAMES, self.corners, strict=True))
            self.setAccessibleDescription(f"{NAMES[self.chosen]} is in hand. {at}")
        self.update()

    def _rect(self) -> QRectF:
        scale = min(self.width() / self.full[0], self.height() / self.full[1])
        w, h = self.full[0] * scale, self.full[1] * scale
        return QRectF((self.width() - w) / 2, (self.height() - h) / 2, w, h)

    def at(self, corner: int) -> QPointF:
        """Where a corner is in the widget."""
        rect, (x, y) = self._rect(), self.corners[corner]
        return QPointF(rect.left() + x / self.full[0] * rect.width(), rect.top() + y / self.full[1] * rect.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if self.image is None:
            return
        theme = current()
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(self._rect(), self.image)
        points = [self.at(i) for i in range(4)]
        for colour, width in (("#ffffff", 4), (theme.accent, 2)):
            painter.setPen(QPen(QColor(colour), width))
            painter.drawPolygon(QPolygonF(points))
        for i, point in enumerate(points):
            painter.setPen(QPen(QColor("#ffffff"), 4))
            painter.drawEllipse(point, 10, 10)
            painter.setPen(QPen(QColor(theme.warn if i == self.chosen else theme.accent), 2))
            painter.drawEllipse(point, 10, 10)
            for colour, by in (("#1d1d1d", 1.0), ("#ffffff", 0.0)):
                painter.setPen(QColor(colour))
                painter.drawText(point + QPointF(14 + by, -9 + by), str(i + 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self.corners:
            return
        here = self.pointed(event.position())
        far = [(self.at(i) - here).manhattanLength() for i in range(4)]
        near = far.index(min(far))
        self._dragged = far[near] < 2 * GRAB
        if self._dragged:
            self.choose(near)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self._dragged:
            return
        here, rect = self.pointed(event.position()), self._rect()
        self._put(
            (here.x() - rect.left()) / rect.width() * self.full[0],
            (here.y() - rect.top()) / rect.height() * self.full[1],
        )

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dragged = False
