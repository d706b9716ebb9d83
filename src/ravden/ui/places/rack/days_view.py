"""The days ahead: who wants hands when, as a list by day; a line leads to where the work is done, or is put off, given
away, held."""

from PyQt6.QtCore import QEvent, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QHeaderView, QPushButton, QVBoxLayout
from PyQt6.QtWidgets import QWidget as Widget

from ravden.ui.places.rack.answer import Answer
from ravden.ui.places.rack.days import DayRow, DaysShown
from ravden.ui.theme.style import current
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.rows_model import RowsModel
from ravden.ui.widgets.rows_table import rows_table
from ravden.ui.widgets.tips import plain_tip

COLUMNS = ("From", "On", "What", "Hands", "Whose")
WIDTHS = (96, 210, 420, 110, 110)
WHAT, WHOSE = 2, 4  # the column that takes what room there is, and that of names
ROW_H = 32
SPANS = (("today", "Today"), ("tomorrow", "Tomorrow"), ("week", "Seven days"))
# Each act with its key, what its button says, and what it does in a line.
ACTS = (
    (
        "start",
        Qt.Key.Key_Return,
        "Start  (Enter)",
        "The place its work is done from; the Booth with this session in it",
    ),
    ("later", Qt.Key.Key_L, "Later  (L)", "Not before the day after: what follows it is planned anew"),
    ("else", Qt.Key.Key_S, "Somebody else  (S)", "Whoever else may do it"),
    ("done", Qt.Key.Key_D, "Done already  (D)", "Log it, at the time it was planned for"),
    ("pin", Qt.Key.Key_P, "Pin it here  (P)", "Held at this time and by these hands, until you let it go"),
    ("unpin", Qt.Key.Key_Delete, "Let it go  (Del)", "No longer pinned"),
    ("why", Qt.Key.Key_W, "Why then?  (W)", "What its instrument waits for, back from its end"),
    ("ready", Qt.Key.Key_R, "Ready by …?  (R)", "Whether it can be promised, and who would pay"),
)
OF_STEP = ("later", "else", "done", "pin")
OF_LINE = ("why", "ready")


