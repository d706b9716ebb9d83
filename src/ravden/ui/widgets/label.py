"""A label that shows what it is given, as somebody wrote it."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """Plain text, whatever stands in it: what is typed is never taken for markup, and loads no picture."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
