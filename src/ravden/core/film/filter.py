"""The filter under the ledger: a Gaussian sum over the applicator's factor g (docs/maths.md).

Each node j holds g_j and a Gaussian over [e, s, tv, cb, gb, wb, a_1..q, k_1..n, F_1..n, I_1..n]: the rest of the
applicator's factor inside the node, the sanding factor, the shared errors of volumes, combs, gauge and card, the
factors of other applicators, each zone's deposit factor, film and last coat. Nodes share one shape, so every step is
one array operation over all of them. A count nobody is sure of doubles the nodes: one set for each number it may have
been.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ravden.core.errors import need

Floats = NDArray[np.float64]

E, S, TV, CB, GB, WB, FIRST_OTHER = range(7)
NODE_WIDTH, NODE_SPACING, NODE_REACH = 0.08, 0.11, 3.3  # [C] component width, spacing and reach in ln g
NEGLIGIBLE = np.log(1e-9)  # nodes this far below the likeliest are dropped


MOST_LN = 5.0  # of what is believed of an applicator, as a logarithm: e^5 is 150 times the film meant


@dataclass(frozen=True, slots=True, kw_only=True)
class Priors:
    """Spreads of the model, as coefficients of variation unless said [A] (docs/maths.md)."""

    g_ln_mean: float = 0.0
    g_ln_sd: float = 0.24622068  # sqrt(ln(1 + .25^2)): a gun not yet learnt
    coat_common: float = 0.07
    coat_zone: float = 0.07
    sanding_shared: float = 0.25
    sanding_each: float = 0.25
    volume_bias: float = 0.18
    comb_bias: float = 0.12
    gauge_gain: float = 0.03
    card_gain: float = 0.04
    other_applicator: float = 0.30
    absorption: float = 0.40
    spot: float = 0.07
    gauge_um: float = 3.0
    micrometer_um: float = 4.0
    card_um: float = 1.0
    volume_share: float = 0.05
    noticed: float = 0.95  # share of sand-throughs that would have been seen

    def __post_init__(self) -> None:
        for name in self.__slots__:
            value = getattr(self, name)
            low = -5.0 if name == "g_ln_mean" else 0.0
            high = MOST_LN if name.startswith("g_ln") else 100.0
            need(low <= value <= high, f"priors.{name}", f"must be between {low:g} and {high:g} (got {value:g})")
        need(self.g_ln_sd > 0, "priors.g_ln_sd", "must be greater than 0")

    def cautious(self, times: float = 1.5) -> "Priors":
        """The same with every spread wider: for who does not trust the defaults."""
        kept = ("g_ln_mean", "noticed")
        return Priors(**{n: getattr(self, n) * (1.0 if n in kept else times) for n in self.__slots__})


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class State:
    """A Gaussian sum. g: (J,) node factors; log_w: (J,); x: (J, m) means; p: (J, m, m) covariances; zones: n; others:
    q; counts: (J, groups) how many coats each uncertain group had in that node."""

    g: Floats
    log_w: Floats
    x: Floats
    p: Floats
    zones: int
    others: int
    counts: Floats

    @property
    def first_zone(self) -> int:
        return FIRST_OTHER + self.others

    def k(self, zone: int) -> int:
        return self.first_zone + zone

    def film(self, zone: int) -> int:
        return self.first_zone + self.zones + zone

    def last(self, zone: int) -> int:
        return self.first_zone + 2 * self.zones + zone

    @property
    def weights(self) -> Floats:
        w: Floats = np.exp(self.log_w - self.log_w.max())
        out: Floats = w / w.sum()
        return out

    def moments(self, index: int) -> tuple[float, float]:
        """Mean and standard deviation of one component of the state."""
        w = self.weights
        mean = float(w @ self.x[:, index])
        var = float(w @ (self.p[:, index, index] + (self.x[:, index] - mean) ** 2))
        return mean, float(np.sqrt(max(var, 0.0)))

    def pruned(self) -> "State":
        """Without the nodes that no longer matter."""
        keep = self.log_w > self.log_w.max() + NEGLIGIBLE
        if keep.all():
            return self
        return replace(
            self, g=self.g[keep], log_w=self.log_w[keep], x=self.x[keep], p=self.p[keep], counts=self.counts[keep]
        )


def joined(states: Sequence[State], log_odds: Sequence[float], counts: Sequence[float]) -> State:
    """The states of several hypotheses about a count as one, each weighted by its odds."""
    grown = [np.column_stack([s.counts, np.full(len(s.g), n)]) for s, n in zip(states, counts, strict=True)]
    return replace(
        states[0],
        g=np.concatenate([s.g for s in states]),
        log_w=np.concatenate([s.log_w + o for s, o in zip(states, log_odds, strict=True)]),
        x=np.concatenate([s.x for s in states]),
        p=np.concatenate([s.p for s in states]),
        counts=np.concatenate(grown),
    )


def start(k_mean: Floats, k_cv: Floats, priors: Priors, others: int = 0) -> State:
    """Bare wood: no film, and the priors on everything else."""
    n = len(k_mean)
    width = min(NODE_WIDTH, 0.999 * priors.g_ln_sd)
    spread = np.sqrt(priors.g_ln_sd**2 - width**2)
    half = int(np.ceil(NODE_REACH * spread / NODE_SPACING))
    offsets = np.arange(-half, half + 1) * NODE_SPACING if half else np.zeros(1)
    log_w = -(offsets**2) / (2 * spread**2) if half else np.zeros(1)
    g = np.exp(priors.g_ln_mean + offsets + 0.5 * width**2)
    first = FIRST_OTHER + others
    m = first + 3 * n
    x = np.zeros(m)
    x[S] = 1.0
    x[FIRST_OTHER:first] = 1.0
    x[first : first + n] = k_mean
    spreads = np.zeros(m)
    spreads[[E, S, TV, CB, GB, WB]] = (
        width, priors.sanding_shared, priors.volume_bias, priors.comb_bias, priors.gauge_gain, priors.card_gain
    )  # fmt: skip
    spreads[FIRST_OTHER:first] = priors.other_applicator
    spreads[first : first + n] = k_mean * k_cv
    j = len(g)
    return State(
        g=g, log_w=log_w, x=np.tile(x, (j, 1)), p=np.tile(np.diag(spreads**2), (j, 1, 1)), zones=n, others=others,
        counts=np.zeros((j, 0)),
    )  # fmt: skip


def add_coats(
    state: State, dry_um: Floats, priors: Priors, count: float = 1.0, other: int | None = None, count_var: float = 0.0
) -> State:
    """Lay ``count`` coats of nominal dry_um (one value a zone, 0 where masked) on top.

    other: which of the other applicators laid them, None for the one on the grid; count_var: variance of the count,
    the same for all zones.
    """
    n, j, m = state.zones, len(state.g), state.x.shape[1]
    first = state.first_zone
    ks, fs = slice(first, first + n), slice(first + n, first + 2 * n)
    ls = slice(first + 2 * n, first + 3 * n)
    factor = E if other is None else FIRST_OTHER + other
    k = state.x[:, ks]
    if other is None:
        one_e = 1.0 + state.x[:, E : E + 1]
        per_k = state.g[:, None] * dry_um[None, :]
    else:
        one_e = state.x[:, factor : factor + 1]
        per_k = np.tile(dry_um, (j, 1))
    one = per_k * k * one_e
    lay = np.zeros((j, n, m))
    lay[:, :, factor] = count * per_k * k
    lay[:, np.arange(n), first + np.arange(n)] = count * per_k * one_e
    move = np.tile(np.eye(m), (j, 1, 1))
    move[:, ls, :] = lay
    move[:, fs, :] += lay
    x = state.x.copy()
    x[:, ls] = count * one
    x[:, fs] += count * one
    p = move @ state.p @ move.transpose(0, 2, 1)
    zone = np.arange(first, first + n)
    var_k = state.p[:, zone, zone]
    noise = (count * priors.coat_common**2 + count_var) * one[:, :, None] * one[:, None, :]
    own = count * priors.coat_zone**2 * one**2 + (count * per_k) ** 2 * var_k * state.p[:, factor, factor][:, None]
    noise[:, np.arange(n), np.arange(n)] += own
    for a in (fs, ls):
        for b in (fs, ls):
            p[:, a, b] += noise
    return replace(state, x=x, p=p)


def remove(state: State, um: Floats, cv: float, priors: Priors, shared: bool = True) -> State:
    """Take um (one value a zone) off; shared: times this sander's factor, otherwise by itself (absorption)."""
    n, m = state.zones, state.x.shape[1]
    at = np.arange(state.film(0), state.film(0) + n)
    x = state.x.copy()
    p = state.p
    if shared:
        move = np.eye(m)
        move[at, S] = -um
        x[:, at] -= um * state.x[:, S : S + 1]
        p = move @ p @ move.T
        size = np.maximum(state.x[:, S] ** 2 + state.p[:, S, S], 0.05)[:, None]
    else:
        p = p.copy()
        x[:, at] -= um
        size = np.ones((len(state.g), 1))
    p[:, at, at] += (um * cv) ** 2 * size
    return replace(state, x=x, p=p)


