"""Panels one at a time, and the row of buttons that turns to them; Alt and a number does too."""

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QWidget

from ravden.ui.widgets.panel import panel


class Turning(QWidget):
    """Says which page was turned to. A page without a button of its own lights the one it is reached from."""

    turned = pyqtSignal(str)

    def __init__(
        self, labels: Sequence[tuple[str, str]], pages: Mapping[str, QWidget], *, width: int,
        scrolled: Sequence[str] = (), reached_from: Mapping[str, str] | None = None, parent: QWidget | None = None,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.page = labels[0][0]
        self._reached_from = dict(reached_from or {})
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        row.setSpacing(2)
        group = QButtonGroup(self)
        for i, (name, label) in enumerate(labels, start=1):
            button = QPushButton(label)
            button.setObjectName("turn")
            button.setCheckable(True)
            button.setToolTip(f"Alt+{i}")
            key = QShortcut(QKeySequence(f"Alt+{i}"), self)
            key.activated.connect(lambda n=name: self.turn_to(n))
            button.clicked.connect(lambda _=False, n=name: self.turn_to(n))
            group.addButton(button)
            row.addWidget(button)
            self.buttons[name] = button
        row.addStretch(1)
        self.stack = QStackedWidget()
        # Sentences that may be many, in a window that may be low.
        self._pages = {name: _scroll(page) if name in scrolled else page for name, page in pages.items()}
        for page in self._pages.values():
            self.stack.addWidget(page)
        frame, box = panel()
        box.addLayout(row)
        box.addWidget(self.stack, 1)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self.setFixedWidth(width)
        self.buttons[self.page].setChecked(True)

    def turn_to(self, page: str) -> None:
        """Show a panel."""
        self.page = page
        self.buttons[self._reached_from.get(page, page)].setChecked(True)
        self.stack.setCurrentWidget(self._pages[page])
        self.turned.emit(page)


def _scroll(page: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(page)
    return area
