"""What a reading, or a look at the wood, does to the Gaussian sum under the ledger (docs/maths.md).

Each function takes a state and gives the next one. Any scalar u = h.x that something was learnt about goes the same
way: its mean and variance in every node before, after, and how well the node foretold it.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ravden.core.film import filter as gsf
from ravden.core.film.filter import Priors, State

Floats = NDArray[np.float64]

SURE_OF_FILM = 4.0  # mean over sd beyond which "there is film left" says nothing
OUTLIER_SHARE, OUTLIER_WIDTH = 0.02, 6.0  # [A] readings that are plain wrong, and how much wider they scatter
MISREAD, MISREAD_DENSITY = 0.02, 0.05  # [A] combs read wrong, and what such a reading is worth
MISREPORTED = 0.02  # [A] sand-throughs that were none
LEFT_CV = 0.15  # [A] spread of the film under a colour that shows
DUG = 0.02  # [A] sandings that go through in one place though the film would have borne them
THINNEST_OF_TEN = 1.54  # [S] expected least of ten normal draws, in sd


@dataclass(frozen=True, slots=True, kw_only=True)
class Read:
    """The state after a reading, and what was expected of it: mean, sd, and the odds that it was a good reading."""

    state: State
    expected: float
    sd: float
    good: float


def picked(state: State, index: int) -> Floats:
    """(J, m) rows that pick one component of the state."""
    h = np.zeros_like(state.x)
    h[:, index] = 1.0
    return h


def product(state: State, index: int, gain: int, near: Floats) -> tuple[Floats, Floats]:
    """u = (1 + b) x linearised in every node about ``near`` for x: rows h and the constant."""
    b = state.x[:, gain]
    h = np.zeros_like(state.x)
    h[:, index], h[:, gain] = 1.0 + b, near
    return h, -near * b


def with_gain(state: State, index: int, gain: int, y: float, noise: float) -> Read:
    """y = (1 + b) x + noise, with the gain error b shared by all readings of its kind.

    The product is taken at an iterated point: where x would be after the reading. Left at the mean before it, a first
    reading far from it leaves the film a fifth too uncertain.
    """
    x, b = state.x[:, index], state.x[:, gain]
    v_x, v_gain = state.p[:, index, index], state.p[:, gain, gain]
    near = x + v_x / (v_x + noise + v_gain * y * y) * (y - x * (1.0 + b))
    return linear(state, *product(state, index, gain, near), y, noise)


def linear(state: State, h: Floats, const: Floats, y: float, noise: float | Floats) -> Read:
    """y = h.x + const + noise, where a share of readings is plain wrong (contaminated normal)."""
    m0, v0 = gsf.scalar(state, h, const)
    spread = v0 + noise
    miss = (y - m0) ** 2
    log_clean = -0.5 * (np.log(spread) + miss / spread)
    wide = v0 + np.multiply(noise, OUTLIER_WIDTH**2)
    log_wide = -0.5 * (np.log(wide) + miss / wide)
    w = state.weights
    clean, wrong = (1 - OUTLIER_SHARE) * np.exp(log_clean), OUTLIER_SHARE * np.exp(log_wide)
    total = float(w @ (clean + wrong))
    good = float(w @ clean) / total if total > 0 else 0.0
    # Collapsing a clear case would only blur it: above .8 it is a good reading, below .05 a wrong one.
    if good > 0.8:
        used, log_evidence = spread - v0, log_clean
    elif good < 0.05:
        used, log_evidence = wide - v0, log_wide
    else:
        used = (spread - v0) * (good + (1 - good) * OUTLIER_WIDTH**2)
        log_evidence = np.log(clean + wrong + 1e-290)
    gain = v0 / (v0 + used)
    after = gsf.condition(state, h, m0 + gain * (y - m0), v0 * (1 - gain), log_evidence, m0, v0)
    mean = float(w @ m0)
    return Read(state=after, expected=mean, sd=float(np.sqrt(w @ (spread + (m0 - mean) ** 2))), good=good)


def between(state: State, index: int, gain: int, low: float, high: float, share: float) -> Read:
    """u = (1 + b) x seen between low and high; share: own noise of each sighting, as a share of x."""
    h, const = product(state, index, gain, state.x[:, index])
    m0, v0 = gsf.scalar(state, h, const)
    noise = (share * state.x[:, index]) ** 2
    wide = v0 + noise
    log_in, mean_in, var_in = gsf.truncated(m0, wide, low, high)
    kept = v0 / wide
    mean = m0 + kept * (mean_in - m0)
    var = v0 * (1 - kept) + kept**2 * var_in
    inside = (1 - MISREAD) * np.exp(log_in)
    floor = np.full_like(m0, MISREAD * MISREAD_DENSITY)
    after = mixed(state, h, m0, v0, (inside, mean, var), (floor, m0, v0))
    w = state.weights
    expected = float(w @ m0)
    good = float(w @ inside) / float(w @ (inside + floor))
    return Read(state=after, expected=expected, sd=float(np.sqrt(w @ (wide + (m0 - expected) ** 2))), good=good)


def mixed(
    state: State, h: Floats, m0: Floats, v0: Floats, one: tuple[Floats, Floats, Floats],
    two: tuple[Floats, Floats, Floats],
) -> State:  # fmt: skip
    """Collapse two weighted outcomes (weight, mean, variance) of the scalar h.x to their joint mean and variance."""
    total = np.maximum(one[0] + two[0], 1e-290)
    a = one[0] / total
    mean = a * one[1] + (1 - a) * two[1]
    var = a * (one[2] + (one[1] - mean) ** 2) + (1 - a) * (two[2] + (two[1] - mean) ** 2)
    return gsf.condition(state, h, mean, var, np.log(total), m0, v0)


def thin_spot(state: State, zone: int, laid_um: float, priors: Priors) -> Floats:
    """How much thinner than the zone's mean its thinnest of about ten patches is, in every node [um]."""
    return np.asarray(THINNEST_OF_TEN * priors.spot * laid_um * state.g * state.x[:, state.k(zone)])


