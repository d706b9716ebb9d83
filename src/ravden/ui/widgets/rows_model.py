"""Rows of plain data as a table model: a long table is drawn only where it is seen."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt


class RowsModel(QAbstractTableModel):
    """Rows under headings; what stands in a cell, ``data``, is for each table to say."""

    def __init__(self, columns: tuple[str, ...], parent: QObject) -> None:
        super().__init__(parent)
        self._columns = columns
        self.rows: tuple[Any, ...] = ()

    def show_rows(self, rows: tuple[Any, ...]) -> None:
        """Show these."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return len(self._columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self._columns[section]
        return None
