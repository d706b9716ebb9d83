"""What was foretold as a bar and what came as a dot, one line each: the middle of the picture is what was likeliest."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ravden.core.ahead.foretold import KINDS, Foretold
from ravden.text import right_words as said
from ravden.ui.places.shop.right_presenter import RightRow
from ravden.ui.theme import style
from ravden.ui.theme.style import font
from ravden.ui.widgets.picture import Picture

ROW_H, HEAD_H, TOP_H = 24, 34, 22
SHARES_X = 216
NAME_W, SAID_W, CAME_W = 166, 132, 106
MOST = math.log(3.0)  # the ends of the axis: a third, and three times
Along = Callable[[float], float]
MARKS = ((0.5, "half"), (1.0, "as foretold"), (2.0, "twice"))


class RightPicture(Picture):
    """Shows RightRows."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: tuple[RightRow, ...] = ()
        self._shares: dict[str, str] = {}
        self.setAccessibleName("What was foretold and what came")

    def show_rows(self, rows: tuple[RightRow, ...], shares: dict[str, str]) -> None:
        """shares: by kind, what stands beside its heading."""
        self._rows, self._shares = rows, shares
        kinds = [k for k in KINDS if any(r.told.what == k for r in rows)]
        self.need_height(TOP_H + HEAD_H * len(kinds) + ROW_H * len(rows) + 8)
        self.setAccessibleDescription("\n".join(f"{r.name}: {r.sentence}" for r in rows))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as p:
            self._painted(p, event)

    def _painted(self, p: QPainter, event: QPaintEvent | None) -> None:
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setFont(font())
        c = style.current()
        left, right = NAME_W, max(self.width() - SAID_W - CAME_W, NAME_W + 120)

        def x(ratio: float) -> float:
            at = min(max(math.log(max(ratio, 1e-6)) / MOST, -1.0), 1.0)
            return (left + right) / 2 + at * (right - left) / 2

        p.setPen(QColor(c.muted))
        for ratio, text in MARKS:
            p.drawText(QRectF(x(ratio) - 60, 0, 120, TOP_H), Qt.AlignmentFlag.AlignCenter, text)
        for at, wide, text in ((right + 12, SAID_W, "foretold"), (right + SAID_W, CAME_W, "came")):
            p.drawText(QRectF(at, 0, wide, TOP_H), Qt.AlignmentFlag.AlignVCenter, text)
        y = float(TOP_H)
        for kind in KINDS:
            rows = [r for r in self._rows if r.told.what == kind]
            if not rows:
                continue
            p.setFont(font(bold=True))
            p.setPen(QColor(c.ink))
            p.drawText(QRectF(0, y, SHARES_X, HEAD_H), Qt.AlignmentFlag.AlignVCenter, said.HEADINGS[kind])
            p.setFont(font())
            p.setPen(QColor(c.muted))
            p.drawText(
                QRectF(SHARES_X, y, self.width() - SHARES_X, HEAD_H), Qt.AlignmentFlag.AlignVCenter, self._shares[kind]
            )
            y += HEAD_H
            for row in rows:
                self._line(p, y, row, right, x)
                y += ROW_H

    def _line(self, p: QPainter, y: float, row: RightRow, right: float, x: Along) -> None:
        c, told = style.current(), row.told
        middle = y + ROW_H / 2
        p.setPen(QColor(c.ink))
        p.drawText(QRectF(0, y, NAME_W - 8, ROW_H), Qt.AlignmentFlag.AlignVCenter, _cut(p, row.name, NAME_W - 8))
        p.setPen(QPen(QColor(c.line), 1))
        p.drawLine(QPointF(x(1.0), y), QPointF(x(1.0), y + ROW_H))
        bar = QRectF(x(told.low / told.likely), middle - 5, 0, 10)
        bar.setRight(x(told.high / told.likely))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.accent_soft if told.tells else c.ground))
        p.drawRoundedRect(bar, 5, 5)
        p.setPen(QPen(QColor(c.accent), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(bar, 5, 5)
        ink = QColor(c.muted if not told.tells else c.ink if told.inside else c.warn)
        self._dot(p, middle, told, ink, x)
        for at, wide, text, colour in (
            (right + 12, SAID_W - 16, row.foretold, QColor(c.muted)), (right + SAID_W, CAME_W, row.came, ink)
        ):  # fmt: skip
            p.setPen(colour)
            p.drawText(QRectF(at, y, wide, ROW_H), Qt.AlignmentFlag.AlignVCenter, _cut(p, text, wide))

    def _dot(self, p: QPainter, middle: float, told: Foretold, ink: QColor, x: Along) -> None:
        """Where it fell: a dot, with a line to where it may have been as well."""
        low = told.came_low if told.came_low > 0 else told.likely / 3
        high = told.came_high if math.isfinite(told.came_high) else told.likely * 3
        if low < high:
            p.setPen(QPen(ink, 1.5, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x(low / told.likely), middle), QPointF(x(high / told.likely), middle))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink)
        at = QPointF(x(told.came / told.likely), middle)
        if told.inside or not told.tells:
            p.drawEllipse(at, 4.5, 4.5)
        else:  # told apart by its shape as well
            p.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9))


def _cut(p: QPainter, text: str, width: float) -> str:
    return p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(width))
