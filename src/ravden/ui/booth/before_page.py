"""Before a session: what to work on, in which order, how much to mix, what to look at; Space begins."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QDoubleValidator
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ravden.ui.booth.before import BeforeShown
from ravden.ui.booth.said import short
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.scrolled import scrolled
from ravden.ui.widgets.tone import set_tone

MOST_ROWS, MOST_CHECKS, MOST_AIR = 40, 7, 6
NUMBERED = 9  # rows that a number key turns
NOTICE_H = 64


class BeforePage(QWidget):
    """Says what was chosen."""

    begin_asked = pyqtSignal()
    toggled, earlier, ticked = pyqtSignal(str), pyqtSignal(str), pyqtSignal(str)
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
        self.heading = QLabel("What is this session on?")
        self.heading.setObjectName("title")
        self.hint = QLabel("A number puts an instrument in or leaves it out; the arrow takes it a place earlier.")
        self.hint.setObjectName("muted")
        self.empty = QLabel()
        self.empty.setObjectName("big")
        for label in (self.heading, self.hint, self.empty):
            label.setWordWrap(True)
            box.addWidget(label)
        area, rows = scrolled()
        self.rows: list[QPushButton] = []
        self.ups: list[QPushButton] = []
        self.ids: list[str] = []
        for i in range(MOST_ROWS):
            row, up = QPushButton(), QPushButton("▲")
            row.setCheckable(True)
            row.setObjectName("zone")
            row.setMinimumHeight(40)
            row.clicked.connect(lambda _=False, n=i: self.toggle(n))
            up.setObjectName("quiet")
            up.setFixedWidth(44)
            up.setMinimumHeight(40)
            up.clicked.connect(lambda _=False, n=i: self._up(n))
            line = QHBoxLayout()
            line.addWidget(row, 1)
            line.addWidget(up)
            rows.addLayout(line)
            self.rows.append(row)
            self.ups.append(up)
        rows.addStretch(1)
        box.addWidget(area, 1)
        self.mixes = QLabel()
        self.mixes.setWordWrap(True)
        self.mixes.setStyleSheet("font-size: 20px; font-weight: bold;")
        self.mixes.setAccessibleName("How much to make ready")
        box.addSpacing(8)
        box.addWidget(self.mixes)
        box.addSpacing(8)
        self.begin = QPushButton()
        self.begin.setObjectName("main")
        self.begin.setStyleSheet("font-size: 19px; padding: 6px 4px;")
        self.begin.setMinimumHeight(64)
        self.begin.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.begin.clicked.connect(self.begin_asked)
        box.addWidget(self.begin)
        box.addSpacing(NOTICE_H)
        return frame

    def _right(self) -> QWidget:
        frame, outer = panel()
        area, box = scrolled()
        outer.addWidget(area, 1)
        outer.addSpacing(NOTICE_H)
        head = QLabel("Looked at?")
        head.setObjectName("heading")
        box.addWidget(head)
        self.checks: list[QPushButton] = []
        self._names: list[str] = []
        for i in range(MOST_CHECKS):
            check = QPushButton()
            check.setCheckable(True)
            check.setObjectName("zone")
            check.setMinimumHeight(40)
            check.clicked.connect(lambda _=False, n=i: self.tick(n))
            box.addWidget(check)
            self.checks.append(check)
        self.lamp_row = QWidget()
        lamp = QVBoxLayout(self.lamp_row)
        lamp.setContentsMargins(0, 6, 0, 0)
        label = QLabel("Curing lamp at the work, mW/cm²")
        self.lamp = QLineEdit("20")
        self.lamp.setValidator(QDoubleValidator(0.1, 100_000.0, 1))
        self.lamp.setAccessibleName(label.text())
        self.lamp.setToolTip("From the lamp's own data sheet, at the distance you hold it")
        self.lamp.editingFinished.connect(lambda: self.lamp_set.emit(self.lamp.text()))
        label.setBuddy(self.lamp)
        lamp.addWidget(label)
        lamp.addWidget(self.lamp)
        box.addWidget(self.lamp_row)
        box.addStretch(1)
        self.air = [QLabel() for _ in range(MOST_AIR)]
        for line in self.air:
            line.setObjectName("said")
            line.setWordWrap(True)
            line.setStyleSheet("font-size: 16px;")
            box.addWidget(line)
        self.cautions = QLabel()
        self.cautions.setObjectName("fault")
        self.cautions.setWordWrap(True)
        box.addWidget(self.cautions)
        return frame

    def show_before(self, shown: BeforeShown) -> None:
        """Show this."""
        self.ids = [c.id for c in shown.candidates[:MOST_ROWS]]
        for i, (row, up) in enumerate(zip(self.rows, self.ups, strict=True)):
            row.setVisible(i < len(self.ids))
            up.setVisible(0 < i < len(self.ids))
            if i < len(self.ids):
                c = shown.candidates[i]
                mark = "✓" if c.chosen else "–"
                row.setText(f"{i + 1 if i < NUMBERED else ' '}  {mark}  {short(c.name)}   {c.text}")
                row.setToolTip(c.name)
                row.setChecked(c.chosen)
                row.setStyleSheet("font-size: 18px;")
                row.setAccessibleName(f"{c.name}, {c.text}, {'chosen' if c.chosen else 'left out'}")
                up.setAccessibleName(f"{c.name} a place earlier")
                up.setToolTip(up.accessibleName())
        self.empty.setText(shown.empty)
        self.empty.setVisible(bool(shown.empty))
        self.hint.setVisible(not shown.empty)
        self.mixes.setText("\n".join(shown.mixes))
        self.mixes.setVisible(bool(shown.mixes))
        self.begin.setText(shown.begin or "Choose an instrument")
        self.begin.setEnabled(bool(shown.begin))
        self._names = [name for name, _, _ in shown.checks[:MOST_CHECKS]]
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
        self.cautions.setText(" ".join(shown.cautions))

    def toggle(self, index: int) -> None:
        """Put an instrument in, or leave it out."""
        if 0 <= index < len(self.ids):
            self.toggled.emit(self.ids[index])

    def tick(self, index: int) -> None:
        """Tick a check, or take the tick away."""
        if 0 <= index < len(self._names):
            self.ticked.emit(self._names[index])

    def _up(self, index: int) -> None:
        if 0 < index < len(self.ids):
            self.earlier.emit(self.ids[index])
