"""What lies over the foot of every place: the line that tells what was logged, and the log card."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from ravden.ui.shell.anywhere import CARD_W, ROUND_CARD
from ravden.ui.theme.style import px

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell

NOTICE_W = 640
OFF_THE_EDGE, BETWEEN = 16, 8


class Foot:
    """Keeps them in the middle, the line above the card where both are seen."""

    def __init__(self, window: Shell) -> None:
        self._window = window
        window.foot_changed.connect(self.lay_out)

    def lay_out(self) -> None:
        """After a change of the window's size, or of what is told."""
        window = self._window
        ground = window.centralWidget()
        if ground is None:
            return
        self._float(window.notice, NOTICE_W, ground)
        if hasattr(window, "card"):
            self._float(window.card, CARD_W, ground)
            if window.card.isVisible():
                window.notice.move(window.notice.x(), window.card.y() - window.notice.height() - BETWEEN)

    def _float(self, widget: QWidget, width: int, ground: QWidget) -> None:
        widget.setFixedWidth(min(px(width), self._window.width() - ROUND_CARD))
        layout = widget.layout()
        if layout is not None:
            layout.activate()
        widget.adjustSize()
        if layout is not None and layout.hasHeightForWidth():
            # Lines are broken at the width it has, and not at the one it would rather have.
            widget.resize(widget.width(), layout.totalHeightForWidth(widget.width()))
        rail = self._window.rail.width()
        left = rail + (ground.width() - rail - widget.width()) // 2
        widget.move(left, ground.height() - widget.height() - OFF_THE_EDGE)
