"""Films that harden by reacting: two parts, oxygen, or light. Every coat is a layer with its own degree of cure.

Crosslinking: d alpha/dt = k(T) (1-alpha)^n g, where g falls to 2 % once the film is 10 K more glassy than the air is
warm; solvent held by two parts leaves as d phi/dt = -ks f(T) phi/(1 + (depth/hs)^2), depth to the layer's underside;
oxidation: after an induction time
d alpha/dt = f(T) a^.24 [k L (s - alpha)+/(1 + (h/h0)^2 + ((above+h)^2 - h^2)/hc^2) + t sqrt(L)/(1 + z/zt)
min(alpha/s, 1) (1 - alpha)], so that thick coats dry slower, buried ones too, and a fast skin has a slow tail (a:
airflow, L: light, s: share that oxygen reaches quickly, z: depth of the layer's underside); light:
alpha = 1 - exp(-ln2 E/Ec) with the dose E falling by 1/e every Dp.
Hardness by DiBenedetto's equation. Sources: standard forms [S]; constants [A].
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from ravden.core.cure.asked import NOTHING_TOLD, ONLY_THE_END, Conditions, Sampling
from ravden.core.cure.evaporative import COLUMN, DEFAULT_TEMP_C, in_order
from ravden.core.cure.felt import air_hours, step_means
from ravden.core.cure.models import Crosslink, LightCure, NeverHard, Oxidation
from ravden.core.errors import InputError, need_in
from ravden.core.record import Air, Coat, Exposure, Sanding

Floats = NDArray[np.float64]
Reacting = Crosslink | Oxidation | LightCure | NeverHard

TOP_UM = 6.0  # [A] the depth a scuff looks at
SLICES = 6  # a light-cured coat is followed at so many depths
PER_DECADE = 14  # hours of the grid after each event
FIRST_H = 0.02
BURIED_SLOWS = 2.0  # [A] the coat over one that was covered too soon dries so many times slower
NO_FILM_UM = 0.3  # [A] a coat no thicker is what the wood drank: it is no film that could be covered too soon
FAN_EXPONENT = 0.24  # [A] of the airflow, on the uptake of oxygen: a fan (3) is 1.3 times as fast
SOLVENT_EA_J_MOL = 38000.0  # [A] as solvent at a surface
WARMED_UM = 30.0  # [A] the depth a wheel warms


@dataclass(frozen=True, slots=True, kw_only=True)
class Buried:
    """A coat that was covered before it had taken up enough oxygen, or before light had cured it through."""

    coat: int
    at_h: float
    share: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LayerHistory:
    """What happened to the layers. steps, samples: rows as CureHistory has them, where the last two columns are the top
    layer's and the least degree of cure; alpha: (steps, layers); thick: (layers,) cured um."""

    steps: Floats
    samples: Floats
    alpha: Floats
    alpha_samples: Floats
    phi_samples: Floats
    thick: Floats
    left: Floats
    model: Reacting
    last_coat_h: float | None
    end_state: Floats
    buried: tuple[Buried, ...]
    inputs: "Inputs"

    def column(self, name: str) -> Floats:
        """One quantity at the asked hours."""
        return np.asarray(self.samples[:, COLUMN[name]])

    def softness_C(self, depths: int) -> Floats:
        """Tg [C] at equal shares of the film, from the wood up: (samples, depths); nan where there is none."""
        shares = (np.arange(depths) + 0.5) / depths
        out = np.full((len(self.samples), depths), np.nan)
        for i, thick in enumerate(self.left):
            total = thick.sum()
            if total > 0:
                layer = np.searchsorted(np.cumsum(thick) / total, shares).clip(0, len(thick) - 1)
                out[i] = _glass_C(self.alpha_samples[i, layer], self.phi_samples[i, layer], self.model)
        return out

    def least_Tg_over_top_C(self, sample: int, depth_um: float) -> float:
        """Lowest Tg [C] from the surface down to depth_um, at one sample."""
        thick = self.left[sample]
        above = np.cumsum(thick[::-1])[::-1] - thick
        touched = (above <= max(depth_um, 0.0)) & (thick > 0)
        if not touched.any():
            return float("nan")
        tg = _glass_C(self.alpha_samples[sample, touched], self.phi_samples[sample, touched], self.model)
        return float(tg.min())

    def at_samples(self, at: NDArray[np.intp]) -> "LayerHistory":
        """The same, sampled at these of its samples only."""
        return replace(
            self, samples=self.samples[at], alpha_samples=self.alpha_samples[at], phi_samples=self.phi_samples[at],
            left=self.left[at],
        )  # fmt: skip

    def softest(self, sample: int) -> tuple[float, float]:
        """Depth below the surface [um] of the least cured layer's middle, and what is uncured there [-]."""
        thick = self.left[sample]
        above = np.cumsum(thick[::-1])[::-1] - thick
        alpha = np.where(thick > 0, self.alpha_samples[sample], 2.0)
        j = int(alpha.argmin())
        return float(above[j] + 0.5 * thick[j]), float(1.0 - alpha[j])


