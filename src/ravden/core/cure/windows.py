"""When hands may do what: the hours at which a film passes each threshold (docs/maths.md, thresholds [A])."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.cure.evaporative import COLUMN, CureHistory
from ravden.core.cure.film import History, StackHistory
from ravden.core.cure.layered import LayerHistory, Reacting
from ravden.core.cure.models import Crosslink, LightCure, NeverHard, Oxidation

Floats = NDArray[np.float64]

TOUCH_MARGIN_K = -25.0  # [A] surface
SCUFF_MARGIN_K = 0.0  # [A] top 6 um, where the material does not say
LEVEL_MARGIN_K = 8.0  # [A] whole film; with coats to come, to the depth of the cut
BUFF_MARGIN_K = 15.0  # [A] top 30 um, which a wheel warms; and the whole film as for a level
BUFF_SHRINK = 0.05  # [A] shrink still to come, share of the film
CASE_MARGIN_K = 20.0  # [A] whole film
NEXT_COAT_MARGIN_K = -25.0  # [A] top 6 um, films that dry
FULL_SHARE = 0.85  # [A] of the way to the hardness a finish ends at: more is asked of none
FAR_C = 1e6  # harder than any
CUT_BELOW_UM = 3.0  # [A] film below a cut that must bear the paper too
CUT_SAMPLES, CUT_FIRST_H = 80, 0.1  # hours at which the depth of a cut is looked at, even in the logarithm of time

TOP_CURED = 8  # column of a reacting film: the top layer's degree of cure
STICKY_H = 36.0  # [A] after a light-cured coat its skin, cured in air, stays sticky and holds the next without a scuff

WINDOW_NAMES = ("touch_dry", "scuff", "level", "buff", "case")


@dataclass(frozen=True, slots=True, kw_only=True)
class Windows:
    """Hours at which each window opens after the last coat; None: not before the history ends. Shrink in um there.

    recoat_until_h: last moment at which the next coat still bonds without a scuff; None: always, or not known.
    """

    touch_dry_h: float | None
    scuff_h: float | None
    level_h: float | None
    buff_h: float | None
    case_h: float | None
    next_coat_h: float | None
    recoat_until_h: float | None
    shrink_left_um: dict[str, float | None]

    def at(self, name: str) -> float | None:
        """The window called name, one of WINDOW_NAMES or next_coat."""
        value: float | None = getattr(self, f"{name}_h")
        return value


def excesses(
    judged_C: float, scuff_K: float = SCUFF_MARGIN_K, full_C: float = FAR_C
) -> dict[str, Callable[[Floats], Floats]]:
    """For each window, how far rows of a history are past its threshold (>= 0: open). judged_C: what the film is judged
    by; full_C: the glass transition its softest part ends at: no window asks for more than a finish can ever give."""
    c = COLUMN
    most_K = FULL_SHARE * (full_C - judged_C)
    scuff, level, buff, case = (min(k, most_K) for k in (scuff_K, LEVEL_MARGIN_K, BUFF_MARGIN_K, CASE_MARGIN_K))
    return {
        "touch_dry": lambda r: r[:, c["Tg_surface_C"]] - judged_C - TOUCH_MARGIN_K,
        "scuff": lambda r: r[:, c["Tg_top_C"]] - judged_C - scuff,
        "level": lambda r: r[:, c["Tg_min_C"]] - judged_C - level,
        "buff": lambda r: np.minimum.reduce(
            [
                r[:, c["Tg_warmed_C"]] - judged_C - buff,
                r[:, c["Tg_min_C"]] - judged_C - level,
                1e3 * (BUFF_SHRINK - 1 + r[:, c["dry_um"]] / np.maximum(r[:, c["film_um"]], 1e-9)),
            ]
        ),
        "case": lambda r: r[:, c["Tg_min_C"]] - judged_C - case,
        "next_coat": lambda r: r[:, c["Tg_top_C"]] - judged_C - NEXT_COAT_MARGIN_K,
    }


def full_C(history: History) -> float:
    """The glass transition the softest part of a film ends at [C]."""
    parts = history.parts if isinstance(history, StackHistory) else (history,)
    return min(_full_C(part) for part in parts)


def _full_C(part: CureHistory | LayerHistory) -> float:
    if isinstance(part, CureHistory):
        return part.material.Tg_dry_C
    return FAR_C if isinstance(part.model, NeverHard) else part.model.Tg1_C


def opens(rows: Floats, excess: Floats, start_h: float) -> float | None:
    """First hour from which the excess stays >= 0; between steps linear in the logarithm of the time since start."""
    closed = np.flatnonzero(~(excess >= 0))
    if len(closed) == 0:
        return float(rows[0, 0]) if len(rows) else None
    last = int(closed[-1])
    if last + 1 >= len(rows):
        return None
    a, b = float(excess[last]), float(excess[last + 1])
    ta, tb = float(rows[last, 0]) - start_h, float(rows[last + 1, 0]) - start_h
    share = a / (a - b) if a < b else 1.0
    if ta <= 0:
        return start_h + ta + share * (tb - ta)
    return start_h + float(np.exp(np.log(ta) + share * (np.log(tb) - np.log(ta))))


def windows(history: History, judged_C: float = 20.0, cut_um: float | None = None) -> Windows:
    """When each window opens after the last coat, in the history's hours; judged_C: what the film is judged by where
    the work will be done (`Instrument.judged_C`).

    cut_um: what a level takes that coats follow, so that it may begin as cut_window has it; None: it is the last one.
    """
    start = history.last_coat_h
    top = history.top if isinstance(history, StackHistory) else history
    still_wet = isinstance(top, CureHistory) and bool(top.wet)
    never = isinstance(top, LayerHistory) and isinstance(top.model, NeverHard)
    handled = wiped = None
    if start is not None and isinstance(top, LayerHistory) and isinstance(top.model, NeverHard):
        handled, wiped = start + top.model.handle_h, start + top.model.wipe_min / 60.0
    if start is None or still_wet or never:
        return Windows(
            touch_dry_h=None, scuff_h=None, level_h=None, buff_h=None, case_h=handled, next_coat_h=wiped,
            recoat_until_h=None, shrink_left_um=dict.fromkeys(WINDOW_NAMES),
        )  # fmt: skip
    rows = history.steps[history.steps[:, 0] > start]
    found: dict[str, float | None] = {}
    asked = top.material if isinstance(top, CureHistory) else top.model
    scuff_K = getattr(asked, "scuff_K", SCUFF_MARGIN_K)
    for name, excess in excesses(judged_C, scuff_K, full_C(history)).items():
        found[name] = opens(rows, excess(rows), start)
    if isinstance(top, LayerHistory):
        found["next_coat"] = opens(rows, 100 * (rows[:, TOP_CURED] - _ready(top.model)), start)
    if cut_um is not None:
        found["level"] = cut_window(history, cut_um, judged_C)
    shrink = np.maximum(
        rows[:, COLUMN["film_um"]] - rows[:, COLUMN["dry_um"]], 0.0
    )  # nothing less than none, by rounding
    left: dict[str, float | None] = {}
    for name in WINDOW_NAMES:
        at = found[name]
        left[name] = None if at is None else float(np.interp(at, rows[:, 0], shrink))
    return Windows(
        touch_dry_h=found["touch_dry"], scuff_h=found["scuff"], level_h=found["level"], buff_h=found["buff"],
        case_h=found["case"], next_coat_h=found["next_coat"], recoat_until_h=_recoat(top, rows, start),
        shrink_left_um=left,
    )  # fmt: skip


def cut_hours(start_h: float, end_h: float) -> Floats:
    """Hours at which a history must be sampled for cut_window."""
    if end_h - start_h <= CUT_FIRST_H:
        return np.array([end_h])
    return np.minimum(start_h + np.geomspace(CUT_FIRST_H, end_h - start_h, CUT_SAMPLES), end_h)


def cut_window(history: History, cut_um: float, judged_C: float = 20.0) -> float | None:
    """When a level that coats follow may begin: the film to the depth of the cut, and 3 um below it, bears the paper.

    What lies deeper dries under the coats to come, and is counted there. history: sampled at cut_hours of its last
    coat. None: not before it ends.
    """
    start = history.last_coat_h
    if start is None:
        return None
    at = np.flatnonzero(history.samples[:, 0] > start)
    least = [history.least_Tg_over_top_C(int(i), cut_um + CUT_BELOW_UM) for i in at]
    level_K = min(LEVEL_MARGIN_K, FULL_SHARE * (full_C(history) - judged_C))
    return opens(history.samples[at], np.array(least) - judged_C - level_K, start)


def _ready(model: Reacting) -> float:
    """Degree of cure of the top at which the next coat may go on [-]: gelled, or past wrinkling."""
    if isinstance(model, Crosslink):
        return model.tack_share
    if isinstance(model, Oxidation):
        return model.buried_share
    return 0.0


def _recoat(top: CureHistory | LayerHistory, rows: Floats, start_h: float) -> float | None:
    """Last hour at which a coat needs no scuff to hold; None where coats melt into one, or the end is not reached."""
    if isinstance(top, CureHistory):
        return start_h + top.material.recoat_h if top.material.recoat_h > 0 else None
    if isinstance(top.model, Crosslink | Oxidation):
        limit = top.model.recoat_share
    elif isinstance(top.model, LightCure):
        return start_h + STICKY_H
    else:
        return None
    return opens(rows, 100 * (rows[:, TOP_CURED] - limit), start_h)
