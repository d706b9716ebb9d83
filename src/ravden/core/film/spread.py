"""Quantiles and odds of a Gaussian sum: never a bare mean and sd, which mislead on a thin zone."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.film.filter import State

Floats = NDArray[np.float64]

BISECTIONS = 25


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Marginals:
    """Each zone's film by itself, without how the zones hang together. w: (J,) weights; mean: (J, zones) [um]; var: (J,
    zones) [um2]. A fiftieth of the state it comes from."""

    w: Floats
    mean: Floats
    var: Floats

    def of(self, zones: NDArray[np.intp]) -> "Marginals":
        """Of these zones alone."""
        return Marginals(w=self.w, mean=self.mean[:, zones], var=self.var[:, zones])


def marginals(state: State) -> Marginals:
    """What a state says of every zone's film."""
    f = np.arange(state.film(0), state.film(0) + state.zones)
    return Marginals(w=state.weights, mean=state.x[:, f], var=state.p[:, f, f])


def quantiles(of: Marginals, odds: Sequence[float]) -> Floats:
    """(zones, odds) film [um] at the given odds, all bisected together, clipped at 0."""
    from scipy.special import ndtr

    w = of.w[:, None, None]
    m = of.mean[:, :, None]
    sd = np.sqrt(np.maximum(of.var, 1e-18))[:, :, None]
    p = np.asarray(odds, dtype=float)[None, :]
    low = np.tile((m - 6 * sd).min(axis=0), (1, p.shape[1]))
    high = np.tile((m + 6 * sd).max(axis=0), (1, p.shape[1]))
    for _ in range(BISECTIONS):
        mid = 0.5 * (low + high)
        below = (w * ndtr((mid - m) / sd)).sum(axis=0) < p
        low, high = np.where(below, mid, low), np.where(below, high, mid)
    return np.asarray(np.maximum(0.5 * (low + high), 0.0))


def along(states: Sequence[Marginals], zone: int, odds: Sequence[float]) -> Floats:
    """(states, odds) film [um] of one zone in state after state, clipped at 0; one bisection for all of them."""
    from scipy.special import ndtr

    most = max(len(s.w) for s in states)
    w, m, sd = (np.full((len(states), most, 1), fill) for fill in (0.0, 0.0, 1.0))
    for i, s in enumerate(states):
        n = len(s.w)
        w[i, :n, 0], m[i, :n, 0] = s.w, s.mean[:, zone]
        sd[i, :n, 0] = np.sqrt(np.maximum(s.var[:, zone], 1e-18))
        m[i, n:, 0], sd[i, n:, 0] = m[i, 0, 0], sd[i, 0, 0]
    p = np.tile(np.asarray(odds, dtype=float), (len(states), 1))
    low = np.tile((m - 6 * sd).min(axis=1), (1, p.shape[1]))
    high = np.tile((m + 6 * sd).max(axis=1), (1, p.shape[1]))
    for _ in range(BISECTIONS):
        mid = 0.5 * (low + high)
        below = (w * ndtr((mid[:, None, :] - m) / sd)).sum(axis=1) < p
        low, high = np.where(below, mid, low), np.where(below, high, mid)
    return np.asarray(np.maximum(0.5 * (low + high), 0.0))


def odds_below(of: Marginals, um: float | Floats) -> Floats:
    """(zones,) probability that each zone's film is less than um, one for all or one a zone."""
    from scipy.special import ndtr

    return np.asarray(of.w @ ndtr((um - of.mean) / np.sqrt(np.maximum(of.var, 1e-18))))
