"""What can go wrong, as large targets over the run: noted without stopping."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.ui.widgets.panel import panel


class Defects(QWidget):
    """What can go wrong, as large targets, and the zone it went wrong on; a letter picks one, Esc none."""

    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.hide()
        frame, box = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        heading = QLabel("What went wrong? A letter picks it; Esc leaves.")
        heading.setObjectName("big")
        self.where = QComboBox()
        self.where.setAccessibleName("Zone it went wrong on")
        self.where.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.where.setToolTip("Left and right arrow turn to another zone")
        top = QHBoxLayout()
        top.addWidget(heading, 1)
        top.addWidget(QLabel("On the zone (left, right)"))
        top.addWidget(self.where)
        box.addLayout(top)
        self._grid = QGridLayout()
        box.addLayout(self._grid)
        box.addStretch(1)
        self.buttons: dict[str, QPushButton] = {}

    @property
    def zone(self) -> str:
        """The zone chosen."""
        return self.where.currentData() or ""

    def offer(self, defects: dict[str, tuple[str, str]], zones: tuple[tuple[str, str], ...]) -> None:
        """These can be picked, on these zones: name and label of each."""
        if [self.where.itemData(i) for i in range(self.where.count())] != [z for z, _ in zones]:
            self.where.clear()
            for name, label in zones:
                self.where.addItem(label, name)
        if self.buttons:
            return
        for i, (name, (label, _)) in enumerate(defects.items()):
            button = QPushButton(f"{chr(65 + i)}   {label}")
            button.setStyleSheet("font-size: 20px; text-align: left;")
            button.setMinimumHeight(58)
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(lambda _=False, n=name: self.picked.emit(n))
            self._grid.addWidget(button, i // 2, i % 2)
            self.buttons[name] = button

    def turn_to(self, zone: str) -> None:
        """The zone in hand, where it is known."""
        at = self.where.findData(zone)
        if at >= 0:
            self.where.setCurrentIndex(at)

    def key(self, event: QKeyEvent) -> None:
        """A key pressed while it is open."""
        at = event.key() - Qt.Key.Key_A
        if event.key() == Qt.Key.Key_Escape:
            self.picked.emit("")
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.where.count():
            by = 1 if event.key() == Qt.Key.Key_Right else -1
            self.where.setCurrentIndex((self.where.currentIndex() + by) % self.where.count())
        elif 0 <= at < len(self.buttons):
            self.picked.emit(list(self.buttons)[at])
