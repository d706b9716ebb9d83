"""The film timeline: time across, film above the wood upward."""

import functools

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.text import written
from ravden.text.units import Units
from ravden.ui.places.film import step_strip
from ravden.ui.places.film.presenter import FilmShown
from ravden.ui.places.film.step_marks import StepMark
from ravden.ui.places.film.time_axis import day_ticks
from ravden.ui.theme.palette import PALETTES, RAMP_MARGINS_K, ramp_index, ramp_table
from ravden.ui.theme.style import current, fit, font, px
from ravden.ui.widgets import strata, tally, wounds
from ravden.ui.widgets.picture import Picture
from ravden.ui.widgets.tips import plain_tip

LEFT, RIGHT, TOP, BOTTOM = 52, 14, 44, 96
WOOD_H = 18
TIP = (
    "Drag, or use the arrow keys, to look at the film at another moment; Home is now. "
    "The steps stand in the wood: click one, or press Enter, for its page"
)
KEY_LABELS = ((-25.0, "wet"), (-8.0, "soft"), (5.0, "scuff"), (11.5, "level"), (17.5, "buff"), (27.0, "case"))


class Timeline(Picture):
    """Paints a FilmShown; the cursor is moved by mouse or by the arrow keys and tells its hour."""

    cursor_moved = pyqtSignal(float)
    step_picked = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.shown: FilmShown | None = None
        self._units = Units()
        self._cursor_h: float | None = None
        self._image: QImage | None = None
        self._image_key: tuple[int, int, int, str] | None = None
        fit(self, lambda w: w.setMinimumSize(px(420), px(300)))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Film timeline")
        self.setToolTip(TIP)

    def sizeHint(self) -> QSize:
        return QSize(820, 460)

    def show_film(self, shown: FilmShown, units: Units, cursor_h: float | None) -> None:
        """Show this; cursor_h None: the cursor stands at now."""
        self.shown, self._units, self._cursor_h = shown, units, cursor_h
        self._image = None
        self.update()

    @property
    def cursor_h(self) -> float:
        """The hour looked at."""
        if self.shown is None:
            return 0.0
        return self.shown.now_h if self._cursor_h is None else self._cursor_h

    def _plot(self) -> QRectF:
        return QRectF(LEFT, TOP, max(self.width() - LEFT - RIGHT, 10), max(self.height() - TOP - BOTTOM, 10))

    def x_of(self, hour: float) -> float:
        """Where an hour lies across, in pixels."""
        box = self._plot()
        if self.shown is None or self.shown.warp is None:
            return box.left()
        return box.left() + self.shown.warp.place(hour) * box.width()

    def _y(self, um: float) -> float:
        box = self._plot()
        assert self.shown is not None
        return box.bottom() - um / self.shown.top_um * box.height()

    def move_to(self, x: float) -> None:
        if self.shown is None or self.shown.warp is None:
            return
        box = self._plot()
        self._cursor_h = self.shown.warp.hour(min(max((x - box.left()) / box.width(), 0.0), 1.0))
        self.update()
        self.cursor_moved.emit(self._cursor_h)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        step = self._step_at(self.pointed(event.position()))
        if step is not None:
            self.step_picked.emit(step.index)
        else:
            self.move_to(self.pointed(event.position()).x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.move_to(self.pointed(event.position()).x())
            return
        step = self._step_at(self.pointed(event.position()))
        self.setCursor(Qt.CursorShape.PointingHandCursor if step is not None else Qt.CursorShape.ArrowCursor)
        self.setToolTip(TIP if step is None else plain_tip(f"{step.label}: its page"))

    def band_of_wood(self) -> QRectF:
        box = self._plot()
        return QRectF(box.left(), box.bottom(), box.width(), WOOD_H)

    def _step_at(self, at: QPointF) -> StepMark | None:
        if self.shown is None or self.shown.warp is None:
            return None
        return step_strip.step_at(at.x(), at.y(), self.shown.steps, self.x_of, self.band_of_wood())

    def _step_at_cursor(self) -> StepMark | None:
        return self._step_at(QPointF(self.x_of(self.cursor_h), self.band_of_wood().center().y()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = 8 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 2
        if event.key() == Qt.Key.Key_Left:
            self.move_to(self.x_of(self.cursor_h) - step)
        elif event.key() == Qt.Key.Key_Right:
            self.move_to(self.x_of(self.cursor_h) + step)
        elif event.key() == Qt.Key.Key_Home and self.shown is not None:
            self._cursor_h = None
            self.update()
            self.cursor_moved.emit(self.shown.now_h)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and (here := self._step_at_cursor()) is not None:
            self.step_picked.emit(here.index)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        shown = self.shown
        if shown is None:
            return
        self._scale(painter)
        if shown.timeline is None or shown.warp is None:
            self._bare(painter)
            return
        self._film(painter)
        self._band(painter)
        self._floor(painter)
        self._marks(painter)
        self._wood(painter)
        self._under(painter)
        self._wounds(painter)
        self._cursor(painter)
        self._key(painter)

    def _scale(self, painter: QPainter) -> None:
        assert self.shown is not None
        p, box = current(), self._plot()
        painter.setFont(font(12))
        painter.setPen(QColor(p.muted))
        painter.drawText(QRectF(4, box.top() - 24, LEFT - 10, 18), Qt.AlignmentFlag.AlignRight, self._units.film_unit)
        shown_top = self._units.film_value(self.shown.top_um)
        raw = shown_top / 5
        power = 10 ** np.floor(np.log10(raw))
        step = float(next(m * power for m in (1, 2, 2.5, 5, 10) if m * power >= raw))
        value = 0.0
        while value <= shown_top:
            y = self._y(self._units.film_to_um(value))
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            painter.setPen(QColor(p.muted))
            text = written.number(value, "g")
            painter.drawText(QRectF(4, y - 9, LEFT - 10, 18), Qt.AlignmentFlag.AlignRight, text)
            value = round(value + step, 9)

    def _bare(self, painter: QPainter) -> None:
        p, box = current(), self._plot()
        self._wood(painter)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(17))
        painter.drawText(
            box,
            Qt.AlignmentFlag.AlignCenter,
            "Bare wood so far.\nLog the first coat with C and the film grows from here.",
        )

    def _film(self, painter: QPainter) -> None:
        assert self.shown is not None and self.shown.timeline is not None and self.shown.warp is not None
        box = self._plot()
        width, height = int(box.width()), int(box.height())
        key = (id(self.shown), width, height, current().name)
        if self._image is None or self._image_key != key:
            hours = self.shown.warp.columns(width)
            self._image = strata.film_image(
                self.shown.timeline, hours, height, self.shown.top_um, self.shown.now_h, current()
            )
            self._image_key = key
        painter.drawImage(QPointF(box.left(), box.bottom() - height), self._image)

    def _curve(self, values: np.ndarray, *, past: bool) -> QPolygonF:
        assert self.shown is not None and self.shown.timeline is not None
        hours = self.shown.timeline.hours
        warp = self.shown.warp
        assert warp is not None
        box = self._plot()
        keep = (hours <= self.shown.now_h) if past else (hours >= self.shown.now_h)
        x = box.left() + np.interp(hours[keep], warp.hours, warp.places) * box.width()
        y = np.maximum(box.bottom() - values[keep] / self.shown.top_um * box.height(), box.top())
        return QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)])

    def _band(self, painter: QPainter) -> None:
        assert self.shown is not None and self.shown.timeline is not None
        p, line = current(), self.shown.timeline
        for past in (True, False):
            painter.setPen(QPen(QColor(p.ink), 1.4 if past else 1.0))
            painter.drawPolyline(self._curve(line.film_um, past=past))
            # Dashes are drawn without smoothing: it costs more than all the rest and shows less.
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            # The slip of panel under them keeps them readable over film as pale, or as dark, as they are.
            dashes = QPen(QColor(p.accent), 1, Qt.PenStyle.DashLine if past else Qt.PenStyle.DotLine)
            for values in (line.low_um, line.high_um):
                curve = self._curve(values, past=past)
                for pen in (QPen(QColor(p.panel), 1), dashes):
                    painter.setPen(pen)
                    painter.drawPolyline(curve)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def _floor(self, painter: QPainter) -> None:
        assert self.shown is not None
        if self.shown.floor_um <= 0:
            return
        p, box = current(), self._plot()
        y = self._y(self.shown.floor_um)
        painter.setPen(QPen(QColor(p.floor), 1.6, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        self._boxed(
            painter,
            box.right() - 4,
            y - 20,
            f"least film wanted {self._units.film(self.shown.floor_um)}",
            p.floor,
            align_right=True,
        )

    def _boxed(self, painter: QPainter, x: float, y: float, text: str, colour: str, *, align_right: bool) -> float:
        """Text on a slip of panel, readable over any film; returns its width."""
        painter.setFont(font(12, bold=True))
        width = painter.fontMetrics().horizontalAdvance(text) + 8.0
        slip = QRectF(x - width if align_right else x, y, width, 17)
        ground = QColor(current().panel)
        ground.setAlpha(215)
        painter.fillRect(slip, ground)
        painter.setPen(QColor(colour))
        painter.drawText(slip, Qt.AlignmentFlag.AlignCenter, text)
        return width

    def _marks(self, painter: QPainter) -> None:
        assert self.shown is not None
        p, box = current(), self._plot()
        for mark in self.shown.marks:
            x = self.x_of(mark.at_h)
            painter.setPen(QPen(QColor(p.open_ink), 1.6, Qt.PenStyle.DashDotLine))
            painter.drawLine(QPointF(x, box.top() - 6), QPointF(x, box.bottom()))

    def _names(self, painter: QPainter) -> None:
        """What the windows are, over every line, the one of now too."""
        assert self.shown is not None
        p, box = current(), self._plot()
        edge = -1e9
        for mark in self.shown.marks:
            x = self.x_of(mark.at_h)
            painter.setFont(font(12, bold=True))
            width = painter.fontMetrics().horizontalAdvance(mark.label) + 8.0
            left = x - width + 4 if x - 4 + width > box.right() else x - 4
            y = box.top() - 22 if left > edge else box.top() - 4
            self._boxed(painter, left, y, mark.label, p.open_ink, align_right=False)
            edge = left + width

    def _wood(self, painter: QPainter) -> None:
        band = self.band_of_wood()
        painter.fillRect(band, QColor(current().wood))
        if self.shown is not None and self.shown.warp is not None:
            painter.save()
            painter.setClipRect(band)
            step_strip.draw(painter, self.shown.steps, self.x_of, band)
            painter.restore()

    def _under(self, painter: QPainter) -> None:
        """Days, tallies, cuts and readings under the wood."""
        assert self.shown is not None and self.shown.warp is not None
        p, box = current(), self._plot()
        y = box.bottom() + WOOD_H
        painter.setFont(font(12))
        for place, text in day_ticks(self.shown.warp, self.shown.zero, self.shown.days, box.width()):
            x = box.left() + place * box.width()
            painter.setPen(QPen(QColor(p.muted), 1))
            painter.drawLine(QPointF(x, y), QPointF(x, y + 5))
            if x + 44 < self.width():
                painter.drawText(QRectF(x + 2, y + 3, 60, 18), Qt.AlignmentFlag.AlignLeft, text)
        row = y + 24
        painter.setPen(QColor(p.muted))
        painter.drawText(QRectF(2, row - 2, LEFT - 6, 18), Qt.AlignmentFlag.AlignRight, "coats")
        edge = box.left()
        for moments, planned in ((self.shown.coats_h, False), (self.shown.planned_coats_h, True)):
            for group in _groups(moments):
                x = max(self.x_of(group[0]), edge)
                drawn = tally.draw(painter, x, row, len(group), p.muted if planned else p.ink, planned=planned)
                edge = drawn.right() + 5
        for cuts, planned in ((self.shown.cuts_h, False), (self.shown.planned_cuts_h, True)):
            painter.setPen(QPen(QColor(p.accent), 1.5 if planned else 3))
            for hour, _um in cuts:
                x = self.x_of(hour)
                painter.drawLine(QPointF(x - 6, row + 18), QPointF(x + 6, row + 18))
        painter.setPen(Qt.PenStyle.NoPen)
        for hour, um, here in self.shown.readings:
            x = self.x_of(hour)
            painter.setBrush(QColor(p.accent if here else p.muted))
            tip = self._y(um) if here else box.bottom()
            painter.drawPolygon(QPolygonF([QPointF(x, tip), QPointF(x - 7, tip - 5), QPointF(x - 7, tip + 5)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _wounds(self, painter: QPainter) -> None:
        """What went wrong on the zone, where it lies in the film; an open one by name."""
        assert self.shown is not None
        box = self._plot()
        for wound in self.shown.wounds:
            at = QPointF(self.x_of(wound.at_h), max(self._y(wound.um), box.top() + 6))
            wounds.mark(painter, at, heavy=wound.heavy and wound.open)
            if wound.open and wound.heavy:
                name = wound.words.partition(",")[0]
                right = at.x() > box.center().x()
                self._boxed(
                    painter, at.x() + (-10 if right else 10), at.y() - 9, name, current().warn, align_right=right
                )

    def _cursor(self, painter: QPainter) -> None:
        assert self.shown is not None
        p, box = current(), self._plot()
        x = self.x_of(self.shown.now_h)
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawLine(QPointF(x, box.top() - 22), QPointF(x, box.bottom() + WOOD_H))
        self._names(painter)
        self._boxed(painter, x + 2, box.top() - 40, "now", p.ink, align_right=x > box.left() + 60)
        if self._cursor_h is not None and abs(self._cursor_h - self.shown.now_h) > 1e-6:
            x = self.x_of(self._cursor_h)
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawLine(QPointF(x, box.top() - 22), QPointF(x, box.bottom() + WOOD_H))

    def _key(self, painter: QPainter) -> None:
        """What the colours mean: what may be done to film of that colour."""
        p, box = current(), self._plot()
        width, y = 300.0, self.height() - 36.0
        left = box.right() - width
        low, high = -45.0, RAMP_MARGINS_K[-1]
        painter.drawImage(QRectF(left, y, width, 9), _key_strip(p.name, int(width), low, high))
        painter.setFont(font(12))
        painter.setPen(QColor(p.muted))
        for margin, text in KEY_LABELS:
            x = left + _key_place(margin, low, high) * width
            painter.drawText(QRectF(x - 30, y + 10, 60, 18), Qt.AlignmentFlag.AlignHCenter, text)
        painter.drawText(
            QRectF(box.left(), y + 10, left - box.left() - 16, 18), Qt.AlignmentFlag.AlignLeft,
            painter.fontMetrics().elidedText(
                f"{self.shown.zone_label if self.shown else ''}: dashes are the 90 % interval; faded is planned",
                Qt.TextElideMode.ElideRight, int(left - box.left() - 20),
            ),
        )  # fmt: skip


@functools.lru_cache(maxsize=8)
def _key_strip(theme: str, width: int, low: float, high: float) -> QImage:
    """The key's colours, one pixel high: wide steps where hands care, above the bench."""
    margins = np.array([_key_margin(i / width, low, high) for i in range(width)])
    strip = np.zeros((1, width, 4), dtype=np.uint8)
    strip[0, :, 2::-1] = ramp_table(PALETTES[theme])[ramp_index(margins)]
    strip[..., 3] = 255
    return QImage(strip.tobytes(), width, 1, 4 * width, QImage.Format.Format_ARGB32).copy()


def _key_margin(share: float, low: float, high: float) -> float:
    return low * (1 - share / 0.36) if share < 0.36 else high * (share - 0.36) / 0.64


def _key_place(margin: float, low: float, high: float) -> float:
    return 0.36 * (1 - margin / low) if margin < 0 else 0.36 + 0.64 * margin / high


def _groups(hours: tuple[float, ...]) -> list[list[float]]:
    out: list[list[float]] = []
    for h in hours:
        if out and h - out[-1][-1] < 10:
            out[-1].append(h)
        else:
            out.append([h])
    return out
