"""When hands may do what: the hours at which a film passes each threshold (docs/maths.md, thresholds [A])."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.cure.evaporative import COLUMN, CureHistory

Floats = NDArray[np.float64]

TOUCH_MARGIN_K = -25.0  # [A] surface
SCUFF_MARGIN_K = 0.0  # [A] top 6 um
LEVEL_MARGIN_K = 8.0  # [A] whole film
BUFF_MARGIN_K = 15.0  # [A] whole film
BUFF_SHRINK = 0.03  # [A] shrink still to come, share of the film
CASE_MARGIN_K = 20.0  # [A] whole film
NEXT_COAT_PHI = 0.15  # [A] film mean, dissolving coats

WINDOW_NAMES = ("touch_dry", "scuff", "level", "buff", "case")


@dataclass(frozen=True, slots=True, kw_only=True)
class Windows:
    """Hours at which each window opens after the last coat; None: not before the history ends. Shrink in um there."""

    touch_dry_h: float | None
    scuff_h: float | None
    level_h: float | None
    buff_h: float | None
    case_h: float | None
    next_coat_h: float | None
    shrink_left_um: dict[str, float | None]

    def at(self, name: str) -> float | None:
        """The window called name, one of WINDOW_NAMES or next_coat."""
        value: float | None = getattr(self, f"{name}_h")
        return value


def excesses(bench_C: float) -> dict[str, Callable[[Floats], Floats]]:
    """For each window, how far rows of a history are past its threshold (>= 0: open)."""
    c = COLUMN
    return {
        "touch_dry": lambda r: r[:, c["Tg_surface_C"]] - bench_C - TOUCH_MARGIN_K,
        "scuff": lambda r: r[:, c["Tg_top_C"]] - bench_C - SCUFF_MARGIN_K,
        "level": lambda r: r[:, c["Tg_min_C"]] - bench_C - LEVEL_MARGIN_K,
        "buff": lambda r: np.minimum(
            r[:, c["Tg_min_C"]] - bench_C - BUFF_MARGIN_K,
            1e3 * (BUFF_SHRINK - 1 + r[:, c["dry_um"]] / np.maximum(r[:, c["film_um"]], 1e-9)),
        ),
        "case": lambda r: r[:, c["Tg_min_C"]] - bench_C - CASE_MARGIN_K,
        "next_coat": lambda r: 100 * (NEXT_COAT_PHI - r[:, c["phi_mean"]]),
    }


def _opens(rows: Floats, excess: Floats, start_h: float) -> float | None:
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


def windows(history: CureHistory, bench_C: float = 20.0) -> Windows:
    """When each window opens after the last coat, in the history's hours; bench_C is where the work will be done."""
    start = history.last_coat_h
    if start is None:
        return Windows(
            touch_dry_h=None, scuff_h=None, level_h=None, buff_h=None, case_h=None, next_coat_h=None,
            shrink_left_um=dict.fromkeys(WINDOW_NAMES),
        )  # fmt: skip
    rows = history.steps[history.steps[:, 0] > start]
    found: dict[str, float | None] = {}
    for name, excess in excesses(bench_C).items():
        found[name] = _opens(rows, excess(rows), start)
    shrink = rows[:, COLUMN["film_um"]] - rows[:, COLUMN["dry_um"]]
    left: dict[str, float | None] = {}
    for name in WINDOW_NAMES:
        at = found[name]
        left[name] = None if at is None else float(np.interp(at, rows[:, 0], shrink))
    return Windows(
        touch_dry_h=found["touch_dry"], scuff_h=found["scuff"], level_h=found["level"], buff_h=found["buff"],
        case_h=found["case"], next_coat_h=found["next_coat"], shrink_left_um=left,
    )  # fmt: skip
