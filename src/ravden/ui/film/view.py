"""The Film place: the timeline, the instrument's zones, the cross-section, and what comes next."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.core.units import Units
from ravden.ui.film.outline_view import OutlineView
from ravden.ui.film.presenter import FilmShown, SectionShown
from ravden.ui.film.section_view import SectionView
from ravden.ui.film.timeline import Timeline
from ravden.ui.theme.style import current
from ravden.ui.widgets.told import ToldCard


def panel() -> tuple[QFrame, QVBoxLayout]:
    """A framed panel and its layout."""
    frame = QFrame()
    frame.setObjectName("panel")
    box = QVBoxLayout(frame)
    box.setContentsMargins(14, 10, 14, 10)
    box.setSpacing(6)
    return frame, box


class FilmView(QWidget):
    """Shows a FilmShown; says which zone and which moment is looked at."""

    zone_picked = pyqtSignal(str)
    cursor_moved = pyqtSignal(float)
    instrument_picked = pyqtSignal(str)
    coat_asked = pyqtSignal()
    sanding_asked = pyqtSignal()
    reading_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = QLabel()
        self.title.setObjectName("title")
        self.about = QLabel()
        self.about.setObjectName("muted")
        self.chooser = QComboBox()
        self.chooser.setAccessibleName("Instrument")
        self.chooser.setMinimumWidth(170)
        self.chooser.activated.connect(lambda i: self.instrument_picked.emit(self.chooser.itemData(i)))
        head = QHBoxLayout()
        head.addWidget(self.title)
        head.addSpacing(8)
        head.addWidget(self.about, 1, Qt.AlignmentFlag.AlignBottom)
        head.addWidget(self.chooser)
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
        box.addLayout(head)
        box.addLayout(middle, 1)
        box.addWidget(self._foot())
        self._zone_buttons: list[QPushButton] = []

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

    def offer(self, instruments: list[tuple[str, str]], selected: str) -> None:
        """The instruments one can turn to."""
        self.chooser.blockSignals(True)
        self.chooser.clear()
        for i, (instrument_id, name) in enumerate(instruments):
            self.chooser.addItem(name, instrument_id)
            if instrument_id == selected:
                self.chooser.setCurrentIndex(i)
        self.chooser.blockSignals(False)

    def show_film(self, shown: FilmShown, units: Units, cursor_h: float | None) -> None:
        """Show this."""
        metrics = self.title.fontMetrics()
        self.title.setText(metrics.elidedText(shown.title, Qt.TextElideMode.ElideRight, 380))
        self.title.setToolTip(shown.title)
        self.about.setText(shown.about)
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
        while self.table.count():
            item = self.table.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        p = current()
        self._zone_buttons = []
        for i, row in enumerate(shown.rows):
            name = QPushButton(row.label)
            name.setCheckable(True)
            name.setChecked(row.name == shown.zone)
            name.setAccessibleName(f"{row.label}: {row.film}, {row.range}, odds {row.odds}")
            weight = "bold" if row.name == shown.zone else "normal"
            edge = p.accent if row.name == shown.zone else "transparent"
            name.setStyleSheet(
                f"QPushButton {{ text-align: left; padding: 2px 5px; border: none; border-left: 3px solid {edge}; "
                f"background: transparent; font-weight: {weight}; }} "
                f"QPushButton:focus {{ border: 1px solid {p.accent}; }}"
            )
            name.clicked.connect(lambda _=False, zone=row.name: self.zone_picked.emit(zone))
            self._zone_buttons.append(name)
            film, span, odds = QLabel(row.film), QLabel(row.range), QLabel(row.odds)
            tone = {"open": p.open_ink, "plain": p.ink, "warn": p.warn}[row.tone]
            film.setStyleSheet("font-weight: bold;")
            span.setObjectName("muted")
            odds.setStyleSheet(f"color: {tone}; font-weight: bold;")
            for column, widget in enumerate((name, film, span, odds)):
                side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
                self.table.addWidget(widget, i, column, side | Qt.AlignmentFlag.AlignVCenter)

    def show_section(self, shown: SectionShown, film: FilmShown, at_h: float) -> None:
        """The cross-section at the cursor."""
        planned = ", as planned" if shown.planned else ""
        text = f"{film.zone_label}, {shown.moment}{planned}: {shown.film}" if shown.film else "Cross-section: bare wood"
        self.section_heading.setText(text)
        self.section.show_section(film.timeline, at_h, shown)
        self.section_heading.setToolTip(shown.film)
