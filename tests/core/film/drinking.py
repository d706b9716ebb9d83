"""Made-up shops whose wood drinks of the first coats, more or less than is reckoned; used by a test and a benchmark."""

import math

import numpy as np

from ravden.core.film.ledger import Ledger
from ravden.core.record import Zone

K = (1.0, 1.0, 0.85, 0.55)
ZONES = tuple(
    Zone(name=str(i), label=str(i), kind="flat", area_cm2=400.0, k_mean=k, k_cv=0.12) for i, k in enumerate(K)
)
COAT_UM, COATS, SCUFF_UM, AFTER = 20.0, 4, 2.0, (2,)


def believed(
    rng: np.random.Generator, shops: int, drinks: tuple[float, ...], thirst: float = 1.0, after: tuple[int, ...] = AFTER
) -> tuple[float, float, float, float]:
    """Of the first zone after four coats and a scuff: mean of truth and of belief [um], share of truths in the range of
    nine times in ten, and by how much the gun is learnt too thick (ln). drinks: of the first coats [um]; thirst: of the
    truth against that; after: scuffs, by coats before them."""
    true, mean, inside, ln = 0.0, 0.0, 0, 0.0
    for _ in range(shops):
        gun = math.exp(0.236 * rng.normal())
        k = np.array(K) * np.exp(0.12 * rng.normal(size=len(K)))
        own = np.maximum(1.0 + 0.4 * rng.normal(size=len(K)), 0.0) * thirst
        cut = math.exp(0.24 * rng.normal())
        film, ledger = np.zeros(len(K)), Ledger(ZONES)
        for nth in range(COATS):
            common = math.exp(0.07 * rng.normal())
            laid = COAT_UM * gun * k * common * np.exp(0.07 * rng.normal(size=len(K)))
            gone = drinks[nth] if nth < len(drinks) else 0.0
            film = film + np.maximum(laid - gone * own, 0.0)
            ledger = ledger.coat(COAT_UM)
            if gone:
                ledger = ledger.absorbed({z.name: min(gone, COAT_UM * z.k_mean) for z in ZONES})
            if nth + 1 in after:
                film = np.maximum(film - SCUFF_UM * cut * np.exp(0.24 * rng.normal(size=len(K))), 0.0)
                ledger = ledger.sanding({z.name: SCUFF_UM for z in ZONES})
        found = ledger.film("0")
        true, mean = true + film[0] / shops, mean + found.mean_um / shops
        inside += found.p05_um <= film[0] <= found.p95_um
        ln += (ledger.applicator()[0] - math.log(gun)) / shops
    return true, mean, inside / shops, ln
