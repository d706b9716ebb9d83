"""The shelf: products, the cans of the one turned to, and what to buy."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QWidget

from ravden.ui.places.shop.stock_presenter import DetailShown, ProductRow, StockShown
from ravden.ui.theme import style
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.row_button import RowButton
from ravden.ui.widgets.rows_model import RowsModel
from ravden.ui.widgets.rows_table import rows_table
from ravden.ui.widgets.scrolled import scrolled
from ravden.ui.widgets.tips import plain_tip

COLUMNS = ("Product", "Left", "Age", "For what is planned")
WIDTHS = (136, 100, 112, 150)
ROW_H = 32
EMPTY = "Nothing is on the shelf yet. Tell of a product you buy, then of its cans: what coats take is drawn from them."


class StockModel(RowsModel):
    """Lines of ProductRow."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(COLUMNS, parent)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row: ProductRow = self.rows[index.row()]
        cells = (row.name, row.left, row.age, row.reach)
        if role == Qt.ItemDataRole.DisplayRole:
            return cells[index.column()]
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(cells[index.column()])
        if role == Qt.ItemDataRole.ForegroundRole and index.column() in row.bad:
            return QColor(style.current().warn)
        return ", ".join(c for c in cells if c) if role == Qt.ItemDataRole.AccessibleTextRole else None


class StockPage(QWidget):
    """Shows a StockShown and one DetailShown. asked: product, edit, bought, opened, weighed, gone, taken, dropped,
    list, read or write."""

    asked = pyqtSignal(str)
    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.buttons: dict[str, QPushButton] = {}
        self.model = StockModel(self)
        self.list = rows_table(self.model, "Products on the shelf", WIDTHS, ROW_H)
        if (head := self.list.horizontalHeader()) is not None:
            head.setStretchLastSection(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        if (chosen := self.list.selectionModel()) is not None:
            chosen.currentRowChanged.connect(self._current)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setObjectName("fault")
        self.empty = Label(EMPTY)
        self.empty.setObjectName("muted")
        self.empty.setWordWrap(True)
        self.buy_heading = Label("To buy")
        self.buy_heading.setObjectName("heading")
        self.buy = Label()
        self.buy.setWordWrap(True)
        self.buy.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        left, box = panel()
        box.addWidget(self.told)
        box.addWidget(self.empty)
        box.addWidget(self.list, 1)
        box.addWidget(self.buy_heading)
        box.addWidget(self.buy)
        box.addLayout(self._keys((("product", "A product …"), ("read", "From a file …"), ("write", "To a file …"),
                                  ("list", "Save what to buy …"), ("hour", "An hour costs …"))))  # fmt: skip
        right, beside = panel()
        self.name, self.facts = Label(), Label()
        self.name.setObjectName("heading")
        self.facts.setWordWrap(True)
        self.facts.setObjectName("muted")
        area, self._column = scrolled()
        self._column.setSpacing(4)
        self._column.addStretch(1)
        beside.addWidget(self.name)
        beside.addWidget(self.facts)
        beside.addWidget(area, 1)
        beside.addLayout(
            self._keys((("bought", "A can was bought …"), ("edit", "Change …"), ("dropped", "No longer bought")))
        )
        beside.addLayout(self._keys((("opened", "Opened"), ("weighed", "Weigh it …"), ("taken", "Use this one"),
                                     ("gone", "Empty or thrown away …"))))  # fmt: skip
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 4, 0, 0)
        row.setSpacing(12)
        row.addWidget(left, 7)
        row.addWidget(right, 4)
        self._group = QButtonGroup(self)
        self.cans: dict[int, RowButton] = {}
        self.at, self.lot = "", 0
        self._shown: DetailShown | None = None
        self._offer()

    def _keys(self, keys: tuple[tuple[str, str], ...]) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        for name, text in keys:
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, n=name: self.asked.emit(n))
            row.addWidget(button)
            self.buttons[name] = button
        row.addStretch(1)
        return row

    def show_stock(self, shown: StockShown) -> None:
        """Show these; the one turned to stays so while it is among them."""
        self.told.setText("\n".join(shown.told))
        self.told.setVisible(bool(shown.told))
        self.empty.setVisible(not shown.rows)
        self.list.setVisible(bool(shown.rows))
        self.buy.setText("\n".join(shown.to_buy) or "Nothing: what is here is enough for all that is planned.")
        for part in (self.buy, self.buy_heading):
            part.setVisible(bool(shown.rows or shown.to_buy))
        self.buttons["list"].setEnabled(bool(shown.to_buy))
        self.buttons["write"].setEnabled(bool(shown.rows))
        if shown.rows != self.model.rows:
            at = self.at
            self.model.show_rows(shown.rows)
            line = next((i for i, r in enumerate(shown.rows) if r.id == at), 0 if shown.rows else -1)
            if line >= 0:
                self.pick(line)
            else:
                self.at = ""
        self._offer()

    def pick(self, line: int) -> None:
        """Turn to a line of the list."""
        if (chosen := self.list.selectionModel()) is not None:
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            chosen.setCurrentIndex(self.model.index(line, 0), flags)

    def show_detail(self, shown: DetailShown | None) -> None:
        """The product turned to; the can turned to stays so while it is there."""
        if shown == self._shown:
            return
        self._shown = shown
        self.name.setText(shown.name if shown is not None else "")
        self.facts.setText("\n".join(shown.facts) if shown is not None else "")
        for button in self.cans.values():
            self._group.removeButton(button)
            self._column.removeWidget(button)
            button.setParent(None)
            button.deleteLater()
        self.cans = {}
        for i, can in enumerate(shown.cans if shown is not None else ()):
            button = RowButton()
            button.setText(can.text)
            button.clicked.connect(lambda _=False, n=can.lot: self.turn(n))
            self._group.addButton(button)
            self._column.insertWidget(i, button)
            self.cans[can.lot] = button
        self.turn(self.lot if self.lot in self.cans else next(iter(self.cans), 0))

    def turn(self, lot: int) -> None:
        """Turn to a can."""
        self.lot = lot
        if lot in self.cans:
            self.cans[lot].setChecked(True)
        self._offer()

    def _offer(self) -> None:
        shown = self._shown
        can = next((c for c in shown.cans if c.lot == self.lot), None) if shown is not None else None
        for name in ("bought", "edit", "dropped"):
            self.buttons[name].setEnabled(shown is not None)
        for name in ("weighed", "gone"):
            self.buttons[name].setEnabled(can is not None)
        self.buttons["opened"].setEnabled(can is not None and can.sealed)
        self.buttons["taken"].setVisible(shown is not None and bool(shown.choose))

    def _current(self, index: QModelIndex) -> None:
        if index.isValid() and self.model.rows[index.row()].id != self.at:
            self.at = self.model.rows[index.row()].id
            self.picked.emit(self.at)
