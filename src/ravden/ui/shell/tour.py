"""A tour of six captions over the real screens: Enter goes on, Esc leaves."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRect, Qt, QTimer
from PyQt6.QtGui import QColor, QKeyEvent, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from ravden.ui.theme import style
from ravden.ui.theme.style import px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.over import Over
from ravden.ui.widgets.painting import painting

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell

# The place, the part of its view the caption speaks of, and what it says.
STOPS = (
    ("rack", "lanes", "The Rack: every instrument, through time",
     "A lane is an instrument: its film grows to the right, pale while it is soft, dark when it is hard. Strokes are "
     "coats; an upright line is when you may sand, buff or put it in its case. The cards say what waits for you."),
    ("film", "timeline", "Film: how much there is, and how soft",
     "One part of one instrument, from bare wood to today and on as planned. The dashes say how sure the thickness is; "
     "the red line is the least you want left. Point anywhere, and the cross-section below shows that moment."),
    ("film", "side", "The panels beside it answer questions",
     "How thick is each part? How heavy may the next coat be in this air? When may it be sanded, and why? How many "
     "more coats? What was logged, and how do I put it right?"),
    ("booth", "", "Booth: for full hands",
     "Spraying or sanding, one key does it: Space logs what you just did and says what is next, large enough to read "
     "across the room. All of it is kept at once, also when the power goes."),
    ("rubout", "", "Rub-out: which papers, and can the film pay?",
     "From the surface as it is to the sheen you want: each paper, what it takes off, what is left, how long, and what "
     "to look for. It warns before the film is sanded through."),
    ("shop", "", "Shop and Methods: what it goes by",
     "Say what the air is, bring in a logger's file, set when you work. Methods has the ways of finishing, step by "
     "step. F1 opens the guide wherever you are; ? shows the keys of the place."),
)  # fmt: skip
WIDTH, FROM_EDGE = 560, 18


class Ring(QWidget):
    """Drawn round what a caption speaks of; the mouse goes through it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.setPen(QPen(QColor(style.current().accent), 3))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))


class Tour(Over):
    """The caption. Begun anew each time; gone when it is left or over."""

    def __init__(self, window: Shell, ground: QWidget) -> None:
        super().__init__(ground)
        self._window, self.at = window, 0
        self.text, self.count = Label(), Label()
        self.count.setObjectName("muted")
        self.text.setWordWrap(True)
        self.on, self.back, self.leave = QPushButton(), QPushButton("Back  (←)"), QPushButton("Leave  (Esc)")
        self.on.setObjectName("main")
        self.on.clicked.connect(lambda: self.go(self.at + 1))
        self.back.clicked.connect(lambda: self.go(self.at - 1))
        self.leave.clicked.connect(self.end)
        row = QHBoxLayout()
        row.addWidget(self.count)
        row.addStretch(1)
        for button in (self.leave, self.back, self.on):
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            row.addWidget(button)
        self.box.addWidget(self.text)
        self.box.addLayout(row)
        self.ring = Ring(ground)

    def begin(self) -> None:
        """From the first caption."""
        self.go(0)

    def go(self, at: int) -> None:
        """Turn to a caption; beyond the last one it is over."""
        if at >= len(STOPS):
            self.end()
            return
        self.at = max(at, 0)
        place, _, heading, text = STOPS[self.at]
        self._window.turn_to(place)
        self.heading.setText(heading)
        self.text.setText(text)
        self.count.setText(f"{self.at + 1} of {len(STOPS)}")
        self.on.setText("Done  (Enter)" if self.at + 1 == len(STOPS) else "Next  (Enter)")
        self.back.setEnabled(self.at > 0)
        style.dress(self)
        self.show()
        self.setFocus()
        self.lay_out()
        QTimer.singleShot(0, self.lay_out)  # once the place turned to has its size

    def lay_out(self) -> None:
        """At the foot, where it covers least of what it speaks of."""
        if self.isHidden():
            return
        room = self.ground.rect()
        self.setFixedWidth(min(px(WIDTH), room.width() - 2 * FROM_EDGE))
        self.adjustSize()
        rail = self._window.rail.width()
        place, part, *_ = STOPS[self.at]
        view = self._window.places.at(place).view
        target: QWidget = getattr(view, part) if part else view
        over = QRect(target.mapTo(self.ground, target.rect().topLeft()), target.size()).intersected(room)
        self.ring.setGeometry(over)
        self.ring.setVisible(bool(part))
        self.ring.raise_()
        left = rail + FROM_EDGE if over.center().x() > room.center().x() else room.width() - self.width() - FROM_EDGE
        self.move(left, room.height() - self.height() - FROM_EDGE)
        self.raise_()

    def end(self) -> None:
        """Leave it; it is found again under Help."""
        self.hide()
        self.ring.hide()
        self._window.focus_place()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        keys = {
            Qt.Key.Key_Return: 1, Qt.Key.Key_Enter: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Space: 1, Qt.Key.Key_Left: -1,
        }  # fmt: skip
        if event.key() == Qt.Key.Key_Escape:
            self.end()
        elif event.key() in keys:
            self.go(self.at + keys[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)
