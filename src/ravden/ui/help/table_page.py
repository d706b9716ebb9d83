"""What a place's pictures show, as tables: read by a screen reader, copied, or saved."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QFileDialog,
    QHeaderView,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from ravden.app import settings
from ravden.core.errors import InputError
from ravden.system.files import put_text
from ravden.text.tables import Table, as_csv
from ravden.ui.widgets.page import Page


class TablePage(Page):
    """One table at a time; says what became of a copy or a file."""

    told = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("As a table", parent)
        self._tables: tuple[Table, ...] = ()
        self.which = QComboBox()
        self.which.setAccessibleName("Which table")
        self.which.activated.connect(self._show)
        self.copy = QPushButton("Copy")
        self.save = QPushButton("Save as CSV …")
        self.copy.clicked.connect(self._copy)
        self.save.clicked.connect(self._ask_file)
        self.add_head(self.which, self.copy, self.save)
        self.table = QTableWidget()
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setWordWrap(True)
        down = self.table.verticalHeader()
        if down is not None:
            down.hide()
        self.box.addWidget(self.table, 1)

    def show_tables(self, tables: Sequence[Table]) -> None:
        """Show the first of these."""
        self._tables = tuple(tables)
        self.which.clear()
        for table in self._tables:
            self.which.addItem(table.title)
        self._show(0)
        self.table.setFocus()

    @property
    def shown(self) -> Table:
        """The one that is shown."""
        return self._tables[max(self.which.currentIndex(), 0)]

    def _show(self, _: int) -> None:
        table = self.shown
        self.table.setAccessibleName(table.title)
        self.table.clear()
        self.table.setColumnCount(len(table.columns))
        self.table.setRowCount(len(table.rows))
        self.table.setHorizontalHeaderLabels(table.columns)
        for i, row in enumerate(table.rows):
            for j, text in enumerate(row):
                self.table.setItem(i, j, QTableWidgetItem(text))
        across = self.table.horizontalHeader()
        if across is not None:
            across.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            across.setStretchLastSection(True)
        if table.rows:
            self.table.setCurrentCell(0, 0)

    def _copy(self) -> None:
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(as_csv(self.shown))
            self.told.emit(f"{self.shown.title}: copied, {len(self.shown.rows)} rows")

    def _ask_file(self) -> None:
        start = str(settings.data_folder() / "table.csv")
        name, _ = QFileDialog.getSaveFileName(self, "Save the table", start, "Tables (*.csv)")
        if name:
            try:
                self.write(Path(name))
            except InputError as error:
                self.told.emit(str(error))

    def write(self, path: Path) -> None:
        """Write the table shown. Raises InputError where the file cannot be written."""
        put_text(path, as_csv(self.shown))
        self.told.emit(f"Written to {path.name}")
