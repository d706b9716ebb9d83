"""What a place shows while there is nothing to show: what is missing, and the one thing to do about it."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label

NO_INSTRUMENT = (
    "Nothing is on the rack yet.",
    "Add an instrument, say what finish it gets, and log its first coat with C. Ravden then tells how much film is on "
    "it, when it may be levelled and buffed, and which grits to use.",
    "Add an instrument  (N)",
)

ALL_GONE = (
    "Nothing is on the rack.",
    "All that was on it has been handed over: it stands in the Book (Shop, Book), and can be brought back from there.",
    "Add an instrument  (N)",
)


class EmptyPlace(QWidget):
    """A heading, a sentence and a button."""

    asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.heading, self.text, self.button = Label(), Label(), QPushButton()
        self.heading.setObjectName("title")
        self.text.setWordWrap(True)
        fit(self.text, lambda w: w.setMaximumWidth(px(620)))
        self.button.setObjectName("main")
        self.button.clicked.connect(self.asked)
        row = QHBoxLayout()
        row.addWidget(self.button)
        row.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(60, 90, 60, 60)
        box.setSpacing(14)
        for widget in (self.heading, self.text):
            box.addWidget(widget)
        box.addLayout(row)
        box.addStretch(1)

    def tell(self, words: tuple[str, str, str]) -> None:
        """Heading, sentence and button."""
        heading, text, button = words
        self.heading.setText(heading)
        self.text.setText(text)
        self.button.setText(button)
