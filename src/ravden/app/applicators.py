"""What is known of what lays each finish here, after all instruments: a snapshot, safe to hand to another thread."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.core.record.word import GUN, Rule, key_of
from ravden.journal.rack import OnRack

if TYPE_CHECKING:
    from ravden.core.film.carry import Learnt
    from ravden.core.state.history import Memory
    from ravden.core.state.learnt import Lesson
    from ravden.journal.shop import Shop


class Applicator(Struct, frozen=True, kw_only=True):
    """What is believed of it for the next instrument: mean and sd of ln of its factor, from how many instruments, and
    since when."""

    ln_mean: float
    ln_sd: float
    instruments: int
    since: datetime | None


class Applicators(Struct, frozen=True, kw_only=True):
    """earlier: by finish, every instrument that came in it, in order, with when it came; rules: of the user."""

    earlier: Mapping[str, tuple[tuple[datetime, tuple[OnRack, Memory] | Lesson], ...]]
    rules: Mapping[str, Rule]
    now: datetime

    def run(self) -> dict[str, Applicator]:
        """By finish; none where nothing was coated in it."""
        return {m: found for m, told in self.earlier.items() if (found := self._of(m, told)) is not None}

    def _of(
        self, material: str, told: tuple[tuple[datetime, tuple[OnRack, Memory] | Lesson], ...]
    ) -> Applicator | None:
        from ravden.core.state.learnt import Lesson, learnt

        rule = self.rules.get(key_of(GUN, material), Rule())
        one = [t for t in told if rule.counts(t[0])]
        coated = [at for at, e in one if (e.gun is not None if isinstance(e, Lesson) else e[0].project.coats)]
        if not coated and rule.frozen is None:
            return None
        found: Learnt = learnt([
            e if isinstance(e, Lesson) else (e[0].project_at(self.now), e[0].hours(self.now), e[1]) for _, e in one
        ])  # fmt: skip
        mean, sd = rule.frozen or found.for_next
        return Applicator(ln_mean=mean, ln_sd=sd, instruments=len(coated), since=min(coated, default=None))


def applicators(
    shop: Shop, now: datetime, memories: dict[str, Memory], lessons: Mapping[str, Lesson]
) -> Applicators:  # fmt: skip
    """A snapshot of a shop. memories: of earlier outlooks, kept by the caller; lessons: of instruments in the Book."""
    by: dict[str, list[tuple[datetime, str, tuple[OnRack, Memory] | Lesson]]] = {}
    for i, r in shop.racked.items():
        by.setdefault(r.instrument.material, []).append((r.added, i, (r, memories.setdefault(i, {}))))
    for i, b in shop.book.items():
        if i in lessons:
            by.setdefault(b.material, []).append((b.added, i, lessons[i]))
        elif b.rack is not None:
            by.setdefault(b.material, []).append((b.added, i, (b.rack, memories.setdefault(i, {}))))
    ordered = {m: tuple((at, e) for at, _, e in sorted(told, key=lambda t: t[:2])) for m, told in by.items()}
    return Applicators(earlier=ordered, rules=shop.learning, now=now.astimezone(UTC))
