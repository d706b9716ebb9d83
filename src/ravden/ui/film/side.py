"""The panel beside the timeline: zones, the next coat, the waits, the plan, the log; one at a time."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QWidget

from ravden.ui.film.coat_panel import CoatPanel
from ravden.ui.film.log_panel import LogPanel
from ravden.ui.film.plan_panel import PlanPanel
from ravden.ui.film.waits_panel import WaitsPanel
from ravden.ui.film.witness_panel import WitnessPanel
from ravden.ui.film.zones_panel import ZonesPanel
from ravden.ui.widgets.panel import panel

SIDE_W = 320
PAGES = (("zones", "Zones"), ("coat", "Next coat"), ("waits", "Waits"), ("plan", "Plan"), ("log", "Log"))


class Side(QWidget):
    """Five panels and the row of buttons that turns to them."""

    turned = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.zones, self.coat, self.plan, self.log = ZonesPanel(), CoatPanel(), PlanPanel(), LogPanel()
        self.waits, self.witness = WaitsPanel(), WitnessPanel()
        self.waits.card.clicked.connect(lambda: self.turn_to("witness"))
        self.witness.left.connect(lambda: self.turn_to("waits"))
        self.page = "zones"
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        row.setSpacing(2)
        group = QButtonGroup(self)
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
        row.addStretch(1)
        self.stack = QStackedWidget()
        self._pages: dict[str, QWidget] = {
            "zones": self.zones, "coat": self.coat, "waits": self.waits, "plan": self.plan, "log": self.log,
            "witness": self.witness,
        }  # fmt: skip
        for name in ("waits", "plan", "witness"):
            # Sentences that may be many, in a window that may be low.
            self._pages[name] = _scrolled(self._pages[name])
        for page in self._pages.values():
            self.stack.addWidget(page)
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
        self.buttons["waits" if page == "witness" else page].setChecked(True)
        self.stack.setCurrentWidget(self._pages[page])
        self.turned.emit(page)


def _scrolled(page: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(page)
    return area
