"""A plan at once: pinned work first, then by promise and weight, each step as soon as it can be."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from ravden.core.schedule.board import Board
from ravden.core.schedule.problem import Plan, Problem
from ravden.core.schedule.strips import SLOTS

WAITS_DAYS = 8  # that a run of coats is begun later rather than that a window in it is missed


class Found(Struct, frozen=True, kw_only=True):
    """A plan; stuck: the job and step that found no place, where there is none."""

    plan: Plan | None
    stuck: tuple[int, int] | None = None


def order_of(problem: Problem) -> list[int]:
    """Jobs in the order they are placed in."""
    far = problem.end_min * 4

    def rank(j: int) -> tuple[int, int, int, int]:
        job = problem.jobs[j]
        pinned = any(s.pin is not None for s in job.steps)
        return (0 if pinned else 1, 0 if job.firm else 1, job.promised_min if job.promised_min is not None else far,
                -job.weight)  # fmt: skip

    return sorted(range(len(problem.jobs)), key=rank)


def dispatch(problem: Problem, order: Sequence[int] | None = None, join_days: int = 0) -> Found:
    """Place every job on an empty board."""
    board = Board(problem)
    for j in order_of(problem) if order is None else order:
        stuck = place_job(board, j, join_days=join_days)
        if stuck is not None:
            return Found(plan=None, stuck=(j, stuck))
    return Found(plan=board.plan())


def place_job(board: Board, j: int, *, join_days: int = 0, cabinet: bool = True) -> int | None:
    """Place what is left of a job; the number of the step that found no place, None: all did."""
    steps = board.problem.jobs[j].steps
    k = 0
    while k < len(steps):
        if (j, k) in board.placed:
            k += 1
            continue
        linked = _linked(board, j, k)
        if len(linked) > 1:
            at = board.mark()
            if _run(board, j, linked, join_days, cabinet):
                k += 1
                continue
            board.back(at)
        if not board.put(j, k, join_days=join_days, cabinet=cabinet):
            return k
        k += 1
    return None


def _linked(board: Board, j: int, k: int) -> list[int]:
    """A step, and the coats that have to follow it within a window."""
    steps, out = board.problem.jobs[j].steps, [k]
    for n in range(k + 1, len(steps)):
        if steps[n].after == out[-1] and steps[n].shuts_min is not None and (j, n) not in board.placed:
            out.append(n)
    return out


def _run(board: Board, j: int, linked: list[int], join_days: int, cabinet: bool) -> bool:
    """A whole run without missing a window, begun some days later if it must be."""
    first = board.problem.jobs[j].steps[linked[0]]
    for later in range(WAITS_DAYS + 1):
        at = board.mark()
        not_before = 0 if not later else (board.now // SLOTS + later) * SLOTS
        if later:
            before = board.before(j, linked[0])
            not_before = (max(before // 5, board.now) // SLOTS + later) * SLOTS
        done = board.put(
            j,
            linked[0],
            join_days=join_days,
            cabinet=cabinet,
            scuffed=first.shuts_min is not None,
            not_before=not_before,
        )
        if done and all(board.put(j, n, join_days=join_days, cabinet=cabinet, scuffed=False) for n in linked[1:]):
            return True
        board.back(at)
        if not done and later:
            return False
    return False
