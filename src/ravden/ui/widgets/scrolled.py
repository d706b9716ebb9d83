"""A column that scrolls downward when there is no room for it, and never sideways."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget


def scrolled() -> tuple[QScrollArea, QVBoxLayout]:
    """The area and the column in it."""
    inner = QWidget()
    box = QVBoxLayout(inner)
    box.setContentsMargins(0, 0, 0, 0)
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setWidget(inner)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return area, box
