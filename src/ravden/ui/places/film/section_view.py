"""The cross-section: the film at one moment from the wood up, how soft at which height."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.core.ahead.timeline import FilmTimeline
from ravden.ui.places.film.presenter import SectionShown
from ravden.ui.theme.style import current, fit, font
from ravden.ui.widgets import strata
from ravden.ui.widgets.picture import Picture

BLOCK_W, WOOD_H, TOP = 150, 12, 6


class SectionView(Picture):
    """Paints a SectionShown beside its words."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._line: FilmTimeline | None = None
        self._at_h = 0.0
        self.shown: SectionShown | None = None
        fit(self, lambda w: w.need_height(96))
        self.setAccessibleName("Cross-section of the film")

    def sizeHint(self) -> QSize:
        return QSize(360, 110)

    def show_section(self, line: FilmTimeline | None, at_h: float, shown: SectionShown) -> None:
        """Show the film at an hour."""
        self._line, self._at_h, self.shown = line, at_h, shown
        self.setAccessibleDescription("; ".join(text for _, text in shown.lines))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if self.shown is None:
            return
        p = current()
        height = self.height() - WOOD_H - TOP
        wood = QRectF(0, TOP + height, BLOCK_W, WOOD_H)
        painter.fillRect(wood, QColor(p.wood))
        if self._line is None or not self.shown.lines:
            return
        film = float(np.interp(self._at_h, self._line.hours, self._line.film_um))
        hours = np.full(BLOCK_W, self._at_h)
        image = strata.film_image(self._line, hours, height, max(film, 1e-6), np.inf, p)
        painter.drawImage(QPointF(0, TOP), image)
        painter.setFont(font(13))
        room = max(height - 18, 1)
        for share, text in self.shown.lines:
            y = TOP + height * (1 - share)
            label = TOP + room * (1 - share)
            painter.setPen(QPen(QColor(p.muted), 1))
            painter.drawLine(QPointF(BLOCK_W, y), QPointF(BLOCK_W + 12, label + 9))
            painter.setPen(QColor(p.ink))
            area = QRectF(BLOCK_W + 16, label, self.width() - BLOCK_W - 18, 18)
            short = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(area.width()))
            painter.drawText(area, Qt.AlignmentFlag.AlignLeft, short)
