"""The Booth: what to do now in type that is read from two metres, a countdown, a tally, and one key an act."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ravden.ui.booth.presenter import BoothShown
from ravden.ui.theme.style import current, font
from ravden.ui.widgets import tally
from ravden.ui.widgets.panel import panel
from ravden.ui.widgets.tone import set_tone

NOW_PX, COUNT_PX, NEXT_PX = 49, 168, 32
TALLY_SCALE = 4.2
SIDE_W = 330
MOST_ROWS = 12
NOTICE_H = 64  # what was just logged is told at the foot, and must not lie on the keys


class BigTally(QWidget):
    """Coats on, in strokes of five, and those still to come thin beside them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.done, self.of = 0, 0
        self.setFixedHeight(int(tally.HEIGHT_PX * TALLY_SCALE) + 6)

    def show_tally(self, done: int, of: int) -> None:
        """Show these."""
        self.done, self.of = done, of
        self.setAccessibleName(f"{done} of {of} coats")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(TALLY_SCALE, TALLY_SCALE)
        drawn = tally.draw(painter, 2, 1, self.done, current().ink)
        gap = 8.0 if self.done else 2.0
        tally.draw(painter, drawn.right() + gap, 1, max(self.of - self.done, 0), current().muted, planned=True)


class BoothView(QWidget):
    """Says which act was done: by key, mouse or touch."""

    act_asked = pyqtSignal()
    back_asked = pyqtSignal()
    instrument_picked = pyqtSignal(str)
    mishap_logged = pyqtSignal(str, str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.title, self.now, self.count, self.under, self.next = (QLabel() for _ in range(5))
        self.title.setFont(font(NEXT_PX))
        self.now.setFont(font(NOW_PX, bold=True))
        self.count.setFont(font(COUNT_PX, bold=True))
        self.under.setFont(font(NEXT_PX))
        self.next.setFont(font(NEXT_PX))
        for label, px in ((self.title, NEXT_PX), (self.now, NOW_PX), (self.count, COUNT_PX), (self.under, NEXT_PX),
                          (self.next, NEXT_PX)):  # fmt: skip
            # The style sheet's size would win over the font's.
            label.setStyleSheet(f"font-size: {px}px;" + ("font-weight: bold;" if px > NEXT_PX else ""))
            label.setWordWrap(True)
        self.now.setAccessibleName("Now")
        self.count.setAccessibleName("Countdown")
        self.tally = BigTally()
        self.film, self.air, self.limit, self.cautions = (QLabel() for _ in range(4))
        self.film.setObjectName("big")
        self.air.setObjectName("said")
        for label in (self.air, self.limit):
            label.setStyleSheet("font-size: 17px;")
        self.cautions.setObjectName("fault")
        for label in (self.film, self.air, self.limit, self.cautions):
            label.setWordWrap(True)
        self.act = QPushButton()
        self.act.setObjectName("main")
        self.act.setMinimumHeight(64)
        self.back = QPushButton("Backspace: back")
        self.mishap = QPushButton("N: gone wrong")
        self.back.setToolTip("Takes the last pass, coat or mishap back")
        self.mishap.setToolTip("Notes a run, a nib, blush … on a zone, and says what to do now")
        self.act.clicked.connect(self.act_asked)
        self.back.clicked.connect(self.back_asked)
        self.mishap.clicked.connect(self.ask_mishap)
        for button in (self.act, self.back, self.mishap):
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setStyleSheet("font-size: 19px; padding: 6px 4px;")
            button.setMinimumHeight(64)
        left_frame, left = panel()
        for widget in (self.title, self.now, self.count, self.under, self.tally, self.next):
            left.addWidget(widget)
        left.addStretch(1)
        keys = QHBoxLayout()
        keys.addWidget(self.act, 1)
        keys.addWidget(self.back, 1)
        keys.addWidget(self.mishap, 1)
        left.addLayout(keys)
        left.addSpacing(NOTICE_H)
        right_frame, right = panel()
        right_frame.setFixedWidth(SIDE_W)
        heading = QLabel("In this session")
        heading.setObjectName("heading")
        right.addWidget(heading)
        self.rows: list[QPushButton] = []
        self._ids: list[str] = []
        for _ in range(MOST_ROWS):
            row = QPushButton()
            row.setObjectName("zone")
            row.setCheckable(True)
            row.setMinimumHeight(34)
            row.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            row.clicked.connect(self._row)
            right.addWidget(row)
            self.rows.append(row)
        right.addStretch(1)
        for widget in (self.film, self.air, self.limit, self.cautions):
            right.addWidget(widget)
        right.addSpacing(NOTICE_H)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(22, 12, 22, 12)
        outer.setSpacing(12)
        outer.addWidget(left_frame, 1)
        outer.addWidget(right_frame)
        self.defects = Defects(self)
        self.defects.picked.connect(self._picked)

    def show_booth(self, shown: BoothShown) -> None:
        """Show this."""
        p = current()
        ink = {"open": p.open_ink, "warn": p.warn}.get(shown.tone, p.ink)
        self.title.setText(shown.title)
        self.now.setText(shown.now)
        self.count.setText(shown.count)
        self.count.setVisible(bool(shown.count))
        px = COUNT_PX if len(shown.count) <= 8 else NOW_PX
        self.count.setStyleSheet(f"font-size: {px}px; font-weight: bold; color: {ink};")
        self.under.setText(shown.under_count)
        self.under.setStyleSheet(f"font-size: {NEXT_PX}px; color: {ink};")
        self.next.setText(shown.next)
        self.tally.show_tally(shown.done, shown.of)
        self.film.setText(shown.film)
        self.air.setText(shown.air)
        set_tone(self.air, shown.air_tone)
        self.limit.setText(shown.limit)
        self.cautions.setText(" ".join(shown.cautions[:2]))
        self.act.setText(shown.space)
        self._ids = [r.id for r in shown.rows[:MOST_ROWS]]
        for i, button in enumerate(self.rows):
            button.setVisible(i < len(self._ids))
            if i < len(self._ids):
                row = shown.rows[i]
                button.setText(f"{row.name}   {row.text}")
                button.setChecked(row.here)
                colour = p.open_ink if row.ready else p.ink
                button.setStyleSheet(f"font-size: 17px; color: {colour};")

    def _row(self) -> None:
        sender = self.sender()
        at = next((i for i, b in enumerate(self.rows) if b is sender), -1)
        if 0 <= at < len(self._ids):
            self.instrument_picked.emit(self._ids[at])

    def turn(self, by: int, chosen: str) -> None:
        """The next instrument of the session, or the one before."""
        if self._ids:
            at = self._ids.index(chosen) if chosen in self._ids else -by
            self.instrument_picked.emit(self._ids[(at + by) % len(self._ids)])

    def ask_mishap(self) -> None:
        """Open the list of what can go wrong."""
        self.defects.setGeometry(self.rect().adjusted(60, 40, -60, -40))
        self.defects.show()
        self.defects.raise_()

    def _picked(self, defect: str) -> None:
        self.defects.hide()
        if defect:
            self.mishap_logged.emit(defect, self.defects.zone)
        self.setFocus()

    def event(self, event: QEvent | None) -> bool:
        # The letters that act in the whole window act here on the booth alone.
        letter = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if letter and isinstance(event, QKeyEvent) and self._mine(event):
            event.accept()
            return True
        return super().event(event)

    def _mine(self, event: QKeyEvent) -> bool:
        """Whether a key means something of the booth's own: N always, every letter while a mishap is picked."""
        if event.modifiers() != Qt.KeyboardModifier.NoModifier:
            return False
        letter = Qt.Key.Key_A <= event.key() <= Qt.Key.Key_Z
        return event.key() == Qt.Key.Key_N or (letter and self.defects.isVisible())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.isAutoRepeat():
            return
        if self.defects.isVisible():
            self.defects.key(event)
        elif event.key() == Qt.Key.Key_Space:
            self.act_asked.emit()
        elif event.key() == Qt.Key.Key_Backspace:
            self.back_asked.emit()
        elif event.key() == Qt.Key.Key_N:
            self.ask_mishap()
        elif event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            chosen = next((i for i, b in zip(self._ids, self.rows, strict=False) if b.isChecked()), "")
            self.turn(1 if event.key() == Qt.Key.Key_Down else -1, chosen)
        else:
            super().keyPressEvent(event)


class Defects(QWidget):
    """What can go wrong, as large targets, and the zone it went wrong on; a letter picks one, Esc none."""

    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.hide()
        frame, box = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        heading = QLabel("What went wrong? A letter picks it; Esc leaves.")
        heading.setObjectName("big")
        self.where = QComboBox()
        self.where.setAccessibleName("Zone it went wrong on")
        self.where.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.where.setToolTip("Left and right arrow turn to another zone")
        top = QHBoxLayout()
        top.addWidget(heading, 1)
        top.addWidget(QLabel("On the zone (left, right)"))
        top.addWidget(self.where)
        box.addLayout(top)
        self._grid = QGridLayout()
        box.addLayout(self._grid)
        box.addStretch(1)
        self.buttons: dict[str, QPushButton] = {}

    @property
    def zone(self) -> str:
        """The zone chosen."""
        return self.where.currentData() or ""

    def offer(self, defects: dict[str, tuple[str, str]], zones: tuple[tuple[str, str], ...]) -> None:
        """These can be picked, on these zones: name and label of each."""
        if [self.where.itemData(i) for i in range(self.where.count())] != [z for z, _ in zones]:
            self.where.clear()
            for name, label in zones:
                self.where.addItem(label, name)
        if self.buttons:
            return
        for i, (name, (label, _)) in enumerate(defects.items()):
            button = QPushButton(f"{chr(65 + i)}   {label}")
            button.setStyleSheet("font-size: 20px; text-align: left;")
            button.setMinimumHeight(58)
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(lambda _=False, n=name: self.picked.emit(n))
            self._grid.addWidget(button, i // 2, i % 2)
            self.buttons[name] = button

    def key(self, event: QKeyEvent) -> None:
        """A key pressed while it is open."""
        at = event.key() - Qt.Key.Key_A
        if event.key() == Qt.Key.Key_Escape:
            self.picked.emit("")
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.where.count():
            by = 1 if event.key() == Qt.Key.Key_Right else -1
            self.where.setCurrentIndex((self.where.currentIndex() + by) % self.where.count())
        elif 0 <= at < len(self.buttons):
            self.picked.emit(list(self.buttons)[at])
