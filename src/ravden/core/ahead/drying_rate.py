r"""The drying rate of a shop's finish, from looks at its films (docs/maths.md).

Nobody sees the moment T at which a film could be levelled. Seen are ends: a, the last moment it was found soft (0:
never), and b, the first by which a nail held or paper went well (inf: never). With x the ln of the shop's rate,

.. math:: \ln T = \ln t_i + \rho_i - x + s \varepsilon,\quad \varepsilon \sim N(0, 1)

.. math:: L_i(x, s) = m + (1 - m) [\Phi(u_b) - \Phi(u_a) + (1 - d_i)(1 - \Phi(u_b))],\quad
    u = (\ln \cdot - \ln t_i - \rho_i + x + b\,\theta_i) / s

t_i: the likely wait of instrument i from its last coat as it was reckoned at its end, with ln rate rho_i, so that a
rate taken over in between changes nothing; theta_i: how much warmer than 20 C its air was; b: by how much more a degree
counts here than the finish's law says, without which a rate learnt in summer is wrong in winter; s: scatter of one wait
beside the rate, widened by how far its film was not known then (a wait goes with the square of its film); d_i: the
chance that a film still soft at b would have been noticed; m: looks that say nothing. Work done without trouble is an
upper end and no more: with upper ends alone nothing is put forward. What is, is the rate in the air to come, x + b
theta. Source: the time of a reaction goes with one over its rate, interval censoring [S]; priors [A].
"""

from __future__ import annotations

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.ahead.foretold import USUAL_C, WINDOW, Foretold
from ravden.core.record import RATE_LN_SD

MISSEEN = 0.02  # [A] looks that say nothing
WIDE_SHARE, WIDE_LN_SD = 0.2, 0.5  # [A] shops far off the usual, and how far
# [A] sd of b: 50 kJ/mol and 20 either way about 20 C, E / (R T^2); and the values looked at, each with its odds.
PER_K_SD = 0.028
PER_K = tuple(PER_K_SD * z for z in (-1.8, -1.2, -0.6, 0.0, 0.6, 1.2, 1.8))
SPREADS = ((0.07, 0.10), (0.10, 0.20), (0.14, 0.28), (0.20, 0.28), (0.28, 0.14))  # [A] scatter of a wait, and its odds
REACH, STEP = 1.6, 0.02  # [C] of the grid of x
# [C] A rate closer to the one in use, ln and in its own sd, is the same. With .05 and 1 a shop stays up to that far
# off: within a tenth of the truth after thirty instruments in 80 of 90 made-up shops; with these in 86
# (benchmarks/waits.py).
MOVED_LN, MOVED_SD = 0.03, 0.4
FEWEST = 2  # looks on either side before a rate is put forward
CLOSE = math.exp(0.5 * 0.20)  # [A] an upper end so far before the likely moment is a look as well

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rate:
    """A drying rate the looks speak for, to be put forward: mean and sd of ln; spread: sd of ln of one wait by it, its
    scatter counted in; waits: how many; days: how much sooner (less than 0: later) the film is likely ready than
    foretold, of the middle wait; agree: how many say so by themselves."""

    ln_mean: float
    ln_sd: float
    spread: float
    waits: int
    days: float
    agree: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Heard:
    """What the waits of one finish say. rate: mean and sd of its ln, scatter: of one wait beside it; used: ln of the
    rate in use; softs: waits found soft at some time; look_h: when a nail would tell most [h after the last coat];
    forward: what to put forward, None where the looks do not bear it. All of it in the air asked about."""

    ln_mean: float
    ln_sd: float
    scatter: float
    used: float
    waits: int
    softs: int
    look_h: float
    forward: Rate | None


def heard(told: Sequence[Foretold], air_C: float | None = None) -> Heard | None:
    """What is known of a finish's rate after these; None where no wait was looked at. air_C: mean of the air to come,
    None: as it was at the newest of them."""
    waits = sorted((f for f in told if f.what == WINDOW and f.likely > 0 and f.rate_ln is not None), key=lambda f: f.at)
    waits = [f for f in waits if f.came_low > 0 or math.isfinite(f.came_high)]
    if not waits:
        return None
    newest = waits[-1]
    rates, scatters, odds = _posterior(waits, newest.warmer_K if air_C is None else air_C - USUAL_C)
    of_rate, of_s = odds.sum(axis=2), odds.sum(axis=(0, 1))
    mean = float((of_rate * rates).sum())
    sd = math.sqrt(max(float((of_rate * (rates - mean) ** 2).sum()), 0.0))
    scatter = float(of_s @ scatters)
    used = newest.rate_ln
    look_h = newest.likely * math.exp(used - mean)
    found = Heard(
        ln_mean=mean, ln_sd=sd, scatter=scatter, used=used, waits=len(waits),
        softs=sum(f.came_low > 0 for f in waits), look_h=look_h, forward=_forward(waits, mean, sd, scatter, used),
    )  # fmt: skip
    return found


