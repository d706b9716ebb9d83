"""How the window looks: units, light or dark, high contrast, the whole screen, notices on the desktop; remembered
between runs."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from ravden.core.record import GAUGE
from ravden.ui.theme import style

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell


class Looks:
    """Turns each of them, at once and for the next run."""

    def __init__(self, window: Shell) -> None:
        self._window = window

    def turn_units(self) -> None:
        """Metric to US and back."""
        window = self._window
        window.remembered.units = "metric" if window.session.units.us else "us"
        window.session.set_units(window.remembered.units)

    def turn_theme(self) -> None:
        """Light to dark and back; out of high contrast."""
        remembered = self._window.remembered
        if remembered.contrast:
            remembered.contrast = False
        else:
            remembered.theme = "dark" if remembered.theme == "light" else "light"
        self._apply()

    def turn_contrast(self) -> None:
        """High contrast, with larger type in the Booth, and back."""
        self._window.remembered.contrast = not self._window.remembered.contrast
        self._apply()

    def turn_full(self) -> None:
        """The whole screen, for the booth, and back."""
        self._window.setWindowState(self._window.windowState() ^ Qt.WindowState.WindowFullScreen)

    def turn_notices(self, on: bool) -> None:
        """Windows that open told on the desktop, or not."""
        self._window.remembered.notify = on
        if self._window.built:
            self._window.places.notices.on = on
            self._window.places.notices.look()

    def turn_gauge(self, on: bool) -> None:
        """Whether advice may ask for a film gauge."""
        window = self._window
        others = [t for t in window.remembered.tools if t != GAUGE]
        window.remembered.tools = [GAUGE, *others] if on else others
        window.session.set_tools(window.remembered.tools)

    def _apply(self) -> None:
        window = self._window
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        style.apply(app, theme_of(window.remembered.theme, window.remembered.contrast))
        window.dress()
        window.booth.run.large = window.remembered.contrast
        window.places.show_all()
        window.update()


def theme_of(theme: str, contrast: bool) -> str:
    """The palette of remembered choices."""
    return "contrast" if contrast else theme
