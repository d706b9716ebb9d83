"""How the window looks: units, light or dark, high contrast, the whole screen, notices on the desktop; remembered
between runs."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from ravden.app import made_up, settings
from ravden.text import written
from ravden.ui.shell.local import written_of
from ravden.ui.theme import style

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell


ROOMY, LARGER = (1800, 950), 1.2


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

    def full_for_booth(self, on: bool) -> None:
        """The whole screen while a session goes on, where that was chosen."""
        if self._window.remembered.booth_full and self._window.isFullScreen() != on:
            self.turn_full()

    def turn_notices(self, on: bool) -> None:
        """Windows that open told on the desktop, or not."""
        self._window.remembered.notify = on
        if self._window.built:
            self._window.places.notices.on = on
            self._window.places.notices.look()

    def take_up(self) -> None:
        """What is remembered, all of it, as after a page of it was filled in."""
        window, told = self._window, self._window.remembered
        written.use(written_of(told))
        window.session.set_units(told.units)
        self.take_up_tools()
        self.take_up_booth()
        if window.built:
            if window.places.notices.on != told.notify:
                self.turn_notices(told.notify)
            window.menus.notify.setChecked(told.notify)
        self._apply()
        settings.save(told, window.settings_file)

    def take_up_booth(self) -> None:
        """What was chosen for the Booth, if it has been built."""
        told = self._window.remembered
        booth: Any = self._window.places.all.get("booth") if self._window.built else None
        if booth is not None:
            booth.take_up(sound=told.sound, guard=told.guard, left_hand=told.left_hand, large=told.contrast)

    def take_up_tools(self) -> None:
        """What there is to measure with; in the made-up workshop everything is."""
        session = self._window.session
        in_it = session.journal is not None and made_up.is_made_up(session.journal.path)
        session.set_tools(settings.TOOLS if in_it else self._window.remembered.tools)

    def resized(self) -> None:
        """The window is as large as it is now."""
        window = self._window
        wanted = size_of_type(window.remembered.text, window.width(), window.height())
        if wanted != round(100 * style.scale()):
            self._apply()

    def _apply(self) -> None:
        window = self._window
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme = theme_of(window.remembered.theme, window.remembered.contrast)
        style.apply(app, theme, size_of_type(window.remembered.text, window.width(), window.height()))
        window.dress()
        self.take_up_booth()
        if window.built:
            window.places.show_all()
        window.update()


def size_of_type(chosen: int, width: int, height: int) -> int:
    """The size of the type [%] in a window: on a large one all of it is larger, which makes use of the room."""
    return round(chosen * LARGER) if width >= ROOMY[0] and height >= ROOMY[1] else chosen


def theme_of(theme: str, contrast: bool) -> str:
    """The palette of remembered choices."""
    return "contrast" if contrast else theme
