"""What of a shop file is read when it is opened: the instruments on the rack, what is known of the shop, the air of
late, and for every instrument in the Book a line. The rest is read when it is asked for."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct, field

from ravden.journal.air import Span
from ravden.journal.book import Booked, Checked
from ravden.journal.counting import gone_of
from ravden.journal.entry import iso
from ravden.journal.kinds.air import SENSOR, AirLogged, AirSeries
from ravden.journal.kinds.handed_over import BackOnRack, CheckSeen, HandedOver
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import LightOnLogged
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.stock import LotBought, LotGone
from ravden.journal.kinds.undone import Undone

if TYPE_CHECKING:
    from ravden.journal.entry import Entry
    from ravden.journal.store import Journal

LATE = 300  # the newest entries: whose they are is read whole, so that each of them can be taken back
LATE_PLANS = 20  # the one that is kept is the last of them that counts
LATE_SESSIONS = 20  # a session that goes on is among the last few
AIR_BACK = timedelta(days=400)  # the air that is shown
LONGEST_LOG = timedelta(days=900)  # a logger's file: 20 000 rows an hour apart are 833 days
AIR = tuple(k.__struct_config__.tag for k in (AirLogged, AirSeries))
SESSION = tuple(k.__struct_config__.tag for k in (SessionPaused, SessionEnded, MixMade))
BEGUN, LIT = SessionBegun.__struct_config__.tag, LightOnLogged.__struct_config__.tag
PLANNED = PlanKept.__struct_config__.tag
ADDED = InstrumentAdded.__struct_config__.tag
ABOUT = ("name", "instrument_kind", "method", "material", "sheen")  # of an entry, in the order of what follows
BOOKED = ("name", "kind", "method", "material", "sheen")
UNDONE, HANDED = Undone.__struct_config__.tag, HandedOver.__struct_config__.tag
CHECKED = CheckSeen.__struct_config__.tag
TURNED = tuple(k.__struct_config__.tag for k in (HandedOver, BackOnRack))


class Shelves(Struct, frozen=True, kw_only=True):
    """entries: as they were written, without readings of the air that no instrument among them stood in and that are
    older than is shown; book: instruments whose entries are not among them."""

    entries: list[Entry]
    book: dict[str, Booked] = field(default_factory=dict)


def shelves(journal: Journal, now: datetime) -> Shelves:
    """Read what a shop is opened with. Raises InputError naming an entry that cannot be read."""
    found: dict[int, Entry] = {}

    def take(entries: list[Entry]) -> list[Entry]:
        found.update((e.id, e) for e in entries)
        return entries

    book = _book(journal)
    late = set(journal.names("SELECT instrument FROM entry ORDER BY id DESC LIMIT ?", (LATE,)))
    kept = set(journal.lessons())
    book = {i: b for i, b in book.items() if i not in late and i in kept}
    for instrument in journal.instruments():
        if instrument and instrument not in book:
            take(journal.of(instrument))
    for kind in journal.kinds():
        if kind not in (*AIR, *SESSION, BEGUN, ADDED, PLANNED):
            take(journal.of_shop(kind))
    added = journal.rows("SELECT id, json_extract(body, '$.id') FROM entry WHERE kind = ?", (ADDED,))
    for number, instrument in added:
        if instrument not in book and number not in found:
            take(journal.select("id = ?", (number,)))
    _take_sessions(journal, take)
    if (since := _oldest_can(found.values())) is not None:
        # What was mixed came out of a can that stands there still.
        mixed = MixMade.__struct_config__.tag
        take(journal.select("kind = ? AND instrument = '' AND at >= ?", (mixed, iso(since))))
    take(journal.select(f"kind = ? AND instrument = '' ORDER BY id DESC LIMIT {LATE_PLANS}", (PLANNED,)))
    take(journal.select("corrects IS NOT NULL AND instrument = ''", ()))
    take(air_in(journal, [*in_shop(list(found.values()), now), (now - AIR_BACK, now)]))
    return Shelves(entries=[found[i] for i in sorted(found)], book=book)


def _oldest_can(entries: Iterable[Entry]) -> datetime | None:
    """Since when there is a can on the shelf that is still there; one too many is no harm."""
    read = list(entries)
    gone = {e.body.lot for e in read if isinstance(e.body, LotGone)}
    return min((e.at for e in read if isinstance(e.body, LotBought) and e.id not in gone), default=None)


def of_booked(journal: Journal, booked: Booked, now: datetime) -> list[Entry]:
    """All that happened to an instrument of the Book, and the air it stood in."""
    mine = of_instrument(journal, booked.id)
    return [*mine, *air_in(journal, in_shop(mine, now))]


def of_instrument(journal: Journal, instrument: str) -> list[Entry]:
    """All that was written of an instrument, with how it came."""
    added = "kind = ? AND instrument = '' AND json_extract(body, '$.id') = ?"
    return [*journal.of(instrument), *journal.select(added, (ADDED, instrument))]


def in_shop(entries: list[Entry], now: datetime) -> list[Span]:
    """When instruments stood in the shop's air: from coming, or coming back, to being handed over. What was taken back
    since only makes it longer."""
    since: dict[str, datetime] = {}
    out: list[Span] = []
    for e in sorted(entries, key=lambda e: (e.at, e.id)):
        if isinstance(e.body, InstrumentAdded | BackOnRack):
            since.setdefault(e.body.group(e.instrument), e.at)
        elif isinstance(e.body, HandedOver) and e.instrument in since and not _undone(e, entries):
            out.append((since.pop(e.instrument), e.at))
    return [*out, *((at, max(now, at)) for at in since.values())]


def _undone(entry: Entry, entries: list[Entry]) -> bool:
    """Whether something was ever said to take its place: it may not count then."""
    return any(e.corrects == entry.id for e in entries)


def air_in(journal: Journal, spans: list[Span]) -> list[Entry]:
    """The readings of stretches of time, which may overlap, and those in force as each begins."""
    out: list[Entry] = []
    end: datetime | None = None
    merged: list[Span] = []
    for since, until in sorted(spans):
        if end is not None and since <= end:
            end = max(end, until)
            merged[-1] = (merged[-1][0], end)
        else:
            merged.append((since, until))
            end = until
    for since, until in merged:
        out += _air_between(journal, since, until)
    return out


def _air_between(journal: Journal, since: datetime, until: datetime) -> list[Entry]:
    out: list[Entry] = []
    for kind in AIR:
        of_it = "kind = ? AND instrument = ''"
        out += journal.select(f"{of_it} AND at >= ? AND at <= ?", (kind, iso(since), iso(until)))
        out += journal.select(f"{of_it} AND at < ? ORDER BY at DESC LIMIT 1", (kind, iso(since)))
    # A logger's file that began before may reach into it; what a sensor writes is a row an entry.
    reach = "kind = ? AND instrument = '' AND at >= ? AND at < ? AND coalesce(json_extract(body, '$.name'), '') <> ?"
    out += journal.select(reach, (AIR[1], iso(since - LONGEST_LOG), iso(since), SENSOR))
    return out


def _take_sessions(journal: Journal, take: Callable[[list[Entry]], list[Entry]]) -> None:
    begun = take(journal.select(f"kind = ? AND instrument = '' ORDER BY at DESC LIMIT {LATE_SESSIONS}", (BEGUN,)))
    if begun:
        since = iso(min(e.at for e in begun))
        for kind in SESSION:
            take(journal.select("kind = ? AND instrument = '' AND at >= ?", (kind, since)))
    # The lamp as last told, of whatever instrument: its strength holds for the next one too.
    lamp = "coalesce(json_extract(body, '$.lamp_mW_cm2'), 0) > 0"
    take(journal.select(f"kind = ? AND instrument = '' AND {lamp} ORDER BY at DESC LIMIT 1", (BEGUN,)))
    take(journal.select("kind = ? ORDER BY id DESC LIMIT 1", (LIT,)))


def sessions_since(journal: Journal, since: datetime) -> list[Entry]:
    """Of sessions in the Booth what happened from a moment on, and all that was taken back in the shop."""
    out = journal.select("corrects IS NOT NULL AND instrument = ''", ())
    for kind in (BEGUN, *SESSION):
        out += journal.select("kind = ? AND instrument = '' AND at >= ? AND corrects IS NULL", (kind, iso(since)))
    return out


def _book(journal: Journal) -> dict[str, Booked]:
    """The instruments whose last turn was off the rack; what is asked of each is read, and no body as a whole."""
    corrections = journal.rows(
        "SELECT id, corrects, kind = ? AND coalesce(json_extract(body, '$.whole'), 0) = 0 FROM entry "
        "WHERE corrects IS NOT NULL ORDER BY id",
        (UNDONE,),
    )
    gone = gone_of([(number, target, bool(undone)) for number, target, undone in corrections])
    last: dict[str, tuple[str, str, int, str]] = {}
    turns = []
    for kind in TURNED:
        turns += journal.rows(
            "SELECT at, id, instrument, kind, json_extract(body, '$.person'), json_extract(body, '$.note') FROM entry "
            "WHERE kind = ?", (kind,),
        )  # fmt: skip
    for at, number, instrument, kind, person, note in sorted(turns, key=lambda t: t[:2]):
        if number not in gone:
            last[instrument] = (kind, at, person or 0, note or "")
    checks = _checks(journal, gone) if last else {}
    out = {}
    fields = ", ".join(f"json_extract(body, '$.{f}')" for f in ("id", *ABOUT)) if last else ""
    came = journal.rows(f"SELECT id, at, {fields} FROM entry WHERE kind = ? ORDER BY id", (ADDED,)) if last else []
    for number, at, name, *about in came:
        if name not in last or number in gone:
            continue
        kind, handed, person, note = last[name]
        if kind == HANDED:
            out[name] = Booked(
                id=name, **dict(zip(BOOKED, about, strict=True)), added=datetime.fromisoformat(at),
                handed=datetime.fromisoformat(handed), person=person, note=note,
                checks=tuple(c for c in checks.get(name, ()) if c.at >= datetime.fromisoformat(handed)),
            )  # fmt: skip
    return dict(sorted(out.items(), key=lambda b: (b[1].handed, b[0])))


def _checks(journal: Journal, gone: set[int]) -> dict[str, list[Checked]]:
    """Looks at instruments after they were handed over, in the order of time."""
    out: dict[str, list[Checked]] = {}
    for e in sorted(journal.select("kind = ?", (CHECKED,)), key=lambda e: (e.at, e.id)):
        if e.id not in gone and isinstance(e.body, CheckSeen):
            seen = Checked(at=e.at, sink=e.body.sink, seen=e.body.seen, note=e.body.note)
            out.setdefault(e.instrument, []).append(seen)
    return out
