"""The rest of a plan, dated: its steps, coats and sandings, the windows it waits for, and what may be tried out."""

from dataclasses import dataclass

from ravden.core.ahead.steps import PlannedStep
from ravden.core.fact import Fact
from ravden.core.record import Air, Coat, Exposure, Sanding


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowRange:
    """When a window opens [h]: likely, and the 10-90 % range from the material's rate and the film. None: not within
    the horizon. label: what the wait is for; mends: the number of what it is waited for to put right."""

    name: str
    label: str
    early_h: float | None
    likely_h: float | None
    late_h: float | None
    shrink_left_um: float | None
    mends: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatIf:
    """A plan tried out: coats still to lay in the stage being built, and dry film of each [um]; None: as planned. Later
    stages of coats stay as they are."""

    coats: int | None = None
    coat_um: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Forward:
    """The rest of the plan: every step of it, coats and sandings in nominal um, the light its coats want, and the
    windows waited for.

    between: what has to be done between coats that the method does not name: light, and scuffs where a coat comes too
    late to hold by itself; stuck: the place of the step that nothing in sight lets begin, None where all are dated;
    hindered: what of the air keeps the film from drying there (cold or damp), and that air; refused: why the sanding
    it is stuck at is not done on this film, None where that is not what it is stuck at.
    """

    coats: tuple[Coat, ...]
    sandings: tuple[Sanding, ...]
    windows: tuple[WindowRange, ...]
    finished_h: float | None
    steps: tuple[PlannedStep, ...] = ()
    light: tuple[Exposure, ...] = ()
    between: tuple[PlannedStep, ...] = ()
    stuck: int | None = None
    hindered: tuple[str, Air] | None = None
    refused: Fact | None = None

    @property
    def hands_h(self) -> float:
        """Hours of hands still to come."""
        return sum(s.hands_h for s in (*self.steps, *self.between))

    @property
    def ready_h(self) -> tuple[float | None, float | None, float | None]:
        """Early, likely and late hour at which all of it is done; None: not known, or not within sight."""
        last = self.windows[-1] if self.windows else None
        likely = self.finished_h
        if likely is None or last is None or last.likely_h is None:
            return None, likely, None
        # Where it ends with the wait, that cannot be over before the work in front of it is.
        step = max(self.steps, key=lambda s: s.to_h)
        ends_waiting = step.hands_h <= 0
        least, more = (max(step.from_h, step.habit_h), 0.0) if ends_waiting else (0.0, max(likely - last.likely_h, 0.0))
        early, late = (None if h is None else max(h + more, least) for h in (last.early_h, last.late_h))
        return None if early is None else min(early, likely), likely, None if late is None else max(late, likely)

    @property
    def before_coats(self) -> bool:
        """Whether the next sanding comes before any coat of the body still planned."""
        body = [c for c in self.coats if c.zones is None]
        return bool(self.sandings) and (not body or self.sandings[0].at_h <= body[0].at_h)
