"""The Rub-out place: from which texture to which sheen, the ladder, and what stands beside it."""

from dataclasses import replace

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ravden.core.rubout.rub_out import Ask
from ravden.ui.places.rubout import textures
from ravden.ui.places.rubout.ladder import LadderView
from ravden.ui.places.rubout.presenter import MODES, AskedShown, RubShown
from ravden.ui.places.rubout.side import RubSide
from ravden.ui.theme.style import fit, px, scale
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.place_head import PlaceHead
from ravden.ui.widgets.tips import plain_tip
from ravden.ui.widgets.told import ToldCard

USUAL_TIP = "What the method and this shop's own levellings say; nobody has measured it on this one."
MEASURED = -1.0


LADDER_W = 560  # narrower it cannot be read


class RubOutView(QWidget):
    """Shows a RubShown; says what else is asked, and which rung was done."""

    asked = pyqtSignal(object)
    sanding_asked = pyqtSignal()
    card_asked = pyqtSignal()
    practise_asked = pyqtSignal()
    look_asked = pyqtSignal()
    key_pressed = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ask = Ask()
        self._theme = ""
        self.head = PlaceHead()
        self.told = ToldCard()
        self.texture, self.sheen, self.block, self.mode = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        self.texture.setIconSize(textures.SIZE)
        fit(self.texture, lambda w: w.setMaximumHeight(px(34)))
        self.texture.setAccessibleName("The surface now")
        self.block.setAccessibleName("Worked with")
        self.mode.setAccessibleName("Wet or dry")
        self.pv = QDoubleSpinBox()
        self.pv.setAccessibleName("Peak to valley of the surface")
        self.pv.setToolTip("Peak to valley, if you measured it")
        self.pv.setKeyboardTracking(False)
        self.pv.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        self.pv.valueChanged.connect(self._measured)
        self.edges = QCheckBox("edges too")
        self.edges.setToolTip("Work the edges with the rest from the first rung on: they have to bear it")
        self.edges.clicked.connect(lambda on: self._emit(replace(self._ask, edges=on)))
        for choice in (self.texture, self.sheen, self.block, self.mode):
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            choice.activated.connect(self._chosen)
        self.block.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.block.setMinimumContentsLength(12)
        fit(self.block, lambda w: w.setMaximumWidth(px(290)))
        for name, label in MODES:
            self.mode.addItem(label, name)
        self.log = QPushButton("Log a sanding  (S)")
        self.log.clicked.connect(self.sanding_asked)
        self.card = QPushButton("Bench card …")
        self.card.setToolTip("One page to lay beside the work, as PDF (Ctrl+P)")
        self.card.clicked.connect(self.card_asked)
        self.practise = QPushButton("Practise  (P)")
        self.practise.setToolTip("Level a made-up panel: nothing here is touched by it")
        self.practise.clicked.connect(self.practise_asked)
        self.look = QPushButton("Is it level?  (I)")
        self.look.setToolTip("Three photos laid over each other: shiny lows light up")
        self.look.clicked.connect(self.look_asked)
        self.head.layout().addWidget(self.look)  # type: ignore[union-attr]
        self.head.layout().addWidget(self.practise)  # type: ignore[union-attr]
        self.head.layout().addWidget(self.card)  # type: ignore[union-attr]
        self.head.layout().addWidget(self.log)  # type: ignore[union-attr]
        ask = QHBoxLayout()
        ask.setSpacing(7)
        parts: tuple[tuple[str, tuple[QWidget, ...]], ...] = (
            ("From", (self.texture, self.pv)), ("to", (self.sheen,)), ("by", (self.block, self.mode, self.edges)),
        )  # fmt: skip
        for text, widgets in parts:
            said = Label(text)
            said.setBuddy(widgets[0])
            ask.addWidget(said)
            for w in widgets:
                ask.addWidget(w, 100 if w is self.block else 0)
        ask.addStretch(1)
        self.ladder = LadderView()
        self.ladder.toggled.connect(self._toggled)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.ladder)
        fit(scroll, lambda w: w.setMinimumWidth(px(LADDER_W)))
        ladder_frame, ladder_box = panel()
        ladder_box.addWidget(scroll)
        self.hint = Label("A number logs that rung; click a grade to put it in or take it out.")
        self.hint.setObjectName("muted")
        ladder_box.addWidget(self.hint)
        self.side = RubSide()
        self.side.ways.taken.connect(lambda s: self._emit(replace(self._ask, sequence=s)))
        self.side.ways.back.connect(lambda: self._emit(replace(self._ask, sequence=None)))
        middle = QHBoxLayout()
        middle.setSpacing(12)
        middle.addWidget(ladder_frame, 1)
        middle.addWidget(self.side)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 12, 22, 12)
        box.setSpacing(10)
        box.addWidget(self.head)
        box.addWidget(self.told)
        box.addLayout(ask)
        box.addLayout(middle, 1)
        self.shown: RubShown | None = None

    def minimumSizeHint(self) -> QSize:
        return QSize(600, 500) if scale() <= 1 else super().minimumSizeHint()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Numbers and Esc are for logging a rung: which is decided by who is asked."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_P and event.modifiers() == Qt.KeyboardModifier.NoModifier:
            self.practise_asked.emit()
        elif event.key() == Qt.Key.Key_I and event.modifiers() == Qt.KeyboardModifier.NoModifier:
            self.look_asked.emit()
        elif event.text().isdigit() or event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_X):
            escape = event.key() == Qt.Key.Key_Escape
            self.key_pressed.emit("esc" if escape else event.text().lower())
        else:
            super().keyPressEvent(event)

    def _emit(self, ask: Ask) -> None:
        self._ask = ask
        self.asked.emit(ask)

    def _chosen(self) -> None:
        texture = float(self.texture.currentData())
        self._emit(
            replace(
                self._ask, texture_um=self.pv_um() if texture == MEASURED else texture,
                target=str(self.sheen.currentData()), block=str(self.block.currentData()),
                mode=str(self.mode.currentData()),
            )
        )  # fmt: skip

    def _measured(self) -> None:
        self._emit(replace(self._ask, texture_um=self.pv_um()))

    def pv_um(self) -> float:
        """The peak to valley typed, in um."""
        return self.pv.value() * (25.4 if self.pv.suffix().strip() == "mil" else 1.0)

    def _toggled(self, grade: str) -> None:
        """A grade into the ladder, or out of it: from then on it is the user's own."""
        if self.shown is None:
            return
        now = [r.id for r in self.shown.ladder.rungs]
        if grade in now:
            now.remove(grade)
        else:
            spare = next(s for s in self.shown.ladder.spares if s.id == grade)
            now.insert(spare.at, grade)
        self._emit(replace(self._ask, sequence=tuple(now)))

    def show_ladder(self, shown: RubShown) -> None:
        """Show this."""
        self.shown, self._ask = shown, shown.asked.ask
        self.head.tell(shown.title, shown.about)
        self.told.show_told(shown.told)
        self._fill_choices(shown.asked, shown.ladder.unit)
        self.ladder.show_ladder(shown.ladder)
        self.side.zones.show_ladder(shown)

    def _fill_choices(self, shown: AskedShown, unit: str) -> None:
        boxes = (self.texture, self.sheen, self.block, self.mode, self.pv)
        for box in boxes:
            box.blockSignals(True)
        for combo in (self.texture, self.sheen, self.block):
            combo.clear()
        for label, um, words in shown.textures:
            self.texture.addItem(textures.icon(um), label, um)
            self.texture.setItemData(self.texture.count() - 1, words, Qt.ItemDataRole.ToolTipRole)
        self.texture.addItem("measured", MEASURED)
        if shown.ask.texture_um is None and self.texture.findData(shown.texture_um) < 0:
            self.texture.addItem("as is usual", shown.texture_um)
            self.texture.setItemData(self.texture.count() - 1, USUAL_TIP, Qt.ItemDataRole.ToolTipRole)
        at = self.texture.findData(shown.texture_um)
        self.texture.setCurrentIndex(at if at >= 0 else self.texture.count() - 1)
        self.texture.setToolTip(
            self.texture.itemData(self.texture.currentIndex(), Qt.ItemDataRole.ToolTipRole) or "As you measured it"
        )
        mil = unit == "mil"
        self.pv.setSuffix(f" {unit}")
        self.pv.setDecimals(2 if mil else 0)
        self.pv.setRange(0.02 if mil else 1, 8 if mil else 200)
        self.pv.setValue(shown.texture_um / (25.4 if mil else 1.0))
        for name, label in shown.sheens:
            self.sheen.addItem(label, name)
        self.sheen.setCurrentIndex(self.sheen.findData(shown.sheen))
        self.sheen.setToolTip(plain_tip(shown.sheen_tip))
        for name, label in shown.blocks:
            self.block.addItem(label, name)
        self.block.setCurrentIndex(self.block.findData(shown.block))
        self.mode.setCurrentIndex(self.mode.findData(shown.mode))
        self.edges.setChecked(shown.edges_worked)
        for box in boxes:
            box.blockSignals(False)
