"""What lies over the foot of every place: the line that tells what was logged, and the log card."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from ravden.ui.shell.anywhere import CARD_W, ROUND_CARD
from ravden.ui.theme.style import px

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell

NOTICE_W, RIM = 980, 24
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
        self._size(window.notice, NOTICE_W)
        notice, bar = window.notice, window.statusBar()
        left = (window.width() - notice.width()) // 2
        # One line fits over the foot of the window and the rim of the place; more of them go on top, over its head, so
        # that no caution is ever covered.
        foot = window.height() - notice.height() - 2
        low = notice.height() <= (bar.height() if bar is not None else 0) + px(RIM)
        notice.move(left, foot if low else ground.y() + BETWEEN)
        if hasattr(window, "card"):
            self._size(window.card, CARD_W)
            # At the left, so that what stands at the right of the foot can be read beside it.
            rail = window.rail.width()
            window.card.move(rail + OFF_THE_EDGE, ground.height() - window.card.height() - OFF_THE_EDGE)
            if window.card.isVisible() and low:
                notice.move(left, ground.y() + window.card.y() - notice.height() - BETWEEN)

    def _size(self, widget: QWidget, width: int) -> None:
        widget.setFixedWidth(min(px(width), self._window.width() - ROUND_CARD))
        layout = widget.layout()
        if layout is not None:
            layout.activate()
        widget.adjustSize()
        if layout is not None and layout.hasHeightForWidth():
            # Lines are broken at the width it has, and not at the one it would rather have.
            widget.resize(widget.width(), layout.totalHeightForWidth(widget.width()))
