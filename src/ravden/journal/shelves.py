"""What of a shop file is read when it is opened: the instruments on the rack, what is known of the shop, the air of
late, and for every instrument in the Book a line. The rest is read when it is asked for."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct, field

from ravden.journal.air import Span
from ravden.journal.book import Booked, Checked
from ravden.journal.entry import iso
from ravden.journal.kinds.air import SENSOR, AirLogged, AirSeries
from ravden.journal.kinds.handed_over import BackOnRack, CheckSeen, HandedOver
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import LightOnLogged
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.stock import LotBought, LotGone

if TYPE_CHECKING:
    from ravden.journal.entry import Entry
    from ravden.journal.store import Journal

LATE = 300  # the newest entries: whose they are is read whole, so that each of them can be taken back
LATE_PLANS = 20  # the one that is kept is the last of them that counts
LATE_SESSIONS = 20  # a session that goes on is among the last few
AIR_BACK = timedelta(days=400)  # the air that is shown
USED_BACK = timedelta(days=366)  # what was used of a product in a year is shown
LONGEST_LOG = timedelta(days=900)  # a logger's file: 20 000 rows an hour apart are 833 days
AIR = tuple(k.__struct_config__.tag for k in (AirLogged, AirSeries))
SESSION = tuple(k.__struct_config__.tag for k in (SessionPaused, SessionEnded, MixMade))
BEGUN, LIT = SessionBegun.__struct_config__.tag, LightOnLogged.__struct_config__.tag
PLANNED = PlanKept.__struct_config__.tag
ADDED = InstrumentAdded.__struct_config__.tag
ABOUT = ("name", "instrument_kind", "method", "material", "sheen")  # of an entry, in the order of what follows
BOOKED = ("name", "kind", "method", "material", "sheen")
MIXED = MixMade.__struct_config__.tag
HANDED, GONE = HandedOver.__struct_config__.tag, LotGone.__struct_config__.tag
CHECKED = CheckSeen.__struct_config__.tag
TURNED = tuple(k.__struct_config__.tag for k in (HandedOver, BackOnRack))


class Shelves(Struct, frozen=True, kw_only=True):
    """entries: as they were written, without readings of the air that no instrument among them stood in and that are
    older than is shown; book: instruments whose entries are not among them."""

    entries: list[Entry]
    book: dict[str, Booked] = field(default_factory=dict)


def shelves(journal: Journal, now: datetime) -> Shelves:
    """Read what a shop is opened with. What counts is known first, and everything is chosen among that. Raises
    InputError naming an entry that cannot be read."""
    found: dict[int, Entry] = {}
    counts = journal.counts()

    def take(entries: list[Entry]) -> list[Entry]:
        found.update((e.id, e) for e in entries)
        return entries

    _take_late(journal, take, found)
    book = _book(journal, counts)
    late = {e.body.id if isinstance(e.body, InstrumentAdded) else e.instrument for e in found.values()}
    # When a session was over is told by what was done to its instruments.
    newest = f"kind = ? AND instrument = '' AND {counts} ORDER BY +id DESC LIMIT 1"
    for e in journal.select(newest, (BEGUN,)):
        late |= set(e.body.instruments) if isinstance(e.body, SessionBegun) else set()
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
    _take_sessions(journal, take, counts)
    # What was mixed came out of a can that stands there still, or is what was used of late.
    off = journal.names(f"SELECT id FROM entry WHERE kind = ? AND {counts}", (GONE,))
    since = min(_oldest_can(found.values(), off, now), now - USED_BACK)
    take(journal.select("kind = ? AND instrument = '' AND at >= ?", (MIXED, iso(since))))
    plans = f"kind = ? AND instrument = '' AND {counts} ORDER BY at DESC, id DESC LIMIT {LATE_PLANS}"
    take(journal.select(plans, (PLANNED,)))
    take(journal.select("corrects IS NOT NULL AND instrument = '' AND kind <> ?", (ADDED,)))
    take(air_in(journal, [*in_shop(list(found.values()), now), (now - AIR_BACK, now)], counts))
    return Shelves(entries=[found[i] for i in sorted(found)], book=book)


def _take_late(journal: Journal, take: Callable[[list[Entry]], list[Entry]], found: dict[int, Entry]) -> None:
    """The newest entries, so that each of them can be taken back, and what they take back or correct, so that it can be
    brought back. What a sensor wrote is none of them."""
    first = "SELECT min(id) FROM (SELECT id FROM entry WHERE kind <> ? ORDER BY id DESC LIMIT ?)"
    since = journal.names(first, (AIR[1], LATE))[0]
    if since is None:
        since = 0
    by_hand = "id >= ? AND (kind <> ? OR coalesce(json_extract(body, '$.name'), '') <> ?)"
    new = take(journal.select(by_hand, (since, AIR[1], SENSOR)))
    while new:
        targets = {e.corrects for e in new if e.corrects is not None} - found.keys()
        new = [e for number in sorted(targets) for e in take(journal.select("id = ?", (number,)))]


def _oldest_can(entries: Iterable[Entry], gone: Iterable[object], now: datetime) -> datetime:
    """Since when there is a can on the shelf that is still there; one too many is no harm. gone: the entries that say
    of a can that it is gone, and count, by number."""
    read, counting = list(entries), set(gone)
    off = {e.body.lot for e in read if isinstance(e.body, LotGone) and e.id in counting}
    return min((e.at for e in read if isinstance(e.body, LotBought) and e.id not in off), default=now)


def of_booked(journal: Journal, booked: Booked, now: datetime) -> list[Entry]:
    """All that happened to an instrument of the Book, and the air it stood in."""
    return of_several(journal, [booked], now)


def of_several(journal: Journal, some: Sequence[Booked], now: datetime) -> list[Entry]:
    """The same of several, the air they stood in together read once."""
    mine = [e for b in some for e in of_instrument(journal, b.id)]
    return [*mine, *air_in(journal, in_shop(mine, now), journal.counts())]


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


def air_in(journal: Journal, spans: list[Span], counts: str) -> list[Entry]:
    """The readings of stretches of time, which may overlap, and those in force as each begins. counts: a condition for
    what does (Journal.counts)."""
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
        out += _air_between(journal, since, until, counts)
    return out


def _air_between(journal: Journal, since: datetime, until: datetime, counts: str) -> list[Entry]:
    out: list[Entry] = []
    for kind in AIR:
        of_it = "kind = ? AND instrument = ''"
        out += journal.select(f"{of_it} AND at >= ? AND at <= ?", (kind, iso(since), iso(until)))
    before = f"kind = ? AND instrument = '' AND at < ? AND {counts}"
    newest = "ORDER BY at DESC, id DESC LIMIT 1"
    of_sensor = "coalesce(json_extract(body, '$.name'), '') = ?"
    out += journal.select(f"{before} {newest}", (AIR[0], iso(since)))
    out += journal.select(f"{before} AND {of_sensor} {newest}", (AIR[1], iso(since), SENSOR))
    # A logger's file that began before may reach into it; what a sensor writes is a row an entry.
    reach = "kind = ? AND instrument = '' AND at >= ? AND at < ? AND coalesce(json_extract(body, '$.name'), '') <> ?"
    out += journal.select(reach, (AIR[1], iso(since - LONGEST_LOG), iso(since), SENSOR))
    return out


# By kind first and then sorted (+id): along the numbers themselves every entry there is would be looked at.
def _take_sessions(journal: Journal, take: Callable[[list[Entry]], list[Entry]], counts: str) -> None:
    of_shop = f"kind = ? AND instrument = '' AND {counts}"
    begun = take(journal.select(f"{of_shop} ORDER BY +id DESC LIMIT {LATE_SESSIONS}", (BEGUN,)))
    if begun:
        since = iso(min(e.at for e in begun))
        for kind in SESSION:
            take(journal.select("kind = ? AND instrument = '' AND at >= ?", (kind, since)))
    # The lamp as last told, of whatever instrument: its strength holds for the next one too.
    lamp = "coalesce(json_extract(body, '$.lamp_mW_cm2'), 0) > 0"
    take(journal.select(f"{of_shop} AND {lamp} ORDER BY +id DESC LIMIT 1", (BEGUN,)))
    lit = "coalesce(json_extract(body, '$.mW_cm2'), 0) > 0"
    take(journal.select(f"kind = ? AND {counts} AND {lit} ORDER BY +id DESC LIMIT 1", (LIT,)))


def sessions_since(journal: Journal, since: datetime) -> list[Entry]:
    """Of sessions in the Booth what happened from a moment on, and all that was taken back in the shop."""
    out = journal.select("corrects IS NOT NULL AND instrument = ''", ())
    for kind in (BEGUN, *SESSION):
        out += journal.select("kind = ? AND instrument = '' AND at >= ? AND corrects IS NULL", (kind, iso(since)))
    return out


def _book(journal: Journal, counts: str) -> dict[str, Booked]:
    """The instruments whose last turn was off the rack; what is asked of each is read, and no body as a whole."""
    last: dict[str, tuple[str, str, int, str]] = {}
    turns = []
    for kind in TURNED:
        turns += journal.rows(
            "SELECT at, id, instrument, kind, json_extract(body, '$.person'), json_extract(body, '$.note') FROM entry "
            f"WHERE kind = ? AND {counts}", (kind,),
        )  # fmt: skip
    for at, _, instrument, kind, person, note in sorted(turns, key=lambda t: t[:2]):
        last[instrument] = (kind, at, person or 0, note or "")
    checks = _checks(journal, counts) if last else {}
    out = {}
    fields = ", ".join(f"json_extract(body, '$.{f}')" for f in ("id", *ABOUT)) if last else ""
    came = f"SELECT at, {fields} FROM entry WHERE kind = ? AND {counts} ORDER BY at, id"
    for at, name, *about in journal.rows(came, (ADDED,)) if last else []:
        if name not in last:
            continue
        kind, handed, person, note = last[name]
        if kind == HANDED:
            out[name] = Booked(
                id=name, **dict(zip(BOOKED, about, strict=True)), added=datetime.fromisoformat(at),
                handed=datetime.fromisoformat(handed), person=person, note=note,
                checks=tuple(c for c in checks.get(name, ()) if c.at >= datetime.fromisoformat(handed)),
            )  # fmt: skip
    return dict(sorted(out.items(), key=lambda b: (b[1].handed, b[0])))


def _checks(journal: Journal, counts: str) -> dict[str, list[Checked]]:
    """Looks at instruments after they were handed over, in the order of time."""
    out: dict[str, list[Checked]] = {}
    for e in sorted(journal.select(f"kind = ? AND {counts}", (CHECKED,)), key=lambda e: (e.at, e.id)):
        if isinstance(e.body, CheckSeen):
            seen = Checked(at=e.at, sink=e.body.sink, seen=e.body.seen, note=e.body.note)
            out.setdefault(e.instrument, []).append(seen)
    return out
