"""The whole shop as one model, for a few instruments: solved until no better plan can be, and said so.

The only module that imports OR-Tools, and only when it is asked.
"""

from __future__ import annotations

import itertools
import time
from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct

from ravden.core.schedule.problem import DAY, GRID, Placed, Plan, Problem, Rows, Session, Step, day_of, end_of
from ravden.core.schedule.strips import SLOTS

MOST_JOBS = 5  # larger shops find no plan in the time there is
NEAR_DAYS = 12  # that instruments may be moved by while the others stay


class Proof(Struct, frozen=True, kw_only=True):
    """What was found: proved: no plan is better; impossible: there is none at all."""

    plan: Plan | None
    proved: bool = False
    impossible: bool = False


def available() -> bool:
    """Whether OR-Tools is there."""
    import importlib.util

    return importlib.util.find_spec("ortools") is not None


def solve(
    problem: Problem, order: Sequence[str], start: Plan | None = None, *, seconds: float = 15.0, seed: int = 1,
    deterministic: float | None = None,
) -> Proof:  # fmt: skip
    """The best plan by one aim after the other: late_days, moved, cost. deterministic: solver's own time for each aim,
    for the same answer each time."""
    from ortools.sat.python import cp_model

    model = _Model(problem, cp_model)
    found: Plan | None = None
    proved, until = True, time.monotonic() + seconds
    if start is not None:
        model.hint(start)
    for i, name in enumerate(order):
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = seed
        if deterministic is None:
            solver.parameters.max_time_in_seconds = max(until - time.monotonic(), 0.2)
        else:
            solver.parameters.max_deterministic_time = deterministic
        aim = model.aims[name]
        model.m.Minimize(aim)
        status = solver.Solve(model.m)
        if status == cp_model.INFEASIBLE:
            return Proof(plan=found, impossible=found is None)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return Proof(plan=found)
        proved = proved and status == cp_model.OPTIMAL
        found = model.read(solver)
        if i + 1 < len(order):
            model.m.Add(aim <= round(solver.ObjectiveValue()))
            model.m.ClearHints()
            model.hint(found)
    return Proof(plan=found, proved=proved)


def around(
    problem: Problem, base: Plan, free: frozenset[int], weights: Mapping[str, int], *, seconds: float = 0.8,
    seed: int = 1, deterministic: float | None = None,
) -> Proof:  # fmt: skip
    """A better plan with only these jobs moved, the others where they are. weights: of late_days, moved and cost in one
    number; proved: none of these moves is better."""
    from ortools.sat.python import cp_model

    model = _Model(problem, cp_model, free, base)
    model.hint(base)
    model.m.Minimize(sum(weight * model.aims[name] for name, weight in weights.items()))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = seed
    solver.parameters.cp_model_presolve = False
    if deterministic is None:
        solver.parameters.max_time_in_seconds = seconds
    else:
        solver.parameters.max_deterministic_time = deterministic
    status = solver.Solve(model.m)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Proof(plan=None)
    return Proof(plan=model.read(solver), proved=status == cp_model.OPTIMAL)


def earliest_end(problem: Problem, j: int, seconds: float = 5.0) -> int | None:
    """When a job alone could be over at the earliest [min]; None where it cannot be done."""
    from msgspec.structs import replace
    from ortools.sat.python import cp_model

    job = replace(problem.jobs[j], firm=False)
    alone = replace(problem, jobs=(job,), previous={})
    model = _Model(alone, cp_model)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_time_in_seconds = seconds
    model.m.Minimize(model.ends[0])
    if solver.Solve(model.m) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    return int(solver.Value(model.ends[0])) * GRID


