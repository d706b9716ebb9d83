"""What an outlook is computed from: a snapshot, safe to hand to another thread.

The plan package is imported when it is first run, off the GUI thread: the first paint does not need it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from ravden.core.record import Reading, Sanding
from ravden.journal.hours import ShopHours
from ravden.journal.rack import OnRack
from ravden.journal.shop import Shop

if TYPE_CHECKING:
    from ravden.core.abrasive.hands import Seen
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.calendar.hours import WorkHours
    from ravden.core.climate.series import Cabinet
    from ravden.core.film.carry import Learnt
    from ravden.core.film.filter import Priors
    from ravden.core.method.steps import Method
    from ravden.core.rubout.rub_out import Ask, Drawer
    from ravden.core.state.history import Memory
    from ravden.core.state.learnt import Lesson

SPARE_LEDGERS = 12  # remembered of one instrument beside those of its entries
Hands = dict[str, tuple[Any, Any]]  # by instrument: what it was worked out from, and what it says


class OutlookRequest(Struct, frozen=True, kw_only=True):
    """What an outlook is computed from: a snapshot, safe to hand to another thread. local: a moment on the shop's
    wall; hours: in the place of the shop's, open; priors: believed of the applicator, where it is told and not learnt
    here; ask: how it will be sanded; earlier: in the same finish, in the order they came, on the rack or as what is
    left of them; teachers: whose record says something of the hands; seen: what it said last, kept by the caller; held:
    where the shop's plan has hands on it; stays: in the cabinet, as that plan has them."""

    rack: OnRack
    method: Method
    drawer: Drawer
    now: datetime
    local: Callable[[datetime], datetime]
    hours: WorkHours | None = None
    open: ShopHours | None = None
    zone: str = ""
    teachers: tuple[OnRack | Lesson, ...] = ()
    seen: Hands | None = None
    memory: Memory | None = None
    earlier: tuple[tuple[OnRack, Memory] | Lesson, ...] = ()
    advise: bool = False
    priors: Priors | None = None
    ask: Ask | None = None
    held: Held | None = None
    stays: tuple[Cabinet, ...] = ()

    def run(self) -> Outlook:
        """The computation itself: what earlier instruments taught about the applicator, then this one."""
        from dataclasses import replace

        from ravden.core.ahead.counsel import counsel
        from ravden.core.ahead.outlook import outlook
        from ravden.core.state.learnt import started_from

        drawer = self.drawer
        if self.teachers:
            from ravden.core.abrasive.hands import believe

            drawer = replace(drawer, hands=believe([self._seen(t) for t in self.teachers]))
        bare = project = self.rack.project_at(self.now)
        if self.stays:
            from ravden.core.ahead.warm import with_stays

            project = with_stays(bare, self.stays)
        found = outlook(
            project,
            self.method,
            drawer,
            self.rack.hours(self.now),
            self.hours or self.work_hours(),
            self.zone,
            self.memory,
            self.priors or started_from(self._belief()),
            ask=self.ask,
            held=self.held,
        )
        if self.memory is not None:
            _forget_old(self.memory, len(self.rack.acts) + SPARE_LEDGERS)
        if self.stays:
            found = replace(found, stays=self.stays, bare=bare)
        return replace(found, counsel=counsel(found)) if self.advise else found

    def work_hours(self) -> WorkHours:
        """When hands are in the shop, counted from the instrument's hour zero."""
        from ravden.core.calendar.shop_hours import work_hours

        told = self.open or ShopHours()
        return work_hours(self.rack.zero, self.local, self.now, told.by_weekday(), told.closed_days)

    def lesson(self) -> Lesson:
        """What this instrument has taught by now."""
        from ravden.core.state.learnt import Lesson, said_by

        project, memory = self.rack.project_at(self.now), {} if self.memory is None else self.memory
        gun = said_by(project, self.rack.hours(self.now), memory, self._belief())
        return Lesson(gun=gun, hands=self._seen(self.rack))

    def _belief(self) -> Learnt:
        from ravden.core.state.learnt import Lesson, learnt

        return learnt([
            e if isinstance(e, Lesson) else (e[0].project_at(self.now), e[0].hours(self.now), e[1])
            for e in self.earlier
        ])  # fmt: skip

    def _seen(self, teacher: OnRack | Lesson) -> Seen:
        """What an instrument's record says of the hands: worked out once for what was done to it and in what air."""
        from ravden.core.state.learnt import Lesson

        if isinstance(teacher, Lesson):
            return teacher.hands
        from ravden.core.rubout.hands import seen_on

        project, kept = teacher.project_at(self.now), self.seen if self.seen is not None else {}
        last = max((a.at_h for a in teacher.acts), default=0.0)
        key = (teacher.acts, tuple(a for a in project.air if a.at_h <= last), self.drawer)
        name = teacher.instrument.id
        if name not in kept or kept[name][0] != key:
            kept[name] = (key, seen_on(project, self.drawer))
        out: Seen = kept[name][1]
        return out


def _forget_old(memory: Memory, most: int) -> None:
    """Keep the ledgers asked for of late: an early reading on another instrument has all that followed worked out anew,
    and what went before is asked for no more."""
    for key in list(memory)[: max(len(memory) - most, 0)]:
        del memory[key]


def request(
    shop: Shop, instrument_id: str, drawer: Drawer, now: datetime, local: Callable[[datetime], datetime],
    memories: dict[str, Memory], zone: str = "", advise: bool = False, *,
    lessons: Mapping[str, Lesson] | None = None, seen: Hands | None = None,
) -> OutlookRequest:  # fmt: skip
    """A snapshot of one instrument of a shop. memories: of earlier outlooks, kept by the caller; zone: the one looked
    at; advise: with counsel on what to do and measure; lessons: of instruments in the Book; seen: of the hands, kept by
    the caller."""
    rack = shop.on_rack(instrument_id)
    kept = lessons or {}
    earlier: list[tuple[datetime, str, tuple[OnRack, Memory] | Lesson]] = []
    teachers: list[OnRack | Lesson] = [r for r in shop.racked.values() if _teaches(r)]
    for i, r in shop.racked.items():
        if r.instrument.material == rack.instrument.material:
            earlier.append((r.added, i, (r, memories.setdefault(i, {}))))
    for i, b in shop.book.items():
        one = kept.get(i)
        if one is not None and (one.hands.cut or one.hands.scratch):
            teachers.append(one)
        elif one is None and b.rack is not None and _teaches(b.rack):
            teachers.append(b.rack)
        if b.material == rack.instrument.material and one is not None:
            earlier.append((b.added, i, one))
        elif b.material == rack.instrument.material and b.rack is not None:
            earlier.append((b.added, i, (b.rack, memories.setdefault(i, {}))))
    before = sorted((e for e in earlier if e[:2] < (rack.added, instrument_id)), key=lambda e: e[:2])
    return OutlookRequest(
        rack=rack, method=rack.method, drawer=drawer, now=now.astimezone(UTC), local=local, zone=zone, open=shop.hours,
        teachers=tuple(teachers), seen=seen,
        memory=memories.setdefault(instrument_id, {}), earlier=tuple(e[2] for e in before), advise=advise,
    )  # fmt: skip


def _teaches(rack: OnRack) -> bool:
    """Whether an instrument's record says something of the user's own removal or scratch."""
    return any(
        (isinstance(a, Sanding) and a.minutes > 0) or (isinstance(a, Reading) and a.what == "gloss") for a in rack.acts
    )
