"""The steps of a shop as intervals: those that may move, with every rule they keep, and those that stay."""

from __future__ import annotations

import itertools
from typing import Any

from ravden.core.schedule.model_shop import Shop
from ravden.core.schedule.problem import DAY, GRID, Plan, Problem, Rows, Step, at_day, day_of, end_of
from ravden.core.schedule.strips import SLOTS


class Model(Shop):
    """The whole of it."""

    def __init__(self, problem: Problem, cp: Any, free: frozenset[int] | None = None, base: Plan | None = None) -> None:
        """free: jobs that may move, base: where the others stand; None: all may move."""
        super().__init__(problem, cp, free, base)
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
        self.aims = self._aims()

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
            a, b = max(before // GRID, self.now), -(-(before + at_day(step.cabinet_wait_min, before // DAY)) // GRID)
            if b > a:
                self.stays.append(m.NewFixedSizeIntervalVar(a, b - a, ""))
        if not step.sprayed:
            return
        end, wet = starts[-1] + long, -(-step.wet_min // GRID)
        self.drying.append(m.NewFixedSizeIntervalVar(starts[0], end + wet - starts[0], ""))
        paint, day = self.p.materials[step.material], day_of(placed.starts_min[0])
        active, hands, first, last = self.sittings[step.material, day]
        setup = 0 if self.is_loaded(step.material, day) else paint.setup_min // GRID
        m.Add(active == 1)
        m.Add(first + setup <= starts[0])
        m.Add(last - paint.clean_min // GRID >= end)
        m.Add(hands[who] == 1)

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
            setup = 0 if self.is_loaded(name, day) else paint.setup_min // GRID
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
            return [(None, -(-(step.since_min + at_day(rows, day)) // GRID))]
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
