"""How each step of a method stands on one instrument."""

from collections.abc import Sequence

from ravden.core.method.steps import Method, Progress, left
from ravden.core.record import Act, StepDone

DONE, SKIPPED, NEXT, PLANNED = "done", "skipped", "next", "planned"


def standing(method: Method, done: Progress, acts: Sequence[Act]) -> tuple[str, ...]:
    """done, skipped, next or planned, for every step in its order."""
    ahead = {i for i, _ in left(method, done)}
    passed = {a.step for a in acts if isinstance(a, StepDone) and a.skipped}
    out = []
    for i, stage in enumerate(method.stage):
        if i in ahead:
            out.append(NEXT if i == done.index else PLANNED)
        else:
            out.append(SKIPPED if stage.key in passed else DONE)
    return tuple(out)
