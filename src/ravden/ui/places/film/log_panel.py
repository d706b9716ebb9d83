"""The journal of one instrument, newest first: what each entry did to the film, and putting it right."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ravden.ui.places.film.advice import EntryRow
from ravden.ui.widgets.label import Label


class LogPanel(QWidget):
    """Says which entry is to be corrected or taken back."""

    correct_asked = pyqtSignal(int)
    back_asked = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: tuple[EntryRow, ...] = ()
        self.note = Label()
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setSpacing(2)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setAccessibleName("Entries, newest first")
        self.list.itemActivated.connect(lambda _: self._ask(self.correct_asked))
        self.list.currentRowChanged.connect(self._offer)
        self.correct = QPushButton("Correct …")
        self.correct.setToolTip("Put something else in its place; the record keeps both (Enter)")
        self.correct.clicked.connect(lambda: self._ask(self.correct_asked))
        self.back = QPushButton("Take back")
        self.back.setToolTip("It no longer counts; the record keeps it (Delete)")
        self.back.clicked.connect(lambda: self._ask(self.back_asked))
        foot = QHBoxLayout()
        foot.addWidget(self.correct, 1)
        foot.addWidget(self.back, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        box.addWidget(self.note)
        box.addWidget(self.list, 1)
        box.addLayout(foot)
        self._offer()

    def show_entries(self, rows: tuple[EntryRow, ...], zone_label: str) -> None:
        """Show these; the entry chosen stays chosen."""
        chosen = self.chosen
        self.note.setText(
            f"What each entry did to the film of the {zone_label.lower()}: its change, the film then, and how well "
            "that was known, before → after."
            if rows
            else "Nothing logged yet: the first coat begins the record."
        )
        self._fill(rows, chosen)

    def show_bare(self, rows: tuple[EntryRow, ...], entry: int) -> None:
        """The entries alone, with what any of them did to no film; the one to blame is chosen."""
        self.note.setText("What was logged, newest first. It is kept, whatever can be worked out from it.")
        self._fill(rows, entry or self.chosen)

    def _fill(self, rows: tuple[EntryRow, ...], chosen: int | None) -> None:
        if rows == self._rows:
            return
        self._rows = rows
        self.list.blockSignals(True)
        self.list.clear()
        for row in rows:
            text = "\n".join(
                (row.what, *([row.did] if row.did else ()), *([f"Check it: {row.doubt}."] if row.doubt else ()))
            )
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, row.id)
            self.list.addItem(item)
            if row.id == chosen:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        self._offer()

    @property
    def chosen(self) -> int | None:
        """The entry chosen, by number."""
        item = self.list.currentItem()
        return None if item is None else int(item.data(Qt.ItemDataRole.UserRole))

    def _offer(self) -> None:
        for button in (self.correct, self.back):
            button.setEnabled(self.chosen is not None)

    def _ask(self, signal: object) -> None:
        if self.chosen is not None:
            signal.emit(self.chosen)  # type: ignore[attr-defined]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Delete:
            self._ask(self.back_asked)
        else:
            super().keyPressEvent(event)
