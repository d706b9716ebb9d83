"""The Film place: the timeline, the instrument's zones, the cross-section, and what comes next."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.core.units import Units
from ravden.ui.film.presenter import FilmShown, SectionShown
from ravden.ui.film.section_view import SectionView
from ravden.ui.film.timeline import Timeline
from ravden.ui.widgets.outline_view import OutlineView
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.place_head import PlaceHead
from ravden.ui.widgets.told import ToldCard


class FilmView(QWidget):
    """Shows a FilmShown; says which zone and which moment is looked at."""

    zone_picked = pyqtSignal(str)
    cursor_moved = pyqtSignal(float)
    coat_asked = pyqtSignal()
    sanding_asked = pyqtSignal()
    reading_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.head = PlaceHead()
        self.told = ToldCard()
        self.timeline = Timeline()
        self.timeline.cursor_moved.connect(self.cursor_moved)
        line_frame, line_box = panel()
        line_box.addWidget(self.timeline)
        left = QVBoxLayout()
        left.setSpacing(10)
        left.addWidget(self.told)
        left.addWidget(line_frame, 1)
        self.outline = OutlineView()
        self.outline.picked.connect(self.zone_picked)
        zones_frame, zones_box = panel()
        heading = QLabel("Film by zone")
        heading.setObjectName("heading")
        self.zones_note = QLabel()
        self.zones_note.setObjectName("muted")
        self.zones_note.setWordWrap(True)
        self.table = QGridLayout()
        self.table.setHorizontalSpacing(8)
        self.table.setVerticalSpacing(1)
        self.gun = QLabel()
        self.gun.setWordWrap(True)
        self.gun.setObjectName("muted")
        for w in (heading, self.zones_note):
            zones_box.addWidget(w)
        zones_box.addWidget(self.outline, 1)
        zones_box.addLayout(self.table)
        zones_box.addWidget(self.gun)
        zones_frame.setFixedWidth(292)
        middle = QHBoxLayout()
        middle.setSpacing(12)
        middle.addLayout(left, 1)
        middle.addWidget(zones_frame)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 12, 22, 12)
        box.setSpacing(10)
        box.addWidget(self.head)
        box.addLayout(middle, 1)
        box.addWidget(self._foot())
        self._zone_names: list[str] = []
        self._rows: list[tuple[QPushButton, QLabel, QLabel, QLabel]] = []

    def _foot(self) -> QFrame:
        frame, box = panel()
        row = QHBoxLayout()
        row.setSpacing(18)
        column = QVBoxLayout()
        self.section_heading = QLabel()
        self.section_heading.setObjectName("heading")
        self.section = SectionView()
        column.addWidget(self.section_heading)
        column.addWidget(self.section, 1)
        row.addLayout(column, 5)
        words = QVBoxLayout()
        words.setSpacing(3)
        self.next_heading = QLabel()
        self.next_heading.setObjectName("heading")
        self.next_text = QLabel()
        self.next_text.setWordWrap(True)
        self.cautions = QLabel()
        self.cautions.setObjectName("fault")
        self.cautions.setWordWrap(True)
        for w in (self.next_heading, self.next_text, self.cautions):
            words.addWidget(w)
        words.addStretch(1)
        row.addLayout(words, 6)
        buttons = QVBoxLayout()
        buttons.setSpacing(6)
        self.coat = QPushButton("Log a coat  (C)")
        self.coat.setObjectName("main")
        self.coat.setToolTip("Logs the usual coat on every zone, now. Shift+C to say how heavy or when.")
        self.sanding = QPushButton("Log a sanding  (S)")
        self.reading = QPushButton("Take a reading  (R)")
        for button, signal in (
            (self.coat, self.coat_asked), (self.sanding, self.sanding_asked), (self.reading, self.reading_asked),
        ):  # fmt: skip
            button.clicked.connect(signal)
            buttons.addWidget(button)
        buttons.addStretch(1)
        row.addLayout(buttons)
        box.addLayout(row)
        frame.setFixedHeight(186)
        return frame

    def show_film(self, shown: FilmShown, units: Units, cursor_h: float | None) -> None:
        """Show this."""
        self.head.tell(shown.title, shown.about)
        self.told.tell(shown.tone, shown.heading, shown.detail)
        self.timeline.show_film(shown, units, cursor_h)
        self.outline.show_body(shown.body, shown.neck_mm, shown.rows, shown.zone)
        self.zones_note.setText(f"{units.film_unit} now, 90 % interval, odds of less than {units.film(shown.floor_um)}")
        self._fill_table(shown)
        self.gun.setText(shown.gun)
        self.next_heading.setText(shown.next_heading)
        self.next_text.setText("\n".join(shown.next_lines))
        self.cautions.setText(" ".join(shown.cautions[:2]))
        self.cautions.setToolTip("\n".join(shown.cautions))

    def _fill_table(self, shown: FilmShown) -> None:
        """The rows are made once and then changed in place: making widgets is what costs."""
        names = [row.name for row in shown.rows]
        if names != self._zone_names:
            self._make_rows(names)
        for row, (name, film, span, odds) in zip(shown.rows, self._rows, strict=True):
            name.setText(row.label)
            name.setChecked(row.name == shown.zone)
            name.setAccessibleName(f"{row.label}: {row.film}, {row.range}, odds {row.odds}")
            film.setText(row.film)
            span.setText(row.range)
            odds.setText(row.odds)
            if odds.property("tone") != row.tone:
                odds.setProperty("tone", row.tone)
                style = odds.style()
                if style is not None:
                    style.unpolish(odds)
                    style.polish(odds)

    def _make_rows(self, names: list[str]) -> None:
        for row in self._rows:
            for old in row:
                self.table.removeWidget(old)
                old.deleteLater()
        self._zone_names, self._rows = names, []
        for i, zone in enumerate(names):
            name, film, span, odds = QPushButton(), QLabel(), QLabel(), QLabel()
            name.setObjectName("zone")
            name.setCheckable(True)
            name.clicked.connect(lambda _=False, z=zone: self.zone_picked.emit(z))
            film.setObjectName("strong")
            span.setObjectName("muted")
            odds.setObjectName("odds")
            cells: tuple[QWidget, ...] = (name, film, span, odds)
            for column, widget in enumerate(cells):
                side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
                self.table.addWidget(widget, i, column, side | Qt.AlignmentFlag.AlignVCenter)
            self._rows.append((name, film, span, odds))

    @property
    def zone_buttons(self) -> list[QPushButton]:
        """The zones of the table, top to bottom."""
        return [row[0] for row in self._rows]

    def show_section(self, shown: SectionShown, film: FilmShown, at_h: float) -> None:
        """The cross-section at the cursor."""
        planned = ", as planned" if shown.planned else ""
        text = f"{film.zone_label}, {shown.moment}{planned}: {shown.film}" if shown.film else "Cross-section: bare wood"
        self.section_heading.setText(text)
        self.section.show_section(film.timeline, at_h, shown)
        self.section_heading.setToolTip(shown.film)
