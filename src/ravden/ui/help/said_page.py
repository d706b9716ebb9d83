"""About Ravden, and what to send when something went wrong: a page of text to read and to copy."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QPlainTextEdit, QPushButton, QWidget

from ravden.ui.widgets.label import Label
from ravden.ui.widgets.page import Page


class SaidPage(Page):
    """A heading, a sentence, and a text that can be copied."""

    told = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("", parent)
        self.about = Label()
        self.about.setWordWrap(True)
        self.copy = QPushButton("Copy all of it")
        self.copy.clicked.connect(self._copy)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.add_head(QWidget(), self.copy)
        self.box.addWidget(self.about)
        self.box.addWidget(self.text, 1)

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
