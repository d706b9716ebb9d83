"""Witness lines: the odds that rubbing out breaks through the top layer of a film whose layers stay apart."""

import math

from ravden.core.errors import need_above

REMOVAL_CV, SPOT_CV = 0.35, 0.07  # [A]
DISSOLVING, DISSOLVING_OLD = (
    0.02,
    0.2,
)  # [A] odds left where coats melt into one: fresh, after 3 months
OLD_H = 24 * 91.0


def _terms(layer_cv: float) -> tuple[float, float]:
    return math.log1p(REMOVAL_CV**2), math.log1p(layer_cv**2) + math.log1p(SPOT_CV**2)


def witness_odds(layer_um: float, removed_um: float, layer_cv: float) -> float:
    """Odds that a typical spot is rubbed through the top layer [-].

    .. math:: P = \\Phi\\left(\\frac{m_R - m_T}{\\sqrt{s_R^2 + s_T^2}}\\right), \\quad m_X = \\ln X - s_X^2/2

    layer_um: top layer since the last sanding boundary [um]; removed_um: what will be rubbed off [um]; layer_cv: of the
    layer, .28 with a new gun, .10 with a known one [A]. Source: two lognormals [S given the spreads].

    >>> [round(witness_odds(*c), 4) for c in ((36, 20, 0.28), (36, 20, 0.10), (36, 30, 0.28), (60, 20, 0.28))]
    [0.0857, 0.0386, 0.3258, 0.0058]
    """
    from scipy.special import ndtr

    need_above(layer_um, 0, "layer_um", 5000)
    need_above(removed_um, 0, "removed_um", 5000)
    need_above(layer_cv, 0, "layer_cv", 3)
    s_r, s_t = _terms(layer_cv)
    gap = (math.log(removed_um) - 0.5 * s_r) - (math.log(layer_um) - 0.5 * s_t)
    return float(ndtr(gap / math.sqrt(s_r + s_t)))


def layer_needed_um(removed_um: float, layer_cv: float, odds: float = 0.10) -> float:
    """Top layer that keeps the odds of a witness line down to ``odds`` [um].

    >>> [round(layer_needed_um(1, cv), 2) for cv in (0.28, 0.10)]
    [1.73, 1.51]
    """
    from scipy.special import ndtri

    need_above(removed_um, 0, "removed_um", 5000)
    need_above(odds, 0, "odds", 0.5)
    s_r, s_t = _terms(layer_cv)
    return float(removed_um * math.exp(-float(ndtri(odds)) * math.sqrt(s_r + s_t) - 0.5 * s_r + 0.5 * s_t))


def dissolving_share(boundary_age_h: float) -> float:
    """What is left of the odds where each coat melts into the one before [-]: more on a boundary over 3 months old."""
    return DISSOLVING_OLD if boundary_age_h > OLD_H else DISSOLVING
