"""What hands do next on an instrument, and when, in words; the Rack and the Film place both say it. No Qt."""

from __future__ import annotations

import math
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.session import ShopSession
from ravden.text import plan_words, wait_words, words
from ravden.text.plan_words import BETWEEN_LABEL

if TYPE_CHECKING:
    from ravden.core.ahead.dated import WindowRange
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import PlannedStep
    from ravden.core.ahead.waits import Wait
    from ravden.core.method.steps import Stage
    from ravden.journal.rack import OnRack

AFTER_WAIT = {"scuff": "Scuff", "level": "Level sand", "buff": "Rub out", "case": "Case or hang"}
WITHIN_H = 0.5  # between what may be done and what is planned, of which nothing is said


class NextAct(Struct, frozen=True, kw_only=True):
    """What hands do next on one instrument. at: when it may be done; open: now; planned: when the shop's plan has hands
    for it, where that is later; measure: the zone to measure before it, empty: none; sevenths: when it is ready seven
    times in ten, where the plan waits for that; busy: hands are on other work, or not there, from then on; thinner: the
    only one a coat does not turn white with, empty: any."""

    what: str
    at: datetime | None
    late: datetime | None
    open: bool
    kind: str
    planned: datetime | None = None
    measure: str = ""
    sevenths: datetime | None = None
    busy: bool = False
    thinner: str = ""


def next_act(session: ShopSession, found: Outlook, instrument_id: str) -> NextAct:
    """The next act of an instrument: a coat, a window, or nothing more."""
    rack = session.shop.on_rack(instrument_id)
    now = session.local(session.now)
    stages = found.method.stage
    index = found.progress.index
    if index >= len(stages):
        return NextAct(what="Finished: all steps are done", at=None, late=None, open=False, kind="done")
    stage = stages[index]
    due = due_first(found)
    if due is not None:
        due_h = due.from_h if due.free_h is None else due.free_h
        at = session.local(rack.moment(due_h))
        planned = _planned(session, rack, max(due_h, found.now_h), due.from_h)
        what = BETWEEN_LABEL[due.kind]
        return NextAct(what=what, at=at, late=None, open=at <= now, kind=due.kind, planned=planned)
    if found.forward.refused is not None and not any(s.hands for s in found.forward.steps):
        what = plan_words.refused(session.units, found)
        return NextAct(what=what, at=None, late=None, open=False, kind="refused")
    if stage.patch and stage.kind != "wait":
        return _on_patch(session, found, rack, index)
    mine = [c for c in found.forward.coats if c.zones is None]
    if stage.kind == "coats" and mine:
        step = next((s for s in found.forward.steps if s.index == index and s.hands), None)
        free_h = mine[0].at_h if step is None or step.free_h is None else step.free_h
        at = session.local(rack.moment(free_h))
        what = f"Coat {found.progress.coats_done + 1} of {found.method.coats}"
        planned = _planned(session, rack, max(free_h, found.now_h), mine[0].at_h)
        thinner = "slow" if _slow_only(found, stage, max(free_h, found.now_h)) else ""
        return NextAct(what=what, at=at, late=None, open=at <= now, kind="coat", planned=planned, thinner=thinner)
    if stage.kind == "wait" and found.forward.windows:
        window = found.forward.windows[0]
        what = AFTER_WAIT[window.name] if not stage.mends or stage.op == "again" else _next_hands(found, index)
        if window.likely_h is None:
            return NextAct(what=what, at=None, late=None, open=False, kind="dry" if found.forward.hindered else "wait")
        habit_h = next((s.habit_h for s in found.forward.steps if s.index == index), window.likely_h)
        at = session.local(rack.moment(max(window.likely_h, habit_h)))
        late = session.local(rack.moment(window.late_h)) if window.late_h is not None else None
        hands = next((s for s in found.forward.steps if s.index > index and s.hands), None)
        free_h = found.hours.next_open(found.now_h) if at <= now else rack.hours(at)
        planned = None if hands is None else _planned(session, rack, free_h, hands.from_h)
        sevenths_h = None if planned is None else _sevenths_h(found, window)
        from_h = max(found.now_h, rack.hours(at), sevenths_h or 0.0)
        busy = planned is not None and rack.hours(planned) > found.hours.next_open(from_h) + WITHIN_H
        return NextAct(
            what=what, at=at, late=late, open=at <= now, kind="window", planned=planned,
            measure=_measured(found, hands), busy=busy,
            sevenths=None if sevenths_h is None else session.local(rack.moment(sevenths_h)),
        )  # fmt: skip
    if stage.kind == "coats":
        return NextAct(what=stage.label, at=None, late=None, open=False, kind="dry")
    # Hands are free when the film lets them; that the shop is closed just now is for hands to say.
    step = next((s for s in found.forward.steps if s.index == index), None)
    begins_h = None if step is None else step.from_h if step.free_h is None else step.free_h
    planned = None if step is None or begins_h is None else _planned(session, rack, begins_h, step.from_h)
    if begins_h is not None and begins_h > found.hours.next_open(found.now_h) + 1e-6:
        at = session.local(rack.moment(begins_h))
        return NextAct(what=stage.label, at=at, late=None, open=False, kind="work", planned=planned)
    measure = _measured(found, step)
    return NextAct(what=stage.label, at=now, late=None, open=True, kind="work", planned=planned, measure=measure)


