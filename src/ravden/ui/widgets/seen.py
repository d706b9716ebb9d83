"""A picture worked out elsewhere, with its words for who cannot see it."""

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.picture import Picture


class Seen(Picture):
    """As wide and high as it is told to be at the usual size of the type."""

    def __init__(self, wide: int, high: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._size = QSize(wide, high)
        self.image: QImage | None = None
        fit(self, _sized)

    @property
    def usual(self) -> QSize:
        """Its size at the usual size of the type."""
        return self._size

    def show_image(self, image: QImage, name: str, words: str) -> None:
        """Show this; words: the same to who cannot see it."""
        self.image = image
        self.setAccessibleName(name)
        self.setAccessibleDescription(words)
        self.setToolTip(words)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = self.painter()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        area = QRectF(0, 0, self._size.width(), self._size.height())
        if self.image is not None:
            painter.drawImage(area, self.image)
        painter.setPen(QPen(QColor(current().line), 1))
        painter.drawRect(area.adjusted(0.5, 0.5, -0.5, -0.5))


def _sized(seen: Seen) -> None:
    seen.setFixedSize(px(seen.usual.width()), px(seen.usual.height()))
