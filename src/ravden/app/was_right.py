"""Was Ravden right? For an instrument, what was foretold at the time against what came. Nothing of it is kept: it is
worked out again from the journal as it stood. No Qt.

What is foretold: the film just before each gauge reading, when the film can be levelled as seen from its last coat, the
minutes of a rung before it, and the day an instrument is ready as seen from when it was promised.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Mapping
from dataclasses import replace as with_fields
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.outlook_request import request
from ravden.core.ahead.looks import SEEN_SOON_H, films, ready_between
from ravden.core.climate.series import mean_C
from ravden.core.errors import NO_FILE, InputError, need
from ravden.core.record import Coat, Reading, Sanding, StepDone
from ravden.journal.counting import effective
from ravden.journal.fold import Fold
from ravden.journal.kinds.air import OfAir
from ravden.journal.kinds.crew import PersonSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.promise import PromiseSet
from ravden.journal.kinds.session import OfSession
from ravden.journal.shelves import of_instrument
from ravden.journal.store import Journal

if TYPE_CHECKING:
    from ravden.app.book_reading import BookReading
    from ravden.app.outlook_request import OutlookRequest
    from ravden.app.session import ShopSession
    from ravden.app.teaching import Taught
    from ravden.catalogue.tables import Catalogue
    from ravden.core.ahead.foretold import Foretold, Known
    from ravden.core.record.word import Word
    from ravden.core.rubout.rub_out import Drawer
    from ravden.core.state.history import Memory
    from ravden.core.state.learnt import Lesson
    from ravden.journal.entry import Entry
    from ravden.journal.rack import OnRack
    from ravden.journal.shop import Shop

OF_NONE = (OfAir, OfSession, PersonSet, PlanKept)  # bear on none of what is foretold here, or are taken as they are


class Asked(Struct, frozen=True, kw_only=True, dict=True):
    """What one instrument is asked with: a snapshot, safe to hand to another thread. rack: as it is, or was when it was
    handed over; beside: in the same finish, on the rack with it and in the Book now; entries: of it and of the shop's
    tables, as they were written; seen: what instruments were found to say; now: the present."""

    rack: OnRack
    entries: tuple[Entry, ...]
    shop: Shop
    shipped: Catalogue
    drawer: Drawer
    local: Callable[[datetime], datetime]
    lessons: Mapping[str, Lesson]
    told: Mapping[str, tuple[Word, ...]]
    seen: Taught
    now: datetime
    beside: tuple[OnRack, ...] = ()

    @functools.cached_property
    def _memories(self) -> dict[str, Memory]:
        """Ledgers, from one moment asked about to the next."""
        return {}

    def run(self) -> tuple[Foretold, ...]:
        """All that was foretold of it and came, in the order it came."""
        found = [*self._films(), *self._windows(), *self._cased(), *self._minutes(), *self._ready()]
        return tuple(sorted(found, key=lambda f: f.at))

    def _written(self, number: int) -> Entry | None:
        """The entry as it was first written, whatever was put in its place since; None: it is not among these."""
        by = {e.id: e for e in self.entries}
        found = by.get(number)
        while found is not None and found.corrects is not None:
            found = by.get(found.corrects)
        return found

    def as_of(self, number: int, *, after: bool = False) -> OutlookRequest | None:
        """What would have been asked just before something was written down, or just after it, with what had been by
        then; None: the instrument was not there yet. number: of its entry, as it counts now."""
        first = self._written(number)
        if first is None:
            return None
        at = first.at
        told = [e for e in self.entries if e.at <= at and (e.id < first.id or (after and e.id == first.id))]
        shop = Fold(told, self.shipped).shop
        rack = shop.racked.get(self.rack.instrument.id)
        if rack is None:
            return None
        # The forecast there is now was not there then.
        air = replace(self.rack.air, told=tuple(row for row in self.rack.air.told if row[0] <= at), forecast=())
        others = {i: r for i, r in self.shop.racked.items() if i != rack.instrument.id}
        book = {i: b for i, b in self.shop.book.items() if i != rack.instrument.id}
        there = replace(shop, racked=others, book=book, hours=self.shop.hours, air=air)
        there = there.with_rack(replace(there.around(rack), air=air))
        # What an instrument handed over since had taught by then stands in its record up to then.
        by_then = {i: one for i, one in self.lessons.items() if i not in book or book[i].handed <= at}
        beside = {r.instrument.id: r for r in self.beside if r.added <= at < book[r.instrument.id].handed}
        late = {i: b for i, b in there.book.items() if i not in beside}
        there = replace(there, racked={**there.racked, **{i: there.around(r) for i, r in beside.items()}}, book=late)
        return request(
            there,
            rack.instrument.id,
            self.drawer,
            at,
            self.local,
            self._memories,
            lessons=by_then,
            seen=self.seen,
            told=self.told,
        )

    def _foretold(
        self, what: str, label: str, at: datetime, ranged: tuple[float, float, float], came: tuple[float, float],
        rate_ln: float = 0.0,
    ) -> Foretold:  # fmt: skip
        from ravden.core.ahead.foretold import Foretold

        low, likely, high = ranged
        item = self.rack.instrument
        return Foretold(
            what=what, of=item.id, name=item.name, label=label, finish=item.material, at=at, low=low, likely=likely,
            high=high, came_low=came[0], came_high=came[1], rate_ln=rate_ln,
        )  # fmt: skip

    def _films(self) -> list[Foretold]:
        from ravden.core.ahead.foretold import FILM, film
        from ravden.core.state.history import cured_share, known

        out = []
        for read in self.rack.acts:
            if not isinstance(read, Reading) or read.what != "gauge":
                continue
            at = self.rack.moment(read.at_h)
            asked = self.as_of(read.id)
            if asked is None or not asked.rack.project.coats:
                continue
            project = asked.fitted(asked.rack.project_at(asked.now), asked.teaching.beliefs())
            ledger = known(project, asked.rack.hours(asked.now), {}, asked.applicator()).ledger
            zone = project.zone(read.zone)
            believed = ledger.film(zone.name)
            dry = read.um * cured_share(project, read, zone.name)
            ranged = film(believed.mean_um, believed.p05_um, believed.p95_um, read.n)
            if believed.mean_um > 0:
                out.append(self._foretold(FILM, zone.label, at, ranged, (dry, dry)))
        return out

    def _windows(self) -> list[Foretold]:
        """The wait before levelling, as it was seen from the coat before: of every film that was levelled, or looked at
        for it."""
        from ravden.core.ahead.foretold import WINDOW, widened

        out = []
        for coat, levels, looks in films(self.rack.acts):
            came = ready_between(coat, levels, looks, self.rack.acts, self._over_h)
            asked = None if came is None else self.as_of(coat.id, after=True)
            if came is None or asked is None:
                continue
            try:
                found = asked.run()
            except InputError:
                continue
            window = next((w for w in found.forward.windows if w.name == "level" and not w.mends), None)
            if window is None or window.likely_h is None or window.early_h is None or window.late_h is None:
                continue
            if not levels and any(c.zones is None and c.at_h < window.likely_h for c in found.forward.coats):
                continue  # looked at between coats: what was foretold is of the film with all of them
            since = asked.rack.hours(asked.now)
            waits = [h - since for h in (window.early_h, window.likely_h, window.late_h)]
            if min(waits) <= 0:
                continue
            low, high = widened(*waits)
            last_h = max([*(a.at_h for a in levels), *(a.at_h for a in looks)])
            at_h = min(coat.at_h + came.high_h, last_h)
            told = self._foretold(WINDOW, "", self.rack.moment(at_h), (low, waits[1], high), (came.low_h, came.high_h),
                                  asked.rack.rate_ln[0])  # fmt: skip
            ends: Sanding | Reading = levels[0] if levels else looks[-1]
            out.append(with_fields(told, noticed=came.noticed, known=self._at_its_end(coat, ends)))
        return out

    def _at_its_end(self, coat: Coat, last: Sanding | Reading) -> Known | None:
        """A wait since a coat as it is reckoned just before the last look at it; None: as before."""
        from ravden.core.ahead.foretold import Z80, Known

        asked = self.as_of(last.id)
        if asked is None:
            return None
        try:
            found = asked.run()
        except InputError:
            return None
        window = next((w for w in found.forward.windows if w.name == "level" and not w.mends), None)
        if window is None or window.likely_h is None or window.late_h is None or window.likely_h <= coat.at_h:
            return None
        likely, late = window.likely_h - coat.at_h, max(window.late_h, window.likely_h) - coat.at_h
        film = math.log(late / likely) / Z80
        rate_ln, rate_sd = asked.rack.rate_ln
        air_C = mean_C(found.project.dries_in, coat.at_h, found.now_h)
        return Known(likely=likely, rate_ln=rate_ln, sd=math.sqrt(max(film**2 - rate_sd**2, 0.0)), air_C=air_C)

    @property
    def _over_h(self) -> float:
        """Before when trouble with a levelling would have shown by now [h]."""
        booked = self.shop.book.get(self.rack.instrument.id)
        return float("inf") if booked is not None else self.rack.hours(self.now) - SEEN_SOON_H

    def _cased(self) -> list[Foretold]:
        """Of a print or tack seen months later: the wait before the case, as it was seen from the last coat."""
        from ravden.core.ahead.foretold import WINDOW, widened

        booked = self.shop.book.get(self.rack.instrument.id)
        soft = [c for c in (() if booked is None else booked.checks) if {"print", "tack"} & set(c.seen)]
        coats = [a for a in self.rack.acts if isinstance(a, Coat) and not a.spot]
        if not soft or not coats:
            return []
        coat = max(coats, key=lambda c: c.at_h)
        at = self.rack.moment(coat.at_h)
        asked = self.as_of(coat.id, after=True)
        found = None if asked is None else asked.run()
        windows = () if found is None else found.forward.windows
        window = next((w for w in windows if w.name == "case" and not w.mends), None)
        if asked is None or window is None or window.likely_h is None or window.early_h is None or not window.late_h:
            return []
        waits = [h - asked.rack.hours(asked.now) for h in (window.early_h, window.likely_h, window.late_h)]
        if min(waits) <= 0:
            return []
        low, high = widened(*waits)
        since = (soft[-1].at - at).total_seconds() / 3600.0
        return [self._foretold(WINDOW, "case", soft[-1].at, (low, waits[1], high), (since, float("inf")),
                               asked.rack.rate_ln[0])]  # fmt: skip

    def _minutes(self) -> list[Foretold]:
        from ravden.core.ahead.foretold import MINUTES, minutes
        from ravden.core.rubout.hands import worked_on
        from ravden.core.rubout.words import ONE_TIME_LN_SD, paces
        from ravden.text.say import grade_name

        if not any(isinstance(a, Sanding) and a.minutes > 0 for a in self.rack.acts):
            return []
        project = self.rack.project
        out = []
        for pace in paces(project, worked_on(project, self.drawer)):
            at = self.rack.moment(pace.at_h)
            asked = self.as_of(pace.first)
            if asked is None:
                continue
            learnt = asked.teaching.beliefs()
            belief = learnt.of(pace.key) if pace.key in learnt.names() else learnt.prior(pace.key)
            scatter = learnt.scatter(pace.key.partition("/")[0], ONE_TIME_LN_SD)
            ranged = minutes(pace.expected, belief, scatter)
            out.append(self._foretold(MINUTES, grade_name(pace.grade), at, ranged, (pace.took, pace.took)))
        return out

    def _ready(self) -> list[Foretold]:
        """The day it was ready, as seen from the first time it was promised."""
        from ravden.core.ahead.foretold import READY, widened

        promised = next((e for e in effective(list(self.entries)) if self._promises(e)), None)
        if promised is None or self.rack.instrument.id not in self.shop.book:
            return []
        asked = self.as_of(promised.id, after=True)
        if asked is None:
            return []
        found = asked.run()
        ready = found.forward.ready_h
        work = [a for a in self.rack.acts if isinstance(a, Coat | Sanding | StepDone)]
        if not work or None in ready:
            return []
        since = asked.rack.hours(asked.now)
        early, likely, late = ((h - since) / 24.0 for h in ready if h is not None)
        days = (max(a.at_h for a in work) - since) / 24.0
        if early <= 0 or days <= 0:
            return []
        low, high = widened(early, likely, late)
        return [self._foretold(READY, "", self.rack.moment(max(a.at_h for a in work)),
                               (low, likely, high), (days, days))]  # fmt: skip

    def _promises(self, e: Entry) -> bool:
        body, mine = e.body, self.rack.instrument.id
        if isinstance(body, InstrumentAdded):
            return body.id == mine and body.promised is not None
        return isinstance(body, PromiseSet) and e.instrument == mine and bool(body.promised)


class ToAsk(Struct, frozen=True, kw_only=True):
    """One instrument that is to be asked, before its record is read: a snapshot, safe to hand to another thread.
    reading: what the Book is read by; rack: None for one of the Book."""

    instrument: str
    reading: BookReading
    rack: OnRack | None
    file: Path
    drawer: Drawer
    local: Callable[[datetime], datetime]
    lessons: Mapping[str, Lesson]
    told: Mapping[str, tuple[Word, ...]]
    seen: Taught

    def elsewhere(self) -> Asked:
        """With its record, read by a way of its own: on any thread. Raises InputError where that cannot be read."""
        journal = Journal.beside(self.file)
        try:
            return self.read(journal)
        finally:
            journal.close()

    def read(self, journal: Journal) -> Asked:
        """With its record. journal: a way to read the file that belongs to this thread. Raises InputError."""
        name, shop, now = self.instrument, self.reading.shop, self.reading.now
        tables = [e for e in self.reading.entries if not e.instrument and not _of_none(e)]
        if self.rack is None:
            (rack,) = self.reading.together(journal, [shop.book[name]])
            mine, until = of_instrument(journal, name), shop.book[name].handed
        else:
            mine = [e for e in self.reading.entries if e.instrument == name or _adds(e, name)]
            rack, until = self.rack, now
        entries = {e.id: e for e in (*tables, *mine)}
        beside = self.reading.together(journal, [
            b for i, b in shop.book.items()
            if i != name and b.material == rack.instrument.material and b.added < until and rack.added < b.handed
        ])  # fmt: skip
        return Asked(
            rack=rack, entries=tuple(entries[i] for i in sorted(entries)), shop=shop, shipped=self.reading.shipped,
            drawer=self.drawer, local=self.local, lessons=self.lessons, told=self.told, seen=self.seen, now=now,
            beside=beside,
        )  # fmt: skip


def to_ask(session: ShopSession, instrument: str) -> ToAsk:
    """A snapshot for one instrument, on the rack or in the Book. Raises InputError where there is none."""
    shop, journal = session.shop, session.journal
    rack = None if instrument in shop.book else shop.on_rack(instrument)
    need(journal is not None, "", NO_FILE)
    assert journal is not None
    drawer, lessons, told = session.kept.taught()
    return ToAsk(
        instrument=instrument, reading=session.book_reading(), rack=rack, file=journal.path, drawer=drawer,
        local=session.local, lessons=lessons, told=told, seen=session.kept.seen,
    )  # fmt: skip


def asked(session: ShopSession, instrument: str) -> Asked:
    """The same with its record, read here and now. Raises InputError."""
    assert session.journal is not None
    return to_ask(session, instrument).read(session.journal)


def _of_none(e: Entry) -> bool:
    return isinstance(e.body, (*OF_NONE, InstrumentAdded))


def _adds(e: Entry, instrument: str) -> bool:
    return isinstance(e.body, InstrumentAdded) and e.body.id == instrument


def finished(session: ShopSession, most: int) -> tuple[str, ...]:
    """Instruments that are asked: those handed over last, then those on the rack."""
    return (*reversed(tuple(session.shop.book)[-most:]), *session.shop.racked) if most else ()
