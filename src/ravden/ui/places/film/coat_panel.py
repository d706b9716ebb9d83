"""The next coat, tried out with sliders: how heavy, how thin, how many more; the picture follows a drag."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSlider, QVBoxLayout, QWidget

from ravden.text.units import Units
from ravden.ui.places.film.trial import (
    COATS_MOST,
    CUT_LEAST,
    CUT_MOST,
    MIX_MOST,
    PAD_MOST_ML,
    WET_MOST_UM,
    Trial,
    TrialShown,
)
from ravden.ui.places.film.wet_bar import WetBar
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.tone import set_tone

STEPS = 200


class CoatPanel(QWidget):
    """Says what the sliders stand for as they move, and when such a coat was laid."""

    tried = pyqtSignal(object)
    laid = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._trial: Trial | None = None
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self.labels: dict[str, QLabel] = {}
        self.values: dict[str, QLabel] = {}
        self.sliders: dict[str, QSlider] = {}
        for name, most in (("amount", STEPS), ("mix", STEPS), ("coats", COATS_MOST)):
            head = QHBoxLayout()
            label, value = Label(), Label()
            value.setObjectName("strong")
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, most)
            slider.setPageStep(10 if most == STEPS else 1)
            slider.valueChanged.connect(self._moved)
            head.addWidget(label, 1)
            head.addWidget(value)
            box.addLayout(head)
            box.addWidget(slider)
            self.labels[name], self.values[name], self.sliders[name] = label, value, slider
            if name == "amount":
                self.bar = WetBar()
                box.addWidget(self.bar)
        self.labels["coats"].setText("Coats still to lay")
        self.verdict, self.detail, self.outcome = Label(), Label(), Label()
        self.verdict.setObjectName("odds")
        self.detail.setObjectName("muted")
        for words in (self.verdict, self.detail, self.outcome):
            words.setWordWrap(True)
            box.addWidget(words)
        box.addStretch(1)
        self.lay = QPushButton("Log such a coat")
        self.lay.setToolTip("Logs one coat of this weight, on every zone, now")
        self.lay.clicked.connect(lambda: self.laid.emit(self._trial) if self._trial is not None else None)
        self.as_planned = QPushButton("As planned")
        self.as_planned.setToolTip("Put the sliders back to what the method says")
        self.as_planned.clicked.connect(self.left)
        foot = QHBoxLayout()
        foot.addWidget(self.as_planned)
        foot.addWidget(self.lay, 1)
        box.addLayout(foot)

    def show_trial(self, shown: TrialShown, units: Units) -> None:
        """Show this trial; the sliders are only moved when it is not they that asked for it."""
        trial = shown.trial
        if trial != self._trial:
            self._trial = trial
            places = {"amount": STEPS * trial.amount / _most(trial), "mix": _mix_place(trial), "coats": trial.coats}
            for name, slider in self.sliders.items():
                slider.blockSignals(True)
                slider.setValue(round(places[name]))
                slider.blockSignals(False)
        self.labels["amount"].setText(shown.amount_label)
        self.labels["mix"].setText(shown.mix_label)
        for name, text in (("amount", shown.amount), ("mix", shown.mix), ("coats", shown.coats)):
            self.values[name].setText(text)
            self.sliders[name].setAccessibleName(f"{self.labels[name].text()}: {text}")
        self.bar.setVisible(shown.bar is not None)
        if shown.bar is not None:
            self.bar.show_bar(shown.bar, trial.amount, units)
        self.verdict.setText(shown.verdict)
        set_tone(self.verdict, shown.tone)
        self.detail.setText(shown.detail)
        self.lay.setText(f"Log a coat of {shown.amount}")
        self.outcome.setText(shown.outcome)

    def _moved(self) -> None:
        if self._trial is None:
            return
        padded = self._trial.padded
        share = self.sliders["mix"].value() / STEPS
        self._trial = Trial(
            padded=padded,
            amount=max(self.sliders["amount"].value(), 1) / STEPS * _most(self._trial),
            mix=CUT_LEAST + share * (CUT_MOST - CUT_LEAST) if padded else share * MIX_MOST,
            coats=self.sliders["coats"].value(),
        )
        self.tried.emit(self._trial)


def _most(trial: Trial) -> float:
    return PAD_MOST_ML if trial.padded else WET_MOST_UM


def _mix_place(trial: Trial) -> float:
    if trial.padded:
        return STEPS * (trial.mix - CUT_LEAST) / (CUT_MOST - CUT_LEAST)
    return STEPS * trial.mix / MIX_MOST
