"""What came of an exercise: the panel before, after, polished and as film, the mark, and what cost it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QImage, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QProgressBar, QPushButton, QVBoxLayout, QWidget

from ravden.text.practice_words import PART
from ravden.text.written import number
from ravden.ui.theme.palette import rgb
from ravden.ui.theme.style import current, fit, px, scale
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.seen import Seen, image_of

if TYPE_CHECKING:
    from ravden.app.practice_end import End
    from ravden.core.surface.contact import Cells
    from ravden.text.units import Units

SHOWN, LEAST = 222, 150
BAR_W = 130


def film_image(film_um: Cells, floor_um: float) -> QImage:
    """Film as a map: the theme's ramp from none to the thickest, the floor as a line, bare wood marked."""
    theme = current()
    stops = np.array([rgb(c) for c in theme.ramp], dtype=float)
    high = max(float(film_um.max()), floor_um, 1.0)
    at = np.clip(film_um / high, 0, 1)
    out = np.stack([np.interp(at, np.linspace(0, 1, len(stops)), stops[:, i]) for i in range(3)], axis=-1).astype(
        np.uint8
    )
    below = film_um < floor_um
    edge = np.zeros_like(below)
    edge[:, 1:] |= below[:, 1:] != below[:, :-1]
    edge[1:] |= below[1:] != below[:-1]
    out[edge] = rgb(theme.floor)
    out[film_um <= 0] = rgb(theme.warn)
    return image_of(np.ascontiguousarray(out))


class ResultView(QWidget):
    """Shows an End; says which way one goes on."""

    again = pyqtSignal()
    another = pyqtSignal()
    onward = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(10)
        head = QHBoxLayout()
        self.mark = Label()
        self.mark.setObjectName("title")
        self.best = Label()
        self.best.setObjectName("muted")
        head.addWidget(self.mark)
        head.addWidget(self.best, 1)
        box.addLayout(head)
        self.said = Label()
        self.said.setWordWrap(True)
        self.said.setObjectName("big")
        box.addWidget(self.said)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.pictures = [Seen(SHOWN, SHOWN, lines=3) for _ in range(4)]
        for picture in self.pictures:
            row.addWidget(picture)
        row.addStretch(1)
        box.addLayout(row)
        frame, parts = panel()
        self.parts: list[tuple[QLabel, QProgressBar, QLabel]] = []
        bars = QGridLayout()
        for i in range(len(PART)):
            name, bar = Label(), QProgressBar()
            fit(bar, lambda w: w.setFixedWidth(px(BAR_W)))
            value = Label()
            bar.setTextVisible(False)
            for k, widget in enumerate((name, bar, value)):
                bars.addWidget(widget, i % 3, 4 * (i // 3) + k)
            self.parts.append((name, bar, value))
        bars.setColumnMinimumWidth(3, 24)
        bars.setColumnStretch(7, 1)
        parts.addLayout(bars)
        self.frame = frame
        box.addWidget(frame)
        box.addStretch(1)
        foot = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for way, label, key, signal in (
            ("again", "The same panel again", "A", self.again), ("another", "Another panel", "P", self.another),
            ("onward", "Next exercise", "Enter", self.onward),
        ):  # fmt: skip
            button = QPushButton(f"{label}  ({key})")
            button.clicked.connect(signal)
            foot.addWidget(button)
            self.buttons[way] = button
        self.buttons["onward"].setObjectName("main")
        box.addLayout(foot)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        side = max(LEAST, min(SHOWN, int((self.width() / scale() - 3 * 8) / 4)))
        for picture in self.pictures:
            picture.take_size(side, side)

    def show_end(self, end: End, best: float | None, seed: int, units: Units) -> None:
        """Show this."""
        self.mark.setText("Look at it" if end.score is None else f"{number(end.score)} of 100")
        seen = "" if best is None else f"   best so far {number(best)}"
        self.best.setText(f"panel {seed}{seen}")
        self.said.setText("\n".join(end.said))
        for (caption, pixels), picture in zip(end.pictures, self.pictures, strict=False):
            picture.show_image(image_of(pixels), caption, f"The panel, {caption}.", caption)
        least = units.film(max(float(end.film_um.min()), 0.0))
        words = f"film left: least {least}; line: the floor, {units.film(end.floor_um)}"
        self.pictures[3].show_image(film_image(end.film_um, end.floor_um), "Film left", words, words)
        self.frame.setVisible(bool(end.parts))
        for i, (name, bar, value) in enumerate(self.parts):
            if i < len(end.parts):
                part, earned, most = end.parts[i]
                name.setText(PART[part])
                bar.setRange(0, round(10 * most))
                bar.setValue(round(10 * earned))
                value.setText(f"{number(earned)} of {number(most)}")
                bar.setAccessibleName(f"{PART[part]}: {number(earned)} of {number(most)}")
