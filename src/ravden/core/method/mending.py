"""The steps of a repair put into a plan: where the work stands, or with the next levelling, sharing what another repair
already has there."""

import re
from collections.abc import Mapping, Sequence

from msgspec.structs import replace

from ravden.core.method.steps import Progress, Stage

SANDED = ("level", "rub-out")
AGAIN = ("wait", "level", "rub-out")  # what a film that gets more coats goes through once more
BODY_COATS = ("overall", "mist")
SHARED = (
    "wait-scuff",
    "wait-level",
    "wait-buff",
    "overall",
    "mist",
    "again",
    "flat",
    "scuff",
)  # operations two repairs can do in one


def put_in(
    stages: Sequence[Stage], done: Progress, steps: Sequence[Stage], *, later: bool = False
) -> tuple[Stage, ...]:
    """A plan with a repair in it. done: where the plan stands; later: the repair goes with the next levelling.

    A stage of coats under way is cut in two. Where the film gets coats all over after its last wait was begun, the wait
    and the sanding since are done once more.
    """
    out, at = list(stages), done.index
    if later:
        at = next((i for i in range(at, len(out)) if out[i].kind in SANDED and not out[i].patch), _last(out, at))
    elif at < len(out) and out[at].kind == "coats" and done.coats_in_stage > 0:
        laid = done.coats_in_stage
        out[at : at + 1] = [replace(out[at], count=laid), replace(out[at], count=out[at].count - laid)]
        at += 1
    put = list(steps)
    if any(s.op in BODY_COATS for s in steps) and not _coats_to_come(out, at):
        put += _again(out, at, steps[0].mends)
    put = _not_there_yet(out, at, put)
    return (*out[:at], *put, *out[at:])


def _last(stages: Sequence[Stage], at: int) -> int:
    """Before the last wait and the refitting, where nothing is levelled any more."""
    end = len(stages)
    while end > at and stages[end - 1].kind in ("wait", "finish"):
        end -= 1
    return end


def _coats_to_come(stages: Sequence[Stage], at: int) -> bool:
    return any(s.kind == "coats" and not s.zones and not s.patch for s in stages[at:])


def _again(stages: Sequence[Stage], at: int, mends: int) -> list[Stage]:
    """The waits and sandings between the last coats and here."""
    since = max((i for i in range(at) if stages[i].kind == "coats" and not stages[i].zones), default=-1)
    mine = [s for s in stages[since + 1 : at] if s.kind in AGAIN and not s.patch and not s.zones]
    return [
        replace(s, label=s.label if s.label.endswith(", again") else f"{s.label}, again", mends=mends, op="again",
                id=f"mend-{mends}-again-{n}")
        for n, s in enumerate(mine)
    ]  # fmt: skip


def _not_there_yet(out: list[Stage], at: int, put: Sequence[Stage]) -> list[Stage]:
    """The steps that no other repair ahead has on the same patch; of coats that it has too, the greater number."""
    kept = []
    for step in put:
        same = None
        if step.op in SHARED and not step.spot:
            same = next((i for i in range(at, len(out)) if _alike(out[i], step)), None)
        if same is None:
            kept.append(step)
        elif step.kind == "coats" and step.count > out[same].count:
            out[same] = replace(out[same], count=step.count)
        elif step.um is not None and step.um > (out[same].um or 0.0):
            out[same] = replace(out[same], um=step.um)
    # What is left of a repair must not overtake what it shares: hands on the patch come first all the same.
    return kept


def _alike(there: Stage, step: Stage) -> bool:
    return (
        there.mends not in (0, step.mends) and there.op == step.op and there.patch == step.patch
        and there.window == step.window and there.finish == step.finish and not there.spot
    )  # fmt: skip


def rejoined(stages: Sequence[Stage], at: int) -> list[Stage]:
    """A plan in which coats cut in two for a repair that is no longer between them are one stage again. at: where it
    stands; what was done already stays as it is, but for the stage that is under way."""
    out: list[Stage] = []
    for i, stage in enumerate(stages):
        last = out[-1] if out else None
        halves = last is not None and last.kind == stage.kind == "coats" and replace(last, count=stage.count) == stage
        if halves and i >= at and last is not None:
            out[-1] = replace(last, count=last.count + stage.count)
        else:
            out.append(stage)
    return out


NUMBERED = re.compile(r"mend-(\d+)-")


def mend_renumbered(name: str, numbers: Mapping[int, int]) -> str:
    """The name of a repair's step in a journal where its defect has another number.

    >>> mend_renumbered("mend-4-0-clean", {4: 17}), mend_renumbered("Fill the pores", {4: 17})
    ('mend-17-0-clean', 'Fill the pores')
    """
    found = NUMBERED.match(name)
    if found is None:
        return name
    number = int(found[1])
    return f"mend-{numbers.get(number, number)}-{name[found.end() :]}"


def stage_renumbered(stage: Stage, numbers: Mapping[int, int]) -> Stage:
    """The same of a step itself."""
    if not stage.mends and not NUMBERED.match(stage.id):
        return stage
    return replace(stage, mends=numbers.get(stage.mends, stage.mends), id=mend_renumbered(stage.id, numbers))
