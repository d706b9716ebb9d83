"""Who works here and when, what the booth takes, and the stations: fields, and what was typed into them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.app.crew_forms import COMPANY, GUN
from ravden.ui.places.shop.week_paint import Cells, WeekPaint
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel

MOST_GUNS = 6
LINES_H, FIELD_W, STATION_W = 64, 64, 96
STATIONS = (
    ("arbors", "Wheels", "1"), ("cabinet_places", "Places in the warm cabinet", "0"),
    ("cabinet_C", "How warm it is", ""),
    ("drying_places", "Places for wet work", "enough"),
)  # fmt: skip
GUN_HEADS = ("Set-up, min", "Cleaning, min", "Not below", "Not over, %")
COLD = 2


class PeoplePage(QWidget):
    """Shows who works here; says what is asked for: kept (person or booth), gone, turned (a name, empty for somebody
    new)."""

    kept = pyqtSignal(str)
    gone = pyqtSignal()
    turned = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.faults: dict[str, FaultLabel] = {}
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self._person(), 11)
        row.addWidget(self._booth(), 9)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.addLayout(row, 1)

    def _person(self) -> QWidget:
        frame, box = panel()
        top = QHBoxLayout()
        heading = Label("Who works here")
        heading.setObjectName("heading")
        self.who = QComboBox()
        self.who.setAccessibleName("Who")
        self.who.activated.connect(lambda _: self.turned.emit(self.who.currentData()))
        top.addWidget(heading)
        top.addStretch(1)
        top.addWidget(self.who)
        self.note = Label()
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        self.name = QLineEdit()
        self.name.setAccessibleName("Name")
        self.name.setPlaceholderText("a name, or a letter")
        self.sprays, self.buffs = QCheckBox("sprays"), QCheckBox("uses the wheel")
        self.own = QCheckBox("hours of their own")
        self.own.toggled.connect(lambda on: self.week.setEnabled(on))
        line = QHBoxLayout()
        said = Label("Name")
        said.setBuddy(self.name)
        for widget in (said, self.name, self.sprays, self.buffs):
            line.addWidget(widget)
        hours = QHBoxLayout()
        hours.addWidget(self.own)
        hours.addStretch(1)
        self.presets: list[QPushButton] = []
        self._presets = hours
        self.week = WeekPaint()
        self.away = QPlainTextEdit()
        self.away.setTabChangesFocus(True)
        self.away.setAccessibleName("Days away")
        self.away.setPlaceholderText("a line each: a day, or one to another")
        fit(self.away, lambda w: w.setFixedHeight(px(LINES_H)))
        self.keep, self.leave = QPushButton("Keep  (Ctrl+Enter)"), QPushButton("Works here no longer")
        self.keep.setObjectName("main")
        self.keep.clicked.connect(lambda: self.kept.emit("person"))
        self.leave.clicked.connect(self.gone)
        for key in ("Ctrl+Return", "Ctrl+Enter"):
            shortcut = QShortcut(QKeySequence(key), frame)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(lambda: self.kept.emit("person"))
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(self.leave)
        foot.addWidget(self.keep)
        box.addLayout(top)
        for part in (self.note, line, self._fault("name"), hours, self.week, self._fault("week")):
            box.addLayout(part) if isinstance(part, QHBoxLayout) else box.addWidget(part)
        box.addWidget(Label("Days away"))
        box.addWidget(self.away)
        box.addWidget(self._fault("closed"))
        box.addStretch(1)
        box.addLayout(foot)
        return frame

    def _fault(self, name: str) -> FaultLabel:
        self.faults[name] = FaultLabel()
        return self.faults[name]

    def _booth(self) -> QWidget:
        frame, box = panel()
        heading = Label("Booth, wheel and cabinet")
        heading.setObjectName("heading")
        box.addWidget(heading)
        self.stations: dict[str, QLineEdit] = {}
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        for n, (name, label, hint) in enumerate(STATIONS):
            field = QLineEdit()
            field.setPlaceholderText(hint)
            field.setAccessibleName(label)
            fit(field, lambda w: w.setFixedWidth(px(STATION_W)))
            said = Label(label)
            said.setBuddy(field)
            if name == "cabinet_C":
                self.warmth = said
            grid.addWidget(said, n, 0)
            grid.addWidget(field, n, 1)
            grid.addWidget(self._fault(name), n, 2)
            self.stations[name] = field
        self.company = QComboBox()
        self.company.setAccessibleName("Wait for company in the booth")
        self.company.setToolTip("Whether a session is put off so that more instruments share one set-up of the gun")
        for days, label in COMPANY:
            self.company.addItem(label, days)
        grid.addWidget(Label("Wait for company in the booth"), len(STATIONS), 0)
        grid.addWidget(self.company, len(STATIONS), 1, 1, 2, Qt.AlignmentFlag.AlignLeft)
        grid.setColumnStretch(2, 1)
        box.addLayout(grid)
        self.no_guns = Label("Nothing on the rack is sprayed.")
        self.no_guns.setObjectName("muted")
        box.addWidget(self.no_guns)
        self._guns(box)
        box.addWidget(Label("Days without spraying, whatever the forecast"))
        self.struck = QPlainTextEdit()
        self.struck.setTabChangesFocus(True)
        self.struck.setAccessibleName("Days without spraying")
        self.struck.setPlaceholderText("a line each: a day, or one to another")
        fit(self.struck, lambda w: w.setFixedHeight(px(LINES_H)))
        box.addWidget(self.struck)
        box.addWidget(self._fault("struck"))
        box.addStretch(1)
        self.keep_booth = QPushButton("Keep these  (Ctrl+Enter)")
        self.keep_booth.clicked.connect(lambda: self.kept.emit("booth"))
        for key in ("Ctrl+Return", "Ctrl+Enter"):
            shortcut = QShortcut(QKeySequence(key), frame)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(lambda: self.kept.emit("booth"))
        box.addWidget(self.keep_booth, 0, Qt.AlignmentFlag.AlignRight)
        return frame

    def _guns(self, box: QVBoxLayout) -> None:
        """A line a material that is sprayed."""
        self.guns: list[tuple[QLabel, dict[str, QLineEdit], FaultLabel]] = []
        grid = QGridLayout()
        grid.setVerticalSpacing(1)
        self.heads = [Label(text) for text in GUN_HEADS]
        for n, head in enumerate(self.heads, 1):
            head.setObjectName("muted")
            head.setWordWrap(True)
            fit(head, lambda w: w.setFixedWidth(px(FIELD_W)))
            grid.addWidget(head, 0, n, Qt.AlignmentFlag.AlignBottom)
        for at in range(MOST_GUNS):
            label, fault = Label(), FaultLabel()
            label.setWordWrap(True)
            fields = {}
            for n, (name, said) in enumerate(zip(GUN, GUN_HEADS, strict=True), 1):
                field = QLineEdit()
                field.setAccessibleName(said)
                fit(field, lambda w: w.setFixedWidth(px(FIELD_W)))
                grid.addWidget(field, 2 * at + 1, n)
                fields[name] = field
            grid.addWidget(label, 2 * at + 1, 0)
            grid.addWidget(fault, 2 * at + 2, 0, 1, 1 + len(GUN))
            self.guns.append((label, fields, fault))
        grid.setColumnStretch(0, 1)
        box.addLayout(grid)

    def offer_presets(self, presets: Sequence[tuple[str, Cells]]) -> None:
        """Weeks to begin with. Told once."""
        for label, cells in presets:
            button = QPushButton(label)
            button.setObjectName("quiet")
            button.clicked.connect(lambda _=False, c=cells: self._take(c))
            self._presets.addWidget(button)
            self.presets.append(button)

    def _take(self, cells: Cells) -> None:
        self.own.setChecked(True)
        self.week.show_cells(cells)

    def show_names(self, names: Sequence[str], at: str) -> None:
        """Who there is to turn to; at: whom the form is on, empty for somebody new."""
        self.who.clear()
        for name in names:
            self.who.addItem(name, name)
        self.who.addItem("Somebody new …" if names else "Nobody named yet", "")
        self.who.setCurrentIndex(max(self.who.findData(at), 0))
        self.who.setEnabled(bool(names))
        self.leave.setVisible(bool(at))

    def show_person(
        self, note: str, name: str, cells: Cells, *, own: bool, sprays: bool, buffs: bool, away: str
    ) -> None:  # fmt: skip
        """The form on somebody."""
        self.note.setText(note)
        self.name.setText(name)
        self.week.show_cells(cells)
        self.own.setChecked(own)
        self.week.setEnabled(own)
        self.sprays.setChecked(sprays)
        self.buffs.setChecked(buffs)
        self.away.setPlainText(away)
        self.clear_faults()

    def show_booth(
        self, stations: Mapping[str, str], company: int, guns: Sequence[tuple[str, str, Mapping[str, str]]],
        struck: str, degrees: str,
    ) -> None:  # fmt: skip
        """Stations and guns; guns: id, label, fields of each material that is sprayed; degrees: their unit."""
        self.heads[COLD].setText(f"Not below, {degrees}")
        self.warmth.setText(f"How warm it is, {degrees}")
        for name, text in stations.items():
            self.stations[name].setText(text)
        self.company.setCurrentIndex(max(self.company.findData(company), 0))
        self.no_guns.setVisible(not guns)
        for head in self.heads:
            head.setVisible(bool(guns))
        for at, (label, fields, fault) in enumerate(self.guns):
            there = at < len(guns)
            label.setVisible(there)
            label.setText(guns[at][1] if there else "")
            label.setProperty("material", guns[at][0] if there else "")
            fault.setText("")
            for name, field in fields.items():
                field.setVisible(there)
                field.setText(guns[at][2][name] if there else "")
        self.struck.setPlainText(struck)
        self.clear_faults()

    def typed_guns(self) -> dict[str, dict[str, str]]:
        """What stands in the fields of each material."""
        return {
            str(label.property("material")): {name: f.text() for name, f in fields.items()}
            for label, fields, _ in self.guns if label.property("material")
        }  # fmt: skip

    def clear_faults(self) -> None:
        """Nothing is wrong."""
        for fault in (*self.faults.values(), *(g[2] for g in self.guns)):
            fault.setText("")

    def tell_fault(self, field: str, text: str) -> bool:
        """A fault beside its field; whether there is such a field."""
        material = field.partition(".")[0]
        for label, _, fault in self.guns:
            if label.property("material") == material and "." in field:
                fault.setText(text)
                return True
        if field not in self.faults:
            return False
        self.faults[field].setText(text)
        return True
