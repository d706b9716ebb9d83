"""How heavy a wet coat may be: the window between too dry to flow and heavy enough to run (docs/maths.md).

A calibrated scaling law, not a guarantee: viscosity and the sag that counts as one were chosen so that the limits look
like workshop coats; only how they move with thinning, warmth, humidity and slope is physics. Logged sags and dry spray
rescale it.
"""

import math
from dataclasses import dataclass

from ravden.core.climate.air import blend, evaporation_factor, spare_K
from ravden.core.errors import need, need_above, need_in
from ravden.core.materials.mixing import landed_solids, thinned_solids

G_M_S2 = 9.81  # [S]
SAG_M = 0.003  # [C] movement that counts as a sag
RIPPLE_M, FLATTENED = 0.003, 5.0  # [A] ripple that must flow out, and by how much
RETURN_S = 15.0  # [A] time until the next pass lands
LEAST_UM = 25.0  # [A] thinner than this never wets the surface
THINNING_D = 0.157  # [C] solids that halve viscosity tenfold while thinning, from the two lacquer rows
GEL_S, GEL_REST_PA_S = 480.0, 20.0  # [A] [C] a gelling resin
HAZE_AT_HALF = 0.5
WARN_K = 1.5  # [A] spare over the dew point that deserves a warning


@dataclass(frozen=True, slots=True, kw_only=True)
class Flow:
    """How a finish flows while it dries: a row of ``data/families.csv``.

    solids [-]; eta_Pa_s: low-shear viscosity as supplied; rise: solids that raise viscosity tenfold [-]; loss_um_s:
    early evaporation at 25 C; no_flow: solids at which it stops flowing [-]; tension_N_m; density_kg_m3; flat_um:
    wet film beyond which a flat coat traps solvent or hazes; flight_loss [-]; water: dries as water does; gels: sets
    by itself; blushes: its solvent chills it below the dew point in damp air.
    """

    solids: float
    eta_Pa_s: float
    rise: float
    loss_um_s: float
    no_flow: float
    tension_N_m: float
    density_kg_m3: float
    flat_um: float
    flight_loss: float
    water: bool = False
    gels: bool = False
    blushes: bool = False

    def __post_init__(self) -> None:
        need_above(self.solids, 0, "solids", 1 + 1e-9)
        need_above(self.eta_Pa_s, 0, "eta_Pa_s", 1e4)
        need(self.gels or (self.rise > 0 and self.loss_um_s > 0), "rise", "a drying finish needs its rise and loss")


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions:
    """Air and handling: temp_C, rh [-], slope of the surface from level [deg], thinner to material by volume [-],
    and the thinner's pace (fast, medium, slow)."""

    temp_C: float = 22.0
    rh: float = 0.5
    slope_deg: float = 90.0
    thinner_ratio: float = 0.0
    thinner: str = "medium"

    def __post_init__(self) -> None:
        need_in(self.temp_C, 0, 45, "temp_C", "C")
        need_above(self.rh, 0, "rh", 1 + 1e-9)
        need_in(self.slope_deg, 0, 90, "slope_deg", "degrees")
        need_in(self.thinner_ratio, 0, 5, "thinner_ratio")
        blend(self.thinner)


@dataclass(frozen=True, slots=True, kw_only=True)
class WetWindow:
    """Limits of the wet film on the surface, as a comb reads it [um]; low_why and high_why name what binds.

    limits: every limit by name, so that a view can say them all.
    """

    low_um: float
    high_um: float
    low_why: str
    high_why: str
    limits: dict[str, float]

    @property
    def open(self) -> bool:
        return self.low_um <= self.high_um


@dataclass(frozen=True, slots=True, kw_only=True)
class _Landed:
    """The film as it lands, thinned: solids [-], viscosity [Pa s], evaporation [m/s]."""

    phi: float
    eta: float
    loss: float


