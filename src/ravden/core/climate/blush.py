"""Whether a coat laid in some air blushes, and what else keeps it from becoming a sound film: one question, asked by
panels, plans, headings and counsel."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.core.climate.air import dew_point_C, spare_K

if TYPE_CHECKING:
    from ravden.core.record import Air, Material

SPRAYED_UM, BRUSHED_UM = 65.0, 30.0  # [A] of a wet coat: a padded or brushed one chills half as much
MOST_CHILL_K = 12.0  # more than any coat falls below its air: drier air need not be reckoned
BY_HAND = ("pad", "brush", "wipe")
USUAL, SLOW = "medium", "slow"


def blushes(material: Material, temp_C: float, rh: float, thinner: str = USUAL, by: str = "") -> bool:
    """Whether a coat chills below the dew point of its air and turns white; only what dissolves does. by: how it is
    laid, empty: sprayed. Source: the energy balance of a drying coat (core/climate/air.py)."""
    if not material.dissolving or rh <= 0 or temp_C - dew_point_C(temp_C, min(rh, 1.0)) > MOST_CHILL_K:
        return False
    return spare_K(BRUSHED_UM if by in BY_HAND else SPRAYED_UM, temp_C, min(rh, 1.0), thinner) < 0


def hindered(material: Material, air: Air, by: str = "") -> str:
    """What keeps a coat that is laid in some air from a sound film: cold, damp, blush whatever the thinner, or
    nothing."""
    found = material.hindered(air.temp_C, air.rh)
    return found or ("blush" if blushes(material, air.temp_C, air.rh, SLOW, by) else "")


def slow_only(material: Material, air: Air, by: str = "") -> bool:
    """Whether a coat blushes in some air with the usual thinner, and not with slow."""
    usual = blushes(material, air.temp_C, air.rh, USUAL, by)
    return usual and not blushes(material, air.temp_C, air.rh, SLOW, by)
