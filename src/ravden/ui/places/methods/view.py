"""The Methods place: methods side by side, the plan of the instrument turned to, quarrels, and old finishes."""

from html import escape

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from ravden.ui.places.methods.compare_view import CompareView
from ravden.ui.places.methods.old_finish_view import OldFinishView
from ravden.ui.places.methods.plan_view import PlanView
from ravden.ui.places.methods.presenter import MethodRow, MethodShown, OfferShown
from ravden.ui.places.methods.quarrels_view import QuarrelsView
from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.place_head import PlaceHead
from ravden.ui.widgets.turning import Turning

ID = Qt.ItemDataRole.UserRole
LONGEST_NAME = 28
PAGES = (("beside", "Side by side"), ("plan", "Plan"), ("quarrels", "Who is right?"), ("old", "Old finish"))


PICTURE_W = 480  # narrower it cannot be read


class MethodsView(QWidget):
    """Says which methods are to be compared, which page is looked at, and what is asked of it."""

    compared = pyqtSignal(object)
    picked = pyqtSignal(str)
    use_asked = pyqtSignal(str)
    save_asked = pyqtSignal(str)
    read_asked = pyqtSignal()
    priced = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.head = PlaceHead()
        self.shown_id = ""
        self.list = QListWidget()
        fit(self.list, lambda w: w.setFixedWidth(px(276)))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.setAccessibleName("Methods; tick two to four to compare them")
        self.list.itemChanged.connect(self._ticked)
        self.list.currentItemChanged.connect(self._current)
        self.note = Label("Tick two to four to compare them.")
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        self.read = QPushButton("Read a method file …")
        self.read.clicked.connect(self.read_asked)
        left = QVBoxLayout()
        left.addWidget(self.note)
        left.addWidget(self.list, 1)
        left.addWidget(self.read)
        self.picture = CompareView()
        self.picture.picked.connect(self.pick)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.picture)
        fit(scroll, lambda w: w.setMinimumWidth(px(PICTURE_W)))
        picture_frame, picture_box = panel()
        picture_box.addWidget(scroll)
        legend = Label(
            "Film from bare wood on, with all hands for it alone; coats fitted to the least film (dashed). Blocks: "
            "work on the wood; green: when ready."
        )
        legend.setWordWrap(True)
        legend.setObjectName("muted")
        picture_box.addWidget(legend)
        self.page = QTextBrowser()
        self.page.setAccessibleName("The method step by step")
        self.page.setOpenLinks(False)
        self.use = QPushButton()
        self.use.setObjectName("main")
        self.use.clicked.connect(lambda: self.use_asked.emit(self.shown_id))
        self.save = QPushButton("Save as a file …")
        self.save.setToolTip("To edit it, share it, and read it back")
        self.save.clicked.connect(lambda: self.save_asked.emit(self.shown_id))
        self.price = QLineEdit()
        fit(self.price, lambda w: w.setFixedWidth(px(84)))
        self.price.setPlaceholderText("price")
        self.price.setAccessibleName("Price of a litre of its finish")
        self.price.setToolTip("What a litre costs you; Enter keeps it, and the picture tells the cost")
        self.price.returnPressed.connect(lambda: self.priced.emit(self.price.text()))
        self.price_of = Label("A litre costs")
        buttons = QHBoxLayout()
        buttons.addWidget(self.price_of)
        buttons.addWidget(self.price)
        buttons.addStretch(1)
        buttons.addWidget(self.save)
        buttons.addWidget(self.use)
        page_frame, page_box = panel()
        page_box.addWidget(self.page, 1)
        page_box.addLayout(buttons)
        right = QVBoxLayout()
        right.setSpacing(10)
        right.addWidget(picture_frame, 66)
        right.addWidget(page_frame, 34)
        beside = QWidget()
        middle = QHBoxLayout(beside)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(12)
        middle.addLayout(left)
        middle.addLayout(right, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 12, 22, 12)
        box.setSpacing(10)
        self.plan, self.quarrels, self.old = PlanView(), QuarrelsView(), OldFinishView()
        self.pages = Turning(
            PAGES, {"beside": beside, "plan": self.plan, "quarrels": self.quarrels, "old": self.old}
        )  # fmt: skip
        box.addWidget(self.head)
        box.addWidget(self.pages, 1)

    def _current(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.picked.emit(item.data(ID))

    def _ticked(self) -> None:
        self.compared.emit(self.ticked())

    def ticked(self) -> tuple[str, ...]:
        """The methods ticked, top to bottom."""
        items = [self.list.item(i) for i in range(self.list.count())]
        return tuple(i.data(ID) for i in items if i is not None and i.checkState() == Qt.CheckState.Checked)

    def tick_only(self, chosen: tuple[str, ...]) -> None:
        """Put the ticks back. The items stay: one of them may be in the middle of telling that it was ticked."""
        self.list.blockSignals(True)
        for i in range(self.list.count()):
            item = self.list.item(i)
            if item is not None:
                on = item.data(ID) in chosen
                item.setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)
        self.list.blockSignals(False)

    def pick(self, method_id: str) -> None:
        for i in range(self.list.count()):
            item = self.list.item(i)
            if item is not None and item.data(ID) == method_id:
                self.list.setCurrentItem(item)

    def show_list(self, rows: tuple[MethodRow, ...], ticked: tuple[str, ...]) -> None:
        """The methods there are."""
        self.list.blockSignals(True)
        self.list.clear()
        for row in rows:
            text = f"{row.label}{' (in use)' if row.used else ''}\n{row.about}"
            item = QListWidgetItem(text if row.suits else f"{text}; for other bodies")
            item.setData(ID, row.id)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if row.id in ticked else Qt.CheckState.Unchecked)
            self.list.addItem(item)
            if row.id == self.shown_id:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)

    def show_offers(self, offers: tuple[OfferShown, ...]) -> None:
        """The picture."""
        self.picture.show_offers(offers, self.shown_id)

    def show_page(self, shown: MethodShown, instrument: str) -> None:
        """A method, step by step."""
        self.shown_id = shown.id
        p = current()
        head = "".join(f"<p style='margin: 2px 0'>{escape(line)}</p>" for line in shown.lines)
        steps = "".join(
            f"<p style='margin: 7px 0 0 0'><b>{i}. {escape(s.label)}</b> "
            f"<span style='color: {p.muted}'>{escape(s.when)}</span></p>"
            + (f"<p style='margin: 0 0 0 18px'>{escape(s.how)}</p>" if s.how else "")
            + (
                f"<p style='margin: 0 0 0 18px; color: {p.accent}'>Look for: {escape(s.inspect)}</p>"
                if s.inspect
                else ""
            )
            + (f"<p style='margin: 0 0 0 18px; color: {p.muted}'>Goes wrong: {escape(s.wrong)}</p>" if s.wrong else "")
            for i, s in enumerate(shown.steps, start=1)
        )
        self.page.setHtml(
            f"<h3 style='margin: 0'>{escape(shown.label)}</h3>{head}{steps}"
            f"<p style='margin-top: 8px; color: {p.warn}'>{escape(shown.cautions)}</p>"
        )
        instrument = instrument if len(instrument) <= LONGEST_NAME else f"{instrument[: LONGEST_NAME - 1]}…"
        text = {"in use": f"In use on {instrument}", "coats laid": f"{instrument} has coats already"}.get(shown.usable)
        self.use.setText(text or f"Use it on {instrument}")
        self.use.setEnabled(not shown.usable)
        self.price.setText(shown.price)
        self.picture.show_offers(self.picture._offers, shown.id)
