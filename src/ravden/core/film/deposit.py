"""How much film each way of applying lays down, and how much material that takes (docs/maths.md).

1 ml over 1 m2 is 1 um exactly [S]. What is computed here is nominal; the ledger's applicator factor says what this
gun, brush or pad really does.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import need, need_above, need_in
from ravden.core.materials.mixing import thinned_solids

OIL_GAIN = 0.95  # [A] volume left of surface oil once it has taken up oxygen
OIL_FAST, OIL_SLOW = 0.6, 0.15  # [C] shares of the capacity left that a soak, and the wait after it, take

GUN_ON_WORK = 0.8  # [A] share of the trigger path over the work, a body and neck together


@dataclass(frozen=True, slots=True, kw_only=True)
class Gun:
    """Gun settings: fluid [ml/min], travel [m/min], fan [m], overlap of passes [-], share of solids that lands [-]."""

    fluid_ml_min: float
    travel_m_min: float
    fan_m: float
    overlap: float
    transfer: float

    def __post_init__(self) -> None:
        need_above(self.fluid_ml_min, 0, "fluid_ml_min", 5000)
        need_above(self.travel_m_min, 0, "travel_m_min", 200)
        need_above(self.fan_m, 0, "fan_m", 1)
        need_in(self.overlap, 0, 0.95, "overlap")
        need_above(self.transfer, 0, "transfer", 1 + 1e-9)


def gun_wet_um(gun: Gun, passes: float = 1.0) -> float:
    """Wet film before any loss in flight [um].

    .. math:: h = \\frac{Q\\,TE}{v\\,W\\,(1-o)} \\times passes

    Source: volume balance of a moving fan [S].

    >>> gun_wet_um(Gun(fluid_ml_min=150, travel_m_min=24, fan_m=0.25, overlap=0.5, transfer=0.65))
    32.5
    """
    need_above(passes, 0, "passes", 100)
    return passes * gun.fluid_ml_min * gun.transfer / (gun.travel_m_min * gun.fan_m * (1.0 - gun.overlap))


def gun_dry_um(gun: Gun, solids: float, thinner_ratio: float = 0.0, passes: float = 1.0) -> float:
    """Dry film of a coat of so many passes [um]: what lands, times the thinned volume solids.

    >>> g = Gun(fluid_ml_min=150, travel_m_min=24, fan_m=0.25, overlap=0.5, transfer=0.65)
    >>> round(gun_dry_um(g, 0.17, passes=2), 2)
    11.05
    """
    return gun_wet_um(gun, passes) * thinned_solids(solids, thinner_ratio)


def ripple_cv(overlap: float) -> float:
    """Unevenness left by overlapping passes of a parabolic fan, as a coefficient of variation [-].

    Fan profile f(x) = 1.5 (1 - (2x/W)^2), summed over passes W (1 - o) apart. Source: integration of that profile [S
    given the profile]. Cross-coats divide it by about the square root of 2.

    >>> [round(ripple_cv(o), 3) for o in (0.5, 2 / 3, 0.75)]
    [0.112, 0.05, 0.028]
    """
    need_in(overlap, 0, 0.95, "overlap")
    step, cells = 1.0 - overlap, 400
    total = []
    for i in range(cells):
        x = step * (i + 0.5) / cells
        at = [x + n * step for n in range(-int(1 / step) - 1, int(1 / step) + 2)]
        total.append(sum(1.5 * (1 - 4 * a * a) for a in at if abs(a) < 0.5))
    mean = sum(total) / cells
    return float((sum((t - mean) ** 2 for t in total) / cells) ** 0.5 / mean)


def material_ml(area_cm2: float, dry_um: float, solids: float, transfer: float = 1.0, on_work: float = 1.0) -> float:
    """Material to mix for a dry film over an area [ml].

    .. math:: V = \\frac{A\\,h_d}{VS\\;TE\\;\\eta}

    solids: volume solids as applied [-]; transfer: share of solids that lands [-]; on_work: share of the trigger path
    that is over the work (flat bodies .75-.9, sides .5-.7, slender ribs and necks .3-.5 [A]). Source: volume
    balance [S].

    >>> round(material_ml(1500, 100, 0.17, 0.65, 0.8), 1)
    169.7
    """
    need_above(area_cm2, 0, "area_cm2", 1e6)
    need_above(dry_um, 0, "dry_um", 5000)
    for name, value in (("solids", solids), ("transfer", transfer), ("on_work", on_work)):
        need_above(value, 0, name, 1 + 1e-9)
    return area_cm2 * 1e-4 * dry_um / (solids * transfer * on_work)


def volume_dry_um(used_ml: float, area_cm2: float, solids: float, transfer: float = 1.0, on_work: float = 1.0) -> float:
    """Mean dry film that a volume used would leave [um]; the inverse of material_ml.

    >>> round(volume_dry_um(169.7, 1500, 0.17, 0.65, 0.8), 1)
    100.0
    """
    need_above(used_ml, 0, "used_ml", 1e5)
    need_above(area_cm2, 0, "area_cm2", 1e6)
    return used_ml * solids * transfer * on_work / (area_cm2 * 1e-4)


def aerosol_dry_um(
    sprayed_g: float, area_cm2: float, mass_solids: float, dry_density_g_ml: float, transfer: float
) -> float:
    """Dry film from the weight a spray can lost [um].

    .. math:: h = \\frac{m\\,w_s\\,TE}{\\rho_s\\,A}

    sprayed_g: loss of weight, propellant and all [g]; mass_solids: of everything in the can, .06-.12 [A]; transfer:
    .35-.60 [A]. Source: mass balance [S].

    >>> round(aerosol_dry_um(280, 4000, 0.09, 1.25, 0.5), 1)
    25.2
    """
    need_above(sprayed_g, 0, "sprayed_g", 5000)
    need_above(area_cm2, 0, "area_cm2", 1e6)
    need_above(mass_solids, 0, "mass_solids", 1)
    need_above(transfer, 0, "transfer", 1 + 1e-9)
    need_above(dry_density_g_ml, 0, "dry_density_g_ml", 30)
    return sprayed_g * mass_solids / dry_density_g_ml * transfer / (area_cm2 * 1e-4)


def cloth_wet_um(taken_ml: float, area_cm2: float, left_in_cloth_ml: float | None = None, kept: float = 0.70) -> float:
    """Wet film wiped, rolled or squeegeed on [um].

    left_in_cloth_ml: what the cloth, roller or squeegee kept, from its gain of weight over the density; None: the
    share ``kept`` stays on the work, .70 for a cloth nobody weighed (CV .2) [A]. Source: volume balance [S].

    >>> cloth_wet_um(10, 2000, 4), cloth_wet_um(10, 2000)
    (30.0, 35.0)
    """
    need_above(taken_ml, 0, "taken_ml", 1e5)
    need_above(area_cm2, 0, "area_cm2", 1e6)
    if left_in_cloth_ml is not None:
        need(0 <= left_in_cloth_ml < taken_ml, "left_in_cloth_ml", "must be less than what was taken, and not negative")
        on_work = taken_ml - left_in_cloth_ml
    else:
        need_above(kept, 0, "kept", 1 + 1e-9)
        on_work = taken_ml * kept
    return on_work / (area_cm2 * 1e-4)


def pad_volume_ml(dry_um: float, solids: float, area_cm2: float, kept: float = 0.8) -> float:
    """Shellac a pad session takes for a dry film [ml]; kept: share left on the work, .8 [A].

    >>> from ravden.core.materials.mixing import shellac_volume_solids
    >>> round(pad_volume_ml(12, shellac_volume_solids(2), 1350), 2)
    11.74
    """
    return material_ml(area_cm2, dry_um, solids, kept)


def brush_dry_um(wet_um: float, solids: float, thinner_ratio: float = 0.0) -> float:
    """Dry film under a brushed coat [um]; brushes lay 60-110 um wet, foam pads 20-40 [A].

    >>> round(brush_dry_um(80, 0.48), 1)
    38.4
    """
    need_above(wet_um, 0, "wet_um", 1000)
    return wet_um * thinned_solids(solids, thinner_ratio)


def oil_film_um(capacity_ml_m2: float, soaks_ml_m2: Sequence[float], wipe_um: float) -> list[float]:
    """Film on the surface after each soak of a drying oil that the wood absorbs [um].

    Each soak w: the wood takes min(w, .6 (S - cum)) at once; what is left after wiping (at most wipe_um) loses up to
    .15 (S - cum) more into the wood; .95 of the rest stays as film. capacity_ml_m2: fine-grained face 40-60, open grain
    60-120, end grain 150-400 [A]. Source: correlation [C].

    >>> [round(f, 1) for f in oil_film_um(60, [80] * 6, 4)]
    [0.4, 3.0, 6.4, 10.1, 13.8, 17.6]
    """
    need_above(capacity_ml_m2, 0, "capacity_ml_m2", 1e4)
    need_in(wipe_um, 0, 500, "wipe_um", "um")
    absorbed = film = 0.0
    out = []
    for i, soak in enumerate(soaks_ml_m2):
        need_above(soak, 0, f"soaks_ml_m2[{i}]", 1e4)
        taken = min(soak, OIL_FAST * (capacity_ml_m2 - absorbed))
        absorbed += taken
        left = min(soak - taken, wipe_um)
        deeper = min(left, OIL_SLOW * (capacity_ml_m2 - absorbed))
        absorbed += deeper
        film += OIL_GAIN * (left - deeper)
        out.append(film)
    return out
