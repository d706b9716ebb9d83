"""What an outlook is computed from: a snapshot, safe to hand to another thread.

The plan package is imported when it is first run, off the GUI thread: the first paint does not need it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from typing import TYPE_CHECKING

import msgspec
from msgspec import Struct

from ravden.app.fresh import fresh, same
from ravden.app.teaching import Taught, Teaching, teaching, way_by
from ravden.core.record.word import GUN, Rule, key_of
from ravden.journal.hours import ShopHours
from ravden.journal.rack import OnRack
from ravden.journal.shop import Shop

if TYPE_CHECKING:
    from ravden.core.ahead.compare import Offer
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.calendar.hours import WorkHours
    from ravden.core.climate.series import Cabinet
    from ravden.core.film.carry import Learnt
    from ravden.core.film.filter import Priors
    from ravden.core.method.steps import Method
    from ravden.core.record import Project
    from ravden.core.record.word import Word
    from ravden.core.rubout.rub_out import Ask, Drawer
    from ravden.core.state.beliefs import Beliefs
    from ravden.core.state.history import Memory
    from ravden.core.state.learnt import Lesson

SPARE_LEDGERS = 12  # remembered of one instrument beside those of its entries


class OutlookRequest(Struct, frozen=True, kw_only=True):
    """What an outlook is computed from: a snapshot, safe to hand to another thread. local: a moment on the shop's
    wall; hours: in the place of the shop's, open; priors: believed of the applicator, where it is told and not learnt
    here; ask: how it will be sanded; earlier: in the same finish, in the order they came, on the rack or as what is
    left of them; gun: mean and sd of ln of the applicator, where that was frozen; teaching: the shop's own figures;
    held: where the shop's plan has hands on it; stays: in the cabinet, as that plan has them."""

    rack: OnRack
    method: Method
    drawer: Drawer
    now: datetime
    local: Callable[[datetime], datetime]
    teaching: Teaching
    hours: WorkHours | None = None
    open: ShopHours | None = None
    zone: str = ""
    gun: tuple[float, float] | None = None
    memory: Memory | None = None
    earlier: tuple[tuple[OnRack, Memory] | Lesson, ...] = ()
    advise: bool = False
    priors: Priors | None = None
    ask: Ask | None = None
    held: Held | None = None
    stays: tuple[Cabinet, ...] = ()

    def run(self) -> Outlook:
        """The computation itself: what earlier work taught, then this instrument."""
        from dataclasses import replace

        from ravden.core.ahead.counsel import counsel
        from ravden.core.ahead.outlook import outlook, sinking

        learnt = self.teaching.beliefs()
        bare = project = self.fitted(self.rack.project_at(self.now), learnt)
        if self.stays:
            from ravden.core.ahead.warm import with_stays

            project = with_stays(bare, self.stays)
        found = outlook(
            project,
            learnt.method(self.method),
            self.drawer_of(learnt, self.rack.method),
            self.rack.hours(self.now),
            self.hours or self.work_hours(),
            self.zone,
            self.memory,
            self.applicator(),
            ask=self.ask,
            held=self.held,
        )
        if self.memory is not None and fresh():
            self._worked_out_anew(project, found)
        if self.memory is not None:
            _forget_old(self.memory, len(self.rack.acts) + SPARE_LEDGERS)
        if self.stays:
            found = replace(found, stays=self.stays, bare=bare)
        found = sinking(found, learnt.sinks(project.material.id))
        return replace(found, counsel=counsel(found)) if self.advise else found

    def _worked_out_anew(self, project: Project, found: Outlook) -> None:
        """Hold the remembered ledger against one that remembers nothing. Raises StaleError."""
        from ravden.core.state.history import known
        from ravden.core.state.learnt import Lesson

        anew = known(project, found.now_h, None, self.applicator()).ledger
        same(f"the film of {project.instrument.name}", repr(found.ledger.films()), repr(anew.films()))
        earlier: tuple[tuple[OnRack, Memory] | Lesson, ...] = tuple(
            e if isinstance(e, Lesson) else (e[0], {}) for e in self.earlier
        )
        alone = msgspec.structs.replace(self, earlier=earlier)
        same(f"the gun before {project.instrument.name}", self.belief(), alone.belief())

    def fitted(self, project: Project, learnt: Beliefs) -> Project:
        """A project of this instrument with how thick coats land on its zones here."""
        way = way_by(project.own_way[project.material.id])
        # What was found before its own first coat, like the applicator: later finds do not move what is known of it.
        first = min((c.at_h for c in project.coats), default=None)
        before = None if first is None else self.rack.moment(first)
        family = project.instrument.measures.family
        zones = learnt.zones(project.zones, family, way, before, project.instrument.id)
        return msgspec.structs.replace(project, zones=zones)

    def drawer_of(self, learnt: Beliefs, method: Method) -> Drawer:
        """The drawer in this user's hands, with what a method is done with."""
        from dataclasses import replace

        from ravden.core.abrasive.grades import find

        brings = [find(self.rack.catalogue.abrasives, name, "brings") for name in method.brings]
        return replace(self.drawer.bringing(brings), hands=learnt.hands())

    def applicator(self) -> Priors:
        """What is believed of the applicator before the first coat."""
        from ravden.core.state.learnt import started_from

        return self.priors or started_from(self.belief())

    def work_hours(self) -> WorkHours:
        """When hands are in the shop, counted from the instrument's hour zero."""
        from ravden.core.calendar.shop_hours import work_hours

        told = self.open or ShopHours()
        return work_hours(self.rack.zero, self.local, self.now, told.by_weekday(), told.closed_days)

    def lesson(self) -> Lesson:
        """What this instrument has taught by now."""
        from ravden.core.state.learnt import Lesson, said_by

        project, memory = self.rack.project_at(self.now), {} if self.memory is None else self.memory
        gun = said_by(project, self.rack.hours(self.now), memory, self.belief())
        return Lesson(gun=gun, words=self.teaching.words_of(self.rack))

    def shrink_um(self) -> float:
        """How much the film still shrinks from now on, where it is thickest [um]."""
        from ravden.core.cure.asked import Sampling
        from ravden.core.state.history import LEAST_LEFT_UM, known, thickest
        from ravden.core.state.laid_film import laid_film

        project, now_h = self.rack.project_at(self.now), self.rack.hours(self.now)
        ledger = known(project, now_h, self.memory, self.applicator()).ledger
        film = laid_film(project, thickest(project, ledger), ledger, now_h)
        if film.left_um <= LEAST_LEFT_UM:
            return 0.0
        there = film.cure(Sampling(sample_h=(now_h,), until_h=now_h))
        return float(there.column("film_um")[-1] - there.column("dry_um")[-1])

    def offer(self, project: Project, method: Method, hours: WorkHours) -> Offer:
        """A method worked out on this instrument with nothing on it yet, by the figures of this shop. project: with the
        method's finish."""
        from ravden.core.ahead.compare import offer

        learnt = self.teaching.beliefs()
        same = project.material.id == self.rack.instrument.material
        return offer(
            self.fitted(project, learnt), learnt.method(method), self.drawer_of(learnt, method),
            self.rack.hours(self.now), hours, self.applicator() if same else None,
        )  # fmt: skip

    def belief(self) -> Learnt:
        """What is believed of the applicator of its finish, after the instruments before this one."""
        from ravden.core.film.carry import BETWEEN_INSTRUMENTS, Learnt
        from ravden.core.state.learnt import Lesson, learnt

        if self.gun is not None:
            mean, sd = self.gun  # frozen as it was for the next instrument, which is as wide again
            return Learnt(mean=mean, var=max(sd**2 - BETWEEN_INSTRUMENTS**2, 1e-6))
        return learnt([
            e if isinstance(e, Lesson) else (e[0].project_at(self.now), e[0].hours(self.now), e[1])
            for e in self.earlier
        ])  # fmt: skip


