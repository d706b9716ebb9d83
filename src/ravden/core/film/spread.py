"""Quantiles and odds of a Gaussian sum: never a bare mean and sd, which mislead on a thin zone."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ravden.core.film.filter import State

Floats = NDArray[np.float64]

BISECTIONS = 25


def quantiles(state: State, zones: NDArray[np.intp], odds: Sequence[float]) -> Floats:
    """(zones, odds) film [um] at the given odds, all bisected together, clipped at 0."""
    from scipy.special import ndtr

    f = state.film(0) + zones
    w = state.weights[:, None, None]
    m = state.x[:, f, None]
    sd = np.sqrt(np.maximum(state.p[:, f, f], 1e-18))[:, :, None]
    p = np.asarray(odds, dtype=float)[None, :]
    low = np.tile((m - 6 * sd).min(axis=0), (1, p.shape[1]))
    high = np.tile((m + 6 * sd).max(axis=0), (1, p.shape[1]))
    for _ in range(BISECTIONS):
        mid = 0.5 * (low + high)
        below = (w * ndtr((mid - m) / sd)).sum(axis=0) < p
        low, high = np.where(below, mid, low), np.where(below, high, mid)
    return np.asarray(np.maximum(0.5 * (low + high), 0.0))


def along(states: Sequence[State], zone: int, odds: Sequence[float]) -> Floats:
    """(states, odds) film [um] of one zone in state after state, clipped at 0; one bisection for all of them."""
    from scipy.special import ndtr

    most = max(len(s.g) for s in states)
    w, m, sd = (np.full((len(states), most, 1), fill) for fill in (0.0, 0.0, 1.0))
    for i, s in enumerate(states):
        f, n = s.film(zone), len(s.g)
        w[i, :n, 0], m[i, :n, 0] = s.weights, s.x[:, f]
        sd[i, :n, 0] = np.sqrt(np.maximum(s.p[:, f, f], 1e-18))
        m[i, n:, 0], sd[i, n:, 0] = m[i, 0, 0], sd[i, 0, 0]
    p = np.tile(np.asarray(odds, dtype=float), (len(states), 1))
    low = np.tile((m - 6 * sd).min(axis=1), (1, p.shape[1]))
    high = np.tile((m + 6 * sd).max(axis=1), (1, p.shape[1]))
    for _ in range(BISECTIONS):
        mid = 0.5 * (low + high)
        below = (w * ndtr((mid[:, None, :] - m) / sd)).sum(axis=1) < p
        low, high = np.where(below, mid, low), np.where(below, high, mid)
    return np.asarray(np.maximum(0.5 * (low + high), 0.0))


def odds_below(state: State, um: float | Floats) -> Floats:
    """(zones,) probability that each zone's film is less than um, one for all or one a zone."""
    from scipy.special import ndtr

    f = np.arange(state.film(0), state.film(0) + state.zones)
    sd = np.sqrt(np.maximum(state.p[:, f, f], 1e-18))
    return np.asarray(state.weights @ ndtr((um - state.x[:, f]) / sd))
