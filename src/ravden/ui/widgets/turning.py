"""Panels one at a time, and the row of buttons that turns to them; Alt and a number does too. With a width they stand
in a frame beside something; without one they fill the place."""

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.panel import panel


class Turning(QWidget):
    """Says which page was turned to. A page without a button of its own lights the one it is reached from."""

    turned = pyqtSignal(str)

    def __init__(
        self, labels: Sequence[tuple[str, str]], pages: Mapping[str, QWidget], *, width: int = 0,
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
        outer = box = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        if width:
            frame, box = panel()
            outer.addWidget(frame)
            fit(self, lambda w: w.setFixedWidth(px(width)))
        box.addLayout(row)
        box.addWidget(self.stack, 1)
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
