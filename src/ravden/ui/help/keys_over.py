"""The keys of a place, laid over it; any key or click puts them away."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QGridLayout, QWidget

from ravden.ui.theme import style
from ravden.ui.widgets.emptied import emptied
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.over import Over

EVERYWHERE = (
    ("C", "log the usual coat, now"),
    ("Shift+C", "a coat with its weight and time"),
    ("S", "log a sanding"),
    ("R", "take a reading"),
    ("D", "the next step is done"),
    ("Ctrl+Z", "take back"),
    ("N", "add an instrument"),
    ("M", "zones masked, or another finish"),
    ("A", "what the air is"),
    ("H", "hand it over"),
    ("T", "the numbers as a table"),
    ("F1", "the guide"),
    ("Ctrl+1 … 6", "turn to a place"),
    ("Ctrl+,", "settings"),
)
OF = {
    "rack": (
        ("↑ ↓", "choose an instrument"),
        ("Enter", "open its film"),
        ("Ctrl+F", "find"),
        ("Ctrl+G", "by what is next"),
        ("Ctrl+E", "the days ahead, and the lanes again"),
        ("L S D", "there: later, somebody else, done already"),
        ("P Del", "pin a line, let it go"),
        ("W R", "why then; ready by …?"),
        ("K", "keep this plan, or let it follow along"),
    ),
    "film": (
        ("Alt+1 … 5", "zones, next coat, waits, plan, log"),
        ("← →", "move through time"),
        ("Home", "now"),
        ("Enter", "the step under the cursor"),
        ("L", "light on a light-cured film"),
    ),
    "booth": (
        ("Space", "does it: coat, pass, zone"),
        ("Backspace", "takes the last act back"),
        ("1 … 9", "choose, or turn to"),
        ("A … H", "tick what was looked at"),
        ("N", "gone wrong; Tab: the other half"),
        ("P", "pause"),
        ("M", "mixed two parts"),
        ("Z", "zones"),
        ("E", "end"),
        ("H", "larger"),
        ("V", "sound"),
    ),
    "rubout": (
        ("1 … 9, then 0 … 9", "log that rung, on that zone"),
        ("X", "a stray deep scratch"),
        ("↑ ↓ Space", "a grade in or out"),
        ("Ctrl+P", "bench card"),
        ("Alt+1 … 6", "zones, ways, drawer, wheel, paper, see"),
    ),
    "shop": (("A", "say what the air is"), ("Alt+1 … 4", "air, hours, people and booth, book")),
    "methods": (("Alt+1 … 4", "side by side, plan, who is right, old finish"), ("Space", "tick a method to compare")),
}

# What a picture's signs mean, where the place has one.
SIGNS = {
    "rack": (
        ("strokes", "coats, in fives; thin ones are planned"), ("bar, peak", "a sanding; a reading"),
        ("upright line", "when a window likely opens; the dots are its 10–90 % range"),
        ("film", "pale is soft, dark is hard, faded is planned"), ("shaded days", "nobody is in"),
        (
            "blocks",
            "hands in the plan; a session in outline, a tick a coat; dotted: cannot stand; hatched: in the cabinet",
        ),
        ("nail head", "pinned"),
        ("ring with a cross", "something went wrong; a plain ring: the next paper deals with it"),
    ),
    "film": (
        ("dashes", "the film lies between them nine times in ten, as was known at that moment"),
        ("ring with a cross", "something went wrong there; a plain ring: closed"),
        ("red line", "the least film you want"), ("strip below", "the steps of the plan"),
    ),
}  # fmt: skip


class KeysOver(Over):
    """Lies over the window until something is pressed."""

    def __init__(self, ground: QWidget) -> None:
        super().__init__(ground)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(18)
        self.grid.setVerticalSpacing(5)
        foot = Label("Any key puts this away. F1 opens the guide.")
        foot.setObjectName("muted")
        self.box.addLayout(self.grid)
        self.box.addWidget(foot)
        self._back: QWidget | None = None

    def show_keys(self, place: str, label: str, back: QWidget | None) -> None:
        """Lay the keys of a place over it; back: where the keyboard goes after."""
        self._back = back
        emptied(self.grid)
        self.heading.setText(f"Keys: {label}, and everywhere")
        for column, rows in ((0, OF.get(place, ())), (2, EVERYWHERE)):
            for i, (key, does) in enumerate(rows):
                name = Label(key)
                name.setObjectName("strong")
                self.grid.addWidget(name, i, column)
                self.grid.addWidget(Label(does), i, column + 1)
        for sign, means in SIGNS.get(place, ()):
            at = self.grid.rowCount()
            name = Label(sign)
            name.setObjectName("strong")
            self.grid.addWidget(name, at, 0)
            self.grid.addWidget(Label(means), at, 1, 1, 3)
        said = "; ".join(f"{key}: {does}" for key, does in (*OF.get(place, ()), *EVERYWHERE, *SIGNS.get(place, ())))
        self.setAccessibleName(self.heading.text())
        self.setAccessibleDescription(said)
        style.dress(self)
        self.show()
        self.adjustSize()
        room = self.ground.rect()
        self.move((room.width() - self.width()) // 2, max((room.height() - self.height()) // 2, 0))
        self.raise_()
        self.setFocus()

    def _away(self) -> None:
        self.hide()
        if self._back is not None:
            self._back.setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() not in (
            Qt.Key.Key_Shift,
            Qt.Key.Key_Control,
            Qt.Key.Key_Alt,
            Qt.Key.Key_Meta,
        ):
            self._away()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._away()
