"""The one place that holds state: the open shop file, the selection, the units and the clock. No Qt.

The plan package is imported when an outlook is first computed, off the GUI thread: the first paint does not need it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import structs

from ravden.catalogue.assemble import drawer_of
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError
from ravden.core.record import Coat, Reading, Sanding
from ravden.core.units import Units
from ravden.journal.entries import (
    AirLogged,
    AirSeries,
    AirUsual,
    Body,
    CabinetLogged,
    CoatLogged,
    DrawerSet,
    Entry,
    ExposureLogged,
    InstrumentAdded,
    MethodKept,
    MishapLogged,
    RateAccepted,
    ReadingLogged,
    SandingLogged,
    ShopNamed,
    StepLogged,
    Undone,
    ZonesSet,
)
from ravden.journal.shop import OnRack, Shop, check, fold
from ravden.journal.store import Journal, effective, last_to_redo, last_to_undo
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
    teachers: tuple[OnRack, ...] = ()
    memory: Memory | None = None
    earlier: tuple[tuple[OnRack, Memory], ...] = ()
    advise: bool = False

    def run(self) -> Outlook:
        """The computation itself: what earlier instruments taught about the applicator, then this one."""
        from ravden.core.plan.counsel import counsel
        from ravden.core.plan.hours import WorkHours
        from ravden.core.plan.learnt import learnt, started_from
        from ravden.core.plan.outlook import outlook

        drawer = self.drawer
        if self.teachers:
            from ravden.core.plan.hands import hands_of

            hands = hands_of([r.project_at(self.now) for r in self.teachers], drawer)
            drawer = replace(drawer, hands=hands)
        belief = learnt([(r.project_at(self.now), r.hours(self.now), memory) for r, memory in self.earlier])
        found = outlook(
            self.rack.project_at(self.now),
            self.method,
            drawer,
            self.rack.hours(self.now),
            WorkHours(hour_at_zero=self.hour_at_zero),
            self.zone,
            self.memory,
            started_from(belief),
        )
        return replace(found, counsel=counsel(found)) if self.advise else found


class ShopSession:
    """The open shop. Every change is told once, as a Changes, to every listener."""

    def __init__(self, catalogue: Catalogue, clock: Clock, units: Units | None = None) -> None:
        self._shipped = catalogue
        self.clock = clock
        self.units = units or Units()
        self.journal: Journal | None = None
        self.entries: list[Entry] = []
        self.shop = Shop(name="", racked={})
        self.selected = ""
        self._memory: dict[str, Memory] = {}
        self._drawer: tuple[DrawerSet | None, Drawer] | None = None
        self._listeners: list[Callable[[Changes], None]] = []

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
            shop = fold(entries, self._shipped)
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
        self.shop = fold(self.entries, self._shipped)
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

    def correct(self, entry_id: int, body: Body, *, at: datetime | None = None, origin: str = "") -> Entry:
        """Put another body, or another time, in the place of an entry that counts; the record keeps both."""
        if self.journal is None:
            raise InputError("", "no shop file is open")
        old = next((e for e in effective(self.entries) if e.id == entry_id), None)
        if old is None:
            raise InputError("", "that entry was taken back or corrected already")
        if type(old.body) is not type(body):
            raise InputError("", "an entry is corrected by one of its own kind; take it back and log the other")
        now, moment = self.now, at or old.at
        without = fold([e for e in effective(self.entries) if e.id != entry_id], self._shipped)
        check(without, body, old.instrument, moment, now)
        entry = self.journal.append(body, at=moment, logged_at=now, instrument=old.instrument, corrects=entry_id)
        self._refold(entry)
        touched = (old.instrument,) if old.instrument else tuple(self.shop.racked)
        self.tell(Changes(origin=origin, instruments=touched, message=f"Corrected: {self.describe(entry)}"))
        return entry

    def log_next_step(self, origin: str = "", *, skipped: bool = False) -> Entry:
        """The next step of the method done, or skipped, where it is work by hand. Raises InputError where it is not."""
        from ravden.core.method.steps import WORK_KINDS, progress

        rack = self.rack
        if rack is None:
            raise InputError("", "add an instrument first (N)")
        method = rack.method
        at = progress(method, rack.acts, rack.hours(self.now)).index
        if at >= len(method.stage):
            raise InputError("", "the method is done")
        stage = method.stage[at]
        if stage.kind not in (*WORK_KINDS, "scuff") or (stage.kind == "scuff" and not skipped):
            how = {"coats": "log the coat (C)", "wait": "it waits for the film"}.get(stage.kind, "log the sanding (S)")
            raise InputError("", f"next is {stage.label}: {how}")
        entry = self.log(StepLogged(step=stage.label, skipped=skipped), instrument=self.selected, origin=origin)
        if skipped and stage.wrong:
            self.tell(Changes(origin=origin, message=f"Skipped: {stage.label}. {stage.wrong}"))
        return entry

    def choose_method(self, instrument_id: str, method_id: str, origin: str = "") -> Entry:
        """Another method, and its finish, for an instrument that has no coat yet."""
        rack = self.shop.on_rack(instrument_id)
        if rack.project.coats:
            raise InputError("", "coats were laid already; another method is chosen before the first one")
        method = self.catalogue.method(method_id)
        material = self.catalogue.material(method.material)
        entry = next(
            e for e in effective(self.entries) if isinstance(e.body, InstrumentAdded) and e.body.id == instrument_id
        )
        assert isinstance(entry.body, InstrumentAdded)
        body = structs.replace(entry.body, method=method.id, material=material.id, min_film_um=material.min_film_um)
        return self.correct(entry.id, body, origin=origin)

    def take_back(self, entry_id: int, origin: str = "") -> str:
        """Take back any entry that counts, not only the newest."""
        entry = next((e for e in effective(self.entries) if e.id == entry_id), None)
        if entry is None:
            raise InputError("", "that entry was taken back or corrected already")
        return self._correct(entry, f"Taken back: {self.describe(entry)}", origin)

    def entry(self, entry_id: int) -> Entry:
        """An entry by its number."""
        for entry in self.entries:
            if entry.id == entry_id:
                return entry
        raise InputError("", f"there is no entry {entry_id}")

    def describe(self, entry: Entry) -> str:
        """An entry in a few words, for notices and history."""
        body, units = entry.body, self.units
        on_rack = self.shop.racked.get(entry.instrument)
        name = on_rack.project.instrument.name if on_rack else ""
        if isinstance(body, CoatLogged):
            text = f"{self._coat_words(body, entry, on_rack)} on {name}, {units.film(body.dry_um)} dry"
            text += f" ({body.how})" if body.how else ""
        elif isinstance(body, SandingLogged):
            text = f"sanding on {name}, {units.film(body.um)} off" + (f" with {body.grade}" if body.grade else "")
        elif isinstance(body, ReadingLogged):
            text = f"{words.reading(body, units)} on {name}"
        elif isinstance(body, ZonesSet):
            masked = ", ".join(body.masked) or "nothing"
            text = f"{name}: {masked} masked" + "".join(f", {z} in {m}" for z, m in body.finishes.items())
        elif isinstance(body, AirSeries):
            what = "forecast" if body.source == "forecast" else "logger file"
            text = f"{what} {body.name}, {words.plural(len(body.hours), 'row')}"
        elif isinstance(body, RateAccepted):
            text = f"{self.catalogue.material(body.material).label} here: {words.rate(body.ln_mean)}"
        elif isinstance(body, AirUsual):
            text = "the shop's usual air, by month"
        elif isinstance(body, CabinetLogged):
            text = f"{name} in the warm cabinet, {units.temperature(body.temp_C)} for {words.wait(body.hours)}"
        elif isinstance(body, ExposureLogged):
            text = f"light on {name}, {body.how or f'{body.dose_mJ_cm2:.0f} mJ/cm²'}"
        elif isinstance(body, DrawerSet):
            text = f"abrasives in the drawer: {len(body.owned) + len(body.own)}"
        elif isinstance(body, MethodKept):
            text = f"method from {body.name}"
        elif isinstance(body, StepLogged):
            text = f"{body.step} on {name} {'skipped' if body.skipped else 'done'}"
        elif isinstance(body, MishapLogged):
            text = f"{body.what.replace('-', ' ')} on {name}" + (f" after {body.grade}" if body.grade else "")
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

    def _coat_words(self, body: CoatLogged, entry: Entry, on_rack: OnRack | None) -> str:
        """Which coat it was, as far as anyone is sure."""
        if body.finish:
            return f"coat of {self.catalogue.material(body.finish).label.lower()}"
        if body.count_odds:
            return " or ".join(str(n) for n, _ in body.count_odds) + " coats"
        if on_rack is None:
            return "a coat"
        before = [c for c in on_rack.acts if isinstance(c, Coat) and not c.finish and c.at_h <= on_rack.hours(entry.at)]
        last = round(sum(c.likely_count for c in before))
        return f"coat {last}" if body.count == 1 else f"coats {last - body.count + 1} to {last}"

    def request(self, instrument_id: str, *, zone: str = "", advise: bool = False) -> OutlookRequest:
        """A snapshot to compute an outlook from, anywhere; advise: with counsel on what to do and measure."""
        rack = self.shop.on_rack(instrument_id)
        material = rack.instrument.material
        earlier = [
            (r, self._memory.setdefault(i, {}))
            for i, r in self.shop.racked.items()
            if r.instrument.material == material and (r.added, i) < (rack.added, instrument_id)
        ]
        earlier.sort(key=lambda pair: pair[0].added)
        zero = self.local(rack.zero)
        return OutlookRequest(
            rack=rack,
            method=rack.method,
            drawer=self.drawer,
            now=self.now.astimezone(UTC),
            hour_at_zero=zero.hour + zero.minute / 60,
            zone=zone,
            teachers=tuple(r for r in self.shop.racked.values() if _teaches(r)),
            memory=self._memory.setdefault(instrument_id, {}),
            earlier=tuple(earlier),
            advise=advise,
        )


def _teaches(rack: OnRack) -> bool:
    """Whether an instrument's record says something of the user's own removal or scratch."""
    return any(
        (isinstance(a, Sanding) and a.minutes > 0) or (isinstance(a, Reading) and a.what == "gloss") for a in rack.acts
    )
