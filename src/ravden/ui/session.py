"""The one place that holds state: the open shop file, the selection, the units and the clock. No Qt.

The plan package is imported when an outlook is first computed, off the GUI thread: the first paint does not need it.
"""

from __future__ import annotations

import functools
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from ravden.catalogue.assemble import default_drawer
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError
from ravden.core.units import Units
from ravden.journal.entries import (
    AirLogged,
    Body,
    CoatLogged,
    Entry,
    InstrumentAdded,
    ReadingLogged,
    SandingLogged,
    ShopNamed,
    Undone,
)
from ravden.journal.shop import OnRack, Shop, check, fold
from ravden.journal.store import Journal, last_to_redo, last_to_undo
from ravden.ui import words
from ravden.ui.clock import Clock

if TYPE_CHECKING:
    from ravden.core.method.steps import Method
    from ravden.core.plan.history import Memory
    from ravden.core.plan.outlook import Outlook
    from ravden.core.plan.rubout import Drawer


@dataclass(frozen=True, slots=True, kw_only=True)
class Changes:
    """What changed, and who did it: listeners redraw what it touches."""

    origin: str
    instruments: tuple[str, ...] = ()
    selection: bool = False
    appearance: bool = False
    file: bool = False
    message: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OutlookRequest:
    """What an outlook is computed from: a snapshot, safe to hand to another thread."""

    rack: OnRack
    method: Method
    drawer: Drawer
    now: datetime
    hour_at_zero: float
    zone: str = ""
    texture_um: float | None = None
    target: str | None = None
    memory: Memory | None = None

    def run(self) -> Outlook:
        """The computation itself."""
        from ravden.core.plan.forward import WorkHours
        from ravden.core.plan.outlook import outlook

        return outlook(
            self.rack.project,
            self.method,
            self.drawer,
            self.rack.hours(self.now),
            WorkHours(hour_at_zero=self.hour_at_zero),
            self.zone,
            self.texture_um,
            self.target,
            self.memory,
        )


