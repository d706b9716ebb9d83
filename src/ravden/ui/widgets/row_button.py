"""A row one can press: text that does not fit ends in dots, and the whole of it is its tooltip."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QStyleOptionButton, QWidget

ROOM_PX = 16  # of the style's padding and the line at the left
BOLD = 0.92  # a chosen row is bold, and so much less of it fits


class RowButton(QPushButton):
    """As wide as there is room, never wider."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setCheckable(True)
        self.setObjectName("zone")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def initStyleOption(self, option: QStyleOptionButton | None) -> None:
        super().initStyleOption(option)
        if option is not None:
            room = round((self.width() - ROOM_PX) * (BOLD if self.isChecked() else 1.0))
            lines = (option.text or "").split("\n")
            short = (self.fontMetrics().elidedText(t, Qt.TextElideMode.ElideRight, room) for t in lines)
            option.text = "\n".join(short)
