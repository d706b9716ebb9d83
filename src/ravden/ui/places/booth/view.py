"""The Booth: before a session, the run, and after it; every key of it is heard here."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QWidget

from ravden.ui.places.booth.after_page import AfterPage
from ravden.ui.places.booth.before_page import NUMBERED, BeforePage
from ravden.ui.places.booth.defects import Defects
from ravden.ui.places.booth.run_page import RunPage
from ravden.ui.places.booth.zone_pick import ZonePick

RUN_KEYS = {
    Qt.Key.Key_P: "pause", Qt.Key.Key_M: "mix", Qt.Key.Key_E: "end", Qt.Key.Key_H: "bold", Qt.Key.Key_V: "sound",
}  # fmt: skip
ALWAYS = ("bold", "sound")


class BoothView(QWidget):
    """Says which act was done: by key, mouse or touch."""

    act_asked, back_asked = pyqtSignal(), pyqtSignal()
    key_asked = pyqtSignal(str)
    instrument_picked = pyqtSignal(str)
    mishap_asked = pyqtSignal()
    mishap_logged = pyqtSignal(str, str)
    zones_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.before, self.run, self.after = BeforePage(), RunPage(), AfterPage()
        self.pages = QStackedWidget()
        for page in (self.before, self.run, self.after):
            self.pages.addWidget(page)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(22, 12, 22, 12)
        outer.addWidget(self.pages)
        self.defects = Defects(self)
        self.defects.picked.connect(self._picked)
        self.zone_pick = ZonePick(self)
        self.run.act_asked.connect(self.act_asked)
        self.run.back_asked.connect(self.back_asked)
        self.run.mishap_asked.connect(self.ask_mishap)
        self.run.key_asked.connect(self.key_asked)
        self.run.instrument_picked.connect(self.instrument_picked)
        self.before.begin_asked.connect(self.act_asked)
        self.before.lamp.returnPressed.connect(self.setFocus)
        self.after.done_asked.connect(self.act_asked)

    @property
    def page(self) -> str:
        """before, run or after."""
        shown = self.pages.currentWidget()
        return "before" if shown is self.before else "run" if shown is self.run else "after"

    def turn_to(self, page: str) -> None:
        """Show a page."""
        wanted = {"before": self.before, "run": self.run, "after": self.after}[page]
        if self.pages.currentWidget() is not wanted:
            self.defects.hide()
            self.zone_pick.hide()
            self.pages.setCurrentWidget(wanted)

    def ask_mishap(self) -> None:
        """Open the list of what can go wrong."""
        self.over(self.defects)
        self.defects.turn_to(self.run.zone)
        self.mishap_asked.emit()
        self.defects.show()
        self.defects.raise_()

    def over(self, card: QWidget) -> None:
        """Lay a card over the page, no higher than it has to be."""
        layout = card.layout()
        if layout is not None:
            layout.activate()  # buttons just hidden take no room
        room = self.rect().adjusted(60, 40, -60, -40)
        room.setHeight(min(room.height(), card.sizeHint().height() + 40))
        card.setGeometry(room)

    def _picked(self, defect: str) -> None:
        self.defects.hide()
        if defect:
            self.mishap_logged.emit(defect, self.defects.zone)
        self.setFocus()

    def event(self, event: QEvent | None) -> bool:
        if (
            isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress
            and event.key() == Qt.Key.Key_Tab and self.defects.isVisible()
        ):  # fmt: skip
            self.defects.turn_page()
            return True
        # The letters that act in the whole window act here on the booth alone.
        letter = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if letter and isinstance(event, QKeyEvent) and self._mine(event):
            event.accept()
            return True
        return super().event(event)

    def _mine(self, event: QKeyEvent) -> bool:
        """Whether a key means something of the booth's own on this page."""
        if event.modifiers() != Qt.KeyboardModifier.NoModifier:
            return False
        key = event.key()
        letter = Qt.Key.Key_A <= key <= Qt.Key.Key_Z
        if self.defects.isVisible():
            return letter
        if self.zone_pick.isVisible():
            return letter
        if self.page == "before":
            return (
                key == Qt.Key.Key_Z or Qt.Key.Key_A <= key < Qt.Key.Key_A + len(self.before.checks) or key in RUN_KEYS
            )
        if self.page == "run":
            return key == Qt.Key.Key_N or key in RUN_KEYS
        return RUN_KEYS.get(Qt.Key(key), "") in ALWAYS if key in RUN_KEYS else False

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.isAutoRepeat():
            return
        if self.defects.isVisible():
            self.defects.key(event)
        elif self.zone_pick.isVisible():
            self.zone_pick.key(event)
        elif self.page == "before" and event.key() == Qt.Key.Key_Z:
            self.zones_asked.emit()
        elif event.key() == Qt.Key.Key_Space:
            self.act_asked.emit()
        elif event.key() == Qt.Key.Key_Backspace:
            self.back_asked.emit()
        elif self.page == "before" and self._chosen(event):
            return
        elif event.key() in RUN_KEYS and (self.page == "run" or RUN_KEYS[Qt.Key(event.key())] in ALWAYS):
            self.key_asked.emit(RUN_KEYS[Qt.Key(event.key())])
        elif self.page == "run" and event.key() == Qt.Key.Key_N:
            self.ask_mishap()
        elif self.page == "run" and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            rows = zip(self.run.ids, self.run.rows, strict=False)
            chosen = next((i for i, b in rows if b.isChecked()), "")
            self.run.turn(1 if event.key() == Qt.Key.Key_Down else -1, chosen)
        else:
            super().keyPressEvent(event)

    def _chosen(self, event: QKeyEvent) -> bool:
        """A number for an instrument, a letter for a check."""
        number, letter = event.key() - Qt.Key.Key_1, event.key() - Qt.Key.Key_A
        if 0 <= number < NUMBERED:
            self.before.toggle(number)
            return True
        if 0 <= letter < len(self.before.checks) and not self.before.checks[letter].isHidden():
            self.before.tick(letter)
            return True
        return False
