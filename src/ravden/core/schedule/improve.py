"""The search for a better plan: take out and put back, small exact models, the whole model for a few instruments."""

from __future__ import annotations

import random
import time
from collections.abc import Callable

from msgspec import Struct

from ravden.core.schedule import exact
from ravden.core.schedule.dispatch import dispatch, order_of
from ravden.core.schedule.problem import Plan, Problem, job_end, late_days
from ravden.core.schedule.renew import FRESH, Aim, Renewal, firm_missed

WHOLE_SECONDS, TURN_SECONDS, NEAR_SECONDS = 15.0, 1.0, 2.5
ROUND_TRIES, ROUND_TIME, WHOLE_TIME = 40, 0.5, 20.0  # of a round: tries, and the solver's own time
FEW, MANY = 2, 8
FIRST_ORDERS = 6


class Effort(Struct, frozen=True, kw_only=True):
    """How long: seconds, or rounds for the same answer each time."""

    seconds: float = 20.0
    rounds: int | None = None
    seed: int = 1


class Better(Struct, frozen=True, kw_only=True):
    """The best plan found, None where there is none; first: what it began with; proved: no plan is better; impossible:
    no plan keeps the firm promises; stuck: the job and step that found no place."""

    plan: Plan | None
    first: Plan | None = None
    proved: bool = False
    impossible: bool = False
    stuck: tuple[int, int] | None = None


Told = Callable[[float, Plan], None]


def first_plan(problem: Problem, aim: Aim = FRESH) -> tuple[Plan | None, tuple[int, int] | None]:
    """A plan at once: of a few orders the best."""
    best: Plan | None = None
    stuck: tuple[int, int] | None = None
    usual = order_of(problem)
    orders = [usual, sorted(usual, key=lambda j: -problem.jobs[j].weight), list(reversed(usual))]
    for n, order in enumerate(orders):
        found = dispatch(problem, order, join_days=2 if n == 2 else 0)
        if found.plan is None:
            stuck = stuck or found.stuck
        elif best is None or aim.key(problem, found.plan) < aim.key(problem, best):
            best = found.plan
    return best, None if best is not None else stuck


def improve(
    problem: Problem, aim: Aim = FRESH, effort: Effort | None = None, start: Plan | None = None,
    tell: Told = lambda _s, _p: None, go_on: Callable[[], bool] = lambda: True,
) -> Better:  # fmt: skip
    """The best plan there is time for. start: a plan to begin from as well; tell: of every better one."""
    effort = effort or Effort()
    began = time.monotonic()
    first, stuck = first_plan(problem, aim)
    begin = (
        first if start is None or (first is not None and aim.key(problem, first) < aim.key(problem, start)) else start
    )
    with_solver = exact.available() and any(job.steps for job in problem.jobs)
    if begin is None:
        if not with_solver or sum(bool(job.steps) for job in problem.jobs) > exact.MOST_JOBS:
            return Better(plan=None, stuck=stuck)
        whole = _whole(problem, aim, None, effort)
        return Better(plan=whole.plan, proved=whole.proved, impossible=whole.impossible, stuck=stuck)
    search = Renewal(problem, begin, aim, effort.seed)

    def told() -> None:
        tell(time.monotonic() - began, search.best)

    if with_solver and sum(bool(job.steps) for job in problem.jobs) <= exact.MOST_JOBS:
        search.turn(0.5, 2 * ROUND_TRIES, go_on)
        sound = None if firm_missed(problem, search.best) else search.best
        whole = _whole(problem, aim, sound, effort)
        if whole.plan is not None:
            search.offer(whole.plan)
        if whole.proved or whole.impossible:
            told()
            return Better(plan=search.best, first=first, proved=whole.proved, impossible=whole.impossible)
    near = _Near(problem, aim, effort.seed)
    if effort.rounds is not None:
        for n in range(effort.rounds):
            search.turn(1 - n / effort.rounds, ROUND_TRIES, go_on)
            if with_solver and go_on():
                near.turn(search, deterministic=ROUND_TIME)
        return Better(plan=search.best, first=first)
    while (gone := time.monotonic() - began) < effort.seconds and go_on():
        until, key = time.monotonic() + TURN_SECONDS, search.key
        while time.monotonic() < until and go_on():
            search.turn(max(1 - gone / effort.seconds, 0.0), 4)
        until = time.monotonic() + NEAR_SECONDS
        while with_solver and time.monotonic() < until and go_on() and time.monotonic() - began < effort.seconds:
            near.turn(search, seconds=0.8)
        if search.key < key:
            told()
    return Better(plan=search.best, first=first)


def _whole(problem: Problem, aim: Aim, start: Plan | None, effort: Effort) -> exact.Proof:
    own = None if effort.rounds is None else WHOLE_TIME
    return exact.solve(
        problem, aim.order, start, seconds=min(WHOLE_SECONDS, max(effort.seconds, 1.0)), seed=effort.seed,
        deterministic=own,
    )  # fmt: skip


class _Near:
    """Small exact models, as many instruments in each as can be proved in time."""

    def __init__(self, problem: Problem, aim: Aim, seed: int) -> None:
        self.problem, self.aim = problem, aim
        self._draw = random.Random(seed + 1)
        self._many, self._idle, self._open = 3, 0, 0

    def turn(self, search: Renewal, *, seconds: float = 0.8, deterministic: float | None = None) -> None:
        """One of them, on the best plan so far."""
        jobs = [j for j, job in enumerate(self.problem.jobs) if job.steps]
        late = [j for j in jobs if self._late(search.best, j)]
        many = min(self._many, len(jobs))
        picked = self._draw.sample(late, min(len(late), max(1, many // 2)))
        rest = [j for j in jobs if j not in picked]
        free = frozenset(picked + self._draw.sample(rest, min(many - len(picked), len(rest))))
        weights = {name: 10_000 ** (len(self.aim.order) - i - 1) for i, name in enumerate(self.aim.order)}
        found = exact.around(
            self.problem, search.best, free, weights, seconds=seconds, seed=self._draw.randint(1, 10**6),
            deterministic=deterministic,
        )  # fmt: skip
        before = search.key
        if found.plan is not None:
            search.offer(found.plan)
        self._idle = 0 if search.key < before else self._idle + 1
        self._open = 0 if found.proved else self._open + 1
        if self._idle >= 15 and self._many < MANY:
            self._many, self._idle = self._many + 1, 0
        if self._open >= 3 and self._many > FEW:
            self._many, self._open = self._many - 1, 0

    def _late(self, plan: Plan, j: int) -> int:
        job = self.problem.jobs[j]
        return late_days(job, job_end(self.problem, plan, j))
