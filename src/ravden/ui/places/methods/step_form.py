"""One step of a plan as a form."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import msgspec
from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.core.errors import InputError
from ravden.core.method.steps import WAITS, WORK_KINDS, Stage
from ravden.text import written
from ravden.text.say import whole_fault
from ravden.text.units import Units
from ravden.ui.places.methods.presenter import KIND
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.seen_strip import SeenStrip

if TYPE_CHECKING:
    from ravden.app.seen import Wanted

NUMBERS = (
    ("count", "Coats"), ("per_session", "Coats a session"), ("between_h", "Hours between coats"), ("hours", "Hours "
    "of hands"),
    ("rest_h", "Hours of rest after it"), ("um", "Film"),
)  # fmt: skip
SHOWN_FOR = {
    "count": ("coats",), "per_session": ("coats",), "between_h": ("coats",), "hours": (*WORK_KINDS, "coats", "scuff"),
    "rest_h": (*WORK_KINDS, "wait"), "um": ("coats", "scuff", "level", "rub-out"),
}  # fmt: skip
TEXTS = (("how", "What to do"), ("inspect", "Look for"), ("wrong", "Goes wrong"))
SEEN_W, SEEN_H = 118, 79
TINTED = {"": "none", "clear": "some, still clear", "opaque": "opaque"}
REST_WORDS = {"wait": "Hours at least, by habit"}
FILM_WORDS = {"coats": "Film of a coat"}
WINDOW_WORDS = {
    "scuff": "it may be scuffed",
    "level": "it may be levelled",
    "buff": "it may be buffed",
    "case": "it is ready for the case",
}


class StepForm(QWidget):
    """Shows a Stage; says which one is to take its place. What cannot be is told beside the button."""

    kept = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._stage: Stage | None = None
        self._units = Units()
        self._shown: dict[str, str] = {}
        self.kind = Label()
        self.kind.setObjectName("heading")
        self.label = QLineEdit()
        self.label.setAccessibleName("Name of the step")
        self.numbers = {name: QLineEdit() for name, _ in NUMBERS}
        self.window_box = QComboBox()
        for name in WAITS:
            self.window_box.addItem(WINDOW_WORDS[name], name)
        self.texts = {name: QPlainTextEdit() for name, _ in TEXTS}
        self.form = QFormLayout()
        self.form.setContentsMargins(0, 0, 0, 0)
        self.form.setVerticalSpacing(5)
        self.form.addRow("Name", self.label)
        for name, text in NUMBERS:
            fit(self.numbers[name], lambda w: w.setMaximumWidth(px(110)))
            self.numbers[name].setAccessibleName(text)
            self.form.addRow(text, self.numbers[name])
        self.form.addRow("Wait until", self.window_box)
        self.tinted = QComboBox()
        for name, text in TINTED.items():
            self.tinted.addItem(text, name)
        self.form.addRow("Colour in it", self.tinted)
        self.flow = QCheckBox("Laid to flow out")
        self.flow.setToolTip("Thinned well, so that the last texture melts flat before the level")
        self.form.addRow("", self.flow)
        for name, text in TEXTS:
            self.texts[name].setAccessibleName(text)
            self.texts[name].setTabChangesFocus(True)
            self.form.addRow(text, self.texts[name])
        self.watch = Label("Watch for")
        self.watch.setObjectName("heading")
        self.strip = SeenStrip(SEEN_W, SEEN_H, 3)
        self.fault = Label()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self.keep = QPushButton("Keep the change")
        self.keep.setObjectName("main")
        self.keep.clicked.connect(self._keep)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.kind)
        box.addLayout(self.form)
        box.addWidget(self.fault)
        box.addWidget(self.keep)
        box.addWidget(self.watch)
        box.addWidget(self.strip)
        box.addStretch(1)

    def show_step(self, stage: Stage | None, units: Units) -> None:
        """Fill the form; None: nothing is picked."""
        self._stage, self._units = stage, units
        self.setEnabled(stage is not None)
        self.fault.setText("")
        if stage is None:
            return
        self.kind.setText(KIND[stage.kind])
        self.label.setText(stage.label)
        for name, box in self.numbers.items():
            value = getattr(stage, name)
            box.setText(
                "" if value is None or (value == 0 and name in ("rest_h", "hours")) else written.number(value, "g")
            )
            self.form.setRowVisible(box, stage.kind in SHOWN_FOR[name])
        self._call("rest_h", REST_WORDS.get(stage.kind, "Hours of rest after it"))
        self.numbers["um"].setText("" if stage.um is None else written.number(units.film_value(stage.um), ".6g"))
        self._shown = {name: box.text() for name, box in self.numbers.items()}
        self._call("um", f"{FILM_WORDS.get(stage.kind, 'Film it takes')}, {units.film_unit}")
        self.label.setCursorPosition(0)
        self.form.setRowVisible(self.window_box, stage.kind == "wait")
        self.window_box.setCurrentIndex(max(self.window_box.findData(stage.window), 0))
        for row in (self.tinted, self.flow):
            self.form.setRowVisible(row, stage.kind == "coats")
        self.tinted.setCurrentIndex(max(self.tinted.findData(stage.tinted), 0))
        self.flow.setChecked(stage.flow)
        for name, text in self.texts.items():
            # One that says nothing takes the room of a line.
            text.setFixedHeight(px(84 if getattr(stage, name) else 36))
            text.setPlainText(getattr(stage, name))
            self.form.setRowVisible(text, stage.kind != "wait" or bool(getattr(stage, name)))

    def show_looks(self, looks: Sequence[Wanted]) -> None:
        """What goes wrong in such a step, as it looks."""
        self.watch.setVisible(bool(looks))
        self.strip.ask(looks)

    def _call(self, name: str, text: str) -> None:
        """A number means another thing for another kind of step."""
        label = self.form.labelForField(self.numbers[name])
        if isinstance(label, QLabel):
            label.setText(text)
        self.numbers[name].setAccessibleName(text)

    def typed(self) -> Stage:
        """The step as it stands in the form. Raises InputError naming the field."""
        stage = self._stage
        assert stage is not None
        change: dict[str, object] = {"label": self.label.text().strip()}
        if change["label"] != stage.label:
            change["id"] = stage.key  # what was done of it stays done under another name
        for name, text in NUMBERS:
            if stage.kind not in SHOWN_FOR[name]:
                continue
            if self.numbers[name].text() == self._shown[name]:
                continue  # what was not touched stays as it was, whatever its digits here
            raw = self.numbers[name].text().strip().replace(",", ".")
            try:
                value = float(raw) if raw else None
            except ValueError:
                raise InputError(text, f"{raw} is no number") from None
            if value is not None and name in ("count", "per_session"):
                if value != int(value):
                    raise InputError(text, "must be a whole number")
                value = int(value)
            if name != "um":
                change[name] = value or 0
            else:
                change[name] = None if value is None else self._units.film_to_um(value)
        if stage.kind == "wait":
            change["window"] = self.window_box.currentData()
        if stage.kind == "coats":
            change |= {"tinted": self.tinted.currentData(), "flow": self.flow.isChecked()}
        change |= {name: box.toPlainText().strip() for name, box in self.texts.items()}
        made = replace(stage, **change)
        return msgspec.convert(msgspec.to_builtins(made), Stage)

    def _keep(self) -> None:
        try:
            self.kept.emit(self.typed())
        except InputError as error:
            self.tell(whole_fault(error, self._units))

    def tell(self, text: str) -> None:
        """A fault beside the button."""
        self.fault.setText(f"{text[:1].upper()}{text[1:]}." if text else "")
