"""How often a plan keeps its promises, when waits, days and hands come otherwise than reckoned: every step in its
order, as soon as it can be after it was planned, without anybody thinking anew."""

from __future__ import annotations

import functools
from hashlib import blake2b

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ravden.core.schedule.problem import DAY, GRID, Person, Placed, Plan, Problem, Step, at_day
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
    """When each job is over in each sample [slots]. Draws are known by the names of instruments, steps, people and
    finishes: what has the same name has the same luck in another plan."""
    # Imported here: the compiler costs a third of a second that the first paint must not pay.
    from ravden.core.schedule import _replay as kernel

    made = _Rows(problem, plan)
    out = np.zeros((draw.samples, len(problem.jobs)), dtype=np.int64)
    if made.keys:
        kernel.live_through(made.steps(), made.strips(), made.chances(draw), out)
    return {j: out[:, j] for j, job in enumerate(problem.jobs) if job.steps}


def warm_up() -> None:
    """Load or compile the kernel, so that the first real answer does not wait for it."""
    from ravden.core.schedule.problem import Job

    job = Job(id="one", steps=(Step(id="1", hands_min=GRID),), promised_min=DAY)
    shop = Problem(people=(Person(name="hands", week=(((0, DAY),),) * 7),), jobs=(job,))
    odds(shop, Plan(placed={(0, 0): Placed(who="hands", starts_min=(0,))}), Draw(samples=1))


class _Rows:
    """A plan as the rows of numbers its kernel reads; keys: its steps in the order they are begun."""

    def __init__(self, problem: Problem, plan: Plan) -> None:
        self.p, self.plan = problem, plan
        self.keys = sorted(plan.placed, key=lambda key: (plan.placed[key].starts_min[0], key))
        self.slots = (problem.horizon_days + MORE_DAYS) * SLOTS
        self.who = {p.name: i for i, p in enumerate(problem.people)}
        self.paints = sorted(problem.materials)
        self.tables: dict[tuple[int, str], int] = {}  # whose hours in which air, by whom and of what finish

    def steps(self) -> tuple[object, ...]:
        from ravden.core.schedule import _replay as kernel

        place = {key: i for i, key in enumerate(self.keys)}
        numbers, counts = np.zeros((len(self.keys), 5)), np.zeros((len(self.keys), 10), dtype=np.int64)
        needs: list[int] = []
        for i, (j, k) in enumerate(self.keys):
            step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
            numbers[i] = self._waits(j, step, placed)
            first = len(needs)
            needs += [place[j, n] for n in step.needs]
            long = step.hands_min // GRID
            if step.sprayed:
                long = (placed.starts_min[-1] - placed.starts_min[0] + step.coat_min) // GRID
            who = self.who[placed.who]
            counts[i] = (
                j, who, self.tables.setdefault((who, step.material), len(self.tables)),
                self.paints.index(step.material) if step.sprayed else -1,
                -1 if step.after is None else place[j, step.after], placed.starts_min[0] // GRID, long,
                step.coat_min // GRID, first, len(needs),
            )  # fmt: skip
        names = [f"{self.p.jobs[j].id}\0{self.p.jobs[j].steps[k].id}" for j, k in self.keys]
        return kernel.Steps(
            numbers=numbers, counts=counts, names=_hashed(names), job_names=_hashed([j.id for j in self.p.jobs]),
            needs=np.array(needs, dtype=np.int64),
        )  # fmt: skip

    def _waits(self, j: int, step: Step, placed: Placed) -> tuple[float, ...]:
        """A step's wait, its spread, since when, until when its window is open, and when a scuff opens it again."""
        rows = step.cabinet_wait_min if placed.cabinet and step.cabinet_wait_min is not None else step.wait_min
        before = step.since_min if step.after is None else int(self.plan.placed[j, step.after].starts_min[-1])
        wait, shuts, scuffed = at_day(rows, before // DAY), -1.0, 0.0
        if step.shuts_min is not None and step.scuff is not None:
            shuts = at_day(step.shuts_min, before // DAY) / GRID
            scuffed = (step.scuff.wait_min + step.scuff.hands_min) / GRID
        return wait / GRID, step.wait_sd if wait >= LONG_WAIT_MIN else 0.0, step.since_min / GRID, shuts, scuffed

    def strips(self) -> tuple[object, ...]:
        from ravden.core.schedule import _replay as kernel

        begins: list[int] = []
        ends: list[int] = []
        high = np.zeros(len(self.tables), dtype=np.int64)
        by_day = np.zeros((len(self.tables), self.slots // SLOTS + 1), dtype=np.int64)
        days = np.arange(by_day.shape[1]) * SLOTS
        for (who, material), table in self.tables.items():
            mine = self._stretches(who, material)
            by_day[table] = len(ends) + np.searchsorted([b for _, b in mine], days, side="right")
            begins += [a for a, _ in mine]
            ends += [b for _, b in mine]
            high[table] = len(ends)
        return kernel.Strips(
            begins=np.array(begins, dtype=np.int64), ends=np.array(ends, dtype=np.int64), by_day=by_day, high=high,
            last=self.slots,
        )  # fmt: skip

    def _stretches(self, who: int, material: str) -> list[tuple[int, int]]:
        """When somebody works, past the horizon as in any week, without the hours whose air a finish does not bear
        [slots]; stretches that touch are one."""
        person, there = self.p.people[who], np.zeros(self.slots, dtype=bool)
        for a, b in self.p.hours(person):
            there[a // GRID : b // GRID] = True
        for day in range(self.p.horizon_days, self.slots // SLOTS):
            for a, b in person.week[(day + self.p.first_weekday) % 7]:
                there[day * SLOTS + a // GRID : day * SLOTS + b // GRID] = True
        if material:
            for a, b in self.p.materials[material].no_spray:
                there[max(a // GRID, 0) : max(-(-b // GRID), 0)] = False
        edges = np.flatnonzero(np.diff(np.concatenate(([False], there, [False]))))
        return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]

    def chances(self, draw: Draw) -> tuple[object, ...]:
        from ravden.core.schedule import _replay as kernel

        paints = [self.p.materials[name] for name in self.paints]
        # What the forecast has is left as it is told.
        told = [max((b for _, b in paint.no_spray), default=self.p.now_min) // DAY for paint in paints]
        return kernel.Chances(
            people=_hashed([p.name for p in self.p.people]), paints=_hashed(self.paints),
            bad=np.array([p.bad_odds for p in paints]), told=np.array(told, dtype=np.int64),
            normal=_normal(kernel.QUANTILES), sick=float(draw.sick_odds), hand_sd=float(draw.hand_sd),
            least_hands=LEAST_HANDS, alike=ALIKE, tries=SICK_TRIES, now=self.p.now_min // GRID,
            seed=np.uint64(draw.seed),
        )  # fmt: skip


def _hashed(names: list[str]) -> NDArray[np.uint64]:
    return np.array([_number(name) for name in names], dtype=np.uint64)


@functools.lru_cache(maxsize=8192)
def _number(name: str) -> int:
    return int.from_bytes(blake2b(name.encode(), digest_size=8).digest(), "big")


@functools.cache
def _normal(parts: int) -> NDArray[np.float64]:
    """The middle of each of so many equal parts of the normal distribution."""
    from scipy.special import ndtri

    return np.asarray(ndtri((np.arange(parts) + 0.5) / parts))
