"""The run: what to do now in type that is read from two metres, a countdown, a tally, and one key an act."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QPushButton, QWidget

from ravden.ui.places.booth.big_tally import BigTally
from ravden.ui.places.booth.presenter import BoothShown
from ravden.ui.places.booth.said import Said, short
from ravden.ui.places.booth.zone_bars import ZoneBars
from ravden.ui.theme.style import current, fit, font, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.row_button import RowButton
from ravden.ui.widgets.scrolled import scrolled
from ravden.ui.widgets.seen import Seen, image_of
from ravden.ui.widgets.tips import plain_tip
from ravden.ui.widgets.tone import set_tone

TITLE_PX, NOW_PX, COUNT_PX, NEXT_PX, HOW_PX, TOLD_PX, WARNED_PX, ZONES_PX = 32, 49, 150, 29, 22, 20, 22, 26
LARGER, LEAST_TIMES, MOST_COUNT = 1.3, 0.7, 1.1  # in the high-contrast form; in a low window; of the count
SEEN_W, SEEN_H, SEEN_FROM_H = 180, 120, 700  # a picture of what a paper leaves, and how high the page must be for it
SIDE_W, LEAST_ROWS_H, ROW_H = 330, 110, 44
MOST_ROWS, MOST_LINES = 40, 7
TOLD_H = 58  # two lines of what was just logged, or of what to do about a mishap
SMALL_KEYS = (
    ("pause", "P: pause", "The session is left and gone on with; sounds are silent meanwhile, the film dries on"),
    ("mix", "M: mixed", "Notes that the mix was made now: its pot life runs from here"),
    ("end", "E: end", "The session is over: what it did, and what to clean"),
    ("bold", "H: high contrast", "White and yellow on black, and larger"),
    ("sound", "V: sound", "Louder, quieter, off"),
)


def _strip(zones: tuple[tuple[str, str], ...]) -> str:
    """Zones in their order: ticked where done, strong where hands are now."""
    p = current()
    out = []
    for i, (label, state) in enumerate(zones, 1):
        text = escape(label).replace(" ", "&nbsp;")
        if state == "done":
            out.append(f'<span style="color: {p.muted}">✓&nbsp;{text}</span>')
        elif state == "now":
            out.append(f'<b style="color: {p.accent}">{i}&nbsp;{text}</b>')
        else:
            out.append(f"{i}&nbsp;{text}")
    return " &nbsp; ".join(out)


class RunPage(QWidget):
    """Says which key was asked for: by mouse or touch; the view hears the keyboard."""

    act_asked, back_asked, mishap_asked = pyqtSignal(), pyqtSignal(), pyqtSignal()
    key_asked = pyqtSignal(str)
    instrument_picked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.large = False
        self._here = ""
        self.zone = ""  # the one in hand, where it is known
        self._shape: tuple[object, ...] = ()
        self._beside_shape: tuple[object, ...] = ()
        self._shown: BoothShown | None = None
        self._resized = QTimer(self)  # once the layout has settled, sizes of type are chosen anew
        self._resized.setSingleShot(True)
        self._resized.timeout.connect(self._again)
        self.title, self.now, self.how, self.count, self.under, self.next = (Label() for _ in range(6))
        self.zones, self.told = Label(), Label()
        self.zones.setTextFormat(Qt.TextFormat.RichText)
        for label in (self.title, self.now, self.how, self.count, self.under, self.zones, self.next, self.told):
            label.setWordWrap(True)
        self.now.setAccessibleName("Now")
        self.count.setAccessibleName("Countdown")
        self.next.setAccessibleName("Next")
        self.zones.setAccessibleName("Zones in order")
        self.told.setAccessibleName("Logged last")
        fit(self.told, lambda w: w.setMinimumHeight(px(TOLD_H)))
        self.tally, self.bars = BigTally(), ZoneBars()
        self.film, self.cautions, self.banner = (Label() for _ in range(3))
        self.film.setObjectName("big")
        self.film.setAccessibleName("Film")
        self.cautions.setObjectName("fault")
        self.banner.setObjectName("said")
        set_tone(self.banner, "warn")
        fit(self.banner, lambda w: w.setStyleSheet(f"font-size: {px(22)}px;"))
        self.lines = [Label() for _ in range(MOST_LINES)]
        for label in self.lines:
            label.setObjectName("said")
            fit(label, lambda w: w.setStyleSheet(f"font-size: {px(16)}px;"))
        for label in (self.film, self.cautions, self.banner, *self.lines):
            label.setWordWrap(True)
        self._outer = outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        outer.addWidget(self._run(), 1)
        outer.addWidget(self._side())

    def lay_for(self, *, left_hand: bool) -> None:
        """For the left hand the page is laid out the other way round."""
        way = QBoxLayout.Direction.RightToLeft if left_hand else QBoxLayout.Direction.LeftToRight
        self._outer.setDirection(way)
        self._keys.setDirection(way)

    def _run(self) -> QWidget:
        self.act = QPushButton()
        self.act.setObjectName("main")
        self.back = QPushButton("Backspace: back")
        self.mishap = QPushButton("N: gone wrong")
        self.back.setToolTip("Takes the last act of the Booth back")
        self.mishap.setToolTip("Notes a run, a nib, blush … on a zone, and says what to do now")
        self.act.clicked.connect(self.act_asked)
        self.back.clicked.connect(self.back_asked)
        self.mishap.clicked.connect(self.mishap_asked)
        for button in (self.act, self.back, self.mishap):
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            fit(button, lambda w: w.setStyleSheet(f"font-size: {px(19)}px; padding: 6px 4px;"))
            fit(button, lambda w: w.setMinimumHeight(px(64)))
        frame, box = panel()
        self.frame_ = frame
        for widget in (
            self.title,
            self.banner,
            self.now,
            self.how,
            self.count,
            self.under,
            self.tally,
            self.zones,
            self.next,
        ):
            box.addWidget(widget)
        box.addStretch(1)
        self._keys = keys = QHBoxLayout()
        for button, share in ((self.act, 4), (self.back, 3), (self.mishap, 3)):
            keys.addWidget(button, share)
        box.addLayout(keys)
        small = QHBoxLayout()
        self.small: dict[str, QPushButton] = {}
        for name, text, tip in SMALL_KEYS:
            key = QPushButton(text)
            key.setToolTip(plain_tip(tip))
            key.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            fit(key, lambda w: w.setStyleSheet(f"font-size: {px(16)}px; padding: 4px;"))
            fit(key, lambda w: w.setMinimumHeight(px(44)))
            key.clicked.connect(lambda _=False, n=name: self.key_asked.emit(n))
            small.addWidget(key, 1)
            self.small[name] = key
        box.addLayout(small)
        box.addWidget(self.told)
        return frame

    def _side(self) -> QWidget:
        frame, box = panel()
        self.beside_area = frame
        fit(frame, lambda w: w.setFixedWidth(px(SIDE_W)))
        self.heading = Label()
        self.heading.setObjectName("heading")
        box.addWidget(self.heading)
        area, rows = scrolled()
        self.area = area
        fit(area, lambda w: w.setMinimumHeight(px(LEAST_ROWS_H)))
        self.rows: list[RowButton] = []
        self.ids: list[str] = []
        for _ in range(MOST_ROWS):
            row = RowButton()
            fit(row, lambda w: w.setMinimumHeight(px(ROW_H)))
            row.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            row.clicked.connect(self._row)
            rows.addWidget(row)
            self.rows.append(row)
        rows.addStretch(1)
        box.addWidget(area, 1)
        self.seen, self.seen_words = Seen(SEEN_W, SEEN_H), Label()
        self.seen_words.setWordWrap(True)
        self.seen_words.hide()
        self.seen.hide()
        for part in (self.seen_words, self.seen, self.film, self.bars, *self.lines, self.cautions):
            box.addWidget(part)
        return frame

    def _show_seen(self, shown: BoothShown) -> None:
        """What this paper should leave, mirrored in the film, where there is room for it."""
        there = shown.rough_um > 0 and self.height() >= px(SEEN_FROM_H)
        self.seen.setVisible(there)
        self.seen_words.setVisible(there)
        if not there:
            return
        from ravden.app.seen import ANGLES, picture, words_of

        rough = round(min(shown.rough_um, 20.0), 4)
        said = f"After this paper a lamp of three tubes, seen along the film: {words_of(rough, ANGLES[0])}."
        if said != self.seen_words.text():
            image = image_of(picture(rough, ANGLES[0], shown.colour))
            self.seen.show_image(image, "What this paper should leave", said)
            self.seen_words.setText(said)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._resized.start(0)

    def _again(self) -> None:
        if self._shown is not None:
            self.show_run(self._shown)

    def show_run(self, shown: BoothShown) -> None:
        """Show this."""
        self._shown = shown
        said = shown.said
        self.zone = said.zone
        self.banner.setText(shown.banner)
        self.banner.setVisible(bool(shown.banner))
        self._told(*shown.told)
        self.tally.show_tally(shown.done, shown.of)
        self.tally.setVisible(not said.paper and shown.done + shown.of > 0)
        self._fit(shown.title, said, _strip(shown.zones))
        self.film.setText(shown.film)
        self.bars.show_bars(shown.bars)
        for i, label in enumerate(self.lines):
            text, tone = shown.lines[i] if i < len(shown.lines) else ("", "plain")
            label.setText(text)
            label.setVisible(bool(text))
            set_tone(label, tone)
        self.cautions.setText(" ".join(shown.cautions))
        self._show_seen(shown)
        self.act.setText(said.space or "Space: nothing to log")
        self.act.setEnabled(bool(said.space))
        self.small["mix"].setVisible(bool(shown.pot))
        self.small["pause"].setText("P: go on" if shown.paused else "P: pause")
        self._show_rows(shown)
        self._room_for_bars()

    def _room_for_bars(self) -> None:
        """Words come first: in a low window the bars make way for what is said and warned of."""
        texts = (self.film.text(), *(label.text() for label in self.lines), self.cautions.text())
        shape = (texts, self.bars.height(), len(self.ids), self.beside_area.size())
        layout = self.beside_area.layout()
        if shape == self._beside_shape or layout is None:
            return
        self._beside_shape = shape
        self.bars.setVisible(True)
        layout.activate()
        self.bars.setVisible(layout.minimumHeightForWidth(SIDE_W) <= self.beside_area.height())

    def _told(self, text: str, tone: str) -> None:
        p = current()
        size, ink = (WARNED_PX, p.warn) if tone == "warn" else (TOLD_PX, p.muted)
        self.told.setFont(font(size))
        sheet = f"font-size: {size}px; color: {ink};"
        self.told.setText(text)
        if self.told.styleSheet() != sheet:
            self.told.setStyleSheet(sheet)

    def _fit(self, title: str, said: Said, strip: str) -> None:
        """The large type, as large as there is room for."""
        texts = (title, said.now, said.how, said.count, said.under, said.next, strip)
        labels = (self.title, self.now, self.how, self.count, self.under, self.next, self.zones)
        for label, text in zip(labels, texts, strict=True):
            if label.text() != text:
                label.setText(text)
            label.setVisible(bool(text))
        # A count that runs keeps its width; only what could change the lines asks for a new fit.
        around = (self._banner_h(), self.tally.isHidden(), self.told.heightForWidth(self.told.width()))
        shape = (*texts[:3], len(said.count), *texts[4:], said.tone, self.large, self.frame_.size(), current().name,
                 *around)  # fmt: skip
        if shape == self._shape:
            return
        self._shape = shape
        times = LARGER if self.large else 1.0
        self._size(times, said)
        layout = self.frame_.layout()
        while layout is not None and times > LEAST_TIMES:
            layout.activate()
            if layout.totalHeightForWidth(self.frame_.width()) <= self.frame_.height():
                break
            times -= 0.05
            self._size(times, said)

    def _banner_h(self) -> int:
        return 0 if self.banner.isHidden() else self.banner.heightForWidth(self.banner.width())

    def _size(self, times: float, said: Said) -> None:
        p = current()
        ink = {"open": p.open_ink, "warn": p.warn}.get(said.tone, p.ink)
        count_px = NOW_PX if len(said.count) > 8 else COUNT_PX
        for label, size, bold, colour in (
            (self.title, TITLE_PX, True, p.accent), (self.now, NOW_PX, True, p.ink),
            (self.how, HOW_PX, False, p.ink if self.large else p.muted), (self.count, count_px, True, ink),
            (self.under, NEXT_PX, False, ink), (self.next, NEXT_PX, False, p.ink), (self.zones, ZONES_PX, False, p.ink),
        ):  # fmt: skip
            size = round(size * (min(times, MOST_COUNT) if label is self.count else times))
            # The style sheet's size would win over the font's; both, so that the layout knows it too.
            label.setFont(font(size, bold=bold))
            label.setStyleSheet(f"font-size: {size}px; color: {colour};" + (" font-weight: bold;" if bold else ""))

    def _show_rows(self, shown: BoothShown) -> None:
        p = current()
        more = len(shown.rows) - MOST_ROWS
        self.heading.setText("In this session" + (f", the soonest of {len(shown.rows)}" if more > 0 else ""))
        self.ids = [r.id for r in shown.rows[:MOST_ROWS]]
        for i, button in enumerate(self.rows):
            button.setVisible(i < len(self.ids))
            if i < len(self.ids):
                row = shown.rows[i]
                button.setText(f"{short(row.name)}   {row.text}")
                button.setToolTip(plain_tip(f"{row.name}: {row.text}"))
                button.setChecked(row.here)
                sheet = f"font-size: {px(17)}px; color: {p.open_ink if row.ready else p.ink};"
                if button.styleSheet() != sheet:
                    button.setStyleSheet(sheet)
                if row.here and self._here != row.id:
                    self._here = row.id
                    self.area.ensureWidgetVisible(button)

    def _row(self) -> None:
        sender = self.sender()
        at = next((i for i, b in enumerate(self.rows) if b is sender), -1)
        if 0 <= at < len(self.ids):
            self.instrument_picked.emit(self.ids[at])

    def turn(self, by: int, chosen: str) -> None:
        """The next instrument of the session, or the one before."""
        if self.ids:
            at = self.ids.index(chosen) if chosen in self.ids else -by
            self.instrument_picked.emit(self.ids[(at + by) % len(self.ids)])
