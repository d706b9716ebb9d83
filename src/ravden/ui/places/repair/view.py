"""The page of what went wrong: what and where, what did it, what puts it right."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from ravden.core.instrument.outline import Outline
from ravden.ui.places.repair.noting import NotingPage
from ravden.ui.places.repair.presenter import OUTCOMES, CauseLine, PageShown
from ravden.ui.places.repair.ways_view import WaysView
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.emptied import emptied
from ravden.ui.widgets.explained import Explained
from ravden.ui.widgets.keyed import keyed
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.outline_view import OutlineView
from ravden.ui.widgets.page import Page
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.row_button import RowButton
from ravden.ui.widgets.scrolled import scrolled
from ravden.ui.widgets.seen import Seen
from ravden.ui.widgets.tone import set_tone

LEFT_W, MIDDLE_W = 250, 256
ROW_H, MOST_ROWS = 46, 3
UNSAID = "nobody has said"


class RepairPage(Page):
    """Shows a PageShown; says what was picked, answered and chosen."""

    defect_picked = pyqtSignal(int)
    way_picked = pyqtSignal(int)
    told = pyqtSignal(str, str)  # a field and its answer
    answered = pyqtSignal(str, object)  # a question: yes, no, or no longer (None)
    placed = pyqtSignal(float, float)
    choose_asked, live_asked, leave_asked = pyqtSignal(), pyqtSignal(), pyqtSignal()
    looked = pyqtSignal(str)
    note_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("What went wrong", parent)
        self.box.setContentsMargins(22, 10, 22, 12)
        self.note = QPushButton("Note something else  (Ctrl+G)")
        keyed(self.note, "Ctrl+G")
        self.note.clicked.connect(self.note_asked)
        self.add_head(Label(), self.note)
        self.pages = QStackedWidget()
        self.noting = NotingPage()
        row = QWidget()
        columns = QHBoxLayout(row)
        columns.setContentsMargins(0, 0, 0, 0)
        columns.setSpacing(10)
        columns.addWidget(self._what())
        columns.addWidget(self._why())
        columns.addWidget(self._ways(), 1)
        self.pages.addWidget(row)
        self.pages.addWidget(self.noting)
        self.box.addWidget(self.pages, 1)
        self.buttons: dict[int, RowButton] = {}
        self.fields: dict[str, QComboBox] = {}
        self._fields: tuple[object, ...] = ()
        self.inputs: dict[str, QWidget] = {"ways": self.ways}  # where the keyboard goes back to
        self.shown: PageShown | None = None

    def _what(self) -> QFrame:
        frame, box = panel()
        fit(frame, lambda w: w.setFixedWidth(px(LEFT_W)))
        heading = Label("1.  What and where")
        heading.setObjectName("heading")
        box.addWidget(heading)
        area, self._list = scrolled()
        self._area = area
        box.addWidget(area)
        top = QHBoxLayout()
        self.seen = Seen(108, 72)
        self.shows = Label()
        self.shows.setWordWrap(True)
        self.shows.setObjectName("muted")
        top.addWidget(self.seen)
        top.addWidget(self.shows, 1)
        box.addLayout(top)
        self._asked = QVBoxLayout()
        self._asked.setSpacing(3)
        box.addLayout(self._asked)
        self.outline = OutlineView()
        self.outline.setToolTip("Click where it is")
        self.outline.placed.connect(lambda _zone, x, y: self.placed.emit(x, y))
        box.addWidget(self.outline, 1)
        return frame

    def _why(self) -> QFrame:
        frame, box = panel()
        fit(frame, lambda w: w.setFixedWidth(px(MIDDLE_W)))
        heading = Label("2.  At once, and what did it")
        heading.setObjectName("heading")
        box.addWidget(heading)
        self.now = Label()
        self.now.setWordWrap(True)
        set_tone(self.now, "warn")
        self.now.setObjectName("said")
        box.addWidget(self.now)
        self.doubt = Label()
        self.doubt.setWordWrap(True)
        self.doubt.setObjectName("fault")
        box.addWidget(self.doubt)
        area, self._causes = scrolled()
        self._causes.setSpacing(8)
        box.addWidget(area, 1)
        return frame

    def _ways(self) -> QFrame:
        frame, box = panel()
        heading = Label("3.  What puts it right")
        heading.setObjectName("heading")
        self.head = Label()
        self.head.setWordWrap(True)
        box.addWidget(heading)
        box.addWidget(self.head)
        area, column = scrolled()
        self.ways = WaysView()
        self.ways.picked.connect(self.way_picked)
        column.addWidget(self.ways)
        self.none = Label()
        self.none.setWordWrap(True)
        column.addWidget(self.none)
        self.details = QHBoxLayout()
        self.steps, self.film = Label(), Label()
        for label in (self.steps, self.film):
            label.setWordWrap(True)
            label.setAlignment(Qt.AlignmentFlag.AlignTop)
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            self.details.addWidget(label, 1)
        column.addLayout(self.details)
        self.cautions = Label()
        self.cautions.setObjectName("fault")
        self.cautions.setWordWrap(True)
        column.addWidget(self.cautions)
        column.addStretch(1)
        box.addWidget(area, 1)
        box.addLayout(self._acts())
        return frame

    def _acts(self) -> QHBoxLayout:
        self.choose = QPushButton("Put it into the plan  (Ctrl+Enter)")
        self.choose.setObjectName("main")
        keyed(self.choose, "Ctrl+Return")
        self.choose.clicked.connect(self.choose_asked)
        self.live, self.leave_it = QPushButton("Live with it"), QPushButton("Leave that repair")
        self.live.setToolTip("Closes it as it is; the finish record says so")
        self.leave_it.setToolTip("What is left of the repair leaves the plan; what was done stays")
        self.live.clicked.connect(self.live_asked)
        self.leave_it.clicked.connect(self.leave_asked)
        row = QHBoxLayout()
        self.outcomes: dict[str, QPushButton] = {}
        for outcome, text in OUTCOMES:
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, o=outcome: self.looked.emit(o))
            self.outcomes[outcome] = button
        row.addStretch(1)
        for button in (*self.outcomes.values(), self.live, self.leave_it, self.choose):
            row.addWidget(button)
        return row

    def show_page(self, shown: PageShown, body: Outline | None, neck_mm: float) -> None:
        """Show this."""
        self.shown = shown
        self.pages.setCurrentIndex(0)
        self.note.setVisible(True)
        self.title.setText(shown.title)
        self._show_list(shown)
        self.shows.setText(f"{shown.label}. {shown.shows}")
        self._show_fields(shown)
        self.outline.show_body(body, neck_mm, (), shown.zone)
        self.outline.show_spots(() if shown.place is None else ((*shown.place, shown.label),))
        self._show_causes(shown)
        self.now.setText(shown.now)
        self.now.setVisible(not shown.closed)
        self.doubt.setText(shown.doubt)
        self.doubt.setVisible(bool(shown.doubt))
        self.head.setText(shown.head)
        self.ways.show_ways(shown.ways, shown.at)
        self.ways.setVisible(bool(shown.ways))
        self.none.setText(shown.none_because)
        self.none.setVisible(bool(shown.none_because))
        self._show_details(shown)
        pick = bool(shown.ways) and not shown.closed and not shown.worked
        here = shown.ways[shown.at] if pick else None
        self.choose.setVisible(pick)
        self.choose.setEnabled(here is not None and not here.chosen)
        self.choose.setText(
            f"{'Live with it' if here is not None and here.leaves else 'Put it into the plan'}  (Ctrl+Enter)"
        )
        self.live.setVisible(not shown.closed and not shown.worked and not (here is not None and here.leaves))
        self.leave_it.setVisible(bool(shown.chosen) and not shown.closed and not shown.worked)
        for button in self.outcomes.values():
            button.setVisible(shown.worked)

    def work_goes_on(self) -> None:
        """The pictures are of before, and new ones are on their way."""
        self.ways.dim = True
        self.ways.update()

    def _show_list(self, shown: PageShown) -> None:
        ids = [r.id for r in shown.rows]
        if list(self.buttons) != ids:
            emptied(self._list)
            self.buttons = {}
            for row in shown.rows:
                button = RowButton()
                button.clicked.connect(lambda _=False, i=row.id: self.defect_picked.emit(i))
                self._list.addWidget(button)
                self.buttons[row.id] = button
            self._list.addStretch(1)
            self._area.setFixedHeight(px(min(MOST_ROWS, len(ids)) * ROW_H + 4))
        for row in shown.rows:
            button = self.buttons[row.id]
            button.setText(f"{row.label}\n{row.about}")
            button.setToolTip(f"{row.label}: {row.about}")
            button.setAccessibleName(f"{row.label}: {row.about}")
            button.setChecked(row.id == shown.picked)
            set_tone(button, row.tone)

    def _show_fields(self, shown: PageShown) -> None:
        asked = tuple((f.name, f.label, f.choices) for f in shown.fields)
        if asked != self._fields:
            self._fields = asked
            emptied(self._asked)
            self.fields = {}
            for field in shown.fields:
                label, box = Label(field.label), QComboBox()
                label.setBuddy(box)
                box.setAccessibleName(field.label)
                box.addItem(UNSAID, "")
                for value, words in field.choices:
                    box.addItem(words, value)
                box.activated.connect(lambda i, n=field.name, b=box: self.told.emit(n, b.itemData(i)))
                self._asked.addWidget(label)
                self._asked.addWidget(box)
                self.fields[field.name] = box
        for field in shown.fields:
            box = self.fields[field.name]
            at = box.findData(field.value)
            if at < 0:
                box.addItem(field.value, field.value)
                at = box.count() - 1
            box.setCurrentIndex(at)
            box.setEnabled(not shown.closed)

    def _show_causes(self, shown: PageShown) -> None:
        emptied(self._causes)
        if not shown.causes:
            none = Label("Nothing in the record speaks for a cause." if shown.ways else "Looking through the record …")
            none.setWordWrap(True)
            none.setObjectName("muted")
            self._causes.addWidget(none)
        for line in shown.causes:
            self._causes.addWidget(self._cause(line, shown))
        for line in shown.told:
            self._causes.addWidget(self._answer(line, shown))
        self._causes.addStretch(1)

    def _cause(self, line: CauseLine, shown: PageShown) -> QWidget:
        frame = QWidget()
        box = QVBoxLayout(frame)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        sure, words = Label(line.confidence), Explained()
        sure.setObjectName("heading")
        set_tone(sure, "warn" if line.confidence == "Very likely" else "plain")
        words.setText(line.words)
        box.addWidget(sure)
        box.addWidget(words)
        if line.asks and not shown.closed:
            row = QHBoxLayout()
            for text, yes in (("Yes", True), ("No", False)):
                button = QPushButton(text)
                button.setAccessibleName(f"{text}: {line.words}")
                button.clicked.connect(lambda _=False, y=yes: self.answered.emit(line.asks, y))
                row.addWidget(button)
            row.addStretch(1)
            box.addLayout(row)
        return frame

    def _answer(self, line: CauseLine, shown: PageShown) -> QWidget:
        frame = QWidget()
        row = QHBoxLayout(frame)
        row.setContentsMargins(0, 0, 0, 0)
        words = Label(f"{line.words} {line.confidence[:1].upper()}{line.confidence[1:]}.")
        words.setObjectName("muted")
        words.setWordWrap(True)
        row.addWidget(words, 1)
        if not shown.closed:
            button = QPushButton("Change")
            button.setAccessibleName(f"Change the answer: {line.words}")
            button.clicked.connect(lambda: self.answered.emit(line.asks, None))
            row.addWidget(button)
        return frame

    def _show_details(self, shown: PageShown) -> None:
        told = shown.details
        if told is None:
            for label in (self.steps, self.film, self.cautions):
                label.setText("")
            return
        steps = "\n".join(f"{n}. {text}" for n, text in enumerate(told.steps, 1)) or "Nothing is done."
        self.steps.setText(f"{steps}\n{told.skill}".rstrip())
        self.film.setText("\n".join((*told.film, *told.others, *told.risks)))
        self.cautions.setText(" ".join(told.cautions))

    def show_noting(self, title: str) -> None:
        """The page on which something new is noted."""
        self.title.setText(title)
        self.note.setVisible(False)
        self.pages.setCurrentIndex(1)
        self.noting.first_focus().setFocus()
