"""The Film place: the timeline, the instrument's zones, the cross-section, and what comes next."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ravden.text.units import Units
from ravden.ui.places.film.advice import TroubleShown
from ravden.ui.places.film.presenter import FilmShown, SectionShown
from ravden.ui.places.film.section_view import SectionView
from ravden.ui.places.film.side import Side
from ravden.ui.places.film.timeline import Timeline
from ravden.ui.theme.style import fit, px, scale
from ravden.ui.widgets.explained import Explained
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.place_head import PlaceHead
from ravden.ui.widgets.tips import plain_tip
from ravden.ui.widgets.told import ToldCard
from ravden.ui.widgets.tone import set_tone

ALWAYS = ("coat", "sanding", "reading")  # offered whatever is next


def _foot_height(frame: QFrame) -> None:
    """As high as it is at the usual size; with larger type as high as its words want."""
    frame.setMinimumHeight(px(186))
    frame.setMaximumHeight(px(186) if scale() <= 1 else px(400))


class FilmView(QWidget):
    """Shows a FilmShown; says which zone and which moment is looked at."""

    zone_picked = pyqtSignal(str)
    cursor_moved = pyqtSignal(float)
    step_picked = pyqtSignal(int)
    coat_asked = pyqtSignal()
    sanding_asked = pyqtSignal()
    reading_asked = pyqtSignal()
    light_asked = pyqtSignal()
    step_asked = pyqtSignal()
    wrong_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.head = PlaceHead()
        self.told = ToldCard()
        self.timeline = Timeline()
        self.timeline.cursor_moved.connect(self.cursor_moved)
        self.timeline.step_picked.connect(self.step_picked)
        line_frame, line_box = panel()
        line_box.addWidget(self.timeline)
        left = QVBoxLayout()
        left.setSpacing(10)
        self.wrong, self.wrong_text = QPushButton("What is wrong  (G)"), Label()
        self.wrong.setToolTip("Note what went wrong, see what did it, and choose what puts it right")
        self.wrong.clicked.connect(self.wrong_asked)
        self.wrong_text.setWordWrap(True)
        set_tone(self.wrong_text, "warn")
        left.addWidget(self.told)
        left.addWidget(line_frame, 1)
        self._nothing = QWidget()  # in the place of the picture, where there is none
        self._nothing.hide()
        left.addWidget(self._nothing, 1)
        line_box.insertWidget(0, self.wrong_text)
        self.wrong_text.hide()
        self.side = Side()
        self.side.zones.zone_picked.connect(self.zone_picked)
        middle = QHBoxLayout()
        middle.setSpacing(12)
        middle.addLayout(left, 1)
        middle.addWidget(self.side)
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 12, 22, 12)
        box.setSpacing(10)
        box.addWidget(self.head)
        box.addLayout(middle, 1)
        foot = self._foot()
        box.addWidget(foot)
        self._pictures = (line_frame, foot)

    def _foot(self) -> QFrame:
        frame, box = panel()
        row = QHBoxLayout()
        row.setSpacing(18)
        column = QVBoxLayout()
        self.section_heading = Label()
        self.section_heading.setObjectName("heading")
        self.section = SectionView()
        column.addWidget(self.section_heading)
        column.addWidget(self.section, 1)
        row.addLayout(column, 5)
        words = QVBoxLayout()
        words.setSpacing(3)
        self.next_heading = Label()
        self.next_heading.setObjectName("heading")
        self.next_text = Explained()
        self.cautions = Label()
        self.cautions.setObjectName("fault")
        self.cautions.setWordWrap(True)
        for w in (self.next_heading, self.next_text, self.cautions):
            words.addWidget(w)
        words.addStretch(1)
        row.addLayout(words, 6)
        buttons = QVBoxLayout()
        buttons.setSpacing(6)
        self.coat = QPushButton("Log a coat  (C)")
        self.coat.setToolTip("Logs the usual coat on every zone, now. Shift+C to say how heavy or when.")
        self.sanding = QPushButton("Log a sanding  (S)")
        self.reading = QPushButton("Take a reading  (R)")
        self.light = QPushButton("Log light  (L)")
        self.step = QPushButton("It is done  (D)")
        self.step.setToolTip("Ticks off the next step of the plan")
        self._acts = {
            "coat": (self.coat, self.coat_asked), "sanding": (self.sanding, self.sanding_asked),
            "light": (self.light, self.light_asked), "step": (self.step, self.step_asked),
            "reading": (self.reading, self.reading_asked),
        }  # fmt: skip
        for button, signal in self._acts.values():
            button.clicked.connect(signal)
            buttons.addWidget(button)
        self._buttons, self._act = buttons, ""
        buttons.addStretch(1)
        buttons.addWidget(self.wrong)
        row.addLayout(buttons)
        box.addLayout(row)
        self._offer("coat")  # now that they stand in something: what stands in nothing would be a window of its own
        fit(frame, _foot_height)
        return frame

    def show_film(self, shown: FilmShown, units: Units, cursor_h: float | None) -> None:
        """Show this."""
        self.head.tell(shown.title, shown.about)
        self._offer(shown.act)
        self.told.show_told(shown.told)
        self.wrong_text.setText(f"{shown.wrong}." if shown.wrong else "")
        self.wrong_text.setVisible(bool(shown.wrong))
        self.timeline.show_film(shown, units, cursor_h)
        self.side.zones.show_film(shown, units)
        self.next_heading.setText(shown.next_heading)
        self.next_text.setText("\n".join(shown.next_lines))
        self.cautions.setText(" ".join(shown.cautions[:2]))
        self.cautions.setToolTip("\n".join(shown.cautions))

    def show_trouble(self, shown: TroubleShown) -> None:
        """Only the entries: there is nothing to draw."""
        self.head.tell(shown.title, "")
        self.told.show_told(shown.told)
        for picture in self._pictures:
            picture.hide()
        self._nothing.show()
        self.side.turn_to("log")
        self.side.log.show_bare(shown.rows, shown.entry)

    def no_trouble(self) -> None:
        """All of it is there again."""
        for picture in self._pictures:
            picture.show()
        self._nothing.hide()

    def _offer(self, act: str) -> None:
        """The large button is the act that is next; below it the usual ones."""
        if act == self._act:
            return
        self._act = act
        for key, (button, _) in self._acts.items():
            button.setVisible(key == act or key in ALWAYS)
            self._buttons.removeWidget(button)
            button.setObjectName("main" if key == act else "")
            if (style := button.style()) is not None:
                style.unpolish(button)
                style.polish(button)
        for i, key in enumerate((act, *(k for k in self._acts if k != act))):
            self._buttons.insertWidget(i, self._acts[key][0])

    def show_tried(self, shown: FilmShown, units: Units, cursor_h: float | None) -> None:
        """Only the picture, while a slider is dragged."""
        self.timeline.show_film(shown, units, cursor_h)

    def show_section(self, shown: SectionShown, film: FilmShown, at_h: float) -> None:
        """The cross-section at the cursor."""
        planned = ", as planned" if shown.planned else ""
        text = f"{film.zone_label}, {shown.moment}{planned}: {shown.film}" if shown.film else "Cross-section: bare wood"
        self.section_heading.setText(text)
        self.section.show_section(film.timeline, at_h, shown)
        self.section_heading.setToolTip(plain_tip(shown.film))
