"""Dew point, and how cold a drying coat gets (docs/maths.md)."""

import math
from dataclasses import dataclass

from ravden.core.errors import InputError, need_above, need_in

MAGNUS_B, MAGNUS_C = 17.62, 243.12  # [S] Magnus over water, 0 to 60 C
EVAPORATION_J_M3 = 840.0 * 430e3  # [A] solvent density [kg/m3] x heat of evaporation [J/kg], a middling blend
AIR_W_M2K = 12.0  # [A] heat transfer in a booth's moving air
WOOD_EFFUSIVITY = 330.0  # [A] wood, W s^0.5 / (m2 K)
REFERENCE_C, DOUBLING_K = 25.0, 14.0  # [C] evaporation doubles every 14 K


@dataclass(frozen=True, slots=True, kw_only=True)
class Blend:
    """A thinner: early loss at 25 C [um/s], how long 100 um keeps losing at that pace [s], and its pace against the
    middling one [-]; all [A]."""

    loss_um_s: float
    last_100_s: float
    pace: float


BLENDS = {
    "fast": Blend(loss_um_s=1.0, last_100_s=60.0, pace=1.5),
    "medium": Blend(loss_um_s=0.55, last_100_s=90.0, pace=1.0),
    "slow": Blend(loss_um_s=0.28, last_100_s=120.0, pace=0.55),
}


def dew_point_C(temp_C: float, rh: float) -> float:
    """Temperature at which the air's moisture condenses [C].

    .. math:: \\gamma = \\ln RH + \\frac{b T}{c + T}, \\quad T_d = \\frac{c \\gamma}{b - \\gamma}

    temp_C: air, -20 to 80 [C]; rh: 0 < RH <= 1 [-]. Source: Magnus formula [S].

    >>> round(dew_point_C(25, 0.60), 2)
    16.69
    """
    need_in(temp_C, -20, 80, "temp_C", "C")
    need_above(rh, 0, "rh", 1 + 1e-9)
    gamma = math.log(rh) + MAGNUS_B * temp_C / (MAGNUS_C + temp_C)
    return MAGNUS_C * gamma / (MAGNUS_B - gamma)


def evaporation_factor(temp_C: float) -> float:
    """Pace of evaporation against 25 C [-].

    >>> evaporation_factor(39)
    2.0
    """
    return float(2.0 ** ((temp_C - REFERENCE_C) / DOUBLING_K))


def blend(name: str) -> Blend:
    """A thinner by name."""
    if name not in BLENDS:
        raise InputError("blend", f"must be one of {', '.join(BLENDS)} (got {name})")
    return BLENDS[name]


def cooling_K(wet_um: float, temp_C: float, thinner: str = "medium") -> float:
    """How far below the air the surface of a fresh coat on wood falls [K].

    .. math:: \\Delta T = \\frac{q}{h_c} \\left(1 - \\mathrm{erfcx}\\, \\frac{h_c \\sqrt t}{e}\\right)

    with q the heat of evaporation and t the time the coat keeps losing. Source: semi-infinite solid with a steady sink
    [S]; blend, air and wood are [A].

    >>> [round(cooling_K(100, 25, b), 1) for b in ("fast", "medium", "slow")]
    [7.6, 4.9, 2.8]
    """
    from scipy.special import erfcx

    need_above(wet_um, 0, "wet_um", 1e4)
    made, factor = blend(thinner), evaporation_factor(temp_C)
    q = made.loss_um_s * factor * 1e-6 * EVAPORATION_J_M3
    t = made.last_100_s * wet_um / 100.0 / factor
    return float(q / AIR_W_M2K * (1.0 - erfcx(AIR_W_M2K * math.sqrt(t) / WOOD_EFFUSIVITY)))


def spare_K(wet_um: float, temp_C: float, rh: float, thinner: str = "medium") -> float:
    """Surface temperature of a fresh coat over the dew point [K]; below 0 the film blushes.

    >>> round(spare_K(100, 25, 0.5, "medium"), 1)
    6.3
    """
    return temp_C - cooling_K(wet_um, temp_C, thinner) - dew_point_C(temp_C, rh)
