"""What is painted by hand: made larger as a whole where the type is, so that nothing in it runs into anything else."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtCore import QPointF, QRect, QRectF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ravden.ui.theme.style import scale
from ravden.ui.widgets.painting import painting


class Picture(QWidget):
    """Its width, height and positions are told, and its painter paints, as at the usual size of the type."""

    def width(self) -> int:
        return int(super().width() / scale())

    def height(self) -> int:
        return int(super().height() / scale())

    def room(self) -> QRect:
        """All of it."""
        return QRect(0, 0, self.width(), self.height())

    def looked_at(self, event: QPaintEvent | None) -> QRectF:
        """What is to be painted anew."""
        area = QRectF(super().rect() if event is None else event.rect())
        return QRectF(area.topLeft() / scale(), area.size() / scale())

    def pointed(self, position: QPointF) -> QPointF:
        """Where the mouse is."""
        return position / scale()

    @contextmanager
    def painting(self) -> Iterator[QPainter]:
        """Paint at the size in force."""
        with painting(self) as painter:
            painter.scale(scale(), scale())
            yield painter

    def need_height(self, usual: float) -> None:
        """At least so high at the usual size."""
        self.setMinimumHeight(round(usual * scale()))

    def take_height(self, usual: float) -> None:
        """Just so high at the usual size."""
        self.setFixedHeight(round(usual * scale()))
