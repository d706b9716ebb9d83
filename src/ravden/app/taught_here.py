"""What a shop has taught, kept between one outlook and the next: lessons of the Book, and what sessions say."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.app.lessons import lessons_of
from ravden.app.session_words import Span, session_words, spans
from ravden.core.record.word import gathered
from ravden.journal.kinds.session import OfSession
from ravden.journal.kinds.undone import Undone
from ravden.journal.shelves import sessions_since

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime

    from ravden.core.record.word import Word
    from ravden.core.state.learnt import Lesson
    from ravden.journal.entry import Entry
    from ravden.journal.rack import OnRack
    from ravden.journal.store import Journal


class TaughtHere:
    """Of one open file. Everything in it can be thrown away and is found again."""

    def __init__(self) -> None:
        self._lessons: dict[str, Lesson] | None = None  # read when the first outlook is asked for
        self._booked: dict[str, tuple[Word, ...]] = {}
        self._read: dict[int, Entry] | None = None  # sessions of before what was read when the file was opened
        self._upto = 0
        self._since: datetime | None = None
        self._spans: tuple[Span, ...] = ()
        self._said: tuple[object, dict[str, tuple[Word, ...]]] | None = None
        self._of_span: dict[Span, tuple[tuple[object, ...], tuple[Word, ...]]] = {}

    def book_turned(self) -> None:
        """An instrument went into the Book, or came back."""
        self._lessons = self._said = None

    def lessons(self, journal: Journal | None) -> dict[str, Lesson]:
        """Of instruments in the Book, by their id."""
        if self._lessons is None:
            self._lessons = {} if journal is None else lessons_of(journal)
            self._booked = gathered({}, (w for one in self._lessons.values() for w in one.words))
        return self._lessons

    def told(
        self, journal: Journal | None, entries: Sequence[Entry], racked: Mapping[str, OnRack]
    ) -> Mapping[str, tuple[Word, ...]]:
        """What instruments in the Book and sessions say of the shop's own figures, by figure."""
        self.lessons(journal)
        self._look(journal, entries, racked)
        if not self._spans:
            return self._booked
        key = (self._spans, {i: r.acts for i, r in racked.items()})
        if self._said is None or self._said[0] != key:
            self._said = (key, gathered(self._booked, [w for s in self._spans for w in self._words(s, racked)]))
        return self._said[1]

    def _words(self, span: Span, racked: Mapping[str, OnRack]) -> tuple[Word, ...]:
        """What one session says, worked out once for what was done to its instruments."""
        acts = tuple(racked[i].acts if i in racked else None for i in span.instruments)
        kept = self._of_span.get(span)
        if kept is None or any(a is not b for a, b in zip(kept[0], acts, strict=True)):
            kept = self._of_span[span] = (acts, session_words((span,), racked))
        return kept[1]

    def _look(self, journal: Journal | None, entries: Sequence[Entry], racked: Mapping[str, OnRack]) -> None:
        """Read the sessions of as long as the instruments on the rack have been there."""
        newest = entries[-1].id if entries else 0
        since = min((r.added for r in racked.values()), default=None)
        if self._read is not None and newest == self._upto and since == self._since:
            return
        if self._read is None or since != self._since:
            read = [] if journal is None or since is None else sessions_since(journal, since)
            self._read, self._since, self._upto = {e.id: e for e in read}, since, 0
        # What takes something back may be of a session or not: it harms none where it is not.
        more = (e for e in entries if isinstance(e.body, OfSession | Undone) and (e.id > self._upto or not self._upto))
        self._read |= {e.id: e for e in more}
        self._upto = newest
        self._spans = spans(self._read.values())
