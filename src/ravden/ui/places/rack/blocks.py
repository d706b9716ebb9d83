"""Hands in the shop's plan as blocks under a lane's wood line: solid; a session in outline with a tick a coat."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date, datetime

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen

from ravden.ui.places.rack.presenter import Block, LaneShown
from ravden.ui.theme.style import current

HANDS_W, COAT_W, LEAST_GAP = 5.0, 5.0, 6.0  # of a block, of a coat in it, of a wait that is drawn [px]
NEAR_PX = 3.0  # around a block that the mouse still takes it
NOT_THEN = "Not in this plan"
Boxes = list[tuple[Block, QRectF]]


class Drag(Struct, frozen=True, kw_only=True):
    """A block that is dragged; days: each with why it cannot be there, empty where it can."""

    lane: LaneShown
    block: Block
    days: Mapping[date, str]


def laid_out(
    blocks: Sequence[Block], x_of: Callable[[datetime], float], at: tuple[float, float], within: tuple[float, float]
) -> Boxes:  # fmt: skip
    """Blocks beside one another, none over another. at: height and how high; within: from where to where across."""
    out: Boxes = []
    edge, end = within
    for block in blocks:
        x = max(x_of(block.at), edge)
        box = QRectF(x, at[0], max(x_of(block.until) - x, HANDS_W + COAT_W * len(block.coats)), at[1])
        if box.right() > end:
            break
        out.append((block, box))
        edge = box.right() + 2.0
    return out


def under(boxes: Boxes, point: QPointF) -> Block | None:
    """The block under a point."""
    near = (b for b, box in boxes if box.adjusted(-NEAR_PX, -NEAR_PX, NEAR_PX, NEAR_PX).contains(point))
    return next(near, None)


def paint(painter: QPainter, boxes: Boxes, edge: float) -> None:
    """Draw them; waits are a thin line between, from edge on."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    for block, box in boxes:
        if box.left() - edge > LEAST_GAP:
            painter.setPen(QPen(QColor(current().line), 1))
            y = box.center().y()
            painter.drawLine(QPointF(edge + 2, y), QPointF(box.left() - 2, y))
        _block(painter, block, box)
        edge = box.right() + 2.0
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)


def _block(painter: QPainter, block: Block, box: QRectF) -> None:
    p = current()
    if block.kind == "cabinet":
        painter.setPen(QPen(QColor(p.line), 1))
        painter.setBrush(QBrush(QColor(p.accent), Qt.BrushStyle.BDiagPattern))
        painter.drawRect(box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        return
    plain = block.state == "planned"
    ink = QColor(p.warn if not plain else p.ink if block.coats else p.muted)
    painter.setPen(QPen(ink, 1.2, Qt.PenStyle.SolidLine if plain else Qt.PenStyle.DotLine))
    painter.setBrush(ink if plain and block.kind == "hands" else Qt.BrushStyle.NoBrush)
    painter.drawRect(box)
    for n in range(len(block.coats)):
        x = box.left() + 4.0 + COAT_W * n
        painter.drawLine(QPointF(x, box.top() + 3), QPointF(x, box.bottom() - 3))
    if block.pinned:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.accent))
        painter.drawEllipse(QPointF(box.center().x(), box.top()), 3.0, 3.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
