"""A picture worked out elsewhere, with its caption, and its words for who cannot see it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.picture import Picture

if TYPE_CHECKING:
    from ravden.app.seen import Sight
    from ravden.core.surface.shade import Pixels

CAPTION_H = 15


class Seen(Picture):
    """As wide and high as it is told to be at the usual size of the type, and lines for its caption."""

    def __init__(self, wide: int, high: int, parent: QWidget | None = None, *, lines: int = 0) -> None:
        super().__init__(parent)
        self._size, self._below = QSize(wide, high), lines * CAPTION_H + (3 if lines else 0)
        self.image: QImage | None = None
        self.caption = ""
        fit(self, _sized)

    @property
    def usual(self) -> QSize:
        """Its size at the usual size of the type."""
        return QSize(self._size.width(), self._size.height() + self._below)

    def take_size(self, wide: int, high: int) -> None:
        """So large from now on."""
        if QSize(wide, high) != self._size:
            self._size = QSize(wide, high)
            _sized(self)

    def show_image(self, image: QImage, name: str, words: str, caption: str = "") -> None:
        """Show this; words: the same to who cannot see it."""
        self.image, self.caption = image, caption
        self.setAccessibleName(name)
        self.setAccessibleDescription(words)
        self.setToolTip(words)
        self.update()

    def wait(self, caption: str, words: str) -> None:
        """Say what it will be a picture of."""
        self.image, self.caption = None, caption
        self.setAccessibleName(caption)
        self.setAccessibleDescription(words)
        self.setToolTip(f"{caption}: {words}")
        self.update()

    def show_pixels(self, image: QImage) -> None:
        """The picture that was waited for."""
        self.image = image
        self.update()

    def show_sight(self, sight: Sight, of: str) -> None:
        """Show this; of: what it is a picture of."""
        self.show_image(image_of(sight.pixels), f"{of}, {sight.caption}", sight.words, sight.caption)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        area = QRectF(0, 0, self._size.width(), self._size.height())
        if self.image is not None:
            painter.drawImage(area, self.image)
        else:
            painter.setPen(QColor(current().muted))
            words = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignCenter)
            painter.drawText(area.adjusted(5, 3, -5, -3), words, self.accessibleDescription())
        painter.setPen(QPen(QColor(current().line), 1))
        painter.drawRect(area.adjusted(0.5, 0.5, -0.5, -0.5))
        if self._below:
            painter.setPen(QColor(current().muted))
            font = painter.font()
            font.setPixelSize(12)
            painter.setFont(font)
            below = QRectF(0, area.height(), area.width(), self._below)
            painter.drawText(
                below,
                int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap),
                self.caption,
            )


def image_of(pixels: Pixels) -> QImage:
    """Pixels (high, wide, 3) as an image of its own."""
    high, wide, _ = pixels.shape
    return QImage(pixels.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()


def _sized(seen: Seen) -> None:
    seen.setFixedSize(px(seen.usual.width()), px(seen.usual.height()))
