"""What hands do next on an instrument, and when, in words; the Rack and the Film place both say it. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from ravden.ui import words
from ravden.ui.session import ShopSession

if TYPE_CHECKING:
    from ravden.core.plan.outlook import Outlook


@dataclass(frozen=True, slots=True, kw_only=True)
class NextAct:
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
        return NextAct(what="Finished: the method is done", at=None, late=None, open=False, kind="done")
    stage = stages[index]
    mine = [c for c in found.forward.coats if c.zones is None]
    if stage.kind == "coats" and mine:
        at = session.local(rack.moment(mine[0].at_h))
        what = f"Coat {found.progress.coats_done + 1} of {found.method.coats}"
        return NextAct(what=what, at=at, late=None, open=at <= now, kind="coat")
    if stage.kind == "wait" and found.forward.windows:
        window = found.forward.windows[0]
        what = {"scuff": "Scuff", "level": "Level sand", "buff": "Rub out", "case": "Case or hang"}[window.name]
        if window.likely_h is None:
            lit = found.project.material.cure.model == "light"
            return NextAct(what=what, at=None, late=None, open=False, kind="light" if lit else "wait")
        at = session.local(rack.moment(window.likely_h))
        late = session.local(rack.moment(window.late_h)) if window.late_h is not None else None
        return NextAct(what=what, at=at, late=late, open=at <= now, kind="window")
    return NextAct(what=stage.label, at=now, late=None, open=True, kind="work")


def when_text(act: NextAct, now: datetime) -> str:
    """open since Sat 21 Nov; from today 14:30; about Thu 3 Dec."""
    if act.at is None:
        if act.kind == "light":
            return "once light has cured it to the wood"
        return "" if act.kind == "done" else "not within sight: warm the room or wait for a reading"
    if act.open:
        if act.kind == "window":
            return f"open since {words.moment(act.at, now)}"
        return "now"
    if act.kind == "window":
        worst = words.day(act.late, now) if act.late else "not within sight"
        return f"about {words.day(act.at, now)}, at worst {worst}"
    return f"from {words.moment(act.at, now)}"
