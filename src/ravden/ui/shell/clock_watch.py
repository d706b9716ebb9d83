"""A clock that was wrong, or is: entries dated after now are told of at opening and when the clock jumps, with what can
be done about them."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell


class ClockWatch:
    """Looks for such entries, and tells of each once while a file is open."""

    def __init__(self, window: Shell) -> None:
        self._window = window
        self._told: set[int] = set()

    def forget(self) -> None:
        """Another file."""
        self._told.clear()

    def look(self) -> None:
        """Tell of what has not been told."""
        from ravden.app.wrong_clock import dated_ahead, sentence

        session = self._window.session
        if session.journal is None or session.journal.read_only:
            return
        found = dated_ahead(session)
        if not found or {e.id for e in found} <= self._told:
            return
        self._told |= {e.id for e in found}
        way = ("Set it right …", lambda: self._window.guarded(self._ask))
        self._window.notice.tell_until_read(sentence(session, found), way)

    def _ask(self) -> None:
        from ravden.app.wrong_clock import dated_ahead, fields, set_right

        window, found = self._window, dated_ahead(self._window.session)
        if not found:
            return

        def put(typed: dict[str, str]) -> None:
            window.tell(set_right(window.session, found, typed), undo=typed["what"] != "leave")

        window.anywhere.ask_for("Dated after now", fields(found), put)
