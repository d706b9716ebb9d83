"""When to change to the next paper: what handing over early saves in film and in minutes (docs/maths.md).

A paper that has dulled a share F of the panel has not yet reached its lows. The next one takes them, and in doing so
takes off the places touched already what erases the first paper's scratches there. Hold on to 99 %, and that film is
spent twice. Source: heights taken as normal, a hard block that falls as a plane [ENG]; within a tenth of
runs of a simulated firm block at textures of 18 and 35 um, a quarter at 8.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from statistics import NormalDist

from msgspec import Struct

from ravden.core.abrasive.climb import Step
from ravden.core.errors import need_above, need_in

LEVEL = 0.99  # touched: no shiny low is left that one would look for
SHARES = (0.75, 0.90, LEVEL)
HARD = ("rigid", "firm", "orbital")  # a soft pad follows the lows: it has no plane that falls
_NORMAL = NormalDist()
PV_PER_SIGMA = 2 * _NORMAL.inv_cdf(0.995)  # [S] 0.5 to 99.5 % of a normal


class HandOver(Struct, frozen=True, kw_only=True):
    """Both papers together, when the first hands over at a touched share: film at the worst place [um], minutes."""

    touched: float
    film_um: float
    minutes: float


def mean_removed_um(pv_um: float, touched: float) -> float:
    """Mean film gone where a share of a texture has been touched [um].

    .. math:: \\bar r = \\sigma\\,[\\varphi(t) - t\\,(1-\\Phi(t))], \\quad t = -\\Phi^{-1}(F)

    pv_um: peak to valley; touched: 0 to 1. Source: normal algebra.

    >>> [round(mean_removed_um(PV_PER_SIGMA, f), 6) for f in (0.25, 0.75, 0.99)]
    [0.149154, 0.823644, 2.329737]
    """
    need_above(pv_um, 0, "pv_um", 1000)
    need_in(touched, 1e-6, 1 - 1e-9, "touched")
    t = -_NORMAL.inv_cdf(touched)
    return pv_um / PV_PER_SIGMA * (_NORMAL.pdf(t) - t * (1 - _NORMAL.cdf(t)))


def fall_um(pv_um: float, touched: float) -> float:
    """How far the plane still falls from a touched share until it is level [um]: off all places touched already."""
    sigma = pv_um / PV_PER_SIGMA
    return sigma * max(_NORMAL.inv_cdf(LEVEL) - _NORMAL.inv_cdf(touched), 0.0)


def saved_um(pv_um: float, touched: float, need_um: float) -> float:
    """Film that handing over at a share saves against handing over at 99 % [um]; need_um: what erases the first paper's
    scratches.

    >>> [round(saved_um(18, f, 4.24), 3) for f in (0.75, 0.90)], round(saved_um(8, 0.75, 4.24), 3)
    ([4.24, 3.651], 2.565)
    """
    return min(need_um, fall_um(pv_um, touched))


def handing_over(steps: Sequence[Step], pv_um: float) -> tuple[HandOver, ...]:
    """What the first two papers of a ladder cost at each share; nothing where the first levels nothing, the next is no
    paper, or the block is soft."""
    if len(steps) < 2 or pv_um <= 0 or steps[0].rung.backing.id not in HARD:
        return ()
    first, second = steps[:2]
    if second.rung.abrasive.ra_um is not None or second.remove_um <= 0:
        return ()
    whole = mean_removed_um(pv_um, LEVEL)
    out = []
    for touched in SHARES:
        gone, saved = mean_removed_um(pv_um, touched), saved_um(pv_um, touched, second.remove_um)
        rest = whole - gone + second.remove_um - saved
        minutes = first.minutes * gone / whole + second.minutes * rest / second.remove_um
        if math.isfinite(minutes):
            out.append(HandOver(touched=touched, film_um=first.remove_um + second.remove_um - saved, minutes=minutes))
    return tuple(out)
