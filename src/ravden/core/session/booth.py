"""Where a spraying, padding, brushing or wiping session stands: told by the journal and the clock alone, so that it
goes on exactly where it was, whatever happened to the process."""

from collections.abc import Callable, Mapping
from dataclasses import replace

from ravden.core.method.habit import LAMP_MW_CM2, Habit
from ravden.core.method.steps import WORK_KINDS, Method, Progress, Stage, left, progress
from ravden.core.record import Care, Coat, Exposure, LightOn, Pass, Project
from ravden.core.session.light import lamp_turn
from ravden.core.session.turns import (
    CareTurn,
    CoatTurn,
    DoneTurn,
    LightTurn,
    MendTurn,
    OtherTurn,
    StopTurn,
    Turn,
    turned,
)
from ravden.core.session.wet_edge import Place

SESSION_H = 12.0  # a coat longer ago than this was another session's
BACK_H = 1.0 / 60.0  # an act this far ahead of the clock means that the clock was set back
FORGOTTEN_H = 1.0  # a care that nobody did is asked for this long after its last time

Habits = Callable[[str, str], Habit]


def turn(
    project: Project, method: Method, habits: Habits, now_h: float, opens_h: float | None = None,
    places: Mapping[str, Place] | None = None, lamp_mW_cm2: float = LAMP_MW_CM2,
) -> Turn:  # fmt: skip
    """The turn at a moment. habits: of a finish by its id and the way it is laid; opens_h: when the plan has the next
    session, where it has been worked out; places: where zones lie, for the lamp."""
    now_h, back = by_the_acts(project, now_h)
    done = progress(method, project.acts, now_h, project.body)
    found = _body(project, method, habits, done, now_h, opens_h)
    if found.kind in ("other", "done", "stop"):
        beside = _beside(project, method, habits, done, now_h)
        found = beside if beside is not None else found
    if found.kind in ("other", "done", "stop"):
        lamp = lamp_turn(project, habits(project.material.id, "").lights, now_h, lamp_mW_cm2, places or {})
        if lamp is not None:
            found = turned(
                LightTurn, found, on=lamp.on, due_h=lamp.due_h, since_h=lamp.since_h, label=lamp.label, how=lamp.how,
                zones=lamp.zones, seconds=lamp.seconds, nth_pass=lamp.nth, passes=lamp.of, mW_cm2=lamp.mW_cm2,
            )  # fmt: skip
    if found.kind in ("coat", "light", "other", "done", "stop"):
        found = with_care(project, habits, found, now_h)
    return replace(found, clock_back=True, due_h=None) if back else found


def by_the_acts(project: Project, now_h: float) -> tuple[float, bool]:
    """The moment to judge by, never before the newest act, and whether the clock was set back behind it."""
    done_here = (Care, Coat, Exposure, LightOn, Pass)
    newest = max((a.at_h for a in project.acts if isinstance(a, done_here)), default=now_h)
    return max(now_h, newest), newest > now_h + BACK_H


def _body(
    project: Project, method: Method, habits: Habits, done: Progress, now_h: float, opens_h: float | None
) -> Turn:
    last = done.last_coat_h
    made: Turn = DoneTurn(
        due_h=None, since_h=last, coat=done.coats_done, coats=method.coats,
        in_session=done.in_session if last is not None and now_h - last < SESSION_H else 0, per_session=0,
        label="all steps are done", index=done.index,
    )  # fmt: skip
    if done.index >= len(method.stage):
        return made
    stage, here = _coats_next(method, done.index), method.stage[done.index]
    if here.patch and here.kind != "wait":
        return _on_patch(project, method, habits, done, now_h, made)
    if here.kind == "mend":
        return turned(MendTurn, made, label=here.label, how=here.how, mends=here.mends)
    if stage.kind != "coats":
        return turned(OtherTurn, made, label=stage.label, finish=stage.finish)
    coat = turned(
        CoatTurn, made, label=stage.label, finish=stage.finish, by=stage.by, um=stage.um,
        per_session=stage.per_session, coat=done.coats_done + (0 if stage.finish else 1),
    )  # fmt: skip
    # A coat on some zones of the body ends its own passes, and is waited for too.
    coats = [c.at_h for c in project.coats if c.at_h <= now_h and (c.zones is None or not c.finish)]
    newest = max(coats, default=-1e18)
    under_way = with_passes(project, coat, habits, newest, now_h)
    if under_way.begun:
        return under_way
    if under_way.in_session >= stage.per_session:
        return turned(StopTurn, under_way, due_h=opens_h)
    due = opens_h if under_way.in_session == 0 or last is None else last + stage.between_h
    if now_h - newest < SESSION_H and newest > (-1e18 if last is None else last):
        due = max(newest + stage.between_h, -1e18 if due is None else due)
    return replace(under_way, due_h=due, before=here.label if stage is not here else "")


