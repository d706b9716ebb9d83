"""The journal folded into a shop, entry by entry: what an entry does costs what it touches.

Entries are kept in groups: one for each instrument, one for each part of the shop. An entry that is the newest of its
group by time is put onto the shop as it is; an undo, a correction, or something that happened before what is known of
already folds its group anew, and no other.
"""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta

from msgspec.structs import replace

from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError, need
from ravden.core.fact import fact
from ravden.core.record import Act
from ravden.core.stock.lots import Stock
from ravden.journal.air import ShopAir
from ravden.journal.book import Booked
from ravden.journal.booth import LASTS, BoothSession, Mixed
from ravden.journal.counting import effective
from ravden.journal.entry import Entry
from ravden.journal.hours import EARLIEST, LATEST, ShopHours
from ravden.journal.kinds.air import OfAir
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Acted, Kind
from ravden.journal.kinds.light import LightOnLogged
from ravden.journal.kinds.session import MixMade, OfSession, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown
from ravden.journal.plain import in_words
from ravden.journal.shop import Shop

FUTURE_SLACK = timedelta(minutes=1)  # clocks of two machines differ a little


class Fold:
    """The entries of a journal, and the shop they tell."""

    def __init__(
        self, entries: Iterable[Entry], shipped: Catalogue, book: Mapping[str, Booked] | None = None,
        torn: Mapping[int, tuple[int, int]] | None = None,
    ) -> None:  # fmt: skip
        """book: of instruments whose entries are not among these; torn: acts that are not whole, by number: how many of
        their entries are there, of how many."""
        self.entries: list[Entry] = []
        self.torn = dict(torn or {})
        self._own: set[str] = set()  # groups whose list no other fold has
        self._shipped = shipped
        self._groups: dict[str, list[Entry]] = {}
        self._group_of: dict[int, str] = {}
        self._root: dict[int, int] = {}  # of a correction: the entry it all began with
        self._latest: dict[str, datetime] = {}
        self.aside: dict[int, InputError] = {}  # entries that tell of what cannot be, and why; they have no effect
        self.shop = Shop(catalogue=shipped, book=dict(book or {}))
        for entry in entries:
            if entry.act in self.torn:
                self.entries.append(entry)
                there, wrote = self.torn[entry.act]
                self.aside[entry.id] = InputError("", fact("torn-act", there=there, wrote=wrote))
            else:
                self._file(entry)
        # Tables first: what an instrument is made of may be a method of the shop's own.
        for key in sorted(self._groups, key=lambda k: (k != "/methods", not k.startswith("/"))):
            self._refold(key)
        self._tell_lamp()
        self._tell_session()

    def copied(self) -> "Fold":
        """The same, to try something on: what is added to it leaves this one as it is."""
        out = object.__new__(Fold)
        out.__dict__.update(self.__dict__)
        for name in ("entries", "_groups", "_group_of", "_root", "_latest", "aside"):
            setattr(out, name, getattr(self, name).copy())
        out._own = set()
        return out

    def add(self, entry: Entry) -> None:
        """One entry more."""
        key = self._file(entry)
        body = entry.body
        newest = entry.corrects is None and entry.at >= self._latest.get(key, entry.at) and self._fit(entry)
        if newest and not body.turns_rack and not isinstance(body, Undone):
            self._put(key, entry)
            self._latest[key] = entry.at
        else:
            self._refold(key)
        if key == "/methods":
            # A method may mean another finish for some zones, from the first coat on.
            for other in [k for k in self._groups if not k.startswith("/")]:
                self._refold(other)
        if entry.corrects is not None or isinstance(body, LightOnLogged | SessionBegun):
            self._tell_lamp()
        if entry.corrects is not None or isinstance(body, SessionBegun):
            self._tell_session()
        elif self.shop.session is not None:
            self.shop = replace(self.shop, session=_gone_on(self.shop.session, entry))

    def read_in(self, entries: Iterable[Entry]) -> None:
        """Entries of earlier, read only now."""
        more = [e for e in entries if e.id not in self._group_of]
        for key in sorted({self._file(entry) for entry in more}):
            self._groups[key].sort(key=lambda e: e.id)
            self._refold(key)
        self.entries.sort(key=lambda e: e.id)

    def without(self, entry_id: int) -> Shop:
        """The shop as it would be if one entry had not been logged."""
        key = self._group_of[entry_id]
        tried = self.copied()
        tried._groups[key] = [e for e in effective(self._groups[key]) if e.id != entry_id]
        tried._refold(key)
        return tried.shop

    def counting(self, entry_id: int) -> Entry | None:
        """An entry, if it still counts."""
        key = self._group_of.get(entry_id)
        return None if key is None else next((e for e in effective(self._groups[key]) if e.id == entry_id), None)

    def of_part(self, part: str) -> list[Entry]:
        """The entries that tell a part of the shop and count."""
        return list(effective(self._groups.get(f"/{part}", [])))

    def with_it(self, entry: Entry, *, whole: bool = False) -> list[Entry]:
        """The entries that count of the act an entry was written in, or what was put in their place; the entry itself
        where it was written alone. whole: of a correction, the act that began with what it corrects."""
        act = self._act_of(entry.id) if whole else entry.act
        if act is None:
            return [entry]
        written = {e.id: e for e in self.entries if e.act == act and e.id in self._group_of}
        keys = {self._group_of[number] for number in written}
        counting = [e for key in keys for e in effective(self._groups[key])]
        mine = [e for e in counting if e.id in written or self._root.get(e.id) in written]
        undone = [e for e in written.values() if isinstance(e.body, Undone)]
        return sorted((*mine, *undone), key=lambda e: e.id)

    def _act_of(self, number: int) -> int | None:
        root = self._root.get(number, number)
        found = next((e for e in self.entries if e.id in (number, root) and e.act is not None), None)
        return None if found is None else found.act

    def added(self, instrument: str) -> Entry | None:
        """The entry an instrument came in with, as it counts now."""
        return _added(effective(self._groups.get(instrument, [])))

    def _file(self, entry: Entry) -> str:
        self.entries.append(entry)
        target = entry.corrects
        if target is not None and target in self._group_of:
            key = self._group_of[target]
        else:
            key = "/undone" if isinstance(entry.body, Undone) else entry.body.group(entry.instrument)
        self._root[entry.id] = self._root.get(target, entry.id) if target is not None else entry.id
        self._group_of[entry.id] = key
        if key not in self._own:
            self._groups[key] = [*self._groups.get(key, ())]
            self._own.add(key)
        self._groups[key].append(entry)
        return key

    def _put(self, key: str, entry: Entry) -> None:
        try:
            self.shop = entry.body.onto(self.shop, key, entry.at, entry.id)
        except (InputError, ArithmeticError, LookupError) as error:
            self.aside[entry.id] = error if isinstance(error, InputError) else InputError("", str(error))

    def _fit(self, entry: Entry) -> bool:
        """Whether an entry's time, and that of the air it tells of, is of this world."""
        body = entry.body
        try:
            if isinstance(body, Unknown) and body.why:
                raise InputError("", body.why)
            need(EARLIEST <= entry.at.year < LATEST, "at", f"is of the year {entry.at.year}")
            body.limits()
            if isinstance(body, OfAir):
                rows = body.rows(entry.at)
                for at, *_ in (*rows[:1], *rows[-1:]):
                    need(EARLIEST <= at.year < LATEST, "hours", f"tells of the year {at.year}")
        except (InputError, ArithmeticError) as error:
            self.aside[entry.id] = error if isinstance(error, InputError) else InputError("", str(error))
            return False
        return True

    def _refold(self, key: str) -> None:
        for entry in self._groups[key]:
            self.aside.pop(entry.id, None)  # it may be of this world again
        counting = sorted((e for e in effective(self._groups[key]) if self._fit(e)), key=lambda e: (e.at, e.id))
        self._latest.pop(key, None)
        if counting:
            self._latest[key] = max(e.at for e in counting)
        if not key.startswith("/"):
            self._refold_instrument(key, counting)
            return
        self.shop = _bare(self.shop, key.removeprefix("/"), self._shipped)
        if key == "/air":
            self.shop = self.shop.with_air(replace(_all_air(counting), hours=self.shop.hours))
            return
        for entry in counting:
            self._put(key, entry)

    def _refold_instrument(self, instrument: str, counting: Sequence[Entry]) -> None:
        added = _added(counting)
        booked = self.shop.book.get(instrument)
        if added is None and booked is not None and booked.rack is None:
            return  # its entries have not been read: these are a few of them
        before = tuple(self.shop.racked)
        racked = dict(self.shop.racked)
        racked.pop(instrument, None)
        book = {i: b for i, b in self.shop.book.items() if i != instrument}
        self.shop = replace(self.shop, racked=racked, book=book)
        if added is not None:
            self._put(instrument, added)
            self._put_all(instrument, [e for e in counting if not isinstance(e.body, InstrumentAdded)])
        if tuple(self.shop.racked) != before:
            order = {i: self._came(i) for i in self.shop.racked}
            self.shop = replace(self.shop, racked=dict(sorted(self.shop.racked.items(), key=lambda r: order[r[0]])))
        if instrument in self.shop.book:
            ordered = sorted(self.shop.book.items(), key=lambda b: (b[1].handed, b[0]))
            self.shop = replace(self.shop, book=dict(ordered))

    def _put_all(self, instrument: str, entries: Sequence[Entry]) -> None:
        """All that is told of an instrument; what was done and rests on nothing before it is put on together, since
        a record grows to a hundred thousand of them."""
        acts: list[Act] = []
        for entry in entries:
            rack, body = self.shop.racked.get(instrument), entry.body
            if rack is not None and isinstance(body, Acted) and body.alone(rack):
                try:
                    acts.append(body.act(rack, entry.at, entry.id))
                except (InputError, ArithmeticError, LookupError) as error:
                    self.aside[entry.id] = error if isinstance(error, InputError) else InputError("", str(error))
                continue
            self._act(instrument, acts)
            self._put(instrument, entry)
        self._act(instrument, acts)

    def _act(self, instrument: str, acts: list[Act]) -> None:
        if acts:
            rack = self.shop.racked[instrument]
            self.shop = self.shop.with_rack(replace(rack, acts=(*rack.acts, *acts)))
            acts.clear()

    def _came(self, instrument: str) -> int:
        """The entry an instrument first came in with: its place on the rack, whatever was corrected since."""
        added = _added(effective(self._groups[instrument]))
        return self._root[added.id] if added is not None else 0

    def _tell_lamp(self) -> None:
        lamps = [
            e
            for key, group in self._groups.items()
            if key == "/session" or any(isinstance(e.body, LightOnLogged) for e in group)
            for e in effective(group)
            if isinstance(e.body, SessionBegun | LightOnLogged) and _strength(e.body) > 0
        ]
        newest = max(lamps, key=lambda e: e.id, default=None)
        self.shop = self.shop.with_lamp(0.0 if newest is None else _strength(newest.body))

    def _tell_session(self) -> None:
        begun = [e for e in effective(self._groups.get("/session", [])) if isinstance(e.body, SessionBegun)]
        found: BoothSession | None = None
        if begun:
            since = next(i for i, e in enumerate(self.entries) if e.id == begun[-1].id)
            found = _begun(begun[-1])
            later = self.entries[since + 1 :]
            groups = {self._group_of[e.id] for e in later}
            counting = {e.id for key in groups for e in effective(self._groups[key])}
            for entry in later:
                if entry.id in counting:
                    found = _gone_on(found, entry)
        self.shop = replace(self.shop, session=found)


