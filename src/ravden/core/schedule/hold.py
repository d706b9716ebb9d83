"""The shop's plan as one instrument sees it: when hands are on each piece of its work, in its own hours."""

from __future__ import annotations

from msgspec.structs import replace

from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import Held
from ravden.core.ahead.warm import RH
from ravden.core.climate.series import Cabinet
from ravden.core.method.slots import DONE, MARK, parts, place_of, slot, starts
from ravden.core.schedule.jobs import Left, Wall
from ravden.core.schedule.problem import Placed, end_of

NEAR_H = 0.1  # the plan's grid is of five minutes
NEAR_STAY_H = 1.0


def held_of(left: Left, placed: tuple[Placed, ...], wall: Wall) -> Held:
    """Where the plan has hands on an instrument. placed: its steps in the plan, in their order."""
    out: dict[str, tuple[float, float]] = {}

    def put(name: str, minute: int, minutes: int) -> None:
        at_h = wall.hour(minute)
        out[name] = (at_h, at_h + minutes / 60.0)

    for step, what, at in zip(left.job.steps, left.what, placed, strict=True):
        if what.kind == "case":
            continue  # it is whenever its wait is over
        for nth, minute in enumerate(at.starts_min):
            if step.sprayed:
                stage, number = parts(step.id)
                put(f"{stage}{MARK}{int(number) + nth}", minute, step.coat_min)
            else:
                put(step.id, minute, step.hands_min)
        if at.scuff_min is not None and step.scuff is not None:
            put(f"{step.id}s", at.scuff_min, step.scuff.hands_min)
    return out


def stay_from(left: Left, found: Outlook, wall: Wall, temp_C: float) -> Cabinet | None:
    """The stay in the cabinet that an instrument could have, in its own plan; None: none that it could."""
    step = next((s for s in left.job.steps if s.cabinet_wait_min is not None), None)
    if step is None or step.cabinet_wait_min is None:
        return None
    body = [h for s in found.forward.steps for h, _ in s.hands if found.method.stage[s.index].kind == "coats"]
    begins = found.now_h if step.after is None else max([found.now_h, *body])
    return Cabinet(at_h=begins, hours=step.cabinet_wait_min[0][1] / 60.0, temp_C=temp_C, rh=RH)


def with_later(left: Left, warmed: Left | None) -> Left:
    """What is left with the waits after its stay in the cabinet as they are when it has stood there."""
    names = [s.id for s in left.job.steps]
    at = next((k for k, s in enumerate(left.job.steps) if s.cabinet_wait_min is not None), len(names))
    if warmed is None or [s.id for s in warmed.job.steps] != names:
        return left
    steps = (*left.job.steps[: at + 1], *warmed.job.steps[at + 1 :])
    likely = (*left.likely_min[: at + 1], *warmed.likely_min[at + 1 :])
    return replace(left, job=replace(left.job, steps=steps), likely_min=likely)


def stays_of(left: Left, placed: tuple[Placed, ...], wall: Wall, temp_C: float) -> tuple[Cabinet, ...]:
    """When the plan has an instrument in the warm cabinet."""
    ends = [end_of(step, at) for step, at in zip(left.job.steps, placed, strict=True)]
    out = []
    for step, at in zip(left.job.steps, placed, strict=True):
        if at.cabinet and step.cabinet_wait_min is not None:
            begins = step.since_min if step.after is None else ends[step.after]
            hours = step.cabinet_wait_min[0][1] / 60.0
            out.append(Cabinet(at_h=wall.hour(begins), hours=hours, temp_C=temp_C, rh=RH))
    return tuple(out)


def alike(one: tuple[Cabinet, ...], other: tuple[Cabinet, ...]) -> bool:
    """Whether two plans have an instrument in the cabinet at about the same hours."""
    return len(one) == len(other) and all(
        abs(a.at_h - b.at_h) < NEAR_STAY_H and abs(a.hours - b.hours) < max(NEAR_STAY_H, 0.03 * b.hours)
        for a, b in zip(one, other, strict=True)
    )


def opens_min(left: Left, placed: tuple[Placed, ...]) -> tuple[int, ...]:
    """From when on each step may be done, the others being where a plan has them [min]."""
    ends = [end_of(step, at) for step, at in zip(left.job.steps, placed, strict=True)]
    out = []
    for step, at in zip(left.job.steps, placed, strict=True):
        begins = step.since_min if step.after is None else ends[step.after]
        warm = at.cabinet and step.cabinet_wait_min is not None
        rows = step.cabinet_wait_min if warm and step.cabinet_wait_min is not None else step.wait_min
        out.append(max(begins + rows[0][1], *(ends[n] for n in step.needs), 0))
    return tuple(out)


def same(one: Held, other: Held) -> bool:
    """Whether an outlook that was dated by one plan has hands where another, later one has them: what the earlier has
    beside that is done by now."""
    if not one or not other:
        return not one and not other
    return all(k in one and abs(one[k][0] - at_h) < NEAR_H for k, (at_h, _) in other.items())


def kept_to(found: Outlook) -> bool:
    """Whether an outlook has every coat and every piece of work where the plan it was dated by has it: else its film
    does not bear it by then."""
    begun = {h for s in (*found.forward.steps, *found.forward.between) for h, _ in s.hands}
    own = [
        h for name, (h, _) in found.held.items()
        if parts(name)[1].isdigit() and h > found.now_h and not _laid(found, name)
    ]  # fmt: skip
    return all(any(abs(h - at) < NEAR_H for at in begun) for h in own)


def end_of_wait(found: Outlook) -> tuple[str, float] | None:
    """The step that is over with the last wait of the body, and when, as an outlook has it; None where it ends with
    work."""
    stages = found.method.stage
    body = [i for i, stage in enumerate(stages) if not stage.zones]
    if found.forward.finished_h is None or not body or stages[body[-1]].kind != "wait":
        return None
    return slot(starts(stages)[body[-1]], DONE), found.forward.finished_h


def _laid(found: Outlook, name: str) -> bool:
    """Whether a coat that a plan has in the hours to come was laid already, sooner than planned."""
    stages, done = found.method.stage, found.progress
    place, number = place_of(stages, name), parts(name)[1]
    if place is None or stages[place].zones:
        return False
    if place != done.index:
        return place < done.index
    return stages[place].kind == "coats" and int(number) <= starts(stages)[place][1] + done.coats_in_stage
