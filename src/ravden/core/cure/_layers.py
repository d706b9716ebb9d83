"""Compiled kernel of films that harden by reacting (see layered.py, which is the only importer)."""

import math

from numba import njit

T_REF_K, GAS_R = 293.15, 8.314462618  # [S]
GLASS_FLOOR, GLASS_OVER_K, GLASS_WIDTH_K = 0.02, 10.0, 2.0  # [A] reaction left once the film is glassy
CROSSLINK, OXIDATION = 0, 1
STEP_SHARE = 0.05  # conversion a sub-step may gain at the most


@njit(cache=True, nogil=True, error_model="numpy")
def glass_C(alpha, tg0_K, tg1_K, bend):
    """DiBenedetto: Tg = Tg0 + (Tg1 - Tg0) lambda alpha/(1 - (1 - lambda) alpha), in C."""
    return tg0_K + (tg1_K - tg0_K) * bend * alpha / (1.0 - (1.0 - bend) * alpha) - 273.15


@njit(cache=True, nogil=True, error_model="numpy")
def _rate(alpha, k, n, tg0_K, tg1_K, bend, temp_C, kind, skin, tail):
    if kind == CROSSLINK:
        over = glass_C(alpha, tg0_K, tg1_K, bend) - temp_C - GLASS_OVER_K
        g = GLASS_FLOOR + (1.0 - GLASS_FLOOR) / (1.0 + math.exp(min(over / GLASS_WIDTH_K, 50.0)))
        return k * max(1.0 - alpha, 0.0) ** n * g
    quick = k * max(skin - alpha, 0.0)
    if tail <= 0.0:
        return quick
    return quick + tail * min(alpha / skin, 1.0) * max(1.0 - alpha, 0.0)


@njit(cache=True, nogil=True, error_model="numpy")
def react(
    hours, temps_C, born, gone, slowed, wait, kind, k20, n, ea, tg0_K, tg1_K, bend, skin, tails, alpha
):  # fmt: skip
    """Conversion of every layer at every hour of the grid, into alpha (hours, layers).

    temps_C: (G-1,) air of each interval; born, gone: grid index at which a layer is laid and sanded off; slowed:
    (G-1, layers) how many times slower it reacts there; wait: (layers,) hours at 20 C before it begins; skin: share
    that oxygen reaches quickly, tails: (G-1, layers) rate of the rest at 20 C [1/h].
    """
    for j in range(born.shape[0]):
        a, left = 0.0, wait[j]
        for i in range(born[j], hours.shape[0] - 1):
            alpha[i, j] = a
            if i >= gone[j]:
                continue
            factor = math.exp(-ea / GAS_R * (1.0 / (temps_C[i] + 273.15) - 1.0 / T_REF_K))
            dt = hours[i + 1] - hours[i]
            if left > 0.0:
                used = min(dt, left / factor)
                left -= used * factor
                dt -= used
                if left > 1e-12:
                    continue
            k, tail = k20 * factor / slowed[i, j], factor * tails[i, j]
            while dt > 1e-12:
                r1 = _rate(a, k, n, tg0_K, tg1_K, bend, temps_C[i], kind, skin, tail)
                h = min(dt, STEP_SHARE / max(r1, 1e-12))
                r2 = _rate(a + 0.5 * h * r1, k, n, tg0_K, tg1_K, bend, temps_C[i], kind, skin, tail)
                r3 = _rate(a + 0.5 * h * r2, k, n, tg0_K, tg1_K, bend, temps_C[i], kind, skin, tail)
                r4 = _rate(a + h * r3, k, n, tg0_K, tg1_K, bend, temps_C[i], kind, skin, tail)
                a = min(a + h / 6.0 * (r1 + 2.0 * r2 + 2.0 * r3 + r4), 1.0)
                dt -= h
        alpha[hours.shape[0] - 1, j] = a
