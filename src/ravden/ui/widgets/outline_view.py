"""The instrument from the front, its zones coloured by film, each with its number; a click turns to a zone."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.core.instrument.outline import Outline
from ravden.ui.theme.palette import mix
from ravden.ui.theme.style import current, fit, font
from ravden.ui.widgets import wounds
from ravden.ui.widgets.picture import Picture

EDGE_PX = 9
ROOMY = 190  # below this height a second line would run into the edge
Points = NDArray[np.float64]
Place = Callable[[float, float], QPointF]  # along and across [mm] to where it is painted
MANY, DRAWN_EVERY = 100, 4  # of an outline's 800 points; more cannot be seen at this size


class ZoneRow(Protocol):
    """What is shown of a zone: its film, the range of it, and a tone (open, plain or warn)."""

    @property
    def name(self) -> str: ...

    @property
    def film(self) -> str: ...

    @property
    def range(self) -> str: ...

    @property
    def odds(self) -> str: ...

    @property
    def tone(self) -> str: ...


class OutlineView(Picture):
    """Draws a body with neck and head; zones it cannot show from the front are in the table beside it."""

    picked = pyqtSignal(str)
    placed = pyqtSignal(str, float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._body: Outline | None = None
        self._neck_mm = 0.0
        self._rows: dict[str, ZoneRow] = {}
        self._zone = ""
        self._odds = False
        self._places: tuple[tuple[float, float, str], ...] = ()
        self._spots: tuple[tuple[float, float, str], ...] = ()
        self._tapped: tuple[float, float] | None = None
        self._to_mm: Callable[[QPointF], tuple[float, float]] | None = None
        self._at: Place | None = None
        self.areas: list[tuple[str, QPainterPath]] = []
        self._drawn_for: tuple[int, int, int, float] | None = None
        self._body_path, self._inner_path = QPainterPath(), QPainterPath()
        fit(self, lambda w: w.need_height(120))
        self.setAccessibleName("Zones on the instrument")
        self.setToolTip("Click a zone to see its film through time; R then logs a reading taken at that spot")

    def sizeHint(self) -> QSize:
        # It gives way before what is under it would have to scroll, and takes what room there is.
        return QSize(260, self.minimumHeight())

    def show_body(self, body: Outline | None, neck_mm: float, rows: Sequence[ZoneRow], zone: str) -> None:
        """Show this instrument; zone: the one turned to."""
        if body is not self._body:
            self._tapped = None
        self._body, self._neck_mm, self._zone = body, neck_mm, zone
        self._rows = {r.name: r for r in rows}
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for name, path in reversed(self.areas):
            if path.contains(self.pointed(event.position())):
                if self._to_mm is not None:
                    self._tapped = self._to_mm(self.pointed(event.position()))
                    self.placed.emit(name, *self._tapped)
                self.update()
                self.picked.emit(name)
                return

    def show_places(self, places: tuple[tuple[float, float, str], ...]) -> None:
        """Where readings were taken: along and across the body [mm], and what was read."""
        if places != self._places:
            self._places, self._tapped = places, None
            self.update()

    def show_spots(self, spots: tuple[tuple[float, float, str], ...]) -> None:
        """Where something is wrong: along and across the body [mm], and what."""
        if spots != self._spots:
            self._spots = spots
            self.update()

    def show_odds(self, on: bool) -> None:
        """Odds on the zones instead of film."""
        self._odds = on
        self.update()

    def _fill(self, name: str) -> QColor:
        p = current()
        row = self._rows.get(name)
        if row is None:
            return QColor(p.wood)
        strength = {"open": p.accent, "plain": p.wood_line, "warn": p.warn}[row.tone]
        return QColor(mix(p.panel, strength, 0.38))

    def _hatched(self, painter: QPainter, name: str, path: QPainterPath) -> None:
        """What is at risk is hatched, so that it reads without colour vision."""
        row = self._rows.get(name)
        if row is not None and row.tone == "warn":
            painter.fillPath(path, QBrush(QColor(current().warn), Qt.BrushStyle.BDiagPattern))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.areas = []
        if self._body is None:
            return
        points: Points = self._body.points
        points = points[:: DRAWN_EVERY if len(points) > MANY else 1]
        x0, x1 = float(points[:, 0].min()), float(points[:, 0].max())
        half = float(np.abs(points[:, 1]).max())
        alone = not self._body.plan_cm2
        # The neck is drawn short: it says which zone is meant, and leaves the room to the body.
        neck = 0.0 if alone else min(self._neck_mm, 0.34 * (x1 - x0))
        head_mm = 0.28 * (x1 - x0) if self._neck_mm else 0.0
        total = (x1 - x0) + neck + head_mm
        scale = min((self.height() - 12) / total, (self.width() - 24) / (2 * half))
        mid = self.width() / 2
        top = (self.height() - total * scale) / 2

        def at(x: float, y: float) -> QPointF:
            return QPointF(mid + y * scale, top + (x - x0 + neck + head_mm) * scale)

        def to_mm(point: QPointF) -> tuple[float, float]:
            return (point.y() - top) / scale + x0 - neck - head_mm, (point.x() - mid) / scale

        self._to_mm, self._at = to_mm, at
        if alone:
            self._paint_neck_alone(painter, at, points, head_mm)
        else:
            self._paint_body(painter, at, points, neck, head_mm, scale)
        self._dots(painter, at)

    def _paint_neck_alone(self, painter: QPainter, at: Place, points: Points, head_mm: float) -> None:
        """A neck with its head and no body: all of the room is theirs."""
        x0, x1 = float(points[:, 0].min()), float(points[:, 0].max())
        slim = float(np.abs(points[points[:, 0] == x0][:, 1]).max())
        path = QPainterPath()
        path.addPolygon(QPolygonF([at(float(x), float(y)) for x, y in points]))
        path.closeSubpath()
        self.areas = [("neck", path), ("head", _head(at, x0, head_mm, slim, 1.5 * slim))]
        for name, area in self.areas:
            self._paint_part(painter, name, area)
        for name, x in (("head", x0 - 0.5 * head_mm), ("neck", x0 + 0.5 * (x1 - x0))):
            self._label(painter, at(x, 0), name, big=False)

    def _paint_body(
        self, painter: QPainter, at: Place, points: Points, neck: float, head_mm: float, scale: float
    ) -> None:
        """A body, and its neck and head where it has them."""
        p = current()
        x0, x1 = float(points[:, 0].min()), float(points[:, 0].max())
        half = float(np.abs(points[:, 1]).max())
        drawn_for = (id(self._body), self.width(), self.height(), neck)
        if self._drawn_for != drawn_for:
            self._drawn_for = drawn_for
            self._body_path, self._inner_path = QPainterPath(), QPainterPath()
            self._body_path.addPolygon(QPolygonF([at(float(x), float(y)) for x, y in points]))
            self._body_path.closeSubpath()
            shrink = 1 - 2 * EDGE_PX / max(2 * half * scale, 1)
            cx = (x0 + x1) / 2
            self._inner_path.addPolygon(
                QPolygonF([at(cx + (float(x) - cx) * shrink, float(y) * shrink) for x, y in points])
            )
        body = self._body_path
        if neck:
            slim, wide = 0.10 * half + 12, 0.15 * half + 18
            neck_path = QPainterPath()
            neck_path.addPolygon(QPolygonF([at(x0 + 25, -slim), at(x0 + 25, slim), at(x0 - neck, 0.8 * slim),
                                            at(x0 - neck, -0.8 * slim)]))  # fmt: skip
            neck_path.closeSubpath()
            self.areas += [("neck", neck_path), ("head", _head(at, x0 - neck, head_mm, 0.8 * slim, wide))]
        self.areas += [("edges", body)]
        edge = QPen(self._fill("edges"), 2 * EDGE_PX)
        edge.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        painter.save()
        painter.setClipPath(body)
        painter.fillPath(body, self._fill("top"))
        painter.strokePath(body, edge)
        self._hatched(painter, "edges", body.subtracted(self._inner_path))
        self._hatched(painter, "top", self._inner_path)
        painter.restore()
        for name, path in self.areas[:-1]:
            self._paint_part(painter, name, path)
        painter.strokePath(body, QPen(QColor(p.accent if self._zone == "edges" else p.ink), 1.4))
        self.areas.append(("top", self._inner_path))
        self._label(painter, at(x0 + 0.66 * (x1 - x0), 0), "top", big=True)
        for name, x in (("head", x0 - neck - 0.5 * head_mm), ("neck", x0 - 0.5 * neck)):
            if neck and name in self._rows:
                self._label(painter, at(x, 0), name, big=False)

    def _paint_part(self, painter: QPainter, name: str, path: QPainterPath) -> None:
        p = current()
        painter.fillPath(path, self._fill(name))
        self._hatched(painter, name, path)
        mine = name == self._zone
        painter.strokePath(path, QPen(QColor(p.accent if mine else p.muted), 2.5 if mine else 1))

    def _dots(self, painter: QPainter, at: Place) -> None:
        """Readings where they were taken, and the spot tapped last."""
        p = current()
        painter.setPen(QPen(QColor(p.panel), 1.5))
        painter.setBrush(QColor(p.accent))
        for x, y, _ in self._places:
            painter.drawEllipse(at(x, y), 4, 4)
        for x, y, _ in self._spots:
            wounds.mark(painter, at(x, y), heavy=True)
        if self._tapped is not None:
            painter.setPen(QPen(QColor(p.ink), 1.6))
            spot = at(*self._tapped)
            painter.drawLine(QPointF(spot.x() - 6, spot.y()), QPointF(spot.x() + 6, spot.y()))
            painter.drawLine(QPointF(spot.x(), spot.y() - 6), QPointF(spot.x(), spot.y() + 6))

    def _clear_of_dots(self, at: QPointF, *, big: bool) -> QPointF:
        """Where a number stands that no reading's mark is under it: lower, or higher."""
        if self._at is None:
            return at
        marks = [self._at(x, y) for x, y, _ in (*self._places, *self._spots)] + (
            [self._at(*self._tapped)] if self._tapped else []
        )
        roomy = self.height() > ROOMY
        wide, high = (34.0, 22.0) if big and roomy else (24.0, 15.0) if big else (18.0, 12.0)
        for dy in (0.0, high, -high, 1.4 * high, -1.4 * high):
            if not any(abs(m.x() - at.x()) < wide and abs(m.y() - at.y() - dy) < high for m in marks):
                return QPointF(at.x(), at.y() + dy)
        return at

    def _label(self, painter: QPainter, at: QPointF, name: str, *, big: bool) -> None:
        row = self._rows.get(name)
        if row is None:
            return
        p = current()
        if getattr(row, "measure", False):
            # Where a gauge is to touch: a target, so that it reads without colour.
            painter.setPen(QPen(QColor(p.accent), 2.0, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 30 if big else 14, 26 if big else 14)
        at = self._clear_of_dots(at, big=big)
        shown = row.odds.replace("under ", "<").replace("over ", ">").replace(" %", "%") if self._odds else row.film
        size = 24 if self.height() > ROOMY else 17
        painter.setFont(font(size if big else 11 if self._odds else 13, bold=True))
        if not big:
            # A neck is narrower than its number: a slip under it keeps the edge from running through.
            wide = painter.fontMetrics().horizontalAdvance(shown) + 5.0
            slip = self._fill(name)
            painter.fillRect(QRectF(at.x() - wide / 2, at.y() - 8, wide, 15), slip)
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(at.x() - 50, at.y() - 16, 100, 30), Qt.AlignmentFlag.AlignCenter, shown)
        if big and self.height() > ROOMY:
            painter.setFont(font(12))
            painter.drawText(
                QRectF(at.x() - 60, at.y() + 14, 120, 18),
                Qt.AlignmentFlag.AlignCenter,
                "odds" if self._odds else row.range,
            )


def _head(at: Place, x: float, long_mm: float, slim: float, wide: float) -> QPainterPath:
    """A head on the end of a neck at x: as wide as the neck there, then wider."""
    path = QPainterPath()
    path.addPolygon(QPolygonF([at(x, -slim), at(x, slim), at(x - 0.25 * long_mm, wide), at(x - long_mm, 0.85 * wide),
                               at(x - long_mm, -0.85 * wide), at(x - 0.25 * long_mm, -wide)]))  # fmt: skip
    path.closeSubpath()
    return path
