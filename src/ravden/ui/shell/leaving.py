"""The window goes, asked or not: what was being filled in, where it stood and which place was open are kept, and
offered when it comes back. A signal of the system, or the end of the desktop's session, ends it in order."""

from __future__ import annotations

import contextlib
import os
import signal
from typing import TYPE_CHECKING

from PyQt6 import sip
from PyQt6.QtCore import QObject, QRect, QSocketNotifier
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from ravden.app import settings
from ravden.app.settings import Draft
from ravden.core.errors import InputError

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell

LEAST_SEEN_PX = 80
SIGNALS = (signal.SIGTERM, signal.SIGINT, signal.SIGHUP)


def keep(window: Shell) -> None:
    """Remember all of it; for as often as it is asked."""
    told = window.remembered
    box = window.normalGeometry()
    told.window = [box.x(), box.y(), box.width(), box.height()]
    told.maximised = window.isMaximized()
    told.place = window.place
    if window.session.journal is not None:  # closed once more, it has nothing left to say
        told.draft = draft(window)
    settings.save(told, window.settings_file)


def on_a_screen(box: QRect) -> bool:
    """Whether enough of a window in this place can be seen, and taken hold of, on one of the screens there are."""
    seen = (box & screen.availableGeometry() for screen in QGuiApplication.screens())
    return any(part.width() >= LEAST_SEEN_PX and part.height() >= LEAST_SEEN_PX for part in seen)


def draft(window: Shell) -> Draft | None:
    """What is being filled in, where anything in the form was changed; None: nothing is."""
    card, journal = window.__dict__.get("card"), window.session.journal
    if card is None or journal is None or not card.isVisible() or not card.changed:
        return None
    return Draft(
        file=str(journal.path.resolve()), instrument=window.session.selected, kind=card.kind if card.anew else "",
        heading=card.heading.text(), typed=card.typed(),
    )  # fmt: skip


def offer(window: Shell) -> None:
    """Tell of what was being filled in when it went, with the way to go on with it. It is offered once."""
    left, journal = window.remembered.draft, window.session.journal
    if left is None or journal is None or left.file != str(journal.path.resolve()):
        return
    window.remembered.draft = None
    name = left.heading[:1].lower() + left.heading[1:]
    said = f"You were filling in a form when Ravden closed ({name}): nothing of it was logged."
    window.card.keep_draft(left.heading, left.typed)
    if left.kind and left.instrument in window.session.shop.racked:
        window.notice.tell_until_read(said, ("Go on with it", lambda: window.guarded(lambda: _again(window, left))))
    else:
        window.notice.tell_until_read(f"{said} Open it again, and what you had typed is there.")


def _again(window: Shell, left: Draft) -> None:
    window.session.select(left.instrument, "draft")
    try:
        window.anywhere.ask(left.kind, choice=left.typed.get("by") or left.typed.get("what", ""))
    except KeyError:
        raise InputError("", "that form cannot be opened here any more") from None


class Signals(QObject):
    """Signals of the system, told on the GUI thread: the window is closed in order, as if its user had."""

    def __init__(self, app: QApplication, window: Shell) -> None:
        super().__init__(window)
        self._window = window
        self._read, self._write = os.pipe()
        os.set_blocking(self._read, False)
        os.set_blocking(self._write, False)
        self._notifier = QSocketNotifier(sip.voidptr(self._read), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(lambda: self._told())
        for number in SIGNALS:
            with contextlib.suppress(ValueError, OSError):  # only the first thread may
                signal.signal(number, lambda *_: None)
        signal.set_wakeup_fd(self._write, warn_on_full_buffer=False)
        app.commitDataRequest.connect(lambda _: keep(window))

    def _told(self) -> None:
        with contextlib.suppress(OSError):
            if os.read(self._read, 64):
                self._window.close()
                QApplication.quit()
