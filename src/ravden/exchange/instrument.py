"""One instrument as a file: everything ever logged of it, with its method and its plan, and back into a shop."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any, Union

import msgspec

from ravden.core.errors import InputError, need
from ravden.journal.counting import effective
from ravden.journal.entry import Entry, decode, encode
from ravden.journal.fold import Fold, check, strictly
from ravden.journal.hours import EARLIEST, LATEST
from ravden.journal.kinds import every_kind
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.handed_over import HandedOver, OfBook
from ravden.journal.kinds.instrument import ID, InstrumentAdded
from ravden.journal.kinds.kind import Kind, OfInstrument
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown
from ravden.journal.shop import Shop
from ravden.journal.store import Journal, Row
from ravden.text.say import whole_fault

FORMAT, VERSION = "ravden instrument", 1
MOST_BYTES, MOST_ENTRIES = 10_000_000, 5000
MOST_CHECKED = 300  # each against all before it: more take longer than anybody waits, and are folded and reckoned with
AIR = (AirLogged, AirSeries, AirUsual)
OF_ONE = (InstrumentAdded, OfInstrument, OfBook, Undone, Unknown)  # what an instrument's own entries are


class EntryOut(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """An entry of the journal: its number in this file, when it happened, when it was written, which one it corrects or
    takes back, and what it says."""

    n: int
    at: datetime
    logged_at: datetime
    body: msgspec.Raw
    corrects: int | None = None

    @property
    def said(self) -> Kind:
        """What it says; one of a kind nobody knows here is kept as it is."""
        return decode(bytes(self.body).decode(errors="replace"))


class StepOut(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A step of the plan as it was when the file was written: told for other readers, passed over when read back."""

    step: str
    kind: str
    begins: datetime
    ends: datetime
    hands_h: float = 0.0


class InstrumentFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The whole file. air: the shop's air while it was there; methods: the shop's own methods it uses."""

    format: str
    version: int
    instrument: str
    entries: list[EntryOut]
    air: list[EntryOut] = []
    methods: list[EntryOut] = []
    plan: list[StepOut] = []


def schema() -> dict[str, Any]:
    """The JSON Schema of the file."""
    found = msgspec.json.schema(InstrumentFile)
    bodies = msgspec.json.schema(Union[every_kind()])  # noqa: UP007
    found["$defs"]["EntryOut"]["properties"]["body"] = {k: v for k, v in bodies.items() if k != "$defs"}
    found["$defs"].update(bodies["$defs"])
    return found


def write(entries: Sequence[Entry], shop: Shop, instrument_id: str, plan: Sequence[StepOut] = ()) -> bytes:
    """The file of one instrument. Raises InputError where there is no such instrument."""
    rack = shop.on_rack(instrument_id)
    mine = [_nameless(e) for e in entries if e.instrument == instrument_id or _adds(e, instrument_id)]
    used = rack.instrument.method
    own = [
        e
        for e in effective(list(entries))
        if isinstance(e.body, MethodKept) and used == _id(e.body, shop)
    ]  # fmt: skip
    air = [e for e in effective(list(entries)) if isinstance(e.body, AIR)]
    made = InstrumentFile(
        format=FORMAT, version=VERSION, instrument=instrument_id, entries=_numbered(mine), air=_numbered(air),
        methods=_numbered(own), plan=list(plan),
    )  # fmt: skip
    return msgspec.json.format(msgspec.json.encode(made), indent=1) + b"\n"


def _nameless(entry: Entry) -> Entry:
    """An entry without the number of a person, which means nothing to another shop."""
    if not isinstance(entry.body, HandedOver):
        return entry
    return msgspec.structs.replace(entry, body=msgspec.structs.replace(entry.body, person=0))


def _adds(entry: Entry, instrument_id: str) -> bool:
    return isinstance(entry.body, InstrumentAdded) and entry.body.id == instrument_id


def _id(body: MethodKept, shop: Shop) -> str:
    from ravden.catalogue.method_files import read_method_file

    return read_method_file(body.text, body.name, shop.catalogue).id


def _numbered(entries: Sequence[Entry]) -> list[EntryOut]:
    number = {e.id: i for i, e in enumerate(entries, start=1)}
    return [
        EntryOut(
            n=number[e.id], at=e.at, logged_at=e.logged_at,
            body=msgspec.Raw(encode(e.body.renumbered(number)).encode()),
            corrects=None if e.corrects is None else number.get(e.corrects),
        )
        for e in entries
    ]  # fmt: skip


def read(raw: bytes, file: str) -> InstrumentFile:
    """A file taken apart and checked. Raises InputError naming the file and the field."""
    if len(raw) > MOST_BYTES:
        raise InputError(file, f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        found = msgspec.json.decode(raw, type=InstrumentFile)
    except (UnicodeError, RecursionError):
        raise InputError(file, "cannot be read: it is not text, or nested too deep") from None
    except (msgspec.ValidationError, msgspec.DecodeError, InputError) as error:
        cause = error.__cause__ if isinstance(error.__cause__, InputError) else error
        raise InputError(file, cause.said if isinstance(cause, InputError) else str(cause)) from None
    if found.format != FORMAT:
        raise InputError(f"{file}, format", f"must be {FORMAT} (got {found.format})")
    if found.version > VERSION:
        raise InputError(f"{file}, version", f"was written by a newer Ravden (version {found.version})")
    if len(found.entries) > MOST_ENTRIES:
        raise InputError(f"{file}, entries", f"at most {MOST_ENTRIES} can be read")
    for i, entry in enumerate(found.entries, start=1):
        where = f"{file}, entries[{i - 1}]"
        body = _body(entry, where)
        if not isinstance(body, OF_ONE):
            raise InputError(where, "tells of the shop, and the file is of an instrument")
        if entry.n != i:
            raise InputError(where, f"is number {entry.n}; entries are numbered from 1 on, in order")
        if entry.corrects is not None and not 0 < entry.corrects < i:
            raise InputError(where, f"corrects {entry.corrects}, which does not come before it")
        if isinstance(body, Undone) and entry.corrects is None:
            raise InputError(where, "takes nothing back")
        if entry.at.tzinfo is None or entry.logged_at.tzinfo is None:
            raise InputError(where, "a time without a time zone cannot be kept")
        for at in (entry.at, entry.logged_at):
            need(EARLIEST <= at.year < LATEST, where, f"is of the year {at.year}: is that right?")
        if isinstance(body, InstrumentAdded) and body.id != found.instrument:
            raise InputError(where, f"puts {body.id} on the rack, and the file is of {found.instrument}")
    for name, others, kinds in (("air", found.air, AIR), ("methods", found.methods, (MethodKept,))):
        need(len(others) <= MOST_ENTRIES, f"{file}, {name}", f"at most {MOST_ENTRIES} can be read")
        for i, entry in enumerate(others):
            where = f"{file}, {name}[{i}]"
            if not isinstance(_body(entry, where), (*kinds, Undone)):
                raise InputError(where, f"is nothing of the {name}")
            need(entry.at.tzinfo is not None, where, "a time without a time zone cannot be kept")
            need(EARLIEST <= entry.at.year < LATEST, where, f"is of the year {entry.at.year}: is that right?")
    if not any(isinstance(e.said, InstrumentAdded) for e in found.entries):
        raise InputError(f"{file}, entries", "nothing in it puts the instrument on the rack")
    return found


def _body(entry: EntryOut, where: str) -> Kind:
    try:
        return entry.said
    except InputError as error:
        raise InputError(f"{where}.body", error.said) from None


def bring_in(
    found: InstrumentFile, file: str, journal: Journal, entries: list[Entry], shop: Shop,
    reckon: Callable[[Shop, str], object] | None = None,
) -> tuple[str, list[Entry]]:  # fmt: skip
    """Write a file's entries into a shop, all or none; returns the instrument's id there and the new entries.

    An instrument whose id is taken gets another; the shop's air stays its own where it has told any. Raises InputError
    and changes nothing where the file contradicts itself, or the shop as it would be cannot be reckoned with: reckon is
    given that shop, and the instrument.
    """
    instrument = found.instrument
    said = "must be letters, digits, points and hyphens, at most 80 of them"
    need(bool(re.fullmatch(ID, instrument)), f"{file}, instrument", said)
    number = 2
    while instrument in shop.racked or instrument in shop.book:
        instrument, number = f"{found.instrument}-{number}", number + 1
    rows: list[Row] = []
    if not any(isinstance(e.body, AIR) for e in effective(entries)):
        rows += [Row(body=e.said, at=e.at, logged_at=e.logged_at) for e in found.air if isinstance(e.said, AIR)]
    known = {e.body.text for e in effective(entries) if isinstance(e.body, MethodKept)}
    rows += [
        Row(body=kept, at=e.at, logged_at=e.logged_at)
        for e in found.methods
        if isinstance(kept := e.said, MethodKept) and kept.text not in known
    ]
    before = len(rows)
    for e in found.entries:
        body = e.said
        if isinstance(body, InstrumentAdded):
            body = msgspec.structs.replace(body, id=instrument)
        if isinstance(body, HandedOver):
            body = msgspec.structs.replace(body, person=0)  # a number of another shop's people
        rows.append(Row(body=body, at=e.at, logged_at=e.logged_at, instrument=instrument,
                        follows=None if e.corrects is None else before + e.corrects - 1,
                        numbered_from=before))  # fmt: skip
    after = _rehearse(rows, file, entries, shop, instrument)
    if reckon is not None and instrument in after.racked:
        try:
            reckon(after, instrument)
        except Exception as error:  # whatever it is, it would come again with every look at the instrument
            why = whole_fault(error) if isinstance(error, InputError) else type(error).__name__
            raise InputError(file, f"tells of something nobody can reckon with ({why})") from None
    return instrument, journal.append_all(rows)


def _rehearse(rows: Sequence[Row], file: str, entries: list[Entry], shop: Shop, instrument: str) -> Shop:
    """Fold the shop as it would be, so that what cannot be is found before anything is written."""
    start = max((e.id for e in entries), default=0) + 1
    first = next((r.numbered_from for r in rows if r.numbered_from is not None), 0)
    numbers = {n: start + first + n - 1 for n in range(1, len(rows) - first + 1)}
    made = [
        Entry(id=start + i, at=r.at, logged_at=r.logged_at, instrument=r.instrument,
              body=r.body if r.numbered_from is None else r.body.renumbered(numbers),
              corrects=None if r.follows is None else start + r.follows)
        for i, r in enumerate(rows)
    ]  # fmt: skip
    try:
        few = len(made) <= MOST_CHECKED
        folded = Fold(entries if few else [*entries, *made], shop.catalogue)
        for entry in made if few else ():
            _check(folded, entry, max(e.at for e in made))
            folded.add(entry)
        after = strictly(folded, since=start).shop
        for rack in after.racked.values():
            assert rack.method.stage
            for act in rack.project.acts:
                for zone in (*(getattr(act, "zones", None) or ()), *filter(None, [getattr(act, "zone", "")])):
                    rack.project.zone(zone)
    except InputError as error:
        raise InputError(file, whole_fault(error)) from None
    return after


def _check(folded: Fold, entry: Entry, now: datetime) -> None:
    """What is brought in is checked as it was when it was logged. Raises InputError."""
    body = entry.body
    if isinstance(body, Undone | Unknown):
        return
    if entry.corrects is None:
        check(folded.shop, body, entry.instrument, entry.at, now)
        return
    old = folded.counting(entry.corrects)
    if old is not None and not isinstance(body, type(old.body)):
        raise InputError("corrects", "an entry is corrected by one of its own kind")
    if old is not None:
        check(folded.without(entry.corrects), body, entry.instrument, entry.at, now)
