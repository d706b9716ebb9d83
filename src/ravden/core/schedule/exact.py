"""The whole shop as one model, for a few instruments: solved until no better plan can be, and said so.

The only module that imports OR-Tools, and only when it is asked.
"""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence

from msgspec import Struct

from ravden.core.schedule.model_plan import hint, read
from ravden.core.schedule.model_steps import Model
from ravden.core.schedule.problem import GRID, Plan, Problem

MOST_JOBS = 5  # larger shops find no plan in the time there is


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

    model = Model(problem, cp_model)
    found: Plan | None = None
    proved, until = True, time.monotonic() + seconds
    if start is not None:
        hint(model, start)
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
        found = read(model, solver)
        if i + 1 < len(order):
            model.m.Add(aim <= round(solver.ObjectiveValue()))
            model.m.ClearHints()
            hint(model, found)
    return Proof(plan=found, proved=proved)


def around(
    problem: Problem, base: Plan, free: frozenset[int], weights: Mapping[str, int], *, seconds: float = 0.8,
    seed: int = 1, deterministic: float | None = None,
) -> Proof:  # fmt: skip
    """A better plan with only these jobs moved, the others where they are. weights: of late_days, moved and cost in one
    number; proved: none of these moves is better."""
    from ortools.sat.python import cp_model

    model = Model(problem, cp_model, free, base)
    hint(model, base)
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
    return Proof(plan=read(model, solver), proved=status == cp_model.OPTIMAL)


class CutOffError(Exception):
    """The solver had no answer, neither a plan nor a proof that there is none, when its time was over."""


def earliest_end(problem: Problem, j: int, seconds: float = 5.0) -> int | None:
    """When a job alone could be over at the earliest [min]; None where it cannot be done.

    Raises CutOffError where the time did not do to find out which."""
    from msgspec.structs import replace
    from ortools.sat.python import cp_model

    job = replace(problem.jobs[j], firm=False)
    alone = replace(problem, jobs=(job,), previous={})
    model = Model(alone, cp_model)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_time_in_seconds = seconds
    model.m.Minimize(model.ends[0])
    status = solver.Solve(model.m)
    if status == cp_model.UNKNOWN:
        raise CutOffError
    return int(solver.Value(model.ends[0])) * GRID if status in (cp_model.OPTIMAL, cp_model.FEASIBLE) else None
