"""Hours of hands on an instrument: those that were, and those its whole plan had."""

from ravden.core.ahead.cuts import sanded
from ravden.core.ahead.outlook import Outlook
from ravden.core.method.steps import Stage, progress
from ravden.core.record import Coat, Sanding, StepDone

JUST_BEFORE_H = 1e-6


def done_h(found: Outlook) -> float:
    """Hours of hands by now: paper as it was timed, everything else as its step has it [h]."""
    project, method = found.project, found.method
    stages = {s.key: s for s in method.stage}
    total, timed, whole = 0.0, 0.0, False
    for act in sorted((a for a in project.acts if a.at_h <= found.now_h), key=lambda a: a.at_h):
        if isinstance(act, StepDone) and not act.skipped and act.step in stages:
            total += stages[act.step].hands_h
        elif isinstance(act, Coat):
            stage = _coated_in(found, act)
            total += 0.0 if stage is None else stage.hands_h * act.likely_count
        elif isinstance(act, Sanding):
            timed += act.minutes / 60.0
            whole = whole or act.minutes > 0
            if act.part:
                continue
            total += timed if whole else _planned_h(found, act)
            timed, whole = 0.0, False
    return total + timed


def _coated_in(found: Outlook, act: Coat) -> Stage | None:
    """The step a coat was laid in: the last of its finish that the record has come to with it; None: it is no part of
    the method."""
    method = found.method
    now = progress(method, found.project.acts, act.at_h, found.project.body)
    reached = now.index if now.coats_in_stage else now.index - 1
    of_it = [
        i for i, s in enumerate(method.stage)
        if s.kind == "coats" and s.finish == act.finish and not s.patch and bool(s.zones) <= (act.zones is not None)
    ]  # fmt: skip
    place = next((i for i in reversed(of_it) if i <= reached or method.stage[i].zones), of_it[0] if of_it else None)
    return None if place is None else method.stage[place]


def _planned_h(found: Outlook, act: Sanding) -> float:
    """What the plan has for a sanding that nobody timed."""
    method = found.method
    at = progress(method, found.project.acts, act.at_h - JUST_BEFORE_H, found.project.body).index
    here = (i for i, s in enumerate(method.stage) if i >= at and s.kind == act.purpose and not s.patch)
    place = next(here, None)
    return 0.0 if place is None else sanded(found.sands, method, place, method.stage[place])[1]


def planned_h(found: Outlook) -> float:
    """Hours of hands of its whole plan, from bare wood on [h]."""
    total = 0.0
    for place, stage in enumerate(found.method.stage):
        if stage.kind == "coats":
            total += stage.hands_h * stage.count
        elif stage.kind in ("scuff", "level", "rub-out"):
            total += sanded(found.sands, found.method, place, stage)[1]
        else:
            total += stage.hands_h
    return total
