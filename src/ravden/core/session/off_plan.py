"""A coat that a session lays though the plan has none now, all over or on some zones alone."""

from collections.abc import Sequence
from dataclasses import replace

from ravden.core.errors import need
from ravden.core.method.steps import Method, Stage, progress
from ravden.core.record import Coat, Project
from ravden.core.session.booth import SESSION_H, Habits, by_the_acts, with_care, with_passes
from ravden.core.session.turns import CoatTurn, StopTurn, Turn, turned

SAME_SESSION_H = 8.0  # [A] coats closer than this lie on one another wet below


def off_plan_turn(
    project: Project, method: Method, habits: Habits, now_h: float, begun_h: float, zones: tuple[str, ...] = ()
) -> Turn:
    """The turn of such a coat: passes, flash-off and coats a session as where the method last lays the own finish.

    begun_h: when the session began [h]; zones: only these, none: all that are in the own finish.
    """
    now_h, back = by_the_acts(project, now_h)
    index = progress(method, project.acts, now_h, project.body).index
    stage = _own_coats(method, index)
    mine = [c for c in project.coats if c.at_h <= now_h and not c.finish and _on(c, zones)]
    times = sorted(h for c in mine for h in c.hours)
    last = times[-1] if times else None
    made = CoatTurn(
        due_h=None if last is None or now_h - last >= SESSION_H else last + stage.between_h, since_h=last,
        coat=sum(at >= begun_h for at in times) + 1, coats=0,
        in_session=_in_session(times, now_h, stage), per_session=stage.per_session, label=stage.label, index=index,
        by=stage.by, zones=zones, off_plan=True,
    )  # fmt: skip
    every = [c.at_h for c in project.coats if c.at_h <= now_h]
    made = with_passes(project, made, habits, max(every, default=-1e18), now_h)
    found: Turn = made
    if not made.begun:
        if made.in_session >= made.per_session:
            found = turned(StopTurn, made, due_h=None)
        found = with_care(project, habits, found, now_h)
    return replace(found, clock_back=True, due_h=None) if back else found


def _own_coats(method: Method, index: int) -> Stage:
    """The stage of coats in the own finish that one is in or has left last; the first where none has been reached."""
    own = [(i, s) for i, s in enumerate(method.stage) if s.kind == "coats" and not (s.zones or s.finish or s.patch)]
    need(bool(own), "stage", f"{method.label} lays no coat of its own finish")
    return ([s for i, s in own if i <= index] or [own[0][1]])[-1]


def _on(coat: Coat, zones: tuple[str, ...]) -> bool:
    return coat.zones is None if not zones else any(coat.covers(z) for z in zones)


def _in_session(times: Sequence[float], now_h: float, stage: Stage) -> int:
    """Coats that lie on one another without a night between them, up to now."""
    gap = max(SAME_SESSION_H, 1.5 * stage.between_h)
    count, after = 0, now_h
    for at in reversed(times):
        if after - at >= (SESSION_H if count == 0 else gap):
            break
        count, after = count + 1, at
    return count
