"""Gloss comes back: a lamp in the film after each paper, one key a rung."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.app.gloss_back import RUNGS
from ravden.app.seen import BESIDE
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.seen import Seen, image_of

if TYPE_CHECKING:
    from ravden.app.gloss_back import Shown

SHOWN_W, SHOWN_H = 372, 248
PAST_W, PAST_H = 118, 79


class GlossView(QWidget):
    """Says that the next rung is to be done, that one is to be left out, or that it is to be begun again."""

    acted = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(10)
        self.grade = Label()
        self.grade.setObjectName("title")
        self.words = Label()
        self.words.setObjectName("big")
        self.words.setWordWrap(True)
        self.pictures = tuple(Seen(SHOWN_W, SHOWN_H, lines=1) for _ in BESIDE)
        row = QHBoxLayout()
        for picture in self.pictures:
            row.addWidget(picture)
        row.addStretch(1)
        self.past = tuple(Seen(PAST_W, PAST_H, lines=2) for _ in RUNGS)
        way = QHBoxLayout()
        for picture in self.past:
            way.addWidget(picture)
        way.addStretch(1)
        box.addWidget(self.grade)
        box.addLayout(row)
        box.addWidget(self.words)
        box.addStretch(1)
        box.addLayout(way)
        foot = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for name, label in (
            ("over", "From the start  (A)"),
            ("skip", "Leave one out  (S)"),
            ("next", "Next paper  (Enter)"),
        ):
            button = QPushButton(label)
            button.clicked.connect(lambda _=False, n=name: self.acted.emit(n))
            foot.addWidget(button)
            self.buttons[name] = button
        self.buttons["next"].setObjectName("main")
        box.addLayout(foot)

    def show_rung(self, shown: Shown, way: Sequence[tuple[str, Shown | None]], words: str) -> None:
        """Show the film after this rung. way: every rung so far, with what was seen after it, None: left out."""
        self.grade.setText(f"After {shown.grade}")
        self.words.setText(words)
        for i, picture in enumerate(self.past):
            here = i < len(way)
            picture.setVisible(here)
            if here:
                grade, then = way[i]
                if then is None:
                    picture.wait(grade, "left out")
                else:
                    picture.show_image(image_of(then.pictures[1]), grade, then.words, grade)
        for picture, pixels, angle in zip(self.pictures, shown.pictures, BESIDE, strict=True):
            caption = f"{angle}°, {'along the top' if angle == 60 else 'from above'}"
            picture.show_image(image_of(pixels), f"After {shown.grade}, {caption}", shown.words, caption)
        self.buttons["next"].setText("Practise levelling  (Enter)" if shown.last else "Next paper  (Enter)")
        self.buttons["skip"].setEnabled(not shown.last)
