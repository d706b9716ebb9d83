"""The film ledger: what every coat, sanding and reading says about the film on every zone (docs/maths.md).

F_z = sum of coats n g k_z (1 + noise) - sum of sandings R_z s - what bare wood drank, with g shared by all zones and s
by all sandings. The ledger keeps the state after every entry, so that a new entry costs one step and history can be
drawn.
"""

import functools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.fact import Fact
from ravden.core.film import filter as gsf
from ravden.core.film import observe, spread
from ravden.core.film.filter import Priors, State
from ravden.core.film.observe import Read
from ravden.core.film.then import FilmThen, Flag
from ravden.core.record import MAX_COUNT, MAX_FILM_UM, Zone

Floats = NDArray[np.float64]

CARD = Zone(name="card", label="Witness card", kind="flat", area_cm2=100.0, k_mean=1.0, k_cv=0.05)
CONTRADICTION_SD = 3.5  # [A] a reading further off than this is flagged
# What a ledger has from the one before it, where the entry says nothing else.
CARRIED = (
    "priors", "zones", "others", "_index", "_laid", "_drunk", "_last_coat_um", "_last_count", "_looked", "thin_spots"
)  # fmt: skip
MAX_BRANCHES = 16  # hypotheses about uncertain counts kept apart; more are merged by mean and variance


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
    """Film by zone after a run of entries. Immutable: every entry gives a new ledger that shares the old.

    others: names of applicators beside the main one, such as the sealer's; each has a factor of its own.
    """

    def __init__(self, zones: Sequence[Zone], priors: Priors | None = None, others: Sequence[str] = ()) -> None:
        need(len(zones) > 0, "zones", "at least one zone is needed")
        names = [z.name for z in zones]
        need(len(set(names)) == len(names), "zones", "two zones have the same name")
        self.priors = priors or Priors()
        self.zones = (*tuple(z for z in zones if z.name != CARD.name), CARD)
        self.others = tuple(others)
        self._index = {z.name: i for i, z in enumerate(self.zones)}
        self._state = gsf.start(
            np.array([z.k_mean for z in self.zones]), np.array([z.k_cv for z in self.zones]), self.priors, len(others)
        )
        self._laid = np.zeros(len(self.zones))  # nominal um ever laid on each zone
        self._drunk = np.zeros(len(self.zones))  # um of that which its wood was reckoned to drink
        self._last_coat_um: Floats | None = None
        self._last_count = 1.0
        self._looked: frozenset[int] = frozenset()  # zones whose last sanding has already said "film left"
        self.flags: tuple[Flag, ...] = ()
        self.thin_spots: tuple[str, ...] = ()  # zones seen through in a spot: they need a spot repair

    def _next(self, state: State, flag: Flag | None = None) -> "Ledger":
        out = Ledger.__new__(Ledger)
        for name in CARRIED:
            setattr(out, name, getattr(self, name))
        out._state = state
        out.flags = (*self.flags, flag) if flag else self.flags
        return out

    @property
    def state(self) -> State:
        """The Gaussian sum, for advice on what to measure and for drawing; treat as read-only."""
        return self._state

    def index(self, name: str, path: str = "zone") -> int:
        """Where a zone stands in the state."""
        if name not in self._index:
            raise InputError(path, f"there is no zone called {name}")
        return self._index[name]

    def coat(
        self, dry_um: float, zones: Sequence[str] | None = None, *, count: int = 1,
        count_odds: Mapping[int, float] | None = None, applicator: str = "",
    ) -> "Ledger":  # fmt: skip
        """``count`` coats of nominal dry_um [um]; zones None means everything. The witness card gets every coat.

        count_odds: how likely each number of coats is, where nobody is sure; applicator: empty for the main one.
        """
        need_above(dry_um, 0, "nominal_dry_um", MAX_FILM_UM)
        need(1 <= count <= MAX_COUNT, "count", f"must be between 1 and {MAX_COUNT} (got {count})")
        other = self._other(applicator)
        laid = np.full(len(self.zones), dry_um)
        if zones is not None:
            coated = {self.index(name, f"zones[{i}]") for i, name in enumerate(zones)} | {self._index[CARD.name]}
            laid = np.where([i in coated for i in range(len(laid))], dry_um, 0.0)
        odds = {count: 1.0} if count_odds is None else _checked(count_odds)
        mean = sum(n * p for n, p in odds.items())
        state = self._state
        if len(odds) == 1:
            state = gsf.add_coats(state, laid, self.priors, mean, other)
        elif len(odds) * max(self._branches, 1) <= MAX_BRANCHES:
            state = gsf.joined(
                [gsf.add_coats(state, laid, self.priors, n, other) for n in odds], [float(np.log(p)) for p in
                 odds.values()], list(odds),
            )  # fmt: skip
        else:
            var = sum(p * (n - mean) ** 2 for n, p in odds.items())
            state = gsf.add_coats(state, laid, self.priors, mean, other, var)
        out = self._next(state)
        out._last_coat_um, out._last_count = laid, mean if len(odds) == 1 else 0.0
        out._laid = self._laid + mean * laid
        return out

    @property
    def _branches(self) -> int:
        return len(np.unique(self._state.counts, axis=0)) if self._state.counts.shape[1] else 1

    def _other(self, name: str) -> int | None:
        if not name:
            return None
        if name not in self.others:
            raise InputError("applicator", f"there is no applicator called {name}")
        return self.others.index(name)

    def absorbed(self, um: Mapping[str, float]) -> "Ledger":
        """Dry film that bare wood drank from the coat just laid [um by zone]."""
        gone = self._by_zone(um)
        out = self._next(gsf.remove(self._state, gone, self.priors.absorption, self.priors, shared=False))
        out._drunk = self._drunk + gone
        return out

    def _noticed(self, zone: int) -> float:
        r"""The chance that bare wood would have been noticed on a zone.

        .. math:: \nu_z = \nu \max(0, 1 - D_z / N_z)

        D: what its wood was reckoned to drink so far [um], N: nominal film ever laid there [um]. Coat that went into
        the wood looks like coat that lies on it. Source: [A], against truths that drink (benchmarks/film.py).
        """
        nominal = float(self._laid[zone]) * self.zones[zone].k_mean
        drunk = float(self._drunk[zone])
        return self.priors.noticed if drunk <= 0 else self.priors.noticed * max(0.0, 1.0 - drunk / max(nominal, drunk))

    def _by_zone(self, um: Mapping[str, float]) -> Floats:
        out = np.zeros(len(self.zones))
        for name, amount in um.items():
            need(0 <= amount < MAX_FILM_UM, "um", f"must be between 0 and {MAX_FILM_UM:g} um (got {amount:g})")
            out[self.index(name, "um")] = amount
        return out

    def sanding(self, um: Mapping[str, float], through: Sequence[str] = ()) -> "Ledger":
        """A sanding of um by zone. Zones not named in ``through`` still have film: that, too, is information."""
        removed = self._by_zone(um)
        out = self._next(gsf.remove(self._state, removed, self.priors.sanding_each, self.priors))
        gone = {self.index(name, "through") for name in through}
        touched = {int(i) for i in np.flatnonzero(removed)}
        state = out._state
        for zone in sorted(touched | gone):
            if zone in gone and self.zones[zone].kind != "flat":
                continue  # a block's rim at an edge says nothing of the zone's film
            if zone in gone:
                state = observe.seen_through(state, zone)
            else:
                state = observe.still_film(state, zone, self._noticed(zone))
        for zone in sorted(gone):
            state = observe.bared(state, zone)
        out._state = state
        out._looked = self._looked | touched | gone
        return out

    def worn(self, um: Mapping[str, float]) -> "Ledger":
        """A sanding still to come: um off by zone, without supposing that anybody has looked at what is left."""
        return self._next(gsf.remove(self._state, self._by_zone(um), self.priors.sanding_each, self.priors))

    def through(self, zone: str, *, spot: bool = False, under_um: float = 0.0) -> "Ledger":
        """Wood shows: in the whole zone, which starts again from nothing, or in a spot of it. under_um: it is colour in
        the film that shows, with so much under its top.

        At an edge or a contour a finger or a block's rim went through, which says nothing of how thick the zone's film
        is, nor of the gun: a spot leaves the mean and is only remembered as bare, and the whole zone starts again.
        """
        i = self.index(zone)
        if self.zones[i].kind != "flat":
            out = self._next(self._state if spot else observe.bared(self._state, i, under_um))
            if spot:
                out.thin_spots = tuple(dict.fromkeys((*self.thin_spots, zone)))
            return out
        if not spot:
            return self._next(observe.bared(observe.through_or_dug(self._state, i, under_um), i, under_um))
        less = under_um + observe.thin_spot(self._state, i, float(self._laid[i]), self.priors)
        out = self._next(observe.through_or_dug(self._state, i, less))
        out.thin_spots = tuple(dict.fromkeys((*self.thin_spots, zone)))
        return out

    def stripped(self, zones: Sequence[str]) -> "Ledger":
        """All of the film off these zones on purpose, which says nothing of how thick it was."""
        state = self._state
        for name in zones:
            state = observe.bared(state, self.index(name))
        return self._next(state)

    def not_through(self, zone: str, *, spot: bool = False) -> "Ledger":
        """A look found film everywhere. Counted once: a sanding that said so already is not counted again."""
        i = self.index(zone)
        if spot:
            less = observe.thin_spot(self._state, i, float(self._laid[i]), self.priors)
            return self._next(observe.still_film(self._state, i, self.priors.noticed, less))
        if i in self._looked:
            return self
        return self._next(observe.still_film(self._state, i, self.priors.noticed))

    def gauge(self, zone: str, um: float, n: int = 1) -> "Ledger":
        """A film gauge reading of a zone, cured-equivalent um, the mean of n touches."""
        need_above(um, 0, "um", MAX_FILM_UM)
        need(1 <= n <= 100, "n", f"must be between 1 and 100 (got {n})")
        pr, f = self.priors, self._state.film(self.index(zone))
        noise = pr.gauge_um**2 / n + (pr.spot * um) ** 2 / n
        return self._heard(f"gauge {zone}", um, observe.with_gain(self._state, f, gsf.GB, um, noise))

    def card(self, um: float) -> "Ledger":
        """The witness card's film from its weight, cured-equivalent um."""
        need_above(um, 0, "um", MAX_FILM_UM)
        f = self._state.film(self.index(CARD.name))
        return self._heard("card", um, observe.with_gain(self._state, f, gsf.WB, um, self.priors.card_um**2))

    def micrometer(self, um: float) -> "Ledger":
        """The witness card's film from a micrometer, cured-equivalent um."""
        need_above(um, 0, "um", MAX_FILM_UM)
        state = self._state
        h = observe.picked(state, state.film(self.index(CARD.name)))
        read = observe.linear(state, h, np.zeros(len(state.g)), um, self.priors.micrometer_um**2)
        return self._heard("micrometer", um, read)

    def volume(self, dry_um: float) -> "Ledger":
        """Material used on the last coat as the mean dry film it would leave: volume x solids x transfer/area [um]."""
        need_above(dry_um, 0, "dry_equivalent_um", MAX_FILM_UM)
        laid = self._last_coat("dry_equivalent_um", "the volume used")
        state = self._state
        area = np.array([z.area_cm2 if laid[i] > 0 and z.name != CARD.name else 0.0 for i, z in enumerate(self.zones)])
        need(area.sum() > 0, "dry_equivalent_um", "the last coat was on the witness card alone")
        share = area / area.sum()
        first = state.last(0)
        mean_um = state.x[:, first : first + len(self.zones)] @ share
        tv = state.x[:, gsf.TV]
        h = np.zeros_like(state.x)
        h[:, first : first + len(self.zones)] = share[None, :] * (1 + tv)[:, None]
        h[:, gsf.TV] = mean_um
        noise = (self.priors.volume_share * mean_um) ** 2
        return self._heard("volume used", dry_um, observe.linear(state, h, -mean_um * tv, dry_um, noise))

    def comb(self, zone: str, low_um: float, high_um: float, landed: float) -> "Ledger":
        """A wet comb in the last coat: wet between two teeth [um]; landed: volume solids of the film as it lands."""
        need_above(low_um, 0, "low_um", MAX_FILM_UM)
        need(high_um > low_um, "high_um", f"must be greater than low_um ({low_um:g}): the teeth are reversed")
        need_above(high_um, 0, "high_um", MAX_FILM_UM)
        need_above(landed, 0, "landed_solids", 1.0 + 1e-9)
        i = self.index(zone)
        laid = self._last_coat("zone", "a wet comb")
        need(laid[i] > 0, "zone", f"a wet comb reads the last coat, and {zone} has none")
        read = observe.between(
            self._state, self._state.last(i), gsf.CB, low_um * landed, high_um * landed, self.priors.spot
        )
        return self._heard(f"comb {zone}", 0.5 * (low_um + high_um) * landed, read)

    def _last_coat(self, path: str, what: str) -> Floats:
        if self._last_coat_um is None:
            raise InputError(path, f"{what} speaks of the last coat, and there is none")
        if self._last_count != 1:
            raise InputError(path, f"{what} speaks of one coat, and the last entry was several or uncertain")
        return self._last_coat_um

    def _heard(self, name: str, y: float, read: Read) -> "Ledger":
        flag = None
        if read.good < 0.5 or abs(y - read.expected) > CONTRADICTION_SD * read.sd:
            flag = Flag(what=name, read_um=y, expected_um=read.expected)
        return self._next(read.state, flag)

    def left_out(self, what: str, um: float, why: Fact) -> "Ledger":
        """The same film, with a reading flagged that speaks of something no longer logged."""
        return self._next(self._state, Flag(what=what, read_um=um, expected_um=0.0, why=why))

    def film(self, name: str) -> ZoneFilm:
        """The film of a zone: mean, sd and quantiles, never below 0."""
        return self._films[self.index(name)]

    def films(self) -> tuple[ZoneFilm, ...]:
        """All zones but the witness card."""
        return tuple(f for f in self._films if f.name != CARD.name)

    def mean_um(self, name: str) -> float:
        """The mean alone, which costs nothing."""
        f = self._state.film(self.index(name))
        return max(float(self._state.weights @ self._state.x[:, f]), 0.0)

    @functools.cached_property
    def then(self) -> FilmThen:
        """What is kept of it once more has happened: the film of every zone, and what was flagged."""
        return FilmThen(tuple(self._index), spread.marginals(self._state), self.flags)

    @functools.cached_property
    def _films(self) -> tuple[ZoneFilm, ...]:
        found = spread.quantiles(spread.marginals(self._state), (0.05, 0.5, 0.95))
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
        return self.then.quantiles(name, odds)

    def odds_below(self, name: str, um: float) -> float:
        """Probability that the zone's film is less than um."""
        return float(spread.odds_below(spread.marginals(self._state), um)[self.index(name)])

    def odds_below_floor(self, floor_um: float) -> dict[str, float]:
        """For every zone, the probability of less than its own share of the least film wanted."""
        floors = np.array([z.floor for z in self.zones]) * floor_um
        return dict(
            zip(
                (z.name for z in self.zones),
                spread.odds_below(spread.marginals(self._state), floors).tolist(),
                strict=True,
            )
        )

    def _lays(self, name: str) -> tuple[float, float]:
        """Mean and sd of g (1 + e) k of a zone over its usual k: moments of a product of normals in each node."""
        state, i = self._state, self.index(name)
        e, k, p = 1.0 + state.x[:, gsf.E], state.x[:, state.k(i)], state.p
        both = p[:, gsf.E, state.k(i)]
        var_e, var_k = p[:, gsf.E, gsf.E], p[:, state.k(i), state.k(i)]
        mean = state.g * (e * k + both)
        var = state.g**2 * (e**2 * var_k + k**2 * var_e + 2 * e * k * both + var_e * var_k + both**2)
        w, usual = state.weights, self.zones[i].k_mean
        middle = float(w @ mean)
        return middle / usual, float(np.sqrt(max(float(w @ (var + (mean - middle) ** 2)), 0.0))) / usual

    def lays(self, name: str) -> float:
        r"""How much thicker than nominal a coat of the main applicator lands on a zone, over its usual share [-].

        .. math:: c_z = \sum_j w_j g_j [(1 + e_j) k_{zj} + \mathrm{cov}_j(e, k_z)] / k_{z0}

        Source: the mean of a product of normals [S].
        """
        return self._lays(name)[0]

    def lays_spread(self, name: str) -> float:
        """The sd of that over its mean [-]: what all coats to come have in common."""
        mean, sd = self._lays(name)
        return sd / max(mean, 1e-6)

    def applicator(self, name: str = "") -> tuple[float, float]:
        """Mean and sd of the natural logarithm of an applicator's factor; empty for the main one."""
        state = self._state
        other = self._other(name)
        if other is not None:
            mean, sd = state.moments(gsf.FIRST_OTHER + other)
            cv2 = (sd / max(mean, 1e-6)) ** 2
            return float(np.log(max(mean, 1e-6)) - 0.5 * np.log1p(cv2)), float(np.sqrt(np.log1p(cv2)))
        w = state.weights
        mean_e, var_e = state.x[:, gsf.E], state.p[:, gsf.E, gsf.E]
        width2 = min(gsf.NODE_WIDTH, 0.999 * self.priors.g_ln_sd) ** 2
        ln = np.log(state.g) - 0.5 * width2 + mean_e
        mean = float(w @ ln)
        return mean, float(np.sqrt(w @ (var_e + (ln - mean) ** 2)))

    def count_odds(self) -> tuple[dict[int, float], ...]:
        """For every uncertain group kept apart: how likely each count is by now."""
        w, counts = self._state.weights, self._state.counts
        return tuple(
            {int(n): float(w[counts[:, i] == n].sum()) for n in np.unique(counts[:, i])} for i in range(counts.shape[1])
        )


def _checked(odds: Mapping[int, float]) -> dict[int, float]:
    need(len(odds) >= 1, "count_odds", "give at least one count")
    need(len(odds) <= MAX_BRANCHES, "count_odds", f"at most {MAX_BRANCHES} counts")
    for n, p in odds.items():
        need(0 <= n <= MAX_COUNT, "count_odds", f"a count must be between 0 and {MAX_COUNT} (got {n})")
        need_in(p, 0, 1, f"count_odds.{n}")
    total = sum(odds.values())
    need(abs(total - 1) < 1e-6, "count_odds", f"must add up to 1 (got {total:g})")
    return {n: p for n, p in sorted(odds.items()) if p > 0}
