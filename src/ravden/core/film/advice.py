"""Which single measurement is worth taking next, and what it would buy (docs/maths.md).

Bayes-linear: var(F) falls by cov(F, u)^2 / (var u + noise), with the covariances of the whole mixture. Against sampling
of the outcome the formula was within one part in ten for a gauge and a card [C].
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.film import filter as gsf
from ravden.core.film.ledger import CARD, Ledger

Floats = NDArray[np.float64]

TOUCHES = 3  # a gauge is advised with this many touches
COMB_STEP_UM = 25.0  # [A] distance between the teeth of a wet comb


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """A measurement that could be taken, where, and the target zone's sd before and after it [um].

    measurement: gauge, card or micrometer now; comb or volume with the next coat, whose own noise is in both sds.
    """

    measurement: str
    zone: str
    before_um: float
    after_um: float

    @property
    def share(self) -> float:
        """What is left of the uncertainty [-]."""
        return self.after_um / self.before_um if self.before_um > 0 else 1.0


def choices(ledger: Ledger, target: str, next_coat_um: float | None = None, landed: float = 1.0) -> list[Choice]:
    """Every measurement, the most telling about ``target`` first.

    next_coat_um: nominal dry film of the next coat, without which combs and volumes are not offered; landed: volume
    solids of that coat as it lands [-].
    """
    now = _Mixture(ledger, target)
    pr = ledger.priors
    out = []
    for zone in ledger.zones:
        film = now.mean[ledger.state.film(ledger.index(zone.name))]
        if zone.name != CARD.name and film > 0:
            noise = (pr.gauge_um**2 + (pr.spot * film) ** 2) / TOUCHES
            out.append(now.of("gauge", zone.name, ledger.state.film(ledger.index(zone.name)), noise, gsf.GB))
    card = ledger.state.film(ledger.index(CARD.name))
    if now.mean[card] > 0:
        out.append(now.of("card", "", card, pr.card_um**2, gsf.WB))
        out.append(now.of("micrometer", "", card, pr.micrometer_um**2))
    if next_coat_um is not None:
        out += _with_next_coat(ledger.coat(next_coat_um), target, landed)
    return sorted(out, key=lambda c: c.share)


def _with_next_coat(after: Ledger, target: str, landed: float) -> list[Choice]:
    then, pr, state = _Mixture(after, target), after.priors, after.state
    out = []
    for zone in after.zones:
        if zone.name != CARD.name:
            last = state.last(after.index(zone.name))
            noise = (COMB_STEP_UM * landed) ** 2 / 12 + (pr.spot * then.mean[last]) ** 2
            out.append(then.of("comb", zone.name, last, noise, gsf.CB))
    area = np.array([0.0 if z.name == CARD.name else z.area_cm2 for z in after.zones])
    h = np.zeros(state.x.shape[1])
    h[state.last(0) : state.last(0) + len(area)] = area / area.sum()
    mean_um = float(h @ then.mean)
    h[gsf.TV] = mean_um
    out.append(then.choice("volume", "", h, (pr.volume_share * mean_um) ** 2))
    return out


class _Mixture:
    """Mean and covariance of a whole ledger, taken once for every measurement to be weighed."""

    def __init__(self, ledger: Ledger, target: str) -> None:
        state = ledger.state
        w = state.weights
        self.mean = w @ state.x
        off = state.x - self.mean
        self.cov = np.einsum("j,jab->ab", w, state.p) + (off * w[:, None]).T @ off
        self.target = state.film(ledger.index(target))

    def of(self, what: str, zone: str, index: int, noise: float, gain: int | None = None) -> Choice:
        """A reading of one component, with the gain error it may share."""
        h = np.zeros(len(self.mean))
        h[index] = 1.0
        if gain is not None:
            h[gain] = self.mean[index]
        return self.choice(what, zone, h, noise)

    def choice(self, what: str, zone: str, h: Floats, noise: float) -> Choice:
        """A reading of the scalar h.x."""
        before = float(self.cov[self.target, self.target])
        seen = self.cov @ h
        after = max(before - float(seen[self.target]) ** 2 / (float(h @ seen) + noise), 0.0)
        return Choice(measurement=what, zone=zone, before_um=float(np.sqrt(before)), after_um=float(np.sqrt(after)))
