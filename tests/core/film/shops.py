"""Made-up shops whose film is known, to see whether the ledger's intervals hold what they say."""

from dataclasses import dataclass

import numpy as np

from ravden.core.film.ledger import Ledger
from ravden.core.record import Zone

K0 = np.array([1, 1, 0.85, 0.85, 0.85, 0.9, 0.9, 0.55, 0.8, 0.8])
AREA = np.array([0.135, 0.135, 0.055, 0.055, 0.05, 0.02, 0.03, 0.006, 0.01, 0.01]) * 1e4
SHARES = np.array([1, 1, 0.8, 0.8, 0.8, 0.8, 0.8, 0.15, 0.3, 0.3])
ZONES = tuple(
    Zone(name=str(i), label=str(i), kind="flat", area_cm2=float(a), k_mean=float(k))
    for i, (k, a) in enumerate(zip(K0, AREA, strict=True))
)
LANDED = 0.20
TEETH = np.array([0, 25, 50, 75, 100, 125, 150, 200, 250, 300, 400, 600.0])


@dataclass(frozen=True, kw_only=True)
class World:
    """How the truth differs from the priors: the gun's median, the noise of zones, coats, sanding and spots times this,
    and the share of gross misreadings."""

    gun: float = 1.0
    noise: float = 1.0
    gross: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Data:
    """How often a coat is combed, measured by volume, and what is read at the end."""

    combs: float = 0.0
    volumes: float = 0.0
    one_comb: bool = False
    card: bool = False
    gauges: int = 0


NONE, FEW = Data(), Data(one_comb=True)
MID = Data(combs=0.25, volumes=0.15, card=True)
MANY = Data(combs=0.60, volumes=0.50, card=True, gauges=10)


def shop(rng: np.random.Generator, data: Data, world: World | None = None) -> tuple[np.ndarray, Ledger]:
    """A shop's true film by zone [um], and the ledger of what was logged and read in it."""
    w = world or World()

    def near_one(cv, size=None, times=w.noise):
        s = np.sqrt(np.log1p((cv * times) ** 2))
        return np.exp(s * rng.normal(size=size) - 0.5 * s * s)

    g = w.gun * np.exp(np.sqrt(np.log1p(0.25**2)) * rng.normal())
    k = np.array([*(K0 * near_one(0.12, 10)), near_one(0.05)])
    s = near_one(0.25)
    tv, cb, gb, wb = (near_one(cv, times=1.0) for cv in (0.18, 0.12, 0.03, 0.04))
    film = np.zeros(11)
    ledger = Ledger(ZONES)
    nominal = float(rng.uniform(8, 16))
    coats, cuts = int(rng.integers(6, 25)), 3
    after = {int(np.ceil(coats * (i + 1) / cuts)) for i in range(cuts)}
    combed = int(rng.integers(coats))
    for n in range(1, coats + 1):
        laid = nominal * g * k * near_one(0.07) * near_one(0.07, 11)
        film += laid
        ledger = ledger.coat(nominal)
        for zone in (0, 2) if data.combs else (0,):
            if rng.random() < data.combs or (data.one_comb and n - 1 == combed):
                wet = _misread(rng, laid[zone] * cb * near_one(0.07), w) / LANDED
                i = min(int(np.searchsorted(TEETH, wet)), len(TEETH) - 1)
                if i > 1:
                    ledger = ledger.comb(str(zone), float(TEETH[i - 1]), float(TEETH[i]), LANDED)
        if rng.random() < data.volumes:
            mean = float(laid[:10] @ AREA / AREA.sum())
            ledger = ledger.volume(_misread(rng, mean * tv * near_one(0.05, times=1.0), w))
        if n in after:
            um = float(rng.uniform(0.05, 0.35)) * nominal * coats / cuts
            film[:10] -= um * SHARES * s * near_one(0.25, 10)
            gone = [str(z) for z in np.flatnonzero(film[:10] <= 0) if rng.random() < 0.95]
            film[:10] = np.where(film[:10] <= 0, 0.0, film[:10])
            ledger = ledger.sanding({str(z): um * float(SHARES[z]) for z in range(10)}, gone)
    if data.card and film[10] > 1:
        ledger = ledger.card(_misread(rng, film[10] * wb + rng.normal(), w))
    for zone in rng.permutation(10)[: data.gauges]:
        if film[zone] > 3:
            read = film[zone] * gb + np.hypot(3, 0.07 * w.noise * film[zone]) * rng.normal() / np.sqrt(3)
            if read > 0.5:
                ledger = ledger.gauge(str(zone), _misread(rng, read, w), 3)
    return film[:10], ledger


def _misread(rng, value, world):
    if world.gross and rng.random() < world.gross:
        value *= rng.choice((1.5, 0.6))
    return float(max(value, 0.5))


def coverage(rng: np.random.Generator, shops: int, data: Data, world: World | None = None) -> tuple[float, float]:
    """Share of zones whose true film lies in the 50 % and in the 90 % interval."""
    half = most = total = 0
    for _ in range(shops):
        film, ledger = shop(rng, data, world)
        for zone, true in enumerate(film):
            if true <= 0:
                continue
            q05, q25, q75, q95 = ledger.quantiles(str(zone), (0.05, 0.25, 0.75, 0.95))
            half += q25 <= true <= q75
            most += q05 <= true <= q95
            total += 1
    return half / total, most / total
