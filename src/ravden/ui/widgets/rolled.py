"""The places, as large as the window at the usual size of the type; with larger type they may be larger, and scroll."""

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QScrollBar, QStackedWidget

from ravden.ui.theme.style import scale

BAR = 12  # how thick a scroll bar of ours is


class Rolled(QScrollArea):
    """A page nobody looks at scrolls nothing, and one that has room enough is never scrolled."""

    def __init__(self, pages: QStackedWidget) -> None:
        super().__init__()
        self._pages = pages
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        # Made here and kept, not by Qt: bars Python did not make are not known to be gone when their window is.
        self.bars = QScrollBar(Qt.Orientation.Vertical, self), QScrollBar(Qt.Orientation.Horizontal, self)
        self.setVerticalScrollBar(self.bars[0])
        self.setHorizontalScrollBar(self.bars[1])
        self.setWidget(pages)
        pages.currentChanged.connect(lambda _: self.lay_out())
        pages.installEventFilter(self)

    def lay_out(self) -> None:
        """Give the page shown the room it wants, and at least what there is."""
        shown, room = self._pages.currentWidget(), self.maximumViewportSize()
        if shown is not None and scale() > 1:
            wanted = shown.minimumSizeHint()
            if wanted.width() > room.width():
                room.setHeight(room.height() - BAR)
            layout = shown.layout()
            high = layout.heightForWidth(max(wanted.width(), room.width())) if layout is not None else 0
            wanted.setHeight(max(wanted.height(), high))
            if wanted.height() > room.height():
                room.setWidth(room.width() - BAR)
            room = room.expandedTo(wanted)
        if room != self._pages.size():
            self._pages.resize(room)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.lay_out()

    def eventFilter(self, seen: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.lay_out()
        return super().eventFilter(seen, event)
