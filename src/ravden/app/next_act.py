"""What hands do next on an instrument, and when, in words; the Rack and the Film place both say it. No Qt."""

from __future__ import annotations

import math
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.session import ShopSession
from ravden.text import words
from ravden.text.plan_words import BETWEEN_LABEL

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import PlannedStep


class NextAct(Struct, frozen=True, kw_only=True):
    """What hands do next on one instrument. at: when it may be done; open: now."""

    what: str
    at: datetime | None
    late: datetime | None
    open: bool
    kind: str


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
        at = session.local(rack.moment(due.from_h))
        return NextAct(what=BETWEEN_LABEL[due.kind], at=at, late=None, open=at <= now, kind=due.kind)
    mine = [c for c in found.forward.coats if c.zones is None]
    if stage.kind == "coats" and mine:
        at = session.local(rack.moment(mine[0].at_h))
        what = f"Coat {found.progress.coats_done + 1} of {found.method.coats}"
        return NextAct(what=what, at=at, late=None, open=at <= now, kind="coat")
    if stage.kind == "wait" and found.forward.windows:
        window = found.forward.windows[0]
        what = {"scuff": "Scuff", "level": "Level sand", "buff": "Rub out", "case": "Case or hang"}[window.name]
        if window.likely_h is None:
            return NextAct(what=what, at=None, late=None, open=False, kind="dry" if found.forward.hindered else "wait")
        habit_h = next((s.habit_h for s in found.forward.steps if s.index == index), window.likely_h)
        at = session.local(rack.moment(max(window.likely_h, habit_h)))
        late = session.local(rack.moment(window.late_h)) if window.late_h is not None else None
        return NextAct(what=what, at=at, late=late, open=at <= now, kind="window")
    if stage.kind == "coats":
        return NextAct(what=stage.label, at=None, late=None, open=False, kind="dry")
    # Hands are free when the film lets them; that the shop is closed just now is for hands to say.
    step = next((s for s in found.forward.steps if s.index == index), None)
    if step is not None and step.from_h > found.hours.next_open(found.now_h) + 1e-6:
        at = session.local(rack.moment(step.from_h))
        return NextAct(what=stage.label, at=at, late=None, open=False, kind="work")
    return NextAct(what=stage.label, at=now, late=None, open=True, kind="work")


def due_first(found: Outlook) -> PlannedStep | None:
    """What the film wants before any step of the method: light on the last coat, or a scuff for the next; None:
    nothing."""
    first = min(found.forward.between, key=lambda b: b.from_h, default=None)
    ahead = min((s.hands[0][0] for s in found.forward.steps if s.hands), default=math.inf)
    return first if first is not None and first.from_h <= ahead else None


def when_text(act: NextAct, now: datetime) -> str:
    """open since Sat 21 Nov; from today 14:30; about Thu 3 Dec."""
    if act.at is None:
        if act.kind == "dry":
            return "does not dry here: warm or dry the air"
        return "" if act.kind == "done" else "not within sight: warm the room or wait for a reading"
    if act.open:
        if act.kind == "window":
            return f"open since {words.moment(act.at, now)}"
        return "now"
    if act.kind == "window":
        worst = words.day(act.late, now) if act.late else "not within sight"
        return f"about {words.day(act.at, now)}, at worst {worst}"
    return f"from {words.moment(act.at, now)}"
