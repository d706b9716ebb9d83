"""The shop's plan as one instrument sees it: when hands are on each piece of its work, in its own hours."""

from __future__ import annotations

from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import Held
from ravden.core.schedule.jobs import Left, Wall
from ravden.core.schedule.problem import Placed, end_of

NEAR_H = 0.1  # the plan's grid is of five minutes


def held_of(left: Left, placed: tuple[Placed, ...], wall: Wall) -> Held:
    """Where the plan has hands on an instrument. placed: its steps in the plan, in their order."""
    out: dict[str, tuple[float, float]] = {}

    def put(name: str, minute: int, minutes: int) -> None:
        at_h = wall.hour(minute)
        out[name] = (at_h, at_h + minutes / 60.0)

    for step, what, at in zip(left.job.steps, left.what, placed, strict=True):
        for nth, minute in enumerate(at.starts_min):
            if step.sprayed:
                put(f"{what.place}.{what.nth + nth}", minute, step.coat_min)
            else:
                put(step.id, minute, step.hands_min)
        if at.scuff_min is not None and step.scuff is not None:
            put(f"{step.id}s", at.scuff_min, step.scuff.hands_min)
    return out


def opens_min(left: Left, placed: tuple[Placed, ...]) -> tuple[int, ...]:
    """From when on each step may be done, the others being where a plan has them [min]."""
    ends = [end_of(step, at) for step, at in zip(left.job.steps, placed, strict=True)]
    out = []
    for step in left.job.steps:
        begins = step.since_min if step.after is None else ends[step.after]
        out.append(max(begins + step.wait_min[0][1], *(ends[n] for n in step.needs), 0))
    return tuple(out)


def same(one: Held, other: Held) -> bool:
    """Whether two plans have hands on an instrument at the same hours."""
    return one.keys() == other.keys() and all(abs(one[k][0] - other[k][0]) < NEAR_H for k in one)


def kept_to(found: Outlook) -> bool:
    """Whether an outlook has every coat and every piece of work where the plan it was dated by has it: else its film
    does not bear it by then."""
    begun = {h for s in (*found.forward.steps, *found.forward.between) for h, _ in s.hands}
    own = [h for name, (h, _) in found.held.items() if not name.endswith(("s", "l", "done")) and h > found.now_h]
    return all(any(abs(h - at) < NEAR_H for at in begun) for h in own)
