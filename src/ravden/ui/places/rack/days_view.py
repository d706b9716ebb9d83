"""The days ahead: who wants hands when, as a list by day; a line leads to where the work is done."""

from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeySequence, QShortcut
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QLabel, QPushButton, QVBoxLayout
from PyQt6.QtWidgets import QWidget as Widget

from ravden.ui.places.rack.days import DayRow, DaysShown
from ravden.ui.widgets.rows_model import RowsModel
from ravden.ui.widgets.rows_table import rows_table
from ravden.ui.widgets.tips import plain_tip

COLUMNS = ("From", "On", "What", "Hands")
WIDTHS = (96, 210, 420, 120)
WHAT = 2  # the column that takes what room there is
ROW_H = 32


class DaysModel(RowsModel):
    """Lines of DayRow."""

    def __init__(self) -> None:
        super().__init__(COLUMNS)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row: DayRow = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return row.heading if row.heading and index.column() == 0 else row.cells[index.column()]
        if role == Qt.ItemDataRole.FontRole and row.heading:
            bold = QFont()
            bold.setBold(True)
            return bold
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(row.heading or row.cells[index.column()])
        return (
            (row.heading or ", ".join(c for c in row.cells if c))
            if role == Qt.ItemDataRole.AccessibleTextRole
            else None
        )

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        heading = self.rows[index.row()].heading
        return Qt.ItemFlag.ItemIsEnabled if heading else Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable


class DaysView(Widget):
    """Shows a DaysShown. started: a line's instrument and the place its work is done from."""

    started = pyqtSignal(str, str)

    def __init__(self, parent: Widget | None = None) -> None:
        super().__init__(parent)
        self.told = QLabel()
        self.told.setObjectName("muted")
        self.told.setWordWrap(True)
        self.model = DaysModel()
        self.list = rows_table(self.model, "The work of the days ahead", WIDTHS, ROW_H)
        if (head := self.list.horizontalHeader()) is not None:
            head.setSectionResizeMode(WHAT, QHeaderView.ResizeMode.Stretch)
        if (chosen := self.list.selectionModel()) is not None:
            chosen.currentRowChanged.connect(lambda *_: self._offer())
        self.list.doubleClicked.connect(lambda _: self._start())
        self.go = QPushButton("Go to it  (Enter)")
        self.go.setToolTip("The instrument, and the place its work is done from")
        self.go.clicked.connect(self._start)
        for key in ("Return", "Enter"):
            shortcut = QShortcut(QKeySequence(key), self.list)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(self._start)
        foot = QHBoxLayout()
        foot.addWidget(self.told, 1)
        foot.addWidget(self.go, 0, Qt.AlignmentFlag.AlignTop)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addLayout(foot)

    def show_days(self, shown: DaysShown) -> None:
        """Show these days; the line turned to stays, where it is still there."""
        was = self._row()
        if shown.rows != self.model.rows:
            self.list.clearSpans()
            self.model.show_rows(shown.rows)
            for at, row in enumerate(shown.rows):
                if row.heading:
                    self.list.setSpan(at, 0, 1, len(COLUMNS))
            lines = [at for at, row in enumerate(shown.rows) if row.where]
            same = [at for at in lines if shown.rows[at] == was]
            if lines:
                self.list.selectRow((same or lines)[0])
        self.list.setVisible(bool(shown.rows))
        self.told.setText(shown.told)
        self._offer()

    def _row(self) -> DayRow | None:
        at = self.list.currentIndex().row()
        return self.model.rows[at] if 0 <= at < len(self.model.rows) else None

    def _offer(self) -> None:
        row = self._row()
        self.go.setEnabled(row is not None and row.where != "")
        self.go.setVisible(bool(self.model.rows))

    def _start(self) -> None:
        row = self._row()
        if row is not None and row.where:
            self.started.emit(row.instrument, row.where)
