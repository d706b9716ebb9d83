"""The Shop place: the air, the sensors, and what the materials were found to do here; and the Book."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.text.units import Units
from ravden.ui.places.shop.air_plot import AirPlot
from ravden.ui.places.shop.book_page import BookPage
from ravden.ui.places.shop.hours_page import HoursPage
from ravden.ui.places.shop.knows_page import KnowsPage
from ravden.ui.places.shop.mixing_page import MixingPage
from ravden.ui.places.shop.people_page import PeoplePage
from ravden.ui.places.shop.presenter import ShopShown
from ravden.ui.places.shop.right_page import RightPage
from ravden.ui.places.shop.stock_page import StockPage
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.told import ToldCard
from ravden.ui.widgets.turning import Turning

MOST_TOOLS = 4
FOOT_H = 236


class ShopView(QWidget):
    """Shows a ShopShown; says what is asked for."""

    asked = pyqtSignal(str)
    sensor_turned = pyqtSignal(str, bool)
    weight_taken = pyqtSignal()
    year_turned = pyqtSignal(bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = Label("The shop")
        self.title.setObjectName("title")
        self.book = BookPage()
        self.told = ToldCard()
        self.plot = AirPlot()
        frame, box = panel()
        self.heading = Label()
        self.heading.setObjectName("heading")
        self.year = QPushButton("A year")
        self.year.setObjectName("quiet")
        self.year.setCheckable(True)
        self.year.setToolTip("The air of a year by the day, in place of seven weeks by the hour")
        self.year.toggled.connect(self.year_turned)
        top = QHBoxLayout()
        top.addWidget(self.heading)
        top.addStretch(1)
        top.addWidget(self.year)
        note = Label("Line: temperature. Shaded: humidity. Dotted and pale: expected, or usual where nobody knows.")
        note.setObjectName("muted")
        box.addLayout(top)
        box.addWidget(self.plot, 1)
        box.addWidget(note)
        buttons = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for name, text in (
            ("air", "Say what it is  (A)"), ("log", "From a logger file …"),
            ("forecast_file", "Forecast from a file …"),
            ("forecast", "Forecast by hand …"), ("usual", "Usual, by month …"),
        ):  # fmt: skip
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, n=name: self.asked.emit(n))
            buttons.addWidget(button)
            self.buttons[name] = button
        box.addLayout(buttons)
        foot = QHBoxLayout()
        foot.setSpacing(12)
        foot.addWidget(self._sensors(), 1)
        foot.addWidget(self._tools(), 1)
        air = QWidget()
        of_air = QVBoxLayout(air)
        of_air.setContentsMargins(0, 4, 0, 0)
        of_air.setSpacing(10)
        of_air.addWidget(self.told)
        of_air.addWidget(frame, 1)
        of_air.addLayout(foot)
        self.hours = HoursPage()
        self.people = PeoplePage()
        self.stock, self.mixing = StockPage(), MixingPage()
        self.knows, self.right = KnowsPage(), RightPage()
        labels = (
            ("air", "Air"),
            ("stock", "Stock"),
            ("mixing", "Mixing"),
            ("knows", "What it knows"),
            ("right", "Was Ravden right?"),
            ("hours", "Hours"),
            ("people", "People and booth"),
            ("book", "Book"),
        )
        self.pages = Turning(
            labels,
            {
                "air": air,
                "stock": self.stock,
                "mixing": self.mixing,
                "knows": self.knows,
                "right": self.right,
                "hours": self.hours,
                "people": self.people,
                "book": self.book,
            },
        )
        outer = QVBoxLayout(self)
        outer.setContentsMargins(22, 12, 22, 12)
        outer.setSpacing(8)
        outer.addWidget(self.title)
        outer.addWidget(self.pages, 1)

    def _sensors(self) -> QWidget:
        frame, box = panel()
        heading = Label("Sensors")
        heading.setObjectName("heading")
        box.addWidget(heading)
        self.states: dict[str, QLabel] = {}
        self.values: dict[str, QLabel] = {}
        self.turns: dict[str, QPushButton] = {}
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        for row, (kind, text) in enumerate((("hygrometer", "Hygrometer"), ("scale", "Scale"))):
            value, state = Label("–"), Label("Not listened to.")
            value.setObjectName("big")
            state.setObjectName("muted")
            state.setWordWrap(True)
            turn = QPushButton("Listen")
            turn.setCheckable(True)
            turn.toggled.connect(lambda on, k=kind: self._turned(k, on))
            grid.addWidget(Label(text), 2 * row, 0)
            grid.addWidget(value, 2 * row, 1)
            grid.addWidget(turn, 2 * row, 2)
            grid.addWidget(state, 2 * row + 1, 0, 1, 3)
            self.states[kind], self.values[kind], self.turns[kind] = state, value, turn
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        self.weigh = QPushButton("Log this as the witness card's gain")
        self.weigh.setToolTip(
            "For the instrument chosen on the Rack; the scale is taken to have been set to the bare card"
        )
        self.weigh.setEnabled(False)
        self.weigh.clicked.connect(self.weight_taken)
        grid.addWidget(self.weigh, 4, 0, 1, 3)
        box.addStretch(1)
        fit(frame, lambda w: w.setFixedHeight(px(FOOT_H)))
        return frame

    def _tools(self) -> QWidget:
        frame, box = panel()
        heading = Label("What finishes and tools do here")
        heading.setObjectName("heading")
        box.addWidget(heading)
        self.no_tools = Label("Nothing yet: it is learnt from what you log.")
        self.no_tools.setObjectName("muted")
        box.addWidget(self.no_tools)
        self.tools: list[tuple[QLabel, QLabel]] = []
        for _ in range(MOST_TOOLS):
            name, does = Label(), Label()
            name.setObjectName("strong")
            does.setWordWrap(True)
            name.hide()
            does.hide()
            box.addWidget(name)
            box.addWidget(does)
            self.tools.append((name, does))
        box.addStretch(1)
        fit(frame, lambda w: w.setFixedHeight(px(FOOT_H)))
        return frame

    def _turned(self, kind: str, on: bool) -> None:
        self.turns[kind].setText("Stop" if on else "Listen")
        self.sensor_turned.emit(kind, on)

    def show_shop(self, shown: ShopShown, units: Units) -> None:
        """Show this."""
        self.title.setText(shown.name or "The shop")
        self.told.tell("plain", shown.heading, shown.detail)
        self.heading.setText("Air, a year back, by the day" if shown.year else "Air, seven weeks back and two ahead")
        self.plot.show_air(shown, units)
        self.no_tools.setVisible(not shown.tools)
        for i, (name, does) in enumerate(self.tools):
            label, text = shown.tools[i] if i < len(shown.tools) else ("", "")
            for cell, said in ((name, label), (does, text)):
                cell.setText(said)
                cell.setVisible(bool(said))

    def tell_sensor(self, kind: str, text: str) -> None:
        """What a sensor's state is."""
        self.states[kind].setText(text)

    def show_value(self, kind: str, text: str) -> None:
        """What a sensor says now."""
        if text != self.values[kind].text():
            self.values[kind].setText(text)
        if kind == "scale":
            self.weigh.setEnabled(text != "–")
