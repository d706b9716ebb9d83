"""Other ladders, the buffing wheel, and paper on bare wood and between coats."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QFormLayout, QFrame, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.core.abrasive.buffing import Wheel
from ravden.core.errors import InputError
from ravden.ui.places.rubout.extras import STARTS, WAX, WayShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.told import ToldCard


def _label(text: str = "", name: str = "") -> QLabel:
    out = Label(text)
    out.setWordWrap(True)
    if name:
        out.setObjectName(name)
    return out


class WaysPanel(QWidget):
    """Remarks on the user's own ladder, the equally good ones and the two schools; says which is to be taken over."""

    taken = pyqtSignal(object)
    back = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(6)
        self.remarks = _label()
        self.return_ = QPushButton("Back to the ladder proposed")
        self.return_.clicked.connect(self.back)
        self._box.addWidget(self.remarks)
        self._box.addWidget(self.return_)
        self._ways: list[QWidget] = []
        self.buttons: list[QPushButton] = []
        self._box.addStretch(1)
        self._box.addWidget(_label(WAX, "muted"))

    def show_ways(self, own: bool, remarks: tuple[tuple[str, str], ...], ways: tuple[WayShown, ...]) -> None:
        """Show these."""
        for old in self._ways:
            self._box.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._ways, self.buttons = [], []
        self.return_.setVisible(own)
        said = "\n".join(f"• {text}" for _, text in remarks)
        self.remarks.setText(said if remarks else ("Nothing to remark on your ladder." if own else ""))
        self.remarks.setVisible(own)
        for i, way in enumerate(ways):
            made = self._way(way)
            self._box.insertWidget(2 + i, made)
            self._ways.append(made)

    def _way(self, way: WayShown) -> QWidget:
        frame = QFrame()
        box = QVBoxLayout(frame)
        box.setContentsMargins(0, 2, 0, 6)
        box.setSpacing(1)
        box.addWidget(_label(f"{way.name}: {way.cost}", "strong"))
        if way.grades:
            box.addWidget(_label(way.grades))
        if way.why:
            box.addWidget(_label(way.why, "muted"))
        if way.sequence:
            button = QPushButton("Use this one")
            button.setObjectName("quiet")
            button.setAccessibleName(f"Use {way.name}: {way.grades}")
            button.clicked.connect(lambda _=False, s=way.sequence: self.taken.emit(s))
            box.addWidget(button)
            self.buttons.append(button)
        return frame


class WheelPanel(QWidget):
    """A buffing wheel tried on this film."""

    changed = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(_label("A wheel or pad on this film, as soft as it is now.", "muted"))
        form = QFormLayout()
        start = Wheel()
        self.spins: dict[str, QDoubleSpinBox] = {}
        for name, label, unit, low, high, step, value in (
            ("diameter_mm", "Wheel", " mm", 20, 1000, 10, start.diameter_mm),
            ("rpm", "Turns", " per min", 50, 12000, 50, start.rpm),
            ("press_N", "Press", " N", 1, 200, 1, start.press_N),
            ("pace_m_s", "Moved on at", " m/s", 0.01, 2, 0.05, start.pace_m_s),
        ):
            spin = QDoubleSpinBox()
            spin.setRange(low, high)
            spin.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
            spin.setSingleStep(step)
            spin.setDecimals(2 if step < 1 else 0)
            spin.setSuffix(unit)
            spin.setValue(value)
            spin.setAccessibleName(label)
            spin.valueChanged.connect(lambda _: self.changed.emit(self.wheel()))
            form.addRow(label, spin)
            self.spins[name] = spin
        box.addLayout(form)
        self.told = ToldCard()
        box.addWidget(self.told)
        box.addWidget(
            _label(
                "A wheel grabs at edges and holes: run off them, never onto them; eye and face guard, no gloves, no "
                "loose cloth. Follow the machine's own instructions.",
                "fault",
            )
        )
        box.addStretch(1)

    def wheel(self) -> Wheel:
        """The wheel as set."""
        values = {name: spin.value() for name, spin in self.spins.items()}
        try:
            return Wheel(**values)
        except InputError:
            return Wheel()


class PaperPanel(QWidget):
    """The scuff before the next coat, and paper on bare wood by what comes next."""

    wood_asked = pyqtSignal(str, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(5)
        box.addWidget(_label("Between coats", "heading"))
        self.scuff = _label()
        box.addWidget(self.scuff)
        box.addSpacing(8)
        box.addWidget(_label("Bare wood", "heading"))
        form = QFormLayout()
        self.start, self.next = QComboBox(), QComboBox()
        for label, um in STARTS:
            self.start.addItem(label, um)
        for combo in (self.start, self.next):
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(16)
            combo.activated.connect(self._ask)
        form.addRow("Marks of", self.start)
        form.addRow("Comes next", self.next)
        box.addLayout(form)
        self.wood = _label()
        box.addWidget(self.wood)
        box.addStretch(1)

    def offer(self, kinds: tuple[tuple[str, str], ...]) -> None:
        """What may come next on the wood."""
        if self.next.count() == 0:
            for name, label in kinds:
                self.next.addItem(label, name)

    def _ask(self) -> None:
        self.wood_asked.emit(str(self.next.currentData()), float(self.start.currentData()))

    def show_words(self, scuff: tuple[str, ...], wood: tuple[tuple[str, str], ...]) -> None:
        """Show these."""
        self.scuff.setText("\n".join(scuff))
        self.wood.setText("\n".join(f"{name}: {text}" if name else text for name, text in wood))