class _Model:
    """Variables in slots of five minutes."""

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
        self._sessions()
        for j, job in enumerate(problem.jobs):
            for k, step in enumerate(job.steps):
                if j in self.free:
                    self._step(j, k, step)
                else:
                    self._booked(j, k, step)
        for j in self.free:
            self.m.AddNoOverlap(self.place[j])
        for spans in self.work:
            self.m.AddNoOverlap(spans)
        self._limits()
        self.ends: list[Any] = []
        self.aims = self._aims()

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
                loaded = opened is not None and opened.material == name and day == opened.since_min // DAY
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

    def _booked(self, j: int, k: int, step: Step) -> None:
        """A step that stays where it is."""
        assert self.base is not None
        m, placed = self.m, self.base.placed[j, k]
        long = (step.coat_min if step.sprayed else step.hands_min) // GRID
        who, starts = self.names[placed.who], [t // GRID for t in placed.starts_min]
        if long:
            self.work[who] += [m.NewFixedSizeIntervalVar(t, long, "") for t in starts]
        if placed.scuff_min is not None and step.scuff is not None and placed.scuff_who and step.scuff.hands_min:
            at, scuffs = placed.scuff_min // GRID, step.scuff.hands_min // GRID
            self.work[self.names[placed.scuff_who]].append(m.NewFixedSizeIntervalVar(at, scuffs, ""))
        if step.arbor and long:
            self.arbor.append(m.NewFixedSizeIntervalVar(starts[0], long, ""))
        if placed.cabinet and step.cabinet_wait_min is not None:
            before = (
                step.since_min
                if step.after is None
                else end_of(self.p.jobs[j].steps[step.after], self.base.placed[j, step.after])
            )
            a, b = max(before // GRID, self.now), -(-(before + _at(step.cabinet_wait_min, before // DAY)) // GRID)
            if b > a:
                self.stays.append(m.NewFixedSizeIntervalVar(a, b - a, ""))
        if not step.sprayed:
            return
        end, wet = starts[-1] + long, -(-step.wet_min // GRID)
        self.drying.append(m.NewFixedSizeIntervalVar(starts[0], end + wet - starts[0], ""))
        paint, day = self.p.materials[step.material], day_of(placed.starts_min[0])
        active, hands, first, last = self.sittings[step.material, day]
        setup = 0 if self._is_loaded(step.material, day) else paint.setup_min // GRID
        m.Add(active == 1)
        m.Add(first + setup <= starts[0])
        m.Add(last - paint.clean_min // GRID >= end)
        m.Add(hands[who] == 1)

    def _held(self, i: int, start: Any, long: int, present: Any) -> None:
        """Hands of somebody from a start on, where it is theirs: in their hours, nothing else meanwhile."""
        self.m.AddLinearExpressionInDomain(start, self._starts_in(self.hours[i], long)).OnlyEnforceIf(present)
        self.work[i].append(self.m.NewOptionalFixedSizeIntervalVar(start, long, present, ""))

    def _step(self, j: int, k: int, step: Step) -> None:
        m, long = self.m, (step.coat_min if step.sprayed else step.hands_min) // GRID
        low, high = self.near[0] * SLOTS, (self.near[1] + 1) * SLOTS
        starts = [m.NewIntVar(max(self.now, low), min(self.slots, high), "") for _ in range(max(step.coats, 1))]
        end = m.NewIntVar(self.now, self.slots, "")
        m.Add(end == starts[-1] + long)
        who: dict[int, Any] = {}
        for i, person in enumerate(self.p.people):
            held = step.pin is not None and step.pin.who not in (None, person.name)
            if not held and (person.spray if step.sprayed else person.buff or not step.arbor):
                who[i] = self._bool()
        m.AddExactlyOne(who.values())
        self.starts[j, k], self.end[j, k], self.who[j, k] = starts, end, who
        if step.sprayed:
            self._coats(j, k, step, starts, end, who, long)
        else:
            for i, present in who.items():
                if long:
                    self._held(i, starts[0], long, present)
            if long:
                self.place[j].append(m.NewFixedSizeIntervalVar(starts[0], long, ""))
                if step.arbor:
                    self.arbor.append(m.NewFixedSizeIntervalVar(starts[0], long, ""))
        self._wait(j, k, step)
        pin = step.pin
        if pin is not None:
            if pin.at_min is not None:
                m.Add(starts[0] == pin.at_min // GRID)
            if pin.day is not None:
                m.AddLinearConstraint(starts[0], pin.day * SLOTS, (pin.day + 1) * SLOTS - 1)
            if pin.not_before_min is not None:
                m.Add(starts[0] >= -(-pin.not_before_min // GRID))

    def _coats(self, j: int, k: int, step: Step, starts: list[Any], end: Any, who: dict[int, Any], long: int) -> None:
        m, paint = self.m, self.p.materials[step.material]
        low, high = step.flash_min[0] // GRID, step.flash_min[1] // GRID
        for a, b in itertools.pairwise(starts):
            m.AddLinearConstraint(b - a - long, low, high)
        bad = [[max(a // GRID, 0) - long + 1, -(-b // GRID) - 1] for a, b in paint.no_spray]
        air = self.cp.Domain(0, self.slots)
        if bad:
            air = air.intersection_with(self.cp.Domain.FromIntervals(bad).complement())
        for t in starts:
            m.AddLinearExpressionInDomain(t, air)
        whole = m.NewIntVar(0, SLOTS, "")
        m.Add(starts[0] + whole == end)
        least = step.least_min // GRID
        for i, present in who.items():
            m.AddLinearExpressionInDomain(starts[0], self._starts_in(self.hours[i], least)).OnlyEnforceIf(present)
            for t in starts:
                self._held(i, t, long, present)
            if len(starts) > 1 and step.flash_min[0] != step.flash_min[1]:
                # All of it in one block: it may not lie over an hour that is not worked.
                span = m.NewOptionalIntervalVar(starts[0], whole, end, present, "")
                shut = [m.NewFixedSizeIntervalVar(a, b - a, "") for a, b in self._shut(i)]
                m.AddNoOverlap([span, *shut])
        days: dict[int, Any] = {}
        for (name, day), (active, hands, first, last) in self.sittings.items():
            if name != step.material or not self.near[0] <= day <= self.near[1]:
                continue
            here = self._bool()
            days[day] = here
            clean = paint.clean_min // GRID
            loaded = self.p.open_session is not None and self.p.open_session.material == name
            loaded = loaded and day == self.p.open_session.since_min // DAY  # type: ignore[union-attr]
            setup = 0 if loaded else paint.setup_min // GRID
            m.AddImplication(here, active)
            m.Add(starts[0] >= first + setup).OnlyEnforceIf(here)
            m.Add(end <= last - clean).OnlyEnforceIf(here)
            for i, mine in hands.items():
                if i in who:
                    m.AddBoolOr([here.Not(), mine.Not(), who[i]])
                else:
                    m.AddBoolOr([here.Not(), mine.Not()])
        m.AddExactlyOne(days.values())
        self.on_day[j, k] = days
        wet = -(-step.wet_min // GRID)
        until, dry = m.NewIntVar(self.now, self.slots + wet, ""), m.NewIntVar(0, self.slots + wet, "")
        m.Add(until == end + wet)
        m.Add(starts[0] + dry == until)
        span = m.NewIntervalVar(starts[0], dry, until, "")
        self.place[j].append(span)
        self.drying.append(span)

    def _shut(self, i: int) -> list[tuple[int, int]]:
        out, at = [], 0
        for a, b in self.hours[i]:
            if a > at:
                out.append((at, a))
            at = b
        return [*out, (at, self.slots + SLOTS)]

    def _ready(self, j: int, k: int, rows: Rows) -> list[tuple[Any, Any]]:
        """When a wait is over, by the day it began on: pairs of what makes it so (None: always) and the slot."""
        step = self.p.jobs[j].steps[k]
        if step.after is None:
            day = step.since_min // DAY
            return [(None, -(-(step.since_min + _at(rows, day)) // GRID))]
        end = self.end[j, step.after]
        if len({m for _, m in rows}) == 1:
            return [(None, end + -(-rows[0][1] // GRID))]
        out = []
        for n, (since, minutes) in enumerate(rows):
            low = 0 if n == 0 else since * SLOTS
            high = rows[n + 1][0] * SLOTS - 1 if n + 1 < len(rows) else self.slots
            if high < 0 or low > self.slots:
                continue
            here = self._bool()
            self.m.AddLinearConstraint(end, max(low, 0), high).OnlyEnforceIf(here)
            out.append((here, end + -(-minutes // GRID)))
        self.m.AddExactlyOne([h for h, _ in out])
        return out

    def _wait(self, j: int, k: int, step: Step) -> None:
        m, start = self.m, self.starts[j, k][0]
        warm = self._bool() if step.cabinet_wait_min is not None and self.p.cabinet_places else None
        for here, ready in self._ready(j, k, step.wait_min):
            rule = m.Add(start >= ready)
            conditions = [c for c in (here, None if warm is None else warm.Not()) if c is not None]
            if conditions:
                rule.OnlyEnforceIf(conditions)
        begins = [start]
        if warm is not None and step.cabinet_wait_min is not None:
            self.warm[j, k] = warm
            self._stay(j, k, step, warm)
        if step.shuts_min is not None:
            late = self._bool() if step.scuff is not None else None
            for here, shuts in self._ready(j, k, tuple((d, v // GRID * GRID) for d, v in step.shuts_min)):
                rule = m.Add(start <= shuts)
                conditions = [c for c in (here, None if late is None else late.Not()) if c is not None]
                if conditions:
                    rule.OnlyEnforceIf(conditions)
            if late is not None:
                begins.append(self._scuff(j, k, step, late))
        for need in step.needs:
            for begin in begins:
                m.Add(begin >= self.end[j, need])

    def _stay(self, j: int, k: int, step: Step, warm: Any) -> None:
        m = self.m
        assert step.cabinet_wait_min is not None
        start = self.starts[j, k][0]
        wet = 0
        if step.after is None:
            begin: Any = max(step.since_min // GRID, self.now)
        else:
            begin = self.end[j, step.after]
            before = self.p.jobs[j].steps[step.after]
            wet = -(-before.wet_min // GRID) if before.sprayed else 0
        until = m.NewIntVar(self.now, self.slots, "")
        for here, ready in self._ready(j, k, step.cabinet_wait_min):
            conditions = [warm] if here is None else [warm, here]
            m.Add(until == ready).OnlyEnforceIf(conditions)
        m.Add(start >= until).OnlyEnforceIf(warm)
        long = m.NewIntVar(0, self.slots, "")
        self.stays.append(m.NewOptionalIntervalVar(begin, long, until, warm, ""))
        inner, dry = m.NewIntVar(0, self.slots, ""), m.NewIntVar(0, self.slots + wet, "")
        m.Add(dry == begin + wet)
        self.place[j].append(m.NewOptionalIntervalVar(dry, inner, until, warm, ""))

    def _scuff(self, j: int, k: int, step: Step, late: Any) -> Any:
        """A scuff before the coat; when it begins, or when the coat does where there is none."""
        m, scuff, start = self.m, step.scuff, self.starts[j, k][0]
        assert scuff is not None
        long, good = scuff.hands_min // GRID, scuff.good_min // GRID
        at = m.NewIntVar(self.now, self.slots, "")
        wait = -(-scuff.wait_min // GRID)
        ready: Any = -(-(step.since_min + scuff.wait_min) // GRID)
        if step.after is not None:
            ready = self.end[j, step.after] + wait
        m.Add(at >= ready).OnlyEnforceIf(late)
        m.Add(start >= at + long).OnlyEnforceIf(late)
        m.Add(start <= at + long + good).OnlyEnforceIf(late)
        m.Add(at == start).OnlyEnforceIf(late.Not())
        who: dict[int, Any] = {}
        if long:
            for i in range(len(self.p.people)):
                who[i] = self._bool()
                self._held(i, at, long, who[i])
            m.Add(sum(who.values()) == 1).OnlyEnforceIf(late)
            m.Add(sum(who.values()) == 0).OnlyEnforceIf(late.Not())
            self.place[j].append(m.NewOptionalFixedSizeIntervalVar(at, long, late, ""))
        self.scuffs[j, k] = late, at, who
        return at

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
        fresh = [active for (name, day), (active, *_) in self.sittings.items() if not self._is_loaded(name, day)]
        cost = self.p.setup_worth_days * sum(fresh) + sum(days)
        return {"late_days": sum(late), "cost": cost, "moved": self._moved()}

    def _is_loaded(self, name: str, day: int) -> bool:
        opened = self.p.open_session
        return opened is not None and opened.material == name and opened.since_min // DAY == day

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
            low, high = -(-(at - 15) // GRID), (at + 15) // GRID
            m.AddLinearConstraint(self.starts[key][0], low, high).OnlyEnforceIf(moved.Not())
            m.Add(self.who[key][who] == 1).OnlyEnforceIf(moved.Not())
        return sum(off)

    def hint(self, plan: Plan) -> None:
        """A whole plan to begin from."""
        m = self.m
        for key, placed in plan.placed.items():
            if key[0] not in self.free:
                continue
            for var, t in zip(self.starts[key], placed.starts_min, strict=True):
                m.AddHint(var, t // GRID)
            who = self.names[placed.who]
            for i, present in self.who[key].items():
                m.AddHint(present, int(i == who))
            for day, here in self.on_day.get(key, {}).items():
                m.AddHint(here, int(day == placed.starts_min[0] // DAY))
            if key in self.warm:
                m.AddHint(self.warm[key], int(placed.cabinet))
            if key in self.scuffs:
                late, at, hands = self.scuffs[key]
                m.AddHint(late, int(placed.scuff_min is not None))
                m.AddHint(at, (placed.starts_min[0] if placed.scuff_min is None else placed.scuff_min) // GRID)
                scuffer = self.names.get(placed.scuff_who or "")
                for i, mine in hands.items():
                    m.AddHint(mine, int(i == scuffer))
        sessions = {(s.material, s.day): s for s in plan.sessions}
        for where, (active, hands, first, last) in self.sittings.items():
            session = sessions.get(where)
            if self._is_loaded(*where):
                continue
            m.AddHint(active, int(session is not None))
            for i, mine in hands.items():
                m.AddHint(mine, int(session is not None and self.names[session.who] == i))
            if session is not None:
                m.AddHint(first, session.from_min // GRID)
                m.AddHint(last, session.to_min // GRID)

    def read(self, solver: Any) -> Plan:
        """The plan the solver found."""
        names = [p.name for p in self.p.people]
        placed: dict[tuple[int, int], Placed] = dict(self.base.placed) if self.base is not None else {}
        for key, starts in self.starts.items():
            who = next(i for i, present in self.who[key].items() if solver.Value(present))
            scuff_min = scuff_who = None
            if key in self.scuffs:
                late, at, hands = self.scuffs[key]
                if solver.Value(late):
                    scuff_min = solver.Value(at) * GRID
                    scuff_who = next((names[i] for i, mine in hands.items() if solver.Value(mine)), None)
            placed[key] = Placed(
                who=names[who], starts_min=tuple(solver.Value(t) * GRID for t in starts), scuff_min=scuff_min,
                scuff_who=scuff_who, cabinet=bool(key in self.warm and solver.Value(self.warm[key])),
            )  # fmt: skip
        sessions = []
        for (name, day), (active, hands, first, last) in self.sittings.items():
            if solver.Value(active):
                who = next(i for i, mine in hands.items() if solver.Value(mine))
                sessions.append(
                    Session(material=name, who=names[who], from_min=solver.Value(first) * GRID,
                            to_min=solver.Value(last) * GRID, loaded=self._is_loaded(name, day))
                )  # fmt: skip
        return Plan(placed=placed, sessions=tuple(sorted(sessions, key=lambda s: s.from_min)))


def _at(rows: Rows, day: int) -> int:
    here = [m for since, m in rows if since <= day]
    return here[-1] if here else rows[0][1]
