"""Does a weighed card find the shop's rate? Made-up cards on a milligram scale, and the share whose true factor lies in
the 90 % interval; and the time of a fit against one solution of the film in the same run.

    benchmarks/witness.py [--cards 1000]
"""

import argparse
import statistics
import time
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from ravden.catalogue.tables import shipped
from ravden.core.cure.witness import DEPOSIT_LN_SD, PRIOR_LN_SD, Weighing, card_mass_mg_cm2, fit
from ravden.core.record import Air, Coat

COATS = tuple(Coat(at_h=h, dry_um=12) for h in (0, 1.5, 3, 24, 25.5, 27))
HOURS = (30.0, 54.0, 102.0, 200.0, 400.0)
AIR = (Air(at_h=0, temp_C=20),)


def cards(seed, count):
    rng = np.random.default_rng(seed)
    material = shipped().material("lacquer-sprayed")
    inside, error = 0, []
    for _ in range(count):
        rate, deposit = PRIOR_LN_SD * rng.normal(), DEPOSIT_LN_SD * rng.normal()
        dense = material.dry_density_g_ml
        mass, _ = card_mass_mg_cm2(material.cure, COATS, AIR, HOURS, dense, float(np.exp(rate)), float(np.exp(deposit)))
        seen = [Weighing(at_h=t, mg_cm2=float(m + 0.01 * rng.normal())) for t, m in zip(HOURS, mass, strict=True)]
        found = fit(material.cure, COATS, AIR, seen, dry_g_ml=dense, model_share=0.0)
        inside += abs(found.mean - rate) < 1.645 * found.sd
        error.append(abs(found.mean - rate))
    return inside, error


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--cards", type=int, default=1000)
    count = parser.parse_args().cards
    material = shipped().material("lacquer-sprayed")
    start = time.perf_counter()
    for _ in range(20):
        card_mass_mg_cm2(material.cure, COATS, AIR, HOURS, material.dry_density_g_ml)
    one = (time.perf_counter() - start) / 20
    start = time.perf_counter()
    cards(1, 3)
    took = (time.perf_counter() - start) / 3
    print(f"a fit takes {1e3 * took:.0f} ms, one solution {1e3 * one:.1f} ms; ratio {took / one:.0f}")
    chunks = 20
    with ProcessPoolExecutor() as pool:
        parts = list(pool.map(cards, range(100, 100 + chunks), [count // chunks] * chunks))
    errors = [e for _, es in parts for e in es]
    share = sum(n for n, _ in parts) / len(errors)
    print(f"{len(errors)} cards: true factor in the 90 % interval of {100 * share:.1f} %; median error "
          f"{100 * statistics.median(errors):.1f} %")  # fmt: skip


if __name__ == "__main__":
    main()
