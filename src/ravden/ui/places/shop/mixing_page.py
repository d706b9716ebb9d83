"""The mixing desk: one way of mixing, what it asks for, and what to pour in large type."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QWidget

from ravden.app.forms import Field
from ravden.app.mixing import WAYS, Mixed
from ravden.ui.widgets.emptied import emptied
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.field_box import field_box
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.row_button import RowButton


class MixingPage(QWidget):
    """Shows fields and a Mixed. way_turned: another way of mixing; typed: something in the fields is otherwise; asked:
    label or mixed."""

    way_turned = pyqtSignal(str)
    finish_turned = pyqtSignal(str)
    typed_on = pyqtSignal()
    asked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.way = WAYS[0][0]
        self.inputs: dict[str, QLineEdit | QComboBox] = {}
        self.faults: dict[str, FaultLabel] = {}
        ways, first = panel()
        heading = Label("What is mixed")
        heading.setObjectName("heading")
        first.addWidget(heading)
        group = QButtonGroup(self)
        self.ways: dict[str, RowButton] = {}
        for name, text in WAYS:
            button = RowButton()
            button.setText(text)
            button.clicked.connect(lambda _=False, n=name: self.turn(n))
            group.addButton(button)
            first.addWidget(button)
            self.ways[name] = button
        self.ways[self.way].setChecked(True)
        first.addStretch(1)
        asked, second = panel()
        self.heading = Label()
        self.heading.setObjectName("heading")
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(4)
        second.addWidget(self.heading)
        second.addLayout(self._grid)
        second.addStretch(1)
        shown, third = panel()
        self.title, self.pour, self.told, self.warn = Label(), Label(), Label(), Label()
        self.title.setObjectName("heading")
        self.pour.setObjectName("big")
        self.warn.setObjectName("fault")
        for part in (self.title, self.pour, self.told, self.warn):
            part.setWordWrap(True)
            part.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            third.addWidget(part)
        third.addStretch(1)
        self.label, self.mixed = QPushButton("A label for it (PDF) …"), QPushButton("It is mixed")
        self.mixed.setToolTip("Counts as taken from the open can; in a session in the Booth its pot life runs from now")
        self.label.clicked.connect(lambda: self.asked.emit("label"))
        self.mixed.clicked.connect(lambda: self.asked.emit("mixed"))
        keys = QHBoxLayout()
        keys.addWidget(self.label)
        keys.addWidget(self.mixed)
        keys.addStretch(1)
        third.addLayout(keys)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 4, 0, 0)
        row.setSpacing(12)
        row.addWidget(ways, 3)
        row.addWidget(asked, 4)
        row.addWidget(shown, 5)

    def turn(self, way: str) -> None:
        """Another way of mixing."""
        self.way = way
        self.ways[way].setChecked(True)
        self.way_turned.emit(way)

    def ask(self, fields: tuple[Field, ...]) -> None:
        """Ask for these; what was typed before in one of the same name stays, but for the amount and what is usual."""
        self.heading.setText(dict(WAYS)[self.way])
        emptied(self._grid)
        self.inputs, self.faults = {}, {}
        for row, field in enumerate(fields):
            name = Label(f"{field.label}, {field.unit}" if field.unit else field.label)
            box = field_box(field, 10)
            if isinstance(box, QLineEdit):
                box.textEdited.connect(lambda _: self.typed_on.emit())
            elif field.turns:
                box.activated.connect(lambda _, b=box: self.finish_turned.emit(str(b.currentData())))
            else:
                box.activated.connect(lambda _: self.typed_on.emit())
            name.setBuddy(box)
            fault = FaultLabel()
            self._grid.addWidget(name, 2 * row, 0)
            self._grid.addWidget(box, 2 * row, 1)
            self._grid.addWidget(fault, 2 * row + 1, 0, 1, 2)
            self.inputs[field.name], self.faults[field.name] = box, fault

    def typed(self) -> dict[str, str]:
        """What stands in the fields."""
        return {
            name: str(box.currentData()) if isinstance(box, QComboBox) else box.text()
            for name, box in self.inputs.items()
        }

    def show_mixed(self, made: Mixed | None, fault: tuple[str, str] = ("", "")) -> None:
        """What to pour; None: nothing, for what is wrong in a field."""
        for name, label in self.faults.items():
            label.setText(fault[1] if name == fault[0] else "")
        if (by := self.inputs.get("by")) is not None:
            for name in ("base_g_ml", "hardener_g_ml"):
                self.inputs[name].setEnabled(isinstance(by, QComboBox) and by.currentData() == "weight")
        self.title.setText(made.title if made is not None else "")
        self.pour.setText("\n".join(made.pour) if made is not None else "")
        self.told.setText(" ".join(made.told) if made is not None else fault[1] if fault[0] not in self.faults else "")
        self.warn.setText(" ".join(made.warn) if made is not None else "")
        self.label.setEnabled(made is not None)
        self.mixed.setEnabled(made is not None and bool(made.material))
