"""The lamp over the panel: carried round it, lowered, or let swing by itself."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ravden.ui.places.rubout.trainer.panel_view import PanelView

TURN_DEG, UP_DEG, LOWEST, HIGHEST = 5.0, 2.0, 4.0, 40.0
SWING_MS = 60
FIRST = (20.0, 12.0)  # where it stands: round the panel, and above it [deg]


class Lamp(QObject):
    """Says that it stands elsewhere."""

    turned = pyqtSignal()

    def __init__(self, panel: PanelView) -> None:
        super().__init__(panel)
        self._panel = panel
        self._swing = QTimer(self)
        self._swing.setInterval(SWING_MS)
        self._swing.timeout.connect(lambda: self.turn(TURN_DEG))

    def begin(self) -> None:
        """Where it stands first."""
        self._panel.lamp_deg, self._panel.lamp_low = FIRST

    def turn(self, by_deg: float, up_deg: float = 0.0) -> None:
        """Carry it on, and up."""
        self._panel.lamp_deg = (self._panel.lamp_deg + by_deg) % 360
        self._panel.lamp_low = min(max(self._panel.lamp_low + up_deg, LOWEST), HIGHEST)
        self.turned.emit()

    def turn_to(self, deg: float) -> None:
        """Carry it there."""
        self.turn(deg - self._panel.lamp_deg)

    def swing(self) -> None:
        """Let it go round by itself, or hold it."""
        (self._swing.stop if self._swing.isActive() else self._swing.start)()

    def stop(self) -> None:
        """Hold it."""
        self._swing.stop()