def _sevenths_h(found: Outlook, window: WindowRange) -> float | None:
    """When a window is open seven times in ten, where that is still to come and a plan waits for it."""
    from ravden.core.schedule.jobs import opens_for_plan_h

    if window.likely_h is None or window.late_h is None:
        return None
    opens_h = opens_for_plan_h(window.likely_h, window.late_h, found.now_h)
    return opens_h if opens_h > window.likely_h + WITHIN_H else None


def ready_text(session: ShopSession, instrument_id: str, window: WindowRange | Wait) -> str:
    """When a window of an instrument is likely ready, as it is said everywhere."""
    rack, now = session.shop.on_rack(instrument_id), session.local(session.now)
    likely, late = (None if h is None else session.local(rack.moment(h)) for h in (window.likely_h, window.late_h))
    return wait_words.ready(likely, late, now)


def why_later(act: NextAct, who: str, now: datetime) -> str:
    """Why the plan lets a film lie that is likely ready; empty: it does not. who: whose hands the plan has on it."""
    if act.kind != "window" or act.planned is None:
        return ""
    return wait_words.why_later(act.sevenths, who if act.busy else None, now)


def _measured(found: Outlook, hands: PlannedStep | None) -> str:
    """The zone to measure before hands are on the next step, where that is the sanding it is wanted for."""
    from ravden.core.ahead.refused import measured_first, sanding_next

    index = found.progress.index
    if hands is None or hands.index != sanding_next(found.method, index):
        return ""
    return measured_first(found.method, index, found.rub_out)


def _slow_only(found: Outlook, stage: Stage, at_h: float) -> bool:
    """Whether a coat laid then turns white with the usual thinner, and not with slow."""
    from ravden.core.climate.blush import slow_only
    from ravden.core.state.history import air_at

    material = found.project.layers.get(stage.finish) or found.project.material
    by = stage.by or found.project.own_way.get(material.id, "spray")
    return slow_only(material, air_at(found.project, at_h), by)


def _on_patch(session: ShopSession, found: Outlook, rack: OnRack, index: int) -> NextAct:
    """The next act of a repair, on its own zone or spot."""
    stage, now = found.method.stage[index], session.local(session.now)
    count = f": {found.progress.coats_in_stage + 1} of {stage.count}" if stage.kind == "coats" else ""
    step = next((s for s in found.forward.steps if s.index == index), None)
    begins_h = None if step is None else step.from_h if step.free_h is None else step.free_h
    later = begins_h is not None and begins_h > found.hours.next_open(found.now_h) + 1e-6
    at = session.local(rack.moment(begins_h)) if later and begins_h is not None else now
    planned = None if step is None or begins_h is None else _planned(session, rack, begins_h, step.from_h)
    what = f"{stage.label}{count}"
    return NextAct(what=what, at=at, late=None, open=not later, kind="work", planned=planned)


def _next_hands(found: Outlook, index: int) -> str:
    """What a repair's wait is waited for."""
    stages = found.method.stage
    return next((s.label for s in stages[index:] if s.kind != "wait"), stages[index].label)


def _planned(session: ShopSession, rack: OnRack, free_h: float, from_h: float) -> datetime | None:
    """When the shop's plan has hands for it, where it could be done sooner."""
    return session.local(rack.moment(from_h)) if from_h > free_h + WITHIN_H else None


def due_first(found: Outlook) -> PlannedStep | None:
    """What the film wants before any step of the method: light on the last coat, or a scuff for the next; None:
    nothing."""
    first = min(found.forward.between, key=lambda b: b.from_h, default=None)
    ahead = min((s.hands[0][0] for s in found.forward.steps if s.hands), default=math.inf)
    return first if first is not None and first.from_h <= ahead else None


def when_text(act: NextAct, now: datetime) -> str:
    """open since Sat 21 Nov; from today 14:30; likely ready Thu 3 Dec (nine in ten by 6 Dec); measure Top first."""
    first = f"; measure {act.measure} first" if act.measure else ""
    with_ = f", with {act.thinner} thinner only" if act.thinner else ""
    return f"{_when(act, now)}{with_}{first}"


def _when(act: NextAct, now: datetime) -> str:
    if act.at is None:
        if act.kind == "dry":
            return "does not dry here: warm or dry the air"
        if act.kind == "refused":
            return "this film does not carry the ladder: see Rub-out"
        return "" if act.kind == "done" else "not within sight: warm the room or wait for a reading"
    if act.open:
        planned = "" if act.planned is None else f"; planned {words.moment(act.planned, now)}"
        return f"open since {words.moment(act.at, now)}{planned}" if act.kind == "window" else f"now{planned}"
    if act.kind == "window":
        return wait_words.told(act.at, act.late, act.planned, now)
    planned = "" if act.planned is None else f"; planned {words.moment(act.planned, now)}"
    return f"from {words.moment(act.at, now)}{planned}"
