"""The one place that holds state: the open shop file, the selection, the units and the clock. No Qt."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator, Sequence
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app.book_reading import BookReading
from ravden.app.changes import Changes, together
from ravden.app.clock import Clock
from ravden.app.drawn import all_draws
from ravden.app.first_draw import may_open, opened
from ravden.app.giving_way import nothing_let_go
from ravden.app.lessons import keep
from ravden.app.next_coat import next_mend, usual_coat_um
from ravden.app.outlook_request import OutlookRequest
from ravden.app.remembered import Remembered
from ravden.app.settings import TOOLS
from ravden.catalogue.assemble import Owned, drawer_of
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import NO_FILE, NO_INSTRUMENT, InputError, need
from ravden.core.method.slots import parts
from ravden.journal.book import Booked
from ravden.journal.copies import go_back
from ravden.journal.counting import last_to_redo, last_to_undo
from ravden.journal.entry import Entry
from ravden.journal.fold import Fold, check
from ravden.journal.hours import ShopHours
from ravden.journal.kinds.air import OfAir
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.handed_over import BackOnRack, CheckSeen, HandedOver
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.pin import Unpinned
from ravden.journal.kinds.session import MixMade
from ravden.journal.kinds.undone import Undone
from ravden.journal.plain import in_letters
from ravden.journal.rack import OnRack
from ravden.journal.shelves import of_booked, shelves
from ravden.journal.shop import Shop
from ravden.journal.store import Journal
from ravden.text import entry_words
from ravden.text.say import whole_fault
from ravden.text.units import Units

if TYPE_CHECKING:
    from ravden.core.ahead.steps import Held
    from ravden.core.calendar.hours import WorkHours
    from ravden.core.climate.series import Cabinet
    from ravden.core.rubout.rub_out import Drawer

DAY = timedelta(days=1)


class ShopSession:
    """The open shop. Every change is told once, as a Changes, to every listener."""

    def __init__(self, catalogue: Catalogue, clock: Clock, units: Units | None = None) -> None:
        self._shipped = catalogue
        self.clock = clock
        self.units = units or Units()
        self.tools: tuple[str, ...] = TOOLS  # what there is to measure with
        self.journal: Journal | None = None
        self._fold = Fold((), catalogue)
        self.selected = ""
        self.people: dict[int, str] = {}  # to whom instruments went, by number
        self.held: dict[str, Held] = {}  # where the shop's plan has hands on each instrument, in its own hours
        self.stays: dict[str, tuple[Cabinet, ...]] = {}  # in the warm cabinet, as the shop's plan has them
        self.kept = Remembered(self)
        self._looked_up: OnRack | None = None  # of the Book, the one turned to last
        self._drawer: tuple[Owned | None, Drawer] | None = None
        self._listeners: list[Callable[[Changes], None]] = []
        self._stroke: list[Changes] | None = None  # what is to be told of the act that is under way

    @property
    def entries(self) -> list[Entry]:
        """The journal as it was written, without what instruments in the Book and years gone by have in it."""
        return self._fold.entries

    def everything(self) -> list[Entry]:
        """The whole journal."""
        return [] if self.journal is None else self.journal.entries()

    @property
    def shop(self) -> Shop:
        """The shop as the journal tells it now."""
        return self._fold.shop

    @property
    def aside(self) -> dict[int, str]:
        """Entries that cannot be read, or tell of what cannot be, by number: they have no effect, and why."""
        here = {e.id for e in self.entries if e.id in self._fold.aside and e.instrument not in self.shop.book}
        return {i: whole_fault(why, self.units) for i, why in sorted(self._fold.aside.items()) if i in here}

    @property
    def catalogue(self) -> Catalogue:
        """All tables, with the methods of the open shop."""
        return self.shop.catalogue if self.journal is not None else self._shipped

    @property
    def drawer(self) -> Drawer:
        """The papers and compounds at hand."""
        if self._drawer is None or self._drawer[0] is not self.shop.drawer:
            self._drawer = (self.shop.drawer, drawer_of(self.catalogue, self.shop.drawer))
        return self._drawer[1]

    def listen(self, listener: Callable[[Changes], None]) -> None:
        """Be told of every change from now on."""
        self._listeners.append(listener)

    def tell(self, changes: Changes) -> None:
        """Tell every listener."""
        if self._stroke is not None:
            self._stroke.append(changes)
            return
        for listener in list(self._listeners):
            listener(changes)

    @contextlib.contextmanager
    def one_act(self) -> Iterator[None]:
        """What is logged in here is one act: checked, written, shown and told together, or not at all, and taken back
        together."""
        if self._stroke is not None or self.journal is None:
            yield
            return
        with self._at_one_stroke(as_act=True):
            self._stroke = []
            try:
                yield
                told = self._stroke
            finally:
                self._stroke = None
        if told:
            self.tell(together(told))

    @contextlib.contextmanager
    def _at_one_stroke(self, *, as_act: bool = False) -> Iterator[None]:
        """The shop folded on a copy, and put in its place once all of it is on disk: file and window never part."""
        assert self.journal is not None
        before, selected = self._fold, self.selected
        self._fold = before.copied()
        try:
            with self.journal.stroke(as_act=as_act):
                yield
        except BaseException:
            self._fold, self.selected = before, selected
            raise

    def local(self, moment: datetime) -> datetime:
        """A moment on the shop's wall."""
        return self.shop.hours.local(moment)

    def work_hours(self, rack: OnRack) -> WorkHours:
        """When hands are in the shop, counted from an instrument's hour zero."""
        return self.request(rack.instrument.id).work_hours()

    @property
    def now(self) -> datetime:
        return self.clock.now()

    def open(self, path: Path, *, create: bool = False) -> None:
        """Open or create a shop file; the one that was open stays open when this fails."""
        there = self.journal if self.journal is not None and self.journal.is_at(path) and not create else None
        journal = there or (Journal.create(path) if create else Journal.open(path, at_once=True))
        try:
            with nothing_let_go():
                read = shelves(journal, self.now)
                folded = Fold(read.entries, self._shipped, read.book, journal.torn())
        except InputError:
            if journal is not there:
                journal.close()
            raise
        if journal is not there:
            self.close()
            journal.back_up(folded.aside)
        self._looked_up = None
        self.kept = Remembered(self)
        self.people = journal.people()
        self.journal, self._fold = journal, folded
        self.selected = next(iter(self.shop.racked), "")
        note = f"Open for reading only: {journal.why_read_only}." if journal.read_only else ""
        self.tell(Changes(origin="file", file=True, instruments=tuple(self.shop.racked), message=note))

    def go_back(self, copy: Path) -> Path:
        """Open a copy in the place of the open file, which stays beside it; returns where. Raises InputError."""
        journal = self.journal
        need(journal is not None, "", "no shop file is open")
        assert journal is not None
        if journal.read_only:
            raise InputError("", f"it is open for reading only: {journal.why_read_only}")
        path = journal.path
        self.close()
        try:
            return go_back(copy, path)
        finally:
            self.open(path)

    def close(self) -> None:
        """Let go of the file."""
        if self.journal is not None:
            self.journal.close()
            self.journal = None

    def select(self, instrument_id: str, origin: str) -> None:
        """Turn to an instrument."""
        if instrument_id != self.selected and instrument_id in self.shop.racked:
            self.selected = instrument_id
            self.tell(Changes(origin=origin, selection=True))

    def set_tools(self, tools: Sequence[str]) -> None:
        """What there is to measure with, from now on."""
        self.tools = tuple(tools)
        self.tell(Changes(origin="tools", appearance=True))

    def set_units(self, system: str) -> None:
        """metric or us."""
        self.units = Units(system=system)
        self.tell(Changes(origin="units", appearance=True))

    @property
    def rack(self) -> OnRack | None:
        """The instrument turned to."""
        return self.shop.racked.get(self.selected)

    def log(self, body: Kind, *, instrument: str = "", at: datetime | None = None, origin: str = "") -> Entry:
        """Check, write, and tell. Raises InputError naming the field, having changed nothing."""
        if may_open(self.shop, body, instrument, at or self.now):
            with self.one_act():
                entry = self._log(body, instrument, at, origin)
                drawn = all_draws(self.kept.drawn(), self.mixes(), self.catalogue)
                for can, since in [o for o in opened(self.shop, drawn) if o[1] <= self._latest()]:
                    self._log(can, "", since, origin, quiet=True)
            return entry
        return self._log(body, instrument, at, origin)

    def _log(self, body: Kind, instrument: str, at: datetime | None, origin: str, *, quiet: bool = False) -> Entry:
        if self.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        now = self.now
        moment = at or now
        check(self.shop, body, instrument, moment, self._latest())
        gone = isinstance(body, HandedOver)
        if isinstance(body, CheckSeen) and (booked := self.shop.book[instrument]).rack is None:
            self._fold.read_in(of_booked(self.journal, booked, now))  # it may have been seen before what was noted
        lesson = self.request(instrument).lesson() if gone else None
        drawn = self.shop.racked[instrument].draws if gone else ()
        before = self.selected
        touched = (instrument,) if instrument else self._touched_by(body, moment)
        if isinstance(body, InstrumentAdded):
            touched = (body.id,)
        held = self._pins(instrument)
        with self._at_one_stroke():
            entry = self.journal.append(body, at=moment, logged_at=now, instrument=instrument)
            self._refold(entry)
            if entry.id in self._fold.aside:
                raise self._fold.aside[entry.id]  # the fold asks more than the check: it is refused, and not set aside
            if lesson is not None:
                keep(self.journal, instrument, entry.id, lesson, drawn)
        if lesson is not None:
            self.kept.handed_over(instrument)
        if isinstance(body, BackOnRack | CheckSeen) or instrument in self.shop.book:
            self.kept.book_turned()
        if isinstance(body, InstrumentAdded | BackOnRack):
            self.selected = body.group(instrument)
        turned = isinstance(body, InstrumentAdded) or self.selected != before
        # What a machine wrote is not what Take back takes back: it is not told as if it were.
        said = "" if body.by_machine or quiet else self.describe(entry)
        let_go = held - self._pins(instrument) if instrument in self.shop.racked else set()
        if let_go and not isinstance(body, Unpinned):
            said += f". Held no longer, since it is in the plan no more: {', '.join(sorted(let_go))}"
        self.tell(Changes(origin=origin, instruments=touched, selection=turned, message=said))
        return entry

    def _pins(self, instrument: str) -> set[str]:
        """The steps of an instrument that are held, by the names their stages have in the record."""
        rack = self.shop.racked.get(instrument)
        return set() if rack is None else {parts(step)[0] for step in rack.pins}

    def need_possible(self, body: Kind, instrument: str, at: datetime) -> None:
        """Raise InputError where such an entry would be refused; nothing is written."""
        check(self.shop, body, instrument, at, self._latest())

    def _latest(self) -> datetime:
        """The present, by the clock or by what was logged last: a clock that was set back must not keep what is done
        from being logged after what was done, nor that from being corrected."""
        newest = next((e for e in reversed(self.entries) if e.id not in self._fold.aside), None)
        return self.now if newest is None else max(self.now, newest.at)

    def _touched_by(self, body: Kind, at: datetime) -> tuple[str, ...]:
        """The instruments that something told of the shop bears on, before it is told."""
        if not body.bears_on_plans:
            return ()
        rows = body.rows(at) if isinstance(body, OfAir) else []
        racked = self.shop.racked.items()
        return tuple(i for i, rack in racked if not rows or self.shop.air.counts_for(rows, rack.zero))

    def keep_zone(self, zone: str) -> None:
        """Keep the zone of a shop that has told no hours yet, so that it stays the shop's on another machine."""
        going_on = self.shop.session is not None and self.shop.session.is_open(self.now)
        writable = self.journal is not None and not self.journal.read_only
        if zone and writable and self.shop.hours == ShopHours() and not going_on:
            self.log(HoursSet(zone=zone), origin="zone")

    def hand_over(self, at: datetime, person: str = "", note: str = "", origin: str = "") -> Entry:
        """The instrument turned to, finished and gone: off the rack, into the Book. Raises InputError."""
        if self.journal is None or self.rack is None:
            raise InputError("", NO_INSTRUMENT, remedy="instrument")
        check(self.shop, HandedOver(note=note), self.selected, at, self.now)
        in_letters("to", person.strip())
        with self.one_act():
            number = self.journal.person(person.strip())
            entry = self.log(HandedOver(person=number, note=note), instrument=self.selected, at=at, origin=origin)
            self.people = self.journal.people()
        return entry

    def bring_back(self, instrument: str, origin: str = "") -> Entry:
        """An instrument of the Book back onto the rack, with all that is known of it. Raises InputError."""
        booked = self._booked(instrument)
        if booked.rack is None and self.journal is not None:
            self._fold.read_in(of_booked(self.journal, booked, self.now))
        return self.log(BackOnRack(), instrument=instrument, origin=origin)

    def _booked(self, instrument: str) -> Booked:
        if instrument not in self.shop.book:
            raise InputError("instrument", f"there is no instrument {instrument} in the Book")
        return self.shop.book[instrument]

    def read_booked(self, instrument: str) -> OnRack:
        """An instrument of the Book with all that happened to it; what was read is let go of with the next one. Raises
        InputError where there is none."""
        booked = self._booked(instrument)
        if booked.rack is not None:
            return self.read_together([booked])[0]
        if self._looked_up is None or self._looked_up.instrument.id != instrument:
            self._looked_up = self.read_together([booked])[0]
        return self._looked_up

    def read_together(self, some: Sequence[Booked]) -> tuple[OnRack, ...]:
        """The same of several, which are not kept."""
        return () if self.journal is None else self.book_reading().together(self.journal, some)

    def book_reading(self) -> BookReading:
        """What instruments of the Book are read by, here or on another thread."""
        return BookReading(
            shop=self.shop, shipped=self._shipped, entries=tuple(self.entries), torn=self._fold.torn, now=self.now
        )

    def _refold(self, entry: Entry) -> None:
        self._fold.add(entry)
        if self.selected not in self.shop.racked:
            self.selected = next(iter(self.shop.racked), "")

    def log_usual_coat(self, origin: str = "") -> Entry:
        """The one-key coat: the material's usual coat, on every zone, now."""
        if self.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        rack = self.rack
        if rack is None:
            raise InputError("", NO_INSTRUMENT, remedy="instrument")
        own = next_mend(rack, self.now)
        if isinstance(own, CoatLogged):
            return self.log(own, instrument=self.selected, origin=origin)
        return self.log(CoatLogged(dry_um=usual_coat_um(rack, self.now)), instrument=self.selected, origin=origin)

    def bring_in(self, raw: bytes, file: str, origin: str = "") -> str:
        """Bring an instrument's file into the shop, all of it or nothing; returns its id here."""
        from ravden.exchange import instrument

        if self.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        found, now = instrument.read(raw, file), self.now
        ahead = any(e.at > now + DAY or e.logged_at > now + DAY for e in (*found.entries, *found.air, *found.methods))
        need(not ahead, file, "tells of days to come: is a clock wrong, here or where it was written?")

        def reckon(shop: Shop, name: str) -> None:
            self.kept.request(shop, now, name, ledgers=False, apart=True).run()

        with self._at_one_stroke(as_act=True):
            there, written = instrument.bring_in(found, file, self.journal, self.entries, self.shop, reckon)
            for entry in written:
                self._fold.add(entry)
        if there in self.shop.racked:
            self.selected = there
        self.tell(
            Changes(
                origin=origin, instruments=tuple(self.shop.racked), selection=True,
                message=f"From {file}: {there}, {len(written)} entries",
            )
        )  # fmt: skip
        return there

    def undo(self, origin: str = "") -> str:
        """Take back the newest entry that counts; returns what was taken back. The record keeps both."""
        entry = last_to_undo(self.entries)
        if entry is None:
            raise InputError("", "there is nothing to take back")
        return self._correct(entry, origin)

    def redo(self, origin: str = "") -> str:
        """Bring back what was last taken back, as long as nothing was logged since."""
        entry = last_to_redo(self.entries)
        if entry is None:
            raise InputError("", "there is nothing to bring back")
        return self._correct(entry, origin)

    def _all_of(self, every: Sequence[Entry]) -> str:
        """What was done at one stroke, in words; of one that takes back, what it took back."""
        back = [self.entry(e.corrects) if isinstance(e.body, Undone) and e.corrects is not None else e for e in every]
        return "; ".join(self.describe(e) for e in sorted(back, key=lambda e: e.id))

    def _correct(self, entry: Entry, origin: str, *, whole: bool = False) -> str:
        if self.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        every, now = self._fold.with_it(entry, whole=whole), self.now
        gone = not isinstance(entry.body, Undone)
        # It is called what it is called while it counts: the third coat is the third one, taken back or brought back.
        message = f"Taken back: {self._all_of(every)}" if gone else ""
        with self._at_one_stroke(as_act=len(every) > 1):
            for one in every:
                booked = self.shop.book.get(one.instrument)
                if booked is not None and booked.rack is None:
                    self._fold.read_in(of_booked(self.journal, booked, now))  # what is left is told from all of it
            before, was_booked = set(self.shop.racked), set(self.shop.book)
            for one in reversed(every):
                corrects = one.corrects is not None and not isinstance(one.body, Undone)
                # A correction the act itself made gives way to what it corrected; one made since goes with its own.
                own = one.act is not None and one.act == entry.act
                body = Undone(whole=(whole or (one is not entry and not own)) and corrects)
                self._refold(
                    self.journal.append(body, at=now, logged_at=now, instrument=one.instrument, corrects=one.id)
                )
        if any(e.instrument in was_booked or e.instrument in self.shop.book or e.body.turns_rack for e in every):
            self.kept.book_turned()
        shop_s = any(not e.instrument for e in every)
        touched = set(self.shop.racked) if shop_s else {e.instrument for e in every}
        changed = before != set(self.shop.racked)
        message = message or f"Brought back: {self._all_of(every)}"
        self.tell(
            Changes(
                origin=origin, instruments=tuple(touched), selection=changed, message=message, taken_back=gone,
            )
        )  # fmt: skip
        return message

    def correct(self, entry_id: int, body: Kind, *, at: datetime | None = None, origin: str = "") -> Entry:
        """Put another body, or another time, in the place of an entry that counts; the record keeps both."""
        if self.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        old = self._fold.counting(entry_id)
        if old is None:
            raise InputError("", "that entry was taken back or corrected already")
        if type(old.body) is not type(body):
            raise InputError("", "an entry is corrected by one of its own kind; take it back and log the other")
        now, moment = self.now, at or old.at
        check(self._fold.without(entry_id), body, old.instrument, moment, self._latest())
        with self._at_one_stroke():
            entry = self.journal.append(body, at=moment, logged_at=now, instrument=old.instrument, corrects=entry_id)
            self._refold(entry)
            if entry.id in self._fold.aside:
                raise self._fold.aside[entry.id]
        if old.instrument in self.shop.book:
            self.kept.book_turned()
        touched = (old.instrument,) if old.instrument else tuple(self.shop.racked)
        self.tell(Changes(origin=origin, instruments=touched, message=f"Corrected: {self.describe(entry)}"))
        return entry

    def added(self, instrument_id: str) -> Entry | None:
        """The entry an instrument came onto the rack with, as it counts now."""
        return self._fold.added(instrument_id)

    def take_back(self, entry_id: int, origin: str = "") -> str:
        """Take back any entry that counts, not only the newest."""
        entry = self._fold.counting(entry_id)
        if entry is None:
            raise InputError("", "that entry was taken back or corrected already")
        return self._correct(entry, origin, whole=True)

    def entry(self, entry_id: int) -> Entry:
        """An entry by its number."""
        for entry in self.entries:
            if entry.id == entry_id:
                return entry
        raise InputError("", f"there is no entry {entry_id}")

    def describe(self, entry: Entry) -> str:
        """An entry in a few words, for notices and history."""
        return entry_words.describe(self, entry)

    def mixes(self) -> list[tuple[datetime, MixMade]]:
        """What was mixed for sessions, in the order of time, as far as it was read."""
        return sorted(((e.at, e.body) for e in self._fold.of_part(MixMade.part) if isinstance(e.body, MixMade)),
                      key=lambda m: m[0])  # fmt: skip

    @property
    def shipped(self) -> Catalogue:
        """The tables without methods of a shop's own."""
        return self._shipped

    def request(self, instrument_id: str, *, zone: str = "", advise: bool = False) -> OutlookRequest:
        """A snapshot to compute an outlook from, anywhere, dated by the shop's plan; advise: with counsel on what to do
        and measure."""
        made = self.kept.request(self.shop, self.now, instrument_id, zone, advise)
        return replace(made, held=self.held.get(instrument_id), stays=self.stays.get(instrument_id, ()))

    def request_booked(self, instrument: str) -> OutlookRequest:
        """The same for an instrument of the Book, as it was when it was handed over."""
        rack, booked = self.read_booked(instrument), self.shop.book[instrument]
        others = {i: b for i, b in self.shop.book.items() if i != instrument}
        then = replace(self.shop, book=others).with_rack(rack)
        # What is looked up is let go of again: only the rack's own ledgers are remembered.
        return self.kept.request(then, booked.handed, instrument, apart=True)

    def request_then(self, entry_id: int, at: datetime, instrument_id: str) -> OutlookRequest | None:
        """The same as it would have been at a moment, with the entries up to one; None: it was not on the rack yet."""
        unread = {i: b for i, b in self.shop.book.items() if b.rack is None}
        shop = Fold([e for e in self.entries if e.id <= entry_id], self._shipped, unread, self._fold.torn).shop
        return self.kept.request(shop, at, instrument_id, ledgers=False) if instrument_id in shop.racked else None