def fold(entries: Iterable[Entry], catalogue: Catalogue) -> Shop:
    """The shop that entries tell. Raises InputError for one that tells of what cannot be: whose file it is knows better
    (Fold), but what is brought in or reckoned with is taken whole or not at all."""
    return strictly(Fold(entries, catalogue)).shop


def strictly(folded: Fold, since: int = 0) -> Fold:
    """The same, unless entries from a number on had to be set aside. Raises InputError for the first of them."""
    for number in sorted(folded.aside):
        if number >= since:
            raise folded.aside[number]
    return folded


def check(shop: Shop, body: Kind, instrument_id: str, at: datetime, now: datetime) -> None:
    """Raise InputError, naming the field, unless the body may be logged now as having happened at ``at``."""
    in_words(body)
    body.limits()
    need(at <= now + FUTURE_SLACK, "at", "that time is in the future")
    need(at.year < LATEST, "at", f"that is after {LATEST}: is the year right?")
    need(at.year >= EARLIEST, "at", f"that is before {EARLIEST}: is the year right?")
    need(body.until(at) <= now + FUTURE_SLACK, "hours", "some of it is in the future")
    body.check(shop, instrument_id, at)


def _added(counting: Sequence[Entry]) -> Entry | None:
    return next((e for e in reversed(counting) if isinstance(e.body, InstrumentAdded)), None)


