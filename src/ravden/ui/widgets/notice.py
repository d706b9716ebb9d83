"""A line that says what was just logged, with the way back beside it; it goes by itself."""

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

SHOWN_MS = 8000


class Notice(QFrame):
    """Told once, gone after some seconds."""

    undo_asked = pyqtSignal()

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
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def tell(self, text: str, *, undo: bool) -> None:
        """Say this for some seconds."""
        self.text.setText(text)
        self.undo.setVisible(undo)
        self.show()
        self.raise_()
        self._timer.start(SHOWN_MS)
