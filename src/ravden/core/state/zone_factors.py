"""How thick a coat of this shop lands on each zone, learnt over several instruments of one family (docs/maths.md).

.. math:: y_{iz} = G + g_i + K_z + \\kappa_{iz} + \\varepsilon_{iz}

y: ln of the film found over what the built-in factors say was laid; G: the applicator with the gauge, one for the shop;
g_i: one instrument against the next; K_z: the shop's own factor of a zone, N(0, tau_z); kappa: one instrument's zone
against that; epsilon: of the reading. Everything is normal, so that the posterior of (G, K) is exact [S]; the spreads
are [A]: together tau and kappa are the coefficient of variation a zone has without learning.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from msgspec.structs import replace

from ravden.core.record import Zone

G_SD = 0.25  # [A] of an applicator not yet known, with the gauge's own gain
INSTRUMENT_SD = 0.08  # [A] one instrument against the next, as in film.carry
ZONE_SD = 0.12  # [A] of a zone's factor on one instrument, all in all
HABIT_SHARE = 0.7  # [A] share of that variance which is the shop's habit; the rest is new on every instrument
TAU, KAPPA = ZONE_SD * math.sqrt(HABIT_SHARE), ZONE_SD * math.sqrt(1 - HABIT_SHARE)

Told = tuple[str, float, float]  # a zone, ln found, sd of that


@dataclass(frozen=True, slots=True, kw_only=True)
class Factor:
    """What was learnt of a zone: mean and sd of ln of its factor against the built-in one, and on how many
    instruments."""

    ln: float
    sd: float
    instruments: int

    def on(self, zone: Zone) -> Zone:
        """A zone with it, for the next instrument: no surer than one instrument is like the next."""
        share = zone.k_cv / ZONE_SD  # a zone that scatters more keeps doing so
        cv = math.hypot(self.sd, KAPPA * share)
        return replace(zone, k_mean=min(max(zone.k_mean * math.exp(self.ln), 0.05), 3.0), k_cv=min(cv, zone.k_cv))


def zone_factors(instruments: Sequence[Sequence[Told]]) -> dict[str, Factor]:
    """The shop's factors, by zone. instruments: of each, zones with ln of film found against laid, and its sd."""
    import numpy as np

    names = sorted({zone for told in instruments for zone, _, _ in told})
    at = {name: i + 1 for i, name in enumerate(names)}
    precision = np.diag([G_SD**-2, *[TAU**-2] * len(names)])
    pull = np.zeros(len(names) + 1)
    for told in instruments:
        if not told:
            continue
        rows = np.zeros((len(told), len(names) + 1))
        rows[:, 0] = 1.0
        rows[np.arange(len(told)), [at[zone] for zone, _, _ in told]] = 1.0
        noise = np.diag([sd**2 for _, _, sd in told]) + INSTRUMENT_SD**2
        for i, (a, _, _) in enumerate(told):
            for j, (b, _, _) in enumerate(told):
                noise[i, j] += KAPPA**2 * (a == b)  # two readings of a zone share what is new on it
        weight = np.linalg.solve(noise, rows)
        precision += rows.T @ weight
        pull += weight.T @ np.array([ln for _, ln, _ in told])
    spread = np.linalg.inv(precision)
    mean = spread @ pull
    seen = {name: sum(any(zone == name for zone, _, _ in told) for told in instruments) for name in names}
    return {
        name: Factor(ln=float(mean[at[name]]), sd=float(np.sqrt(spread[at[name], at[name]])), instruments=seen[name])
        for name in names
    }
