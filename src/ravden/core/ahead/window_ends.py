"""A window as a plan tells it: when likely, and between when and when."""

from collections.abc import Callable

from ravden.core.ahead.dated import WindowRange
from ravden.core.cure.windows import Windows
from ravden.core.method.steps import Stage


def window_of(found: Windows | None, name: str) -> tuple[float, float | None] | None:
    """When a window opens, and what the film still shrinks by then; None: not within sight."""
    if found is None:
        return None
    at: Callable[[str], float | None] = found.at
    hour = at(name)
    return None if hour is None else (hour, found.shrink_left_um.get(name))


def ends_of(
    ends: tuple[Windows | None, ...], name: str, likely_h: float, last_coat_h: float
) -> tuple[float | None, float | None]:
    """Early and late hour of a window: the likely wait stretched as the fast and the slow film stretch it.

    ends: windows of the fast, the middle and the slow film, all before any sanding still planned.
    """
    fast, middle, slow = (window_of(e, name) for e in ends)
    if middle is None or middle[0] <= last_coat_h:
        return None, None
    wait, base = likely_h - last_coat_h, middle[0] - last_coat_h
    early = None if fast is None else last_coat_h + wait * min((fast[0] - last_coat_h) / base, 1.0)
    late = None if slow is None else last_coat_h + wait * max((slow[0] - last_coat_h) / base, 1.0)
    return early, late


def range_of(
    stage: Stage, early_h: float | None, likely_h: float | None, late_h: float | None, shrink: float | None
) -> WindowRange:
    """A step's window, as it is told."""
    return WindowRange(
        name=stage.window, label=stage.label, early_h=early_h, likely_h=likely_h, late_h=late_h, shrink_left_um=shrink,
        mends=0 if stage.op == "again" else stage.mends,
    )  # fmt: skip
