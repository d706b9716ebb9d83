"""How much light a film wants."""

import math

from ravden.core.cure.models import LightCure
from ravden.core.errors import need_above

HARD_DOSE = math.log(10) / math.log(2)  # [S] dose at which nine tenths are cured, in doses that set it
LIGHT_SPARE = 1.3  # [A] dose given over the one that cures the nominal film down to the wood


def full_dose(model: LightCure, film_um: float) -> float:
    """Dose that cures a film down to the wood [mJ/cm2].

    .. math:: D = D_{gel}\\, e^{h / \\delta}\\, \\frac{\\ln 10}{\\ln 2}\\, s

    film_um: nominal film [um]; s: spare. Source: the working curve of light cure [S]; its constants and s are [A].

    >>> round(full_dose(LightCure(depth_um=150, gel_mJ_cm2=20, rest_min=15, Tg0_C=-60, Tg1_C=78, bend=.45), 300))
    638
    """
    need_above(film_um, 0, "film_um", 5000)
    return model.gel_mJ_cm2 * math.exp(film_um / model.depth_um) * HARD_DOSE * LIGHT_SPARE
