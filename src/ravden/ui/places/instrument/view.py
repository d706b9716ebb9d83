"""The guided page that puts an instrument on the rack: what it is, how big, which finish."""

from collections.abc import Callable, Mapping, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from ravden.app import forms
from ravden.app.starting import methods_first
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError
from ravden.core.record import GROUNDS, SHEENS, Instrument
from ravden.text import say, written
from ravden.text.units import Units
from ravden.ui.places.instrument import presenter
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.outline_view import OutlineView
from ravden.ui.widgets.page import Page
from ravden.ui.widgets.panel import panel


class InstrumentPage(Page):
    """Three short steps on one page; ``submit`` gets the entry and raises InputError for what it will not take."""

    def __init__(self, catalogue: Catalogue, parent: QWidget | None = None) -> None:
        super().__init__("Add an instrument", parent, back="Leave it")
        self._catalogue = catalogue
        self._units = Units()
        self._lays: tuple[str, ...] = ()
        self._least_um: Mapping[str, float] = {}  # wanted here, by family of finish
        self._submit: Callable[[dict[str, str], str, str], None] | None = None
        self.inputs: dict[str, QLineEdit | QComboBox] = {}
        self.labels: dict[str, QLabel] = {}
        self.faults: dict[str, QLabel] = {}
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self._what(), 3)
        row.addWidget(self._size(), 4)
        row.addWidget(self._finish(), 3)
        self.fault = Label()
        self.fault.setObjectName("fault")
        self.box.addWidget(self.title)
        self.box.addLayout(row, 1)
        self.keep = self.add_foot(self.fault, "Put it on the rack", self.submit)

    def _field(self, grid: QGridLayout, name: str, label: str, box: QLineEdit | QComboBox, tip: str = "") -> None:
        at = grid.rowCount()
        text = Label(label)
        text.setBuddy(box)
        box.setAccessibleName(label)
        box.setToolTip(tip)
        fault = FaultLabel()
        grid.addWidget(text, at, 0)
        grid.addWidget(box, at, 1)
        grid.addWidget(fault, at + 1, 0, 1, 2)
        self.inputs[name], self.labels[name], self.faults[name] = box, text, fault

    def _step(self, number: int, text: str) -> tuple[QWidget, QVBoxLayout, QGridLayout]:
        frame, box = panel()
        heading = Label(f"{number}.  {text}")
        heading.setObjectName("heading")
        box.addWidget(heading)
        grid = QGridLayout()
        grid.setVerticalSpacing(7)
        box.addLayout(grid)
        return frame, box, grid

    def _what(self) -> QWidget:
        frame, box, grid = self._step(1, "What is it?")
        self._field(grid, "name", "Name", QLineEdit(), "What you call it: an order, an owner, a nickname.")
        kind = QComboBox()
        for item in self._catalogue.kinds.values():
            kind.addItem(item.label, item.id)
        kind.currentIndexChanged.connect(self._kind_changed)
        self._field(grid, "kind", "Kind", kind)
        self.outline = OutlineView()
        self.outline.setToolTip("The body as you measure it")
        self.areas = Label()
        self.areas.setObjectName("muted")
        self.areas.setWordWrap(True)
        box.addWidget(self.outline, 1)
        box.addWidget(self.areas)
        return frame

    def _size(self) -> QWidget:
        frame, box, grid = self._step(2, "Measure it")
        note = Label("The fields start at a usual size for its kind. Length and width matter most; a ruler will do.")
        note.setObjectName("muted")
        note.setWordWrap(True)
        box.insertWidget(1, note)
        for name, label in forms.MEASURE_FIELDS:
            edit = QLineEdit()
            edit.textChanged.connect(self._preview)
            self._field(grid, name, label, edit)
        box.addStretch(1)
        return frame

    def _finish(self) -> QWidget:
        frame, box, grid = self._step(3, "Choose its finish")
        method = QComboBox()
        _fill(method, self._catalogue)
        method.currentIndexChanged.connect(self._method_changed)
        self._field(grid, "method", "Method", method)
        sheen = QComboBox()
        for word in SHEENS:
            sheen.addItem(word, word)
        sheen.setCurrentText("gloss")
        self._field(grid, "sheen", "Sheen", sheen)
        ground = QComboBox()
        for name in GROUNDS:
            ground.addItem(self._catalogue.grounds[name].label, name)
        tip = "What the first coat goes on: bare wood absorbs part of the first coats, and open pores sink later."
        self._field(grid, "ground", "The wood is", ground, tip)
        tip = "After rubbing out. Below it, Ravden calls the odds bad."
        self._field(grid, "min_film_um", "Least film wanted", QLineEdit(), tip)
        tip = "Softness is judged at the temperature of the bench, not of the drying room."
        self._field(grid, "bench_C", "Bench temperature", QLineEdit(), tip)
        day = written.typed_day(forms.A_PROMISE)
        tip = f"The day it is promised for, as {day}; may stay empty. The Rack says when it is at risk."
        promised = QLineEdit()
        promised.setPlaceholderText("none")
        self._field(grid, "promised", "Promised for", promised, tip)
        self.method_words = Label()
        self.method_words.setWordWrap(True)
        self.cautions = Label()
        self.cautions.setWordWrap(True)
        self.cautions.setObjectName("fault")
        box.addWidget(self.method_words)
        box.addStretch(1)
        box.addWidget(self.cautions)
        return frame

    def begin(
        self, units: Units, submit: Callable[[dict[str, str], str, str], None], catalogue: Catalogue | None = None,
        lays: Sequence[str] = (), least_um: Mapping[str, float] | None = None,
    ) -> None:  # fmt: skip
        """Start with an empty page; catalogue: with the methods of the shop that is open now; lays: what a finish is
        laid on with here, whose methods come first."""
        self._units, self._submit, self._least_um = units, submit, least_um or {}
        if catalogue is not None and (catalogue is not self._catalogue or tuple(lays) != self._lays):
            self._catalogue, self._lays = catalogue, tuple(lays)
            method = self.inputs["method"]
            assert isinstance(method, QComboBox)
            _fill(method, catalogue, lays)
        self._edit("name").setText("")
        self._edit("promised").setText("")
        self._edit("bench_C").setText(f"{units.temperature_value(20.0):.0f}")
        self.labels["bench_C"].setText(f"Bench temperature, {units.temperature_unit}")
        self.labels["min_film_um"].setText(f"Least film wanted, {units.film_unit}")
        for name, label in forms.MEASURE_FIELDS:
            self.labels[name].setText(f"{label}, {units.length_unit}")
        for fault in self.faults.values():
            fault.setText("")
        self.fault.setText("")
        self._kind_changed()
        self._method_changed()
        self._edit("name").setFocus()

    def submit_to(self, submit: Callable[[dict[str, str], str, str], None]) -> None:
        """Hand what is typed to another taker."""
        self._submit = submit

    def like(self, item: Instrument, least_um: float) -> None:
        """Start with what another instrument was: all but its name and the day it is promised for."""
        for name, value in (("kind", item.kind), ("method", item.method), ("sheen", item.sheen),
                            ("ground", item.ground)):  # fmt: skip
            box = self.inputs[name]
            assert isinstance(box, QComboBox)
            box.setCurrentIndex(max(box.findData(value), 0))
        for name, text in presenter.measured(item.measures, self._units).items():
            self._edit(name).setText(text)
        self._edit("min_film_um").setText(self._units.film_number(least_um))
        self._edit("bench_C").setText(f"{self._units.temperature_value(item.bench_C):.0f}")
        self._preview()

    def _edit(self, name: str) -> QLineEdit:
        box = self.inputs[name]
        assert isinstance(box, QLineEdit)
        return box

    def _data(self, name: str) -> str:
        box = self.inputs[name]
        assert isinstance(box, QComboBox)
        return str(box.currentData())

    def _kind_changed(self) -> None:
        if "neck_length_mm" not in self.inputs:
            return
        kind = self._catalogue.kind(self._data("kind"))
        for name, text in presenter.start_values(kind, self._units).items():
            edit = self._edit(name)
            edit.blockSignals(True)
            edit.setText(text)
            edit.blockSignals(False)
        asked = presenter.asked_of(kind)
        for name, _ in forms.MEASURE_FIELDS:
            shown = name in asked
            self.inputs[name].setVisible(shown)
            self.labels[name].setVisible(shown)
        self._preview()

    def _method_changed(self) -> None:
        if "promised" not in self.inputs:
            return
        method = self._catalogue.method(self._data("method"))
        material = self._catalogue.material(method.material)
        least = self._least_um.get(material.family, method.least_um(material))
        self._edit("min_film_um").setText(self._units.film_number(least))
        self.method_words.setText(presenter.method_words(self._catalogue, method.id, self._units))
        self.cautions.setText("\n".join(material.cautions))

    def typed(self) -> dict[str, str]:
        """What stands in the fields."""
        return {
            name: str(box.currentData()) if isinstance(box, QComboBox) else box.text()
            for name, box in self.inputs.items()
        }

    def _preview(self) -> None:
        found = presenter.preview(self.typed(), self._catalogue.kind(self._data("kind")), self._units)
        for name, _ in forms.MEASURE_FIELDS:
            self.faults[name].setText(found.fault if name == found.fault_field else "")
        neck = 0.0 if found.body is None else self._neck()
        self.outline.show_body(found.body, neck, (), "")
        self.areas.setText(found.words or "Put right the field marked at the right to see the body.")

    def _neck(self) -> float:
        try:
            return self._units.length_to_mm(forms.number(self._edit("neck_length_mm").text(), "neck_length_mm"))
        except InputError:
            return 0.0

    def submit(self) -> None:
        """Try to put it on the rack; a fault is told beside its field and nothing is logged."""
        if self._submit is None:
            return
        for fault in self.faults.values():
            fault.setText("")
        self.fault.setText("")
        try:
            self._submit(self.typed(), self._data("kind"), self._data("method"))
        except InputError as error:
            if error.path in self.faults:
                self.faults[error.path].setText(say.fault(error, self._units))
                self.inputs[error.path].setFocus(Qt.FocusReason.OtherFocusReason)
            else:
                self.fault.setText(say.whole_fault(error, self._units))


def _fill(box: QComboBox, catalogue: Catalogue, lays: Sequence[str] = ()) -> None:
    """Every method there is, those laid as here first."""
    box.blockSignals(True)
    box.clear()
    every = [(m.id, catalogue.applied[m.material]) for m in catalogue.methods.values()]
    for name in methods_first(every, lays):
        box.addItem(catalogue.method(name).label, name)
    box.blockSignals(False)
