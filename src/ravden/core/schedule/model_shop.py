"""A shop as a model of intervals: its sessions, its limits, and what is wanted of a plan. Slots of five minutes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ravden.core.schedule.problem import DAY, GRID, MOVED_MIN, Plan, Problem, day_of
from ravden.core.schedule.strips import SLOTS

NEAR_DAYS = 12  # that instruments may be moved by while the others stay


class Shop:
    """Variables of people, booth and places; whoever puts steps in adds theirs. cp: the solver's own names."""

    def __init__(self, problem: Problem, cp: Any, free: frozenset[int] | None = None, base: Plan | None = None) -> None:
        """free: jobs that may move, base: where the others stand; None: all may move."""
        self.p, self.cp, self.m = problem, cp, cp.CpModel()
        self.free = frozenset(range(len(problem.jobs))) if free is None else free
        self.base = base
        self.slots = problem.horizon_days * SLOTS
        self.now = -(-problem.now_min // GRID)
        self.near = self._near()
        self.hours = [[(a // GRID, b // GRID) for a, b in problem.hours(p)] for p in problem.people]
        self.names = {p.name: i for i, p in enumerate(problem.people)}
        self.work: list[list[Any]] = [[] for _ in problem.people]
        self.starts: dict[tuple[int, int], list[Any]] = {}
        self.end: dict[tuple[int, int], Any] = {}
        self.who: dict[tuple[int, int], dict[int, Any]] = {}
        self.warm: dict[tuple[int, int], Any] = {}
        self.scuffs: dict[tuple[int, int], tuple[Any, Any, dict[int, Any]]] = {}
        self.place: list[list[Any]] = [[] for _ in problem.jobs]
        self.arbor: list[Any] = []
        self.stays: list[Any] = []
        self.drying: list[Any] = []
        self.sittings: dict[tuple[str, int], tuple[Any, dict[int, Any], Any, Any]] = {}
        self.on_day: dict[tuple[int, int], dict[int, Any]] = {}
        self.ends: list[Any] = []
        self._sessions()

    def _bool(self) -> Any:
        return self.m.NewBoolVar("")

    def _starts_in(self, spans: Sequence[tuple[int, int]], long: int) -> Any:
        fits = [[a, b - long] for a, b in spans if b - long >= a]
        return self.cp.Domain.FromIntervals(fits) if fits else self.cp.Domain(0, -1)

    def _sessions(self) -> None:
        materials = sorted({s.material for job in self.p.jobs for s in job.steps if s.sprayed})
        opened, booth = self.p.open_session, []
        if opened is not None and opened.material not in materials:
            materials.append(opened.material)
        for name in materials:
            paint = self.p.materials[name]
            setup, clean = paint.setup_min // GRID, paint.clean_min // GRID
            for day in self._days(name):
                low, high = day * SLOTS, (day + 1) * SLOTS
                loaded = self.is_loaded(name, day)
                may = [
                    i
                    for i, p in enumerate(self.p.people)
                    if p.spray and any(a < high and b > low for a, b in self.hours[i])
                ]
                if loaded and opened is not None:
                    may = [self.names[opened.who]]
                if not may:
                    continue
                active = self.m.NewConstant(1) if loaded else self._bool()
                first = self.m.NewIntVar(low, high, "") if not loaded else self.m.NewConstant(opened.since_min // GRID)  # type: ignore[union-attr]
                last, length = self.m.NewIntVar(low, high, ""), self.m.NewIntVar(0, SLOTS, "")
                booth.append(self.m.NewOptionalIntervalVar(first, length, last, active, ""))
                hands: dict[int, Any] = {}
                for i in may:
                    mine = self._bool()
                    hands[i] = mine
                    if setup and not loaded:
                        self._held(i, first, setup, mine)
                    if clean:
                        at = self.m.NewIntVar(low, high, "")
                        self.m.Add(at + clean == last).OnlyEnforceIf(mine)
                        self._held(i, at, clean, mine)
                self.m.Add(sum(hands.values()) == active)
                least = clean + (0 if loaded else setup)
                self.m.Add(last - first >= least).OnlyEnforceIf(active)
                self.sittings[name, day] = active, hands, first, last
        self.m.AddNoOverlap(booth)

    def _near(self) -> tuple[int, int]:
        """Days that free jobs may be moved to."""
        if self.base is None:
            return self.now // SLOTS, self.p.horizon_days - 1
        days = [day_of(t) for (j, _), p in self.base.placed.items() if j in self.free for t in p.starts_min]
        low, high = min(days, default=0) - NEAR_DAYS, max(days, default=0) + NEAR_DAYS
        return max(low, self.now // SLOTS), min(high, self.p.horizon_days - 1)

    def _days(self, material: str) -> list[int]:
        """Days a material may be sprayed on: those near, and those it is sprayed on anyway."""
        days = set(range(self.near[0], self.near[1] + 1))
        if self.base is not None:
            days |= {s.day for s in self.base.sessions if s.material == material}
        if self.p.open_session is not None and self.p.open_session.material == material:
            days.add(self.p.open_session.since_min // DAY)
        return sorted(days)

    def _held(self, i: int, start: Any, long: int, present: Any) -> None:
        """Hands of somebody from a start on, where it is theirs: in their hours, nothing else meanwhile."""
        self.m.AddLinearExpressionInDomain(start, self._starts_in(self.hours[i], long)).OnlyEnforceIf(present)
        self.work[i].append(self.m.NewOptionalFixedSizeIntervalVar(start, long, present, ""))

    def is_loaded(self, name: str, day: int) -> bool:
        """Whether a session is that of the gun that is loaded now."""
        opened = self.p.open_session
        return opened is not None and opened.material == name and opened.since_min // DAY == day

    def _limits(self) -> None:
        m = self.m
        if self.arbor:
            m.AddCumulative(self.arbor, [1] * len(self.arbor), self.p.arbors)
        if self.stays:
            taken = [
                m.NewFixedSizeIntervalVar(self.now, -(-u // GRID) - self.now, "") for u in self.p.in_cabinet
                if -(-u // GRID) > self.now
            ]  # fmt: skip
            spans = [*self.stays, *taken]
            m.AddCumulative(spans, [1] * len(spans), self.p.cabinet_places)
        if self.p.drying_places is not None and self.drying:
            m.AddCumulative(self.drying, [1] * len(self.drying), self.p.drying_places)

    def _aims(self) -> dict[str, Any]:
        m = self.m
        late, days = [], []
        for j, job in enumerate(self.p.jobs):
            if not job.steps or j not in self.free:
                self.ends.append(m.NewConstant(self.now))
                continue
            end = m.NewIntVar(self.now, self.slots, "")
            m.AddMaxEquality(end, [self.end[j, k] for k in range(len(job.steps))])
            self.ends.append(end)
            if job.promised_min is not None:
                promised = job.promised_min // GRID
                if job.firm:
                    m.Add(end <= promised)
                else:
                    over = m.NewIntVar(0, 2 * self.p.horizon_days + 2 * abs(promised) // SLOTS, "")
                    m.Add(SLOTS * over >= end - promised)
                    late.append(job.weight * over)
            day = m.NewIntVar(0, self.p.horizon_days, "")
            m.Add(SLOTS * day + SLOTS - 1 >= end)
            days.append(day)
        fresh = [active for (name, day), (active, *_) in self.sittings.items() if not self.is_loaded(name, day)]
        cost = self.p.setup_worth_days * sum(fresh) + sum(days)
        return {"late_days": sum(late), "cost": cost, "moved": self._moved()}

    def _moved(self) -> Any:
        m, off = self.m, []
        for key, was in self.p.previous.items():
            if key not in self.starts:
                continue
            moved = self._bool()
            off.append(moved)
            who = self.names.get(was.who)
            if who is None or who not in self.who[key]:
                m.Add(moved == 1)
                continue
            at = was.starts_min[0]
            low, high = -(-(at - MOVED_MIN) // GRID), (at + MOVED_MIN) // GRID
            m.AddLinearConstraint(self.starts[key][0], low, high).OnlyEnforceIf(moved.Not())
            m.Add(self.who[key][who] == 1).OnlyEnforceIf(moved.Not())
        return sum(off)
