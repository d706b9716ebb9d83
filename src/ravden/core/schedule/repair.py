"""A plan that something came between: what cannot stand is put elsewhere, everything else stays."""

from __future__ import annotations

from ravden.core.schedule.board import Board
from ravden.core.schedule.problem import Placed, Plan, Problem, at_day, end_of

PASSES, JOIN_DAYS = 60, 2


def before_plan(problem: Problem) -> dict[tuple[int, int], Placed]:
    """The plan before, as far as it was told."""
    out = {}
    for (j, k), was in problem.previous.items():
        step = problem.jobs[j].steps[k]
        if len(was.starts_min) == max(step.coats, 1):
            out[j, k] = Placed(who=was.who, starts_min=was.starts_min, cabinet=was.cabinet)
    return out


def cannot_stand(problem: Problem) -> set[tuple[int, int]]:
    """Steps of the plan before that cannot be done as they stood."""
    board = Board(problem)
    return _book(board, before_plan(problem), set())


def keep(problem: Problem) -> Plan | None:
    """The plan before with as little changed as a first try can; None where a step finds no place."""
    old = before_plan(problem)
    broken: set[tuple[int, int]] = set()
    for _ in range(PASSES):
        board = Board(problem)
        fell = _book(board, old, broken)
        if fell - broken and any(key in board.placed for key in fell):
            broken |= fell  # coats whose session cannot be: once more without them
            continue
        broken |= fell
        stuck, more = _place(board, problem, old, broken)
        if stuck:
            # One that found no place between the others takes those of its own instrument with it.
            more = {(j, k) for j, k in old if j in {s[0] for s in stuck}} - broken
            if not more:
                more = {key for key in old if key not in broken}
                if not more:
                    return None
        if not more:
            return board.plan()
        broken |= more
    return None


def _book(board: Board, old: dict[tuple[int, int], Placed], broken: set[tuple[int, int]]) -> set[tuple[int, int]]:
    """Put what may stand where it stood, in the order of the days; what may not is left as a ghost that takes no room,
    so that what follows it is judged by where it was."""
    fell: set[tuple[int, int]] = set()
    board.clean_later()

    def turn(key: tuple[int, int]) -> tuple[int, int, tuple[int, int]]:
        # Coats that want a scuff come last: the others know where they stand.
        step = board.problem.jobs[key[0]].steps[key[1]]
        return int(step.sprayed) + _missed(board.problem, old, key), old[key].starts_min[0], key

    for key in sorted(old, key=turn):
        placed, (j, k) = old[key], key
        step = board.problem.jobs[j].steps[k]
        ghosts = [n for n in (step.after, *step.needs) if n is not None and (j, n) not in board.placed]
        if any((j, n) not in old for n in ghosts):
            fell.add(key)
            continue
        at = board.mark()
        for n in ghosts:
            board.placed[j, n] = old[j, n]
        held = board.hold_coats(j, k, placed) if step.sprayed else board.put(j, k, held=placed)
        good = key not in broken and held
        if good and board.placed[key].who == placed.who and board.placed[key].starts_min[0] == placed.starts_min[0]:
            for n in ghosts:
                board.placed.pop((j, n), None)
            continue
        board.back(at)
        fell.add(key)
    return fell | board.seat_held()


def _missed(problem: Problem, old: dict[tuple[int, int], Placed], key: tuple[int, int]) -> int:
    """1 where a coat stood after its window."""
    step = problem.jobs[key[0]].steps[key[1]]
    if step.shuts_min is None or (step.after is not None and (key[0], step.after) not in old):
        return 0
    before = step.since_min
    if step.after is not None:
        before = end_of(problem.jobs[key[0]].steps[step.after], old[key[0], step.after])
    return int(old[key].starts_min[0] > before + at_day(step.shuts_min, before // 1440))


def _place(
    board: Board, problem: Problem, old: dict[tuple[int, int], Placed], broken: set[tuple[int, int]]
) -> tuple[set[tuple[int, int]], set[tuple[int, int]]]:
    """Place what is not on the board; what found no place, and what stands too soon or too late after it."""
    stuck: set[tuple[int, int]] = set()
    more: set[tuple[int, int]] = set()
    todo = [(j, k) for j, job in enumerate(problem.jobs) for k in range(len(job.steps)) if (j, k) not in board.placed]
    far = problem.end_min
    todo.sort(key=lambda key: (old[key].starts_min[0] if key in old else far, key))
    for j, k in sorted(todo, key=lambda key: (_rank(problem, key[0]), key[1])):
        step = problem.jobs[j].steps[k]
        if any((j, n) not in board.placed for n in (step.after, *step.needs) if n is not None):
            stuck.add((j, k))
            continue
        if not board.put(j, k, join_days=JOIN_DAYS):
            stuck.add((j, k))
    for j, k in set(board.placed) - set(todo):
        step = problem.jobs[j].steps[k]
        named = [n for n in (step.after, *step.needs) if n is not None]
        if any((j, n) in todo for n in named) and not _holds(board, j, k):
            more.add((j, k))
    return stuck, more


def _rank(problem: Problem, j: int) -> tuple[int, int]:
    job = problem.jobs[j]
    return (job.promised_min if job.promised_min is not None else problem.end_min * 2, j)


def _holds(board: Board, j: int, k: int) -> bool:
    """Whether a step that stayed still keeps to the step it waits for."""
    step, placed = board.problem.jobs[j].steps[k], board.placed[j, k]
    if any((j, n) not in board.placed for n in (step.after, *step.needs) if n is not None):
        return False
    before = board.before(j, k)
    first = placed.starts_min[0]
    begins = first if placed.scuff_min is None else min(first, placed.scuff_min)
    rows = step.cabinet_wait_min if placed.cabinet and step.cabinet_wait_min is not None else step.wait_min
    if placed.cabinet:
        return False  # its stay began when the step before ended: it moves with it
    if first < before + at_day(rows, before // 1440):
        return False
    if any(begins < end_of(board.problem.jobs[j].steps[n], board.placed[j, n]) for n in step.needs):
        return False
    if placed.scuff_min is not None and step.scuff is not None:
        return placed.scuff_min >= before + step.scuff.wait_min
    return step.shuts_min is None or first <= before + at_day(step.shuts_min, before // 1440)
