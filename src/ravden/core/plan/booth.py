"""Where a spraying, padding or brushing session stands: told by the journal and the clock alone, so that it goes on
exactly where it was, whatever happened to the process."""

from dataclasses import dataclass, replace

from ravden.core.method.steps import WORK_KINDS, Method, Stage, progress
from ravden.core.record import Coat, Pass, Project

PASSES = {"spray": 2}  # [A] crossing passes that make a sprayed coat; other ways lay it in one
SESSION_H = 12.0  # a coat longer ago than this was another session's


@dataclass(frozen=True, slots=True, kw_only=True)
class Turn:
    """What hands do now.

    kind: pass (of a coat under way), coat (its first pass), stop (enough for today), other (no coat is next), done.
    due_h: when the film is ready for it [h], None: nobody knows; since_h: when the last act was, None: nothing yet;
    before: work by hand that the plan has before it and nobody has logged.
    """

    kind: str
    due_h: float | None
    since_h: float | None
    coat: int
    coats: int
    nth_pass: int
    passes: int
    in_session: int
    per_session: int
    label: str
    finish: str = ""
    before: str = ""

    @property
    def ends_coat(self) -> bool:
        """Whether the next act is the last pass, and so the coat."""
        return self.nth_pass >= self.passes


def turn(project: Project, method: Method, way: str, now_h: float, opens_h: float | None = None) -> Turn:
    """The turn at a moment. way: how the finish is applied; opens_h: when the plan has the next session, where it has
    been worked out."""
    done = progress(method, project.acts, now_h)
    passes = PASSES.get(way, 1)
    if done.index >= len(method.stage):
        return _turn("done", None, done.last_coat_h, done.coats_done, method.coats, 1, passes, 0, 0, None)
    stage, here = _coats_next(method, done.index), method.stage[done.index]
    before = here.label if stage is not here else ""
    last = done.last_coat_h
    if stage.kind != "coats":
        return _turn("other", None, last, done.coats_done, method.coats, 1, passes, done.in_session, 0, stage)
    coats = [a.at_h for a in project.acts if isinstance(a, Coat) and a.zones is None and a.at_h <= now_h]
    begun = max(coats, default=-1e18)
    laid = [a.at_h for a in project.acts if isinstance(a, Pass) and begun < a.at_h <= now_h]
    laid = [at for at in laid if now_h - at < SESSION_H]  # a coat begun and left is begun anew another day
    in_session = done.in_session if last is not None and now_h - last < SESSION_H else 0
    number, nth = done.coats_done + (0 if stage.finish else 1), min(len(laid), passes - 1) + 1
    if laid:
        due: float | None = laid[-1] + project.material.flash_s / 3600.0
        return _turn("pass", due, laid[-1], number, method.coats, nth, passes, in_session, stage.per_session, stage)
    if in_session >= stage.per_session:
        return _turn("stop", opens_h, last, number, method.coats, 1, passes, in_session, stage.per_session, stage)
    due = opens_h if in_session == 0 or last is None else last + stage.between_h
    now = _turn("coat", due, last, number, method.coats, 1, passes, in_session, stage.per_session, stage)
    return replace(now, before=before)


def _coats_next(method: Method, index: int) -> Stage:
    """The stage of coats one is in, or that only work nobody logged stands before; else the stage one is in."""
    for stage in method.stage[index:]:
        if stage.kind == "coats" and not stage.zones:
            return stage
        if stage.kind not in (*WORK_KINDS, "scuff"):
            break
    return method.stage[index]


def _turn(
    kind: str, due_h: float | None, since_h: float | None, coat: int, coats: int, nth: int, passes: int, session: int,
    most: int, stage: Stage | None,
) -> Turn:  # fmt: skip
    return Turn(
        kind=kind, due_h=due_h, since_h=since_h, coat=coat, coats=coats, nth_pass=nth, passes=passes,
        in_session=session, per_session=most,
        label="the method is done" if stage is None else stage.label, finish="" if stage is None else stage.finish,
    )  # fmt: skip
