"""Paper pressed on a film by a block or a pad: which places bear, and what a stroke takes off them (docs/maths.md).

The paper's grain gives like a bed of springs; what is behind it bends as an elastic layer under a sheet that is stiff.
Every update makes one pass through the Fourier plane, where both answer each wavelength by itself. Heights and film in
um, places in mm, pressure in kPa, sliding in m.
"""

from __future__ import annotations

import functools
import math
from dataclasses import replace

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ravden.core.abrasive.scratch import USUAL_WEAR, Backing, Rung, removal_constant
from ravden.core.errors import InputError, need_above, need_in

Cells = NDArray[np.float32]
GRAIN_KPA_UM = 1.5 * 22.0  # [ENG] stiffness of the paper's face times its grain
FIRST, ITERATIONS, SOFT_ITERATIONS = (
    40,
    1,
    2,
)  # updates to find the contact anew, and to follow it from stroke to stroke
BINS = 12  # filters an octave of how much one step takes
STEP_G = 0.06  # most of it in one step
TOUCHED_UM, TOUCHED_PER_GRAIN = 0.12, 0.015  # [ENG] film gone that shows as touched: of compounds, of paper
NEWTON = 30
SOFT_KPA = 1000.0  # backings softer than this bend so far that one pass a step is too few


class Backs(Struct, frozen=True, kw_only=True):
    """What is behind the paper: stiffness [kPa] and thickness [mm] of the layer, and how stiff the sheet is [kPa mm3].

    Source: ENG; block and soaked paper are one thing here, since they are held together.
    """

    E_kPa: float
    t_mm: float
    D: float

    def __post_init__(self) -> None:
        need_above(self.E_kPa, 0, "E_kPa", 1e9)
        need_above(self.t_mm, 0, "t_mm", 200)
        need_in(self.D, 0, 1e9, "D")


class Rubbing(Struct, frozen=True, kw_only=True):
    """A paper on a backing: grain [um], film it takes [um per kPa and m of sliding]."""

    grain_um: float
    kappa: float
    backs: Backs
    iterations: int = ITERATIONS

    def __post_init__(self) -> None:
        need_above(self.grain_um, 0, "grain_um", 1000)
        need_above(self.kappa, 0, "kappa_um_kPa_m", 1e4)

    @property
    def kp(self) -> float:
        """Stiffness of the paper's face [kPa/um]."""
        return GRAIN_KPA_UM / self.grain_um

    def cutting(self, cut: float) -> Rubbing:
        """The same with a paper that takes so much of what it would."""
        if cut == 1.0:
            return self
        return Rubbing(grain_um=self.grain_um, kappa=self.kappa * cut, backs=self.backs, iterations=self.iterations)

    @property
    def touched_um(self) -> float:
        """Film gone from which on a place shows as touched [um]."""
        return max(TOUCHED_UM, TOUCHED_PER_GRAIN * self.grain_um)


def backs_of(backing: Backing) -> Backs | None:
    """How a backing bends; None where it is not known."""
    return Backs(E_kPa=backing.E_kPa, t_mm=backing.t_mm, D=backing.D) if backing.E_kPa > 0 else None


def rubbing_of(rung: Rung) -> Rubbing:
    """A rung as it is rubbed: kappa = 1000 K / H at usual wear, since the paper's own wear is told beside it.

    Raises InputError where it is not known how the backing bends.
    """
    backs = backs_of(rung.backing)
    if backs is None:
        raise InputError("backing", f"it is not known how it follows a surface ({rung.backing.label})")
    kappa = 1000 * removal_constant(replace(rung, wear=USUAL_WEAR)) / rung.hardness_MPa
    return Rubbing(
        grain_um=rung.abrasive.grain_um, kappa=kappa, backs=backs,
        iterations=ITERATIONS if backs.E_kPa > SOFT_KPA else SOFT_ITERATIONS,
    )  # fmt: skip


def stiffness(q: float | Cells, backs: Backs) -> NDArray[np.float64]:
    """How the backing answers a wave of wave number q [1/mm]: pressure over deflection [kPa/um].

    .. math:: K = 10^{-3}\\left[\\frac{E q}{2}\\,\\frac{\\sinh 2qt + 2qt}{\\cosh 2qt - 1} + D q^4\\right]

    Source: elastic layer on a rigid ground, plate theory (PUB).
    """
    at = np.asarray(q, dtype=float)
    x = np.minimum(2 * at * backs.t_mm, 60.0)
    layer = (np.sinh(x) + x) / (np.cosh(x) - 1)
    return np.asarray(1e-3 * (backs.E_kPa * at / 2 * layer + backs.D * at**4))


