"""The cure solver against SciPy's stiff solver on the same discretisation, in the same run.

Prints the median of each over a 12-coat, 180-day history, their ratio, and the error in mean solvent of ours against
the reference runs. The baseline takes the same cells, face diffusivities, surface balance and events.
"""

import itertools
import json
import statistics
import time
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from scipy.integrate import solve_ivp

from ravden.core.cure import _kernel
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.evaporative import grid, solve, wet_solvent
from ravden.core.record import Air, Coat, SolventLoss

CASES = json.loads((Path(__file__).parent.parent / "tests/data/cure.json").read_text())["cases"]
DAYS = 180
BASELINE_RTOL, BASELINE_ATOL = 1e-4, 1e-7  # about what ours reaches


def history(name):
    raw = CASES[name]
    return SolventLoss(**raw["material"]), [Coat(**c) for c in raw["coats"]], [Air(**a) for a in raw["climate"]]


def stiff(material, coats, air, end_h):
    """The same cells by the method of lines; returns the mean solvent fraction at the end."""
    frac = grid()
    u, z = np.zeros(len(frac)), 0.0
    stops = sorted({c.at_h for c in coats} | {a.at_h for a in air} | {end_h})
    for a, b in itertools.pairwise(stops):
        for coat in coats:
            if coat.at_h == a:
                new = np.empty_like(u)
                _kernel._remap(u, frac, z, z + coat.dry_um, wet_solvent(material.solids), new)
                u, z = new, z + coat.dry_um
        temp_k = next(x.temp_C for x in reversed(air) if x.at_h <= a) + 273.15
        inverse = 1 / temp_k - 1 / _kernel.T_REF_K
        scale = material.D0_um2_h * np.exp(-material.Ea_J_mol / _kernel.GAS_R * inverse)
        ke = material.ke20_um_h * np.exp(-_kernel.EA_SURFACE / _kernel.GAS_R * inverse)
        width = z * frac
        dist = 0.5 * (width[1:] + width[:-1])

        def diffusivity(v, scale=scale):
            phi = v / (1 + v)
            return scale * np.exp(material.beta * phi / (1 + material.gamma * phi)) / (1 + v) ** 2

        def rate(_t, v, width=width, dist=dist, ke=ke, scale=scale, diffusivity=diffusivity):
            v = np.maximum(v, 0)
            d = diffusivity(v)
            mid = diffusivity(0.5 * (v[1:] + v[:-1]))
            flux = (d[1:] + 4 * mid + d[:-1]) / 6 * (v[1:] - v[:-1]) / dist
            out = _kernel._surface(
                v[-1], 0.5 * width[-1], ke, scale, material.beta, material.gamma, material.chi, v[-1]
            )[1]
            gained = np.zeros_like(v)
            gained[:-1] += flux
            gained[1:] -= flux
            gained[-1] -= out
            return gained / width

        u = solve_ivp(rate, (a, b), u, method="BDF", rtol=BASELINE_RTOL, atol=BASELINE_ATOL).y[:, -1]
    u = np.maximum(u, 0)
    return float((u / (1 + u)) @ frac)


def main():
    material, coats, air = history("lacquer_12x9_cold_then_warm")
    end_h = coats[-1].at_h + 24 * DAYS
    solve(material, coats, under=Conditions(air=air), sampling=Sampling(until_h=end_h))
    ours = []
    for _ in range(15):
        start = time.perf_counter()
        found = solve(material, coats, under=Conditions(air=air), sampling=Sampling(until_h=end_h))
        ours.append(time.perf_counter() - start)
    stiff(material, coats[:1], air[:1], 30.0)
    theirs = []
    for _ in range(3):
        start = time.perf_counter()
        phi = stiff(material, coats, air, end_h)
        theirs.append(time.perf_counter() - start)
    ten = []
    for _ in range(5):
        start = time.perf_counter()
        for zone in range(10):
            thin = [replace(c, dry_um=c.dry_um * (0.55 + 0.05 * zone)) for c in coats]
            solve(material, thin, under=Conditions(air=air), sampling=Sampling(until_h=end_h))
        ten.append(time.perf_counter() - start)
    worst = 0.0
    for name, raw in CASES.items():
        m, c, a = history(name)
        run = solve(m, c, under=Conditions(air=a), sampling=Sampling(sample_h=[e["at_h"] for e in raw["expect"]]))
        for i, e in enumerate(raw["expect"]):
            if e["phi_mean"] > 0.001:
                worst = max(worst, abs(float(run.column("phi_mean")[i]) / e["phi_mean"] - 1))
    mine, base = statistics.median(ours), statistics.median(theirs)
    print(f"12 coats, {DAYS} days: {1e3 * mine:.1f} ms ({len(found.steps)} steps); stiff solver {1e3 * base:.0f} ms")
    print(f"ten zones together: {1e3 * statistics.median(ten):.1f} ms")
    print(f"mean solvent at the end: {found.steps[-1, 3]:.6f} against {phi:.6f}")
    print(f"worst error in mean solvent against the reference runs: {100 * worst:.2f} %")
    print(f"ratio, stiff solver over ours: {base / mine:.0f}")


if __name__ == "__main__":
    main()
