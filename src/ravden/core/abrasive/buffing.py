"""Heat of a buffing wheel or pad on a film, against the film's own softening point (docs/maths.md)."""

import math
from dataclasses import dataclass

from ravden.core.errors import need_above, need_in
from ravden.core.fact import Fact, fact

FRICTION, INTO_FILM = 0.35, 0.6  # [ENG] of the face on film; share of the heat that goes into the film
FILM_E, WOOD_E = 600.0, 379.0  # effusivities [W s^0.5/m2 K] (PUB)
FILM_ALPHA_M2_S = 1.11e-7  # (PUB)
FINE_K, SPOIL_K = 15.0, 0.0  # [ENG] room left to the softening point
SLOWEST_M_S, FASTEST_M_S = 8.0, 15.0  # [ENG] rim speeds


@dataclass(frozen=True, slots=True, kw_only=True)
class Wheel:
    """A wheel and how it is held: diameter [mm], rpm, press [N] on a patch [cm2] of so many mm along the rim, the work
    moved on at a pace [m/s]."""

    diameter_mm: float = 350.0
    rpm: float = 750.0
    press_N: float = 15.0
    patch_cm2: float = 15.0
    contact_mm: float = 30.0
    pace_m_s: float = 0.25

    def __post_init__(self) -> None:
        need_in(self.diameter_mm, 20, 1000, "diameter_mm", "mm")
        need_in(self.rpm, 50, 12000, "rpm")
        need_above(self.press_N, 0, "press_N", 500)
        need_above(self.patch_cm2, 0, "patch_cm2", 1000)
        need_above(self.contact_mm, 0, "contact_mm", 500)
        need_above(self.pace_m_s, 0, "pace_m_s", 5)

    @property
    def rim_m_s(self) -> float:
        """Rim speed, pi D n / 60 [m/s]."""
        return math.pi * self.diameter_mm / 1000.0 * self.rpm / 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Buffing:
    """What becomes of a film on a wheel: class is fine, slow, or never; heat is low, medium or high."""

    rim_m_s: float
    rise_K: float
    heat: str
    verdict: str
    said: Fact


def flux_kW_m2(wheel: Wheel) -> float:
    """Heat into the film, q = beta mu p v [kW/m2].

    >>> round(flux_kW_m2(Wheel(press_N=20)), 1)
    38.5
    """
    pressure = wheel.press_N / (wheel.patch_cm2 * 1e-4)
    return INTO_FILM * FRICTION * pressure * wheel.rim_m_s / 1000.0


def rise_K(flux_kW_m2: float, time_s: float, film_um: float) -> float:
    """Temperature rise of a film on wood under a constant flux [K].

    .. math:: \\Delta T = \\frac{2 q \\sqrt t}{e_1}\\Big[\\frac{1}{\\sqrt\\pi}
              + 2 \\sum_n G^n\\,\\mathrm{ierfc}\\frac{nL}{\\sqrt{\\alpha_1 t}}\\Big], \\; G = \\frac{e_1-e_2}{e_1+e_2}

    Source: layered half space (PUB).

    >>> round(rise_K(50, 0.3, 120), 1)
    57.2
    """
    need_above(time_s, 0, "time_s", 1e4)
    need_in(film_um, 0, 1e5, "film_um", "um")
    ratio = (FILM_E - WOOD_E) / (FILM_E + WOOD_E)
    step = film_um * 1e-6 / math.sqrt(FILM_ALPHA_M2_S * time_s)
    total = 1.0 / math.sqrt(math.pi)
    for n in range(1, 60):
        total += 2.0 * ratio**n * _ierfc(n * step)
    return 2.0 * flux_kW_m2 * 1000.0 * math.sqrt(time_s) / FILM_E * total


def _ierfc(x: float) -> float:
    return math.exp(-x * x) / math.sqrt(math.pi) - x * math.erfc(x)


def judge(
    wheel: Wheel, film_um: float, margin_K: float | None, *, flatted: bool = False, waxy: bool = False
) -> Buffing:
    """Whether a film may go to the wheel. margin_K: softening point over the bench, None without film.

    The rise is known to a factor of two, so it is told as low, medium or high, and judged at its middle. Raises
    InputError for a wheel that cannot be.
    """
    rise = rise_K(flux_kW_m2(wheel), wheel.contact_mm / 1000.0 / wheel.pace_m_s, max(film_um, 0.0))
    heat = "low" if rise < 15 else "medium" if rise < 35 else "high"
    rim = wheel.rim_m_s

    def found(verdict: str, code: str) -> Buffing:
        return Buffing(rim_m_s=rim, rise_K=rise, heat=heat, verdict=verdict, said=fact(f"wheel-{code}"))

    if flatted:
        return found("never", "flatted")
    if waxy:
        return found("never", "waxy")
    if margin_K is None:
        return found("never", "no-film")
    room = margin_K - rise
    if room < SPOIL_K:
        gentler = rise_K(flux_kW_m2(_gentle(wheel)), 0.15, max(film_um, 0.0)) < margin_K - FINE_K
        return found("never", "too-fast" if gentler else "too-soft")
    if room < FINE_K:
        return found("slow", "light-press")
    if rim > FASTEST_M_S:
        return found("slow", "fast-rim")
    return found("fine", "fine")


def _gentle(wheel: Wheel) -> Wheel:
    """The same wheel at the slowest useful rim speed, pressed lightly."""
    return Wheel(
        diameter_mm=wheel.diameter_mm, rpm=max(50.0, wheel.rpm * SLOWEST_M_S / wheel.rim_m_s), press_N=10.0,
        patch_cm2=wheel.patch_cm2, contact_mm=wheel.contact_mm, pace_m_s=wheel.pace_m_s,
    )  # fmt: skip
