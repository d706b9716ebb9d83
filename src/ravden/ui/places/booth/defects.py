"""What can go wrong, as large targets over the run: noted without stopping."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.pictured import put_pictures

if TYPE_CHECKING:
    from ravden.app.seen import Wanted

LARGE_PX, WHERE_W = 54, 170
ICON = QSize(57, 38)


class Defects(QWidget):
    """What can go wrong, as large targets, and the zone it went wrong on; a letter picks one, Tab turns to the others,
    Esc picks none."""

    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.hide()
        frame, box = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        heading = Label("What went wrong, and where?")
        heading.setObjectName("big")
        self.where = QComboBox()
        self.where.setAccessibleName("Zone it went wrong on")
        self.where.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.where.setToolTip("Left and right arrow turn to another zone")
        self.where.setStyleSheet("font-size: 20px;")
        self.where.setMinimumSize(WHERE_W, LARGE_PX)
        self.before, self.after = self._large("◀", "The zone before"), self._large("▶", "The next zone")
        self.before.clicked.connect(lambda: self._turn(-1))
        self.after.clicked.connect(lambda: self._turn(1))
        top = QHBoxLayout()
        top.addWidget(heading, 1)
        for control in (self.before, self.where, self.after):
            top.addWidget(control)
        box.addLayout(top)
        self._grid = QGridLayout()
        box.addLayout(self._grid)
        box.addStretch(1)
        self.leave = self._large("Esc: nothing went wrong", "")
        self.leave.clicked.connect(lambda: self.picked.emit(""))
        self.more = self._large("Tab: something else", "The other things that can go wrong")
        self.more.clicked.connect(self.turn_page)
        feet = QHBoxLayout()
        feet.addWidget(self.leave, 1)
        feet.addWidget(self.more, 1)
        box.addLayout(feet)
        self._first: tuple[str, ...] = ()  # those of the page one comes to
        self._others = False
        self.buttons: dict[str, QPushButton] = {}
        self._labels: dict[str, str] = {}
        self._seen: str = ""  # what the pictures are of
        self._job = LatestJob(self)
        self._job.done.connect(self._pictured)

    @property
    def busy(self) -> bool:
        """Whether pictures are being worked out."""
        return self._job.busy

    def see(self, looks: Sequence[Wanted]) -> None:
        """Show what they look like, in the order they are offered in: a key that names the defect first."""
        keys = " ".join(look.key for look in looks)
        if keys == self._seen:
            return
        self._seen = keys
        for look in looks:
            button = self.buttons[look.key.split(" ", 1)[0]]
            button.setToolTip(look.words)
            button.setAccessibleDescription(look.words)
        self._job.submit(lambda: [(look.key.split(" ", 1)[0], look.make()) for look in looks])

    def _pictured(self, outcome: Outcome) -> None:
        put_pictures(self.buttons, outcome.value or (), ICON)

    @staticmethod
    def _large(text: str, name: str) -> QPushButton:
        button = QPushButton(text)
        button.setStyleSheet("font-size: 20px;")
        fit(button, lambda w: w.setMinimumHeight(px(LARGE_PX)))
        button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        button.setAccessibleName(name or text)
        return button

    @property
    def zone(self) -> str:
        """The zone chosen."""
        return self.where.currentData() or ""

    def offer(
        self, defects: dict[str, tuple[str, str]], zones: tuple[tuple[str, str], ...], first: tuple[str, ...]
    ) -> None:  # fmt: skip
        """These can be picked, on these zones: name and label of each; first: those met at what hands do now."""
        if [self.where.itemData(i) for i in range(self.where.count())] != [z for z, _ in zones]:
            self.where.clear()
            for name, label in zones:
                self.where.addItem(label, name)
        if not self.buttons:
            for name, (label, _) in defects.items():
                button = self._large(label, label)
                button.setStyleSheet("font-size: 20px; text-align: left;")
                button.clicked.connect(lambda _=False, n=name: self.picked.emit(n))
                self.buttons[name] = button
            self._labels = {name: label for name, (label, _) in defects.items()}
        if first != self._first:
            self._first = first
            self._lay_out(others=False)

    def turn_page(self) -> None:
        """To what else can go wrong, or back."""
        self._lay_out(others=not self._others)

    @property
    def page(self) -> list[str]:
        """Those that can be picked by a letter now, in its order."""
        return [n for n in self.buttons if (n in self._first) != self._others]

    def _lay_out(self, *, others: bool) -> None:
        self._others = others
        for button in self.buttons.values():
            self._grid.removeWidget(button)
            button.hide()
        for i, name in enumerate(self.page):
            button = self.buttons[name]
            button.setText(f"{chr(65 + i)}   {self._labels[name]}")
            self._grid.addWidget(button, i // 2, i % 2)
            button.show()

    def turn_to(self, zone: str) -> None:
        """The zone in hand, where it is known, and what is met now."""
        self._lay_out(others=False)
        at = self.where.findData(zone)
        if at >= 0:
            self.where.setCurrentIndex(at)

    def _turn(self, by: int) -> None:
        if self.where.count():
            self.where.setCurrentIndex((self.where.currentIndex() + by) % self.where.count())

    def key(self, event: QKeyEvent) -> None:
        """A key pressed while it is open."""
        at = event.key() - Qt.Key.Key_A
        if event.key() == Qt.Key.Key_Escape:
            self.picked.emit("")
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._turn(1 if event.key() == Qt.Key.Key_Right else -1)
        elif event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_0):
            self.turn_page()
        elif 0 <= at < len(self.page):
            self.picked.emit(self.page[at])
