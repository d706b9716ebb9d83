"""Which zones a session is on, and in which order: large targets over the page, picked one after the other."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel

ORDER = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth")
MOST = 18


class ZonePick(QWidget):
    """A number picks a zone, or lets it go; none picked means all of them."""

    picked = pyqtSignal(str, tuple)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.hide()
        self._instrument = ""
        self.order: tuple[str, ...] = ()
        self._zones: tuple[tuple[str, str], ...] = ()
        frame, box = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self.heading = Label()
        self.heading.setObjectName("big")
        self.heading.setWordWrap(True)
        box.addWidget(self.heading)
        grid = QGridLayout()
        box.addLayout(grid)
        self.buttons: list[QPushButton] = []
        for i in range(MOST):
            button = QPushButton()
            button.setCheckable(True)
            fit(button, lambda w: w.setMinimumHeight(px(58)))
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(lambda _=False, n=i: self.turn(n))
            grid.addWidget(button, i // 2, i % 2)
            self.buttons.append(button)
        box.addStretch(1)
        self.done, self.every = QPushButton("Space: these"), QPushButton("Backspace: all zones again")
        self.done.setObjectName("main")
        row = QHBoxLayout()
        for key, slot in ((self.done, self.accept), (self.every, self.clear)):
            key.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            key.setStyleSheet("font-size: 19px; padding: 6px 4px;")
            fit(key, lambda w: w.setMinimumHeight(px(64)))
            key.clicked.connect(slot)
            row.addWidget(key, 1)
        box.addLayout(row)

    def ask(self, instrument: str, name: str, zones: tuple[tuple[str, str], ...], order: tuple[str, ...]) -> None:
        """Offer the zones (name and label) of an instrument; order: those picked before."""
        self._instrument, self._zones, self.order = instrument, zones[:MOST], order
        self.heading.setText(f"Zones of {name}, in the order you do them. None picked: all of them.")
        self._show()
        self.show()
        self.raise_()

    def _show(self) -> None:
        for i, button in enumerate(self.buttons):
            button.setVisible(i < len(self._zones))
            if i < len(self._zones):
                zone, label = self._zones[i]
                at = self.order.index(zone) if zone in self.order else -1
                nth = "" if at < 0 else ORDER[at] if at < len(ORDER) else f"number {at + 1}"
                button.setText(f"{i + 1 if i < 9 else ' '}   {label}" + (f"   ✓ {nth}" if nth else ""))
                button.setChecked(at >= 0)
                chosen = f" font-weight: bold; border: 2px solid {current().accent};" if at >= 0 else ""
                button.setStyleSheet(f"font-size: 20px; text-align: left;{chosen}")
                button.setAccessibleName(f"{label}, {nth or ('left out' if self.order else 'with all others')}")

    def turn(self, index: int) -> None:
        """Pick a zone as the next, or let it go."""
        if 0 <= index < len(self._zones):
            zone = self._zones[index][0]
            self.order = tuple(z for z in self.order if z != zone) if zone in self.order else (*self.order, zone)
            self._show()

    def clear(self) -> None:
        """All of them again."""
        self.order = ()
        self._show()

    def accept(self) -> None:
        """These it is."""
        self.hide()
        self.picked.emit(self._instrument, self.order)

    def key(self, event: QKeyEvent) -> None:
        """A key pressed while it is open."""
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.accept()
        elif event.key() == Qt.Key.Key_Backspace:
            self.clear()
        else:
            self.turn(event.key() - Qt.Key.Key_1)
