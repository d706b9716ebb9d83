"""How many coats hold the floor, from the floor backwards (docs/maths.md)."""

import functools
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ravden.core.errors import need, need_above, need_in
from ravden.core.film.ledger import CARD, Ledger

COAT_CV, REMOVAL_CV = 0.10, 0.35  # [A] of one coat, and of all sanding together
NODES = 24  # of the Gauss-Hermite sum over the removal
MOST_COATS = 80


def odds_of_floor(
    coats: int, coat_um: float, removed_um: float, floor_um: float, *, gun_cv: float = 0.25, zone_cv: float = 0.12
) -> float:
    """Odds that ``coats`` coats of coat_um leave at least floor_um after removing removed_um [-].

    .. math:: P = \\sum_i w_i\\, \\Phi\\left(\\frac{\\ln(N m k) - \\tfrac12 \\ln(1+c_k^2) - \\tfrac12 \\ln(1+c_c^2/N)
              - \\ln(F_{min} + r_i)}{s}\\right)

    with s^2 = ln(1+cg^2) + ln(1+ck^2) + ln(1+cc^2/N) and r lognormal. Source: Gauss-Hermite over ln r [S given the
    priors], equal to a million draws to .0005.

    >>> round(odds_of_floor(12, 12, 35, 60), 4)
    0.9154
    """
    from scipy.special import ndtr

    _check(coat_um, removed_um, floor_um)
    need(1 <= coats <= 10_000, "coats", f"must be between 1 and 10000 (got {coats})")
    x, w = np.polynomial.hermite_e.hermegauss(NODES)
    w = w / w.sum()
    s_r = math.sqrt(math.log1p(REMOVAL_CV**2))
    removal = removed_um * np.exp(s_r * x - 0.5 * s_r**2)
    var_k, var_c = math.log1p(zone_cv**2), math.log1p(COAT_CV**2 / coats)
    s = math.sqrt(math.log1p(gun_cv**2) + var_k + var_c)
    mean = math.log(coats * coat_um) - 0.5 * var_k - 0.5 * var_c
    return float(w @ ndtr((mean - np.log(floor_um + removal)) / s))


def coats_to_plan(
    coat_um: float, removed_um: float, floor_um: float, odds: float = 0.90, *, gun_cv: float = 0.25,
    zone_cv: float = 0.12,
) -> int:  # fmt: skip
    """Least number of coats that holds the floor with these odds: a closed form, then confirmed step by step.

    >>> [coats_to_plan(12, 35, 60, p) for p in (0.90, 0.95)], coats_to_plan(12, 35, 60, gun_cv=0.08, zone_cv=0.08)
    ([12, 14], 10)
    """
    from scipy.special import ndtri

    _check(coat_um, removed_um, floor_um)
    need_in(odds, 0.5, 0.999, "odds")
    need = floor_um + removed_um
    t2 = math.log1p((REMOVAL_CV * removed_um / need) ** 2)
    var_k = math.log1p(zone_cv**2)
    reach = float(ndtri(odds)) * math.sqrt(math.log1p(gun_cv**2) + var_k + t2)
    coats = max(math.ceil(need / coat_um * math.exp(-t2 / 2 + var_k / 2 + reach)), 1)
    while coats > 1 and _holds(coats - 1, coat_um, removed_um, floor_um, odds, gun_cv, zone_cv):
        coats -= 1
    while not _holds(coats, coat_um, removed_um, floor_um, odds, gun_cv, zone_cv):
        coats += 1
    return coats


def _holds(
    coats: int, coat_um: float, removed_um: float, floor_um: float, odds: float, gun_cv: float, zone_cv: float
) -> bool:
    return odds_of_floor(coats, coat_um, removed_um, floor_um, gun_cv=gun_cv, zone_cv=zone_cv) >= odds


def _check(coat_um: float, removed_um: float, floor_um: float) -> None:
    need_above(coat_um, 0, "coat_um", 5000)
    need_in(removed_um, 0, 5000, "removed_um", "um")
    need_above(floor_um, 0, "floor_um", 5000)


@dataclass(frozen=True, slots=True, kw_only=True)
class CoatsLeft:
    """What the ledger says of the coats still to lay: how many, the zone that decides, the odds of its floor with that
    many and with what is planned, how many those are, the odds asked for, and the likely film of the thickest zone at
    the end [um]."""

    coats: int | None
    zone: str
    odds: float
    odds_planned: float
    thickest_um: float
    planned: int
    asked: float


def coats_left(
    ledger: Ledger, coat_um: float, removals: Mapping[str, float], floor_um: float, planned: int, odds: float = 0.90,
    zones: tuple[str, ...] | None = None, thin: Callable[[Ledger], Mapping[str, float]] | None = None,
) -> CoatsLeft:  # fmt: skip
    """How many more coats of coat_um the live ledger asks for, before removals by zone are sanded off [um].

    zones: those that must hold their share of the floor, all by default; coats None: not even 80 would do; thin:
    odds by zone of ending below it from a film as built, where they are known better than by removals alone.
    """
    names = tuple(z.name for z in ledger.zones if z.name != CARD.name) if zones is None else zones
    need_in(odds, 0.5, 0.999, "odds")

    @functools.cache
    def laid(count: int) -> Ledger:
        return ledger.coat(coat_um, count=count) if count else ledger

    @functools.cache
    def after(count: int) -> Ledger:
        # What will be found when sanding is not known beforehand: take it off without asking whether film was left.
        return laid(count).worn(removals)

    def worst(count: int) -> tuple[str, float]:
        below = thin(laid(count)) if thin is not None else after(count).odds_below_floor(floor_um)
        name = max(names, key=lambda n: below[n])
        return name, 1.0 - below[name]

    thickest_um = _thickest(after(planned))
    low, high, step = 0, max(planned, 1), 2
    while worst(high)[1] < odds:
        if high >= MOST_COATS:
            zone, held = worst(planned)
            return CoatsLeft(
                coats=None,
                zone=zone,
                odds=held,
                odds_planned=held,
                thickest_um=thickest_um,
                planned=planned,
                asked=odds,
            )
        low, high, step = high + 1, min(high + step, MOST_COATS), 2 * step
    while low < high:
        middle = (low + high) // 2
        if worst(middle)[1] >= odds:
            high = middle
        else:
            low = middle + 1
    return CoatsLeft(
        coats=low, zone=worst(max(low - 1, 0))[0], odds=worst(low)[1], odds_planned=worst(planned)[1],
        thickest_um=thickest_um, planned=planned, asked=odds,
    )  # fmt: skip


def _thickest(ledger: Ledger) -> float:
    return max(ledger.mean_um(z.name) for z in ledger.zones if z.name != CARD.name)
