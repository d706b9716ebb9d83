"""Films that dry by losing solvent: how much is left, at which depth, and how soft that leaves the film.

One-dimensional diffusion in polymer-fixed coordinates (z in [0, Z] is dry polymer from the wood up, u is volume of
solvent per volume of polymer, phi = u/(1+u)):

.. math:: \\partial_t u = \\partial_z (D_L \\partial_z u), \\quad D_L = D(\\phi, T)/(1+u)^2

no flux into the wood, evaporation by Flory-Huggins activity at the surface, hardness by the Fox equation. The film as
it stands is the integral of (1+u); the shrink still to come is that less Z. Sources: standard physics; constants [A].
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from ravden.core.cure.asked import NOTHING_TOLD, ONLY_THE_END, Conditions, Sampling
from ravden.core.cure.felt import felt
from ravden.core.errors import InputError, need
from ravden.core.record import Air, Coat, Sanding, SolventLoss

Floats = NDArray[np.float64]

CELLS = 18  # [C] halving the cells moves windows by < 1 %
TOP_FINENESS = 6.0  # [C] bottom over top cell; 5 to 10 does as well
STEP_TOLERANCE = 0.08  # [C] gap of second to first order in u; mean phi within 0.5 %
ROUGH_TOLERANCE, ROUGH_CELLS = 0.3, 8  # [C] for the ends of a range and for a drag
DEFAULT_TEMP_C = 20.0
DAMP_RH, DAMP_EXPONENT = 0.5, 0.4  # [A] from which humidity on a film of water dries slower, and how
WATER_EA_J_MOL = 38000.0  # [A] as solvent at the surface


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CureHistory:
    """What the solver found. Columns share one layout: dry and film [um], phi [-], Tg [C], put and lost [um].

    steps: (n, 11) one row per step taken; samples: (m, 11) one row per asked hour; profiles: (m, cells) solvent per
    polymer from the wood up; fractions: (cells,) share of the dry film in each cell; end_u, end_state: where it ended,
    for a later solve to go on from; wet: coats whose water had not left by then.
    """

    steps: Floats
    samples: Floats
    profiles: Floats
    fractions: Floats
    last_coat_h: float | None
    end_u: Floats
    end_state: Floats
    material: SolventLoss
    wet: tuple[Coat, ...] = ()

    def __post_init__(self) -> None:
        for array in (self.steps, self.samples, self.profiles, self.fractions, self.end_u, self.end_state):
            array.setflags(write=False)

    def column(self, name: str) -> Floats:
        """One quantity at the asked hours."""
        out: Floats = self.samples[:, COLUMN[name]]
        return out

    def softness_C(self, depths: int) -> Floats:
        """Tg [C] at ``depths`` equal shares of the film as it stands, from the wood up: (samples, depths)."""
        shares = (np.arange(depths) + 0.5) / depths
        thickness = (1 + self.profiles) * self.fractions
        heights = np.cumsum(thickness, axis=1)
        centres = (heights - 0.5 * thickness) / heights[:, -1:]
        phi = self.profiles / (1 + self.profiles)
        at = np.array([np.interp(shares, c, p) for c, p in zip(centres, phi, strict=True)]).reshape(-1, depths)
        bare = self.samples[:, COLUMN["dry_um"]] <= 0
        out: Floats = np.where(bare[:, None], np.nan, glass_transition_C(at, self.material))
        return out

    def least_Tg_over_top_C(self, sample: int, depth_um: float) -> float:
        """Lowest Tg [C] from the surface down to depth_um of film as it stands, at one sample: what a paper meets."""
        u = self.profiles[sample]
        thickness = self.samples[sample, 1] * (1 + u) * self.fractions
        below_surface = np.cumsum(thickness[::-1])[::-1] - thickness
        touched = u[below_surface <= max(depth_um, 0.0)]
        softest = touched.max() if len(touched) else u[-1]
        return float(glass_transition_C(np.array([softest / (1 + softest)]), self.material)[0])

    def softest(self, sample: int) -> tuple[float, float]:
        """Depth below the surface [um] of the wettest place, and the solvent there by volume [-]."""
        u = self.profiles[sample]
        thickness = self.samples[sample, 1] * (1 + u) * self.fractions
        below_surface = np.cumsum(thickness[::-1])[::-1] - thickness
        i = int(u.argmax())
        return float(below_surface[i] + 0.5 * thickness[i]), float(u[i] / (1 + u[i]))

    def at_samples(self, at: NDArray[np.intp]) -> "CureHistory":
        """The same, sampled at these of its samples only."""
        return replace(self, samples=self.samples[at].copy(), profiles=self.profiles[at].copy())


COLUMN = {
    "at_h": 0, "dry_um": 1, "film_um": 2, "phi_mean": 3, "phi_max": 4, "Tg_min_C": 5, "Tg_top_C": 6,
    "Tg_surface_C": 7, "put_um": 8, "lost_um": 9, "Tg_warmed_C": 10,
}  # fmt: skip


def glass_transition_C(phi: Floats, material: SolventLoss) -> Floats:
    """Fox equation: 1/Tg = (1-phi)/Tg_dry + phi/Tg_solvent, in kelvin. Returns [C]. Source: standard correlation."""
    dry_K, solvent_K = material.Tg_dry_C + 273.15, material.Tg_solvent_C + 273.15
    out: Floats = 1.0 / ((1.0 - phi) / dry_K + phi / solvent_K) - 273.15
    return out


def wet_solvent(solids: float) -> float:
    """Solvent per polymer of a fresh coat, u0 = (1 - VS)/VS [-]. Source: volume balance.

    >>> wet_solvent(0.2)
    4.0
    """
    return (1.0 - solids) / solids


def grid(cells: int = CELLS) -> Floats:
    """Share of the film in each cell, from the wood up, falling geometrically towards the surface."""
    sizes = TOP_FINENESS ** (-np.arange(cells) / (cells - 1.0))
    out: Floats = sizes / sizes.sum()
    return out


def appended(first: CureHistory, then: CureHistory) -> CureHistory:
    """Two stretches of one film as one, the second having gone on from the first."""
    return replace(
        then, samples=np.vstack([first.samples, then.samples]), profiles=np.vstack([first.profiles, then.profiles])
    )


def water_gone_h(material: SolventLoss, coat: Coat, start_h: float, air: Sequence[Air]) -> float:
    """Hour at which the water of a coat has left [h]; infinite in air that stays saturated.

    .. math:: t = \\frac{h_w}{k_w (1-RH) f(T)}

    over the air as it changes, f that of solvent at the surface. Source: [A], with water's pace k_w.
    """
    left, at = material.water_share * coat.dry_um, start_h
    rows = sorted(air, key=lambda a: a.at_h) or [Air(at_h=0.0, temp_C=DEFAULT_TEMP_C)]
    index = max((i for i, a in enumerate(rows) if a.at_h <= at), default=0)
    while left > 0:
        now = rows[index]
        factor = np.exp(-WATER_EA_J_MOL / 8.314462618 * (1 / (now.temp_C + 273.15) - 1 / 293.15))
        pace = material.water_um_h * (1.0 - now.rh) * float(factor)
        stop = rows[index + 1].at_h if index + 1 < len(rows) else np.inf
        if pace > 0 and left <= pace * (stop - at):
            return at + left / pace
        if not np.isfinite(stop):
            return float(np.inf)
        left -= pace * (stop - at)
        at, index = stop, index + 1
    return at


def _after_water(
    material: SolventLoss, coats: Sequence[Coat], air: Sequence[Air], end_h: float
) -> tuple[list[Coat], tuple[Coat, ...]]:
    """The coats dated from when their water has left, and those still wet at the end; the first of these dated from
    when its own water began to leave, which is after that of the coat under it."""
    dried: list[Coat] = []
    wet: list[Coat] = []
    done = -np.inf
    for coat in coats:
        begins = max(coat.at_h, done)
        done = water_gone_h(material, coat, begins, air)
        if done <= end_h:
            dried.append(structs.replace(coat, at_h=done))
        else:
            wet.append(coat if wet else structs.replace(coat, at_h=begins))
    return dried, tuple(wet)


def _sanded_wet(
    material: SolventLoss, coats: Sequence[Coat], sandings: Sequence[Sanding], air: Sequence[Air]
) -> tuple[list[Coat], list[Sanding]]:
    """The same once paper has taken what it met first: of coats whose water was still in them, from the top down."""
    gone: list[float] = []
    for coat in coats:
        gone.append(water_gone_h(material, coat, max(coat.at_h, gone[-1] if gone else -np.inf), air))
    thick = [c.dry_um for c in coats]
    cuts = []
    for cut in sandings:
        left = cut.um
        for i in reversed(range(len(coats))):
            if coats[i].at_h <= cut.at_h < gone[i]:
                taken = min(left, thick[i])
                thick[i], left = thick[i] - taken, left - taken
        if left > 0:
            cuts.append(cut if left == cut.um else structs.replace(cut, um=left))
    return [structs.replace(c, dry_um=um) for c, um in zip(coats, thick, strict=True) if um > 0], cuts


def in_order(name: str, hours: Sequence[float]) -> None:
    """Refuse events that run backwards in time."""
    for i in range(1, len(hours)):
        need(hours[i] >= hours[i - 1], f"{name}[{i}].at_h", f"runs backwards: {hours[i]:g} h after {hours[i - 1]:g} h")


def solve(
    material: SolventLoss,
    coats: Sequence[Coat],
    sandings: Sequence[Sanding] = (),
    *,
    under: Conditions = NOTHING_TOLD,
    sampling: Sampling = ONLY_THE_END,
    after: CureHistory | None = None,
) -> CureHistory:
    """Follow the film from the first coat to the end of the sampling.

    coats, sandings, air: sorted by at_h [h]; after: a history to go on from, with the coats and sandings since. Raises
    InputError for input out of order or out of range, and when a sanding takes more than there is.
    """
    air, rate_factor, airflow = under.air, under.rate_factor, under.airflow
    cells = sampling.cells or (ROUGH_CELLS if sampling.rough else CELLS)
    tolerance = sampling.tolerance or (ROUGH_TOLERANCE if sampling.rough else STEP_TOLERANCE)
    in_order("coats", [c.at_h for c in coats])
    in_order("sand", [s.at_h for s in sandings])
    in_order("climate", [a.at_h for a in air])
    samples = sampling.hours
    wet: tuple[Coat, ...] = ()
    if material.water_share > 0:
        coats = [*(after.wet if after is not None else ()), *coats]
        end_h = (
            sampling.until_h
            if sampling.until_h is not None
            else max([*(c.at_h for c in coats), *samples[-1:].tolist(), 0.0])
        )
        coats, sandings = _sanded_wet(material, coats, sandings, air)
        coats, wet = _after_water(material, coats, air, end_h)
    events: list[tuple[float, int, float]] = [(c.at_h, 0, c.dry_um) for c in coats]
    events += [(s.at_h, 1, s.um) for s in sandings]
    events.sort(key=lambda e: (e[0], e[1]))
    film = 0.0 if after is None else float(after.end_state[1])
    sanded = 0
    for _at_h, sand, um in events:
        if sand:
            if um > film + 1e-9:
                raise InputError(f"sand[{sanded}].um", f"takes {um:g} um where only {film:g} um of dry film is left")
            film -= um
            sanded += 1
        else:
            film += um
    latest = max([e[0] for e in events] + ([float(samples[-1])] if len(samples) else []) + [0.0])
    end = sampling.end_h(latest)
    temps = sorted(air, key=lambda a: a.at_h) or [Air(at_h=0.0, temp_C=DEFAULT_TEMP_C)]

    # Imported here: the compiler costs a third of a second that the first paint must not pay.
    from ravden.core.cure import _kernel

    constants = np.array([
        material.D0_um2_h * rate_factor, material.beta, material.gamma, material.Ea_J_mol,
        material.ke20_um_h * rate_factor, material.chi, material.Tg_dry_C + 273.15, material.Tg_solvent_C + 273.15,
    ])  # fmt: skip
    frac = grid(cells) if after is None else after.fractions
    ev = np.array(events, dtype=float).reshape(-1, 3)
    u0 = np.full(len(ev), wet_solvent(material.solids))
    cl_t, felt_C, cl_flow, felt_rh = felt(temps, [e[0] for e in events], end)
    cl_k = felt_C + 273.15
    cl_pace = damped(felt_rh) if material.water_share > 0 else np.ones(len(cl_t))
    at_sample = np.zeros((len(samples), _kernel.COLUMNS))
    profiles = np.zeros((len(samples), len(frac)))
    start = min([e[0] for e in events] + [0.0])
    begin_u = np.zeros(len(frac)) if after is None else after.end_u
    begin = np.array([start, 0, 0, 0, 0, 1e-5, start]) if after is None else after.end_state
    if after is not None:
        need(not events or events[0][0] >= float(begin[0]) - 1e-9, "coats", "lie before the history they follow")
    capacity = 1024 + 128 * len(ev) + 4 * len(samples) + 16 * len(temps)
    while True:
        rows = np.zeros((capacity, _kernel.COLUMNS))
        u, state = begin_u.copy(), begin.copy()
        used = _kernel.integrate(
            ev[:, 0].copy(), ev[:, 1].astype(np.int64), ev[:, 2].copy(), u0, cl_t, cl_k, cl_flow, cl_pace, samples,
            constants, float(airflow), float(end), frac, float(tolerance), rows, at_sample, profiles,
            u, state,
        )  # fmt: skip
        if used >= 0:
            break
        capacity *= 4
        if used == -2 or capacity > 20_000_000:
            raise RuntimeError("the cure solver took too many steps")
    earlier = [] if after is None or after.last_coat_h is None else [after.last_coat_h]
    steps = rows[:used].copy()
    return CureHistory(
        steps=steps if after is None else np.vstack([after.steps, steps]),
        samples=at_sample,
        profiles=profiles,
        fractions=frac,
        last_coat_h=max([*earlier, *(c.at_h for c in coats)], default=None),
        end_u=u,
        end_state=state,
        material=material,
        wet=wet,
    )


def damped(rh: Floats) -> Floats:
    """How much slower a film of water dries in damp air [-]; drier than half is no faster. Source: [A].

    .. math:: \\min(1, ((1 - RH) / 0.5)^{0.4})

    >>> damped(np.array([0.3, 0.5, 0.8])).round(2).tolist()
    [1.0, 1.0, 0.69]
    """
    return np.asarray(np.minimum(1.0, (np.maximum(1.0 - rh, 0.0) / (1.0 - DAMP_RH)) ** DAMP_EXPONENT))


def warm_up() -> None:
    """Load or compile the kernel, so that the first real answer does not wait for it."""
    lacquer = SolventLoss(
        solids=0.2, D0_um2_h=2.5, beta=62, gamma=5, Ea_J_mol=55000, ke20_um_h=6000, chi=0.5, Tg_dry_C=55,
        Tg_solvent_C=-150,
    )  # fmt: skip
    solve(lacquer, [Coat(at_h=0, dry_um=10)], sampling=Sampling(sample_h=[1.0], until_h=2))
