"""The rate factor of a material in this shop, from a weighed card and from what fingers and noses noticed.

A card coated with the instrument weighs dry film and the solvent still in it. Its mass at several moments is compared
with the solver's over a grid of deposits and rates; observations bound the rate by what the film must then have been.

.. math:: m(t)/A = \\rho_d Z + \\rho_s \\int_0^Z u(z, t; r)\\, dz

Source: mass balance [S] on the solver's film; priors, solvent density and thresholds [A].
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.evaporative import solve
from ravden.core.errors import InputError, need, need_above
from ravden.core.record import Air, Coat, Sanding, SolventLoss

Floats = NDArray[np.float64]

SOLVENT_G_ML = 0.86  # [A] what is left in a film is the slow end of the blend
PRIOR_LN_SD, DEPOSIT_LN_SD = 0.22, 0.25  # [A] of the rate, and of a gun not yet known
SCALE_G = 0.001  # [A] a milligram scale
MODEL_SHARE = 0.02  # [A] what the model itself may be wrong by, of the solvent left
RATES, DEPOSITS, REACH = 9, 7, 2.8  # [C] solved at so many rates and deposits, out to so many prior sd
FINE, REACH_SD = 17, 3.5  # points a side of the grid over the posterior, and how far it reaches in its own sd

# [A] what each observation says of the least margin over the bench [K]: below or above it, with some doubt.
NOTICED = {
    "nail-dents": (8.0, False), "nail-holds": (8.0, True), "print": (12.0, False), "no-print": (12.0, True),
    "smells": (15.0, False), "no-smell": (10.0, True),
}  # fmt: skip
DOUBT_K = 3.0  # [A]


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighing:
    """What a card had gained over its bare weight, by area [mg/cm2], at an hour."""

    at_h: float
    mg_cm2: float

    def __post_init__(self) -> None:
        need_above(self.mg_cm2, 0, "mg_cm2", 1e4)


@dataclass(frozen=True, slots=True, kw_only=True)
class Noticed:
    """An observation on the instrument: which one of NOTICED, and when."""

    at_h: float
    what: str

    def __post_init__(self) -> None:
        need(self.what in NOTICED, "what", f"must be one of {', '.join(NOTICED)} (got {self.what})")


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """What was learnt: ln of the rate factor, mean and sd, before and after; the card's dry deposit [um] with its sd,
    and the share of solvent left in it at the last weighing [-]."""

    prior_mean: float
    prior_sd: float
    mean: float
    sd: float
    deposit_um: float
    deposit_sd_um: float
    solvent_left: float
    weighings: int
    observations: int

    @property
    def interval(self) -> tuple[float, float]:
        """90 % interval of the rate factor itself [-]."""
        return math.exp(self.mean - 1.645 * self.sd), math.exp(self.mean + 1.645 * self.sd)


def fit(
    material: SolventLoss, coats: Sequence[Coat], air: Sequence[Air], weighings: Sequence[Weighing], *,
    dry_g_ml: float, noticed: Sequence[Noticed] = (), margin_K: Callable[[float], Sequence[float]] | None = None,
    prior: tuple[float, float] = (0.0, PRIOR_LN_SD), deposit: tuple[float, float] = (0.0, DEPOSIT_LN_SD),
    card_cm2: float = 100.0, scale_g: float = SCALE_G, model_share: float = MODEL_SHARE,
) -> Fit:  # fmt: skip
    """The rate factor from weighings of a card with these coats, and from observations on the instrument.

    margin_K: the least margin of the instrument's film at each observation's hour, for a rate factor; needed where
    there are observations. prior, deposit: mean and sd of ln rate, and of ln deposit against nominal. Raises InputError
    for a card weighed before it was coated, or with nothing to learn from.
    """
    need(bool(weighings) or bool(noticed), "weighings", "weigh the card, or note what you notice, first")
    for i, w in enumerate(weighings):
        need(
            bool(coats) and w.at_h >= coats[0].at_h, f"weighings[{i}].at_h", "the card was weighed before it was coated"
        )
    if noticed and margin_K is None:
        raise InputError("noticed", "an observation needs the instrument's film")
    by_mass, left = _posterior(
        material, coats, air, weighings, dry_g_ml, prior, deposit, 1000 * scale_g / card_cm2, model_share
    )
    seen = None
    if noticed and margin_K is not None:
        seen = _noticed(noticed, margin_K, np.linspace(*_reach(prior), RATES))

    def log_p(x: Floats) -> float:
        return by_mass(x) + (0.0 if seen is None else seen(float(x[0])))

    ln_r, ln_h, p = _weighed(log_p, prior, deposit, bool(weighings))
    mean, mean_h = float(p @ ln_r), float(p @ ln_h)
    nominal = sum(c.dry_um for c in coats)
    um = np.exp(ln_h) * nominal
    deposit_um = float(p @ um)
    return Fit(
        prior_mean=prior[0], prior_sd=prior[1], mean=mean, sd=float(np.sqrt(p @ (ln_r - mean) ** 2)),
        deposit_um=deposit_um, deposit_sd_um=float(np.sqrt(p @ (um - deposit_um) ** 2)),
        solvent_left=left(mean, mean_h), weighings=len(weighings), observations=len(noticed),
    )  # fmt: skip


def _reach(prior: tuple[float, float]) -> tuple[float, float]:
    return prior[0] - REACH * prior[1], prior[0] + REACH * prior[1]


def _posterior(
    material: SolventLoss, coats: Sequence[Coat], air: Sequence[Air], weighings: Sequence[Weighing], dry_g_ml: float,
    prior: tuple[float, float], deposit: tuple[float, float], noise: float, model_share: float,
) -> tuple[Callable[[Floats], float], Callable[[float, float], float]]:  # fmt: skip
    """ln of the posterior at (ln rate, ln deposit), and the solvent left at the last weighing there."""
    from scipy.interpolate import RectBivariateSpline

    grid_r, grid_h = np.linspace(*_reach(prior), RATES), np.linspace(*_reach(deposit), DEPOSITS)
    hours = [w.at_h for w in weighings]
    solvent: list[RectBivariateSpline] = []
    share: RectBivariateSpline | None = None
    if hours:
        lost = np.empty((len(hours), RATES, DEPOSITS))
        last = np.empty((RATES, DEPOSITS))
        for i, r in enumerate(grid_r):
            for j, h in enumerate(grid_h):
                mass, phi = card_mass_mg_cm2(material, coats, air, hours, dry_g_ml, math.exp(r), math.exp(h))
                dry = np.array([0.1 * dry_g_ml * math.exp(h) * _dry(coats, t) for t in hours])
                lost[:, i, j] = np.log(np.maximum(mass - dry, 1e-9))
                last[i, j] = phi[int(np.argmax(hours))]
        solvent = [RectBivariateSpline(grid_r, grid_h, m) for m in lost]
        share = RectBivariateSpline(grid_r, grid_h, last)

    def log_p(x: Floats) -> float:
        out = -0.5 * ((x[0] - prior[0]) / prior[1]) ** 2 - 0.5 * ((x[1] - deposit[0]) / deposit[1]) ** 2
        for w, spline in zip(weighings, solvent, strict=True):
            left = math.exp(float(spline(x[0], x[1])[0, 0]))
            mass = left + 0.1 * dry_g_ml * math.exp(x[1]) * _dry(coats, w.at_h)
            var = noise**2 + (model_share * left) ** 2
            out += -0.5 * (w.mg_cm2 - mass) ** 2 / var - 0.5 * math.log(var)
        return float(out)

    return log_p, lambda r, h: 0.0 if share is None else float(share(r, h)[0, 0])


def _weighed(
    log_p: Callable[[Floats], float], prior: tuple[float, float], deposit: tuple[float, float], weighed: bool
) -> tuple[Floats, Floats, Floats]:
    """Points of (ln rate, ln deposit) and their weights: a grid laid over the posterior in its own directions."""
    from scipy.optimize import minimize

    start = np.array([prior[0], deposit[0]])
    size = np.array([prior[1], deposit[1]])
    best = start

    def cost(z: Floats) -> float:
        return -log_p(start + size * z)

    if weighed:
        options: Any = {"xatol": 1e-5, "fatol": 1e-6, "maxiter": 400}
        best = start + size * minimize(cost, np.zeros(2), method="Nelder-Mead", options=options).x
    step = 1e-3 * size
    curve = np.empty((2, 2))
    for a in range(2):
        for b in range(2):
            da, db = np.eye(2)[a] * step, np.eye(2)[b] * step
            terms = log_p(best + da + db) - log_p(best + da - db) - log_p(best - da + db) + log_p(best - da - db)
            curve[a, b] = -terms / (4 * step[a] * step[b])
    values, vectors = np.linalg.eigh(curve)
    widths = 1 / np.sqrt(np.maximum(values, 1.0 / size.max() ** 2))
    along = np.linspace(-REACH_SD, REACH_SD, FINE)
    steps = np.stack(np.meshgrid(along, along), axis=-1).reshape(-1, 2)
    points = best + (steps * widths) @ vectors.T
    logs = np.array([log_p(x) for x in points])
    p = np.exp(logs - logs.max())
    return points[:, 0], points[:, 1], p / p.sum()


def _dry(coats: Sequence[Coat], at_h: float) -> float:
    return sum(c.dry_um for c in coats if c.at_h <= at_h)


def card_mass_mg_cm2(
    material: SolventLoss, coats: Sequence[Coat], air: Sequence[Air], hours: Sequence[float], dry_g_ml: float,
    rate: float = 1.0, deposit: float = 1.0, sandings: Sequence[Sanding] = (),
) -> tuple[Floats, Floats]:  # fmt: skip
    """What a card weighs by area at these hours [mg/cm2], and its solvent by volume [-].

    1 um of density 1 is 0.1 mg/cm2.

    rate: this shop's factor [-]; deposit: film against nominal [-].
    """
    laid = [replace(c, dry_um=c.dry_um * deposit) for c in coats]
    order = np.argsort(hours)
    asked = Sampling(sample_h=[hours[i] for i in order], until_h=max(hours))
    found = solve(material, laid, sandings, under=Conditions(air=air, rate_factor=rate), sampling=asked)
    dry, film = np.empty(len(hours)), np.empty(len(hours))
    dry[order], film[order] = found.column("dry_um"), found.column("film_um")
    share = np.where(film > 0, (film - dry) / np.maximum(film, 1e-12), 0.0)
    return 0.1 * (dry_g_ml * dry + SOLVENT_G_ML * (film - dry)), share


def _noticed(
    noticed: Sequence[Noticed], margin_K: Callable[[float], Sequence[float]], ln_r: Floats
) -> Callable[[float], float]:
    """Log odds of everything noticed at a rate: the film was softer, or harder, than a threshold."""
    from scipy.special import log_expit

    margins = np.array([margin_K(float(np.exp(r))) for r in ln_r])

    def odds(x: float) -> float:
        out = 0.0
        for i, seen in enumerate(noticed):
            threshold, harder = NOTICED[seen.what]
            at = float(np.interp(x, ln_r, margins[:, i]))
            out += float(log_expit((1.0 if harder else -1.0) * (at - threshold) / DOUBT_K))
        return out

    return odds
