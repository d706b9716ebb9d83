"""An old finish nobody knows: what was tried on hidden wood, what it tells, and what may go over it."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFormLayout, QHBoxLayout, QTextBrowser, QWidget

from ravden.core.method.refinish import Tried
from ravden.ui.places.methods.old_finish import OldShown
from ravden.ui.theme.style import current, fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel

DROPS = (
    ("", "not tried"),
    ("softens", "it goes soft or sticky"),
    ("dulls", "it dulls or wrinkles a little"),
    ("nothing", "nothing happens"),
)
THICKS = (("", "cannot tell"), ("yes", "thick as a coin"), ("no", "thin"))
FORM_W = 360


class OldFinishView(QWidget):
    """Says what was tried and which kind is looked at."""

    tried = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.alcohol, self.thinner, self.thick = QComboBox(), QComboBox(), QComboBox()
        for box, choices in ((self.alcohol, DROPS), (self.thinner, DROPS), (self.thick, THICKS)):
            for value, text in choices:
                box.addItem(text, value)
            box.activated.connect(self._told)
        self.balls = QCheckBox("Paper balls up on it")
        self.refuses = QCheckBox("Dye or stain will not take")
        for tick in (self.balls, self.refuses):
            tick.toggled.connect(self._told)
        self.under = QComboBox()
        self.under.setAccessibleName("Kind of old finish looked at")
        self.under.activated.connect(self._told)
        how = Label(
            "Try on wood a plate or the fingerboard hides: one drop, one minute, then a white cloth. Gloves, open air, "
            "no flame; the solvent's own data sheet comes first."
        )
        how.setObjectName("muted")
        how.setWordWrap(True)
        form = QFormLayout()
        form.addRow("Alcohol", self.alcohol)
        form.addRow("Lacquer thinner", self.thinner)
        form.addRow("The film is", self.thick)
        form.addRow(self.balls)
        form.addRow(self.refuses)
        form.addRow("Look at", self.under)
        left_frame, left = panel()
        heading = Label("What does it do?")
        heading.setObjectName("heading")
        left.addWidget(heading)
        left.addWidget(how)
        left.addLayout(form)
        left.addStretch(1)
        fit(left_frame, lambda w: w.setFixedWidth(px(FORM_W)))
        self.page = QTextBrowser()
        self.page.setAccessibleName("What the old finish is likely to be, and what may go over it")
        right_frame, right = panel()
        right.addWidget(self.page)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        row.addWidget(left_frame)
        row.addWidget(right_frame, 1)

    def _told(self) -> None:
        self.tried.emit(self.answers())

    def answers(self) -> tuple[Tried, str]:
        """What was tried, and the kind looked at."""
        tried = Tried(
            alcohol=self.alcohol.currentData(), thinner=self.thinner.currentData(), thick=self.thick.currentData(),
            balls=self.balls.isChecked(), refuses=self.refuses.isChecked(),
        )  # fmt: skip
        return tried, self.under.currentData() or ""

    def show_old(self, shown: OldShown) -> None:
        """Show this."""
        p = current()
        self.under.blockSignals(True)
        self.under.clear()
        for kind_id, label in shown.kinds:
            self.under.addItem(label, kind_id)
        self.under.setCurrentIndex(max(self.under.findData(shown.under), 0))
        self.under.blockSignals(False)
        tone = {"open": p.open_ink, "plain": p.ink, "warn": p.warn}
        kinds = "".join(f"<p style='margin: 2px 0'><b>{escape(a)}</b>: {escape(b)}</p>" for a, b in shown.likely)
        rows = "".join(
            f"<tr><td style='padding: 2px 12px 2px 0'>{escape(name)}</td>"
            f"<td style='padding: 2px 12px 2px 0; color: {tone[t]}'><b>{escape(verdict)}</b></td>"
            f"<td style='padding: 2px 0; color: {p.muted}'>{escape(reason)}</td></tr>"
            for name, verdict, t, reason in shown.overs
        )
        warning = f"<p style='color: {p.warn}'><b>{escape(shown.warning)}</b></p>" if shown.warning else ""
        self.page.setHtml(
            f"<h3 style='margin: 0 0 4px 0'>{escape(shown.heading)}</h3>{kinds}{warning}"
            f"<h3 style='margin: 12px 0 4px 0'>Over {escape(shown.under_label)}</h3>"
            f"<p style='margin: 2px 0'>{escape(shown.off)}</p><table>{rows}</table>"
        )
