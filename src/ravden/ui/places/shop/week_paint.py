"""A week painted in quarter hours: drag over the hours somebody is there, or go there with the arrows and press
Space."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.app.crew_forms import QUARTERS, week_said
from ravden.text.written import DAYS
from ravden.ui.theme.style import current, font
from ravden.ui.widgets.picture import Picture

NAME_W, HEAD_H, ROW_H = 40.0, 18.0, 24.0
EVERY_H = 3  # hours named over the rows
Cells = tuple[tuple[bool, ...], ...]


class WeekPaint(Picture):
    """Seven rows of quarter hours. painted: something was changed by hand."""

    painted = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._cells = [[False] * QUARTERS for _ in DAYS]
        self._at = (0, 8 * 4)  # where the keyboard is
        self._brush: bool | None = None  # what a drag paints
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Hours of the week")
        self.setToolTip("Drag over the hours; or the arrows, and Space for a quarter of an hour, Shift for an hour")
        self.take_height(HEAD_H + ROW_H * len(DAYS) + 2)

    @property
    def cells(self) -> Cells:
        """What is painted, Monday first."""
        return tuple(tuple(row) for row in self._cells)

    def show_cells(self, cells: Cells) -> None:
        """Show this week."""
        self._cells = [list(row) for row in cells]
        self._told()

    def _told(self) -> None:
        self.setAccessibleDescription(week_said(self._cells))
        self.update()

    def _cell_w(self) -> float:
        return (self.width() - NAME_W - 2) / QUARTERS

    def cell_at(self, x: float, y: float) -> tuple[int, int] | None:
        """The day and the quarter hour under a point; None: outside."""
        day, quarter = int((y - HEAD_H) // ROW_H), int((x - NAME_W) // self._cell_w())
        return (day, quarter) if 0 <= day < len(DAYS) and 0 <= quarter < QUARTERS and y >= HEAD_H else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (at := self._under(event)) is not None:
            self._at = at
            self._brush = not self._cells[at[0]][at[1]]
            self._paint(at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._brush is not None and (at := self._under(event)) is not None:
            # What lies between two moves of a quick hand is painted too.
            for quarter in range(min(self._at[1], at[1]), max(self._at[1], at[1]) + 1):
                self._cells[at[0]][quarter] = self._brush
            self._at = at
            self._paint(at)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._brush = None

    def _under(self, event: QMouseEvent) -> tuple[int, int] | None:
        point = self.pointed(event.position())
        return self.cell_at(point.x(), point.y())

    def _paint(self, at: tuple[int, int]) -> None:
        self._cells[at[0]][at[1]] = bool(self._brush)
        self._told()
        self.painted.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        day, quarter = self._at
        long = 4 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            quarter += long if event.key() == Qt.Key.Key_Right else -long
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            day += 1 if event.key() == Qt.Key.Key_Down else -1
        elif event.key() == Qt.Key.Key_Space:
            on = not self._cells[day][quarter]
            for q in range(quarter, min(quarter + long, QUARTERS)):
                self._cells[day][q] = on
            quarter += long
            self.painted.emit()
        else:
            super().keyPressEvent(event)
            return
        self._at = min(max(day, 0), len(DAYS) - 1), min(max(quarter, 0), QUARTERS - 1)
        self._told()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        p, wide = current(), self._cell_w()
        painter.setFont(font(11))
        painter.setPen(QColor(p.muted))
        for hour in range(0, 24, EVERY_H):
            at = QRectF(NAME_W + hour * 4 * wide, 0, EVERY_H * 4 * wide, HEAD_H - 2)
            painter.drawText(at, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, f"{hour}")
        for n, row in enumerate(self._cells):
            self._row(painter, n, row, wide)

    def _row(self, painter: QPainter, n: int, row: list[bool], wide: float) -> None:
        p, y = current(), HEAD_H + ROW_H * n
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(0, y, NAME_W - 4, ROW_H - 3), Qt.AlignmentFlag.AlignVCenter, DAYS[n])
        painter.fillRect(QRectF(NAME_W, y, QUARTERS * wide, ROW_H - 3), QColor(p.line))
        for q, on in enumerate(row):
            if on:
                painter.fillRect(QRectF(NAME_W + q * wide, y, wide + 0.5, ROW_H - 3), QColor(p.accent))
        painter.setPen(QPen(QColor(p.ground), 1))
        for hour in range(1, 24):
            x = NAME_W + hour * 4 * wide
            painter.drawLine(int(x), int(y), int(x), int(y + ROW_H - 4))
        if self.hasFocus() and self._at[0] == n:
            painter.setPen(QPen(QColor(p.ink), 2))
            painter.drawRect(QRectF(NAME_W + self._at[1] * wide, y, max(wide, 4), ROW_H - 4))
