"""What is in the hand: paper, backing, block, how hard, and how the paper does."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QProgressBar, QPushButton, QVBoxLayout, QWidget

from ravden.core.surface.trial import LOADS_KPA, STANDS_FOR
from ravden.text.written import number
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label

ACTS = (
    ("wipe", "Wipe", "W"), ("new", "New piece", "N"), ("rounds", "10 rounds", "R"), ("xray", "Film", "hold X"),
    ("mark", "I see it", "M"), ("done", "Done", "Enter"),
)  # fmt: skip
TIPS = {
    "rounds": "Ten even rounds over the whole panel, as a careful hand does", "wipe": "Panel and paper wiped",
    "xray": "The film that is left, while it is held: told at the end", "new": "A new piece of the same paper",
}  # fmt: skip
PRESSES = ("a breath", "light", "usual", "firm", "hard")


class HandBar(QWidget):
    """Every act as a button with its key; the keys themselves are the page's."""

    acted = pyqtSignal(str)
    pressed = pyqtSignal(float)
    held = pyqtSignal(bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        self.work = QWidget()  # what one rubs with
        outer, box = box, QVBoxLayout(self.work)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        self.choose: dict[str, QPushButton] = {}
        for name in ("grade", "backing", "face", "stands", "turn"):
            self.choose[name] = self._button(name)
            if name != "turn":
                box.addWidget(self.choose[name])
        row = QHBoxLayout()
        row.setSpacing(3)
        self.loads: list[QPushButton] = []
        for i, kPa in enumerate(LOADS_KPA):
            button = QPushButton(str(i + 1))
            button.setCheckable(True)
            button.setObjectName("quiet")
            button.setToolTip(f"Press {PRESSES[i]}: {kPa:g} kPa ({i + 1}, or the mouse wheel)")
            button.setAccessibleName(f"Press {PRESSES[i]}, {kPa:g} kPa")
            fit(button, lambda w: w.setMinimumWidth(px(34)))
            button.clicked.connect(lambda _=False, p=kPa: self.pressed.emit(p))
            row.addWidget(button)
            self.loads.append(button)
        self.load_words = Label()
        box.addLayout(row)
        beside = QHBoxLayout()
        beside.addWidget(self.load_words, 1)
        beside.addWidget(self.choose["turn"])
        box.addLayout(beside)
        self.paper = Label()
        self.paper.setWordWrap(True)
        self.bars: dict[str, tuple[QProgressBar, QLabel]] = {}
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        for i, (name, label) in enumerate((("cut", "cut"), ("loaded", "loaded"), ("worn", "worn"))):
            bar = QProgressBar()
            bar.setRange(0, 100)
            bar.setTextVisible(False)
            bar.setAccessibleName(f"Paper: {label}")
            fit(bar, lambda w: w.setFixedHeight(px(12)))
            value = Label()
            fit(value, lambda w: w.setMinimumWidth(px(46)))
            grid.addWidget(Label(label), i, 0)
            grid.addWidget(bar, i, 1)
            grid.addWidget(value, i, 2)
            self.bars[name] = bar, value
        box.addLayout(grid)
        box.addWidget(self.paper)
        box = outer
        box.addWidget(self.work)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setObjectName("strong")
        box.addWidget(self.told)
        box.addStretch(1)
        acts = QGridLayout()
        acts.setSpacing(6)
        self.acts: dict[str, QPushButton] = {}
        for i, (name, label, key) in enumerate(ACTS):
            button = QPushButton(f"{label}  ({key})")
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.setToolTip(TIPS.get(name, ""))
            button.setStyleSheet("padding-left: 4px; padding-right: 4px;")
            if name == "xray":
                button.pressed.connect(lambda: self.held.emit(True))
                button.released.connect(lambda: self.held.emit(False))
            else:
                button.clicked.connect(lambda _=False, n=name: self.acted.emit(n))
            wide = name == "done"
            acts.addWidget(button, i // 2 + (1 if wide else 0), 0 if wide else i % 2, 1, 2 if wide else 1)
            self.acts[name] = button
        self.acts["done"].setObjectName("main")
        box.addLayout(acts)

    def _button(self, name: str) -> QPushButton:
        button = QPushButton()
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.setObjectName("pick")
        button.clicked.connect(lambda _=False: self.acted.emit(name))
        return button

    def show_hold(
        self, *, grade: str, backing: str, face: str, stands_for: int, load_kPa: float, fingers: bool
    ) -> None:
        """What is held."""
        assert stands_for in STANDS_FOR
        words = "one stroke is one" if stands_for == 1 else f"one stroke stands for {stands_for}"
        for name, text in (
            ("grade", f"G   {grade}"), ("backing", f"B   {backing}"), ("face", f"K   {face}"), ("turn", "T  turn"),
            ("stands", f"F   {words}"),
        ):  # fmt: skip
            self.choose[name].setText(text)
        at = min(range(len(LOADS_KPA)), key=lambda i: abs(LOADS_KPA[i] - load_kPa))
        for i, button in enumerate(self.loads):
            button.setChecked(i == at)
        kPa = load_kPa * (6 if fingers else 1)
        self.load_words.setText(f"pressed {PRESSES[at]}: {kPa:g} kPa")

    def show_paper(self, cut: float, loaded: float, worn: float, words: str) -> None:
        """How the paper does."""
        for name, value in (("cut", cut / 1.9), ("loaded", loaded / 2), ("worn", worn)):
            self.bars[name][0].setValue(round(100 * min(max(value, 0.0), 1.0)))
        for name, text in (
            ("cut", number(cut, ".2f")),
            ("loaded", f"{100 * loaded:.0f} %"),
            ("worn", f"{100 * worn:.0f} %"),
        ):
            self.bars[name][1].setText(text)
        self.paper.setText(words)
