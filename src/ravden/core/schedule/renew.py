"""Makes a plan better by taking a few instruments out and putting them back another way."""

from __future__ import annotations

import random
from collections.abc import Callable

from msgspec import Struct

from ravden.core.schedule.board import Board
from ravden.core.schedule.dispatch import order_of, place_job
from ravden.core.schedule.problem import DAY, Figures, Plan, Problem, day_of, figures, job_end, late_days

LATE, MOVED = 40.0, 20.0  # what a late day and a moved step weigh against a day of cost
COST = 1.5
HOT = 12.0
BACK_TO_BEST = 400
MOST_OUT, JOIN_DAYS = 5, 10


class Aim(Struct, frozen=True, kw_only=True):
    """What is wanted first: late days, moved steps, cost; in this order."""

    order: tuple[str, ...] = ("late_days", "cost")

    def key(self, problem: Problem, plan: Plan) -> tuple[int, ...]:
        """A plan in numbers, the smaller the better; a firm promise that is missed comes before everything."""
        found = figures(problem, plan)
        return (firm_missed(problem, plan), *(getattr(found, name) for name in self.order))

    def weight(self, found: Figures) -> float:
        """One number for the search: what comes first weighs more."""
        late, moves = LATE, MOVED if "moved" in self.order else 0.0
        if self.order[0] == "moved":
            late, moves = MOVED / 2, LATE * 2
        return late * found.late_days + moves * found.moved + COST * found.cost


FRESH = Aim()
FEWEST_CHANGES = Aim(order=("moved", "late_days", "cost"))
FEWEST_LATE = Aim(order=("late_days", "moved", "cost"))
AIMS = {"fresh": FRESH, "fewest_changes": FEWEST_CHANGES, "fewest_late_days": FEWEST_LATE}


def firm_missed(problem: Problem, plan: Plan) -> int:
    """Days by which firm promises are missed."""
    total = 0
    for j, job in enumerate(problem.jobs):
        if job.firm and job.promised_min is not None and job.steps:
            total += max(0, -(-(job_end(problem, plan, j) - job.promised_min) // DAY))
    return total


class Renewal:
    """A search that can be gone on with; best: the plan so far, and its numbers."""

    def __init__(self, problem: Problem, start: Plan, aim: Aim, seed: int) -> None:
        self.problem, self.aim = problem, aim
        self._draw = random.Random(seed)
        self.best, self.key = start, aim.key(problem, start)
        self._now, self._weight = start, self._weigh(start)
        self._since = 0

    def _weigh(self, plan: Plan) -> float:
        return self.aim.weight(figures(self.problem, plan)) + 1000.0 * firm_missed(self.problem, plan)

    def offer(self, plan: Plan) -> None:
        """A plan found elsewhere: gone on from if it is better."""
        key = self.aim.key(self.problem, plan)
        if key < self.key:
            self.best, self.key = plan, key
            self._now, self._weight = plan, self._weigh(plan)

    def turn(self, left: float, times: int = 1, go_on: Callable[[], bool] = lambda: True) -> None:
        """So many tries; left: share of the time still to come, by which worse plans are put up with."""
        for _ in range(times):
            if not go_on():
                return
            self._try(left)

    def _try(self, left: float) -> None:
        out = self._out()
        if not out:
            return
        tried = self._without(out)
        self._since += 1
        if tried is None:
            return
        weight = self._weigh(tried)
        heat = HOT * left * left
        if weight <= self._weight or weight < self._weight + heat * self._draw.random():
            self._now, self._weight = tried, weight
            key = self.aim.key(self.problem, tried)
            if key < self.key:
                self.best, self.key, self._since = tried, key, 0
        if self._since >= BACK_TO_BEST:
            self._now, self._weight, self._since = self.best, self._weigh(self.best), 0

    def _out(self) -> list[int]:
        """Which jobs are taken out."""
        jobs = [j for j, job in enumerate(self.problem.jobs) if job.steps]
        many, draw = min(self._draw.randint(1, MOST_OUT), len(jobs)), self._draw.random()
        if not jobs:
            return []
        if draw < 0.35:
            return self._draw.sample(jobs, many)
        if draw < 0.70 and self._now.sessions:
            session = self._draw.choice(self._now.sessions)
            near = self._draw.choice((1, 3, 7))
            same = [j for j in jobs if self._sprays_near(j, session.material, session.day, near)]
            if same:
                return self._draw.sample(same, min(many, len(same)))
        late = [j for j in jobs if self._late(j)]
        picked = self._draw.sample(late, min(many, len(late))) if late else []
        rest = [j for j in jobs if j not in picked]
        return picked + self._draw.sample(rest, min(many - len(picked), len(rest)))

    def _sprays_near(self, j: int, material: str, day: int, near: int) -> bool:
        """Whether a job has a material sprayed within so many days."""
        return any(
            step.material == material and abs(day_of(self._now.placed[j, k].starts_min[0]) - day) <= near
            for k, step in enumerate(self.problem.jobs[j].steps) if step.sprayed
        )  # fmt: skip

    def _late(self, j: int) -> int:
        job = self.problem.jobs[j]
        return late_days(job, job_end(self.problem, self._now, j))

    def _without(self, out: list[int]) -> Plan | None:
        """The plan with these put back another way; None where one finds no place."""
        draw = self._draw
        board = Board(self.problem)
        kept = {key for key in self._now.placed if key[0] not in out}
        board.book(self._now, kept, self._now.sessions)
        how = draw.random()
        if how < 0.5:
            draw.shuffle(out)
        elif how < 0.75:
            rank = {j: i for i, j in enumerate(order_of(self.problem))}
            out.sort(key=rank.__getitem__)
        else:
            out.sort(key=lambda j: -self.problem.jobs[j].weight)
        join, cabinet = draw.randint(0, JOIN_DAYS), draw.random() >= 0.2
        for j in out:
            if place_job(board, j, join_days=join, cabinet=cabinet) is not None:
                return None
        return board.plan()


def trimmed(problem: Problem, plan: Plan) -> Plan:
    """The same without sessions that nobody needs."""
    used = {(problem.jobs[j].steps[k].material, day_of(p.starts_min[0])) for (j, k), p in plan.placed.items()}
    kept = tuple(s for s in plan.sessions if s.loaded or (s.material, s.day) in used)
    return Plan(placed=plan.placed, sessions=kept)
