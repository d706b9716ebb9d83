"""The plan of one instrument: its steps in order, and the step picked as a form."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ravden.core.method.steps import STAGE_KINDS, Stage
from ravden.text.units import Units
from ravden.ui.places.methods.plan_model import PlanModel
from ravden.ui.places.methods.plan_presenter import PlanShown
from ravden.ui.places.methods.presenter import KIND
from ravden.ui.places.methods.step_form import StepForm
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.rows_table import rows_table
from ravden.ui.widgets.tone import set_tone

FORM_W = 400
WIDTHS, ROW_H = (26, 200, 150, 176), 27  # of the steps; what room there is goes to their names


class PlanView(QWidget):
    """Says which step is picked, and what is to be done with it."""

    picked = pyqtSignal(int)
    kept = pyqtSignal(int, object)
    insert_asked = pyqtSignal(int, str)
    drop_asked = pyqtSignal(int)
    move_asked = pyqtSignal(int, int)
    fit_asked = pyqtSignal()
    colour_asked = pyqtSignal(str)
    own_dropped = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = Label()
        self.title.setObjectName("heading")
        self.model = PlanModel(self)
        self.table = rows_table(self.model, "Steps of the plan", WIDTHS, ROW_H)
        self.table.setWordWrap(False)
        across = self.table.horizontalHeader()
        assert across is not None
        across.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        chosen = self.table.selectionModel()
        assert chosen is not None
        chosen.currentRowChanged.connect(self._current)
        self.fit_words = Label()
        self.fit_words.setWordWrap(True)
        self.fit = QPushButton("Fit the coats")
        self.fit.clicked.connect(self.fit_asked)
        fitting = QHBoxLayout()
        fitting.addWidget(self.fit_words, 1)
        fitting.addWidget(self.fit)
        self.new_kind = QComboBox()
        self.new_kind.setAccessibleName("Kind of the step to put in")
        for kind in STAGE_KINDS:
            self.new_kind.addItem(KIND[kind], kind)
        self.insert, self.drop = QPushButton("Put in after"), QPushButton("Leave out")
        self.up, self.down = QPushButton("Up"), QPushButton("Down")
        self.insert.clicked.connect(lambda: self.insert_asked.emit(self.row, self.new_kind.currentData()))
        self.drop.clicked.connect(lambda: self.drop_asked.emit(self.row))
        self.up.clicked.connect(lambda: self.move_asked.emit(self.row, -1))
        self.down.clicked.connect(lambda: self.move_asked.emit(self.row, 1))
        self.colour = QComboBox()
        self.colour.setAccessibleName("Colour the wood by another way")
        fit(self.colour, lambda w: w.setMaximumWidth(px(250)))
        self.colour.activated.connect(self._colour)
        self.own = QPushButton("The method's own steps again")
        self.own.clicked.connect(self.own_dropped)
        acts = QHBoxLayout()
        for widget in (self.new_kind, self.insert, self.drop, self.up, self.down):
            acts.addWidget(widget)
        acts.addStretch(1)
        more = QHBoxLayout()
        more.addWidget(self.colour)
        more.addStretch(1)
        more.addWidget(self.own)
        left_frame, left = panel()
        left.addWidget(self.title)
        left.addWidget(self.table, 1)
        left.addLayout(fitting)
        left.addLayout(acts)
        left.addLayout(more)
        self.form = StepForm()
        self.form.kept.connect(lambda stage: self.kept.emit(self.row, stage))
        self.consequence = Label()
        self.consequence.setObjectName("muted")
        self.consequence.setWordWrap(True)
        inner = QWidget()
        inside = QVBoxLayout(inner)
        inside.setContentsMargins(0, 0, 6, 0)
        inside.addWidget(self.form)
        inside.addWidget(self.consequence)
        inside.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inner)
        right_frame, right = panel()
        right.addWidget(scroll)
        fit(right_frame, lambda w: w.setFixedWidth(px(FORM_W)))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        row.addWidget(left_frame, 1)
        row.addWidget(right_frame)

    @property
    def row(self) -> int:
        """The step picked; -1: none."""
        at = self.table.currentIndex().row()
        return self.model.rows[at].index if 0 <= at < len(self.model.rows) else -1

    def pick(self, index: int) -> None:
        """Pick a step and bring it into sight."""
        at = self.model.index(self.model.line_of(index), 1)
        chosen = self.table.selectionModel()
        if not at.isValid() or chosen is None:
            return
        rows = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
        chosen.setCurrentIndex(at, rows)
        self.table.scrollTo(at)

    def _current(self, at: QModelIndex) -> None:
        self.picked.emit(self.model.rows[at.row()].index if at.isValid() else -1)

    def _colour(self) -> None:
        if self.colour.currentData():
            self.colour_asked.emit(self.colour.currentData())

    def show_plan(self, shown: PlanShown) -> None:
        """Show this; the step picked stays picked."""
        row = self.row
        self.title.setText(shown.title)
        self.model.show_rows(shown.rows)
        self.fit_words.setText(f"{shown.stuck} {shown.fit_words}".strip())
        set_tone(self.fit_words, "warn" if shown.stuck else "plain")
        self.fit.setVisible(bool(shown.fit_stage))
        self.own.setVisible(shown.own)
        if self.colour.count() != len(shown.modules) + 1:
            self.colour.clear()
            self.colour.addItem("Colour the wood …", "")
            for i, (module_id, label, about) in enumerate(shown.modules, start=1):
                self.colour.addItem(label, module_id)
                self.colour.setItemData(i, about, Qt.ItemDataRole.ToolTipRole)
        self.colour.setCurrentIndex(0)
        now = next((r.index for r in shown.rows if r.state == "now"), 0)
        self.pick(row if any(r.index == row for r in shown.rows) else now)

    def show_step(self, stage: Stage | None, consequence: str, units: Units) -> None:
        """Show the step picked."""
        self.form.show_step(stage, units)
        self.consequence.setText(consequence)
        for button in (self.drop, self.up, self.down):
            button.setEnabled(stage is not None)
