"""Photos laid over each other: blinked, side by side at a divider, or as one view in which shiny lows light up."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.core.surface.align import PX_MM
from ravden.core.surface.contact import Cells
from ravden.core.surface.look import Spot
from ravden.ui.theme.style import current
from ravden.ui.widgets.picture import Picture
from ravden.ui.widgets.seen import image_of

CONTRASTS = (0.5, 1.0, 2.0, 4.0)
LOUPE_R, LOUPE_X = 90, 3.0
COMBINED = "all three: shiny lows light up"


def view_image(view: Cells, contrast: float) -> QImage:
    """The combined view as greys."""
    low, middle, high = np.nanpercentile(view, (2, 50, 98))
    grey = np.clip(0.35 + contrast * 0.5 * (view - middle) / max(float(high - low), 1e-9), 0, 1)
    shown = (255 * np.nan_to_num(grey)).astype(np.uint8)
    return image_of(np.ascontiguousarray(np.repeat(shown[..., None], 3, axis=2)))


class LaidView(Picture):
    """mode: which photo, or the combined view; divider: the photo after it at the right of it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.images: list[QImage] = []
        self.names: list[str] = []
        self.spots: Sequence[Spot] = ()
        self.mode, self.divider, self.loupe = 0, False, False
        self._part, self._contrast, self._mouse = 0.5, 1, QPointF()
        self._view: Cells | None = None
        self.setMinimumSize(320, 300)
        self.setMouseTracking(True)
        self.setAccessibleName("The photos, laid over each other")

    def show_photos(
        self, images: Sequence[QImage], names: Sequence[str], view: Cells | None, spots: Sequence[Spot]
    ) -> None:
        """These photos, the combined view of them where there is one, and what is to be ringed."""
        self.images, self.names, self._view, self.spots = list(images), list(names), view, spots
        if view is not None:
            self.images.append(view_image(view, CONTRASTS[self._contrast]))
            self.names.append(COMBINED)
        self.mode = len(self.images) - 1
        self._tell()

    def turn(self, by: int = 1) -> None:
        """Blink to the next."""
        if self.images:
            self.mode = (self.mode + by) % len(self.images)
            self._tell()

    def change_contrast(self, by: int) -> None:
        """More or less of it in the combined view."""
        self._contrast = min(max(self._contrast + by, 0), len(CONTRASTS) - 1)
        if self._view is not None:
            self.images[-1] = view_image(self._view, CONTRASTS[self._contrast])
        self.update()

    def move_divider(self, by: float) -> None:
        """To the left or the right, in shares of the width."""
        self._part = min(max(self._part + by, 0.02), 0.98)
        self.update()

    def _tell(self) -> None:
        spots = f"; {len(self.spots)} ringed" if self.spots else ""
        self.setAccessibleDescription(f"{self.names[self.mode]}{spots}" if self.names else "")
        self.update()

    def _rect(self) -> QRectF:
        image = self.images[self.mode]
        scale = min(self.width() / image.width(), (self.height() - 24) / image.height())
        w, h = image.width() * scale, image.height() * scale
        return QRectF((self.width() - w) / 2, 24, w, h)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if not self.images:
            return
        theme = current()
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        rect, title = self._rect(), self.names[self.mode]
        painter.drawImage(rect, self.images[self.mode])
        if self.divider and len(self.images) > 1:
            other = (self.mode + 1) % len(self.images)
            title = f"{title}   |   {self.names[other]}"
            x = rect.left() + self._part * rect.width()
            painter.save()
            painter.setClipRect(QRectF(x, rect.top(), rect.right() - x, rect.height()))
            painter.drawImage(rect, self.images[other])
            painter.restore()
            painter.setPen(QPen(QColor("#ffffff"), 3))
            painter.drawLine(QPointF(x, rect.top()), QPointF(x, rect.bottom()))
        self._paint_rings(painter, rect)
        if self.loupe and rect.contains(self._mouse):
            self._paint_loupe(painter, rect)
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(rect.left(), 0, max(rect.width(), 380), 22), Qt.AlignmentFlag.AlignVCenter, title)

    def _paint_rings(self, painter: QPainter, rect: QRectF) -> None:
        scale = rect.width() / self.images[self.mode].width() * PX_MM
        for spot in self.spots:
            middle = QPointF(rect.left() + spot.x_mm * scale, rect.top() + spot.y_mm * scale)
            radius = max(6.0, scale * (spot.mm2 / np.pi) ** 0.5 * 1.4)
            for colour, width in (("#1d1d1d", 3.5), ("#ffd24a", 1.8)):
                painter.setPen(QPen(QColor(colour), width))
                painter.drawEllipse(middle, radius, radius)

    def _paint_loupe(self, painter: QPainter, rect: QRectF) -> None:
        image, at = self.images[self.mode], self._mouse
        scale = rect.width() / image.width()
        half = LOUPE_R / LOUPE_X / scale
        source = QPointF((at.x() - rect.left()) / scale, (at.y() - rect.top()) / scale)
        path = QPainterPath()
        path.addEllipse(at, LOUPE_R, LOUPE_R)
        painter.save()
        painter.setClipPath(path)
        painter.drawImage(
            QRectF(at.x() - LOUPE_R, at.y() - LOUPE_R, 2 * LOUPE_R, 2 * LOUPE_R), image,
            QRectF(source.x() - half, source.y() - half, 2 * half, 2 * half),
        )  # fmt: skip
        painter.restore()
        painter.setPen(QPen(QColor(current().ink), 2))
        painter.drawEllipse(at, LOUPE_R, LOUPE_R)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self.images:
            return
        self._mouse = self.pointed(event.position())
        if self.divider and event.buttons() & Qt.MouseButton.LeftButton:
            rect = self._rect()
            self._part = min(max((self._mouse.x() - rect.left()) / rect.width(), 0.02), 0.98)
        if self.loupe or self.divider:
            self.update()
