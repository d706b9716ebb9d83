"""The first page there is, while no shop file is open: three large choices."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.theme.style import px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel

ABOUT = (
    "Ravden keeps track of the film on your instruments: how much is on every part, when it may be sanded and buffed, "
    "and which papers get it to the sheen you want. You log what you do with a key; it does the counting."
)
CHOICES = (
    ("start", "Start my workshop", "A few questions on one page, all with an answer already there. It takes a minute."),
    ("look", "Look around a made-up workshop", "Eight instruments in the middle of their finish, and a short tour. "
     "Try anything: nothing of it is kept."),
    ("open", "Open a shop file", "One you have made before, on this machine or another."),
)  # fmt: skip
CARD_H = 130


class StartChoices(QWidget):
    """Says which of the three was chosen."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        heading = Label("Good day.")
        heading.setObjectName("title")
        about = Label(ABOUT)
        about.setWordWrap(True)
        about.setMaximumWidth(px(760))
        row = QHBoxLayout()
        row.setSpacing(14)
        self.buttons: dict[str, QPushButton] = {}
        for key, text, what in CHOICES:
            frame, box = panel()
            frame.setMinimumHeight(px(CARD_H))
            button = QPushButton(text)
            button.setObjectName("main" if key == "start" else "")
            button.setMinimumHeight(px(56))
            button.setAccessibleDescription(what)
            button.clicked.connect(lambda _=False, k=key: self.chosen.emit(k))
            told = Label(what)
            told.setWordWrap(True)
            told.setAlignment(Qt.AlignmentFlag.AlignTop)
            box.addWidget(button)
            box.addWidget(told, 1)
            row.addWidget(frame, 1)
            self.buttons[key] = button
        box = QVBoxLayout(self)
        box.setContentsMargins(px(48), px(70), px(48), px(48))
        box.setSpacing(px(18))
        box.addStretch(2)
        for widget in (heading, about):
            box.addWidget(widget)
        box.addLayout(row)
        box.addStretch(3)
        self.setFocusProxy(self.buttons["start"])
