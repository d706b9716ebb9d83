"""Settings: one page, and no Save; what is changed holds at once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.ui.theme.style import fit, scale
from ravden.ui.widgets.emptied import emptied
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.page import Page
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.scrolled import scrolled

COLUMNS = 3
SIZES = (90, 100, 110, 125, 150, 175, 200)
CHOSEN = (
    ("Writing", (
        ("units", "Units", (("metric", "Metric: µm, °C, mm"), ("us", "US: mil, °F, inches"))),
        ("decimal", "Decimals", (("system", "As the desktop"), ("point", "12.5"), ("comma", "12,5"))),
        ("dates", "Days", (("system", "As the desktop"), ("dmy", "28 Nov"), ("mdy", "Nov 28"), ("ymd", "11-28"))),
        ("clock", "Hours", (("system", "As the desktop"), ("24", "14:30"), ("12", "2:30 pm"))),
    )),
    ("Look", (
        ("theme", "Colours", (("light", "Light"), ("dark", "Dark"), ("contrast", "High contrast"))),
        ("text", "Size of the type", tuple((str(size), f"{size} %") for size in SIZES)),
    )),
    ("Booth", (
        ("sound", "Sounds", (("loud", "Loud"), ("quiet", "Quiet"), ("off", "Off"))),
        ("left_hand", "Large keys", (("right", "For the right hand"), ("left", "For the left hand"))),
    )),
)  # fmt: skip
TICKED = {
    "Booth": (
        ("guard", "Two-second guard", "A second press of Space within two seconds counts as none."),
        ("booth_full", "Full screen while a session goes on", ""),
    ),
    "Notices": (("notify", "On the desktop, when a window opens", "And when one is about to shut."),),
}
NO_FILE = "No shop file is open."


class SettingsPage(Page):
    """Says what was changed, by name: a value, a tick, a tool, a least film, or an act."""

    changed = pyqtSignal(str, str)
    ticked = pyqtSignal(str, bool)
    tool_ticked = pyqtSignal(str, bool)
    lay_ticked = pyqtSignal(str, bool)
    least_typed = pyqtSignal(str, str)
    name_typed = pyqtSignal(str)
    back_asked = pyqtSignal(str)
    asked = pyqtSignal(str)

    def __init__(
        self, tools: Mapping[str, tuple[str, str]], lays: Mapping[str, str], families: Mapping[str, str],
        parent: QWidget | None = None,
    ) -> None:  # fmt: skip
        super().__init__("Settings", parent)
        self.boxes: dict[str, QComboBox] = {}
        self.ticks: dict[str, QCheckBox] = {}
        self.tools: dict[str, QCheckBox] = {}
        self.lays: dict[str, QCheckBox] = {}
        self.least: dict[str, QLineEdit] = {}
        self.faults: dict[str, FaultLabel] = {}
        about = Label("What you change holds at once; there is nothing to save.")
        about.setObjectName("muted")
        self.add_head(about)
        self._columns = [QVBoxLayout() for _ in range(COLUMNS)]
        groups = [self._group(heading, rows) for heading, rows in CHOSEN]
        # In the order they are gone through: down the first column, then the next.
        self._groups = [
            (self._workshop(), *groups[:2]), (groups[2], self._group("Notices", ()), self._least(families)),
            (self._tools(tools, lays), self._files()),
        ]  # fmt: skip
        self._row = row = QHBoxLayout()
        row.setSpacing(12)
        for column in self._columns:
            column.setSpacing(12)
            row.addLayout(column)
        fit(self, SettingsPage.lay_out)
        area, inner = scrolled()
        inner.addLayout(row)
        self.box.addWidget(area, 1)

    def lay_out(self) -> None:
        """In three columns, or fewer where the type is large."""
        many = COLUMNS if scale() < 1.2 else 2 if scale() < 1.7 else 1
        for column in self._columns:
            while column.takeAt(0) is not None:
                pass
        for i, group in enumerate(self._groups):
            for frame in group:
                self._columns[min(i, many - 1)].addWidget(frame)
        for i, column in enumerate(self._columns):
            column.addStretch(1)
            self._row.setStretch(i, 1 if i < many else 0)

    def _workshop(self) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading("Workshop"))
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the workshop")
        self.name.editingFinished.connect(lambda: self.name_typed.emit(self.name.text()))
        self.faults["name"] = FaultLabel()
        hours = QPushButton("Hours, closed days and time zone …")
        hours.clicked.connect(lambda: self.asked.emit("hours"))
        self.hours = hours
        for widget in (self.name, self.faults["name"], hours):
            box.addWidget(widget)
        return frame

    def _group(self, heading: str, rows: Sequence[tuple[str, str, tuple[tuple[str, str], ...]]]) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading(heading))
        grid = QGridLayout()
        grid.setVerticalSpacing(8)
        for i, (name, label, choices) in enumerate(rows):
            field = QComboBox()
            for value, text in choices:
                field.addItem(text, value)
            field.activated.connect(lambda _, n=name, f=field: self.changed.emit(n, str(f.currentData())))
            said = Label(label)
            said.setBuddy(field)
            field.setAccessibleName(label)
            grid.addWidget(said, i, 0)
            grid.addWidget(field, i, 1)
            self.boxes[name] = field
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        for name, label, tip in TICKED.get(heading, ()):
            check = QCheckBox(label)
            check.setToolTip(tip)
            check.clicked.connect(lambda on, n=name: self.ticked.emit(n, on))
            box.addWidget(check)
            self.ticks[name] = check
        return frame

    def _least(self, families: Mapping[str, str]) -> QWidget:
        frame, box = panel()
        self.least_heading = _heading("Least film wanted after rubbing out")
        self.least_heading.setWordWrap(True)
        box.addWidget(self.least_heading)
        note = Label("For instruments you add from now on. Empty: what the method says.")
        note.setObjectName("muted")
        note.setWordWrap(True)
        box.addWidget(note)
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        for i, (family, label) in enumerate(families.items()):
            edit = QLineEdit()
            edit.setAccessibleName(f"Least film, {label}")
            edit.setPlaceholderText("by the method")
            edit.editingFinished.connect(lambda f=family, e=edit: self.least_typed.emit(f, e.text()))
            grid.addWidget(Label(label), 2 * i, 0)
            grid.addWidget(edit, 2 * i, 1)
            self.faults[family] = FaultLabel()
            grid.addWidget(self.faults[family], 2 * i + 1, 0, 1, 2)
            self.least[family] = edit
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        return frame

    def _tools(self, tools: Mapping[str, tuple[str, str]], lays: Mapping[str, str]) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading("You can measure with"))
        for key, (label, tip) in tools.items():
            self.tools[key] = _tick(label, tip)
            self.tools[key].clicked.connect(lambda on, k=key: self.tool_ticked.emit(k, on))
            box.addWidget(self.tools[key])
        self.all_there = Label("The made-up workshop has all of them, whatever you tick.")
        self.all_there.setObjectName("muted")
        self.all_there.setWordWrap(True)
        box.addWidget(self.all_there)
        box.addSpacing(6)
        box.addWidget(_heading("You lay a finish on with"))
        grid = QGridLayout()
        for i, (key, label) in enumerate(lays.items()):
            self.lays[key] = _tick(label, "Methods for it are offered first.")
            self.lays[key].clicked.connect(lambda on, k=key: self.lay_ticked.emit(k, on))
            grid.addWidget(self.lays[key], i // 2, i % 2)
        box.addLayout(grid)
        return frame

    def _files(self) -> QWidget:
        frame, box = panel()
        box.addWidget(_heading("Files"))
        self.where = Label()
        self.where.setWordWrap(True)
        self.where.setObjectName("muted")
        box.addWidget(self.where)
        self.copies = QVBoxLayout()
        self.copies.setSpacing(4)
        box.addLayout(self.copies)
        again = QPushButton("Set everything on this page back …")
        again.setToolTip("As it was when Ravden was new; the workshop's own name and hours stay.")
        again.clicked.connect(lambda: self.asked.emit("again"))
        self.again = again
        box.addSpacing(6)
        box.addWidget(again)
        return frame

    def show_copies(self, where: str, rows: Sequence[tuple[str, str]]) -> None:
        """Where the file lies, and its copies: each by its path, and what is said of it."""
        self.where.setText(where)
        emptied(self.copies)
        for path, said in rows:
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            label = Label(said)
            label.setWordWrap(True)
            button = QPushButton("Go back to this one")
            button.setObjectName("quiet")
            button.setAccessibleName(f"Go back to the copy of {said}")
            button.setToolTip("The file as it is now stays beside it, under another name.")
            button.clicked.connect(lambda _=False, p=path: self.back_asked.emit(p))
            row.addWidget(label, 1)
            row.addWidget(button)
            self.copies.addWidget(line)


def _heading(text: str) -> QLabel:
    label = Label(text)
    label.setObjectName("heading")
    return label


def _tick(label: str, tip: str) -> QCheckBox:
    check = QCheckBox(label)
    check.setToolTip(tip)
    return check
