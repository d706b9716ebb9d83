"""One page of questions that begins a workshop; each has an answer already, and none must be touched."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QWidget,
)

from ravden.app import starting
from ravden.app.hours_form import PRESETS
from ravden.app.settings import LAYS, LIKELY
from ravden.catalogue.rows import Measuring
from ravden.core.errors import InputError
from ravden.journal.store import SUFFIX
from ravden.text.say import whole_fault
from ravden.ui.theme.style import fit, scale
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.page import Page
from ravden.ui.widgets.panel import panel

SPELT = {PRESETS[0][0]: "Weekdays, 8 to 17", PRESETS[1][0]: PRESETS[1][0], PRESETS[2][0]: PRESETS[2][0]}


class StartPage(Page):
    """Hands the answers on; ``submit`` raises InputError for what it will not take."""

    def __init__(self, measuring: Mapping[str, Measuring], parent: QWidget | None = None) -> None:
        super().__init__("Your workshop", parent)
        self._submit: Callable[[starting.Answers], None] | None = None
        self._elsewhere: Path | None = None
        about = Label("Change what is wrong, leave the rest. All of it can be changed later under Settings (Ctrl+,).")
        about.setObjectName("muted")
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self._shop(), 4)
        row.addWidget(self._laying(), 3)
        row.addWidget(self._measuring(measuring), 5)
        self.fault = FaultLabel()
        for widget in (self.title, about):
            self.box.addWidget(widget)
        self.box.addLayout(row)
        self.keep = self.add_foot(self.fault, "Open my workshop", self.submit)
        self.box.addStretch(1)

    def _shop(self) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading("The workshop"))
        grid = QGridLayout()
        grid.setVerticalSpacing(9)
        self.name = QLineEdit(starting.USUAL_NAME)
        self.units = QComboBox()
        self.units.addItem("Metric: µm, °C, mm", "metric")
        self.units.addItem("US: mil, °F, inches", "us")
        self.hours = QComboBox()
        for key, _ in PRESETS:
            self.hours.addItem(SPELT[key], key)
        self.hours.addItem("I cannot say: any day, 8 to 20", "")
        self.hours.setToolTip("Work by hand is planned into these hours; films dry round the clock.")
        for i, (label, field) in enumerate(
            (("Its name", self.name), ("Units", self.units), ("You work", self.hours)), start=0
        ):
            text = Label(label)
            text.setBuddy(field)
            field.setAccessibleName(label)
            grid.addWidget(text, i, 0)
            grid.addWidget(field, i, 1)
        box.addLayout(grid)
        self.where = Label()
        self.where.setObjectName("muted")
        self.where.setWordWrap(True)
        elsewhere = QPushButton("Put it elsewhere …")
        elsewhere.setObjectName("quiet")
        elsewhere.clicked.connect(self._choose_file)
        self.elsewhere = elsewhere
        self.name.textChanged.connect(lambda _: self._say_where())
        line = QHBoxLayout()
        line.addWidget(elsewhere)
        line.addStretch(1)
        box.addSpacing(8)
        box.addWidget(self.where)
        box.addLayout(line)
        box.addStretch(1)
        return frame

    def _laying(self) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading("You lay a finish on with"))
        self.lays: dict[str, QCheckBox] = {}
        for key in LAYS:
            self.lays[key] = QCheckBox(starting.LAID[key])
            box.addWidget(self.lays[key])
        note = Label("Methods for these are offered first.")
        note.setObjectName("muted")
        note.setWordWrap(True)
        box.addWidget(note)
        box.addStretch(1)
        return frame

    def _measuring(self, measuring: Mapping[str, Measuring]) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading("You can measure with"))
        self.tools: dict[str, QCheckBox] = {}
        for key, tool in measuring.items():
            label = f"{tool.label[:1].upper()}{tool.label[1:]}"
            check = QCheckBox()
            # What it tells is left to the tip where the type is large.
            fit(check, partial(_name_tool, label=label, buys=tool.buys))
            check.setToolTip(f"Tells {tool.buys}. Costs {tool.costs}.")
            check.setChecked(key in LIKELY)
            self.tools[key] = check
            box.addWidget(check)
        note = Label(
            "None is needed: Ravden reckons from what you log, and says how sure that is. It asks only for what you "
            "have, and names another tool where it would decide something."
        )
        note.setObjectName("muted")
        note.setWordWrap(True)
        box.addWidget(note)
        box.addStretch(1)
        return frame

    def begin(self, units: str, submit: Callable[[starting.Answers], None]) -> None:
        """Start with what is usual."""
        self._submit, self._elsewhere = submit, None
        self.name.setText(starting.USUAL_NAME)
        self.units.setCurrentIndex(self.units.findData(units))
        self.fault.setText("")
        self._say_where()
        self.name.setFocus()
        self.name.selectAll()

    def answers(self) -> starting.Answers:
        """What stands on the page."""
        return starting.Answers(
            name=self.name.text(), units=self.units.currentData(), hours=self.hours.currentData(),
            lays=tuple(k for k, c in self.lays.items() if c.isChecked()),
            tools=tuple(k for k, c in self.tools.items() if c.isChecked()), file=self._elsewhere,
        )  # fmt: skip

    def submit(self) -> None:
        """Try to begin; a fault is told at the foot and nothing is made."""
        if self._submit is None:
            return
        self.fault.setText("")
        try:
            self._submit(self.answers())
        except InputError as error:
            self.fault.setText(f"{whole_fault(error)}.")

    def _choose_file(self) -> None:
        start = str(self._elsewhere or starting.usual_file(self.name.text()))
        name, _ = QFileDialog.getSaveFileName(self, "Where the workshop is kept", start, f"Shop files (*{SUFFIX})")
        if name:
            path = Path(name)
            self._elsewhere = path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX)
            self._say_where()

    def _say_where(self) -> None:
        try:
            path = self._elsewhere or starting.usual_file(self.name.text())
        except InputError as error:
            self.where.setText(f"{whole_fault(error)}.")
            return
        self.where.setText(f"All of it is kept in one file, at once as you log it:\n{path}")


def _name_tool(check: QCheckBox, *, label: str, buys: str) -> None:
    check.setText(f"{label}: {buys}" if scale() <= 1.1 else label)


def _heading(text: str) -> QLabel:
    label = Label(text)
    label.setObjectName("heading")
    return label
