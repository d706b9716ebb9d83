"""The Rack: what is ready for hands, in words, over the lanes of all instruments."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ravden.ui.places.rack.lanes import Lanes
from ravden.ui.places.rack.presenter import RackShown
from ravden.ui.widgets.told import ToldCard


class RackView(QWidget):
    """Shows a RackShown."""

    picked = pyqtSignal(str)
    opened = pyqtSignal(str)
    add_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = QLabel("Rack")
        self.title.setObjectName("title")
        self.add = QPushButton("Add an instrument  (N)")
        self.add.clicked.connect(self.add_asked)
        head = QHBoxLayout()
        head.addWidget(self.title)
        head.addStretch(1)
        head.addWidget(self.add)
        self._told_row = QHBoxLayout()
        self._told_row.setSpacing(12)
        self.told = [ToldCard() for _ in range(3)]
        for card in self.told:
            self._told_row.addWidget(card, 1, Qt.AlignmentFlag.AlignTop)
            card.hide()
        self.lanes = Lanes()
        self.lanes.picked.connect(self.picked)
        self.lanes.opened.connect(self.opened)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.lanes)
        self._scroll = scroll
        self.legend = QLabel(
            "Strokes are coats, thin ones planned · a bar under them a sanding · a peak a reading · "
            "an upright line is when a window likely opens, the dots its 10–90 % range · "
            "film pale = soft, dark = hard, faded = planned"
        )
        self.legend.setObjectName("muted")
        self.legend.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 16, 22, 12)
        box.setSpacing(12)
        box.addLayout(head)
        box.addLayout(self._told_row)
        box.addWidget(scroll, 1)
        box.addWidget(self.legend)

    def show_rack(self, shown: RackShown, selected: str) -> None:
        """Show this."""
        self.title.setText(shown.shop or "Rack")
        for i, card in enumerate(self.told):
            card.setVisible(i < len(shown.told))
            if i < len(shown.told):
                card.show_told(shown.told[i])
        self._scroll.setVisible(bool(shown.lanes))
        self.legend.setVisible(bool(shown.lanes))
        self.lanes.show_rack(shown, selected)