def _strength(body: Kind) -> float:
    if isinstance(body, SessionBegun):
        return body.lamp_mW_cm2
    return body.mW_cm2 if isinstance(body, LightOnLogged) else 0.0


def _bare(shop: Shop, part: str, shipped: Catalogue) -> Shop:
    """A shop of which one part has not been told yet."""
    if part == "methods":
        return shop.with_catalogue(shipped)
    if part == "rates":
        return shop.with_rates({})
    if part == "hours":
        return replace(shop, hours=ShopHours()).with_air(replace(shop.air, hours=ShopHours()))
    if part == "stock":
        return shop.with_stock(Stock())
    if part in ("name", "drawer", "prices", "crew", "kept", "learning", "per_hour"):
        return replace(shop, **{part: getattr(Shop(), part)})
    return shop


def _all_air(counting: Sequence[Entry]) -> ShopAir:
    """All air at once: readings are sorted one time, and of one minute the one that was written last counts."""
    bodies = [(e.at, e.body) for e in counting if isinstance(e.body, OfAir)]
    written = sorted((e for e in counting if isinstance(e.body, OfAir)), key=lambda e: e.id)
    air = ShopAir().with_rows([row for e in written if isinstance(e.body, OfAir) for row in e.body.rows(e.at)])
    for at, body in bodies:
        if not body.rows(at):
            air = body.onto_air(air, at)
    return air


