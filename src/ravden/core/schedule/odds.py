"""How often a plan keeps its promises, when waits, days and hands come otherwise than reckoned: every step in its
order, as soon as it can be after it was planned, without anybody thinking anew."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ravden.core.schedule.problem import DAY, GRID, Placed, Plan, Problem, Step, at_day
from ravden.core.schedule.strips import SLOTS

Slots = NDArray[np.int64]
LONG_WAIT_MIN = 12 * 60  # shorter waits hold
ALIKE = 0.7  # [A] how much the waits of one instrument come out alike
LEAST_HANDS = 0.7
MORE_DAYS = 120  # past the horizon that a sample may run to
SICK_TRIES = 6


class Draw(Struct, frozen=True, kw_only=True):
    """How it is drawn: how often somebody is ill on a day, how much hands vary."""

    samples: int = 2000
    seed: int = 1
    sick_odds: float = 0.015
    hand_sd: float = 0.15


def odds(problem: Problem, plan: Plan, draw: Draw | None = None) -> dict[int, float]:
    """The odds of each promise, by number of job."""
    ends = sampled_ends(problem, plan, draw or Draw())
    return {
        j: float(np.mean(ends[j] * GRID <= job.promised_min)) for j, job in enumerate(problem.jobs)
        if job.promised_min is not None and job.steps
    }  # fmt: skip


def sampled_ends(problem: Problem, plan: Plan, draw: Draw) -> dict[int, Slots]:
    """When each job is over in each sample [slots]."""
    return _Replay(problem, plan, draw).run()


class _Replay:
    def __init__(self, problem: Problem, plan: Plan, draw: Draw) -> None:
        self.p, self.plan, self.draw = problem, plan, draw
        self.n, self.dice = draw.samples, np.random.default_rng(draw.seed)
        self.slots = (problem.horizon_days + MORE_DAYS) * SLOTS
        self.names = {p.name: i for i, p in enumerate(problem.people)}
        self.there = [self._there(i) for i in range(len(problem.people))]
        days = self.slots // SLOTS + 1
        self.sick = self.dice.random((len(problem.people), self.n, days)) < draw.sick_odds
        self.bad = {
            name: self._bad(name, paint.bad_odds, days)
            for name, paint in sorted(problem.materials.items())
            if paint.bad_odds > 0
        }
        self._fits: dict[tuple[int, int, str], Slots] = {}
        self.free = [np.zeros(self.n, dtype=np.int64) for _ in problem.people]
        self.ends: dict[tuple[int, int], Slots] = {}

    def _there(self, i: int) -> NDArray[np.bool_]:
        """When somebody works, past the horizon as in any week."""
        person, out = self.p.people[i], np.zeros(self.slots, dtype=bool)
        for a, b in self.p.hours(person):
            out[a // GRID : b // GRID] = True
        for day in range(self.p.horizon_days, self.slots // SLOTS):
            for a, b in person.week[(day + self.p.first_weekday) % 7]:
                out[day * SLOTS + a // GRID : day * SLOTS + b // GRID] = True
        return out

    def _bad(self, name: str, often: float, days: int) -> NDArray[np.bool_]:
        """Bad days of a material: what the forecast has is left as it is told."""
        told = max((b for _, b in self.p.materials[name].no_spray), default=self.p.now_min) // DAY
        out = self.dice.random((self.n, days)) < often
        out[:, : told + 1] = False
        return out

    def _next(self, i: int, long: int, material: str) -> Slots:
        """By slot, the first from which so many are worked in one go (and the air bears it)."""
        key = i, long, material
        if key not in self._fits:
            shut = ~self.there[i]
            if material:
                for a, b in self.p.materials[material].no_spray:
                    shut[max(a // GRID, 0) : max(-(-b // GRID), 0)] = True
            before = np.concatenate(([0], np.cumsum(shut)))
            good = np.zeros(self.slots + 1, dtype=bool)
            last = self.slots - max(long, 1)
            good[:last] = before[max(long, 1) : max(long, 1) + last] == before[:last]
            at = np.where(good, np.arange(self.slots + 1), self.slots)
            self._fits[key] = np.minimum.accumulate(at[::-1])[::-1].astype(np.int64)
        return self._fits[key]

    def _start(self, i: int, long: int, ready: Slots, material: str = "") -> Slots:
        """The first start from ready on: hands there, not ill, the air good."""
        fits, at = self._next(i, long, material), np.minimum(ready, self.slots)
        rows = np.arange(self.n)
        for _ in range(SICK_TRIES):
            at = fits[at]
            day = np.minimum(at // SLOTS, self.sick.shape[2] - 1)
            off = self.sick[i, rows, day]
            if material in self.bad:
                off = off | self.bad[material][rows, day]
            if not off.any():
                break
            at = np.where(off, np.minimum((day + 1) * SLOTS, self.slots), at)
        return np.asarray(fits[at])

    def run(self) -> dict[int, Slots]:
        order = sorted(self.plan.placed, key=lambda key: (self.plan.placed[key].starts_min[0], key))
        shared = {j: self.dice.standard_normal(self.n) for j in range(len(self.p.jobs))}
        for j, k in order:
            step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
            self._do(j, k, step, placed, shared[j])
        out: dict[int, Slots] = {}
        for j, job in enumerate(self.p.jobs):
            if job.steps:
                out[j] = np.stack([self.ends[j, k] for k in range(len(job.steps))]).max(axis=0)
        return out

    def _do(self, j: int, k: int, step: Step, placed: Placed, shared: NDArray[np.float64]) -> None:
        who = self.names[placed.who]
        before = (
            np.full(self.n, step.since_min / GRID) if step.after is None else self.ends[j, step.after].astype(float)
        )
        rows = step.cabinet_wait_min if placed.cabinet and step.cabinet_wait_min is not None else step.wait_min
        planned_before = step.since_min if step.after is None else int(self.plan.placed[j, step.after].starts_min[-1])
        wait = at_day(rows, planned_before // DAY)
        factor = np.ones(self.n)
        own = self.dice.standard_normal(self.n)
        if wait >= LONG_WAIT_MIN and step.wait_sd > 0:
            factor = np.exp(step.wait_sd * (np.sqrt(ALIKE) * shared + np.sqrt(1 - ALIKE) * own))
        ready = np.ceil(before + wait * factor / GRID)
        for need in step.needs:
            ready = np.maximum(ready, self.ends[j, need])
        start = np.maximum(np.maximum(ready, placed.starts_min[0] / GRID), self.p.now_min / GRID).astype(np.int64)
        if step.shuts_min is not None and step.scuff is not None:
            shuts = before + at_day(step.shuts_min, planned_before // DAY) / GRID
            late = start > shuts
            scuffed = np.ceil(before + (step.scuff.wait_min + step.scuff.hands_min) / GRID).astype(np.int64)
            start = np.where(late, np.maximum(start, scuffed), start)
        if not step.sprayed:
            noise = np.maximum(1 + self.draw.hand_sd * self.dice.standard_normal(self.n), LEAST_HANDS)
            hands = step.hands_min // GRID
            at = self._start(who, hands, np.maximum(start, self.free[who]))
            end = at + np.ceil(hands * noise).astype(np.int64) if self.draw.hand_sd > 0 else at + hands
            self.free[who] = np.maximum(self.free[who], end)
        else:
            # Between its coats hands are free for others: what they cost is the coats themselves.
            whole = (placed.starts_min[-1] - placed.starts_min[0] + step.coat_min) // GRID
            held = np.maximum(start, np.where(start > placed.starts_min[0] // GRID, self.free[who], 0))
            at = self._start(who, whole, held, step.material)
            end = at + whole
            moved = at > placed.starts_min[0] // GRID
            self.free[who] = np.maximum(self.free[who], np.where(moved, end, at + step.coat_min // GRID))
        self.ends[j, k] = end
