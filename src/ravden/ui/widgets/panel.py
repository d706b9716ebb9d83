"""A framed panel."""

from PyQt6.QtWidgets import QFrame, QVBoxLayout


def panel() -> tuple[QFrame, QVBoxLayout]:
    """A framed panel and its layout."""
    frame = QFrame()
    frame.setObjectName("panel")
    box = QVBoxLayout(frame)
    box.setContentsMargins(14, 10, 14, 10)
    box.setSpacing(6)
    return frame, box