def _begun(entry: Entry) -> BoothSession:
    body = entry.body
    assert isinstance(body, SessionBegun)
    return BoothSession(
        entry=entry.id, begun=entry.at, last=entry.at, instruments=body.instruments, unchecked=body.unchecked,
        lamp_mW_cm2=body.lamp_mW_cm2, parts=body.parts,
    )  # fmt: skip


def _gone_on(found: BoothSession, e: Entry) -> BoothSession:
    """A session with one entry more; what is told of anything else says nothing of it."""
    if found.ended is not None or not (e.instrument in found.instruments or isinstance(e.body, OfSession)):
        return found
    if e.at - found.last >= LASTS:
        return replace(found, ended=found.last)  # forgotten: what comes days later is no part of it
    body = e.body
    if isinstance(body, SessionPaused):
        if not body.on and found.paused is not None:
            found = replace(found, away=found.away + (e.at - found.paused))
        found = replace(found, paused=e.at if body.on else None)
    elif isinstance(body, SessionEnded):
        found = replace(found, ended=e.at)
    elif isinstance(body, MixMade):
        found = replace(found, mixes=(*found.mixes, Mixed(material=body.material, ml=body.ml, at=e.at)))
    found = replace(found, last=max(found.last, e.at))
    if e.instrument in found.instruments and (found.acted is None or e.at >= found.acted):
        found = replace(found, acted=e.at, away=timedelta())
    return found
