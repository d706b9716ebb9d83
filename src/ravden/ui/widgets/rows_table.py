"""A table of rows one chooses from: whole rows, one at a time, no grid."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.rows_model import RowsModel


def rows_table(model: RowsModel, name: str, widths: tuple[int, ...], row_h: int) -> QTableView:
    """name: told to who cannot see it; widths, row_h: at the usual size of type [px]."""
    table = QTableView()
    table.setModel(model)
    table.setAccessibleName(name)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    table.setShowGrid(False)
    table.setTabKeyNavigation(False)
    if (side := table.verticalHeader()) is not None:
        side.hide()
        side.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
    fit(table, lambda t: _rows_of(t, row_h))
    if (head := table.horizontalHeader()) is not None:
        head.setHighlightSections(False)
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        for i, width in enumerate(widths):
            head.resizeSection(i, px(width))
    return table


def _rows_of(table: QTableView, row_h: int) -> None:
    """The header is asked for anew: one that went with its table must not be touched."""
    if (side := table.verticalHeader()) is not None:
        side.setDefaultSectionSize(px(row_h))