@dataclass(frozen=True, slots=True, kw_only=True)
class Inputs:
    """What a history was solved from, so that another can go on from it."""

    coats: tuple[Coat, ...]
    sandings: tuple[Sanding, ...]
    exposures: tuple[Exposure, ...] = field(default=())


def tg_C(alpha: Floats, model: Reacting) -> Floats:
    """Glass transition at a degree of cure [C], by DiBenedetto [S].

    .. math:: T_g = T_{g0} + (T_{g1}-T_{g0}) \\frac{\\lambda \\alpha}{1 - (1-\\lambda)\\alpha}
    """
    if isinstance(model, NeverHard):
        return np.full(np.shape(alpha), -100.0)
    bent = model.bend * alpha / (1.0 - (1.0 - model.bend) * alpha)
    return np.asarray(model.Tg0_C + (model.Tg1_C - model.Tg0_C) * bent)


def _glass_C(alpha: Floats, phi: Floats, model: Reacting) -> Floats:
    """The same with solvent still in it, by Fox [S]: 1/Tg = (1 - phi)/Tg(alpha) + phi/Tg_s, in kelvin."""
    tg = tg_C(alpha, model)
    if not isinstance(model, Crosslink) or not model.solvent:
        return tg
    return np.asarray(1.0 / ((1.0 - phi) / (tg + 273.15) + phi / (model.Tg_solvent_C + 273.15)) - 273.15)


def _held(
    model: Reacting, hours: Floats, temps_C: Floats, flow: Floats, born: NDArray[np.intp], left: Floats,
    rate_factor: float,
) -> Floats:  # fmt: skip
    """Share of solvent that two parts still hold, by hour and layer: it leaves the slower the deeper a layer lies.

    .. math:: d\\phi_j/dt = -k_s f(T)\\,a\\,\\phi_j / (1 + (z_j/h_s)^2)

    z_j: depth of the layer's underside [um], a: airflow. Lumped form of diffusion through what lies above [A].
    """
    phi = np.zeros_like(left)
    if not isinstance(model, Crosslink) or not model.solvent or not left.shape[1]:
        return phi
    depth = np.cumsum(left[:, ::-1], axis=1)[:, ::-1]
    factor = np.exp(-SOLVENT_EA_J_MOL / 8.314462618 * (1.0 / (temps_C + 273.15) - 1.0 / 293.15))
    pace = (model.solvent_per_h * rate_factor * factor * flow)[:, None] / (1.0 + (depth[:-1] / model.solvent_um) ** 2)
    lost = np.vstack([np.zeros(left.shape[1]), np.cumsum(pace * np.diff(hours)[:, None], axis=0)])
    since = lost[born, np.arange(left.shape[1])]
    phi = model.solvent * np.exp(-np.maximum(lost - since, 0.0))
    return np.where(np.arange(len(hours))[:, None] >= born, phi, 0.0)


