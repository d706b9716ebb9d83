"""What a film should look like after each paper, and what it looks like where something went wrong."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QComboBox, QFrame, QScrollArea, QVBoxLayout, QWidget

from ravden.app import seen
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.page import Page
from ravden.ui.widgets.seen_strip import SeenStrip

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue

SHOWN_W, SHOWN_H, IN_ROW = 114, 76, 8  # all in a row at the least width of the window
ABOUT = (
    "Worked out, not photographed. Brightness and sharpness go by the gloss model, waves by the surface itself; "
    "where it says drawn, only the place is right. Colour is a guess. Point at a picture for its words."
)
NO_PICTURE = "What no picture shows"


class LooksPage(Page):
    """Opened from Help; on the wood that is chosen."""

    def __init__(self, catalogue: Catalogue, parent: QWidget | None = None) -> None:
        super().__init__("What it should look like", parent)
        self._catalogue = catalogue
        about = Label(ABOUT)
        about.setObjectName("muted")
        about.setWordWrap(True)
        self.tone = QComboBox()
        self.tone.setAccessibleName("Over which wood")
        for key, label in seen.TONES:
            self.tone.addItem(label, key)
        self.tone.currentIndexChanged.connect(self.open)
        self.add_head(about, self.tone)
        self.strips: list[SeenStrip] = []
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 8, 0)
        for heading, _ in seen.sheet(catalogue, "brown"):
            name, strip = Label(heading), SeenStrip(SHOWN_W, SHOWN_H, IN_ROW)
            name.setObjectName("heading")
            column.addWidget(name)
            column.addWidget(strip)
            self.strips.append(strip)
        name = Label(NO_PICTURE)
        name.setObjectName("heading")
        told = [f"{look.label}: {look.words}" for look in catalogue.looks.values() if look.shown == "words"]
        self.told = Label("\n".join(told))
        self.told.setWordWrap(True)
        column.addWidget(name)
        column.addWidget(self.told)
        column.addStretch(1)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidget(inner)
        self.box.addWidget(self.area, 1)

    @property
    def busy(self) -> bool:
        """Whether pictures are being worked out."""
        return any(strip.busy for strip in self.strips)

    def open(self) -> None:
        """Ask for the pictures over the wood chosen."""
        for strip, (_, wanted) in zip(self.strips, seen.sheet(self._catalogue, self.tone.currentData()), strict=True):
            strip.ask(wanted)
        self.area.setFocus()
