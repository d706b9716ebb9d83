"""Beside the timeline: the zones on the outline and in a table, what the gun was learnt to do, and what to measure."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.text.units import Units
from ravden.ui.places.film.presenter import FilmShown
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.outline_view import OutlineView
from ravden.ui.widgets.tone import set_tone

HEADS = ("film", "90 %", "least", "odds of less")


class ZonesPanel(QWidget):
    """Says which zone is picked, and where on the outline."""

    zone_picked = pyqtSignal(str)
    placed = pyqtSignal(str, float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.note = Label()
        self.note.setObjectName("muted")
        self.note.setToolTip(
            "Film once it has dried, its 90 % interval, the least that is wanted there, and the odds of having less"
        )
        self.odds = QPushButton("Show odds")
        self.odds.setObjectName("quiet")
        self.odds.setCheckable(True)
        self.odds.setToolTip(
            "Put the odds of having less than the least film wanted on the outline, instead of the film"
        )
        self.outline = OutlineView()
        self.outline.picked.connect(self.zone_picked)
        self.outline.placed.connect(self.placed)
        self.odds.toggled.connect(self.outline.show_odds)
        self.table = QGridLayout()
        self.table.setHorizontalSpacing(8)
        self.table.setVerticalSpacing(0)
        self.gun = Label()
        self.measure = Label()
        for label in (self.gun, self.measure):
            label.setWordWrap(True)
        self.gun.setObjectName("muted")
        top = QHBoxLayout()
        top.addWidget(self.note, 1)
        top.addWidget(self.odds)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(5)
        box.addLayout(top)
        box.addWidget(self.outline, 1)
        box.addLayout(self.table)
        box.addWidget(self.gun)
        box.addWidget(self.measure)
        self._heads = [Label() for _ in HEADS]
        for column, head in enumerate(self._heads, start=1):
            head.setObjectName("muted")
            self.table.addWidget(head, 0, column, Qt.AlignmentFlag.AlignRight)
        self._zone_names: list[str] = []
        self._rows: list[tuple[QPushButton, QLabel, QLabel, QLabel, QLabel]] = []

    def show_film(self, shown: FilmShown, units: Units) -> None:
        """Show the zones of this."""
        self.outline.show_body(shown.body, shown.neck_mm, shown.rows, shown.zone)
        self.outline.show_places(shown.places)
        self.outline.show_spots(shown.spots)
        wanted = shown.floor_um > 0
        self.note.setText(f"In {units.film_unit}, once dry" + ("" if wanted else "; no least film is wanted"))
        for head, text in zip(self._heads, HEADS, strict=True):
            head.setText(text if wanted or text not in HEADS[2:] else "")
        self._fill_table(shown)
        self.gun.setText(shown.gun)
        self.measure.setText(shown.measure)

    def _fill_table(self, shown: FilmShown) -> None:
        """The rows are made once and then changed in place: making widgets is what costs."""
        names = [row.name for row in shown.rows]
        if names != self._zone_names:
            self._make_rows(names)
        for row, (name, film, span, least, odds) in zip(shown.rows, self._rows, strict=True):
            name.setText(row.label)
            name.setChecked(row.name == shown.zone)
            name.setAccessibleName(f"{row.label}: {row.film}, {row.range}, odds of under {row.least}: {row.odds}")
            film.setText(row.film)
            span.setText(row.range)
            least.setText(row.least)
            odds.setText(row.odds)
            set_tone(odds, row.tone)

    def _make_rows(self, names: list[str]) -> None:
        for row in self._rows:
            for old in row:
                self.table.removeWidget(old)
                old.deleteLater()
        self._zone_names, self._rows = names, []
        for i, zone in enumerate(names, start=1):
            name, film, span, least, odds = QPushButton(), Label(), Label(), Label(), Label()
            name.setObjectName("zone")
            name.setCheckable(True)
            name.clicked.connect(lambda _=False, z=zone: self.zone_picked.emit(z))
            film.setObjectName("strong")
            for label in (span, least):
                label.setObjectName("muted")
            odds.setObjectName("odds")
            cells: tuple[QWidget, ...] = (name, film, span, least, odds)
            for column, widget in enumerate(cells):
                side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
                self.table.addWidget(widget, i, column, side | Qt.AlignmentFlag.AlignVCenter)
            self._rows.append((name, film, span, least, odds))

    @property
    def zone_buttons(self) -> list[QPushButton]:
        """The zones of the table, top to bottom."""
        return [row[0] for row in self._rows]