class ShopSession:
    """The open shop. Every change is told once, as a Changes, to every listener."""

    def __init__(self, catalogue: Catalogue, clock: Clock, units: Units | None = None) -> None:
        self.catalogue = catalogue
        self.clock = clock
        self.units = units or Units()
        self.journal: Journal | None = None
        self.entries: list[Entry] = []
        self.shop = Shop(name="", racked={})
        self.selected = ""
        self._memory: dict[str, Memory] = {}
        self._listeners: list[Callable[[Changes], None]] = []

    @functools.cached_property
    def drawer(self) -> Drawer:
        """The papers and compounds at hand."""
        return default_drawer(self.catalogue)

    def listen(self, listener: Callable[[Changes], None]) -> None:
        """Be told of every change from now on."""
        self._listeners.append(listener)

    def tell(self, changes: Changes) -> None:
        """Tell every listener."""
        for listener in list(self._listeners):
            listener(changes)

    def local(self, moment: datetime) -> datetime:
        """A moment in the shop's local time."""
        return moment.astimezone()

    @property
    def now(self) -> datetime:
        return self.clock.now()

    def open(self, path: Path, *, create: bool = False) -> None:
        """Open or create a shop file; the one that was open stays open when this fails."""
        journal = Journal.create(path) if create else Journal.open(path)
        try:
            entries = journal.entries()
            shop = fold(entries, self.catalogue)
        except InputError:
            journal.close()
            raise
        self.close()
        self._memory = {}
        self.journal, self.entries, self.shop = journal, entries, shop
        self.selected = next(iter(shop.racked), "")
        note = f"Open for reading only: {journal.why_read_only}." if journal.read_only else ""
        self.tell(Changes(origin="file", file=True, instruments=tuple(shop.racked), message=note))

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

    def set_units(self, system: str) -> None:
        """metric or us."""
        self.units = Units(system=system)
        self.tell(Changes(origin="units", appearance=True))

    @property
    def rack(self) -> OnRack | None:
        """The instrument turned to."""
        return self.shop.racked.get(self.selected)

    def log(self, body: Body, *, instrument: str = "", at: datetime | None = None, origin: str = "") -> Entry:
        """Check, write, and tell. Raises InputError naming the field, having changed nothing."""
        if self.journal is None:
            raise InputError("", "no shop file is open; make one or open one first")
        now = self.now
        moment = at or now
        check(self.shop, body, instrument, moment, now)
        entry = self.journal.append(body, at=moment, logged_at=now, instrument=instrument)
        touched = (instrument,) if instrument else tuple(self.shop.racked)
        if isinstance(body, InstrumentAdded):
            touched = (body.id,)
        self._refold(entry)
        if isinstance(body, InstrumentAdded):
            self.selected = body.id
        self.tell(
            Changes(
                origin=origin, instruments=touched, selection=isinstance(body, InstrumentAdded),
                message=self.describe(entry),
            )
        )  # fmt: skip
        return entry

    def _refold(self, entry: Entry) -> None:
        self.entries = [*self.entries, entry]
        self.shop = fold(self.entries, self.catalogue)
        if self.selected not in self.shop.racked:
            self.selected = next(iter(self.shop.racked), "")

    def log_usual_coat(self, origin: str = "") -> Entry:
        """The one-key coat: the material's usual coat, on every zone, now."""
        if self.journal is None:
            raise InputError("", "no shop file is open; make one (Ctrl+N) or open one first")
        rack = self.rack
        if rack is None:
            raise InputError("", "add an instrument first (N)")
        return self.log(CoatLogged(dry_um=rack.project.material.coat_dry_um), instrument=self.selected, origin=origin)

    def undo(self, origin: str = "") -> str:
        """Take back the newest entry that counts; returns what was taken back. The record keeps both."""
        entry = last_to_undo(self.entries)
        if entry is None:
            raise InputError("", "there is nothing to take back")
        return self._correct(entry, f"Taken back: {self.describe(entry)}", origin)

    def redo(self, origin: str = "") -> str:
        """Bring back what was last taken back, as long as nothing was logged since."""
        entry = last_to_redo(self.entries)
        if entry is None:
            raise InputError("", "there is nothing to bring back")
        target = next(e for e in self.entries if e.id == entry.corrects)
        return self._correct(entry, f"Brought back: {self.describe(target)}", origin)

    def _correct(self, entry: Entry, message: str, origin: str) -> str:
        if self.journal is None:
            raise InputError("", "no shop file is open")
        now = self.now
        undone = self.journal.append(Undone(), at=now, logged_at=now, instrument=entry.instrument, corrects=entry.id)
        before = set(self.shop.racked)
        self._refold(undone)
        touched = {entry.instrument} if entry.instrument else set(self.shop.racked)
        changed = before != set(self.shop.racked)
        self.tell(Changes(origin=origin, instruments=tuple(touched), selection=changed, message=message))
        return message

    def describe(self, entry: Entry) -> str:
        """An entry in a few words, for notices and history."""
        body, units = entry.body, self.units
        on_rack = self.shop.racked.get(entry.instrument)
        name = on_rack.project.instrument.name if on_rack else ""
        if isinstance(body, CoatLogged):
            count = len([c for c in on_rack.project.coats if c.at_h <= on_rack.hours(entry.at)]) if on_rack else 0
            what = f"coat {count}" if count else "a coat"
            text = f"{what} on {name}, {units.film(body.dry_um)} dry"
        elif isinstance(body, SandingLogged):
            text = f"sanding on {name}, {units.film(body.um)} off" + (f" with {body.grade}" if body.grade else "")
        elif isinstance(body, ReadingLogged):
            text = f"reading on {name}, {body.zone}: {units.film(body.um)}"
        elif isinstance(body, AirLogged):
            text = f"shop air {units.temperature(body.temp_C)}, {100 * body.rh:.0f} % humidity"
        elif isinstance(body, InstrumentAdded):
            text = f"{body.name} on the rack"
        elif isinstance(body, ShopNamed):
            text = f"shop file {body.name}"
        else:
            text = "an entry"
        at = words.moment(self.local(entry.at), self.local(self.now))
        return f"{text[:1].upper()}{text[1:]}, {at}"

    def request(
        self, instrument_id: str, *, zone: str = "", texture_um: float | None = None, target: str | None = None
    ) -> OutlookRequest:
        """A snapshot to compute an outlook from, anywhere."""
        rack = self.shop.on_rack(instrument_id)
        zero = self.local(rack.zero)
        return OutlookRequest(
            rack=rack,
            method=self.catalogue.method(rack.project.instrument.method),
            drawer=self.drawer,
            now=self.now.astimezone(UTC),
            hour_at_zero=zero.hour + zero.minute / 60,
            zone=zone,
            texture_um=texture_um,
            target=target,
            memory=self._memory.setdefault(instrument_id, {}),
        )
