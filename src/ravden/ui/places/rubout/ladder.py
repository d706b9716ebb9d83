"""The ladder: a rung a grit, the film running down beside it and growing thinner as it is spent.

Grades of the drawer that are left out stand between the rungs as thin lines; a click, or Space on the chosen line, puts
one in or takes a rung out.
"""

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ravden.ui.places.rubout.presenter import LadderShown, RungShown, SpareShown
from ravden.ui.theme.style import current, font
from ravden.ui.widgets.picture import Picture

HAND_H = 22  # of the line on handing over
HEAD_H, RUNG_H, SPARE_H, DONE_H, FOOT_H = 30, 126, 24, 24, 34
FILM_W, RAIL_X, TEXT_X = 132, 162, 194
WIDE = 720
COLUMNS = (60, 108, 52, 40, 40)  # from the right: time, sheen, scratch, left, off
COLUMNS_WIDE = (72, 124, 62, 54, 58)


@dataclass(frozen=True, slots=True)
class Row:
    """A line of the ladder: where it begins, how high it is, and what stands on it."""

    y: int
    height: int
    rung: RungShown | None = None
    index: int = -1
    spare: SpareShown | None = None
    done: str = ""

    @property
    def grade(self) -> str:
        return self.rung.id if self.rung is not None else self.spare.id if self.spare is not None else ""


def rows_of(shown: LadderShown) -> tuple[Row, ...]:
    """What was done, then rungs and the grades left out between them, from the texture down to the sheen."""
    out, y = [], HEAD_H
    for text in shown.done:
        out.append(Row(y, DONE_H, done=text))
        y += DONE_H
    for i in range(len(shown.rungs) + 1):
        for spare in shown.spares:
            if spare.at == i:
                out.append(Row(y, SPARE_H, spare=spare))
                y += SPARE_H
        if i < len(shown.rungs):
            high = RUNG_H + (HAND_H if shown.rungs[i].hand_over else 0)
            out.append(Row(y, high, rung=shown.rungs[i], index=i))
            y += high
    return tuple(out)


