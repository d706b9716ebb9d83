"""The shop's days as strips of five minutes: who is busy, what the booth holds, where each instrument is, and marks one
can go back to."""

from __future__ import annotations

from typing import NamedTuple

from ravden.core.schedule.problem import DAY, GRID, Placed, Plan, Problem, Session, end_of

SLOTS = DAY // GRID


class Sitting(NamedTuple):
    """A session as it stands: its coats by slots, and its ends."""

    material: str
    who: int
    first: int
    last: int
    coats: tuple[tuple[int, int], ...]
    loaded: bool

    @property
    def day(self) -> int:
        return self.first // SLOTS


class Mark(NamedTuple):
    """Where one may go back to."""

    length: int
    sittings: tuple[Sitting, ...]
    placed: dict[tuple[int, int], Placed]


class Strips:
    """What is on the board; whoever puts work there sets them. Slots of five minutes since midnight of day 0."""

    def __init__(self, problem: Problem) -> None:
        self.problem = problem
        self.slots = problem.horizon_days * SLOTS
        self.now = -(-problem.now_min // GRID)
        self.people = problem.people
        self.away: list[bytes] = []
        for person in problem.people:
            strip = bytearray(b"\1" * self.slots)
            for a, b in problem.hours(person):
                strip[a // GRID : b // GRID] = bytes(min(b // GRID, self.slots) - a // GRID)
            self.away.append(bytes(strip[: self.slots]))
        self.busy = [bytearray(strip) for strip in self.away]
        self.air: dict[str, bytes] = {}
        for name, paint in problem.materials.items():
            strip = bytearray(self.slots)
            for a, b in paint.no_spray:
                low, high = max(a // GRID, 0), min(-(-b // GRID), self.slots)
                if low < high:
                    strip[low:high] = b"\1" * (high - low)
            self.air[name] = bytes(strip)
        self.booth = bytearray(self.slots)
        self.place = [bytearray(self.slots) for _ in problem.jobs]
        self.arbor, self.cabinet, self.drying = (bytearray(self.slots) for _ in range(3))
        self.sittings: list[Sitting] = []
        self.placed: dict[tuple[int, int], Placed] = {}
        self._log: list[tuple[bytearray, int, bytes]] = []
        self._only: str | None = None  # whose hands alone will do
        self._loaded: Sitting | None = None  # a gun in hand whose cleaning has no place yet
        for until in problem.in_cabinet:
            self._add(self.cabinet, self.now, min(-(-until // GRID), self.slots))
        if problem.open_session is not None:
            self._open()

    # marks

    def mark(self) -> Mark:
        """Here one can go back to."""
        return Mark(len(self._log), tuple(self.sittings), dict(self.placed))

    def back(self, mark: Mark) -> None:
        """As it was then."""
        while len(self._log) > mark.length:
            strip, at, old = self._log.pop()
            strip[at : at + len(old)] = old
        self.sittings, self.placed = list(mark.sittings), dict(mark.placed)

    def _set(self, strip: bytearray, a: int, b: int, value: int) -> None:
        a, b = max(a, 0), min(b, self.slots)
        if a < b:
            self._log.append((strip, a, bytes(strip[a:b])))
            strip[a:b] = bytes([value]) * (b - a)

    def _add(self, strip: bytearray, a: int, b: int) -> None:
        a, b = max(a, 0), min(b, self.slots)
        if a < b:
            self._log.append((strip, a, bytes(strip[a:b])))
            strip[a:b] = bytes(v + 1 for v in strip[a:b])

    def _free(self, who: int, a: int, b: int) -> None:
        """Hands are free again, where they are there at all."""
        if a < b:
            self._log.append((self.busy[who], a, bytes(self.busy[who][a:b])))
            self.busy[who][a:b] = self.away[who][a:b]

    # what is on it

    def plan(self) -> Plan:
        """Everything on it."""
        sessions = [
            Session(material=s.material, who=self.people[s.who].name, from_min=s.first * GRID, to_min=s.last * GRID,
                    loaded=s.loaded) for s in sorted(self.sittings, key=lambda s: s.first)
        ]  # fmt: skip
        return Plan(placed=dict(self.placed), sessions=tuple(sessions))

    def end(self, j: int, k: int) -> int:
        """When a step that is on it is over [min]."""
        return end_of(self.problem.jobs[j].steps[k], self.placed[j, k])

    def before(self, j: int, k: int) -> int:
        """When the wait before a step began [min]."""
        step = self.problem.jobs[j].steps[k]
        return step.since_min if step.after is None else self.end(j, step.after)

    def _open(self) -> None:
        """The gun that is loaded: it has to be cleaned today, whatever else is laid."""
        opened = self.problem.open_session
        assert opened is not None
        who = next(i for i, p in enumerate(self.people) if p.name == opened.who)
        clean = self.problem.materials[opened.material].clean_min // GRID
        first, day = opened.since_min // GRID, opened.since_min // DAY
        closes = self.busy[who].find(bytes(clean), max(self.now, first)) if clean else max(self.now, first)
        if closes < 0 or (closes + clean) > (day + 1) * SLOTS:
            closes = max(self.now, first)  # nobody is there to clean it any more: the check will say so
        closes += clean
        self._set(self.busy[who], closes - clean, closes, 1)
        self._set(self.booth, first, closes, 1)
        self.sittings.append(Sitting(opened.material, who, first, closes, (), True))

    @staticmethod
    def _up(minute: int) -> int:
        return -(-minute // GRID)
