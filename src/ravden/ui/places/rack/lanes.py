"""The lanes of the Rack: one instrument a lane on one time axis."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QAction,
    QColor,
    QContextMenuEvent,
    QHelpEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QMenu, QToolTip, QWidget

from ravden.text import written
from ravden.text.written import DAYS
from ravden.ui.places.rack import blocks, lane_marks, lane_words
from ravden.ui.places.rack.density import DENSITIES
from ravden.ui.places.rack.presenter import Block, LaneShown, RackShown
from ravden.ui.theme.style import current, font
from ravden.ui.widgets import wounds
from ravden.ui.widgets.picture import Picture
from ravden.ui.widgets.tips import plain_tip

if TYPE_CHECKING:
    from ravden.core.ahead.timeline import FilmTimeline

NAME_W, AXIS_H, RIGHT_W = 214, 30, 12
HEAD_H = 28
DRAG_PX = 6.0


class Lanes(Picture):
    """Draws a RackShown; a click selects, a double click or Enter opens."""

    picked = pyqtSignal(str)
    opened = pyqtSignal(str)
    wrong_asked = pyqtSignal(str)
    dropped = pyqtSignal(str, str, object, str)  # an instrument's step, on a day, and why it cannot be there

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown: RackShown | None = None
        self._selected = ""
        self.density = "roomy"
        self._films: dict[str, tuple[tuple[Any, ...], QImage]] = {}  # by lane, with what each was drawn from
        self.legal: Callable[[str, str], Mapping[date, str]] = lambda _i, _s: {}
        self._held: tuple[LaneShown, Block, QPointF] | None = None  # what the mouse was pressed on
        self._drag: blocks.Drag | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Instruments on the rack")

    def show_rack(self, shown: RackShown, selected: str) -> None:
        """Show this; selected: the instrument turned to."""
        self._shown, self._selected = shown, selected
        for gone in self._films.keys() - {lane.id for lane in shown.lanes}:
            del self._films[gone]
        self.need_height(AXIS_H + DENSITIES[self.density].least * len(shown.lanes) + self._heads_h() + 4)
        lane = next((x for x in shown.lanes if x.id == selected), None)
        self.setAccessibleDescription(
            f"{lane.name}: {lane.next_act} {lane.next_when}. {lane.asks}".removesuffix(". ") if lane else ""
        )
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(900, self.minimumHeight())

    @property
    def lane_h(self) -> int:
        """Height of a lane [px]."""
        lanes = len(self._shown.lanes) if self._shown is not None else 1
        room, density = self.height() - AXIS_H - self._heads_h() - 4, DENSITIES[self.density]
        return min(max(room // max(lanes, 1), density.least), density.most)

    def _heads_h(self) -> int:
        """Height of all headings [px]."""
        return 0 if self._shown is None else HEAD_H * sum(bool(heading) for heading, _ in self._shown.groups)

    def rows(self) -> Iterator[tuple[int, str | LaneShown]]:
        """Headings and lanes from the top down, each with where it begins [px]."""
        y = AXIS_H
        for heading, lanes in self._shown.groups if self._shown is not None else ():
            if heading:
                yield y, heading
                y += HEAD_H
            for lane in lanes:
                yield y, lane
                y += self.lane_h

    @property
    def _film_h(self) -> int:
        """Height of a lane's film [px], under the labels of its windows."""
        return self.lane_h - DENSITIES[self.density].under - (18 if self.density != "lines" else 4)

    def x_of(self, moment: datetime) -> float:
        """Where a moment lies across."""
        assert self._shown is not None
        span = (self._shown.end - self._shown.start).total_seconds()
        share = (moment - self._shown.start).total_seconds() / span
        return NAME_W + share * (self.width() - NAME_W - RIGHT_W)

    def lane_at(self, y: float) -> LaneShown | None:
        """The lane under a height."""
        for top, row in self.rows():
            if not isinstance(row, str) and top <= y < top + self.lane_h:
                return row
        return None

    def span_of(self, instrument: str) -> tuple[int, int]:
        """From where to where an instrument's lane goes down [px]; nought for none."""
        found = (y for y, row in self.rows() if not isinstance(row, str) and row.id == instrument)
        top = next(found, None)
        return (0, 0) if top is None else (top, top + self.lane_h)

    def event(self, event: QEvent | None) -> bool:
        """What there is no room for in a lane is told where the mouse rests on it."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            lane = self.lane_at(self.pointed(QPointF(event.pos())).y())
            QToolTip.showText(event.globalPos(), plain_tip(lane_words.told_of(lane)) if lane is not None else "", self)
            return True
        return super().event(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What can be done with the lane under the mouse, or the one turned to where the keyboard asks."""
        if event is None or self._shown is None:
            return
        by_key = event.reason() == QContextMenuEvent.Reason.Keyboard
        at = self.span_of(self._selected)[0] if by_key else self.pointed(QPointF(event.pos())).y()
        if (lane := self.lane_at(at)) is None:
            return
        menu = QMenu(self)
        for text, said in (("Its film", self.opened), ("Something is wrong …", self.wrong_asked)):
            action = QAction(text, menu)
            action.triggered.connect(lambda _=False, s=said, i=lane.id: s.emit(i))
            menu.addAction(action)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(event.globalPos())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or (lane := self.lane_at(self.pointed(event.position()).y())) is None:
            return
        point = self.pointed(event.position())
        block = blocks.under(self._boxes(lane, self.span_of(lane.id)[0]), point)
        if block is not None and block.step:
            self._held = lane, block, point
        self.picked.emit(lane.id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._held is None or self._shown is None:
            return
        lane, block, began = self._held
        point = self.pointed(event.position())
        if self._drag is None and abs(point.x() - began.x()) > DRAG_PX:
            self._drag = blocks.Drag(lane=lane, block=block, days=self.legal(lane.id, block.step))
        if self._drag is not None:
            at = self.day_at(point.x())
            said = self._drag.days.get(at, blocks.NOT_THEN)
            QToolTip.showText(event.globalPosition().toPoint(), plain_tip(said or f"Pin it to {written.day(at)}"), self)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        drag, self._drag, self._held = self._drag, None, None
        if event is None or drag is None:
            return
        at = self.day_at(self.pointed(event.position()).x())
        self.dropped.emit(drag.lane.id, drag.block.step, at, drag.days.get(at, blocks.NOT_THEN))
        self.update()

    def day_at(self, x: float) -> date:
        """The day under a place across."""
        assert self._shown is not None
        span = (self._shown.end - self._shown.start).total_seconds()
        share = (x - NAME_W) / (self.width() - NAME_W - RIGHT_W)
        return (self._shown.start + timedelta(seconds=share * span)).date()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (lane := self.lane_at(self.pointed(event.position()).y())):
            self.opened.emit(lane.id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self._shown is None or not self._shown.lanes:
            return
        ids = [lane.id for lane in self._shown.lanes]
        at = ids.index(self._selected) if self._selected in ids else 0
        if event.key() == Qt.Key.Key_Down:
            self.picked.emit(ids[min(at + 1, len(ids) - 1)])
        elif event.key() == Qt.Key.Key_Up:
            self.picked.emit(ids[max(at - 1, 0)])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(ids[at])
        else:
            super().keyPressEvent(event)

    def choose_first(self) -> None:
        """Turn to the first lane there is, unless one of them is turned to."""
        ids = [lane.id for lane in self._shown.lanes] if self._shown is not None else []
        if ids and self._selected not in ids:
            self.picked.emit(ids[0])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if self._shown is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._shade(painter)
        top_um = max([_usual_top(x.timeline) for x in self._shown.lanes if x.timeline is not None] or [100.0])
        looked_at = self.looked_at(event)
        for y, row in self.rows():
            if y > looked_at.bottom() or y + max(self.lane_h, HEAD_H) < looked_at.top():
                continue
            if isinstance(row, str):
                lane_words.line(painter, (4, y + 6, self.width() - 8.0), row, 14, current().ink, bold=True)
            else:
                self._lane(painter, row, y, top_um)
        self._now(painter)
        self._axis(painter, self.visibleRegion().boundingRect().top())

    def _shade(self, painter: QPainter) -> None:
        """The days nobody is in."""
        assert self._shown is not None
        shade = _faint(current().line)
        for day, shut in self._shown.days:
            if shut:
                x = self.x_of(day)
                width = self.x_of(day + timedelta(days=1)) - x
                painter.fillRect(QRectF(x, AXIS_H, width, self._bottom() - AXIS_H), shade)

    def _axis(self, painter: QPainter, top: int) -> None:
        """The dates, at the top of what is in sight."""
        assert self._shown is not None
        p = current()
        painter.fillRect(QRectF(0, top, self.width(), AXIS_H), QColor(p.ground))
        painter.setFont(font(12))
        days = (self._shown.end - self._shown.start).days + 1
        every = next(n for n in (1, 2, 7, 14, 28, 3650) if days / n * 64 < self.width() - NAME_W)
        for index, (day, _) in enumerate(self._shown.days):
            x = self.x_of(day)
            if index % every == 0 and not -78 < x - self.x_of(self._shown.now) < 24:
                painter.setPen(QPen(QColor(p.line), 1))
                painter.drawLine(QPointF(x, top + AXIS_H - 6), QPointF(x, top + AXIS_H))
                painter.setPen(QColor(p.muted))
                text = f"{DAYS[day.weekday()]} {day.day}" if every < 7 else written.day(day, weekday=False)
                if x + 3 + painter.fontMetrics().horizontalAdvance(text) < self.width():
                    painter.drawText(QRectF(x + 3, top + 4, 70, 18), Qt.AlignmentFlag.AlignLeft, text)
        x = self.x_of(self._shown.now)
        painter.setFont(font(12, bold=True))
        label = QRectF(x - 20, top + 2, 40, 18)
        painter.fillRect(label, QColor(p.ink))
        painter.setPen(QColor(p.panel))
        painter.drawText(label, Qt.AlignmentFlag.AlignCenter, "now")
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawLine(QPointF(x, top + 20), QPointF(x, top + AXIS_H))

    def _lane(self, painter: QPainter, lane: LaneShown, y: int, top_um: float) -> None:
        assert self._shown is not None
        p = current()
        if lane.id == self._selected:
            painter.fillRect(QRectF(0, y, 5, self.lane_h - 4), QColor(p.accent))
            painter.fillRect(QRectF(5, y, NAME_W - 17, self.lane_h - 4), QColor(p.accent_soft))
        lane_words.paint(painter, lane, y, NAME_W, self.density)
        wood = float(y + self.lane_h - DENSITIES[self.density].under)
        self._film(painter, lane, wood, top_um)
        painter.setPen(QPen(QColor(p.wood_line), 2))
        painter.drawLine(QPointF(NAME_W, wood + 1), QPointF(self.width() - RIGHT_W, wood + 1))
        if self.density != "lines":
            low = wood + (7 if self.density == "roomy" else 3)
            lane_marks.paint(painter, lane, low, self._shown.start, self.x_of, (NAME_W, self.width() - RIGHT_W))
        if self._drag is not None and self._drag.lane.id == lane.id:
            self._where(painter, y)
        wounds.paint(painter, [(self.x_of(w.at), w.heavy) for w in lane.wounds if w.at >= self._shown.start], wood)
        blocks.paint(painter, self._boxes(lane, y), self.x_of(self._shown.now) + 3.0)
        self._windows(painter, lane, wood, y)
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, y + self.lane_h - 3), QPointF(self.width(), y + self.lane_h - 3))

    def _where(self, painter: QPainter, y: int) -> None:
        """The days a block that is dragged may be dropped on."""
        assert self._shown is not None and self._drag is not None
        for day, _ in self._shown.days:
            if self._drag.days.get(day.date(), "no") == "":
                x = self.x_of(day)
                wide = self.x_of(day + timedelta(days=1)) - x
                painter.fillRect(QRectF(x + 1, y, wide - 2, self.lane_h - 4), _faint(current().open_ink))

    def _bottom(self) -> int:
        """Where the last lane ends [px]."""
        return AXIS_H + self._heads_h() + self.lane_h * (len(self._shown.lanes) if self._shown is not None else 0)

    def _film(self, painter: QPainter, lane: LaneShown, wood: float, top_um: float) -> None:
        if lane.timeline is None or self._shown is None:
            return
        # Only a lane whose film has been worked out needs these; the first paint has none.
        import numpy as np

        from ravden.ui.widgets import strata

        width = self.width() - NAME_W - RIGHT_W
        span_h = (self._shown.end - self._shown.start).total_seconds() / 3600
        start_h = (self._shown.start - lane.zero).total_seconds() / 3600
        hours = start_h + (np.arange(width) + 0.5) / width * span_h
        # A film of 12 um beside one of 150 must still be seen: each lane fills its own height, at least by half.
        own = _usual_top(lane.timeline)
        scale_um = max(own, min(top_um, 2 * own))
        # A lane is drawn far more often than its film changes.
        of = (lane.timeline, width, self._film_h, scale_um, lane.now_h, self._shown.start, span_h, current())
        kept = self._films.get(lane.id)
        if kept is None or kept[0][0] is not of[0] or kept[0][1:] != of[1:]:
            kept = self._films[lane.id] = (
                of, strata.film_image(lane.timeline, hours, self._film_h, scale_um, lane.now_h, current())
            )  # fmt: skip
        image = kept[1]
        painter.drawImage(QPointF(NAME_W, wood - self._film_h), image)

    def _boxes(self, lane: LaneShown, top: int) -> list[tuple[Block, QRectF]]:
        """The blocks of a lane that begins at a height, each with where it stands."""
        assert self._shown is not None
        wood = float(top + self.lane_h - DENSITIES[self.density].under)
        under, high = {"roomy": (9.0, 12.0), "close": (5.0, 12.0), "lines": (2.0, 4.0)}[self.density]
        first = self.x_of(self._shown.now) + 3.0
        return blocks.laid_out(lane.blocks, self.x_of, (wood + under, high), (first, self.width() - RIGHT_W))

    def _windows(self, painter: QPainter, lane: LaneShown, wood: float, y: int) -> None:
        assert self._shown is not None
        p = current()
        edge, top = 0.0, y + (4 if self.density == "lines" else 20)
        for i, mark in enumerate(lane.windows):
            if mark.likely is None or not self._shown.start <= mark.likely <= self._shown.end:
                continue
            x = self.x_of(mark.likely)
            early = self.x_of(max(mark.early or mark.likely, self._shown.start))
            late = min(self.x_of(mark.late) if mark.late else self.width(), self.width() - RIGHT_W)
            painter.setPen(QPen(QColor(p.open_ink), 1.6))
            painter.drawLine(QPointF(x, top), QPointF(x, wood))
            painter.setPen(QPen(QColor(p.open_ink), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(max(early, NAME_W), top + 0.5 + 4 * i), QPointF(late, top + 0.5 + 4 * i))
            if self.density == "lines":
                continue
            painter.setFont(font(12, bold=True))
            painter.setPen(QColor(p.open_ink))
            text_w = painter.fontMetrics().horizontalAdvance(mark.label)
            at = max(x - 2, edge)
            if at + text_w < self.width():
                painter.drawText(QRectF(at, y + 2, text_w + 4, 16), Qt.AlignmentFlag.AlignLeft, mark.label)
                edge = at + text_w + 8
        if lane.promised is not None and self._shown.start <= lane.promised <= self._shown.end:
            x = self.x_of(lane.promised)
            painter.setPen(QPen(QColor(p.warn), 1.6, Qt.PenStyle.DashLine))
            under = 22 if self.density == "roomy" else 0
            painter.drawLine(QPointF(x, top), QPointF(x, wood + under))
            if not under:
                return
            painter.setPen(QColor(p.warn))
            painter.setFont(font(12))
            painter.drawText(QRectF(x - 60, wood + 22, 120, 16), Qt.AlignmentFlag.AlignHCenter, "promised")

    def _now(self, painter: QPainter) -> None:
        assert self._shown is not None
        x = self.x_of(self._shown.now)
        painter.setPen(QPen(QColor(current().ink), 1.6))
        painter.drawLine(QPointF(x, 20), QPointF(x, self._bottom()))


def _faint(colour: str) -> QColor:
    out = QColor(colour)
    out.setAlpha(60)
    return out


def _usual_top(line: FilmTimeline | None) -> float:
    """The thickest the film gets once the wet has gone off it [um]."""
    if line is None:
        return 100.0
    calm = line.phi_mean < 0.25
    return float(line.film_um[calm].max()) * 1.08 if calm.any() else float(line.film_um.max())
