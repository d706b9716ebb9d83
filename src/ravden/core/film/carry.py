"""What one instrument teaches about an applicator, carried to the next (docs/maths.md)."""

import math
from dataclasses import dataclass

from ravden.core.errors import need_above, need_in

BETWEEN_INSTRUMENTS = 0.08  # [A] sd of ln g from one instrument to another with the same gun
DRIFT = 0.03  # [A] sd of ln g that wear and settings add with every instrument


@dataclass(frozen=True, slots=True, kw_only=True)
class Learnt:
    """Belief about ln g of an applicator: mean and variance; for the next instrument the variance is wider."""

    mean: float
    var: float

    def __post_init__(self) -> None:
        need_in(self.mean, -3, 3, "ln_mean")
        need_above(self.var, 0, "ln_var", 9)

    @property
    def for_next(self) -> tuple[float, float]:
        """Mean and sd of ln g to start an instrument with."""
        return self.mean, math.sqrt(self.var + BETWEEN_INSTRUMENTS**2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What one instrument says of ln g by itself, and its variance as word on the applicator: infinite where it was
    sprayed and says nothing."""

    ln: float
    var: float


def evidence(before: Learnt, ended_mean: float, ended_sd: float) -> Evidence:
    """What an instrument says that started from ``before.for_next`` and ended at this mean and sd of ln g: what it
    ended with less what it started with, in precisions. Source: product of normals [S]."""
    start = before.var + BETWEEN_INSTRUMENTS**2
    precision = 1 / ended_sd**2 - 1 / start
    if precision <= 0:
        return Evidence(ln=0.0, var=math.inf)
    ln = (ended_mean / ended_sd**2 - before.mean / start) / precision
    return Evidence(ln=ln, var=1 / precision + BETWEEN_INSTRUMENTS**2)


def told(before: Learnt, said: Evidence) -> Learnt:
    """The belief with the evidence of one instrument more; where it taught nothing, only the drift is added."""
    gain = before.var / (before.var + said.var)
    return Learnt(mean=before.mean + gain * (said.ln - before.mean), var=before.var * (1 - gain) + DRIFT**2)


def carry(before: Learnt, ended_mean: float, ended_sd: float) -> Learnt:
    """The belief after an instrument that started from ``before.for_next`` and ended at this mean and sd of ln g.

    Source: product of normals [S]; the two spreads are [A].

    >>> c = carry(Learnt(mean=0, var=0.0536), 0.15, 0.05)
    >>> round(c.mean, 5), round(c.var, 7)
    (0.134, 0.0086124)
    """
    return told(before, evidence(before, ended_mean, ended_sd))