def solve(
    model: Reacting,
    coats: Sequence[Coat],
    sandings: Sequence[Sanding] = (),
    *,
    under: Conditions = NOTHING_TOLD,
    sampling: Sampling = ONLY_THE_END,
    after: LayerHistory | None = None,
) -> LayerHistory:
    """Follow the layers from the first coat to the end of the sampling. after: go on from a history."""
    exposures, rate_factor, airflow = under.exposures, under.rate_factor, under.airflow
    if after is not None:
        coats, sandings = [*after.inputs.coats, *coats], [*after.inputs.sandings, *sandings]
        exposures = [*after.inputs.exposures, *exposures]
    in_order("coats", [c.at_h for c in coats])
    in_order("sand", [s.at_h for s in sandings])
    samples = sampling.hours
    marks = [c.at_h for c in coats] + [s.at_h for s in sandings] + [e.at_h for e in exposures]
    latest = max([*marks, *(samples[-1:].tolist()), 0.0])
    end = sampling.end_h(latest)
    temps = sorted(under.air, key=lambda a: a.at_h) or [Air(at_h=0.0, temp_C=DEFAULT_TEMP_C)]
    hours = _grid([*marks, *samples.tolist()], end, air_hours(temps, marks, end))
    thick, born, left = _layers(model, coats, sandings, hours)
    at_h = np.array([a.at_h for a in temps])
    temps_C = step_means(at_h, np.array([a.temp_C for a in temps]), hours)
    flow = airflow * step_means(at_h, np.array([a.moves for a in temps]), hours)
    lit = step_means(at_h, np.array([a.light for a in temps]), hours)
    around = _Around(temps_C=temps_C, flow=flow, light=lit, rate_factor=rate_factor)
    alpha, buried = _cured(model, coats, exposures, hours, around, thick, born, left)
    phi = _held(model, hours, temps_C, flow, born, left, rate_factor)
    rows = _rows(model, hours, alpha, phi, left, thick)
    # A sample at an event's own hour is taken before it.
    event = np.searchsorted(hours, samples, side="left").clip(0, len(hours) - 1)
    before = np.array([_just_before(i, hours, marks) for i in event], dtype=np.intp)
    keep = _left_at(left, before, hours, samples)
    taken = _rows(model, hours[event], alpha[event], phi[event], keep, thick) if len(event) else np.zeros((0, 11))
    return LayerHistory(
        steps=rows, samples=taken, alpha=alpha, alpha_samples=alpha[event], phi_samples=phi[event], thick=thick,
        left=keep, model=model,
        last_coat_h=max((c.at_h for c in coats), default=None),
        end_state=np.array([end, float(left[-1].sum())]), buried=buried,
        inputs=Inputs(coats=tuple(coats), sandings=tuple(sandings), exposures=tuple(exposures)),
    )  # fmt: skip


def _grid(marks: Sequence[float], end: float, plain: Sequence[float] = ()) -> Floats:
    """Hours: every mark, and evenly in the logarithm of the time after it; plain: others, with nothing dense after."""
    events = sorted({m for m in marks if m <= end} | {0.0, end})
    out = []
    for a, b in zip(events, [*events[1:], end], strict=True):
        out.append([a])
        if b - a > FIRST_H:
            n = max(int(PER_DECADE * math.log10((b - a) / FIRST_H)), 1)
            out.append((a + FIRST_H * ((b - a) / FIRST_H) ** (np.arange(n) / n)).tolist())
    hours = np.array([h for part in out for h in part])
    # An hour may stand twice: just before an event, and just after it.
    more = np.setdiff1d(np.array(plain, dtype=float), hours)
    return np.sort(np.concatenate([hours, more]), kind="stable") if len(more) else hours


def _layers(
    model: Reacting, coats: Sequence[Coat], sandings: Sequence[Sanding], hours: Floats
) -> tuple[Floats, NDArray[np.intp], Floats]:
    """Thickness and birth (grid index) of every layer from the wood up, and what is left of each at every hour."""
    slices = SLICES if isinstance(model, LightCure) else 1
    thick = np.repeat([c.dry_um / slices for c in coats], slices) if coats else np.zeros(0)
    born = np.repeat([int(np.searchsorted(hours, c.at_h)) for c in coats], slices).astype(np.intp)
    left = np.zeros((len(hours), len(thick)))
    for j in range(len(thick)):
        # A row at the coat's own hour stands for just after it; samples there are taken before.
        left[born[j] :, j] = thick[j]
    for i, s in enumerate(sandings):
        at = int(np.searchsorted(hours, s.at_h))
        gone, j = s.um, len(thick) - 1
        have = float(left[at, born <= at].sum()) if len(thick) else 0.0
        if gone > have + 1e-9:
            raise InputError(f"sand[{i}].um", f"takes {s.um:g} um where only {have:g} um of dry film is left")
        while gone > 1e-12 and j >= 0:
            if born[j] <= at:
                cut = min(gone, float(left[at, j]))
                left[at:, j] -= cut
                gone -= cut
            j -= 1
    return thick, born, np.maximum(left, 0.0)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Around:
    """The air of each interval of the grid: its warmth [C], movement and light [-]; rate_factor: this shop's."""

    temps_C: Floats
    flow: Floats
    light: Floats
    rate_factor: float


