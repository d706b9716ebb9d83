"""The lanes of the Rack: one instrument a lane on one time axis."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.text.words import DAYS, MONTHS
from ravden.ui.places.rack.presenter import LaneShown, RackShown
from ravden.ui.theme.style import current, font
from ravden.ui.widgets import tally

if TYPE_CHECKING:
    from ravden.core.ahead.timeline import FilmTimeline

NAME_W, AXIS_H, RIGHT_W = 214, 30, 12
LANE_MIN_H, LANE_MAX_H, UNDER_WOOD = 118, 172, 48  # a lane grows when there are few of them


class Lanes(QWidget):
    """Draws a RackShown; a click selects, a double click or Enter opens."""

    picked = pyqtSignal(str)
    opened = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown: RackShown | None = None
        self._selected = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Instruments on the rack")
        self.setToolTip("Click to choose an instrument, double-click or Enter to see its film")

    def show_rack(self, shown: RackShown, selected: str) -> None:
        """Show this; selected: the instrument turned to."""
        self._shown, self._selected = shown, selected
        self.setMinimumHeight(AXIS_H + LANE_MIN_H * len(shown.lanes) + 4)
        lane = next((x for x in shown.lanes if x.id == selected), None)
        self.setAccessibleDescription(f"{lane.name}: {lane.next_act} {lane.next_when}" if lane else "")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(900, self.minimumHeight())

    @property
    def lane_h(self) -> int:
        """Height of a lane [px]."""
        lanes = len(self._shown.lanes) if self._shown is not None else 1
        return min(max((self.height() - AXIS_H - 4) // max(lanes, 1), LANE_MIN_H), LANE_MAX_H)

    @property
    def _film_h(self) -> int:
        """Height of a lane's film [px], under the labels of its windows."""
        return self.lane_h - UNDER_WOOD - 18

    def x_of(self, moment: datetime) -> float:
        """Where a moment lies across."""
        assert self._shown is not None
        span = (self._shown.end - self._shown.start).total_seconds()
        share = (moment - self._shown.start).total_seconds() / span
        return NAME_W + share * (self.width() - NAME_W - RIGHT_W)

    def lane_at(self, y: float) -> LaneShown | None:
        """The lane under a height."""
        if self._shown is None:
            return None
        index = int((y - AXIS_H) // self.lane_h)
        return self._shown.lanes[index] if 0 <= index < len(self._shown.lanes) and y >= AXIS_H else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (lane := self.lane_at(event.position().y())):
            self.picked.emit(lane.id)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (lane := self.lane_at(event.position().y())):
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

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._shown is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._axis(painter)
        top_um = max([_usual_top(x.timeline) for x in self._shown.lanes if x.timeline is not None] or [100.0])
        for i, lane in enumerate(self._shown.lanes):
            self._lane(painter, lane, AXIS_H + i * self.lane_h, top_um)
        self._now(painter)

    def _axis(self, painter: QPainter) -> None:
        assert self._shown is not None
        p = current()
        painter.setFont(font(12))
        day = self._shown.start.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(days=1)
        days = (self._shown.end - self._shown.start).days + 1
        every = next(n for n in (1, 2, 7, 14, 28, 3650) if days / n * 64 < self.width() - NAME_W)
        index = 0
        while day < self._shown.end:
            x = self.x_of(day)
            weekend = day.weekday() >= 5
            if weekend:
                width = self.x_of(day + timedelta(days=1)) - x
                painter.fillRect(QRectF(x, AXIS_H, width, self.lane_h * len(self._shown.lanes)), _faint(p.line))
            if index % every == 0 and not -78 < x - self.x_of(self._shown.now) < 24:
                painter.setPen(QPen(QColor(p.line), 1))
                painter.drawLine(QPointF(x, AXIS_H - 6), QPointF(x, AXIS_H))
                painter.setPen(QColor(p.muted))
                text = f"{DAYS[day.weekday()]} {day.day}" if every < 7 else f"{day.day} {MONTHS[day.month - 1]}"
                painter.drawText(QRectF(x + 3, 4, 70, 18), Qt.AlignmentFlag.AlignLeft, text)
            index += 1
            day += timedelta(days=1)

    def _lane(self, painter: QPainter, lane: LaneShown, y: int, top_um: float) -> None:
        assert self._shown is not None
        p = current()
        if lane.id == self._selected:
            painter.fillRect(QRectF(0, y, 5, self.lane_h - 4), QColor(p.accent))
            painter.fillRect(QRectF(5, y, NAME_W - 17, self.lane_h - 4), QColor(p.accent_soft))
        left, width = 16.0, NAME_W - 34.0
        self._text(painter, left, y + 6, width, lane.name, 17, p.ink, bold=True)
        about = lane.about.split(" · ")
        self._text(painter, left, y + 28, width, about[0], 12, p.muted)
        self._text(painter, left, y + 43, width, " · ".join(about[1:]), 12, p.muted)
        tone = {"open": p.open_ink, "warn": p.warn}.get(lane.tone, p.ink)
        self._text(painter, left, y + 64, width, lane.next_act, 14, tone, bold=True)
        painter.setFont(font(12))
        painter.setPen(QColor(tone))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.drawText(QRectF(left, y + 82, width, 32), flags, lane.next_when)
        wood = float(y + self.lane_h - UNDER_WOOD)
        self._film(painter, lane, wood, top_um)
        painter.setPen(QPen(QColor(p.wood_line), 2))
        painter.drawLine(QPointF(NAME_W, wood + 1), QPointF(self.width() - RIGHT_W, wood + 1))
        self._tallies(painter, lane, wood + 7)
        self._windows(painter, lane, wood, y)
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, y + self.lane_h - 3), QPointF(self.width(), y + self.lane_h - 3))

    @staticmethod
    def _text(
        painter: QPainter, x: float, y: float, width: float, text: str, px: int, colour: str, *, bold: bool = False
    ) -> None:
        face = font(px, bold=bold)
        painter.setFont(face)
        painter.setPen(QColor(colour))
        short = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(width))
        painter.drawText(QRectF(x, y, width, px * 1.5), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, short)

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
        image = strata.film_image(lane.timeline, hours, self._film_h, scale_um, lane.now_h, current())
        painter.drawImage(QPointF(NAME_W, wood - self._film_h), image)

    def _tallies(self, painter: QPainter, lane: LaneShown, y: float) -> None:
        p = current()
        edge = float(NAME_W)
        for moments, planned in ((lane.coats, False), (lane.planned_coats, True)):
            for group in _sessions(moments):
                x = max(self.x_of(group[0]), edge)
                if self._shown is not None and group[-1] >= self._shown.start and x < self.width() - RIGHT_W:
                    box = tally.draw(painter, x, y, len(group), p.muted if planned else p.ink, planned=planned)
                    edge = box.right() + 6
        for moment in lane.sandings:
            x = self.x_of(moment)
            painter.setPen(QPen(QColor(p.accent), 2.5))
            painter.drawLine(QPointF(x - 7, y + 20), QPointF(x + 7, y + 20))
        for moment in lane.readings:
            x = self.x_of(moment)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.accent))
            painter.drawPolygon(QPolygonF([QPointF(x - 5, y + 25), QPointF(x + 5, y + 25), QPointF(x, y + 16)]))
            painter.setBrush(Qt.BrushStyle.NoBrush)

    def _windows(self, painter: QPainter, lane: LaneShown, wood: float, y: int) -> None:
        assert self._shown is not None
        p = current()
        edge = 0.0
        for i, mark in enumerate(lane.windows):
            if mark.likely is None or not self._shown.start <= mark.likely <= self._shown.end:
                continue
            x = self.x_of(mark.likely)
            early = self.x_of(max(mark.early or mark.likely, self._shown.start))
            late = min(self.x_of(mark.late) if mark.late else self.width(), self.width() - RIGHT_W)
            painter.setPen(QPen(QColor(p.open_ink), 1.6))
            painter.drawLine(QPointF(x, y + 20), QPointF(x, wood))
            painter.setPen(QPen(QColor(p.open_ink), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(max(early, NAME_W), y + 20.5 + 4 * i), QPointF(late, y + 20.5 + 4 * i))
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
            painter.drawLine(QPointF(x, y + 20), QPointF(x, wood + 22))
            painter.setPen(QColor(p.warn))
            painter.setFont(font(12))
            painter.drawText(QRectF(x - 60, wood + 22, 120, 16), Qt.AlignmentFlag.AlignHCenter, "promised")

    def _now(self, painter: QPainter) -> None:
        assert self._shown is not None
        p = current()
        x = self.x_of(self._shown.now)
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawLine(QPointF(x, 20), QPointF(x, AXIS_H + self.lane_h * len(self._shown.lanes)))
        painter.setFont(font(12, bold=True))
        label = QRectF(x - 20, 2, 40, 18)
        painter.fillRect(label, QColor(p.ink))
        painter.setPen(QColor(p.panel))
        painter.drawText(label, Qt.AlignmentFlag.AlignCenter, "now")


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


def _sessions(moments: tuple[datetime, ...]) -> list[list[datetime]]:
    """Coats of one session together."""
    out: list[list[datetime]] = []
    for m in moments:
        if out and m - out[-1][-1] < timedelta(hours=10):
            out[-1].append(m)
        else:
            out.append([m])
    return out
