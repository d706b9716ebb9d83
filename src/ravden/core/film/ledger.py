"""The film ledger: what every coat, sanding and reading says about the film on every zone (docs/maths.md).

F_z = sum of coats n g k_z (1 + noise) - sum of sandings R_z s, with g shared by all zones and s by all sandings. The
ledger keeps the state after every entry, so that a new entry costs one step and history can be drawn.
"""

import functools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.errors import InputError, need, need_above
from ravden.core.film import filter as gsf
from ravden.core.film.filter import Priors, State
from ravden.core.record import MAX_FILM_UM, Zone

Floats = NDArray[np.float64]

CARD = Zone(name="card", label="Witness card", kind="flat", area_cm2=100.0, k_mean=1.0, k_cv=0.05)
CONTRADICTION_SD = 3.5  # [A] a reading further off than this is flagged
SURE_OF_FILM = 4.0  # mean over sd beyond which "there is film left" says nothing
OUTLIER_SHARE, OUTLIER_WIDTH = 0.02, 6.0  # [A] readings that are plain wrong, and how much wider they scatter


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneFilm:
    """The film of one zone, cured-equivalent um: mean, sd and quantiles."""

    name: str
    mean_um: float
    sd_um: float
    p05_um: float
    p50_um: float
    p95_um: float