def _cured(
    model: Reacting, coats: Sequence[Coat], exposures: Sequence[Exposure], hours: Floats, around: _Around,
    thick: Floats, born: NDArray[np.intp], left: Floats,
) -> tuple[Floats, tuple[Buried, ...]]:  # fmt: skip
    """Degree of cure of every layer at every hour, and the coats that were covered too soon."""
    alpha = np.zeros_like(left)
    if len(thick) == 0 or isinstance(model, NeverHard):
        return alpha, ()
    if isinstance(model, LightCure):
        return _lit(model, exposures, hours, thick, born, left), ()
    # Imported here: the compiler costs a third of a second that the first paint must not pay.
    from ravden.core.cure import _layers as kernel

    slowed, tails, skin = np.ones((len(hours) - 1, len(thick))), np.zeros((len(hours) - 1, len(thick))), 1.0
    wait = np.zeros(len(thick))
    gone = np.array([_last(left[:, j]) for j in range(len(thick))], dtype=np.intp)
    crosslinks = isinstance(model, Crosslink)
    if isinstance(model, Oxidation):
        depth, own = np.cumsum(left[:, ::-1], axis=1)[:, ::-1][:-1], left[:-1]
        thin = 1.0 + (own / (model.coat_um or model.thick_um)) ** 2 + (depth**2 - own**2) / model.thick_um**2
        light, moved = model.light * around.light, around.flow**FAN_EXPONENT
        fanned = light * moved
        slowed = thin / fanned[:, None]
        wait[:] = model.induction_h / fanned[np.minimum(born, len(fanned) - 1)]
        skin = model.skin_share
        # Light reaches the skin: what lies under it follows by the root of it.
        pace = model.tail_per_h * around.rate_factor * np.sqrt(light) * moved
        tails = pace[:, None] / (1.0 + depth / model.tail_um)
    kind, n = (kernel.CROSSLINK, model.n) if isinstance(model, Crosslink) else (kernel.OXIDATION, 1.0)

    def react() -> None:
        kernel.react(
            hours, around.temps_C, born, gone, slowed, wait, kind, model.k20_per_h * around.rate_factor, n,
            model.Ea_J_mol, model.Tg0_C + 273.15, model.Tg1_C + 273.15, model.bend, skin, tails, alpha,
        )  # fmt: skip

    react()
    if crosslinks or not isinstance(model, Oxidation):
        return alpha, ()
    buried = _buried(model, coats, hours, alpha, born)
    for item in buried:
        slowed[:, item.coat + 1] *= BURIED_SLOWS  # the next coat only: it takes its oxygen over a layer that wants some
    if buried:
        react()
    return alpha, buried


def _buried(
    model: Oxidation, coats: Sequence[Coat], hours: Floats, alpha: Floats, born: NDArray[np.intp]
) -> tuple[Buried, ...]:
    out = []
    for j in range(len(coats) - 1):
        share = float(alpha[born[j + 1], j])
        if share < model.buried_share and coats[j].dry_um > NO_FILM_UM:
            out.append(Buried(coat=j, at_h=coats[j + 1].at_h, share=share))
    return tuple(out)


def _lit(
    model: LightCure, exposures: Sequence[Exposure], hours: Floats, thick: Floats, born: NDArray[np.intp], left: Floats
) -> Floats:
    """Dose adds up at every depth; what lies above takes its share of the light."""
    dose = np.zeros_like(left)
    for e in exposures:
        at = int(np.searchsorted(hours, e.at_h))
        above = np.cumsum(left[at, ::-1])[::-1] - left[at]
        share = np.exp(-(above + 0.5 * left[at]) / model.depth_um)
        dose[at:] += np.where(born <= at, e.dose_mJ_cm2 * share, 0.0)
    return np.asarray(1.0 - np.exp(-math.log(2.0) * dose / model.gel_mJ_cm2))


