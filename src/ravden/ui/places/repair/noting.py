"""Something is wrong: which of all that can be, on which zone, and where on the outline."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QWidget

from ravden.core.instrument.outline import Outline
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.outline_view import OutlineView
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.pictured import put_pictures
from ravden.ui.widgets.scrolled import scrolled

if TYPE_CHECKING:
    from ravden.app.seen import Wanted

ICON, COLUMNS, LEFT_W = QSize(66, 44), 3, 282
MET = {"gun": "While it is coated", "paper": "Under paper and wheel", "after": "Later"}


class NotingPage(QWidget):
    """Every kind of defect as a target with its picture; says which was picked, on which zone, where."""

    picked = pyqtSignal(str, str, object)
    settled = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.buttons: dict[str, QPushButton] = {}
        self.place: tuple[float, float] | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        frame, box = panel()
        fit(frame, lambda w: w.setFixedWidth(px(LEFT_W)))
        heading = Label("Where is it?")
        heading.setObjectName("heading")
        self.zone = QComboBox()
        self.zone.setAccessibleName("Zone it is on")
        self.outline = OutlineView()
        self.outline.setToolTip("Click where it is; without it, the zone is enough")
        self.outline.picked.connect(self._turn_to)
        self.outline.placed.connect(self._placed)
        hint = Label("Click the spot on the outline, or only name the zone.")
        hint.setObjectName("muted")
        hint.setWordWrap(True)
        for widget in (heading, self.zone, hint):
            box.addWidget(widget)
        box.addWidget(self.outline, 1)
        row.addWidget(frame)
        what, column = panel()
        head = Label("What is it?")
        head.setObjectName("heading")
        column.addWidget(head)
        area, self._rows = scrolled()
        column.addWidget(area, 1)
        row.addWidget(what, 1)
        self._seen = ""
        self._job = LatestJob(self)
        self._job.done.connect(self._pictured)

    @property
    def busy(self) -> bool:
        """Whether pictures are being worked out."""
        return self._job.busy

    def first_focus(self) -> QWidget:
        """Where the keyboard goes."""
        return self.zone

    def offer(
        self, kinds: Mapping[str, tuple[str, str, str]], zones: Sequence[tuple[str, str]], body: Outline | None,
        neck_mm: float, zone: str, looks: Sequence[Wanted],
    ) -> None:  # fmt: skip
        """These can be picked, by id: name, how it shows, and where it is met."""
        self.place = None
        self.zone.clear()
        for name, label in zones:
            self.zone.addItem(label, name)
        self.zone.setCurrentIndex(max(self.zone.findData(zone), 0))
        self.outline.show_body(body, neck_mm, (), zone)
        self.outline.show_places(())
        if not self.buttons:
            self._fill(kinds)
        self._see(looks)

    def _fill(self, kinds: Mapping[str, tuple[str, str, str]]) -> None:
        for met, title in MET.items():
            heading = Label(title)
            heading.setObjectName("muted")
            self._rows.addWidget(heading)
            grid = QGridLayout()
            grid.setSpacing(6)
            mine = [(k, v) for k, v in kinds.items() if v[2] == met]
            for i, (kind, (label, shows, _)) in enumerate(mine):
                button = QPushButton(label)
                button.setStyleSheet("text-align: left;")
                button.setToolTip(shows)
                button.setAccessibleDescription(shows)
                fit(button, lambda w: w.setMinimumHeight(px(50)))
                button.clicked.connect(lambda _=False, k=kind: self._pick(k))
                grid.addWidget(button, i // COLUMNS, i % COLUMNS)
                self.buttons[kind] = button
            for column in range(COLUMNS):
                grid.setColumnStretch(column, 1)
            self._rows.addLayout(grid)
        self._rows.addStretch(1)

    def _pick(self, kind: str) -> None:
        self.picked.emit(kind, self.zone.currentData() or "", self.place)

    def _turn_to(self, zone: str) -> None:
        at = self.zone.findData(zone)
        if at >= 0:
            self.zone.setCurrentIndex(at)

    def _placed(self, zone: str, x: float, y: float) -> None:
        self.place = (round(x, 1), round(y, 1))
        self._turn_to(zone)

    def _see(self, looks: Sequence[Wanted]) -> None:
        keys = " ".join(look.key for look in looks)
        if keys != self._seen:
            self._seen = keys
            self._job.submit(lambda: [(look.key.split(" ", 1)[0], look.make()) for look in looks])

    def _pictured(self, outcome: Outcome) -> None:
        put_pictures(self.buttons, outcome.value or (), ICON)
        self.settled.emit()