def still_film(state: State, zone: int, noticed: float, less: Floats | float = 0.0) -> State:
    """F - less > 0, where a sand-through would have been noticed with these odds."""
    h = picked(state, state.film(zone))
    m0, v0 = gsf.scalar(state, h, np.zeros(len(state.g)) - less)
    if bool((m0 > SURE_OF_FILM * np.sqrt(v0)).all()):
        return state
    log_up, mean_up, var_up = gsf.truncated(m0, v0, 0.0, np.inf)
    log_dn, mean_dn, var_dn = gsf.truncated(m0, v0, -np.inf, 0.0)
    up, down = np.exp(log_up), (1.0 - noticed) * np.exp(log_dn)
    return mixed(state, h, m0, v0, (up, mean_up, var_up), (down, mean_dn, var_dn))


def seen_through(state: State, zone: int) -> State:
    """F <= 0: somebody saw wood or colour in all of the zone.

    Whatever was expected, the report is wrong in only 2 % of cases [A]: the 2 % is the share after hearing it, not
    before, and does not grow because the sand-through came as a surprise.
    """
    h = picked(state, state.film(zone))
    m0, v0 = gsf.scalar(state, h, np.zeros(len(state.g)))
    log_dn, mean_dn, var_dn = gsf.truncated(m0, v0, -np.inf, 0.0)
    _, mean_up, var_up = gsf.truncated(m0, v0, 0.0, np.inf)
    down = np.exp(log_dn)
    return mixed(
        state, h, m0, v0, ((1 - MISREPORTED) * down, mean_dn, var_dn), (MISREPORTED * down, mean_up, var_up)
    )  # fmt: skip


def through_or_dug(state: State, zone: int, less: Floats | float = 0.0) -> State:
    """F - less <= 0, or a sound film was cut harder than was told: by a block's corner, a finger or a nib in one place,
    or all over. The thicker the film was believed, the likelier that is.

    Weights (S, Bayes): the odds of so thin a film before it was seen, against DUG of the rest.
    """
    h = picked(state, state.film(zone))
    m0, v0 = gsf.scalar(state, h, np.zeros(len(state.g)) - less)
    log_dn, mean_dn, var_dn = gsf.truncated(m0, v0, -np.inf, 0.0)
    log_up, mean_up, var_up = gsf.truncated(m0, v0, 0.0, np.inf)
    return mixed(state, h, m0, v0, (np.exp(log_dn), mean_dn, var_dn), (DUG * np.exp(log_up), mean_up, var_up))


def bared(state: State, zone: int, left_um: float = 0.0) -> State:
    """The zone starts again from next to nothing, apart from what the rest is known by; left_um: film that is left."""
    x, p, f = state.x.copy(), state.p.copy(), state.film(zone)
    x[:, f] = max(left_um, 0.5)
    p[:, f, :], p[:, :, f] = 0.0, 0.0
    p[:, f, f] = 1.0 + (LEFT_CV * left_um) ** 2
    return replace(state, x=x, p=p)