def cure_depth_um(model: LightCure, dose_mJ_cm2: float) -> float:
    """Depth to which a dose sets the resin, Cd = Dp ln(E/Ec) [um]; 0 below the critical dose. Source: working curve
    [S].

    >>> round(cure_depth_um(LightCure(depth_um=150, gel_mJ_cm2=20), 400), 1)
    449.4
    """
    need_in(dose_mJ_cm2, 0, 1e9, "dose_mJ_cm2")
    if dose_mJ_cm2 <= model.gel_mJ_cm2:
        return 0.0
    return model.depth_um * math.log(dose_mJ_cm2 / model.gel_mJ_cm2)


def pot_life_h(model: Crosslink, temp_C: float) -> float:
    """Time until the cup has thickened, at the pot conversion [h]; a deep cup warms itself and is quicker.

    .. math:: t = \\frac{1}{k(T)} \\int_0^{\\alpha_p} \\frac{d\\alpha}{(1-\\alpha)^n}

    temp_C: of the cup [C]. Source: the rate law [S given its constants], far from glassy.

    >>> round(60 * pot_life_h(Crosslink(k20_per_h=0.2, n=2.0), 20))
    33
    """
    need_in(temp_C, 0, 60, "temp_C", "C")
    factor = math.exp(-model.Ea_J_mol / 8.314462618 * (1 / (temp_C + 273.15) - 1 / 293.15))
    a, n = model.pot_share, model.n
    reacted = -math.log(1 - a) if abs(n - 1) < 1e-9 else ((1 - a) ** (1 - n) - 1) / (n - 1)
    return reacted / (model.k20_per_h * factor)


def _rows(model: Reacting, hours: Floats, alpha: Floats, phi: Floats, left: Floats, thick: Floats) -> Floats:
    rows = np.zeros((len(hours), 11))
    rows[:, 0] = hours
    if len(thick) == 0:
        return rows
    there = left > 0
    dry = left.sum(axis=1)
    shrink = 0.0 if isinstance(model, NeverHard) else model.shrink
    film = (left * (1.0 + shrink * (1.0 - alpha) + phi / (1.0 - phi))).sum(axis=1)
    tg = np.where(there, _glass_C(alpha, phi, model), np.inf)
    top = np.where(there.any(axis=1), there.shape[1] - 1 - there[:, ::-1].argmax(axis=1), 0)
    above = np.cumsum(left[:, ::-1], axis=1)[:, ::-1] - left
    near, warmed = there & (above < TOP_UM), there & (above < WARMED_UM)
    some = dry > 0
    share = np.where(some, (left * (1.0 - alpha)).sum(axis=1) / np.maximum(dry, 1e-12), 0.0)
    at = np.arange(len(hours))
    held = np.where(some, (left * phi).sum(axis=1) / np.maximum(dry, 1e-12), 0.0)
    rows[:, 1], rows[:, 2], rows[:, 3] = dry, film, shrink * share + held
    rows[:, 4] = np.where(there, 1.0 - alpha, 0.0).max(axis=1)
    rows[:, 5] = np.where(some, tg.min(axis=1), -100.0)
    rows[:, 6] = np.where(some, np.where(near, tg, np.inf).min(axis=1), -100.0)
    rows[:, 7] = np.where(some, tg[at, top], -100.0)
    rows[:, 10] = np.where(some, np.where(warmed, tg, np.inf).min(axis=1), -100.0)
    rows[:, 8] = np.where(some, alpha[at, top], 0.0)
    rows[:, 9] = np.where(some, np.where(there, alpha, 2.0).min(axis=1), 0.0)
    return rows


def _last(left: Floats) -> int:
    there = np.flatnonzero(left > 0)
    return int(there[-1]) + 1 if len(there) else 0


def _just_before(index: int, hours: Floats, marks: Sequence[float]) -> int:
    return index - 1 if index > 0 and any(abs(hours[index] - m) < 1e-9 for m in marks) else index


def _left_at(left: Floats, before: NDArray[np.intp], hours: Floats, samples: Floats) -> Floats:
    if len(before) == 0:
        return np.zeros((0, left.shape[1]))
    out = left[before].copy()
    out[hours[before] > samples + 1e-9] = 0.0
    return out
