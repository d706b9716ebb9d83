"""A key for a button: it acts at once, where the toolkit's own would first show the button being pressed."""

from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QPushButton


def keyed(button: QPushButton, key: str) -> None:
    """Give a button a key, which holds while the button is seen."""
    shortcut = QShortcut(QKeySequence(key), button)
    shortcut.activated.connect(button.click)
