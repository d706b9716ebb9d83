"""The steps of the plan as marks under the timeline, those done and those to come. No Qt."""

from __future__ import annotations

from dataclasses import dataclass

from ravden.core.ahead.outlook import Outlook
from ravden.core.method.steps import WORK_KINDS, left
from ravden.core.record import Coat, StepDone

LEAST_H = 0.3  # how long a step is drawn at least


@dataclass(frozen=True, slots=True, kw_only=True)
class StepMark:
    """A step on the time axis: its place in the plan, name, kind, when hands begin and end [h], and whether it is still
    to come."""

    index: int
    label: str
    kind: str
    from_h: float
    to_h: float
    planned: bool


def step_marks(found: Outlook) -> tuple[StepMark, ...]:
    """Every step that has a time: what was ticked off, what was coated, and all that is planned."""
    stages = found.method.stage
    open_steps = dict(left(found.method, found.progress))
    out = []
    for act in found.project.acts:
        if isinstance(act, StepDone) and act.at_h <= found.now_h:
            at = next((i for i, s in enumerate(stages) if s.key == act.step), None)
            if at is not None and not act.skipped:
                hours = max(stages[at].hands_h, LEAST_H)
                out.append(StepMark(index=at, label=stages[at].label, kind=stages[at].kind, from_h=act.at_h - hours,
                                    to_h=act.at_h, planned=False))  # fmt: skip
    out += _coated(found)
    for step in found.forward.steps:
        stage = open_steps.get(step.index, stages[step.index])
        out.append(
            StepMark(index=step.index, label=stage.label, kind=stage.kind, from_h=step.from_h,
                     to_h=max(step.to_h, step.from_h + LEAST_H), planned=True)
        )  # fmt: skip
    return tuple(out)


def _coated(found: Outlook) -> list[StepMark]:
    """Stages of coats that have some: from their first coat to their last, taken in the order they were laid."""
    stages = found.method.stage
    laid: dict[str, list[float]] = {}
    for act in found.project.acts:
        if isinstance(act, Coat) and act.at_h <= found.now_h:
            laid.setdefault(act.finish, []).extend([act.at_h] * max(round(act.likely_count), 0))
    out = []
    for i, stage in enumerate(stages):
        if stage.kind == "coats" and (mine := laid.get(stage.finish, [])):
            now, laid[stage.finish] = mine[: stage.count], mine[stage.count :]
            out.append(StepMark(index=i, label=stage.label, kind="coats", from_h=now[0] - LEAST_H, to_h=now[-1],
                                planned=False))  # fmt: skip
    return out


def shows_work(mark: StepMark) -> bool:
    """Whether hands are on the work in it, so that it is drawn as a block and not as a line."""
    return mark.kind in (*WORK_KINDS, "coats", "scuff", "level", "rub-out")
