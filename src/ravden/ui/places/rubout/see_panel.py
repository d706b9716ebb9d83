"""What each rung should look like: a lamp with three tubes, mirrored in the film after that paper."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ravden.app.seen import ANGLES, HIGH, WIDE, RungSeen
from ravden.ui.widgets.seen import Seen

SHOWN_W, SHOWN_H = 141, 94
MOST = 10  # rungs of a ladder
ABOUT = (
    "Hold a lamp of three tubes over the film: left as it is seen along the top (60°), right from above (20°). "
    "Brightness and sharpness go by the gloss model; colour is a guess."
)
WAITING = "The pictures are being worked out."
NO_LADDER = "No ladder, no pictures."


class SeePanel(QWidget):
    """A row for each rung; its words stand under its pictures."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.about = QLabel(ABOUT)
        self.about.setObjectName("muted")
        self.about.setWordWrap(True)
        self.waiting = QLabel(WAITING)
        self.waiting.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.about)
        box.addWidget(self.waiting)
        self.rows: list[tuple[QLabel, tuple[Seen, ...], QLabel]] = []
        for _ in range(MOST):
            name, words = QLabel(), QLabel()
            name.setObjectName("strong")
            words.setObjectName("muted")
            words.setWordWrap(True)
            pictures = tuple(Seen(SHOWN_W, SHOWN_H) for _ in ANGLES)
            line = QHBoxLayout()
            line.setSpacing(6)
            for picture in pictures:
                line.addWidget(picture)
            line.addStretch(1)
            box.addWidget(name)
            box.addLayout(line)
            box.addWidget(words)
            self.rows.append((name, pictures, words))
            for part in (name, *pictures, words):
                part.hide()
        box.addStretch(1)

    def wait(self, words: str = WAITING) -> None:
        """Say that there is nothing to see yet; what was shown stays until then."""
        self.waiting.setText(words)
        self.waiting.setVisible(not any(not name.isHidden() for name, _, _ in self.rows) or words != WAITING)

    def show_seen(self, rungs: Sequence[RungSeen]) -> None:
        """Show these."""
        self.waiting.setVisible(not rungs)
        for i, (name, pictures, words) in enumerate(self.rows):
            here = i < len(rungs)
            for part in (name, *pictures, words):
                part.setVisible(here)
            if not here:
                continue
            name.setText(rungs[i].grade)
            words.setText(rungs[i].words)
            for picture, pixels, angle in zip(pictures, rungs[i].pictures, ANGLES, strict=True):
                image = QImage(pixels.tobytes(), WIDE, HIGH, 3 * WIDE, QImage.Format.Format_RGB888).copy()
                picture.show_image(image, f"{rungs[i].grade} at {angle}°", rungs[i].words)
