"""How the record and the shop's plan speak of a step: by the id of its stage, which never changes, and a number in it.

A stage is put in, moved, renamed or cut in two for a repair, and a pin stays on its step. Coats cut in two keep one id
and are counted along through both halves.
"""

import re
from collections.abc import Sequence

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.core.method.steps import Stage

MARK = "#"
DONE = "done"
NUMBER = r"\d{1,3}[sl]?|done"
BY_PLACE = re.compile(rf"(\d{{1,3}})\.({NUMBER})")  # as it was written before stages had ids of their own
SLOT = re.compile(rf".+{MARK}({NUMBER})", re.DOTALL)


def named(stages: Sequence[Stage]) -> tuple[Stage, ...]:
    """The stages, each with an id of its own: what has none is known by its name, the second of a name by a number
    more.

    >>> [s.id for s in named([Stage(kind="scuff", label="Scuff"), Stage(kind="scuff", label="Scuff")])]
    ['Scuff', 'Scuff~2']
    """
    taken = {s.id for s in stages if s.id}
    out = []
    for stage in stages:
        if stage.id:
            out.append(stage)
            continue
        name, n = stage.label, 1
        while name in taken:
            n += 1
            name = f"{stage.label}~{n}"
        taken.add(name)
        out.append(replace(stage, id=name))
    return tuple(out)


def need_own_ids(stages: Sequence[Stage]) -> None:
    """Raise InputError at a step whose id another has already; the halves of coats cut in two share theirs."""
    first: dict[str, int] = {}
    for i, stage in enumerate(stages):
        n = first.setdefault(stage.id, i) if stage.id else i
        halves = stage.kind == stages[n].kind == "coats"
        need(n == i or halves, f"stage[{i}].id", f"{stage.id} is the id of step {n + 1} already")


def starts(stages: Sequence[Stage]) -> tuple[tuple[str, int], ...]:
    """Of each stage its id, and how many coats with the same one come before it."""
    before: dict[str, int] = {}
    out = []
    for stage in named(stages):
        out.append((stage.id, before.get(stage.id, 0)))
        if stage.kind == "coats":
            before[stage.id] = before.get(stage.id, 0) + stage.count
    return tuple(out)


def slot(start: tuple[str, int], number: int | str, what: str = "") -> str:
    """The name of a step of a stage. start: of it, as `starts` has it; number: which of its coats or pieces, or done;
    what: s for a scuff before it, l for light after it.

    >>> slot(("Build", 3), 2), slot(("Level sand", 0), "done")
    ('Build#5', 'Level sand#done')
    """
    stage, before = start
    return f"{stage}{MARK}{number + before if isinstance(number, int) else number}{what}"


def parts(name: str) -> tuple[str, str]:
    """The id of the stage, and the rest.

    >>> parts("Build#5")
    ('Build', '5')
    """
    stage, _, number = name.rpartition(MARK)
    return stage, number


def place_of(stages: Sequence[Stage], name: str) -> int | None:
    """Where the stage of a step stands now; None: it is in the plan no more."""
    stage, number = parts(name)
    digits = number.rstrip("sl")
    found = None
    for i, (mine, before) in enumerate(starts(stages)):
        if mine == stage and (found is None or (digits.isdigit() and int(digits) > before)):
            found = i
    return found


def as_now(stages: Sequence[Stage], name: str) -> str:
    """A step as it is known by now, of one that was written by the place it had in these stages; any other as it is."""
    old = BY_PLACE.fullmatch(name)
    if old is None or int(old[1]) >= len(stages):
        return name
    digits = old[2].rstrip("sl")
    number: int | str = int(digits) if digits.isdigit() else old[2]
    return slot(starts(stages)[int(old[1])], number, old[2][len(digits) :] if digits.isdigit() else "")
