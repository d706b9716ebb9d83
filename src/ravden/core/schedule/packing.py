"""A day of a plan packed: its work taken off the board and put back with less waiting between, on the same day and by
the same hands."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.schedule.board import Board
from ravden.core.schedule.problem import GRID, Pin, Placed, Plan, Problem, at_day, day_of, figures
from ravden.core.schedule.strips import SLOTS
from ravden.core.schedule.verify import verify

MOST_TRIES = 200  # ways a day is put back
LATER = 6  # slots between two beginnings of a day that are tried
Key = tuple[int, int]
From = dict[Key, int]  # not before which slot a step is put back


class _Way(Struct, frozen=True, kw_only=True):
    """A day put back: minutes idle in it, the plan."""

    idle: int
    plan: Plan


def packed(problem: Problem, plan: Plan, day: int) -> Plan:
    """The plan with the least idle day found; as it was where nothing is gained, or something else would suffer."""
    keys = _free(problem, plan, day)
    if not keys:
        return plan
    table = _Table(problem, plan, day, keys)
    best, tries, go_on = table.as_it_is(), 0, True
    was, seen = figures(problem, plan), set()
    while go_on and tries < MOST_TRIES and best.idle > 0:
        go_on = False
        for since in table.ways(best.plan):
            if (order := tuple(since.values())) in seen:
                continue
            seen.add(order)
            tries += 1
            found = table.put(since)
            if found is None or found.idle >= best.idle:
                continue
            now = figures(problem, found.plan)
            worse = (now.late_days, now.moved, now.cost) > (was.late_days, was.moved, was.cost)
            if not worse and not verify(problem, found.plan):
                best, go_on = found, True
                break
            if tries >= MOST_TRIES:
                break
    return best.plan


def _free(problem: Problem, plan: Plan, day: int) -> tuple[Key, ...]:
    """Steps of a day that may be moved in it, as they follow one another: not what is pinned to a minute, and no coat
    whose scuff belongs to it."""

    def may(key: Key, placed: Placed) -> bool:
        step = problem.jobs[key[0]].steps[key[1]]
        fixed = step.pin is not None and step.pin.at_min is not None
        return day_of(placed.starts_min[0]) == day and placed.scuff_min is None and not fixed and step.least_min > 0

    return tuple(sorted((k for k, p in plan.placed.items() if may(k, p)), key=lambda k: (plan.placed[k].starts_min, k)))


class _Table:
    """A day whose work can be put back in many ways, all else standing where it stood."""

    def __init__(self, problem: Problem, plan: Plan, day: int, keys: tuple[Key, ...]) -> None:
        self.problem, self.plan, self.day, self.keys = problem, plan, day, keys
        self.board = Board(_held_to(problem, plan, day, keys))
        self.board.book(plan, set(plan.placed) - set(keys), plan.sessions)
        self._empty = self.board.mark()
        self._alone = len({j for j, _ in keys}) == 1
        self._latest = {k: self._latest_of(k) for k in keys}

    def as_it_is(self) -> _Way:
        board = Board(self.problem)
        board.book(self.plan, set(self.plan.placed), self.plan.sessions)
        return _Way(idle=_idle(board, self.day), plan=self.plan)

    def _latest_of(self, key: Key) -> int:
        """The last slot a step may begin at for the steps of other days that wait for it."""
        (j, k), latest = key, (self.day + 1) * SLOTS
        step = self.problem.jobs[j].steps[k]
        for n, other in enumerate(self.problem.jobs[j].steps):
            if (j, n) in self.keys or (j, n) not in self.plan.placed:
                continue
            placed = self.plan.placed[j, n]
            rows = other.cabinet_wait_min if placed.cabinet and other.cabinet_wait_min else other.wait_min
            begins = placed.starts_min[0] if placed.scuff_min is None else placed.scuff_min
            if other.after == k:
                latest = min(latest, (begins - at_day(rows, self.day) - step.least_min) // GRID)
            elif k in other.needs:
                latest = min(latest, (begins - step.least_min) // GRID)
        return latest

    def ways(self, plan: Plan) -> Iterator[From]:
        """From when on each step is put back: what comes before a gap moved up to its end; all of it moved into a gap
        alone; two steps changing places; the whole day begun later; everything as early as it goes."""
        at = {k: plan.placed[k].starts_min[0] // GRID for k in self.keys}
        for who, a, b in self._gaps(plan):
            before = {k for k in self.keys if plan.placed[k].who == who and at[k] < a}
            for by in (b - a, (b - a) // 2):
                yield {k: min(s + by, max(self._latest[k], s)) if k in before else s for k, s in at.items()}
            if self._alone:
                continue  # an instrument's own steps stay in their order
            yield {k: a if plan.placed[k].who == who and at[k] >= b else s for k, s in at.items()}
            for key in self.keys:
                if plan.placed[key].who == who and not a <= at[key] < b:
                    yield at | {key: a}
        for one, two in () if self._alone else itertools.combinations(self.keys, 2):
            yield at | {one: at[two], two: at[one]}
        first = min(at.values())
        for begin in range(first, first + 12 * LATER, LATER):
            yield {k: min(begin, max(self._latest[k], s)) for k, s in at.items()}

    def _gaps(self, plan: Plan) -> list[tuple[str, int, int]]:
        """Where somebody is there and idle between works of the day, the longest first."""
        board, out = Board(self.problem), []
        board.book(plan, set(plan.placed), plan.sessions)
        for who, work, here in _strips(board, self.day):
            t = work.find(1)
            while t >= 0:
                a = work.find(0, t)
                b = work.find(1, a)
                if a < 0 or b < 0:
                    break
                if any(here[a:b]):
                    out.append((who, self.day * SLOTS + a, self.day * SLOTS + b))
                t = b
        return sorted(out, key=lambda gap: gap[1] - gap[2])

    def put(self, since: From) -> _Way | None:
        """The day put back in the order the steps may begin in."""
        board = self.board
        board.back(self._empty)
        for key in sorted(self.keys, key=lambda k: (since[k], k)):
            was = self.plan.placed[key]
            named = self.problem.jobs[key[0]].steps[key[1]]
            waits = [n for n in (named.after, *named.needs) if n is not None]
            if any((key[0], n) not in board.placed for n in waits):
                return None
            if not board.put(*key, cabinet=was.cabinet, scuffed=False, not_before=since[key]):
                return None
            if board.placed[key].cabinet != was.cabinet:
                return None
        return _Way(idle=_idle(board, self.day), plan=board.plan())


def _held_to(problem: Problem, plan: Plan, day: int, keys: tuple[Key, ...]) -> Problem:
    """The problem with each of these steps pinned to its day and hands."""
    jobs = list(problem.jobs)
    for j, k in keys:
        steps = list(jobs[j].steps)
        was = steps[k].pin
        least = None if was is None else was.not_before_min
        steps[k] = replace(steps[k], pin=Pin(day=day, who=plan.placed[j, k].who, not_before_min=least))
        jobs[j] = replace(jobs[j], steps=tuple(steps))
    return replace(problem, jobs=tuple(jobs))


def _strips(board: Board, day: int) -> Iterator[tuple[str, bytes, bytes]]:
    """Of everybody on a day, by slots: whether they work, whether they are there."""
    span = slice(day * SLOTS, (day + 1) * SLOTS)
    for person, busy, away in zip(board.people, board.busy, board.away, strict=True):
        gone = away[span]
        work = bytes(b and not g for b, g in zip(busy[span], gone, strict=True))
        yield person.name, work, bytes(not g for g in gone)


def _idle(board: Board, day: int) -> int:
    """Minutes between the first and the last work of a day that somebody is there and does nothing."""
    slots = 0
    for _, work, here in _strips(board, day):
        first, last = work.find(1), work.rfind(1)
        slots += sum(h and not w for w, h in zip(work[first:last], here[first:last], strict=True)) if first >= 0 else 0
    return slots * GRID
