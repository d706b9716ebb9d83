"""Instruments of the Book, read with all that happened to them and folded in the shop's tables. No Qt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.journal.fold import Fold
from ravden.journal.kinds.air import AirLogged, AirSeries
from ravden.journal.kinds.session import OfSession
from ravden.journal.shelves import of_several

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue
    from ravden.journal.book import Booked
    from ravden.journal.entry import Entry
    from ravden.journal.rack import OnRack
    from ravden.journal.shop import Shop
    from ravden.journal.store import Journal

OF_OTHERS = AirLogged | AirSeries | OfSession  # what one stood in is read with it; the usual air is a table


class BookReading(Struct, frozen=True, kw_only=True):
    """What they are read by: a snapshot of the open shop, safe to hand to another thread. entries: those at hand;
    torn: acts that are not whole."""

    shop: Shop
    shipped: Catalogue
    entries: tuple[Entry, ...]
    torn: Mapping[int, tuple[int, int]]
    now: datetime

    def together(self, journal: Journal, some: Sequence[Booked]) -> tuple[OnRack, ...]:
        """Several as they were when they went, their tables folded once. journal: a way to read the file that belongs
        to this thread. Raises InputError where it cannot be read."""
        unread = [b for b in some if b.rack is None]
        racks = {b.id: self.shop.around(b.rack) for b in some if b.rack is not None}
        if unread:
            racks |= self._folded(journal, unread)
        return tuple(_as_handed(racks[b.id], b.handed) for b in some)

    def _folded(self, journal: Journal, unread: Sequence[Booked]) -> dict[str, OnRack]:
        tables = [e for e in self.entries if not e.instrument and not isinstance(e.body, OF_OTHERS)]
        mine = {e.id: e for e in of_several(journal, unread, self.now)} | {e.id: e for e in tables}
        book = Fold([mine[n] for n in sorted(mine)], self.shipped, torn=self.torn).shop.book
        return {b.id: rack for b in unread if (rack := book[b.id].rack) is not None}


def _as_handed(rack: OnRack, handed: datetime) -> OnRack:
    """An instrument of the Book in the air as it was told until it went: what came later is none of its own."""
    told = tuple(row for row in rack.air.told if row[0] <= handed)
    return replace(rack, air=replace(rack.air, told=told, forecast=()))
