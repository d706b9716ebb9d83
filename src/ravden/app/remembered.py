"""What is remembered of an open shop between one outlook and the next: ledgers, what each instrument taught, what went
out of cans. All of it can be thrown away and is found again."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from ravden.app.applicators import Applicators, applicators
from ravden.app.foretold_kept import foretold_of, keep_foretold
from ravden.app.fresh import fresh, same
from ravden.app.lessons import drawn_of
from ravden.app.outlook_request import OutlookRequest, request
from ravden.app.taught_here import TaughtHere
from ravden.app.teaching import Teaching, teaching

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime

    from ravden.app.teaching import Taught
    from ravden.core.ahead.foretold import Foretold
    from ravden.core.record.word import Word
    from ravden.core.rubout.rub_out import Drawer
    from ravden.core.state.history import Memory
    from ravden.core.state.learnt import Lesson
    from ravden.core.stock.lots import Draw
    from ravden.journal.entry import Entry
    from ravden.journal.shop import Shop
    from ravden.journal.store import Journal


class Open(Protocol):
    """The open shop, as it is now."""

    journal: Journal | None

    @property
    def entries(self) -> list[Entry]: ...
    @property
    def shop(self) -> Shop: ...
    @property
    def drawer(self) -> Drawer: ...
    @property
    def now(self) -> datetime: ...
    def local(self, moment: datetime) -> datetime: ...


class Remembered:
    """Of one open file, by way of which all that is asked of it is asked."""

    def __init__(self, of: Open) -> None:
        self._of = of
        self._memory: dict[str, Memory] = {}
        self._seen: Taught = {}
        self._taught = TaughtHere()
        self._foretold: Sequence[Foretold] | None = None  # of the Book, as far as it was worked out
        self._drawn: dict[str, tuple[Draw, ...]] | None = None  # by instruments in the Book, read when asked for

    def handed_over(self, instrument: str) -> None:
        """An instrument went into the Book, with what it taught kept there."""
        self.book_turned()
        self._memory.pop(instrument, None)
        self._seen.pop(instrument, None)

    def book_turned(self) -> None:
        """What is kept of instruments in the Book is otherwise now."""
        self._taught.book_turned()
        self._drawn = self._foretold = None

    def request(
        self, shop: Shop, now: datetime, instrument: str, zone: str = "", advise: bool = False, *,
        ledgers: bool = True, apart: bool = False,
    ) -> OutlookRequest:  # fmt: skip
        """A snapshot of an instrument of a shop at a moment. ledgers: with those that are remembered; apart: what is
        found is not remembered."""
        memories = self._memory if ledgers else {}
        _, lessons, told = self.taught()
        return request(
            shop, instrument, self._of.drawer, now, self._of.local, dict(memories) if apart else memories, zone, advise,
            lessons=lessons, seen=dict(self._seen) if apart else self._seen, told=told,
        )  # fmt: skip

    def taught(self) -> tuple[Drawer, Mapping[str, Lesson], Mapping[str, tuple[Word, ...]]]:
        """The drawer with the built-in constants, lessons of the Book, and what it and sessions say by figure."""
        of = self._of
        told = self._taught.told(of.journal, of.entries, of.shop.racked)
        if fresh():
            same("what sessions say", told, TaughtHere().told(of.journal, of.entries, of.shop.racked))
        return of.drawer, self._taught.lessons(of.journal), told

    @property
    def seen(self) -> Taught:
        """What each instrument on the rack was found to say, to go on from elsewhere."""
        return dict(self._seen)

    def teaching(self) -> Teaching:
        """The shop's own figures, as its record teaches them by now."""
        drawer, lessons, told = self.taught()
        return teaching(self._of.shop, drawer, self._of.now, lessons, self._seen, told)

    def applicators(self) -> Applicators:
        """What lays each finish here, as instruments taught by now."""
        return applicators(self._of.shop, self._of.now, self._memory, self._taught.lessons(self._of.journal))

    def foretold(self) -> Sequence[Foretold]:
        """What was foretold of instruments in the Book and came, as far as that was worked out."""
        if self._foretold is None:
            self._foretold = self._read_foretold()
        return same("what was foretold", self._foretold, self._read_foretold()) if fresh() else self._foretold

    def _read_foretold(self) -> Sequence[Foretold]:
        return tuple(f for some in foretold_of(self._of.journal).values() for f in some)

    def keep_foretold(self, instrument: str, told: Sequence[Foretold]) -> None:
        """Keep what was foretold of one of them."""
        if self._of.journal is not None:
            keep_foretold(self._of.journal, instrument, told)
            self._foretold = None

    def _read_drawn(self) -> dict[str, tuple[Draw, ...]]:
        return {} if self._of.journal is None else drawn_of(self._of.journal)

    def drawn(self) -> dict[str, tuple[Draw, ...]]:
        """What coats and sanding took off the shelf, by instrument: those on the rack, and those in the Book as it was
        kept."""
        of = self._of
        if self._drawn is None:
            self._drawn = self._read_drawn()
        if fresh():
            same("what was drawn", self._drawn, self._read_drawn())
        booked = {i: self._drawn.get(i, ()) if b.rack is None else b.rack.draws for i, b in of.shop.book.items()}
        return {**booked, **{i: r.draws for i, r in of.shop.racked.items()}}
