"""The shop's own figures as its record teaches them: a snapshot, safe to hand to another thread."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.fresh import fresh, same
from ravden.core.errors import InputError
from ravden.core.record import Reading, Sanding
from ravden.core.record.word import Rule, Word, gathered
from ravden.journal.rack import OnRack

if TYPE_CHECKING:
    from ravden.core.rubout.rub_out import Drawer
    from ravden.core.state.beliefs import Beliefs
    from ravden.core.state.learnt import Lesson
    from ravden.journal.shop import Shop

Taught = dict[str, tuple[Any, Any]]  # by instrument: what it was worked out from, and what it says


class Teaching(Struct, frozen=True, kw_only=True):
    """teachers: instruments that have been read, whose record says something; seen: what it said last, kept by the
    caller; told: what instruments in the Book and sessions said, by figure; rules: of the user, by figure; drawer: with
    the built-in constants; now: nothing from after it counts."""

    teachers: tuple[OnRack, ...]
    seen: Taught
    told: Mapping[str, tuple[Word, ...]]
    rules: Mapping[str, Rule]
    drawer: Drawer
    now: datetime

    def beliefs(self) -> Beliefs:
        """What is believed of each figure by now."""
        from ravden.core.state.beliefs import Beliefs

        words = gathered(self.told, (w for t in self.teachers for w in self._words(t)))
        return Beliefs(words=words, rules=self.rules, now=self.now)

    def words_of(self, rack: OnRack) -> tuple[Word, ...]:
        """All that one instrument says, with sessions that began with it."""
        mine = [w for of in self.told.values() for w in of if w.of == rack.instrument.id]
        return tuple(sorted((*self._words(rack), *mine), key=lambda w: w.at))

    def _words(self, teacher: OnRack) -> tuple[Word, ...]:
        """What an instrument's record says: worked out once for what was measured and sanded on it, and in what
        air."""
        from ravden.core.method.steps import textures_met
        from ravden.core.rubout.words import words_on

        if not teaches(teacher):
            return ()
        last = max(a.at_h for a in teacher.acts if isinstance(a, Sanding | Reading))
        # In the air as it was up to then, whichever moment is asked about: what came later is passed over by its time.
        project, own = teacher.project_at(max(self.now, teacher.moment(last))), teacher.own_method
        upto = replace(project, acts=tuple(a for a in project.acts if a.at_h <= last), air_gaps=())
        # What it is worked out from is all it is given, and what it is kept by.
        key = (upto, self.drawer, own.id, textures_met(own), teacher.zero, way_of(teacher))
        name = teacher.instrument.id
        kept: tuple[Word, ...] | None = self.seen[name][1] if name in self.seen and self.seen[name][0] == key else None
        if kept is not None and not fresh():
            return kept
        project, drawer, method, met, _, way = key
        try:
            told = words_on(project, drawer, method, met, teacher.moment, way)
        except InputError:
            told = ()  # one whose record cannot be worked out teaches nothing; the Rack names it
        self.seen[name] = (key, told)
        return told if kept is None else same(f"what {name} says", kept, told)


def teaching(
    shop: Shop, drawer: Drawer, now: datetime, lessons: Mapping[str, Lesson], seen: Taught | None,
    told: Mapping[str, tuple[Word, ...]],
) -> Teaching:  # fmt: skip
    """A snapshot of a shop. lessons: of instruments in the Book, whose words are in told."""
    booked = [b.rack for i, b in shop.book.items() if i not in lessons and b.rack is not None]
    teachers = tuple(r for r in (*shop.racked.values(), *booked) if teaches(r))
    return Teaching(
        teachers=teachers, seen={} if seen is None else seen, told=told, rules=shop.learning, drawer=drawer,
        now=now.astimezone(UTC),
    )  # fmt: skip


def teaches(rack: OnRack) -> bool:
    """Whether an instrument's record says something of the shop's own figures."""
    return any(isinstance(a, Sanding) or (isinstance(a, Reading) and a.what in ("gauge", "gloss")) for a in rack.acts)


def way_of(rack: OnRack) -> str:
    """How the finish of an instrument is laid, as far as its zones go: out of a gun or a can, or by hand."""
    return way_by(rack.catalogue.applied[rack.instrument.material])


def way_by(applied: str) -> str:
    """The same of a finish that is usually laid one way (spray, brush, pad, wipe)."""
    return "spray" if applied == "spray" else "hand"
