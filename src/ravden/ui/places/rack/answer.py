"""An answer under the days ahead: why then, ready by when, two ways; left with Esc."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ravden.ui.places.rack.answers import AnswerShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel

MOST_WAYS = 2


class Answer(QWidget):
    """Shows an AnswerShown. typed: a day asked for; taken: a way, by number; done: what the button beside it
    does; left: it is left."""

    typed = pyqtSignal(str)
    taken = pyqtSignal(int)
    left = pyqtSignal()
    done = pyqtSignal(bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._of = ""  # what is answered
        frame, box = panel()
        self.heading, self.lines = Label(), Label()
        self.heading.setObjectName("heading")
        self.lines.setWordWrap(True)
        self.day = QLineEdit()
        self.day.setAccessibleName("The day it would be promised for")
        self.day.returnPressed.connect(lambda: self.typed.emit(self.day.text()))
        self.leave = QPushButton("Leave it  (Esc)")
        self.leave.setObjectName("quiet")
        self.leave.clicked.connect(self.left)
        top = QHBoxLayout()
        top.addWidget(self.heading, 1)
        self.does = QPushButton()
        self.does.clicked.connect(lambda: self.done.emit(self.firm.isChecked()))
        self.firm = QCheckBox("firm")
        self.firm.setToolTip("It has to be met: others give way to it, and what clashes with it is named")
        top.addWidget(self.day)
        top.addWidget(self.firm)
        top.addWidget(self.does)
        top.addWidget(self.leave)
        box.addLayout(top)
        self.lines.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        box.addWidget(self.lines)
        ways = QHBoxLayout()
        ways.setSpacing(12)
        self.ways: list[tuple[QWidget, QLabel, QLabel, QPushButton]] = []
        for n in range(MOST_WAYS):
            part, inner = panel()
            said, told, take = Label(), Label(), QPushButton("Take this one")
            said.setObjectName("heading")
            told.setWordWrap(True)
            told.setAlignment(Qt.AlignmentFlag.AlignTop)
            take.clicked.connect(lambda _=False, at=n: self.taken.emit(at))
            for widget in (said, told):
                inner.addWidget(widget)
            inner.addStretch(1)
            inner.addWidget(take, 0, Qt.AlignmentFlag.AlignLeft)
            ways.addWidget(part, 1)
            self.ways.append((part, said, told, take))
        box.addLayout(ways)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)  # the list has the room
        escape = QShortcut(QKeySequence("Esc"), self)
        escape.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        escape.activated.connect(self.left)

    def show_answer(self, shown: AnswerShown | None) -> None:
        """Show this; None: nothing was asked."""
        self.setVisible(shown is not None)
        if shown is None:
            self._of = ""
            return
        self.heading.setText(shown.heading)
        self.lines.setText("\n".join(shown.lines))
        self.lines.setVisible(bool(shown.lines))
        self.day.setVisible(shown.asks_day)
        self.day.setPlaceholderText(shown.hint)
        self.firm.setVisible(shown.firm is not None)
        if shown.firm is not None and self._of != shown.heading:
            self.firm.setChecked(shown.firm)  # and left as it was ticked while the same is answered
        self._of = shown.heading
        self.does.setText(shown.does)
        self.does.setVisible(bool(shown.does))
        for n, (part, said, told, take) in enumerate(self.ways):
            part.setVisible(n < len(shown.ways))
            if n < len(shown.ways):
                way = shown.ways[n]
                said.setText(way.name)
                told.setText("\n".join(way.lines))
                take.setEnabled(way.may)
