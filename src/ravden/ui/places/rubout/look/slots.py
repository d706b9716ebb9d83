"""The three shots to be made: where the lamp is, which photo it is, and what is wrong with it."""

from __future__ import annotations

import math
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QDragEnterEvent, QDropEvent, QImage, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.picture import Picture
from ravden.ui.widgets.seen import Seen

LAMPS = (
    ("low", "1  Low lamp", "From one side, 8 to 20° above the panel, the camera out of its mirror."),
    ("low-other", "2  Low lamp, another side", "A quarter round or more, as low as before."),
    ("broad", "3  Broad light", "A window or a white board, mirrored over the whole panel."),
)  # fmt: skip
DRAWN, SHOWN = (270, 190), (288, 200)


class LampDrawing(Picture):
    """The panel from above, and where the light comes from."""

    def __init__(self, lamp: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lamp = lamp
        fit(self, lambda w: w.setFixedSize(px(DRAWN[0]), px(DRAWN[1])))
        words = {name: f"{label[3:]}: {how}" for name, label, how in LAMPS}[lamp]
        self.setAccessibleName(words)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with self.painting() as painter:
            self._painted(painter, event)

    def _painted(self, painter: QPainter, event: QPaintEvent | None) -> None:
        theme = current()
        painter.setRenderHint(painter.RenderHint.Antialiasing)
        middle = QPointF(self.width() / 2, self.height() / 2)
        painter.setPen(QPen(QColor(theme.wood_line), 1))
        painter.setBrush(QColor(theme.wood))
        painter.drawRect(QRectF(middle.x() - 52, middle.y() - 38, 104, 76))
        lamp = QColor("#f2c94c")
        painter.setPen(QPen(QColor(theme.ink), 1))
        painter.setBrush(lamp)
        if self._lamp == "broad":
            painter.drawRect(QRectF(middle.x() - 96, 4, 192, 18))
            ends = [QPointF(middle.x() + dx, 25) for dx in (-72, -24, 24, 72)]
        else:
            turn = math.radians(180 if self._lamp == "low" else 270)
            at = middle + QPointF(112 * math.cos(turn), 80 * math.sin(turn))
            painter.drawEllipse(at, 12, 12)
            ends = [at]
        painter.setPen(QPen(lamp.darker(130), 1.5, Qt.PenStyle.DashLine))
        for end in ends:
            towards = middle if self._lamp != "broad" else QPointF(end.x() * 0.6 + middle.x() * 0.4, middle.y() - 10)
            painter.drawLine(end, end + (towards - end) * 0.75)
        painter.setPen(QPen(QColor(theme.ink), 1))
        painter.setBrush(QColor(theme.panel))
        eye = QPointF(self.width() - 22, self.height() - 18)  # the camera
        painter.drawRect(QRectF(eye.x() - 9, eye.y() - 6, 18, 12))
        painter.drawPolygon(QPolygonF([eye + QPointF(-9, -3), eye + QPointF(-15, -7), eye + QPointF(-15, 5)]))


class Slot(QWidget):
    """One shot: picked, or dropped onto it."""

    picked = pyqtSignal(str, object)
    pick_asked = pyqtSignal(str)

    def __init__(self, lamp: str, label: str, how: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.lamp = lamp
        self.path: Path | None = None
        self.setAcceptDrops(True)
        frame, box = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        name, words = Label(label), Label(how)
        name.setObjectName("heading")
        words.setWordWrap(True)
        self.drawing, self.shown = LampDrawing(lamp), Seen(*SHOWN)
        self.pick = QPushButton(f"Pick a photo …  ({label[0]})")
        self.pick.clicked.connect(lambda: self.pick_asked.emit(lamp))
        self.told = Label("or drop it here")
        self.told.setObjectName("muted")
        self.told.setWordWrap(True)
        box.addWidget(name)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(self.drawing)
        row.addWidget(self.shown)
        row.addStretch(1)
        box.addLayout(row)
        box.addWidget(words)
        box.addWidget(self.pick)
        box.addWidget(self.told)
        box.addStretch(1)
        self.shown.hide()

    def show_photo(self, image: QImage, name: str) -> None:
        """The photo taken for it, in place of the drawing."""
        self.drawing.hide()
        small = image.scaled(*SHOWN, Qt.AspectRatioMode.KeepAspectRatioByExpanding)
        left, top = (small.width() - SHOWN[0]) // 2, (small.height() - SHOWN[1]) // 2
        self.shown.show_image(small.copy(left, top, *SHOWN), self.drawing.accessibleName(), name)
        self.shown.show()
        self.tell(name)

    def clear(self) -> None:
        """No photo, and the drawing again."""
        self.path = None
        self.shown.hide()
        self.drawing.show()
        self.tell("or drop it here")

    def tell(self, text: str, *, fault: bool = False) -> None:
        """Its name, or what is wrong with it."""
        self.told.setText(text)
        self.told.setObjectName("fault" if fault else "muted")
        style = self.told.style()
        if style is not None:
            style.unpolish(self.told)
            style.polish(self.told)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is None or (data := event.mimeData()) is None:
            return
        files = [Path(u.toLocalFile()) for u in data.urls() if u.isLocalFile()]
        if files:
            self.picked.emit(self.lamp, files)
            event.acceptProposedAction()
