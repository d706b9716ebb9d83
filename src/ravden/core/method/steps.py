"""A method as data, and how far along it a project is."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import need, need_above, need_in
from ravden.core.record import Act, Coat, Sanding

STAGE_KINDS = ("coats", "wait", "level", "rub-out")
WAITS = ("scuff", "level", "buff", "case")


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """One stage: coats (count, per_session, between_h), a wait for a window, levelling or rubbing out (um)."""

    kind: str
    label: str
    count: int = 0
    per_session: int = 0
    between_h: float = 0.0
    window: str = ""
    um: float | None = None

    def __post_init__(self) -> None:
        need(self.kind in STAGE_KINDS, "kind", f"must be one of {', '.join(STAGE_KINDS)} (got {self.kind})")
        if self.kind == "coats":
            need(1 <= self.count <= 500, "count", f"must be between 1 and 500 (got {self.count})")
            need(1 <= self.per_session <= 50, "per_session", f"must be between 1 and 50 (got {self.per_session})")
            need_in(self.between_h, 0.05, 24 * 30, "between_h", "h")
        if self.kind == "wait":
            need(self.window in WAITS, "window", f"must be one of {', '.join(WAITS)} (got {self.window})")
        if self.um is not None:
            need_above(self.um, 0, "um", 1000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Method:
    """A way of finishing, stage by stage; texture_um: peak to valley expected before levelling."""

    id: str
    label: str
    material: str
    why: str
    texture_um: float
    stage: tuple[Stage, ...]
    basis: str = ""

    def __post_init__(self) -> None:
        need(len(self.stage) > 0, "stage", "a method needs at least one stage")
        need_above(self.texture_um, 0, "texture_um", 500)

    @property
    def coats(self) -> int:
        return sum(s.count for s in self.stage)


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """Where a project stands: the stage it is in (len(stages) when done), coats done in it, and coats done in all."""

    index: int
    coats_in_stage: int
    coats_done: int
    in_session: int
    last_coat_h: float | None


def progress(method: Method, acts: Sequence[Act], now_h: float) -> Progress:
    """Walk what happened along the method. What happened wins: a coat laid during a wait starts that wait again."""
    index, in_stage, done, in_session = 0, 0, 0, 0
    last: float | None = None
    stages = method.stage
    for act in sorted(acts, key=lambda a: a.at_h):
        if act.at_h > now_h:
            break
        if isinstance(act, Coat) and not act.finish:
            for _ in range(round(act.likely_count)):
                if index >= len(stages) or stages[index].kind != "coats":
                    index = _back_to_wait(stages, index)
                else:
                    in_stage += 1
                    if in_stage >= stages[index].count:
                        index, in_stage = index + 1, 0
                between = stages[index].between_h if index < len(stages) and stages[index].between_h else 6.0
                in_session = in_session + 1 if last is not None and act.at_h - last < max(8.0, 1.5 * between) else 1
                done += 1
                last = act.at_h
        elif isinstance(act, Sanding) and act.purpose in ("level", "rub-out") and not act.part:
            reached = _first(stages, index, act.purpose)
            if reached is not None:
                index, in_stage = reached + 1, 0
    return Progress(index=index, coats_in_stage=in_stage, coats_done=done, in_session=in_session, last_coat_h=last)


def _first(stages: Sequence[Stage], start: int, kind: str) -> int | None:
    """The next stage of a kind with nothing but waits before it."""
    for i in range(start, len(stages)):
        if stages[i].kind == kind:
            return i
        if stages[i].kind != "wait":
            return None
    return None


def _back_to_wait(stages: Sequence[Stage], index: int) -> int:
    for i in range(min(index, len(stages) - 1), -1, -1):
        if stages[i].kind == "coats":
            return i + 1
    return index