def condition(
    state: State, h: Floats, mean: Floats, var: Floats, log_evidence: Floats, m0: Floats, v0: Floats
) -> State:
    """Move the scalar u = h.x of every node from (m0, v0) to (mean, var), and reweigh the nodes."""
    ph = np.einsum("jab,jb->ja", state.p, h)
    gain = ph / v0[:, None]
    x = state.x + gain * (mean - m0)[:, None]
    p = state.p + gain[:, :, None] * gain[:, None, :] * (var - v0)[:, None, None]
    return replace(state, x=x, p=p, log_w=state.log_w + log_evidence).pruned()


def scalar(state: State, h: Floats, const: Floats) -> tuple[Floats, Floats]:
    """Mean and variance of u = h.x + const in every node. h: (J, m)."""
    mean = np.einsum("ja,ja->j", h, state.x) + const
    var = np.einsum("ja,jab,jb->j", h, state.p, h)
    return mean, np.maximum(var, 1e-12)


def truncated(mean: Floats, var: Floats, low: float, high: float) -> tuple[Floats, Floats, Floats]:
    """log probability, mean and variance of a normal confined to [low, high], element by element.

    Worked in the left tail with log Phi so that far tails keep their digits; log probability is clipped at -600.
    """
    from scipy.special import log_ndtr

    sd = np.sqrt(var)
    a, b = (low - mean) / sd, (high - mean) / sd
    flip = a + b > 0
    a, b = np.where(flip, -b, a), np.where(flip, -a, b)
    log_b, log_a = log_ndtr(b), log_ndtr(a)
    with np.errstate(divide="ignore"):  # of nothing left between the ends: clipped below
        log_z = log_b + np.log1p(-np.exp(np.minimum(log_a - log_b, -1e-300)))
    log_z = np.maximum(log_z, -600.0)
    half_log_2pi = 0.9189385332046727
    with np.errstate(over="ignore", invalid="ignore", under="ignore"):
        dens_a = np.where(np.isfinite(a), np.exp(-0.5 * a * a - half_log_2pi - log_z), 0.0)
        dens_b = np.where(np.isfinite(b), np.exp(-0.5 * b * b - half_log_2pi - log_z), 0.0)
        a_term = np.where(np.isfinite(a), a, 0.0) * dens_a
        b_term = np.where(np.isfinite(b), b, 0.0) * dens_b
    shift = dens_a - dens_b
    share = np.maximum(1.0 + a_term - b_term - shift**2, 1e-9)
    shift = np.where(flip, -shift, shift)
    return log_z, mean + sd * shift, var * share
