"""The windows as they were reckoned before they were set anew, for who has worked by them and wants to compare."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ravden.core.cure.evaporative import COLUMN, CureHistory
from ravden.core.cure.film import History, StackHistory
from ravden.core.cure.windows import CASE_MARGIN_K, LEVEL_MARGIN_K, opens

Floats = NDArray[np.float64]

NEXT_COAT_SOLVENT = 0.15  # [A] mean of the film
BUFF_MARGIN_K, BUFF_SHRINK = 15.0, 0.03  # [A] of the whole film
SCUFF_MARGIN_K = 0.0  # [A] of the top, whatever the finish


def windows_before(history: History, bench_C: float) -> dict[str, float | None]:
    """Hours at which each window used to be told to open; history: solved with the constants of then.

    A next coat went by the mean solvent of the whole film, a level and the buff by the whole film, and a level that
    coats follow like the last one. None: not before the history ends, or (next coat) of a film that reacts.
    """
    start = history.last_coat_h
    if start is None:
        return {}
    c = COLUMN
    rules: dict[str, Callable[[Floats], Floats]] = {
        "scuff": lambda r: r[:, c["Tg_top_C"]] - bench_C - SCUFF_MARGIN_K,
        "level": lambda r: r[:, c["Tg_min_C"]] - bench_C - LEVEL_MARGIN_K,
        "buff": lambda r: np.minimum(
            r[:, c["Tg_min_C"]] - bench_C - BUFF_MARGIN_K,
            1e3 * (BUFF_SHRINK - 1 + r[:, c["dry_um"]] / np.maximum(r[:, c["film_um"]], 1e-9)),
        ),
        "case": lambda r: r[:, c["Tg_min_C"]] - bench_C - CASE_MARGIN_K,
    }
    top = history.top if isinstance(history, StackHistory) else history
    if isinstance(top, CureHistory):
        rules["next_coat"] = lambda r: 100 * (NEXT_COAT_SOLVENT - r[:, c["phi_mean"]])
    rows = history.steps[history.steps[:, 0] > start]
    return {name: opens(rows, rule(rows), start) for name, rule in rules.items()}
