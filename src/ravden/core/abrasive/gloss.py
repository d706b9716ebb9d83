"""The sheen a scratch leaves: gloss units at 20 and 60 degrees (docs/maths.md)."""

import functools
import math
from dataclasses import dataclass

from ravden.core.errors import need_in

BLACK_GLASS_INDEX = 1.567  # [STD] 100 gloss units
WAVELENGTH_UM = 0.55
CORRELATION_UM = 7.0  # [ENG]
APERTURE_DEG = {20: (0.9, 1.8), 60: (2.2, 5.85)}  # [STD] half apertures
FLOOR_GU = 0.5
RZ_PER_RA, RQ_PER_RA = 7.5, 1.28  # [ENG] overlapped grooves
WINDOWS_GU60 = {"matte": (1.0, 10.0), "satin": (18.0, 42.0), "semi-gloss": (45.0, 72.0), "gloss": (74.0, 88.0)}  # [ENG]
MIRROR_60, MIRROR_20 = 0.97, 0.86  # of what a perfectly smooth film gives [A]: a fine compound is enough


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheen:
    """Gloss units and the word for them."""

    gu20: float
    gu60: float
    name: str


def fresnel(index: float, angle_deg: float) -> float:
    """Unpolarised reflectance of a smooth surface [-] (PUB).

    >>> round(100 * fresnel(1.567, 60), 3)
    10.006
    """
    need_in(index, 1.01, 4, "refractive_index")
    th = math.radians(angle_deg)
    inner = math.sqrt(index**2 - math.sin(th) ** 2)
    rs = (math.cos(th) - inner) / (math.cos(th) + inner)
    rp = (index**2 * math.cos(th) - inner) / (index**2 * math.cos(th) + inner)
    return 0.5 * (rs**2 + rp**2)


def ceiling_gu(index: float, angle_deg: int) -> float:
    """Gloss of a perfectly smooth film [GU].

    >>> round(ceiling_gu(1.51, 60), 1)
    90.8
    """
    return 100.0 * fresnel(index, angle_deg) / fresnel(BLACK_GLASS_INDEX, angle_deg)


def gloss_gu(rq_um: float, index: float, angle_deg: int, correlation_um: float = CORRELATION_UM) -> float:
    """Specular gloss of a Gaussian rough film [GU].

    .. math:: GU = GU_0 \\sum_m \\mathrm{Poisson}(m; g) F_m, \\quad g = (4\\pi R_q \\cos\\theta/\\lambda)^2

    with F_m the share of the m-th scattered lobe inside the meter's window. Source: Kirchhoff (PUB), l [ENG].
    """
    need_in(rq_um, 0, 100, "rq_um", "um")
    th = math.radians(angle_deg)
    g = (4 * math.pi * rq_um * math.cos(th) / WAVELENGTH_UM) ** 2
    ax, ay = (math.radians(a) for a in APERTURE_DEG[angle_deg])
    qx = 2 * math.pi / WAVELENGTH_UM * math.cos(th) * ax
    qy = 2 * math.pi / WAVELENGTH_UM * ay
    log_term, total = -g, math.exp(-g)
    last = int(g + 12 * math.sqrt(g) + 20)
    for m in range(1, last + 1):
        log_term += math.log(g / m) if g > 0 else -math.inf
        if log_term > -50:
            width = correlation_um / (2 * math.sqrt(m))
            total += math.exp(log_term) * math.erf(qx * width) * math.erf(qy * width)
    return max(FLOOR_GU, ceiling_gu(index, angle_deg) * total)


@functools.lru_cache(maxsize=1024)
def sheen(rq_um: float, index: float) -> Sheen:
    """Gloss at 20 and 60 degrees and its name; trade usage varies, no standard fixes the words."""
    gu20, gu60 = gloss_gu(rq_um, index, 20), gloss_gu(rq_um, index, 60)
    return Sheen(gu20=gu20, gu60=gu60, name=name_of(gu20, gu60, index))


@functools.lru_cache(maxsize=1024)
def sheen_over(rq_um: float, under_rq_um: float | None, covered: float, index: float) -> Sheen:
    """Sheen where only a share of the area was scratched, the rest being as before (wool, non-woven; ENG).

    .. math:: GU = c\\,GU(scratch) + (1 - c)\\,GU(before)
    """
    new = sheen(rq_um, index)
    if covered >= 1.0 or under_rq_um is None:
        return new
    old = sheen(under_rq_um, index)
    gu20 = covered * new.gu20 + (1 - covered) * old.gu20
    gu60 = covered * new.gu60 + (1 - covered) * old.gu60
    return Sheen(gu20=gu20, gu60=gu60, name=name_of(gu20, gu60, index))


def rq_um(rz_um: float) -> float:
    """Root-mean-square roughness of a scratched film, Rz / 7.5 * 1.28 [um, ENG]."""
    return rz_um / RZ_PER_RA * RQ_PER_RA


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """What may be read after a rung: ends of the gloss at 20 and 60 degrees, and the words for them."""

    gu20: tuple[float, float]
    gu60: tuple[float, float]
    names: tuple[str, str]


@functools.lru_cache(maxsize=1024)
def band(rq_um: float, under_rq_um: float | None, covered: float, index: float) -> Band:
    """The sheen for a roughness known to 40 % either way (ENG)."""
    dull = sheen_over(1.4 * rq_um, under_rq_um, covered, index)
    bright = sheen_over(0.6 * rq_um, under_rq_um, covered, index)
    return Band(gu20=(dull.gu20, bright.gu20), gu60=(dull.gu60, bright.gu60), names=(dull.name, bright.name))


def roughness_of_gloss(gu60: float, index: float) -> float:
    """Root-mean-square roughness that reads so at 60 degrees [um]: the inverse of gloss_gu, by bisection.

    Raises InputError for a reading no scratched film of this kind can give.
    """
    top = ceiling_gu(index, 60)
    need_in(gu60, 1.0, 0.985 * top, "gu60", "gloss units")
    low, high = 0.0005, 4.0
    for _ in range(50):
        mid = math.sqrt(low * high)
        low, high = (mid, high) if gloss_gu(mid, index, 60) > gu60 else (low, mid)
    return math.sqrt(low * high)


def name_of(gu20: float, gu60: float, index: float) -> str:
    """The word for a reading; mirror is judged at 20 degrees against what this film can reach."""
    if is_mirror(gu20, gu60, index):
        return "mirror"
    for limit, name in ((5, "dead flat"), (10, "matte"), (18, "eggshell"), (42, "satin"), (72, "semi-gloss")):
        if gu60 < limit:
            return name
    return "gloss"


def is_mirror(gu20: float, gu60: float, index: float) -> bool:
    return gu60 >= MIRROR_60 * ceiling_gu(index, 60) and gu20 >= MIRROR_20 * ceiling_gu(index, 20)


def meets(target: str, found: Sheen, index: float) -> bool:
    """Whether a surface is what was asked for: matte, satin, semi-gloss, gloss or mirror."""
    if target == "mirror":
        return is_mirror(found.gu20, found.gu60, index)
    low, high = WINDOWS_GU60[target]
    return low <= found.gu60 <= high