def _landed(flow: Flow, at: Conditions) -> _Landed:
    solids = thinned_solids(flow.solids, at.thinner_ratio)
    eta = flow.eta_Pa_s * 10.0 ** ((solids - flow.solids) / THINNING_D)
    phi = landed_solids(solids, flow.flight_loss)
    loss = flow.loss_um_s * 1e-6 * evaporation_factor(at.temp_C) * blend(at.thinner).pace
    if flow.water:
        # A water film in damp air dries as the air is short of saturation.
        loss *= max((1.0 - at.rh) / HAZE_AT_HALF, 0.02)
    if not flow.gels:
        eta *= 10.0 ** ((phi - solids) / flow.rise)
    return _Landed(phi=phi, eta=eta, loss=loss)


def sag_um(flow: Flow, at: Conditions) -> float:
    """Wet film that sags by 3 mm before it sets [um]; infinite on a level surface.

    .. math:: h = \\left(\\frac{2 \\ln 10\\; \\eta_L \\phi_L E S}{\\rho g \\sin\\theta\\; D}\\right)^{1/3}

    Source: thin film down a slope, viscosity rising tenfold per D of solids [S given that law]; S is [C].
    """
    fall = G_M_S2 * math.sin(math.radians(at.slope_deg)) * flow.density_kg_m3
    if fall < 1e-9:
        return math.inf
    if flow.gels:
        return 1e6 * math.sqrt(2 * SAG_M * GEL_REST_PA_S / (fall * GEL_S))
    f = _landed(flow, at)
    return float(1e6 * (2 * math.log(10) * f.eta * f.phi * f.loss * SAG_M / (fall * flow.rise)) ** (1 / 3))


def level_um(flow: Flow, at: Conditions, ripple_mm: float = 1e3 * RIPPLE_M) -> float:
    """Least wet film in which a ripple of this wavelength flows out fivefold [um].

    .. math:: h = \\left(\\frac{3 \\eta_L \\lambda^4 \\ln 5\\; \\ln 10\\; \\phi_L E}{16 \\pi^4 \\gamma D}\\right)^{1/4}

    Source: levelling by surface tension [S], the viscosity rising as it dries.
    """
    f = _landed(flow, at)
    top = 3 * f.eta * (ripple_mm / 1e3) ** 4 * math.log(FLATTENED)
    if flow.gels:
        return float(1e6 * (top / (16 * math.pi**4 * flow.tension_N_m * GEL_S)) ** (1 / 3))
    return float(1e6 * (top * math.log(10) * f.phi * f.loss / (16 * math.pi**4 * flow.tension_N_m * flow.rise)) ** 0.25)


def dry_spray_um(flow: Flow, at: Conditions) -> float:
    """Least wet film that is still open when the next pass lands [um]."""
    f = _landed(flow, at)
    room = 1.0 - f.phi / flow.no_flow
    if room <= 0:
        return math.inf
    return max(LEAST_UM, 1e6 * f.loss * RETURN_S / room)


def blush_um(at: Conditions) -> float:
    """Wet film that chills the surface to the dew point [um]; 0 when any does, infinite when none below 1 mm does."""
    if spare_K(1000.0, at.temp_C, at.rh, at.thinner) >= 0:
        return math.inf
    low, high = 1.0, 1000.0
    if spare_K(low, at.temp_C, at.rh, at.thinner) < 0:
        return 0.0
    for _ in range(40):
        middle = 0.5 * (low + high)
        if spare_K(middle, at.temp_C, at.rh, at.thinner) >= 0:
            low = middle
        else:
            high = middle
    return low


def window(flow: Flow, at: Conditions, ripple_mm: float = 1e3 * RIPPLE_M) -> WetWindow:
    """The safe wet film for a finish in this air on this slope."""
    limits = {
        "orange peel": level_um(flow, at, ripple_mm),
        "dry spray": dry_spray_um(flow, at),
        "sag": sag_um(flow, at),
        "trapped solvent": flow.flat_um,
    }
    if flow.water:
        del limits["trapped solvent"]
        limits["haze"] = flow.flat_um * min(max(1.3 - 0.6 * at.rh, 0.6), 1.0)
    if flow.blushes:
        limits["blush"] = blush_um(at)
    low = max(("orange peel", "dry spray"), key=lambda n: limits[n])
    high = min((n for n in limits if n not in ("orange peel", "dry spray")), key=lambda n: limits[n])
    return WetWindow(low_um=limits[low], high_um=limits[high], low_why=low, high_why=high, limits=limits)
