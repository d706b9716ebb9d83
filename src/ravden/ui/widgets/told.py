"""A told sentence: a heading and lines on a toned ground."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QLabel, QSizePolicy, QVBoxLayout, QWidget

from ravden.text.told import Told
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.tips import plain_tip


class ToldCard(QFrame):
    """Says something in words; tone: open, plain or warn."""

    def __init__(self, parent: QWidget | None = None, *, explained: bool = True) -> None:
        """explained: with words of the trade explained where they stand."""
        super().__init__(parent)
        self.setObjectName("told")
        self.heading = Label()
        self.heading.setObjectName("heading")
        if explained:
            from ravden.ui.widgets.explained import Explained  # the Rack is painted without it

            self.text: QLabel = Explained()
        else:
            self.text = Label()
            self.text.setWordWrap(True)
            self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 8, 12, 8)
        box.setSpacing(2)
        box.addWidget(self.heading)
        box.addWidget(self.text)
        box.addStretch(1)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)

    def show_told(self, told: Told) -> None:
        """Say this."""
        self.tell(told.tone, told.heading, told.detail, told.more)

    def tell(self, tone: str, heading: str, text: str, more: str = "") -> None:
        """Say this; more: what whoever points at it is told."""
        self.setToolTip(plain_tip(more))
        self.heading.setText(heading)
        self.text.setText(text)
        self.text.setVisible(bool(text))
        if self.property("tone") != tone:
            self.setProperty("tone", tone)
            style = self.style()
            if style is not None:
                style.unpolish(self)
                style.polish(self)
