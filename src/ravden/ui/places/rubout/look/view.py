"""A look at photos: three shots, the panel's corners, and then the photos over each other."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ravden.app.looking import RULE, SAID
from ravden.ui.places.rubout.look.corners import Corners
from ravden.ui.places.rubout.look.laid_view import LaidView
from ravden.ui.places.rubout.look.slots import LAMPS, Slot
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.own_keys import is_own
from ravden.ui.widgets.page import Page
from ravden.ui.widgets.seen import Seen

ABOUT = "Camera on a stand, the panel wiped dry. Three photos; nothing leaves this machine."
BECOMES = (
    "They are laid over each other: blinked, side by side, and as one view in which shiny lows light up. A rule rings "
    "what lights up most, or cannot tell; that it is done, only your eye can say. Two photos give views and no rings."
)
TAPES = (
    ("", "no corner is taped"), ("tl", "top left is taped"), ("tr", "top right is taped"),
    ("br", "bottom right is taped"), ("bl", "bottom left is taped"),
)  # fmt: skip
LOOKS = (
    ("blink", "Blink", "Space"), ("divider", "Divider", "V"), ("loupe", "Loupe", "Z"), ("less", "Less contrast", "-"),
    ("more", "More contrast", "+"),
)  # fmt: skip
KEYS = "1–4: a corner.  Arrows: nudge it, Shift: by ten.  Enter: look."
SIDE_W = 250
OWN = {Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Space}


class LookPage(Page):
    """Says which photo is asked for, that it is to be looked, and what the eye says."""

    pick_asked = pyqtSignal(str)
    picked = pyqtSignal(str, object)
    look_asked = pyqtSignal()
    acted = pyqtSignal(str)
    said = pyqtSignal(str)
    stepped_back = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Is it level yet?", parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        about = Label(ABOUT)
        about.setWordWrap(True)
        about.setObjectName("muted")
        self.zone = QComboBox()
        self.zone.setAccessibleName("Which zone is looked at")
        self.add_head(about, self.zone)
        self.slots: dict[str, Slot] = {}
        self.stages = QStackedWidget()
        self.shots, self.square, self.laid = QWidget(), QWidget(), QWidget()
        self._build_shots()
        self._build_square()
        self._build_laid()
        for stage in (self.shots, self.square, self.laid):
            self.stages.addWidget(stage)
        self.box.addWidget(self.stages, 1)
        self.fault = Label()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self.box.addWidget(self.fault)

    def _build_shots(self) -> None:
        box = QVBoxLayout(self.shots)
        box.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setSpacing(12)
        for lamp, label, how in LAMPS:
            slot = Slot(lamp, label, how)
            slot.pick_asked.connect(self.pick_asked)
            slot.picked.connect(self.picked)
            row.addWidget(slot)
            self.slots[lamp] = slot
        box.addLayout(row)
        box.addSpacing(8)
        box.addWidget(self._plain(BECOMES))
        box.addWidget(self._plain(RULE))
        box.addStretch(1)
        foot = QHBoxLayout()
        foot.addStretch(1)
        self.onward = QPushButton("To the corners  (Enter)")
        self.onward.setObjectName("main")
        self.onward.clicked.connect(lambda: self.acted.emit("corners"))
        foot.addWidget(self.onward)
        box.addLayout(foot)

    def _build_square(self) -> None:
        self.corners = Corners()
        self.sides = QDoubleSpinBox(), QDoubleSpinBox()
        self.tape = QComboBox()
        self.tape.setAccessibleName("Taped corner")
        for key, label in TAPES:
            self.tape.addItem(label, key)
        row = QHBoxLayout(self.square)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.corners, 1)
        side = QWidget()
        fit(side, lambda w: w.setFixedWidth(px(SIDE_W)))
        box = QVBoxLayout(side)
        box.addWidget(self._plain("Put the four corners on the corners of what you look at, and say how large it is."))
        for spin, label in zip(self.sides, ("Width", "Height"), strict=True):
            spin.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
            spin.setAccessibleName(label)
            box.addWidget(Label(label))
            box.addWidget(spin)
        box.addWidget(self.tape)
        box.addWidget(
            self._plain("A taped corner the size of a coin shows how an untouched film looks; it is left out.")
        )
        box.addStretch(1)
        box.addWidget(self._plain(KEYS))
        back = QPushButton("Other photos")
        back.clicked.connect(lambda: self.acted.emit("shots"))
        box.addWidget(back)
        self.look = QPushButton("Look  (Enter)")
        self.look.setObjectName("main")
        self.look.clicked.connect(self.look_asked)
        box.addWidget(self.look)
        row.addWidget(side)

    def _build_laid(self) -> None:
        self.over = LaidView()
        row = QHBoxLayout(self.laid)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.over, 1)
        side = QWidget()
        fit(side, lambda w: w.setFixedWidth(px(SIDE_W)))
        box = QVBoxLayout(side)
        box.setSpacing(6)
        self.verdict, self.why = Label(), Label()
        self.verdict.setObjectName("heading")
        self.why.setWordWrap(True)
        box.addWidget(self.verdict)
        box.addWidget(self.why)
        self.acts: dict[str, QPushButton] = {}
        for name, label, key in LOOKS:
            button = QPushButton(f"{label}  ({key})")
            button.setObjectName("pick")
            button.setCheckable(name in ("divider", "loupe"))
            button.clicked.connect(lambda _=False, n=name: self.acted.emit(n))
            box.addWidget(button)
            self.acts[name] = button
        self.grade = Seen(204, 92, lines=2)
        box.addWidget(self.grade)
        box.addStretch(1)
        box.addWidget(self._plain("What does your eye say?"))
        self.says: dict[str, QPushButton] = {}
        for name, key in zip(SAID, "LWC", strict=True):
            button = QPushButton(f"{SAID[name][:1].upper()}{SAID[name][1:]}  ({key})")
            button.clicked.connect(lambda _=False, n=name: self.said.emit(n))
            box.addWidget(button)
            self.says[name] = button
        row.addWidget(side)

    @staticmethod
    def _plain(text: str) -> QLabel:
        label = Label(text)
        label.setWordWrap(True)
        label.setObjectName("muted")
        return label

    def tell_fault(self, text: str) -> None:
        """What is wrong; nothing: all is well."""
        self.fault.setText(f"{text[:1].upper()}{text[1:]}." if text else "")

    def show_verdict(self, heading: str, text: str) -> None:
        """What the rule says, with what it rests on."""
        self.verdict.setText(heading)
        self.why.setText(text if RULE in text else f"{text} {RULE}".strip())

    def event(self, event: QEvent | None) -> bool:
        return is_own(event, OWN) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, stage = Qt.Key(event.key()), self.stages.currentWidget()
        enter = key in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if stage is self.shots:
            if enter:
                self.onward.click()
            elif event.text() in ("1", "2", "3"):
                self.pick_asked.emit(LAMPS[int(event.text()) - 1][0])
        elif stage is self.square:
            self._corner_key(event, key, enter)
        else:
            self._laid_key(event, key)

    def _corner_key(self, event: QKeyEvent, key: Qt.Key, enter: bool) -> None:
        far = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        arrows = {
            Qt.Key.Key_Left: (-far, 0), Qt.Key.Key_Right: (far, 0), Qt.Key.Key_Up: (0, -far), Qt.Key.Key_Down: (0, far),
        }  # fmt: skip
        if enter:
            self.look.click()
        elif key in arrows:
            self.corners.nudge(*arrows[key])
        elif event.text() in ("1", "2", "3", "4"):
            self.corners.choose(int(event.text()) - 1)

    def _laid_key(self, event: QKeyEvent, key: Qt.Key) -> None:
        says = dict(zip((Qt.Key.Key_L, Qt.Key.Key_W, Qt.Key.Key_C), self.says.values(), strict=True))
        acts = {Qt.Key.Key_V: "divider", Qt.Key.Key_Z: "loupe", Qt.Key.Key_Space: "blink"}
        if key in acts:
            self.acts[acts[key]].click()
        elif event.text() in ("+", "-"):
            self.acts["more" if event.text() == "+" else "less"].click()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.over.move_divider(0.02 if key == Qt.Key.Key_Right else -0.02)
        elif key in says:
            says[key].click()
