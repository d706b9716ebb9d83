"""Letters and keys a page answers itself, before the window takes them for one of its acts."""

from collections.abc import Container

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent


def is_own(event: QEvent | None, own: Container[Qt.Key]) -> bool:
    """Whether a key is asked for that belongs to the page: one of these, or anything that writes; it is accepted
    then."""
    if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.ShortcutOverride:
        return False
    plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
    mine = plain and (Qt.Key(event.key()) in own or bool(event.text() and event.text().isprintable()))
    if mine:
        event.accept()
    return mine
