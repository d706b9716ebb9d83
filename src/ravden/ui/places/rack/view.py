"""The Rack: what is ready for hands, in words, over the lanes of all instruments."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ravden.ui.places.rack.lanes import AXIS_H, Lanes
from ravden.ui.places.rack.presenter import RackShown
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.told import ToldCard

if TYPE_CHECKING:
    from ravden.ui.places.rack.answers import AnswerShown
    from ravden.ui.places.rack.days import DaysShown
    from ravden.ui.places.rack.days_view import DaysView

FIND_W, LEAST_W = 190, 640
FEW = 4  # so many lanes need no finding
OUT = ("Two ways out …", "Fewest changes beside fewest late days; nothing moves before you take one")
BETTER = ("See it …", "What it moves, beside the days as they stand; nothing moves before you take it")


class RackView(QWidget):
    """Shows a RackShown."""

    signs_asked = pyqtSignal()
    picked = pyqtSignal(str)
    opened = pyqtSignal(str)
    add_asked = pyqtSignal()
    arranged = pyqtSignal()
    days_asked = pyqtSignal()
    ways_asked = pyqtSignal()
    day_asked = pyqtSignal(str, object)
    answered = pyqtSignal(str, object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._selected = ""
        self.title = Label("Rack")
        self.title.setObjectName("title")
        self.add = QPushButton("Add an instrument  (N)")
        self.add.clicked.connect(self.add_asked)
        head = QHBoxLayout()
        self.sought = QLineEdit()
        self.sought.setPlaceholderText("Find  (Ctrl+F)")
        self.sought.setAccessibleName("Find on the rack")
        self.sought.setToolTip(
            "A name, a kind, a finish, or what is next; Enter goes to the lanes, Esc shows all again"
        )
        self.sought.setClearButtonEnabled(True)
        fit(self.sought, lambda w: w.setFixedWidth(px(FIND_W)))
        self.sought.textChanged.connect(lambda _: self.arranged.emit())
        self.sought.returnPressed.connect(self.lanes_focused)
        self.group = QPushButton("By what is next")
        self.group.setObjectName("quiet")
        self.group.setCheckable(True)
        self.group.setToolTip("Lanes together that want the same work, those ready for hands first  (Ctrl+G)")
        self.group.toggled.connect(lambda _: self.arranged.emit())
        self.days_ahead = QPushButton("The days ahead")
        self.days_ahead.setObjectName("quiet")
        self.days_ahead.setCheckable(True)
        self.days_ahead.setToolTip("What hands do on which day, all instruments together  (Ctrl+E)")
        self.days_ahead.toggled.connect(lambda _: self.days_asked.emit())
        self.density = QComboBox()
        self.density.setAccessibleName("How close the lanes are")
        for key, label in (("roomy", "Roomy"), ("close", "Close"), ("lines", "Lines")):
            self.density.addItem(label, key)
        self.density.currentIndexChanged.connect(lambda _: self.arranged.emit())
        for key, slot in (("Ctrl+F", self._to_find), ("Ctrl+G", self.group.toggle), ("Ctrl+E", self.days_ahead.toggle)):
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(slot)
        escape = QShortcut(QKeySequence("Esc"), self.sought)
        escape.setContext(Qt.ShortcutContext.WidgetShortcut)
        escape.activated.connect(self._all_again)
        head.addWidget(self.title)
        head.addStretch(1)
        for part in (self.sought, self.group, self.density, self.days_ahead, self.add):
            head.addWidget(part)
        self._told_row = QHBoxLayout()
        self._told_row.setSpacing(12)
        self.told = [ToldCard(explained=False) for _ in range(3)]
        for card in self.told:
            self._told_row.addWidget(card, 1, Qt.AlignmentFlag.AlignTop)
            card.hide()
        self.strip, strip = panel()
        row = QHBoxLayout()
        self.broken = Label()
        self.broken.setObjectName("strong")
        self.ways = QPushButton()
        self.ways.clicked.connect(self.ways_asked)
        row.addWidget(self.broken, 1)
        row.addWidget(self.ways)
        strip.addLayout(row)
        self.strip.hide()
        self.lanes = Lanes()
        self.lanes.picked.connect(self.picked)
        self.lanes.opened.connect(self.opened)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.lanes)
        self._scroll = scroll
        fit(scroll, lambda w: w.setMinimumWidth(px(LEAST_W)))
        if (bar := scroll.verticalScrollBar()) is not None:
            bar.valueChanged.connect(lambda _: self.lanes.update())  # its axis stays in sight
        self.legend = QPushButton("What the signs mean  (?)")
        self.legend.setObjectName("quiet")
        self.legend.clicked.connect(self.signs_asked)
        self.days: DaysView | None = None
        self.none = Label()
        self.none.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.none.hide()
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 16, 22, 12)
        box.setSpacing(12)
        box.addLayout(head)
        box.addWidget(self.strip)
        box.addLayout(self._told_row)
        box.addWidget(scroll, 1)
        box.addWidget(self.none, 1)
        self._box = box
        box.addWidget(self.legend, 0, Qt.AlignmentFlag.AlignLeft)

    def show_rack(self, shown: RackShown, selected: str) -> None:
        """Show this."""
        self.title.setText(shown.shop or "Rack")
        days = self.days_ahead.isChecked() and bool(shown.many)
        asked = days and self.days is not None and self.days.answer.isVisibleTo(self.days)
        self.strip.setVisible(bool(shown.broken or shown.better) and not asked)
        self.broken.setText(shown.broken or shown.better)
        said, tip = OUT if shown.broken else BETTER
        self.ways.setText(said)
        self.ways.setToolTip(tip)
        self.days_ahead.setText("The lanes again" if days else "The days ahead")
        for i, card in enumerate(self.told):
            # Where room is short only what is wrong keeps its card: the lanes or the days say the rest.
            short = days or (self.density.currentData() == "lines" and shown.many >= FEW)
            card.setVisible(i < len(shown.told) and not asked and (not short or shown.told[i].tone == "warn"))
            if i < len(shown.told):
                card.show_told(shown.told[i])
        self._scroll.setVisible(bool(shown.lanes) and not days)
        self.legend.setVisible(bool(shown.lanes) and not days and self.density.currentData() == "roomy")
        self.none.setVisible(bool(shown.many) and not shown.lanes and not days)
        self.none.setText(f"None of {shown.many} on the rack has “{self.sought.text().strip()}” in it. Esc shows all.")
        for part in (self.sought, self.group, self.density):
            part.setVisible(shown.many >= FEW and not days)
        self.days_ahead.setVisible(bool(shown.many))
        turned = selected != self._selected
        self._selected = selected
        self.lanes.density = self.density.currentData()
        self.lanes.show_rack(shown, selected)
        if turned:
            self._into_sight()

    @property
    def span(self) -> str:
        """Which days are looked at."""
        return "week" if self.days is None else self.days.span

    def show_days(self, shown: "DaysShown | None", answer: "AnswerShown | None") -> None:
        """The days ahead in place of the lanes, None: the lanes again; answer: under them, to what was asked."""
        if shown is not None and self.days is None:
            from ravden.ui.places.rack.days_view import DaysView  # the first paint has none

            self.days = DaysView()
            days = self.days
            days.asked.connect(self.day_asked)
            days.turned.connect(self.days_asked)
            days.kept.connect(lambda: self.answered.emit("keep", None))
            days.printed.connect(lambda: self.answered.emit("print", None))
            days.answer.left.connect(lambda: self.answered.emit("leave", None))
            days.answer.typed.connect(lambda text: self.answered.emit("day", text))
            days.answer.done.connect(lambda firm: self.answered.emit("promise", firm))
            days.answer.taken.connect(lambda at: self.answered.emit("take", at))
            self._box.insertWidget(3, self.days, 1)
            back = QShortcut(QKeySequence("Esc"), self.days)
            back.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            back.activated.connect(self._leave_days)
        if self.days is not None:
            self.days.setVisible(shown is not None)
            if shown is not None:
                self.days.show_days(shown)
                self.days.answer.show_answer(answer)

    def _leave_days(self) -> None:
        """What was answered first, then the days."""
        if self.days is not None and self.days.answer.isVisible():
            self.answered.emit("leave", None)
        else:
            self.days_ahead.setChecked(False)

    def arrange(self, density: str, grouped: bool) -> None:
        """As it was left."""
        self.density.setCurrentIndex(max(self.density.findData(density), 0))
        self.group.setChecked(grouped)

    def lanes_focused(self) -> None:
        """The keyboard to the lanes, and the first one found chosen."""
        self.lanes.setFocus()
        self.lanes.choose_first()

    def _into_sight(self) -> None:
        top, bottom = self.lanes.span_of(self._selected)
        if bottom:
            top -= AXIS_H  # which lies over the lanes
            self._scroll.ensureVisible(0, (top + bottom) // 2, 0, (bottom - top) // 2)

    def _to_find(self) -> None:
        self.sought.setFocus()
        self.sought.selectAll()

    def _all_again(self) -> None:
        self.sought.clear()
        self.lanes.setFocus()
