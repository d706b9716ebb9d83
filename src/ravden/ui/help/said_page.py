"""About Ravden, and what to send when something went wrong: a page of text to read and to copy."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from ravden.ui.widgets.keyed import keyed


class SaidPage(QWidget):
    """A heading, a sentence, and a text that can be copied."""

    left = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title, self.about = QLabel(), QLabel()
        self.title.setObjectName("title")
        self.about.setWordWrap(True)
        self.copy = QPushButton("Copy all of it")
        self.copy.clicked.connect(self._copy)
        leave = QPushButton("Back  (Esc)")
        keyed(leave, "Esc")
        leave.clicked.connect(self.left)
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(self.copy)
        head.addWidget(leave)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 12, 22, 12)
        box.setSpacing(10)
        box.addLayout(head)
        box.addWidget(self.about)
        box.addWidget(self.text, 1)

    def tell(self, title: str, about: str, text: str) -> None:
        """Say this."""
        self.title.setText(title)
        self.about.setText(about)
        self.text.setPlainText(text)
        self.text.setAccessibleName(title)
        self.text.setFocus()

    def _copy(self) -> None:
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.text.toPlainText())
            self.told.emit("Copied")
