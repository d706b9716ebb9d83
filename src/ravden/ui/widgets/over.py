"""A card that lies over the window and has the keyboard for as long as it does."""

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QFrame, QVBoxLayout, QWidget

from ravden.ui.widgets.label import Label


class Over(QFrame):
    """Headed; while it lies there no key is an act of the place beneath."""

    def __init__(self, ground: QWidget) -> None:
        super().__init__(ground)
        self.ground = ground
        self.setObjectName("logcard")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.heading = Label()
        self.heading.setObjectName("heading")
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(20, 14, 20, 14)
        self.box.setSpacing(9)
        self.box.addWidget(self.heading)
        self.hide()

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        return super().event(event)
