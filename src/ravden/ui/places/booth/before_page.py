"""Before a session: what to work on, in which order, how much to mix, what to look at; Space begins."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QDoubleValidator
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ravden.core.method.habit import LAMP_MW_CM2
from ravden.text import written
from ravden.ui.places.booth.before import BeforeShown
from ravden.ui.places.booth.said import short
from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.row_button import RowButton
from ravden.ui.widgets.scrolled import scrolled
from ravden.ui.widgets.tips import plain_tip
from ravden.ui.widgets.tone import set_tone

MOST_ROWS, MOST_CHECKS, MOST_AIR = 40, 7, 6
NUMBERED = 9  # rows that a number key turns
HINT = (
    "A number puts an instrument in or leaves it out, the arrow takes it a place earlier, Z says which of its zones. "
    "A letter ticks what was looked at; what was not is kept with the session."
)
LONGEST_NAME = 24
BY_TAB = Qt.FocusPolicy.TabFocus  # a click leaves the keyboard to the page, so that Space still begins
ROW_H, ZONES_W = 44, 104
HINT_H = 44


class BeforePage(QWidget):
    """Says what was chosen."""

    begin_asked = pyqtSignal()
    toggled, earlier, zones_asked, ticked = (pyqtSignal(str) for _ in range(4))
    lamp_set = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        outer.addWidget(self._left(), 3)
        outer.addWidget(self._right(), 2)

    def _left(self) -> QWidget:
        frame, box = panel()
        self.heading = Label("What is this session on?")
        self.heading.setObjectName("title")
        self.hint = Label(HINT)
        self.hint.setObjectName("muted")
        self.hint.setWordWrap(True)
        fit(self.hint, lambda w: w.setMinimumHeight(px(HINT_H)))
        self.empty = Label()
        self.empty.setObjectName("big")
        for label in (self.heading, self.empty):
            label.setWordWrap(True)
            box.addWidget(label)
        area, rows = scrolled()
        self.rows: list[RowButton] = []
        self.ups: list[QPushButton] = []
        self.zones: list[QPushButton] = []
        self.ids: list[str] = []
        self._chosen: list[str] = []
        for i in range(MOST_ROWS):
            row, zones, up = RowButton(), QPushButton(), QPushButton("▲")
            fit(row, lambda w: w.setMinimumHeight(px(ROW_H)))
            row.clicked.connect(lambda _=False, n=i: self.toggle(n))
            row.setFocusPolicy(BY_TAB)
            for small, width, slot in ((zones, ZONES_W, self._zones), (up, ROW_H, self._up)):
                small.setObjectName("quiet")
                small.setFixedWidth(width)
                fit(small, lambda w: w.setMinimumHeight(px(ROW_H)))
                small.setFocusPolicy(BY_TAB)
                small.clicked.connect(lambda _=False, n=i, s=slot: s(n))
            line = QHBoxLayout()
            line.addWidget(row, 1)
            line.addWidget(zones)
            line.addWidget(up)
            rows.addLayout(line)
            self.rows.append(row)
            self.zones.append(zones)
            self.ups.append(up)
        rows.addStretch(1)
        box.addWidget(area, 1)
        self.mixes = Label()
        self.mixes.setWordWrap(True)
        self.mixes.setStyleSheet("font-size: 20px; font-weight: bold;")
        self.mixes.setAccessibleName("How much to make ready")
        box.addSpacing(8)
        box.addWidget(self.mixes)
        box.addSpacing(8)
        self.begin = QPushButton()
        self.begin.setObjectName("main")
        self.begin.setStyleSheet("font-size: 19px; padding: 6px 4px;")
        fit(self.begin, lambda w: w.setMinimumHeight(px(64)))
        self.begin.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.begin.clicked.connect(self.begin_asked)
        box.addWidget(self.begin)
        box.addWidget(self.hint)
        return frame

    def _right(self) -> QWidget:
        frame, outer = panel()
        area, box = scrolled()
        outer.addWidget(area, 1)
        self.around = Label("The air, and the coat in it")
        self.around.setObjectName("heading")
        box.addWidget(self.around)
        self.air = [Label() for _ in range(MOST_AIR)]
        for line in self.air:
            line.setObjectName("said")
            line.setWordWrap(True)
            line.setStyleSheet("font-size: 16px;")
            box.addWidget(line)
        box.addSpacing(14)
        self.asked = Label("Looked at?")
        self.asked.setObjectName("heading")
        box.addWidget(self.asked)
        self.checks: list[QPushButton] = []
        self._names: list[str] = []
        for i in range(MOST_CHECKS):
            check = QPushButton()
            check.setCheckable(True)
            check.setObjectName("zone")
            fit(check, lambda w: w.setMinimumHeight(px(ROW_H)))
            check.clicked.connect(lambda _=False, n=i: self.tick(n))
            check.setFocusPolicy(BY_TAB)
            box.addWidget(check)
            self.checks.append(check)
        self.lamp_row = QWidget()
        lamp = QVBoxLayout(self.lamp_row)
        lamp.setContentsMargins(0, 6, 0, 0)
        label = Label("Curing lamp at the work, mW/cm²")
        self.lamp = QLineEdit(written.number(LAMP_MW_CM2, "g"))
        self.lamp.setValidator(QDoubleValidator(0.1, 100_000.0, 1, self.lamp))
        self.lamp.setAccessibleName(label.text())
        self.lamp.setToolTip("From the lamp's own data sheet, at the distance you hold it")
        self.lamp.editingFinished.connect(lambda: self.lamp_set.emit(self.lamp.text()))
        label.setBuddy(self.lamp)
        lamp.addWidget(label)
        lamp.addWidget(self.lamp)
        assumed = Label(
            f"{written.number(LAMP_MW_CM2, 'g')} is assumed until you say; the lamp's own data sheet says yours."
        )
        assumed.setObjectName("muted")
        assumed.setWordWrap(True)
        lamp.addWidget(assumed)
        box.addWidget(self.lamp_row)
        box.addStretch(1)
        self.cautions = Label()
        self.cautions.setObjectName("fault")
        self.cautions.setWordWrap(True)
        outer.addWidget(self.cautions)  # never scrolled out of sight
        return frame

    def show_before(self, shown: BeforeShown) -> None:
        """Show this."""
        self.ids = [c.id for c in shown.candidates[:MOST_ROWS]]
        self._chosen = [c.id for c in shown.candidates[:MOST_ROWS] if c.zones]
        for i, (row, zones, up) in enumerate(zip(self.rows, self.zones, self.ups, strict=True)):
            row.setVisible(i < len(self.ids))
            up.setVisible(0 < i < len(self.ids))
            zones.setVisible(i < len(self.ids) and bool(shown.candidates[i].zones))
            if i < len(self.ids):
                c = shown.candidates[i]
                mark = "✓" if c.chosen else "–"
                row.setText(f"{i + 1 if i < NUMBERED else ' '}  {mark}  {short(c.name, LONGEST_NAME)}   {c.text}")
                row.setToolTip(plain_tip(f"{c.name}: {c.text}"))
                row.setChecked(c.chosen)
                row.setStyleSheet("font-size: 18px;" + ("" if c.planned or c.chosen else f" color: {current().muted};"))
                zones.setText(c.zones)
                zones.setStyleSheet("font-size: 15px;")
                zones.setAccessibleName(f"Zones of {c.name}: {c.zones}")
                zones.setToolTip("Which zones, in which order")
                row.setAccessibleName(f"{c.name}, {c.text}, {'chosen' if c.chosen else 'left out'}")
                up.setAccessibleName(f"{c.name} a place earlier")
                up.setToolTip(plain_tip(up.accessibleName()))
        self.empty.setText(shown.empty)
        self.empty.setVisible(bool(shown.empty))
        self.mixes.setText("\n".join(shown.mixes))
        self.mixes.setVisible(bool(shown.mixes))
        self.begin.setText(shown.begin or "Choose an instrument")
        self.begin.setEnabled(bool(shown.begin))
        self._names = [name for name, _, _ in shown.checks[:MOST_CHECKS]]
        self.asked.setVisible(bool(self._names))
        for i, check in enumerate(self.checks):
            check.setVisible(i < len(self._names))
            if i < len(self._names):
                _, label, on = shown.checks[i]
                check.setText(f"{chr(65 + i)}  {'✓' if on else '–'}  {label}")
                check.setChecked(on)
                check.setStyleSheet("font-size: 16px;")
                check.setAccessibleName(f"{label}, {'looked at' if on else 'not looked at'}")
        self.lamp_row.setVisible(shown.lamp)
        for i, line in enumerate(self.air):
            text, tone = shown.air[i] if i < len(shown.air) else ("", "plain")
            line.setText(text)
            line.setVisible(bool(text))
            set_tone(line, tone)
        self.around.setVisible(bool(shown.air))
        self.cautions.setText(" ".join(shown.cautions))

    def toggle(self, index: int) -> None:
        """Put an instrument in, or leave it out."""
        if 0 <= index < len(self.ids):
            self.toggled.emit(self.ids[index])

    def tick(self, index: int) -> None:
        """Tick a check, or take the tick away."""
        if 0 <= index < len(self._names):
            self.ticked.emit(self._names[index])

    def ask_zones(self, selected: str) -> None:
        """Ask for the zones of an instrument that is in: the one turned to, or the first."""
        if self._chosen:
            self.zones_asked.emit(selected if selected in self._chosen else self._chosen[0])

    def _zones(self, index: int) -> None:
        self.zones_asked.emit(self.ids[index])

    def _up(self, index: int) -> None:
        if 0 < index < len(self.ids):
            self.earlier.emit(self.ids[index])
