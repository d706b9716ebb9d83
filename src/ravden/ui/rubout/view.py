"""The Rub-out place: from which texture to which sheen, the ladder, and the zones it has to spare."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ravden.ui.rubout.ladder import LadderView
from ravden.ui.rubout.presenter import RubShown
from ravden.ui.theme.style import current
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.place_head import PlaceHead
from ravden.ui.widgets.told import ToldCard


class RubOutView(QWidget):
    """Shows a RubShown; says when another texture or sheen is asked about."""

    asked = pyqtSignal(float, str)
    sanding_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.head = PlaceHead()
        self.told = ToldCard()
        self.texture = QComboBox()
        self.sheen = QComboBox()
        for choice in (self.texture, self.sheen):
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.texture.activated.connect(self._ask)
        self.sheen.activated.connect(self._ask)
        self.texture_words = QLabel()
        self.texture_words.setObjectName("muted")
        self.texture_words.setWordWrap(True)
        self.log = QPushButton("Log a sanding  (S)")
        self.log.setObjectName("main")
        self.log.clicked.connect(self.sanding_asked)
        ask = QHBoxLayout()
        ask.setSpacing(8)
        for text, choice in (("The surface is", self.texture), ("and should end", self.sheen)):
            label = QLabel(text)
            label.setBuddy(choice)
            ask.addWidget(label)
            ask.addWidget(choice)
        ask.addWidget(self.texture_words, 1)
        ask.addWidget(self.log)
        self.ladder = LadderView()
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.ladder)
        ladder_frame, ladder_box = panel()
        ladder_box.addWidget(scroll)
        side_frame, side = panel()
        side_frame.setFixedWidth(292)
        heading = QLabel("Film by zone")
        heading.setObjectName("heading")
        self.note = QLabel()
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        self.table = QGridLayout()
        self.table.setVerticalSpacing(4)
        self.edges = QLabel()
        self.edges.setWordWrap(True)
        self.edges.setObjectName("warn")
        self.totals = QLabel()
        self.totals.setWordWrap(True)
        self.trust = QLabel("Film and scratch are good to about a third. Your eye at each rung decides.")
        self.trust.setWordWrap(True)
        self.trust.setObjectName("muted")
        self.cautions = QLabel()
        self.cautions.setWordWrap(True)
        self.cautions.setObjectName("fault")
        for w in (heading, self.note):
            side.addWidget(w)
        side.addLayout(self.table)
        side.addSpacing(8)
        for w in (self.edges, self.totals, self.trust):
            side.addWidget(w)
        side.addStretch(1)
        side.addWidget(self.cautions)
        middle = QHBoxLayout()
        middle.setSpacing(12)
        middle.addWidget(ladder_frame, 1)
        middle.addWidget(side_frame)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 12, 22, 12)
        box.setSpacing(10)
        box.addWidget(self.head)
        box.addWidget(self.told)
        box.addLayout(ask)
        box.addLayout(middle, 1)
        self._words: dict[float, str] = {}

    def _ask(self) -> None:
        self.asked.emit(float(self.texture.currentData()), str(self.sheen.currentData()))

    def show_ladder(self, shown: RubShown) -> None:
        """Show this."""
        self.head.tell(shown.title, shown.about)
        self.told.tell(shown.tone, shown.heading, shown.detail)
        for box in (self.texture, self.sheen):
            box.blockSignals(True)
            box.clear()
        for label, um, words in shown.textures:
            self.texture.addItem(label, um)
            self.texture.setItemData(self.texture.count() - 1, words, Qt.ItemDataRole.ToolTipRole)
            if um == shown.texture_um:
                self.texture.setCurrentIndex(self.texture.count() - 1)
                self.texture_words.setText(words)
        for name in shown.sheens:
            self.sheen.addItem(name, name)
        self.sheen.setCurrentText(shown.sheen)
        for box in (self.texture, self.sheen):
            box.blockSignals(False)
        self.ladder.show_ladder(shown)
        self._fill(shown)
        self.note.setText(f"before and after, and the odds of less than {shown.floor} on flats")
        self.edges.setText(shown.edges)
        p = current()
        self.edges.setStyleSheet(f"color: {p.warn if shown.edges_tone == 'warn' else p.open_ink};")
        self.totals.setText(shown.totals)
        self.cautions.setText("\n".join(shown.cautions))
        self.trust.setVisible(bool(shown.rungs))

    def _fill(self, shown: RubShown) -> None:
        while self.table.count():
            item = self.table.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        p = current()
        for i, row in enumerate(shown.zones):
            tone = {"open": p.open_ink, "plain": p.ink, "warn": p.warn}[row.tone]
            odds = QLabel(row.odds)
            odds.setStyleSheet(f"color: {tone}; font-weight: bold;")
            for column, widget in enumerate((QLabel(row.label), QLabel(row.before), QLabel(f"to {row.after}"), odds)):
                side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
                self.table.addWidget(widget, i, column, side)
