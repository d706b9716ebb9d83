"""When the shop is open: its clock, its week, and the days nobody is in."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QComboBox,
    QCompleter,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.app.hours_form import LABELS, PRESETS
from ravden.journal.hours import DAYS
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel

COUNTRY_W = 190


class HoursPage(QWidget):
    """Shows what is in force, and says what was typed."""

    kept = pyqtSignal()
    left = pyqtSignal()
    holidays_asked = pyqtSignal(str, str)
    country_turned = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setObjectName("muted")
        self.inputs: dict[str, QLineEdit] = {}
        self.faults: dict[str, FaultLabel] = {}
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self._week(), 1)
        row.addWidget(self._closed(), 1)
        self.keep, self.leave = QPushButton("Keep these hours  (Ctrl+Enter)"), QPushButton("As they were")
        self.keep.setObjectName("main")
        self.keep.clicked.connect(self.kept)
        self.leave.clicked.connect(self.left)
        for key in ("Ctrl+Return", "Ctrl+Enter"):
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(self.kept)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(self.leave)
        foot.addWidget(self.keep)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(10)
        box.addWidget(self.told)
        box.addLayout(row, 1)
        box.addLayout(foot)

    def _field(self, grid: QGridLayout, line: int, name: str, label: str, hint: str) -> None:
        box, fault = QLineEdit(), FaultLabel()
        box.setPlaceholderText(hint)
        box.setAccessibleName(label)
        said = Label(label)
        said.setBuddy(box)
        grid.addWidget(said, 2 * line, 0)
        grid.addWidget(box, 2 * line, 1)
        grid.addWidget(fault, 2 * line + 1, 1)
        self.inputs[name], self.faults[name] = box, fault

    def _week(self) -> QWidget:
        frame, box = panel()
        heading = Label("The week")
        heading.setObjectName("heading")
        box.addWidget(heading)
        presets = QHBoxLayout()
        for label, days in PRESETS:
            button = QPushButton(label)
            button.setObjectName("quiet")
            button.clicked.connect(lambda _=False, d=days: self._fill(dict(zip(DAYS, d, strict=True))))
            presets.addWidget(button)
        presets.addStretch(1)
        box.addLayout(presets)
        grid = QGridLayout()
        grid.setVerticalSpacing(1)
        for i, (day, label) in enumerate(zip(DAYS, LABELS, strict=True)):
            self._field(grid, i, day, label, "shut")
            self.inputs[day].setToolTip("Such as 8-12, 13:30-18; leave it empty where nobody is in")
        self._field(grid, len(DAYS), "zone", "Clock of", "this machine's own")
        self.inputs["zone"].setToolTip("A time zone such as Europe/Rome; kept in the shop file")
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        box.addStretch(1)
        return frame

    def _closed(self) -> QWidget:
        frame, box = panel()
        heading = Label("Days nobody is in")
        heading.setObjectName("heading")
        note = Label("A line each: a day, or one to another, and a name if you like. 2026-12-24 is read everywhere.")
        note.setObjectName("muted")
        note.setWordWrap(True)
        self.closed = QPlainTextEdit()
        self.closed.setTabChangesFocus(True)
        self.closed.setAccessibleName("Days nobody is in")
        self.faults["closed"] = FaultLabel()
        self.country, self.part = QComboBox(), QComboBox()
        self.country.setAccessibleName("Country")
        self.part.setAccessibleName("Part of the country")
        self.country.setMaxVisibleItems(20)
        fit(self.country, lambda w: w.setFixedWidth(px(COUNTRY_W)))
        self.country.activated.connect(lambda _: self.country_turned.emit(self.country.currentData()))
        self.put = QPushButton("Put in its holidays")
        self.put.setToolTip("Those of this year and the next, as a start: strike out what does not keep you away")
        self.put.clicked.connect(
            lambda: self.holidays_asked.emit(self.country.currentData(), self.part.currentData() or "")
        )
        start = QHBoxLayout()
        for widget in (Label("Holidays of"), self.country, self.part, self.put):
            start.addWidget(widget)
        start.addStretch(1)
        for part in (heading, note):
            box.addWidget(part)
        box.addWidget(self.closed, 1)
        box.addWidget(self.faults["closed"])
        box.addLayout(start)
        return frame

    def offer(self, zones: list[str], countries: list[tuple[str, str]], here: str) -> None:
        """The zones there are, and the countries by name and code; here: the code to begin with. Told once."""
        completer = QCompleter(zones, self)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self.inputs["zone"].setCompleter(completer)
        for name, code in countries:
            self.country.addItem(name, code)
        self.country.setCurrentIndex(max(self.country.findData(here), 0))

    def offer_parts(self, parts: list[str]) -> None:
        """The parts of the country chosen that keep holidays of their own."""
        self.part.clear()
        self.part.addItem("everywhere", "")
        for part in parts:
            self.part.addItem(part, part)
        self.part.setEnabled(bool(parts))

    def show_hours(self, told: str, week: Mapping[str, str], zone: str, closed: str) -> None:
        """What is in force, in words and in the fields."""
        self.told.setText(told)
        self._fill(week)
        self.inputs["zone"].setText(zone)
        self.closed.setPlainText(closed)
        self.clear_faults()

    def _fill(self, week: Mapping[str, str]) -> None:
        for day, text in week.items():
            self.inputs[day].setText(text)

    def typed(self) -> dict[str, str]:
        """What stands in the fields of the week."""
        return {name: box.text() for name, box in self.inputs.items()}

    def clear_faults(self) -> None:
        """Nothing is wrong."""
        for fault in self.faults.values():
            fault.setText("")

    def tell_fault(self, field: str, text: str) -> bool:
        """A fault beside its field; whether there is such a field."""
        if field not in self.faults:
            return False
        self.faults[field].setText(text)
        (self.inputs.get(field, self.closed)).setFocus()
        return True
