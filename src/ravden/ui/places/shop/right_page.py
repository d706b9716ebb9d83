"""Was Ravden right? Pictures of what was foretold and came, and for each finish one sentence on what to change."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ravden.ui.places.shop.right_picture import RightPicture
from ravden.ui.places.shop.right_presenter import RightShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.scrolled import scrolled

ABOUT = (
    "A bar is what Ravden said at the time, the range meant to hold nine times in ten; the dot is what came. Square "
    "and red: outside. A dotted line: it is only known to have been somewhere along it."
)


class RightPage(QWidget):
    """Shows a RightShown. taken: a finish, by its material's id, whose rate is to be taken over; further: look further
    back."""

    taken = pyqtSignal(str)
    further = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setObjectName("heading")
        self.about = Label(ABOUT)
        self.about.setWordWrap(True)
        self.about.setObjectName("muted")
        self.picture = RightPicture()
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.picture)
        self.more = QPushButton("Look further back")
        self.more.setToolTip("At instruments handed over earlier")
        self.more.clicked.connect(self.further)
        left, box = panel()
        box.addWidget(self.told)
        box.addWidget(self.about)
        box.addWidget(area, 1)
        foot = QHBoxLayout()
        foot.addWidget(self.more)
        foot.addStretch(1)
        box.addLayout(foot)
        right, beside = panel()
        self.heading = Label("What to change")
        self.heading.setObjectName("heading")
        beside.addWidget(self.heading)
        column_area, self._column = scrolled()
        self._column.setSpacing(6)
        self._column.addStretch(1)
        beside.addWidget(column_area, 1)
        row = QHBoxLayout()
        row.setContentsMargins(0, 4, 0, 0)
        row.setSpacing(12)
        row.addWidget(left, 7)
        row.addWidget(right, 3)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addLayout(row)
        self.sentences: list[QLabel] = []
        self.why: list[QLabel] = []
        self.take: dict[str, QPushButton] = {}

    def show_right(self, shown: RightShown) -> None:
        """Show this."""
        self.told.setText(shown.told)
        self.more.setVisible(shown.more)
        for told in (self.about, self.picture, self.heading):
            told.setVisible(bool(shown.rows))
        self.picture.show_rows(shown.rows, shown.shares)
        for widget in (*self.sentences, *self.why, *self.take.values()):
            self._column.removeWidget(widget)
            widget.setParent(None)
            widget.deleteLater()
        self.sentences, self.why, self.take = [], [], {}
        for finish in shown.finishes:
            label = Label(finish.text)
            label.setWordWrap(True)
            self._column.insertWidget(self._column.count() - 1, label)
            self.sentences.append(label)
            if finish.can_take:
                button = QPushButton("Take it over")
                button.setToolTip("Every wait of this finish moves to it; Ctrl+Z takes it back")
                button.clicked.connect(lambda _=False, m=finish.material: self.taken.emit(m))
                self._column.insertWidget(self._column.count() - 1, button)
                self.take[finish.material] = button
        for text in shown.why:
            label = Label(text)
            label.setWordWrap(True)
            label.setObjectName("muted")
            self._column.insertWidget(self._column.count() - 1, label)
            self.why.append(label)
