"""The zones of a rub-out: on the outline and in a table, before and after, with odds and strokes left."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from ravden.ui.places.rubout.presenter import RubShown
from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.outline_view import OutlineView
from ravden.ui.widgets.tone import set_tone

LEAST_H = 96
HEADS = ("", "film", "after", "odds", "strokes")


class RubZonesPanel(QWidget):
    """Says where a stray scratch was found."""

    stray_asked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.zone = ""
        self.outline = OutlineView()
        fit(self.outline, lambda w: w.setMaximumHeight(px(230)))
        fit(self.outline, lambda w: w.need_height(LEAST_H))
        self.outline.setToolTip("Click the zone a stray scratch is on")
        self.outline.picked.connect(self._picked)
        self.note, self.edges, self.totals = Label(), Label(), Label()
        self.note.setObjectName("muted")
        self.edges.setObjectName("odds")
        self.cautions = Label()
        self.cautions.setObjectName("fault")
        self.stray = QPushButton("A stray deep scratch  (X)")
        self.stray.setToolTip("Notes it on the zone chosen, and says how far to step back, just there")
        self.stray.clicked.connect(lambda: self.stray_asked.emit(self.zone))
        self.table = QGridLayout()
        self.table.setHorizontalSpacing(8)
        self.table.setVerticalSpacing(0)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.note)
        box.addWidget(self.outline, 100)
        box.addLayout(self.table)
        for label in (self.edges, self.totals):
            box.addWidget(label)
        box.addWidget(self.stray)
        box.addStretch(1)
        box.addWidget(self.cautions)
        for label in (self.note, self.edges, self.totals, self.cautions):
            label.setWordWrap(True)
        self._cells: list[list[Label]] = []
        self._shown: RubShown | None = None

    def show_ladder(self, shown: RubShown) -> None:
        """Show the zones of this."""
        self._shown = shown
        if self.zone not in {z.name for z in shown.zones.zones}:
            self.zone = shown.zones.zones[0].name if shown.zones.zones else ""
        self.outline.show_body(shown.zones.body, shown.zones.neck_mm, shown.zones.zones, self.zone)
        first = shown.ladder.rungs[0].grade if shown.ladder.rungs else ""
        self.note.setText(
            f"In {shown.ladder.unit}; odds of under {shown.ladder.floor} on flats; strokes of {first} that are still "
            "safe."
            if first
            else ""
        )
        self._fill(shown)
        self.edges.setText(shown.zones.edges)
        set_tone(self.edges, shown.zones.edges_tone)
        trust = "Good to about a third; your eye decides."
        self.totals.setText(f"{shown.zones.totals} {trust}" if shown.ladder.rungs else shown.zones.totals)
        self.stray.setEnabled(bool(shown.ladder.rungs) or bool(shown.ladder.done))
        self.cautions.setText("\n".join(shown.zones.cautions))

    def _picked(self, zone: str) -> None:
        self.zone = zone
        if self._shown is not None:
            self.outline.show_body(self._shown.zones.body, self._shown.zones.neck_mm, self._shown.zones.zones, zone)

    def _fill(self, shown: RubShown) -> None:
        """Rows are made when there are too few, and hidden when there are too many."""
        while len(self._cells) < len(shown.zones.zones) + 1:
            row = [Label() for _ in HEADS]
            for column, cell in enumerate(row):
                side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
                self.table.addWidget(cell, len(self._cells), column, side)
            self._cells.append(row)
        for cell, head in zip(self._cells[0], HEADS, strict=True):
            cell.setText(head)
            cell.setObjectName("muted")
            cell.setVisible(bool(shown.zones.zones))
        for i, row in enumerate(self._cells[1:]):
            z = shown.zones.zones[i] if i < len(shown.zones.zones) else None
            texts = ("",) * 5 if z is None else (z.label, z.before, z.after, z.odds, z.strokes)
            for cell, text in zip(row, texts, strict=True):
                cell.setText(text)
                cell.setVisible(z is not None)
            if z is not None:
                row[3].setObjectName("odds")
                set_tone(row[3], z.tone)
                row[3].setToolTip(f"Of less than {z.least} {shown.ladder.unit} there, which is the least wanted")
