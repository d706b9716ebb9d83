"""What each rung should look like: a lamp with three tubes, mirrored in the film after that paper; its scratches close
by, and the first one on its way to level."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from ravden.app.seen import RungSeen
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.seen import Seen

SHOWN_W, SHOWN_H = 141, 94
MOST = 10  # rungs of a ladder
MOST_SIGHTS = 7
ABOUT = (
    "Hold a lamp of three tubes over the film, and look along it (60°), then from above (20°). "
    "Brightness and sharpness go by the gloss model; colour is a guess."
)
WAITING = "The pictures are being worked out."
NO_LADDER = "No ladder, no pictures."


class RungRow(QWidget):
    """A rung: its name, its pictures two by two, and its words."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.name, self.words = Label(), Label()
        self.name.setObjectName("strong")
        self.words.setObjectName("muted")
        self.words.setWordWrap(True)
        self.pictures: list[Seen] = []
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        self._grid.setColumnStretch(2, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 6)
        box.setSpacing(4)
        box.addWidget(self.name)
        box.addLayout(self._grid)
        box.addWidget(self.words)

    def show_rung(self, rung: RungSeen) -> None:
        """Show this one."""
        self.name.setText(rung.grade)
        self.words.setText(rung.words)
        while len(self.pictures) < len(rung.sights):
            picture = Seen(SHOWN_W, SHOWN_H, lines=1)
            self._grid.addWidget(picture, len(self.pictures) // 2, len(self.pictures) % 2)
            self.pictures.append(picture)
        for i, picture in enumerate(self.pictures):
            picture.setVisible(i < len(rung.sights))
            if i < len(rung.sights):
                picture.show_sight(rung.sights[i], rung.grade)


class SeePanel(QWidget):
    """A row for each rung."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.about = Label(ABOUT)
        self.about.setObjectName("muted")
        self.about.setWordWrap(True)
        self.waiting = Label(WAITING)
        self.waiting.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.about)
        box.addWidget(self.waiting)
        self.rows = tuple(RungRow() for _ in range(MOST))
        for row in self.rows:
            box.addWidget(row)
            row.hide()
        box.addStretch(1)

    def wait(self, words: str = WAITING) -> None:
        """Say that there is nothing to see yet; what was shown stays until then."""
        self.waiting.setText(words)
        self.waiting.setVisible(all(row.isHidden() for row in self.rows) or words != WAITING)

    def show_seen(self, rungs: Sequence[RungSeen]) -> None:
        """Show these."""
        self.waiting.setVisible(not rungs)
        for i, row in enumerate(self.rows):
            row.setVisible(i < len(rungs))
            if i < len(rungs):
                row.show_rung(rungs[i])
