"""Work put on the board step by step, each where it fits first, and taken off again by going back to a mark."""

from __future__ import annotations

from collections.abc import Iterator

from ravden.core.schedule.problem import DAY, GRID, Placed, Step, at_day
from ravden.core.schedule.strips import SLOTS, Sitting, Strips

GOOD_CABINET = 6 * 60 // GRID  # slots that a stay in the cabinet has to save
TRIES = 80  # places of a day that coats are tried at


class Placing(Strips):
    """Puts steps where they fit first."""

    # placing

    def put(
        self, j: int, k: int, *, join_days: int = 0, cabinet: bool = True, scuffed: bool = True, not_before: int = 0,
        held: Placed | None = None,
    ) -> bool:  # fmt: skip
        """Put a step where it fits first; whether it did.

        join_days: how long it waits for company in the booth; cabinet: may be used; scuffed: a window may be missed;
        not_before: slot; held: only where it begins as it does here.
        """
        step, before = self.problem.jobs[j].steps[k], self.before(j, k)
        # What holds whether the wait before it is spent in the cabinet or not.
        least = max([self.now, not_before, *(self._up(self.end(j, need)) for need in step.needs)])
        latest = self.slots
        if step.shuts_min is not None:
            latest = (before + at_day(step.shuts_min, before // DAY)) // GRID
        pin = step.pin
        if pin is not None:
            least = max(least, self._up(max(pin.not_before_min or 0, (pin.day or 0) * DAY, pin.at_min or 0)))
            if pin.day is not None:
                latest = min(latest, (pin.day + 1) * SLOTS - 1)
            if pin.at_min is not None:
                latest = min(latest, pin.at_min // GRID)
        ready = max(least, self._up(before + at_day(step.wait_min, before // DAY)))
        self._only = None
        if held is not None:
            slot = held.starts_min[0] // GRID
            if slot < self.now or (slot > latest and step.scuff is None):
                return False
            self._only, cabinet = held.who, held.cabinet
            if ready > slot and not held.cabinet:
                return False
            least, ready, latest = max(least, slot), max(ready, slot), min(latest, slot)
        done = self._try(j, k, step, before, ready, latest, join_days, cabinet, scuffed, least, held)
        self._only = None
        return done

    def _try(
        self, j: int, k: int, step: Step, before: int, ready: int, latest: int, join_days: int, cabinet: bool,
        scuffed: bool, least: int, held: Placed | None,
    ) -> bool:  # fmt: skip
        warm = self._warm(j, k, before) if cabinet and step.cabinet_wait_min is not None else None
        saves = warm is not None and (held is not None or max(warm, least) + GOOD_CABINET <= ready)
        if warm is not None and saves and self._fits_needs(step, j, warm):
            at = self.mark()
            self._stay(j, k, before)
            if self._put(j, k, max(warm, least), latest, True, join_days):
                return True
            self.back(at)
        if self._put(j, k, ready, latest, False, join_days):
            return True
        late = scuffed and step.scuff is not None and step.shuts_min is not None
        return late and self._late(j, k, before, ready, held)

    def _put(self, j: int, k: int, ready: int, latest: int, warm: bool, join_days: int) -> bool:
        step = self.problem.jobs[j].steps[k]
        if ready > latest:
            return False
        if not step.sprayed:
            found = self._hands(j, step, ready, latest)
            if found is None:
                return False
            who, at = found
            self._take_hands(j, step, who, at)
            self.placed[j, k] = Placed(who=self.people[who].name, starts_min=(at * GRID,), cabinet=warm)
            return True
        coated = self._coats(j, step, ready, latest, join_days)
        if coated is None:
            return False
        who, starts = coated
        self.placed[j, k] = Placed(who=self.people[who].name, starts_min=tuple(t * GRID for t in starts), cabinet=warm)
        return True

    def _hands(self, j: int, step: Step, ready: int, latest: int) -> tuple[int, int] | None:
        long, best = step.hands_min // GRID, None
        if long == 0:
            who = next((i for i in self._may(step)), None)
            return None if who is None else (who, ready)
        for who in self._may(step):
            at = self._run(self.busy[who], long, ready, min(latest, best[1] - 1 if best else latest), j, step.arbor)
            if at is not None and (best is None or at < best[1]):
                best = who, at
        return best

    def _may(self, step: Step) -> Iterator[int]:
        for i, person in enumerate(self.people):
            held = step.pin is not None and step.pin.who not in (None, person.name)
            held = held or self._only not in (None, person.name)
            if not held and (person.spray if step.sprayed else person.buff or not step.arbor):
                yield i

    def _run(self, busy: bytearray, long: int, ready: int, latest: int, j: int, arbor: bool) -> int | None:
        """The first slot from which so many are free of everything, not after the latest."""
        free, place, at = bytes(long), self.place[j], ready
        while at <= latest:
            at = busy.find(free, at)
            if at < 0 or at > latest:
                return None
            taken = place.rfind(b"\1", at, at + long)
            if taken >= 0:
                at = taken + 1
                continue
            if arbor and max(self.arbor[at : at + long], default=0) >= self.problem.arbors:
                at += 1
                continue
            return at
        return None

    def _take_hands(self, j: int, step: Step, who: int, at: int) -> None:
        long = step.hands_min // GRID
        self._set(self.busy[who], at, at + long, 1)
        self._set(self.place[j], at, at + long, 1)
        if step.arbor:
            self._add(self.arbor, at, at + long)

    # the cabinet

    def _warm(self, j: int, k: int, before: int) -> int | None:
        """When the wait in the cabinet is over; None where there is no place for it."""
        step = self.problem.jobs[j].steps[k]
        assert step.cabinet_wait_min is not None
        a, b = max(before // GRID, self.now), self._up(before + at_day(step.cabinet_wait_min, before // DAY))
        if b > self.slots or self.problem.cabinet_places == 0:
            return None
        if max(self.cabinet[a:b], default=0) >= self.problem.cabinet_places:
            return None
        return None if self.place[j].find(b"\1", max(a, self._dry(j, step, before)), b) >= 0 else b

    def _dry(self, j: int, step: Step, before: int) -> int:
        """When the coats before a stay are dry to the touch: they dry on in the cabinet."""
        own = None if step.after is None else self.problem.jobs[j].steps[step.after]
        return self._up(before + (own.wet_min if own is not None and own.sprayed else 0))

    def _fits_needs(self, step: Step, j: int, warm: int) -> bool:
        return all(self._up(self.end(j, n)) <= warm + SLOTS for n in step.needs)

    def _stay(self, j: int, k: int, before: int) -> None:
        step = self.problem.jobs[j].steps[k]
        assert step.cabinet_wait_min is not None
        a, b = max(before // GRID, self.now), self._up(before + at_day(step.cabinet_wait_min, before // DAY))
        self._add(self.cabinet, a, b)
        self._set(self.place[j], max(a, self._dry(j, step, before)), b, 1)

    # the booth

    def _coats(self, j: int, step: Step, ready: int, latest: int, join_days: int) -> tuple[int, list[int]] | None:
        days = sorted({s.day for s in self.sittings if s.material == step.material})
        first = ready // SLOTS
        for day in days:
            if first <= day <= first + join_days and (found := self._on_day(j, step, day, ready, latest)) is not None:
                return found
        for day in range(first, min(latest // SLOTS, self.problem.horizon_days - 1) + 1):
            if (found := self._on_day(j, step, day, ready, latest)) is not None:
                return found
        return None

    def _on_day(self, j: int, step: Step, day: int, ready: int, latest: int) -> tuple[int, list[int]] | None:
        """Coats on a day: with the session of their material if there is one, else in one of their own."""
        sitting = next((s for s in self.sittings if s.material == step.material and s.day == day), None)
        allowed = set(self._may(step))
        if sitting is not None:
            return self._sit(j, step, sitting, ready, latest) if sitting.who in allowed else None
        best: tuple[int, list[int]] | None = None
        for who in allowed:
            at = self.mark()
            fresh = Sitting(step.material, who, day * SLOTS, day * SLOTS, (), False)
            found = self._sit(j, step, fresh, ready, latest)
            if found is not None:
                self.back(at)
                if best is None or found[1][0] < best[1][0]:
                    best = found
        if best is None:
            return None
        fresh = Sitting(step.material, best[0], day * SLOTS, day * SLOTS, (), False)
        return self._sit(j, step, fresh, ready, latest)

    def _sit(self, j: int, step: Step, sitting: Sitting, ready: int, latest: int) -> tuple[int, list[int]] | None:
        """Coats in a session, its ends moved to hold them; nothing changed where they do not fit."""
        at, who, day = self.mark(), sitting.who, sitting.day
        paint = self.problem.materials[step.material]
        setup, clean = paint.setup_min // GRID, paint.clean_min // GRID
        if sitting in self.sittings:
            self.sittings.remove(sitting)
            self._set(self.booth, sitting.first, sitting.last, 0)
            self._free(who, sitting.last - clean, sitting.last)
            if not sitting.loaded:
                self._free(who, sitting.first, sitting.first + setup)
        start, tries = max(ready, day * SLOTS, sitting.first if sitting.loaded else 0), 0
        while tries < TRIES:
            starts = self._chain(j, step, who, start, min(latest, (day + 1) * SLOTS - 1))
            if starts is None:
                break
            long = step.coat_min // GRID
            coats = (*sitting.coats, *((t, t + long) for t in starts))
            ends = self._ends(sitting, who, coats, setup, clean, day, starts, long)
            if ends is not None:
                self._seat(j, step, sitting, who, starts, coats, ends, setup, clean)
                return who, starts
            start, tries = starts[0] + 1, tries + 1
        self.back(at)
        return None

    def _chain(self, j: int, step: Step, who: int, start: int, latest: int) -> list[int] | None:
        """The first starts from which all coats of a step fit: hands, air, the instrument, flash-off, one block."""
        long, wet = step.coat_min // GRID, -(-step.wet_min // GRID)
        low, high = step.flash_min[0] // GRID, step.flash_min[1] // GRID
        busy, air, away, free = self.busy[who], self.air[step.material], self.away[who], bytes(long)
        most = self.problem.drying_places
        at = start
        while at <= latest:
            at = busy.find(free, at)
            if at < 0 or at > latest:
                return None
            bad = air.rfind(b"\1", at, at + long)
            if bad >= 0:
                at = bad + 1
                continue
            starts = [at]
            while len(starts) < step.coats:
                nxt = self._next(busy, air, free, starts[-1] + long + low, starts[-1] + long + high)
                if nxt is None:
                    break
                starts.append(nxt)
            end = starts[-1] + long
            taken = self.place[j].rfind(b"\1", at, min(end + wet, self.slots))
            full = most is not None and max(self.drying[at : end + wet], default=0) >= most
            if len(starts) == step.coats and away.find(b"\1", at, end) < 0 and taken < 0 and not full:
                return starts
            at = taken + 1 if taken >= 0 and len(starts) == step.coats else at + 1
        return None

    @staticmethod
    def _next(busy: bytearray, air: bytes, free: bytes, at: int, latest: int) -> int | None:
        while at <= latest:
            at = busy.find(free, at)
            if at < 0 or at > latest:
                return None
            bad = air.rfind(b"\1", at, at + len(free))
            if bad < 0:
                return at
            at = bad + 1
        return None

    def _ends(
        self, sitting: Sitting, who: int, coats: tuple[tuple[int, int], ...], setup: int, clean: int, day: int,
        starts: list[int], long: int,
    ) -> tuple[int, int] | None:  # fmt: skip
        """Where a session begins and ends around its coats: set up late, cleaned soon, as hands and booth allow."""
        first, last = min(a for a, _ in coats), max(b for _, b in coats)
        busy = bytearray(self.busy[who][day * SLOTS : (day + 1) * SLOTS])
        for t in starts:
            busy[t - day * SLOTS : t - day * SLOTS + long] = b"\1" * long
        off = day * SLOTS
        if sitting.loaded:
            opens = sitting.first
        else:
            found = busy.rfind(bytes(setup), 0, first - off) if setup else first - off
            if found < 0:
                return None
            opens = found + off
        closes = busy.find(bytes(clean), last - off) if clean else last - off
        if closes < 0:
            return None
        closes += off + clean
        return None if self.booth.find(b"\1", opens, closes) >= 0 else (opens, closes)

    def _seat(
        self, j: int, step: Step, sitting: Sitting, who: int, starts: list[int], coats: tuple[tuple[int, int], ...],
        ends: tuple[int, int], setup: int, clean: int,
    ) -> None:  # fmt: skip
        long, wet = step.coat_min // GRID, -(-step.wet_min // GRID)
        opens, closes = ends
        for t in starts:
            self._set(self.busy[who], t, t + long, 1)
        if not sitting.loaded:
            self._set(self.busy[who], opens, opens + setup, 1)
        self._set(self.busy[who], closes - clean, closes, 1)
        self._set(self.booth, opens, closes, 1)
        self._set(self.place[j], starts[0], starts[-1] + long + wet, 1)
        self._add(self.drying, starts[0], starts[-1] + long + wet)
        self.sittings.append(Sitting(step.material, who, opens, closes, coats, sitting.loaded))

    def _late(self, j: int, k: int, before: int, ready: int, held: Placed | None) -> bool:
        """A window that was missed: a scuff first, and the coat while that is good."""
        step = self.problem.jobs[j].steps[k]
        scuff = step.scuff
        assert scuff is not None
        long = scuff.hands_min // GRID
        opens = max(self.now, self._up(before + scuff.wait_min), ready)
        at, start = self.mark(), opens + long
        latest = self.slots
        if step.pin is not None and step.pin.day is not None:
            latest = (step.pin.day + 1) * SLOTS - 1
        if held is not None:
            latest = held.starts_min[0] // GRID
            start = max(start, latest)
        for _ in range(60):
            if not self._put(j, k, start, latest, False, 0):
                break
            placed = self.placed[j, k]
            coat = placed.starts_min[0] // GRID
            found = self._scuffed(j, long, max(opens, coat - long - scuff.good_min // GRID), coat)
            if found is not None:
                who, when = found
                self._set(self.busy[who], when, when + long, 1)
                self._set(self.place[j], when, when + long, 1)
                self.placed[j, k] = Placed(
                    who=placed.who, starts_min=placed.starts_min, scuff_min=when * GRID, cabinet=placed.cabinet,
                    scuff_who=self.people[who].name if long else None,
                )  # fmt: skip
                return True
            self.back(at)
            start = coat + 1
        self.back(at)
        return False

    def _scuffed(self, j: int, long: int, low: int, high: int) -> tuple[int, int] | None:
        """Hands for a scuff, as late as they come before the coat."""
        if long == 0:
            return (0, high) if high >= low else None
        best: tuple[int, int] | None = None
        for who, busy in enumerate(self.busy):
            end = high
            while end - long >= low:
                found = busy.rfind(bytes(long), low, end)
                if found < 0:
                    break
                if self.place[j].find(b"\1", found, found + long) < 0:
                    if best is None or found > best[1]:
                        best = who, found
                    break
                end = found + long - 1
        return best
