"""Work put on the board where a plan has it: coats held where they were, and whole plans booked."""

from __future__ import annotations

import itertools

from ravden.core.schedule.placing import Placing
from ravden.core.schedule.problem import DAY, GRID, Placed, Plan, Session, at_day
from ravden.core.schedule.strips import SLOTS, Sitting


class Board(Placing):
    """The shop's days with work on them: where it fits first, or where a plan has it."""

    # coats held where they were

    def hold_coats(self, j: int, k: int, placed: Placed) -> bool:
        """Put coats just where a plan has them, without a session yet; whether they may stand there."""
        step, before = self.problem.jobs[j].steps[k], self.before(j, k)
        who = next((i for i in self._may(step) if self.people[i].name == placed.who), None)
        starts, long = [t // GRID for t in placed.starts_min], step.coat_min // GRID
        wet = -(-step.wet_min // GRID)
        if who is None or starts[0] < self.now or starts[-1] + long > self.slots:
            return False
        end = starts[-1] + long
        gaps = [b - a - long for a, b in itertools.pairwise(starts)]
        good = all(step.flash_min[0] <= GRID * gap <= step.flash_min[1] for gap in gaps)
        good = good and self.away[who].find(b"\1", starts[0], end) < 0
        good = good and all(self.busy[who].find(b"\1", t, t + long) < 0 for t in starts)
        good = good and all(self.air[step.material].find(b"\1", t, t + long) < 0 for t in starts)
        good = good and self.place[j].find(b"\1", starts[0], min(end + wet, self.slots)) < 0
        most = self.problem.drying_places
        good = good and (most is None or max(self.drying[starts[0] : end + wet], default=0) < most)
        good = good and all(self._up(self.end(j, n)) <= starts[0] for n in step.needs)
        pin = step.pin
        if pin is not None:
            first = placed.starts_min[0]
            good = good and pin.at_min in (None, first) and pin.day in (None, first // DAY)
            good = good and first >= (pin.not_before_min or 0)
        if not good:
            return False
        if placed.cabinet:
            warm = self._warm(j, k, before) if step.cabinet_wait_min is not None else None
            if warm is None or warm > starts[0]:
                return False
            self._stay(j, k, before)
        elif starts[0] < self._up(before + at_day(step.wait_min, before // DAY)):
            return False
        scuff_min, scuff_who = None, None
        if step.shuts_min is not None and placed.starts_min[0] > before + at_day(step.shuts_min, before // DAY):
            if step.scuff is None:
                return False
            hands = step.scuff.hands_min // GRID
            low = max(self.now, self._up(before + step.scuff.wait_min), starts[0] - hands - step.scuff.good_min // GRID)
            found = self._scuffed(j, hands, low, starts[0])
            if found is None:
                return False
            self._set(self.busy[found[0]], found[1], found[1] + hands, 1)
            self._set(self.place[j], found[1], found[1] + hands, 1)
            scuff_min, scuff_who = found[1] * GRID, self.people[found[0]].name if hands else None
        for t in starts:
            self._set(self.busy[who], t, t + long, 1)
        self._set(self.place[j], starts[0], end + wet, 1)
        self._add(self.drying, starts[0], end + wet)
        self.placed[j, k] = Placed(
            who=placed.who,
            starts_min=placed.starts_min,
            scuff_min=scuff_min,
            scuff_who=scuff_who,
            cabinet=placed.cabinet,
        )
        return True

    def clean_later(self) -> None:
        """The gun that is loaded is cleaned once what stands is on the board: its cleaning is in nobody's way."""
        for sitting in [s for s in self.sittings if s.loaded]:
            clean = self.problem.materials[sitting.material].clean_min // GRID
            self.sittings.remove(sitting)
            self._set(self.booth, sitting.first, sitting.last, 0)
            self._free(sitting.who, sitting.last - clean, sitting.last)
            self._loaded = sitting

    def _cleaned(self) -> None:
        """No coat that stands is laid with the gun that is loaded."""
        if self._loaded is not None:
            self._loaded = None
            self._open()

    def seat_held(self) -> set[tuple[int, int]]:
        """Give all coats that were held their sessions; those that can have none."""
        groups: dict[tuple[str, int], list[tuple[int, int]]] = {}
        for key, placed in self.placed.items():
            step = self.problem.jobs[key[0]].steps[key[1]]
            if step.sprayed:
                groups.setdefault((step.material, placed.starts_min[0] // DAY), []).append(key)
        fell: set[tuple[int, int]] = set()
        for (material, day), keys in sorted(
            groups.items(), key=lambda g: min(self.placed[k].starts_min[0] for k in g[1])
        ):
            who = self.placed[min(keys, key=lambda k: self.placed[k].starts_min[0])].who
            others = {k for k in keys if self.placed[k].who != who}
            if others or not self._seat_group(
                material, day, next(i for i, p in enumerate(self.people) if p.name == who), keys
            ):
                fell |= others or set(keys)
        self._cleaned()
        return fell

    def _seat_group(self, material: str, day: int, who: int, keys: list[tuple[int, int]]) -> bool:
        paint = self.problem.materials[material]
        setup, clean = paint.setup_min // GRID, paint.clean_min // GRID
        sitting = next((s for s in self.sittings if s.material == material and s.day == day), None)
        if sitting is not None:
            if sitting.who != who:
                return False
            self.sittings.remove(sitting)
            self._set(self.booth, sitting.first, sitting.last, 0)
            self._free(who, sitting.last - clean, sitting.last)
        waits = self._loaded
        if waits is not None and (waits.material, waits.day, waits.who) == (material, day, who):
            sitting = waits
        coats = []
        for j, k in keys:
            long = self.problem.jobs[j].steps[k].coat_min // GRID
            coats += [(t // GRID, t // GRID + long) for t in self.placed[j, k].starts_min]
        fresh = sitting or Sitting(material, who, day * SLOTS, day * SLOTS, (), False)
        ends = self._ends(fresh, who, tuple(coats), setup, clean, day, [], 0)
        if ends is None:
            return False
        opens, closes = ends
        if not fresh.loaded:
            self._set(self.busy[who], opens, opens + setup, 1)
        self._set(self.busy[who], closes - clean, closes, 1)
        self._set(self.booth, opens, closes, 1)
        self.sittings.append(Sitting(material, who, opens, closes, tuple(coats), fresh.loaded))
        if fresh is waits:
            self._loaded = None
        return True

    def book(self, plan: Plan, keys: set[tuple[int, int]], sessions: tuple[Session, ...]) -> None:
        """Put work on it as a plan has it, unasked whether it may stand there."""
        names = {p.name: i for i, p in enumerate(self.people)}
        self.sittings = [s for s in self.sittings if s.loaded] if self.problem.open_session else []
        coats: dict[tuple[str, int], list[tuple[int, int]]] = {}
        for j, k in sorted(keys):
            step, placed = self.problem.jobs[j].steps[k], plan.placed[j, k]
            who = names[placed.who]
            self.placed[j, k] = placed
            if placed.scuff_min is not None and step.scuff is not None and placed.scuff_who:
                a = placed.scuff_min // GRID
                self._set(self.busy[names[placed.scuff_who]], a, a + step.scuff.hands_min // GRID, 1)
                self._set(self.place[j], a, a + step.scuff.hands_min // GRID, 1)
            if placed.cabinet and (step.after is None or (j, step.after) in self.placed):
                self._stay(j, k, self.before(j, k))
            if not step.sprayed:
                self._take_hands(j, step, who, placed.starts_min[0] // GRID)
                continue
            long, wet = step.coat_min // GRID, -(-step.wet_min // GRID)
            starts = [t // GRID for t in placed.starts_min]
            for t in starts:
                self._set(self.busy[who], t, t + long, 1)
                coats.setdefault((step.material, t // SLOTS), []).append((t, t + long))
            self._set(self.place[j], starts[0], starts[-1] + long + wet, 1)
            self._add(self.drying, starts[0], starts[-1] + long + wet)
        for session in sessions:
            mine = coats.get((session.material, session.day), [])
            if not mine and not session.loaded:
                continue
            self._book_session(session, names[session.who], mine)

    def _book_session(self, session: Session, who: int, coats: list[tuple[int, int]]) -> None:
        paint = self.problem.materials[session.material]
        clean, setup = paint.clean_min // GRID, paint.setup_min // GRID
        first, last = session.from_min // GRID, session.to_min // GRID
        if session.loaded:
            for s in [s for s in self.sittings if s.loaded]:
                self.sittings.remove(s)
                self._set(self.booth, s.first, s.last, 0)
                self._free(who, s.last - clean, s.last)
        else:
            self._set(self.busy[who], first, first + setup, 1)
        self._set(self.busy[who], last - clean, last, 1)
        self._set(self.booth, first, last, 1)
        self.sittings.append(Sitting(session.material, who, first, last, tuple(coats), session.loaded))
