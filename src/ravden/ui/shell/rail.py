"""The left rail: the places of the program, each with a drawn sign."""

from PyQt6.QtCore import QLineF, QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from ravden.ui.theme.style import current, fit, font, scale
from ravden.ui.widgets.painting import painting

RAIL_W, BUTTON_H = 88, 74


MOST = 1.3  # times the usual size: six places have to stand above each other on a small screen


def _scale() -> float:
    return min(scale(), MOST)


class RailButton(QAbstractButton):
    """A place on the rail."""

    def __init__(self, place: str, label: str, key: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.place = place
        self.setText(label)
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setToolTip(f"{label}  ({key})")
        self.setAccessibleName(label)
        fit(self, lambda w: w.setFixedSize(round(RAIL_W * _scale()), round(BUTTON_H * _scale())))

    def sizeHint(self) -> QSize:
        return QSize(round(RAIL_W * _scale()), round(BUTTON_H * _scale()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.scale(_scale(), _scale())
            self._painted(painter)

    def _painted(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        on = self.isChecked()
        if on:
            painter.fillRect(QRect(0, 0, RAIL_W, BUTTON_H), QColor(p.ground))
        elif self.underMouse():
            painter.fillRect(QRect(0, 0, RAIL_W, BUTTON_H), QColor(255, 255, 255, 22))
        colour = QColor(p.ink if on else p.rail_ink)
        painter.setPen(QPen(colour, 2.2))
        centre = QPointF(RAIL_W / 2, 26)
        signs = {"rack": self._rack, "film": self._film, "booth": self._booth, "rubout": self._rubout,
                 "shop": self._shop, "methods": self._methods}  # fmt: skip
        signs[self.place](painter, centre, colour)
        painter.setFont(font(13, bold=on))
        painter.setPen(colour)
        painter.drawText(QRectF(0, 44, RAIL_W, 22), Qt.AlignmentFlag.AlignCenter, self.text())
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRect(2, 2, RAIL_W - 5, BUTTON_H - 5))

    @staticmethod
    def _rack(painter: QPainter, c: QPointF, _colour: QColor) -> None:
        for dy, start, end in ((-9, -14, 4), (0, -8, 10), (9, -2, 15)):
            painter.drawLine(QLineF(c.x() + start, c.y() + dy, c.x() + end, c.y() + dy))

    @staticmethod
    def _film(painter: QPainter, c: QPointF, colour: QColor) -> None:
        painter.fillRect(QRectF(c.x() - 14, c.y() + 7, 28, 4), colour)
        for i, width in enumerate((28, 20, 12)):
            painter.drawLine(QLineF(c.x() + 14 - width, c.y() + 2 - 6 * i, c.x() + 14, c.y() + 2 - 6 * i))

    @staticmethod
    def _booth(painter: QPainter, c: QPointF, _colour: QColor) -> None:
        """A tally of five."""
        for x in (-11, -4, 3, 10):
            painter.drawLine(QLineF(c.x() + x, c.y() - 11, c.x() + x, c.y() + 11))
        painter.drawLine(QLineF(c.x() - 15, c.y() + 8, c.x() + 14, c.y() - 8))

    @staticmethod
    def _shop(painter: QPainter, c: QPointF, _colour: QColor) -> None:
        """A bench under a slanting roof."""
        painter.drawLine(QLineF(c.x() - 14, c.y() - 2, c.x(), c.y() - 12))
        painter.drawLine(QLineF(c.x(), c.y() - 12, c.x() + 14, c.y() - 2))
        painter.drawLine(QLineF(c.x() - 11, c.y() + 5, c.x() + 11, c.y() + 5))
        for x in (-8, 8):
            painter.drawLine(QLineF(c.x() + x, c.y() + 5, c.x() + x, c.y() + 13))

    @staticmethod
    def _methods(painter: QPainter, c: QPointF, _colour: QColor) -> None:
        """Three ways from one beginning."""
        for dy in (-10, 0, 10):
            painter.drawLine(QLineF(c.x() - 14, c.y(), c.x() - 3, c.y() + dy))
            painter.drawLine(QLineF(c.x() - 3, c.y() + dy, c.x() + 14, c.y() + dy))

    @staticmethod
    def _rubout(painter: QPainter, c: QPointF, _colour: QColor) -> None:
        painter.drawLine(QLineF(c.x() - 9, c.y() - 12, c.x() - 9, c.y() + 12))
        painter.drawLine(QLineF(c.x() + 9, c.y() - 12, c.x() + 9, c.y() + 12))
        for dy in (-7, 0, 7):
            painter.drawLine(QLineF(c.x() - 9, c.y() + dy, c.x() + 9, c.y() + dy))


class Rail(QWidget):
    """The places, top to bottom."""

    chosen = pyqtSignal(str)

    def __init__(self, places: tuple[tuple[str, str], ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        fit(self, lambda w: w.setFixedWidth(round(RAIL_W * _scale())))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 10, 0, 0)
        box.setSpacing(4)
        self.buttons: dict[str, RailButton] = {}
        for i, (place, label) in enumerate(places, start=1):
            button = RailButton(place, label, f"Ctrl+{i}")
            button.clicked.connect(lambda _=False, name=place: self.chosen.emit(name))
            box.addWidget(button)
            self.buttons[place] = button
        box.addStretch(1)

    def turn_to(self, place: str) -> None:
        """Mark a place as the one shown."""
        self.buttons[place].setChecked(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), QColor(current().rail))