class DaysModel(RowsModel):
    """Lines of DayRow."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(COLUMNS, parent)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row: DayRow = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return row.heading if row.heading and index.column() == 0 else row.cells[index.column()]
        if role == Qt.ItemDataRole.FontRole and row.heading:
            bold = QFont()
            bold.setBold(True)
            return bold
        if role == Qt.ItemDataRole.ForegroundRole and row.tone == "warn":
            return QColor(current().warn)
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
    """Shows a DaysShown. asked: an act and the line it is for; turned: to other days; kept, printed: of the plan."""

    asked = pyqtSignal(str, object)
    turned = pyqtSignal()
    kept = pyqtSignal()
    printed = pyqtSignal()

    def __init__(self, parent: Widget | None = None) -> None:
        super().__init__(parent)
        self.told = Label()
        self.told.setObjectName("muted")
        self.told.setWordWrap(True)
        self.model = DaysModel(self)
        self.list = rows_table(self.model, "The work of the days ahead", WIDTHS, ROW_H)
        if (head := self.list.horizontalHeader()) is not None:
            head.setSectionResizeMode(WHAT, QHeaderView.ResizeMode.Stretch)
        if (chosen := self.list.selectionModel()) is not None:
            chosen.currentRowChanged.connect(lambda *_: self._offer())
        self.list.doubleClicked.connect(lambda _: self._ask("start"))
        self.list.installEventFilter(self)
        top, self.spans = QHBoxLayout(), QButtonGroup(self)
        for at, (key, label) in enumerate(SPANS):
            button = QPushButton(label)
            button.setObjectName("quiet")
            button.setCheckable(True)
            button.setChecked(key == "week")
            self.spans.addButton(button, at)
            top.addWidget(button)
        self.spans.idToggled.connect(lambda _, on: self.turned.emit() if on else None)
        self.keep, self.sheet = QPushButton("Keep this plan  (K)"), QPushButton("Print …")
        self.keep.clicked.connect(self.kept)
        self.sheet.setObjectName("quiet")
        self.sheet.setToolTip("These days as a PDF to hang up, a page for everybody's hands")
        self.sheet.clicked.connect(self.printed)
        top.addStretch(1)
        top.addWidget(self.sheet)
        top.addWidget(self.keep)
        self.buttons: dict[str, QPushButton] = {}
        foot = QHBoxLayout()
        for name, _, label, tip in ACTS:
            button = QPushButton(label)
            button.setToolTip(tip)
            button.setObjectName("main" if name == "start" else "quiet")
            button.clicked.connect(lambda _=False, n=name: self._ask(n))
            foot.addWidget(button)
            self.buttons[name] = button
        self.go = self.buttons["start"]
        foot.addStretch(1)
        self.answer = Answer()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(top)
        box.addWidget(self.list, 1)
        box.addWidget(self.answer)
        box.addLayout(foot)
        box.addWidget(self.told)
        self.answer.hide()

    @property
    def span(self) -> str:
        """Which days: today, tomorrow or week."""
        return SPANS[max(self.spans.checkedId(), 0)][0]

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Keys of these acts are the list's, before the window takes them for acts of its own."""
        if watched is self.list and isinstance(event, QKeyEvent):
            name = self._of_key(event)
            if name and event.type() == QEvent.Type.ShortcutOverride:
                event.accept()
                return True
            if name and event.type() == QEvent.Type.KeyPress:
                self._ask(name)
                return True
        return super().eventFilter(watched, event)

    def _of_key(self, event: QKeyEvent) -> str:
        if event.modifiers() not in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier):
            return ""
        if event.key() == Qt.Key.Key_K:
            return "keep"
        key = Qt.Key.Key_Return if event.key() == Qt.Key.Key_Enter else event.key()
        return next((name for name, own, _, _ in ACTS if own == key), "")

    def show_days(self, shown: DaysShown) -> None:
        """Show these days; the line turned to stays, where it is still there."""
        was = self.row()
        if shown.rows != self.model.rows:
            self.list.clearSpans()
            self.model.show_rows(shown.rows)
            for at, row in enumerate(shown.rows):
                if row.heading:
                    self.list.setSpan(at, 0, 1, len(COLUMNS))
                elif row.doing is None and not any(row.cells[WHAT + 1 :]):
                    self.list.setSpan(at, WHAT, 1, len(COLUMNS) - WHAT)  # a sentence, and nobody's hands
            lines = [at for at, row in enumerate(shown.rows) if row.where]
            same = [at for at in lines if was is not None and _alike(shown.rows[at], was)]
            if lines:
                self.list.selectRow((same or lines)[0])
        self.list.setColumnHidden(WHOSE, not shown.named)
        self.list.setVisible(bool(shown.rows))
        self.told.setText(shown.told)
        self.told.setVisible(self.answer.isHidden())  # where an answer needs the room
        self.keep.setText("Let it follow along  (K)" if shown.kept else "Keep this plan  (K)")
        self.keep.setVisible(shown.tells)
        self.sheet.setVisible(bool(shown.rows))
        self.buttons["else"].setVisible(shown.named)
        self._offer()

    def row(self) -> DayRow | None:
        """The line turned to."""
        at = self.list.currentIndex().row()
        return self.model.rows[at] if 0 <= at < len(self.model.rows) else None

    def _offer(self) -> None:
        row = self.row()
        doing = None if row is None else row.doing
        for name, button in self.buttons.items():
            if name == "start":
                on = row is not None and row.where != ""
            elif name in OF_LINE:
                on = row is not None and row.instrument != ""
            else:
                on = doing is not None and doing.kind not in ("gun", "case")
            button.setEnabled(on)
        pinned = doing is not None and doing.pinned
        self.buttons["pin"].setVisible(not pinned)
        self.buttons["unpin"].setVisible(pinned)
        self.go.setVisible(bool(self.model.rows))

    def _ask(self, name: str) -> None:
        if name == "keep":
            self.kept.emit()
            return
        row, button = self.row(), self.buttons[name]
        if row is not None and button.isEnabled() and not button.isHidden():
            self.asked.emit(name, row)


def _alike(one: DayRow, other: DayRow) -> bool:
    """Whether a line is the one before, as it is now."""
    if one.doing is None or other.doing is None:
        return one.instrument == other.instrument and one.doing is other.doing
    return (one.instrument, one.doing.what, one.doing.step) == (other.instrument, other.doing.what, other.doing.step)