def _on_patch(
    project: Project, method: Method, habits: Habits, done: Progress, now_h: float, made: Turn
) -> Turn:  # fmt: skip
    """A step of a repair on its own zone or spot."""
    here = method.stage[done.index]
    on = {"label": here.label, "mends": here.mends, "spot": here.spot, "zones": (here.patch,), "finish": here.finish}
    if here.kind != "coats":
        return turned(MendTurn, made, how=here.how, **on)
    mine = [c.at_h for c in project.coats if c.mends == here.mends and c.at_h <= now_h]
    last = max(mine, default=None)
    today = sum(now_h - at < SESSION_H for at in mine)
    coat = turned(
        CoatTurn, made, by=here.by, um=here.um, per_session=here.per_session, coat=done.coats_in_stage + 1,
        coats=here.count, in_session=today, since_h=last, due_h=None if last is None else last + here.between_h,
        how=here.how, **on,
    )  # fmt: skip
    return turned(StopTurn, coat) if today >= here.per_session else coat


def with_passes(project: Project, made: CoatTurn, habits: Habits, begun_h: float, now_h: float) -> CoatTurn:
    """A turn with the passes laid since the last coat; what they are called and how they are laid."""
    habit = habits(made.finish or project.material.id, made.by)
    laid = [a.at_h for a in project.acts if isinstance(a, Pass) and begun_h < a.at_h <= now_h]
    laid = [at for at in laid if now_h - at < SESSION_H]  # a coat begun and left is begun anew another day
    nth = min(len(laid), habit.count - 1) + 1
    row = habit.nth(nth)
    made = replace(made, nth_pass=nth, passes=habit.count, what=row.label if row else "", how=row.how if row else "")
    if laid and habit.count > 1:
        wait_s = row.wait_s if row else 0.0
        return replace(made, begun=True, due_h=laid[-1] + wait_s / 3600.0, since_h=laid[-1])
    return made


def _beside(project: Project, method: Method, habits: Habits, done: Progress, now_h: float) -> Turn | None:
    """A coat on zones in another finish, where the body wants none now."""
    for index, stage in left(method, done):
        if not stage.zones or stage.kind != "coats":
            continue
        own = [c for c in project.coats if c.finish == stage.finish and c.zones is not None and c.at_h <= now_h]
        mine = [h for c in own for h in c.hours]
        last = max(mine, default=None)
        since = [at for at in mine if now_h - at < SESSION_H]
        if len(since) >= stage.per_session:
            return None
        whole = method.stage[index].count
        made = CoatTurn(
            due_h=None if last is None else last + stage.between_h, since_h=last,
            coat=whole - stage.count + 1, coats=whole, in_session=len(since),
            per_session=stage.per_session, label=stage.label, index=index, finish=stage.finish, by=stage.by,
            um=stage.um, zones=stage.zones,
        )  # fmt: skip
        every = [c.at_h for c in project.coats if c.at_h <= now_h]
        return with_passes(project, made, habits, max(every, default=-1e18), now_h)
    return None


def with_care(project: Project, habits: Habits, found: Turn, now_h: float) -> Turn:
    """A turn, or before it what the coat that rests wants before the next act, if it wants anything."""
    coats = [c for c in project.coats if c.at_h <= now_h]
    if not coats:
        return found
    coat = max(coats, key=lambda c: c.at_h)
    for care in habits(coat.finish or project.material.id, "").cares:
        done = [a.at_h for a in project.acts if isinstance(a, Care) and a.what == care.what and a.at_h >= coat.at_h]
        since = max(done, default=coat.at_h)
        ahead = [coat.at_h + t for t in care.times_h if coat.at_h + t > since + 1e-9]
        over = now_h > coat.at_h + care.until_min / 60.0 + FORGOTTEN_H
        lit = any(isinstance(a, Exposure) and a.at_h >= coat.at_h for a in project.acts)
        if not ahead or over or (lit and care.what == "turn") or _sooner(found, ahead[0]):
            continue
        return turned(
            CareTurn, found, what=care.what, label=care.label, how=care.how, due_h=ahead[0], since_h=since,
            nth_pass=len(care.times_h) - len(ahead) + 1, passes=len(care.times_h), zones=coat.zones or (),
        )  # fmt: skip
    return found


def _sooner(found: Turn, care_h: float) -> bool:
    """Whether the next act comes before the care."""
    return found.kind in ("coat", "light") and found.due_h is not None and found.due_h <= care_h


def _coats_next(method: Method, index: int) -> Stage:
    """The stage of coats one is in, or that only work nobody logged stands before; else the stage one is in."""
    for stage in method.stage[index:]:
        if stage.kind == "coats" and not (stage.zones or stage.patch):
            return stage
        if stage.kind not in (*WORK_KINDS, "scuff"):
            break
    return method.stage[index]
