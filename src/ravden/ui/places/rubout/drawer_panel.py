"""The abrasive drawer: what is owned, how worn, and on which block; a bare number is asked about."""

from html import escape

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ravden.core.abrasive.grades import Abrasive
from ravden.text import written
from ravden.ui.places.rubout.drawer_words import WEARS, DrawerShown
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.emptied import emptied
from ravden.ui.widgets.label import Label


class DrawerPanel(QWidget):
    """Says what was typed, which of several meanings was chosen, and what is taken out or has worn."""

    typed = pyqtSignal(str)
    meant = pyqtSignal(object)
    dropped = pyqtSignal(str)
    worn = pyqtSignal(str, float)
    blocked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.entry = QLineEdit()
        self.entry.setPlaceholderText("P800, CAMI 600, 9 micron film …")
        self.entry.setAccessibleName("Add a grade")
        self.entry.returnPressed.connect(lambda: self.typed.emit(self.entry.text()))
        self.add = QPushButton("Add")
        self.add.clicked.connect(lambda: self.typed.emit(self.entry.text()))
        self.note, self.traps = Label(), Label()
        self.traps.setObjectName("fault")
        for label in (self.note, self.traps):
            label.setWordWrap(True)
        row = QHBoxLayout()
        row.addWidget(self.entry, 1)
        row.addWidget(self.add)
        self.choices = QVBoxLayout()
        self.choices.setSpacing(2)
        self.choice_buttons: list[QPushButton] = []
        self._grid_host = QWidget()
        self.grid = QGridLayout(self._grid_host)
        self.grid.setContentsMargins(0, 0, 4, 0)
        self.grid.setHorizontalSpacing(6)
        self.grid.setVerticalSpacing(1)
        self.grid.setColumnStretch(0, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._grid_host)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(5)
        box.addLayout(row)
        box.addWidget(self.note)
        box.addLayout(self.choices)
        box.addWidget(self.traps)
        unit = Label("Grain in µm, with its spread")
        unit.setObjectName("muted")
        box.addWidget(unit)
        box.addWidget(scroll, 1)
        self.block = QComboBox()
        self.block.setAccessibleName("Papers are used on")
        self.block.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.block.setMinimumContentsLength(14)
        self.block.activated.connect(lambda i: self.blocked.emit(self.block.itemData(i)))
        foot = QHBoxLayout()
        foot.addWidget(Label("Papers on"))
        foot.addWidget(self.block, 1)
        box.addLayout(foot)
        self.rows: dict[str, tuple[QLabel, QComboBox | None, QPushButton]] = {}
        self._shown: DrawerShown | None = None

    def show_drawer(self, shown: DrawerShown) -> None:
        """Show this; the rows are made anew only when something in them changed."""
        if shown == self._shown:
            return
        self._shown = shown
        self.block.clear()
        for block, said in shown.blocks:
            self.block.addItem(said, block)
        self.block.setCurrentIndex(self.block.findData(shown.block))
        self.traps.setText("\n".join(shown.traps[:3]))
        self.traps.setVisible(bool(shown.traps))
        emptied(self.grid)
        self.rows = {}
        for i, row in enumerate(shown.rows):
            name = Label(f"<b>{escape(row.name)}</b> {escape(row.grain)}")
            name.setTextFormat(Qt.TextFormat.RichText)  # our own, what is typed in it escaped
            name.setWordWrap(True)
            wear: QComboBox | None = None
            if row.wears:
                wear = QComboBox()
                fit(wear, lambda w: w.setFixedWidth(px(106)))
                for label, value in WEARS:
                    wear.addItem(label, value)
                nearest = min(range(len(WEARS)), key=lambda k: abs(WEARS[k][1] - row.wear))
                wear.setCurrentIndex(nearest)
                wear.setAccessibleName(f"Wear of {row.name}")
                wear.activated.connect(lambda k, g=row.id: self.worn.emit(g, WEARS[k][1]))
                self.grid.addWidget(wear, i, 1)
            out = QPushButton("out")
            out.setObjectName("quiet")
            out.setToolTip("Take it out of the drawer; Ctrl+Z puts it back")
            out.setAccessibleName(f"Take {row.name} out of the drawer")
            out.clicked.connect(lambda _=False, g=row.id: self.dropped.emit(g))
            self.grid.addWidget(name, i, 0)
            self.grid.addWidget(out, i, 2)
            self.rows[row.id] = (name, wear, out)
        self.grid.setRowStretch(len(shown.rows), 1)

    def tell(self, text: str, meanings: tuple[Abrasive, ...] = ()) -> None:
        """A note, or a question with its possible answers."""
        self.note.setText(text)
        self.note.setVisible(bool(text))
        for button in self.choice_buttons:
            self.choices.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.choice_buttons = []
        for grade in meanings:
            button = QPushButton(f"{grade.name}, {written.number(grade.d50_um, 'g')} µm ({grade.system})")
            button.setObjectName("quiet")
            button.clicked.connect(lambda _=False, g=grade: self.meant.emit(g))
            self.choices.addWidget(button)
            self.choice_buttons.append(button)
        if not meanings:
            self.entry.clear()