class Ledger:
    """Film by zone after a run of entries. Immutable: every entry gives a new ledger that shares the old."""

    def __init__(self, zones: Sequence[Zone], priors: Priors | None = None) -> None:
        need(len(zones) > 0, "zones", "at least one zone is needed")
        names = [z.name for z in zones]
        need(len(set(names)) == len(names), "zones", "two zones have the same name")
        self.priors = priors or Priors()
        self.zones = (*tuple(z for z in zones if z.name != CARD.name), CARD)
        self._index = {z.name: i for i, z in enumerate(self.zones)}
        self._state = gsf.start(
            np.array([z.k_mean for z in self.zones]), np.array([z.k_cv for z in self.zones]), self.priors
        )
        self.flags: tuple[str, ...] = ()
        self._asked: dict[tuple[str | float, ...], list[float]] = {}
        self._last_coat_um: Floats | None = None

    def _next(self, state: State, flag: str = "") -> "Ledger":
        out = Ledger.__new__(Ledger)
        out.priors, out.zones, out._index = self.priors, self.zones, self._index
        out._state = state
        out._asked = {}
        out.flags = (*self.flags, flag) if flag else self.flags
        out._last_coat_um = self._last_coat_um
        return out

    def _zone(self, name: str, path: str = "zone") -> int:
        if name not in self._index:
            raise InputError(path, f"there is no zone called {name}")
        return self._index[name]

    def coat(self, dry_um: float, zones: Sequence[str] | None = None) -> "Ledger":
        """A coat of nominal dry_um [um]; zones None means everything. The witness card gets every coat."""
        need_above(dry_um, 0, "nominal_dry_um", MAX_FILM_UM)
        laid = np.full(len(self.zones), dry_um)
        if zones is not None:
            coated = {self._zone(name, f"zones[{i}]") for i, name in enumerate(zones)} | {self._index[CARD.name]}
            laid = np.where([i in coated for i in range(len(laid))], dry_um, 0.0)
        out = self._next(gsf.add_coats(self._state, laid, self.priors))
        out._last_coat_um = laid
        return out

    def sanding(self, um: dict[str, float], through: Sequence[str] = ()) -> "Ledger":
        """A sanding of um by zone. Zones not named in ``through`` still have film: that, too, is information."""
        removed = np.zeros(len(self.zones))
        for name, amount in um.items():
            need(0 <= amount < MAX_FILM_UM, "um", f"must be between 0 and {MAX_FILM_UM:g} um (got {amount:g})")
            removed[self._zone(name, "um")] = amount
        state = gsf.remove(self._state, removed, self.priors.sanding_each, self.priors)
        out = self._next(state)
        gone = {self._zone(name, "through") for name in through}
        touched = [int(i) for i in np.flatnonzero(removed)]
        for zone in [*touched, *sorted(gone - set(touched))]:
            out = out._went_through(zone) if zone in gone else out._still_film(zone)
        return out

    def _pick(self, index: int, gain: int | None = None) -> Floats:
        h = np.zeros((len(self._state.g), self._state.x.shape[1]))
        h[:, index] = 1.0
        if gain is not None:
            h[:, gain] = 0.0
        return h

    def _still_film(self, zone: int) -> "Ledger":
        """One-sided: F > 0, where a sand-through would have been noticed with the prior's odds."""
        state, seen = self._state, self.priors.noticed
        h = self._pick(state.film(zone))
        m0, v0 = gsf.scalar(state, h, np.zeros(len(state.g)))
        if bool((m0 > SURE_OF_FILM * np.sqrt(v0)).all()):
            return self
        log_up, mean_up, var_up = gsf.truncated(m0, v0, 0.0, np.inf)
        log_dn, mean_dn, var_dn = gsf.truncated(m0, v0, -np.inf, 0.0)
        up, down = np.exp(log_up), (1.0 - seen) * np.exp(log_dn)
        return self._mixed(h, m0, v0, (up, mean_up, var_up), (down, mean_dn, var_dn))

    def _went_through(self, zone: int) -> "Ledger":
        """F <= 0, then the zone starts again from next to nothing.

        Somebody saw wood or colour, so whatever was expected the report is wrong in only 2 % of cases [A]: the 2 %
        is the share after hearing it, not before, and does not grow because the sand-through came as a surprise.
        """
        state = self._state
        h = self._pick(state.film(zone))
        m0, v0 = gsf.scalar(state, h, np.zeros(len(state.g)))
        log_dn, mean_dn, var_dn = gsf.truncated(m0, v0, -np.inf, 0.0)
        _, mean_up, var_up = gsf.truncated(m0, v0, 0.0, np.inf)
        down = np.exp(log_dn)
        out = self._mixed(h, m0, v0, (0.98 * down, mean_dn, var_dn), (0.02 * down, mean_up, var_up))
        x, p, f = out._state.x.copy(), out._state.p.copy(), state.film(zone)
        x[:, f] = 0.5
        p[:, f, :], p[:, :, f] = 0.0, 0.0
        p[:, f, f] = 1.0
        return self._next(State(g=state.g, log_w=out._state.log_w, x=x, p=p, zones=state.zones))

    def _mixed(
        self, h: Floats, m0: Floats, v0: Floats, one: tuple[Floats, Floats, Floats], two: tuple[Floats, Floats, Floats]
    ) -> "Ledger":
        """Collapse two weighted outcomes of the scalar h.x to their joint mean and variance."""
        total = np.maximum(one[0] + two[0], 1e-290)
        a = one[0] / total
        mean = a * one[1] + (1 - a) * two[1]
        var = a * (one[2] + (one[1] - mean) ** 2) + (1 - a) * (two[2] + (two[1] - mean) ** 2)
        return self._next(gsf.condition(self._state, h, mean, var, np.log(total), m0, v0))

    def gauge(self, zone: str, um: float, n: int = 1) -> "Ledger":
        """A film gauge reading of a zone, cured-equivalent um, the mean of n touches."""
        need_above(um, 0, "um", MAX_FILM_UM)
        need(1 <= n <= 100, "n", f"must be between 1 and 100 (got {n})")
        index = self._zone(zone)
        pr = self.priors
        noise = pr.gauge_um**2 / n + (pr.spot * um) ** 2 / n
        return self._reading(f"gauge {zone}", index, gsf.GB, um, noise)

    def card(self, um: float) -> "Ledger":
        """The witness card's film from its weight, cured-equivalent um."""
        need_above(um, 0, "um", MAX_FILM_UM)
        return self._reading("card", self._index[CARD.name], gsf.WB, um, self.priors.card_um**2)

    def _reading(self, name: str, zone: int, gain: int, y: float, noise: float) -> "Ledger":
        """y = (1 + b) F + noise with gain error b, about an iterated linearisation point in every node."""
        state = self._state
        f = state.film(zone)
        film, b = state.x[:, f], state.x[:, gain]
        v_film, v_gain = state.p[:, f, f], state.p[:, gain, gain]
        near_noise = noise + v_gain * y * y
        near = film + v_film / (v_film + near_noise) * (y - film * (1.0 + b))
        h = np.zeros_like(state.x)
        h[:, f], h[:, gain] = 1.0 + b, near
        const = -near * b
        m0, v0 = gsf.scalar(state, h, const)
        spread = v0 + noise
        miss = (y - m0) ** 2
        log_clean = -0.5 * (np.log(spread) + miss / spread)
        wide = v0 + noise * OUTLIER_WIDTH**2
        log_wide = -0.5 * (np.log(wide) + miss / wide)
        w = state.weights
        clean, wrong = (1 - OUTLIER_SHARE) * np.exp(log_clean), OUTLIER_SHARE * np.exp(log_wide)
        total = float(w @ (clean + wrong))
        share = float(w @ clean) / total if total > 0 else 0.0
        # Collapsing a clear case would only blur it: above .8 it is a good reading, below .05 a wrong one.
        if share > 0.8:
            noise_used, log_evidence = noise, log_clean
        elif share < 0.05:
            noise_used, log_evidence = noise * OUTLIER_WIDTH**2, log_wide
        else:
            noise_used = noise * (share + (1 - share) * OUTLIER_WIDTH**2)
            log_evidence = np.log(clean + wrong + 1e-290)
        gain_k = v0 / (v0 + noise_used)
        new_state = gsf.condition(state, h, m0 + gain_k * (y - m0), v0 * (1 - gain_k), log_evidence, m0, v0)
        mean = float(w @ m0)
        sd = float(np.sqrt(w @ (spread + (m0 - mean) ** 2)))
        flag = ""
        if share < 0.5 or abs(y - mean) > CONTRADICTION_SD * sd:
            flag = f"{name} {y:g} um disagrees with the rest, which expects about {mean:.0f} um"
        return self._next(new_state, flag)

    def comb(self, zone: str, low_um: float, high_um: float, landed: float) -> "Ledger":
        """A wet comb in the last coat: wet between two teeth [um]; landed: volume solids of the film as it lands."""
        need_above(low_um, 0, "low_um", MAX_FILM_UM)
        need(high_um > low_um, "high_um", f"must be greater than low_um ({low_um:g})")
        need_above(landed, 0, "landed_solids", 1.0 + 1e-9)
        index = self._zone(zone)
        laid = self._last_coat_um
        if laid is None or laid[index] <= 0:
            raise InputError("zone", f"a wet comb reads the last coat, and {zone} has none")
        state = self._state
        h = self._pick(state.last(index))
        m0, v0 = gsf.scalar(state, h, np.zeros(len(state.g)))
        # The comb's own bias (.12 shared) is carried as noise of each reading in this first ledger.
        wide = v0 + (0.12**2 + 0.07**2) * m0**2
        log_in, mean_in, var_in = gsf.truncated(m0, wide, low_um * landed, high_um * landed)
        share = v0 / wide
        mean = m0 + share * (mean_in - m0)
        var = v0 * (1 - share) + share**2 * var_in
        inside = 0.98 * np.exp(log_in)
        return self._mixed(h, m0, v0, (inside, mean, var), (np.full_like(m0, 0.02 * 0.05), m0, v0))

    def film(self, name: str) -> ZoneFilm:
        """The film of a zone: mean, sd and quantiles by bisection of the mixture's distribution, never below 0."""
        return self._films[self._zone(name)]

    def films(self) -> tuple[ZoneFilm, ...]:
        """All zones but the witness card."""
        return tuple(f for f in self._films if f.name != CARD.name)

    def mean_um(self, name: str) -> float:
        """The mean alone, which costs nothing."""
        f = self._state.film(self._zone(name))
        return max(float(self._state.weights @ self._state.x[:, f]), 0.0)

    @functools.cached_property
    def _films(self) -> tuple[ZoneFilm, ...]:
        found = self._quantiles(np.arange(len(self.zones)), (0.05, 0.5, 0.95))
        out = []
        for i, zone in enumerate(self.zones):
            mean, sd = self._state.moments(self._state.film(i))
            low, median, high = (float(q) for q in found[i])
            out.append(
                ZoneFilm(name=zone.name, mean_um=max(mean, 0.0), sd_um=sd, p05_um=low, p50_um=median, p95_um=high)
            )
        return tuple(out)

    def quantiles(self, name: str, odds: Sequence[float]) -> list[float]:
        """Film at the given odds [um], clipped at 0."""
        key: tuple[str | float, ...] = (name, *odds)
        if key not in self._asked:
            self._asked[key] = [float(v) for v in self._quantiles(np.array([self._zone(name)]), odds)[0]]
        return list(self._asked[key])

    def _quantiles(self, zones: NDArray[np.intp], odds: Sequence[float]) -> Floats:
        """(zones, odds) quantiles of the mixtures, all bisected together."""
        from scipy.special import ndtr

        f = self._state.film(0) + zones
        w = self._state.weights[:, None, None]
        m = self._state.x[:, f, None]
        sd = np.sqrt(np.maximum(self._state.p[:, f, f], 1e-18))[:, :, None]
        p = np.asarray(odds, dtype=float)[None, :]
        low = np.tile((m - 6 * sd).min(axis=0), (1, p.shape[1]))
        high = np.tile((m + 6 * sd).max(axis=0), (1, p.shape[1]))
        for _ in range(25):
            mid = 0.5 * (low + high)
            below = (w * ndtr((mid - m) / sd)).sum(axis=0) < p
            low, high = np.where(below, mid, low), np.where(below, high, mid)
        out: Floats = np.maximum(0.5 * (low + high), 0.0)
        return out

    def odds_below(self, name: str, um: float) -> float:
        """Probability that the zone's film is less than um."""
        from scipy.special import ndtr

        f = self._state.film(self._zone(name))
        sd = np.sqrt(np.maximum(self._state.p[:, f, f], 1e-18))
        return float(self._state.weights @ ndtr((um - self._state.x[:, f]) / sd))

    def applicator(self) -> tuple[float, float]:
        """Mean and sd of the natural logarithm of the applicator's factor g."""
        state = self._state
        w = state.weights
        mean_e, var_e = state.x[:, gsf.E], state.p[:, gsf.E, gsf.E]
        width2 = min(gsf.NODE_WIDTH, 0.999 * self.priors.g_ln_sd) ** 2
        ln = np.log(state.g) - 0.5 * width2 + mean_e
        mean = float(w @ ln)
        return mean, float(np.sqrt(w @ (var_e + (ln - mean) ** 2)))

    def gauge_gain(self, zone: str, target: str) -> float:
        """Standard deviation of ``target`` expected after one more gauge reading of ``zone`` [um] (Bayes-linear)."""
        state = self._state
        a, b = state.film(self._zone(zone)), state.film(self._zone(target))
        w = state.weights
        (mean_a, sd_a), (mean_b, sd_b) = state.moments(a), state.moments(b)
        cov = float(w @ (state.p[:, a, b] + (state.x[:, a] - mean_a) * (state.x[:, b] - mean_b)))
        pr = self.priors
        noise = pr.gauge_um**2 + (pr.spot * mean_a) ** 2 + (pr.gauge_gain * mean_a) ** 2
        return float(np.sqrt(max(sd_b**2 - cov**2 / (sd_a**2 + noise), 0.0)))
