"""An instrument leaves the rack for the Book, and comes back from it."""

from __future__ import annotations

from datetime import datetime

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.journal.book import SEEN, SINKS, Booked, Checked
from ravden.journal.kinds.kind import Kind
from ravden.journal.shop import Shop

MOST_NOTE = 2000


class OfBook(Kind, frozen=True):
    """Takes an instrument off the rack, or back onto it."""

    def group(self, instrument: str) -> str:
        return instrument

    @property
    def turns_rack(self) -> bool:
        return True


class HandedOver(OfBook, frozen=True, tag="handed-over"):
    """Finished and handed over: off the rack, into the Book. person: by number to whom, 0 where nobody said; names are
    kept apart from the journal, so that a person can be forgotten."""

    person: int = 0
    note: str = ""

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        rack = shop.on_rack(instrument)
        last = rack.moment(max((a.at_h for a in rack.acts), default=0.0))
        need(at >= last, "at", f"work on {rack.instrument.name} was logged after that")
        going_on = shop.session is not None and shop.session.is_open(at) and instrument in shop.session.instruments
        need(not going_on, "instrument", f"{rack.instrument.name} is in the session going on: end that first")

    def limits(self) -> None:
        need(len(self.note) <= MOST_NOTE, "note", f"must be at most {MOST_NOTE} characters")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        rack = shop.racked.get(instrument)
        if rack is None:
            return shop
        racked = {i: r for i, r in shop.racked.items() if i != instrument}
        made = Booked(
            id=instrument, name=rack.instrument.name, kind=rack.instrument.kind, method=rack.instrument.method,
            material=rack.instrument.material, sheen=rack.instrument.sheen, added=rack.added, handed=at,
            person=self.person, note=self.note, rack=rack,
        )  # fmt: skip
        return replace(shop, racked=racked, book={**shop.book, instrument: made})


class CheckSeen(OfBook, frozen=True, tag="check"):
    """A look at an instrument in the Book, some months after it was handed over. sink: how far its film has sunk: none,
    slight or clear; seen: print, checking, tack."""

    sink: str = "none"
    seen: tuple[str, ...] = ()
    note: str = ""

    @property
    def turns_rack(self) -> bool:
        return False

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        need(instrument in shop.book, "instrument", f"there is no instrument {instrument} in the Book")
        booked = shop.book[instrument]
        need(at >= booked.handed, "at", f"{booked.name} was not handed over yet then")

    def limits(self) -> None:
        need(self.sink in SINKS, "sink", f"must be one of {', '.join(SINKS)} (got {self.sink})")
        for what in self.seen:
            need(what in SEEN, "seen", f"must be of {', '.join(SEEN)} (got {what})")
        need(len(self.note) <= MOST_NOTE, "note", f"must be at most {MOST_NOTE} characters")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        booked = shop.book.get(instrument)
        if booked is None:
            return shop
        seen = Checked(at=at, sink=self.sink, seen=self.seen, note=self.note)
        return replace(shop, book={**shop.book, instrument: replace(booked, checks=(*booked.checks, seen))})


class BackOnRack(OfBook, frozen=True, tag="back-on-rack"):
    """Brought back from the Book, with all that is known of it."""

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        need(instrument in shop.book, "instrument", f"there is no instrument {instrument} in the Book")
        booked = shop.book[instrument]
        need(at >= booked.handed, "at", f"{booked.name} was not handed over yet then")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        booked = shop.book.get(instrument)
        if booked is None or booked.rack is None:
            return shop
        book = {i: b for i, b in shop.book.items() if i != instrument}
        away = ((booked.handed, at),) if at > booked.handed else ()
        back = replace(booked.rack, away=(*booked.rack.away, *away))
        return replace(shop, book=book).with_rack(shop.around(back))
