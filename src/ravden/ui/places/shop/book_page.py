"""The Book: instruments handed over, found by typing, each with its record."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTextBrowser,
    QWidget,
)

from ravden.ui.places.shop.book_presenter import BookRow, BookShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.rows_model import RowsModel
from ravden.ui.widgets.rows_table import rows_table
from ravden.ui.widgets.tips import plain_tip

COLUMNS = ("Handed over", "Name", "Kind", "Finish", "To")
WIDTHS = (98, 84, 120, 150, 84)
ROW_H = 30
HINT = "<p>Turn to an instrument to read its record.</p>"


class BookModel(RowsModel):
    """Lines of BookRow."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(COLUMNS, parent)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row: BookRow = self.rows[index.row()]
        cells = (row.handed, row.name, row.kind, row.finish, row.to)
        if role == Qt.ItemDataRole.DisplayRole:
            return cells[index.column()]
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(cells[index.column()])
        return ", ".join(c for c in cells if c) if role == Qt.ItemDataRole.AccessibleTextRole else None


class Search(QLineEdit):
    """What is typed; an arrow down goes on in the list."""

    left = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.left.emit()
        elif event is not None and event.key() == Qt.Key.Key_Escape and self.text():
            self.clear()
        else:
            super().keyPressEvent(event)


class BookPage(QWidget):
    """Shows a BookShown, and the record of the one turned to."""

    typed = pyqtSignal(str)
    picked = pyqtSignal(str)
    back_asked = pyqtSignal(str)
    wrong_asked = pyqtSignal(str)
    record_asked = pyqtSignal(str)
    forget_asked = pyqtSignal(str)
    again_asked = pyqtSignal(str)
    card_asked = pyqtSignal(str)
    look_asked = pyqtSignal(str)
    looks_asked = pyqtSignal()
    compare_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.search = Search()
        self.search.setPlaceholderText("Name, kind, finish, year, or who has it")
        self.search.setAccessibleName("Find in the Book")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self.typed)
        self.search.left.connect(self._into_list)
        self.told = Label()
        self.told.setObjectName("muted")
        self.told.setWordWrap(True)
        self.model = BookModel(self)
        self.list = rows_table(self.model, "Instruments in the Book", WIDTHS, ROW_H)
        if (head := self.list.horizontalHeader()) is not None:
            head.setStretchLastSection(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        if (chosen := self.list.selectionModel()) is not None:
            chosen.currentRowChanged.connect(self._current)
        self.due = Label()
        self.due.setWordWrap(True)
        left, box = panel()
        box.addWidget(self.search)
        box.addWidget(self.told)
        box.addWidget(self.due)
        box.addWidget(self.list, 1)
        self.record = QTextBrowser()
        self.record.setAccessibleName("The record of the instrument")
        if (text := self.record.document()) is not None:
            text.setDefaultStyleSheet(".title { font-size: 17px; font-weight: bold; }")
        self.back, self.pdf = QPushButton("Bring back"), QPushButton("Finish record …")
        self.pdf.setToolTip("What is on it, how thick, and its care, as PDF")
        self.back.setToolTip("To the rack, with all that is known of it, as for a repair")
        self.back.clicked.connect(lambda: self.back_asked.emit(self.at))
        self.pdf.clicked.connect(lambda: self.record_asked.emit(self.at))
        self.record.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.wrong = QPushButton("It came back …")
        self.wrong.setToolTip("Something is wrong with it: back to the rack, and to the page of what went wrong")
        self.wrong.clicked.connect(lambda: self.wrong_asked.emit(self.at))
        self.forget = QPushButton("Forget who …")
        self.forget.setToolTip("Who has it: takes the name out of the file and its copies for good")
        self.forget.clicked.connect(lambda: self.forget_asked.emit(self.at))
        self.again = QPushButton("As last time …")
        self.again.setToolTip("A new instrument with its kind, measures, method and steps")
        self.again.clicked.connect(lambda: self.again_asked.emit(self.at))
        self.card = QPushButton("Care card …")
        self.card.setToolTip("For its player, in large plain words, as PDF")
        self.card.clicked.connect(lambda: self.card_asked.emit(self.at))
        self.look = QPushButton("A look at it …")
        self.look.setToolTip("What it looks like months later: it teaches how much its finish sinks, and how it dries")
        self.look.clicked.connect(lambda: self.look_asked.emit(self.at))
        self.looks = QPushButton("Looks to come …")
        self.looks.setToolTip("Three and twelve months after each was handed over, as a calendar file")
        self.looks.clicked.connect(self.looks_asked)
        self.compare = QPushButton("Compare …")
        self.compare.setToolTip("Then turn to the other one")
        self.compare.clicked.connect(self.compare_asked)
        self.named = QCheckBox("With the name of who has it on the finish record")
        buttons = QGridLayout()
        every = (
            self.pdf, self.card, self.again, self.look, self.looks, self.compare, self.back, self.wrong, self.forget,
        )  # fmt: skip
        for n, button in enumerate(every):
            buttons.addWidget(button, n // 3, n % 3)
        right, beside = panel()
        beside.addWidget(self.record, 1)
        beside.addWidget(self.named)
        beside.addLayout(buttons)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        row.addWidget(left, 5)
        row.addWidget(right, 4)
        self.at = ""
        self._offer()

    def show_book(self, shown: BookShown) -> None:
        """Show these; the one turned to stays so while it is among them."""
        self.told.setText(shown.told)
        self.due.setText(shown.due)
        self.due.setVisible(bool(shown.due))
        if shown.rows != self.model.rows:
            at = self.at
            self.model.show_rows(shown.rows)
            line = next((i for i, r in enumerate(shown.rows) if r.id == at), -1)
            if line >= 0:
                self.pick(line)
            else:
                self.at = ""
                self.record.setHtml(HINT if shown.rows else "")
                self.picked.emit("")
        self.list.setVisible(bool(shown.rows))
        self._offer()

    def show_record(self, html: str) -> None:
        """The record of the one turned to."""
        self.record.setHtml(html)

    def _offer(self) -> None:
        for button in (self.back, self.pdf, self.wrong, self.again, self.card, self.look, self.named):
            button.setEnabled(bool(self.at))
        self.compare.setEnabled(bool(self.at) and len(self.model.rows) > 1)
        self.looks.setEnabled(bool(self.model.rows))
        self.forget.setEnabled(any(r.id == self.at and r.to for r in self.model.rows))

    def pick(self, line: int) -> None:
        """Turn to a line of the list."""
        if (chosen := self.list.selectionModel()) is not None:
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            chosen.setCurrentIndex(self.model.index(line, 0), flags)

    def _into_list(self) -> None:
        if self.model.rows:
            self.list.setFocus()
            self.pick(max(self.list.currentIndex().row(), 0))

    def _current(self, index: QModelIndex) -> None:
        if index.isValid() and self.model.rows[index.row()].id != self.at:
            self.at = self.model.rows[index.row()].id
            self._offer()
            self.picked.emit(self.at)
