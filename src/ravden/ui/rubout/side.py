"""Beside the ladder: zones, other ways, the drawer, the wheel, and paper before and between coats."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QWidget

from ravden.ui.rubout.drawer_panel import DrawerPanel
from ravden.ui.rubout.panels import PaperPanel, WaysPanel, WheelPanel
from ravden.ui.rubout.zones_panel import RubZonesPanel
from ravden.ui.widgets.panel import panel

SIDE_W = 340
PAGES = (("zones", "Zones"), ("ways", "Ways"), ("drawer", "Drawer"), ("wheel", "Wheel"), ("paper", "Paper"))


class RubSide(QWidget):
    """Five panels and the row of buttons that turns to them."""

    turned = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.zones, self.ways, self.drawer = RubZonesPanel(), WaysPanel(), DrawerPanel()
        self.wheel, self.paper = WheelPanel(), PaperPanel()
        self.page = "zones"
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        row.setSpacing(2)
        group = QButtonGroup(self)
        self.stack = QStackedWidget()
        self._pages: dict[str, QWidget] = {}
        pages = {
            "zones": self.zones,
            "ways": self.ways,
            "drawer": self.drawer,
            "wheel": self.wheel,
            "paper": self.paper,
        }
        for i, (name, label) in enumerate(PAGES, start=1):
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
            page = pages[name]
            self._pages[name] = page if name == "drawer" else _scrolled(page)
            self.stack.addWidget(self._pages[name])
        row.addStretch(1)
        frame, box = panel()
        box.addLayout(row)
        box.addWidget(self.stack, 1)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self.setFixedWidth(SIDE_W)
        self.buttons["zones"].setChecked(True)

    def turn_to(self, page: str) -> None:
        """Show a panel."""
        self.page = page
        self.buttons[page].setChecked(True)
        self.stack.setCurrentWidget(self._pages[page])
        self.turned.emit(page)


def _scrolled(page: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidget(page)
    return area
