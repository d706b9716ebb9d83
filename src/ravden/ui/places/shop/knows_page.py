"""What this shop knows: every learnt figure, and what the one turned to rests on."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QVBoxLayout, QWidget

from ravden.app.learnt_here import Figure, about
from ravden.ui.theme import style
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.rows_model import RowsModel
from ravden.ui.widgets.rows_table import rows_table
from ravden.ui.widgets.scrolled import scrolled
from ravden.ui.widgets.tips import plain_tip

COLUMNS = ("", "Figure", "Usual", "Here", "From", "How sure", "Since")
WIDTHS = (64, 252, 58, 118, 96, 80, 80)
ROW_H, LEAST_W = 30, 620
EMPTY = (
    "Nothing has been learnt yet. It comes from what you log anyway: gauge readings, texture told before levelling, "
    "minutes of a paper, told or timed in the Booth, and sessions from begin to end."
)
WORKING = "Reading what was found so far …"


class KnowsModel(RowsModel):
    """Lines of Figure; the group is named once."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(COLUMNS, parent)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row: Figure = self.rows[index.row()]
        before = index.row() == 0 or self.rows[index.row() - 1].group != row.group
        sure = "frozen" if row.frozen else row.sure
        cells = (row.group if before else "", row.name, row.usual, row.here, row.rests_on, sure, row.since)
        if role == Qt.ItemDataRole.DisplayRole:
            return cells[index.column()]
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(cells[index.column()])
        if role == Qt.ItemDataRole.ForegroundRole and index.column() in (0, 2):
            return QColor(style.current().muted)
        return ", ".join(c for c in cells if c) if role == Qt.ItemDataRole.AccessibleTextRole else None


class KnowsPage(QWidget):
    """Shows figures and one of them. asked: freeze or back."""

    asked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.model = KnowsModel(self)
        self.list = rows_table(self.model, "What this shop knows", WIDTHS, ROW_H)
        if (head := self.list.horizontalHeader()) is not None:
            head.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        fit(self.list, lambda t: t.setMinimumWidth(px(LEAST_W)))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        if (chosen := self.list.selectionModel()) is not None:
            chosen.currentRowChanged.connect(lambda index: self._show(index))
        self.told = Label(WORKING)
        self.told.setObjectName("muted")
        self.told.setWordWrap(True)
        left, box = panel()
        box.addWidget(self.told)
        box.addWidget(self.list, 1)
        right, beside = panel()
        fit(right, lambda w: w.setFixedWidth(px(270)))
        self.name, self.facts, self.heading = Label(), Label(), Label("What was found")
        for label in (self.name, self.facts):
            label.setWordWrap(True)
        self.name.setObjectName("heading")
        self.facts.setObjectName("muted")
        self.heading.setObjectName("strong")
        self.evidence = Label()
        self.evidence.setWordWrap(True)
        self.evidence.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.evidence.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        area, column = scrolled()
        column.addWidget(self.evidence)
        column.addStretch(1)
        for widget in (self.name, self.facts, self.heading):
            beside.addWidget(widget)
        beside.addWidget(area, 1)
        self.freeze, self.back = QPushButton("Freeze"), QPushButton("Set back")
        self.freeze.setToolTip("It stays as it is now, whatever is logged")
        self.back.setToolTip("Back to what is usual: only what is logged from now on counts")
        self.freeze.clicked.connect(lambda: self.asked.emit("freeze"))
        self.back.clicked.connect(lambda: self.asked.emit("back"))
        keys = QHBoxLayout()
        keys.addWidget(self.freeze)
        keys.addWidget(self.back)
        beside.addLayout(keys)
        row = QHBoxLayout()
        row.setContentsMargins(0, 4, 0, 0)
        row.setSpacing(12)
        row.addWidget(left, 1)
        row.addWidget(right)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addLayout(row)
        self.at = ""
        self._fill(None)

    @property
    def figure(self) -> Figure | None:
        """The one turned to."""
        return next((f for f in self.model.rows if f.key == self.at), None)

    def show_figures(self, rows: tuple[Figure, ...]) -> None:
        """Show these; the one turned to stays so while it is among them."""
        self.told.setText(EMPTY if not rows else "What plans here go by, and where it differs from what is usual.")
        self.list.setVisible(bool(rows))
        if rows == self.model.rows:
            return
        at = self.at
        self.model.show_rows(rows)
        line = next((i for i, r in enumerate(rows) if r.key == at), 0 if rows else -1)
        self.at = ""
        if line >= 0:
            self.pick(line)
        else:
            self._fill(None)

    def pick(self, line: int) -> None:
        """Turn to a line of the list."""
        if (chosen := self.list.selectionModel()) is not None:
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            chosen.setCurrentIndex(self.model.index(line, 0), flags)

    def _show(self, index: QModelIndex) -> None:
        if index.isValid():
            self.at = self.model.rows[index.row()].key
            self._fill(self.figure)

    def _fill(self, figure: Figure | None) -> None:
        self.name.setText("" if figure is None else figure.name)
        self.facts.setText("" if figure is None else " ".join(about(figure)))
        self.evidence.setText("" if figure is None else "\n".join(figure.evidence))
        self.heading.setVisible(figure is not None and bool(figure.evidence))
        self.freeze.setText("Go on learning" if figure is not None and figure.frozen else "Freeze")
        for button in (self.freeze, self.back):
            button.setEnabled(figure is not None)
