"""A sanding that the bench refuses is in no plan: what is to come ends before it, with the reason."""

from dataclasses import replace

from ravden.core.abrasive.choice import instead
from ravden.core.abrasive.reasons import shortage
from ravden.core.abrasive.verdict import MEASURE, REFUSED
from ravden.core.ahead.dated import Forward
from ravden.core.fact import Fact
from ravden.core.method.steps import Method
from ravden.core.rubout.aim import SANDED
from ravden.core.rubout.rub_out import RubOut


def refusal(rub: RubOut) -> Fact | None:
    """Why a ladder is not climbed, with what could be done instead; None: it is, or there is nothing to climb, or it is
    climbed already."""
    if rub.ladder is not None:
        short = rub.ladder.verdict.word == REFUSED
        return shortage(rub.job, rub.ladder, instead(rub.job, rub.drawer)) if short else None
    if rub.idle or rub.refusal is None or rub.refusal.code.startswith("reached"):
        return None
    return rub.refusal


def sanding_next(method: Method, index: int) -> int | None:
    """The stage of the next sanding of the whole, where no coats of the body come before it."""
    for place, stage in enumerate(method.stage):
        if place < index or stage.patch or stage.zones:
            continue
        if stage.kind == "coats":
            return None
        if stage.kind in SANDED:
            return place
    return None


def measured_first(method: Method, index: int, rub: RubOut) -> str:
    """The zone the film has to be measured on before the next sanding; empty: none, or coats come before it."""
    ladder = rub.ladder
    if ladder is None or ladder.verdict.word != MEASURE or sanding_next(method, index) is None:
        return ""
    return ladder.verdict.measure[0]


def as_borne(ahead: Forward, method: Method, index: int, rub: RubOut) -> Forward:
    """What is to come from stage ``index`` on, as far as the film bears it: where the ladder of the next sanding is
    refused on the film that is there, nothing from that sanding on has a day.

    While coats come before it the film is not there yet, and the plan stays: more may be laid.
    """
    place = None if ahead.stuck is not None else sanding_next(method, index)
    why = None if place is None else refusal(rub)
    if place is None or why is None:
        return ahead
    begins_h = min((s.from_h for s in ahead.steps if s.index >= place), default=ahead.finished_h or 0.0)
    waits = sum(method.stage[s.index].kind == "wait" for s in ahead.steps if s.index < place)
    return replace(
        ahead, stuck=place, refused=why, finished_h=None, windows=ahead.windows[:waits],
        steps=tuple(s for s in ahead.steps if s.index < place),
        between=tuple(s for s in ahead.between if s.index < place),
        coats=tuple(c for c in ahead.coats if c.at_h < begins_h),
        sandings=tuple(s for s in ahead.sandings if s.at_h < begins_h),
        light=tuple(e for e in ahead.light if e.at_h < begins_h),
    )  # fmt: skip
