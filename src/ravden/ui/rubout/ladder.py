"""The ladder: a rung a grit, the film running down beside it and growing thinner as it is spent."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.ui.rubout.presenter import RubShown, RungShown
from ravden.ui.theme.style import current, font

HEAD_H, RUNG_H = 30, 97
FILM_W, RAIL_X, TEXT_X = 150, 180, 212


class LadderView(QWidget):
    """Paints a RubShown from the texture down to the sheen."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown: RubShown | None = None
        self.setAccessibleName("Ladder of grits")

    def sizeHint(self) -> QSize:
        return QSize(800, self.minimumHeight())

    def show_ladder(self, shown: RubShown) -> None:
        """Show this."""
        self._shown = shown
        self.setMinimumHeight(HEAD_H + RUNG_H * max(len(shown.rungs), 1) + 34)
        self.setAccessibleDescription("; ".join(f"{r.grade}, {r.off} off, {r.left} left" for r in shown.rungs))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._shown is None or not self._shown.rungs:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._film(painter)
        self._rails(painter)
        columns = self._columns()
        self._heads(painter, columns)
        for i, rung in enumerate(self._shown.rungs):
            self._rung(painter, rung, HEAD_H + i * RUNG_H, columns, i)

    def _columns(self) -> tuple[float, ...]:
        """Left edges: grade, spent, left, scratch, sheen, time."""
        room = max(self.width() - TEXT_X - 8, 420)
        return tuple(TEXT_X + room * share for share in (0.0, 0.38, 0.50, 0.61, 0.72, 0.885))

    def _heads(self, painter: QPainter, columns: tuple[float, ...]) -> None:
        p = current()
        painter.setFont(font(12))
        painter.setPen(QColor(p.muted))
        unit = self._shown.unit if self._shown is not None else ""
        names = (f"grit (film in {unit})", "off", "left", "scratch", "sheen", "time")
        for x, name in zip(columns, names, strict=True):
            painter.drawText(QRectF(x, 6, 120, 18), Qt.AlignmentFlag.AlignLeft, name)
        assert self._shown is not None
        painter.drawText(
            QRectF(8, 6, FILM_W, 18),
            Qt.AlignmentFlag.AlignLeft,
            f"{self._shown.flat}: {self._shown.start} now"
            if self._shown.as_now
            else f"{self._shown.flat}: {self._shown.start} built",
        )

    def _film(self, painter: QPainter) -> None:
        """The film beside the ladder: its width is what is left."""
        assert self._shown is not None
        p = current()
        full = max(self._shown.start_um, self._shown.floor_um) * 1.04
        scale = (FILM_W - 16) / full

        def x(um: float) -> float:
            return 8 + max(um, 0.0) * scale

        bottom = HEAD_H + RUNG_H * len(self._shown.rungs)
        edge = [QPointF(8, HEAD_H - 4), QPointF(x(self._shown.start_um), HEAD_H - 4)]
        before = self._shown.start_um
        for i, rung in enumerate(self._shown.rungs):
            y = HEAD_H + i * RUNG_H + 34
            edge += [QPointF(x(before), y - 8), QPointF(x(rung.left_um), y + 8)]
            before = rung.left_um
        edge += [QPointF(x(before), bottom), QPointF(8, bottom)]
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(p.ramp[4]))
        painter.drawPolygon(QPolygonF(edge))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(13, bold=True))
        for i, rung in enumerate(self._shown.rungs):
            y = HEAD_H + i * RUNG_H + 50
            painter.setPen(QColor("#ffffff"))
            painter.drawText(QRectF(14, y, x(rung.left_um) - 20, 20), Qt.AlignmentFlag.AlignRight, rung.left)
        painter.fillRect(QRectF(2, HEAD_H - 4, 6, bottom - HEAD_H + 4), QColor(p.wood))
        floor = x(self._shown.floor_um)
        painter.setPen(QPen(QColor(p.panel), 3.5))
        painter.drawLine(QPointF(floor, HEAD_H - 4), QPointF(floor, bottom))
        painter.setPen(QPen(QColor(p.floor), 1.8, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(floor, HEAD_H - 4), QPointF(floor, bottom + 6))
        painter.setFont(font(12))
        text = f"least wanted {self._shown.floor}"
        width = painter.fontMetrics().horizontalAdvance(text)
        left = min(max(floor - width / 2, 4), FILM_W - width)
        painter.drawText(QRectF(left, bottom + 8, width + 4, 18), Qt.AlignmentFlag.AlignLeft, text)

    def _rails(self, painter: QPainter) -> None:
        assert self._shown is not None
        p = current()
        bottom = HEAD_H + RUNG_H * len(self._shown.rungs)
        painter.setPen(QPen(QColor(p.wood_line), 4))
        for x in (RAIL_X - 16, RAIL_X + 16):
            painter.drawLine(QPointF(x, HEAD_H - 8), QPointF(x, bottom))
        for i in range(len(self._shown.rungs)):
            y = HEAD_H + i * RUNG_H + 34
            # A finer grit is a finer rung.
            painter.setPen(QPen(QColor(p.wood_line), max(9 - 1.6 * i, 2.5)))
            painter.drawLine(QPointF(RAIL_X - 16, y), QPointF(RAIL_X + 16, y))

    def _rung(self, painter: QPainter, rung: RungShown, y: int, columns: tuple[float, ...], i: int) -> None:
        p = current()
        grade_w = columns[1] - columns[0] - 8
        self._line(painter, columns[0], y + 6, grade_w, rung.grade, 17, p.ink, bold=True)
        self._line(painter, columns[0], y + 28, grade_w, f"{rung.grain}, {rung.backing}", 12, p.muted)
        ends = (*columns[2:], float(self.width()))
        cells = (rung.off, rung.left, rung.scratch, rung.sheen, rung.time)
        for x, end, text in zip(columns[1:], ends, cells, strict=True):
            colour = p.warn if rung.tight and text == rung.off else p.ink
            bare = text.removesuffix(f" {self._shown.unit}") if self._shown is not None else text
            self._line(painter, x, y + 8, end - x - 4, bare, 14, colour, bold=True)
        room = self.width() - TEXT_X - 8
        self._line(painter, TEXT_X, y + 45, room, rung.why, 13, p.ink)
        painter.setFont(font(13))
        painter.setPen(QColor(p.accent))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.drawText(QRectF(TEXT_X, y + 63, room, 38), flags, f"Look for: {rung.look_for}")
        if i:
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(TEXT_X, y), QPointF(self.width() - 8, y))

    @staticmethod
    def _line(
        painter: QPainter, x: float, y: float, width: float, text: str, px: int, colour: str, *, bold: bool = False
    ) -> None:
        painter.setFont(font(px, bold=bold))
        painter.setPen(QColor(colour))
        short = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(width))
        painter.drawText(QRectF(x, y, width + 4, px * 1.45), Qt.AlignmentFlag.AlignLeft, short)
