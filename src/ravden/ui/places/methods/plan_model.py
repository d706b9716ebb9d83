"""The steps of a plan as a table model: a long plan is drawn only where it is seen."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QObject, Qt
from PyQt6.QtGui import QColor, QFont

from ravden.ui.places.methods.plan_presenter import PlanRow
from ravden.ui.theme.style import current, font
from ravden.ui.widgets.rows_model import RowsModel
from ravden.ui.widgets.tips import plain_tip

COLUMNS = ("", "Step", "How much", "When")
STATES = {"done": "✓", "skipped": "–", "now": "▸", "ahead": ""}


class PlanModel(RowsModel):
    """Rows of PlanRow."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(COLUMNS, parent)

    def line_of(self, index: int) -> int:
        """The line of a step by its place in the plan; -1: there is none."""
        return next((i for i, r in enumerate(self.rows) if r.index == index and not r.within), -1)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row: PlanRow = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return (STATES[row.state], f"{row.kind}: {row.label}", row.amount, row.when)[index.column()]
        if role == Qt.ItemDataRole.ForegroundRole and row.state in ("done", "skipped"):
            return QColor(current().muted)
        if role == Qt.ItemDataRole.FontRole and row.state == "now":
            bold: QFont = font(bold=True)
            return bold
        said = f"{row.index + 1}. {row.label}, {row.state}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(said)
        return said if role == Qt.ItemDataRole.AccessibleTextRole else None