def rate(told: Sequence[Foretold], air_C: float | None = None) -> Rate | None:
    """The rate to put forward; None: too few looks on either side, or the one in use will do. air_C: as of heard."""
    found = heard(told, air_C)
    return None if found is None else found.forward


def _forward(waits: Sequence[Foretold], mean: float, sd: float, scatter: float, used: float) -> Rate | None:
    soft = [f for f in waits if f.came_low > 0]
    hard = [f for f in waits if math.isfinite(f.came_high)]
    near = [f for f in hard if f.came_low > 0 or f.came_high * CLOSE < math.exp(f.at_rate_one - used)]
    if len(soft) < FEWEST or len(near) < FEWEST or abs(mean - used) <= max(MOVED_SD * sd, MOVED_LN):
        return None
    middle = sorted(waits, key=lambda f: f.likely)[len(waits) // 2]
    days = middle.likely * (1.0 - math.exp(middle.rate_ln - mean)) / 24.0
    later = [f for f in soft if f.came_low >= f.likely]
    sooner = [f for f in hard if f.came_high <= f.likely]
    agree = len(sooner) if days > 0 else len(later)
    return Rate(
        ln_mean=mean, ln_sd=sd, spread=math.hypot(sd, scatter), waits=len(waits), days=days, agree=agree
    )  # fmt: skip


def _posterior(waits: Sequence[Foretold], warmer_K: float) -> tuple[Floats, Floats, Floats]:
    """Values of the rate in air so much warmer than 20 C (over x and b), of the scatter, and the odds of each of x, b
    and scatter together."""
    from scipy.special import ndtr

    warm = np.array([f.warmer_K for f in waits])
    per_K = np.array(PER_K if warmer_K or warm.any() else (0.0,))
    x, scatters, log_prior = _prior(len(per_K))
    low = np.array([f.came_low for f in waits])
    high = np.array([f.came_high for f in waits])
    usual = np.array([f.at_rate_one for f in waits])
    unsure = np.array([0.0 if f.known is None else f.known.sd for f in waits])
    of_one = np.hypot(scatters[:, None], unsure[None, :])[None, None, :, :]
    noticed = np.array([f.noticed for f in waits])
    with np.errstate(divide="ignore"):
        ln_low, ln_high = np.log(low), np.log(high)  # -inf: never found soft; inf: never found hard
    shift = x[:, None, None, None] + (per_K[:, None] * warm)[None, :, None, :] - usual
    soft_by = ndtr((ln_low + shift) / of_one)
    hard_by = ndtr((ln_high + shift) / of_one)
    likely = MISSEEN + (1 - MISSEEN) * (hard_by - soft_by + (1 - noticed) * (1 - hard_by))
    log = log_prior + np.log(np.maximum(likely, 1e-300)).sum(axis=3)
    odds = np.exp(log - log.max())
    return x[:, None] + per_K[None, :] * warmer_K, scatters, odds / odds.sum()


@functools.cache
def _prior(degrees: int) -> tuple[Floats, Floats, Floats]:
    x = np.arange(-REACH, REACH + STEP / 2, STEP)
    near = np.exp(-0.5 * (x / RATE_LN_SD) ** 2) / RATE_LN_SD
    wide = np.exp(-0.5 * (x / WIDE_LN_SD) ** 2) / WIDE_LN_SD
    scatters = np.array([s for s, _ in SPREADS])
    of_x = np.log((1 - WIDE_SHARE) * near + WIDE_SHARE * wide)
    of_b = np.array([-0.5 * (b / PER_K_SD) ** 2 for b in PER_K]) if degrees > 1 else np.zeros(1)
    of_s = np.log(np.array([p for _, p in SPREADS]))
    return x, scatters, of_x[:, None, None] + of_b[None, :, None] + of_s[None, None, :]