def follows_kPa_um(rubbing: Rubbing, lambda_mm: float) -> float:
    """Pressure that a wave of 1 um adds on its crests while all of it is touched [kPa/um]: its height falls as
    exp(-this r / P), r the film gone and P the mean pressure.

    >>> firm = Rubbing(grain_um=22, kappa=0.38, backs=Backs(E_kPa=6000, t_mm=10, D=300))
    >>> round(follows_kPa_um(firm, 4.0), 6)
    1.220108
    """
    k = float(stiffness(2 * math.pi / lambda_mm, rubbing.backs))
    return rubbing.kp * k / (rubbing.kp + k)


def give(rubbing: Rubbing, shape: tuple[int, int], dx_mm: float, bin_g: int) -> Cells:
    """Share of each wave that backing and sheet give way to, over the half plane of a real transform; none of the mean.

    bin_g: how much one step takes, in bins of 1/12 octave: of long waves that bear less, a step leaves more.
    """
    return _give(rubbing.kp, rubbing.backs, shape, dx_mm, bin_g)


@functools.lru_cache(maxsize=64)
def _give(kp: float, backs: Backs, shape: tuple[int, int], dx_mm: float, bin_g: int) -> Cells:
    qy = 2 * math.pi * np.abs(np.fft.fftfreq(shape[0], dx_mm))[:, None]
    qx = 2 * math.pi * np.fft.rfftfreq(shape[1], dx_mm)[None, :]
    q = np.hypot(qx, qy)
    q[0, 0] = 1.0
    k = stiffness(q, backs)
    bears = k / (kp + k)
    g = 2.0 ** (bin_g / BINS)
    out = 1 - np.expm1(-g * bears) / np.expm1(-g)
    out[0, 0] = 0.0
    return np.asarray(out, dtype=np.float32)


def step_bin(g: float) -> int:
    """The bin of how much a step takes."""
    return round(BINS * math.log2(max(g, 1e-9)))


class Levelling:
    """A whole panel under one even load: as it is, and as strokes take it down. What is kept of the contact makes the
    next stroke quick.

    height_um, film_um: of each cell, both taken down in place; gone_um: what was taken off.
    """

    def __init__(self, height_um: Cells, film_um: Cells, dx_mm: float) -> None:
        self.height_um, self.film_um, self.dx_mm = height_um, film_um, dx_mm
        self.gone_um = np.zeros_like(height_um)
        self._bend = np.zeros_like(height_um)
        self._z = float(height_um.max())
        self._found = False

    def rub(self, rubbing: Rubbing, load_kPa: float, slide_m: float, lanes: Cells | None = None) -> float:
        """Slide over all of it; returns the film it took, in the mean [um]. lanes: how unevenly fingers press."""
        g = rubbing.kappa * rubbing.kp * slide_m
        steps = max(1, math.ceil(g / STEP_G))
        return sum(self._step(rubbing, load_kPa, g / steps, lanes) for _ in range(steps))

    def _step(self, rubbing: Rubbing, load_kPa: float, g: float, lanes: Cells | None) -> float:
        lp = give(rubbing, (self.height_um.shape[0], self.height_um.shape[1]), self.dx_mm, step_bin(g))
        whole = -math.expm1(-g)
        target = load_kPa / rubbing.kp * g / whole
        for _ in range(rubbing.iterations if self._found else FIRST):
            self._settle(target, lp)
        self._found = True
        takes = self._dents(target) * np.float32(whole)
        if lanes is not None:
            takes *= lanes
        np.minimum(takes, self.film_um, out=takes)
        self.height_um -= takes
        self.film_um -= takes
        self.gone_um += takes
        return float(takes.mean())

    def _settle(self, target_um: float, lp: Cells) -> None:
        from scipy.fft import irfft2, rfft2

        bears = self._dents(target_um) + self._bend
        self._bend = irfft2(lp * rfft2(bears), s=bears.shape)

    def _dents(self, target_um: float) -> Cells:
        """How far each place dents the paper's face, the plane lowered until the mean is as the load wants it."""
        above = self.height_um - self._bend
        z, want = self._z, target_um * above.size
        for _ in range(NEWTON):
            over = np.maximum(above - np.float32(z), 0)
            touching = int(np.count_nonzero(over))
            if not touching:
                z = float(above.max()) - 1e-4
                continue
            off = float(over.sum(dtype=np.float64)) - want
            z += off / touching
            if abs(off) < 1e-5 * want:
                break
        self._z = z
        return np.asarray(np.maximum(above - np.float32(z), 0), dtype=np.float32)
