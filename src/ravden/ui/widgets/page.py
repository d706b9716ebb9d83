"""A page that lies over the places: its title, the way back with Esc, and the act it is there for."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.ui.widgets.keyed import keyed
from ravden.ui.widgets.label import Label


class Page(QWidget):
    """Put its parts into ``box``; the way back stands in a head, or beside the act in a foot."""

    left = pyqtSignal()

    def __init__(self, title: str, parent: QWidget | None = None, back: str = "Back") -> None:
        super().__init__(parent)
        self.title = Label(title)
        self.title.setObjectName("title")
        self.leave = QPushButton(f"{back}  (Esc)")
        keyed(self.leave, "Esc")
        self.leave.clicked.connect(self.left)
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(22, 12, 22, 16)
        self.box.setSpacing(12)

    def add_head(self, *beside: QWidget) -> None:
        """The title and the way back, with these between them, the first of which is given the room."""
        row = QHBoxLayout()
        row.addWidget(self.title, 0 if beside else 1)
        for i, widget in enumerate((*beside, self.leave)):
            row.addSpacing(14 if beside and not i else 0)
            row.addWidget(widget, 1 if beside and not i else 0)
        self.box.addLayout(row)

    def add_foot(self, fault: QLabel, act: str, does: Callable[[], None]) -> QPushButton:
        """What is wrong, the way back, and the act, which Ctrl+Enter does too."""
        keep = QPushButton(f"{act}  (Ctrl+Enter)")
        keep.setObjectName("main")
        keyed(keep, "Ctrl+Return")
        keep.clicked.connect(does)
        row = QHBoxLayout()
        row.addWidget(fault, 1)
        row.addWidget(self.leave)
        row.addWidget(keep)
        self.box.addLayout(row)
        return keep
