"""The card in which a coat, a sanding, a reading or the air is logged, over any place; faults show beside the field."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.app.forms import Field
from ravden.app.slips import SURE, DoubtError, Slip
from ravden.core.errors import InputError
from ravden.text.say import fault, whole_fault
from ravden.text.units import Units
from ravden.ui.widgets.emptied import emptied
from ravden.ui.widgets.fault import FaultLabel
from ravden.ui.widgets.field_box import field_box
from ravden.ui.widgets.label import Label

LOG_IT = "Log it"
TIMES, A_TIME = ("at", "first"), "2026-11-23 14:30 "
MOST_ACROSS = 6  # more fields than these go in rows


class LogCard(QFrame):
    """A short form; ``submit`` gets what was typed and raises InputError for what it will not take."""

    grown = pyqtSignal()  # its size has changed: put it back in its place
    closed = pyqtSignal()  # logged or left

    def __init__(self, parent: QWidget | None = None, units: Callable[[], Units] = Units) -> None:
        super().__init__(parent)
        self._units = units
        self.setObjectName("logcard")
        self.kind, self.anew = "", False  # anew: it logs, and corrects nothing
        self._first: dict[str, str] = {}
        self._draft: tuple[str, dict[str, str]] = ("", {})
        self._submit: Callable[[dict[str, str]], None] | None = None
        self.inputs: dict[str, QLineEdit | QComboBox] = {}
        self.faults: dict[str, QLabel] = {}
        self.heading = Label()
        self.heading.setObjectName("heading")
        self.fault = Label()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(10)
        self._grid.setVerticalSpacing(2)
        self.keep = QPushButton(f"{LOG_IT}  (Enter)")
        self.keep.setObjectName("main")
        self.keep.clicked.connect(lambda: self.submit())
        self.leave = QPushButton("Leave it  (Esc)")
        self.leave.clicked.connect(self.hide)
        self.likely, self.as_typed = QPushButton(), QPushButton()
        self.likely.setObjectName("main")
        self.likely.clicked.connect(lambda: self._answer("1"))
        self.as_typed.clicked.connect(lambda: self._answer("2"))
        self._slip: Slip | None = None
        buttons = QHBoxLayout()
        buttons.addWidget(self.fault, 1)
        for button in (self.likely, self.as_typed, self.leave, self.keep):
            buttons.addWidget(button)
        box = QVBoxLayout(self)
        box.setContentsMargins(16, 12, 16, 12)
        box.addWidget(self.heading)
        box.addLayout(self._grid)
        box.addLayout(buttons)
        self.hide()

    def ask(
        self, kind: str, heading: str, fields: tuple[Field, ...], submit: Callable[[dict[str, str]], None],
        turn: Callable[[dict[str, str]], None] | None = None, keep: str = LOG_IT,
    ) -> None:  # fmt: skip
        """Show a form; turn: asks for another one when a choice that decides the fields is changed; keep: what the
        button is called."""
        # Fields put on a card already shown only appear, and take room, once the event loop turns.
        self.hide()
        self._no_question()
        self.kind, self._submit, self.anew = kind, submit, keep == LOG_IT
        self.heading.setText(heading)
        self.keep.setText(f"{keep}  (Enter)")
        self.fault.setText("")
        emptied(self._grid)
        self.inputs, self.faults = {}, {}
        for column in range(self._grid.columnCount()):
            self._grid.setColumnStretch(column, 0)
        bands = -(-len(fields) // MOST_ACROSS)
        across = -(-len(fields) // bands)
        for i, field in enumerate(fields):
            band, column = divmod(i, across)
            label = Label(f"{field.label}, {field.unit}" if field.unit else field.label)
            box = field_box(field)
            if isinstance(box, QComboBox):
                if field.turns and turn is not None:
                    box.activated.connect(lambda _: turn(self.typed()))
            elif field.name in TIMES:
                box.setMinimumWidth(box.fontMetrics().horizontalAdvance(A_TIME) + 24)
            label.setBuddy(box)
            fault = FaultLabel()
            for row, widget in enumerate((label, box, fault)):
                self._grid.addWidget(widget, 3 * band + row, column, Qt.AlignmentFlag.AlignTop)
            self._grid.setColumnStretch(column, 1)
            self.inputs[field.name], self.faults[field.name] = box, fault
        if heading == self._draft[0]:
            self._fill(self._draft[1])
            self._draft = ("", {})
            self._first = {}  # it was changed already
        else:
            self._first = self.typed()
        self.show()
        self.raise_()
        self.grown.emit()
        typing = [n for n, b in self.inputs.items() if isinstance(b, QLineEdit) and n not in ("at", "grade")]
        focus = self.inputs[typing[0]] if typing else next(iter(self.inputs.values()))
        focus.setFocus()
        if isinstance(focus, QLineEdit):
            focus.selectAll()

    @property
    def changed(self) -> bool:
        """Whether anything in it is otherwise than it came."""
        return self.typed() != self._first

    def keep_draft(self, heading: str, typed: dict[str, str]) -> None:
        """Fill the form of this heading, when it is asked for next, as it had been filled in."""
        self._draft = (heading, dict(typed))

    def _fill(self, typed: dict[str, str]) -> None:
        for name, box in self.inputs.items():
            if name not in typed:
                continue
            if isinstance(box, QComboBox):
                at = next((i for i in range(box.count()) if str(box.itemData(i)) == typed[name]), -1)
                box.setCurrentIndex(at if at >= 0 else box.currentIndex())
            else:
                box.setText(typed[name])

    def typed(self) -> dict[str, str]:
        """What stands in the fields."""
        return {
            name: str(box.currentData()) if isinstance(box, QComboBox) else box.text()
            for name, box in self.inputs.items()
        }

    def question(self, slip: Slip) -> None:
        """What was typed fits nothing: the likely one and the one typed, a key each; anything else leaves it alone."""
        self._slip = slip
        self.fault.setText(slip.asks)
        unit = f" {slip.unit}" if slip.unit else ""
        self.likely.setText(f"1  {slip.likely}{unit}")
        self.likely.setToolTip("Logs this in its place (1)")
        self.as_typed.setText(f"2  {slip.anyway or f'{slip.typed}{unit}, as typed'}")
        self.as_typed.setToolTip("Logs what stands there (2)")
        self.likely.setVisible(bool(slip.likely))
        self.as_typed.show()
        self.keep.hide()
        if slip.field in self.faults:
            self._mark(slip.field, bad=True)
        # Neither is pressed by whoever types on: the keyboard is on the card itself until one is chosen.
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFocus()
        self.grown.emit()

    def _no_question(self) -> None:
        self._slip = None
        self.likely.hide()
        self.as_typed.hide()
        self.keep.show()

    def _chosen(self) -> None:
        """Enter is the button it stands on, and no answer where it stands on none."""
        for button in (self.likely, self.as_typed):
            if button.hasFocus():
                button.click()

    def _answer(self, key: str) -> None:
        slip = self._slip
        if slip is None or (key == "1" and not slip.likely):
            return
        if key == "1":
            box = self.inputs[slip.field]
            if isinstance(box, QLineEdit):
                box.setText(slip.likely)
        self.submit(sure=True)

    def submit(self, *, sure: bool = False) -> None:
        """Try to log; a fault is told beside its field and nothing is logged. sure: what was asked about it has been
        answered."""
        if self._submit is None:
            return
        self._no_question()
        for name, label in self.faults.items():
            label.setText("")
            self._mark(name, bad=False)
        self.fault.setText("")
        try:
            self._submit(self.typed() | ({SURE: "yes"} if sure else {}))
        except DoubtError as error:
            self.question(error.slip)
            return
        except InputError as error:
            field = error.path.split(".")[-1].split("[")[0]
            if field in self.faults:
                self.faults[field].setText(fault(error, self._units()))
                self._mark(field, bad=True)
                self.inputs[field].setFocus()
            else:
                self.fault.setText(whole_fault(error, self._units()))
            self.grown.emit()
            return
        self.hide()

    def _mark(self, name: str, *, bad: bool) -> None:
        box = self.inputs[name]
        if bool(box.property("bad")) != bad:
            box.setProperty("bad", bad)
            style = box.style()
            if style is not None:
                style.unpolish(box)
                style.polish(box)

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.closed.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
        elif self._slip is not None and event.text() in ("1", "2"):
            self._answer(event.text())
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.leave.hasFocus():
                self.hide()
            elif self._slip is not None:
                self._chosen()
            else:
                self.submit()
        else:
            super().keyPressEvent(event)
