"""A line that says what was just logged, with the way back beside it; it goes by itself, save what must be read."""

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

SHOWN_MS = 8000


class Notice(QFrame):
    """Told once, gone after some seconds. What must be read stays until it is put away, and comes back after what was
    told over it."""

    undo_asked = pyqtSignal()
    changed = pyqtSignal()  # it says something else of itself, and may want another size

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.undo = QPushButton("Take back  (Ctrl+Z)")
        self.undo.clicked.connect(self.undo_asked)
        box = QHBoxLayout(self)
        box.setContentsMargins(16, 8, 10, 8)
        box.addWidget(self.text, 1)
        box.addWidget(self.undo)
        self.read = QPushButton("I have read this")
        self.read.clicked.connect(self._was_read)
        box.addWidget(self.read)
        self._unread: list[str] = []
        self.timer = QTimer(self)
        self.timer.setSingleShot(True)
        self.timer.timeout.connect(self._go_on)
        self.hide()

    def tell(self, text: str, *, undo: bool) -> None:
        """Say this for some seconds."""
        self._say(text, undo=undo, stays=False)
        self.timer.start(SHOWN_MS)

    def tell_until_read(self, text: str) -> None:
        """Say this until the user has put it away."""
        if text not in self._unread:
            self._unread.append(text)
        if not self.timer.isActive():
            self._go_on()

    def _say(self, text: str, *, undo: bool, stays: bool) -> None:
        self.text.setText(text)
        self.undo.setVisible(undo)
        self.read.setVisible(stays)
        self.show()
        self.raise_()

    def _was_read(self) -> None:
        self._unread.pop(0)
        self._go_on()

    def _go_on(self) -> None:
        if self._unread:
            self._say(self._unread[0], undo=False, stays=True)
            self.changed.emit()
        else:
            self.hide()
