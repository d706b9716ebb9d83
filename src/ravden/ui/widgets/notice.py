"""A line that says what was just logged, with the way back beside it; it goes by itself, save what must be read."""

from collections.abc import Callable

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from ravden.ui.theme import style
from ravden.ui.widgets.label import Label

SHOWN_MS = 8000


class Notice(QFrame):
    """Told once, gone after some seconds. What must be read stays until it is put away, and comes back after what was
    told over it."""

    undo_asked = pyqtSignal()
    changed = pyqtSignal()  # it says something else of itself, and may want another size

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self.text = Label()
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
        self.way = QPushButton()
        self.way.clicked.connect(self._take_way)
        box.addWidget(self.way)
        self._unread: list[str] = []
        self._passing: tuple[str, Callable[[], object]] | None = None
        self._ways: dict[str, tuple[str, Callable[[], object]]] = {}
        self.timer = QTimer(self)
        self.timer.setSingleShot(True)
        self.timer.timeout.connect(self._go_on)
        self.hide()

    def tell(self, text: str, *, undo: bool, way: tuple[str, Callable[[], object]] | None = None) -> None:
        """Say this for some seconds; way: a button beside it, and what it does."""
        self._passing = way
        self._say(text, undo=undo, stays=False)
        self.timer.start(SHOWN_MS)

    def tell_until_read(self, text: str, way: tuple[str, Callable[[], object]] | None = None) -> None:
        """Say this until the user has put it away; way: a button beside it, and what it does."""
        if way is not None:
            # There is something to do about it, just now: it comes before what was told and what is still to be read.
            self._ways[text] = way
            self._unread = [text, *(t for t in self._unread if t != text)]
            self.timer.stop()
        elif text not in self._unread:
            self._unread.append(text)
        if not self.timer.isActive():
            self._go_on()

    def _say(self, text: str, *, undo: bool, stays: bool) -> None:
        self.text.setText(text)
        self.undo.setVisible(undo)
        self.read.setVisible(stays)
        way = self._ways.get(text) if stays else self._passing
        self.way.setVisible(way is not None)
        self.way.setText("" if way is None else way[0])
        style.dress(self)
        self.show()
        self.raise_()

    def _was_read(self) -> None:
        self._ways.pop(self._unread.pop(0), None)
        self._go_on()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        QTimer.singleShot(0, self.changed.emit)  # what it says is measured once it is dressed

    def _take_way(self) -> None:
        if self.read.isHidden():
            take = self._passing
            self.timer.stop()
            self._go_on()
        else:
            take = self._ways.get(self.text.text())
            self._was_read()
        if take is not None:
            take[1]()

    def _go_on(self) -> None:
        if self._unread:
            self._say(self._unread[0], undo=False, stays=True)
            self.changed.emit()
        else:
            self.hide()