class LadderView(Picture):
    """Paints a LadderShown; says which grade is to be put in or taken out."""

    toggled = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.shown: LadderShown | None = None
        self.rows: tuple[Row, ...] = ()
        self.chosen = -1
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Ladder of grits")
        self.setToolTip("Click a grade to put it in or take it out; a number key logs that rung")

    def sizeHint(self) -> QSize:
        return QSize(800, self.minimumHeight())

    def show_ladder(self, shown: LadderShown) -> None:
        """Show this."""
        self.shown = shown
        self.rows = rows_of(shown)
        bottom = self.rows[-1].y + self.rows[-1].height if self.rows else HEAD_H + RUNG_H
        self.need_height(bottom + FOOT_H)
        if not 0 <= self.chosen < len(self.rows):
            self.chosen = next((i for i, r in enumerate(self.rows) if r.rung is not None), 0)
        self.setAccessibleDescription("; ".join(f"{r.grade}, {r.off} off, {r.left} left" for r in shown.rungs))
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for i, row in enumerate(self.rows):
            if row.y <= self.pointed(event.position()).y() < row.y + row.height and row.grade:
                self.chosen = i
                self.update()
                # A rung is taken out at its name only, so that reading it changes nothing.
                if row.spare is not None or self.pointed(event.position()).y() < row.y + 30:
                    self.toggled.emit(row.grade)
                return

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is not None and self.rows:
            self.chosen = min(max(self.chosen + step, 0), len(self.rows) - 1)
            self.update()
        elif event.key() == Qt.Key.Key_Space and self.rows and self.rows[self.chosen].grade:
            self.toggled.emit(self.rows[self.chosen].grade)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        if self.shown is None:
            return
        if not self.rows:
            painter.setFont(font(14))
            painter.setPen(QColor(current().muted))
            painter.drawText(self.room().adjusted(24, 24, -24, -24), Qt.AlignmentFlag.AlignHCenter, self.shown.empty)
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        columns = self._columns()
        self._film(painter)
        self._rails(painter)
        self._heads(painter, columns)
        for i, row in enumerate(self.rows):
            if self.hasFocus() and i == self.chosen:
                painter.fillRect(QRectF(TEXT_X - 6, row.y + 1, self.width() - TEXT_X, row.height - 2),
                                 QColor(current().accent_soft))  # fmt: skip
            if row.rung is not None:
                self._rung(painter, row.rung, row.y, columns, row.index)
            elif row.spare is not None:
                self._spare(painter, row.spare, row.y)
            else:
                self._line(
                    painter, TEXT_X, row.y + 3, self.width() - TEXT_X - 8, f"✓ {row.done}", 13, current().open_ink
                )

    def _columns(self) -> tuple[float, ...]:
        """Left edges: grade, spent, left, scratch, sheen, time."""
        # The figures keep their room in a narrow window; the grade gives way.
        wide = self.width() > WIDE
        x, out = float(self.width() - 4), []
        for room in COLUMNS_WIDE if wide else COLUMNS:
            x -= room
            out.append(x)
        return (float(TEXT_X), *reversed(out))

    def _heads(self, painter: QPainter, columns: tuple[float, ...]) -> None:
        p = current()
        assert self.shown is not None
        painter.setFont(font(12))
        painter.setPen(QColor(p.muted))
        names = (
            f"grit (film in {self.shown.unit})" if self.width() > WIDE else self.shown.unit,
            "off",
            "left",
            "scratch",
            "sheen at 60° / 20°",
            "time",
        )
        for x, name in zip(columns, names, strict=True):
            painter.drawText(QRectF(x, 6, 140, 18), Qt.AlignmentFlag.AlignLeft, name)
        state = "now" if self.shown.as_now else "built"
        painter.drawText(
            QRectF(8, 6, FILM_W, 18), Qt.AlignmentFlag.AlignLeft, f"{self.shown.flat}: {self.shown.start} {state}"
        )

    def _rung_rows(self) -> list[Row]:
        return [r for r in self.rows if r.rung is not None]

    def _bottom(self) -> int:
        return self.rows[-1].y + self.rows[-1].height

    def _film(self, painter: QPainter) -> None:
        """The film beside the ladder: its width is what is left."""
        assert self.shown is not None
        p = current()
        full = max(self.shown.start_um, self.shown.floor_um) * 1.04
        scale = (FILM_W - 16) / max(full, 1.0)

        def x(um: float) -> float:
            return 8 + max(um, 0.0) * scale

        bottom = self._bottom()
        edge = [QPointF(8, HEAD_H - 4), QPointF(x(self.shown.start_um), HEAD_H - 4)]
        before = self.shown.start_um
        for row in self._rung_rows():
            assert row.rung is not None
            y = row.y + 34
            edge += [QPointF(x(before), y - 8), QPointF(x(row.rung.left_um), y + 8)]
            before = row.rung.left_um
        edge += [QPointF(x(before), bottom), QPointF(8, bottom)]
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(p.ramp[4]))
        painter.drawPolygon(QPolygonF(edge))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.fillRect(QRectF(2, HEAD_H - 4, 6, bottom - HEAD_H + 4), QColor(p.wood))
        floor = x(self.shown.floor_um)
        painter.setPen(QPen(QColor(p.panel), 3.5))
        painter.drawLine(QPointF(floor, HEAD_H - 4), QPointF(floor, bottom))
        painter.setPen(QPen(QColor(p.floor), 1.8, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(floor, HEAD_H - 4), QPointF(floor, bottom + 6))
        painter.setFont(font(12, bold=True))
        for row in self._rung_rows():
            assert row.rung is not None
            room, wide = x(row.rung.left_um) - 12, painter.fontMetrics().horizontalAdvance(row.rung.left) + 4.0
            # In the film where it is wide enough, and else beside it: white on the panel could not be read.
            inside = room >= wide
            painter.setPen(QColor("#ffffff") if inside else QColor(p.ink))
            at = QRectF(8, row.y + 50, room, 20) if inside else QRectF(room + 18, row.y + 50, wide, 20)
            painter.drawText(at, Qt.AlignmentFlag.AlignRight if inside else Qt.AlignmentFlag.AlignLeft, row.rung.left)
        painter.setFont(font(12))
        painter.setPen(QColor(p.ink))
        text = f"least wanted {self.shown.floor}"
        width = painter.fontMetrics().horizontalAdvance(text)
        left = min(max(floor - width / 2, 4), FILM_W - width)
        painter.drawText(QRectF(left, bottom + 8, width + 4, 18), Qt.AlignmentFlag.AlignLeft, text)

    def _rails(self, painter: QPainter) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.wood_line), 4))
        for x in (RAIL_X - 16, RAIL_X + 16):
            painter.drawLine(QPointF(x, HEAD_H - 8), QPointF(x, self._bottom()))
        for row in self.rows:
            # A finer grit is a finer rung; a grade left out is only a notch.
            y = row.y + (34 if row.rung is not None else row.height / 2)
            if row.rung is not None:
                painter.setPen(QPen(QColor(p.wood_line), max(9 - 1.6 * row.index, 2.5)))
                painter.drawLine(QPointF(RAIL_X - 16, y), QPointF(RAIL_X + 16, y))
                if row.rung.key:
                    painter.setPen(QPen(QColor(p.wood_line), 1.2))
                    painter.setBrush(QColor(p.panel))
                    painter.drawEllipse(QPointF(RAIL_X, y), 11, 11)
                    painter.setPen(QColor(p.ink))
                    painter.setFont(font(13, bold=True))
                    painter.drawText(QRectF(RAIL_X - 11, y - 11, 22, 22), Qt.AlignmentFlag.AlignCenter, row.rung.key)
            elif row.spare is not None:
                painter.setPen(QPen(QColor(p.line), 2, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(RAIL_X - 13, y), QPointF(RAIL_X + 13, y))

    def _spare(self, painter: QPainter, spare: SpareShown, y: int) -> None:
        text = f"+ {spare.grade}, left out: {spare.words}"
        self._line(painter, TEXT_X, y + 3, self.width() - TEXT_X - 8, text, 12, current().muted)

    def _rung(self, painter: QPainter, rung: RungShown, y: int, columns: tuple[float, ...], i: int) -> None:
        p = current()
        unit = self.shown.unit if self.shown is not None else ""
        grade_w = columns[1] - columns[0] - 8
        # A narrow ladder has no room for the word: what a compound is worked with stands beneath.
        name = rung.grade if self.width() > WIDE else rung.grade.removesuffix(" compound")
        self._line(painter, columns[0], y + 5, grade_w, name, 17, p.ink, bold=True)
        self._line(
            painter, columns[0], y + 27, columns[4] - columns[0] - 8, f"{rung.grain}, {rung.backing}", 12, p.muted
        )
        ends = (*columns[2:], float(self.width()))
        cells = (rung.off, rung.left, rung.scratch, rung.sheen, rung.time)
        for x, end, text in zip(columns[1:], ends, cells, strict=True):
            colour = p.warn if rung.tight and text == rung.off else p.ink
            self._line(painter, x, y + 7, end - x - 4, text.removesuffix(f" {unit}"), 14, colour, bold=True)
        self._line(painter, columns[4], y + 27, columns[5] - columns[4] - 4, rung.band, 12, p.muted)
        self._line(painter, columns[5], y + 27, self.width() - columns[5] - 4, rung.paper, 12, p.muted)
        room = self.width() - TEXT_X - 8
        self._line(painter, TEXT_X, y + 46, room, rung.why, 13, p.ink)
        tone = {"open": p.open_ink, "plain": p.ink, "warn": p.warn}[rung.tone]
        painter.setFont(font(12))
        odds_w = painter.fontMetrics().horizontalAdvance(rung.odds)
        self._line(painter, self.width() - 8 - odds_w, y + 64, odds_w + 2, rung.odds, 12, tone)
        room_left = room - odds_w - 10
        self._line(painter, TEXT_X, y + 64, room_left, rung.needed[:1].upper() + rung.needed[1:], 12, p.muted)
        painter.setFont(font(13))
        painter.setPen(QColor(p.accent))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.drawText(QRectF(TEXT_X, y + 82, room, 38), flags, f"Look for: {rung.look_for}")
        if rung.hand_over:
            self._line(painter, TEXT_X, y + 121, room, rung.hand_over, 12, p.muted)
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