def _forget_old(memory: Memory, most: int) -> None:
    """Keep the ledgers asked for of late: an early reading on another instrument has all that followed worked out anew,
    and what went before is asked for no more."""
    for key in list(memory)[: max(len(memory) - most, 0)]:
        del memory[key]


def request(
    shop: Shop, instrument_id: str, drawer: Drawer, now: datetime, local: Callable[[datetime], datetime],
    memories: dict[str, Memory], zone: str = "", advise: bool = False, *,
    lessons: Mapping[str, Lesson] | None = None, seen: Taught | None = None,
    told: Mapping[str, tuple[Word, ...]] | None = None,
) -> OutlookRequest:  # fmt: skip
    """A snapshot of one instrument of a shop. memories: of earlier outlooks, kept by the caller; zone: the one looked
    at; advise: with counsel on what to do and measure; lessons: of instruments in the Book; seen: of the shop's own
    figures, by the instruments on the rack, kept by the caller; told: the same by those in the Book and by sessions."""
    rack = shop.on_rack(instrument_id)
    kept = lessons or {}
    earlier: list[tuple[datetime, str, tuple[OnRack, Memory] | Lesson]] = []
    rule = shop.learning.get(key_of(GUN, rack.instrument.material), Rule())
    for i, r in shop.racked.items():
        if r.instrument.material == rack.instrument.material:
            earlier.append((r.added, i, (r, memories.setdefault(i, {}))))
    for i, b in shop.book.items():
        one = kept.get(i)
        if b.material == rack.instrument.material and one is not None:
            earlier.append((b.added, i, one))
        elif b.material == rack.instrument.material and b.rack is not None:
            earlier.append((b.added, i, (b.rack, memories.setdefault(i, {}))))
    mine = (rack.added, instrument_id)
    before = sorted((e for e in earlier if e[:2] < mine and rule.counts(e[0])), key=lambda e: e[:2])
    # Frozen from a day on: what was begun before is as it was.
    holds = rule.frozen_at is None or rack.added >= rule.frozen_at
    return OutlookRequest(
        rack=rack, method=rack.method, drawer=drawer, now=now.astimezone(UTC), local=local, zone=zone, open=shop.hours,
        teaching=teaching(shop, drawer, now, kept, seen, told or {}), gun=rule.frozen if holds else None,
        memory=memories.setdefault(instrument_id, {}), earlier=tuple(e[2] for e in before), advise=advise,
    )  # fmt: skip
