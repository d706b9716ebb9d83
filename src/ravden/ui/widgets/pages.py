"""Pages one at a time, which want no more room than the one that is shown."""

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QStackedWidget, QWidget


class Pages(QStackedWidget):
    """A stack that is as small as its shown page may be: a page nobody looks at scrolls nothing."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.currentChanged.connect(lambda _: self.updateGeometry())

    def minimumSizeHint(self) -> QSize:
        shown = self.currentWidget()
        return QSize() if shown is None else shown.minimumSizeHint().expandedTo(shown.minimumSize())
