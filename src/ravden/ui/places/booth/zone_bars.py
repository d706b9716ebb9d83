"""Film on every zone: a bar for what is likely there, a line for how well it is known, a mark for the least."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.ui.places.booth.presenter import ZoneBar
from ravden.ui.theme.style import current, fit, font, px
from ravden.ui.widgets.picture import Picture

ROW_PX, BAR_PX, TEXT_PX = 25, 11, 15
LABEL_W, VALUE_W = 92, 62
MOST = 10
FILM = 4  # of the ramp: a film that may be worked on


class ZoneBars(Picture):
    """As high as the zones want, up to MOST of them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bars: tuple[ZoneBar, ...] = ()
        fit(self, lambda w: w.setFixedHeight(px(0)))

    def show_bars(self, bars: Sequence[ZoneBar]) -> None:
        """Show these; none: take no room."""
        bars = tuple(bars[:MOST])
        if bars == self._bars:
            return
        self._bars = bars
        self.take_height(ROW_PX * len(bars))
        self.setAccessibleName("Film: " + ", ".join(f"{b.label} {b.text}" for b in bars))
        self.setToolTip("Film on every zone now, what it is likely to be between, and the least that is wanted")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if not self._bars:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(TEXT_PX))
        p = current()
        most = 1.05 * max(max(b.high_um, b.floor_um, 1.0) for b in self._bars)
        left, wide = LABEL_W, max(self.width() - LABEL_W - VALUE_W, 20)
        for i, bar in enumerate(self._bars):
            top, middle = i * ROW_PX, i * ROW_PX + ROW_PX / 2

            def at(um: float) -> float:
                return left + wide * min(um / most, 1.0)

            thin = bar.low_um < bar.floor_um
            painter.setPen(QColor(p.ink))
            across = Qt.AlignmentFlag.AlignVCenter
            label = painter.fontMetrics().elidedText(bar.label, Qt.TextElideMode.ElideRight, LABEL_W - 8)
            painter.drawText(QRectF(0, top, LABEL_W - 6, ROW_PX), across, label)
            painter.setPen(QColor(p.warn if thin else p.ink))
            value = QRectF(self.width() - VALUE_W, top, VALUE_W, ROW_PX)
            painter.drawText(value, across | Qt.AlignmentFlag.AlignRight, bar.text)
            painter.fillRect(QRectF(left, middle - BAR_PX / 2, at(bar.mean_um) - left, BAR_PX), QColor(p.ramp[FILM]))
            painter.setPen(QPen(QColor(p.ink), 2))
            painter.drawLine(QPointF(at(bar.low_um), middle), QPointF(at(bar.high_um), middle))
            if bar.floor_um > 0:
                painter.setPen(QPen(QColor(p.floor), 2, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(at(bar.floor_um), top + 2), QPointF(at(bar.floor_um), top + ROW_PX - 2))
