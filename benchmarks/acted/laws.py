"""What is true of a made-up shop and is told to nobody.

Other laws than these are put in by name: `--laws FILE.py` reads a class `Laws` with the same methods from a file, and
a number takes another draw of exponents and factors here. None of it is what the program reckons with, but for the
middle: at 20 C, a film of the nominal thickness waits as long as the program says in a shop it knows nothing of.
"""

from __future__ import annotations

import importlib.util
import math
from dataclasses import dataclass
from pathlib import Path

import numpy as np

USUAL_C = 20.0


@dataclass(frozen=True, kw_only=True)
class Usual:
    """What the program says of a method in a shop it knows nothing of, at 20 C: hours from the last coat before it to
    the first level and to the case, and the dry film there by then [um]."""

    level_h: float
    level_um: float
    case_h: float
    case_um: float


class Laws:
    """Numbers from a seed; law: which draw of exponents and factors. Every method answers the same for the same words,
    in whatever order it is asked."""

    def __init__(self, seed: int, law: int = 0) -> None:
        self._seed = seed
        draw = np.random.default_rng([law, 71])
        # Solvent leaves a film by diffusion (exponent 2), and by the surface (1); a true one lies in between.
        self.exponent = float(draw.uniform(1.6, 2.1))
        self.per_K = float(draw.uniform(0.045, 0.075))  # ln of the rate for each degree
        shop = np.random.default_rng([seed, law, 1])
        self.gun = math.exp(0.2 * float(shop.normal()))
        self.rates = {f: math.exp(0.22 * float(shop.normal())) for f in ("lacquer-sprayed", "waterborne", "shellac")}
        self.other_rate = math.exp(0.22 * float(shop.normal()))
        self.pace = math.exp(0.3 * float(shop.normal()))
        self.cut = math.exp(0.12 * float(shop.normal()))
        self.wait_sd = float(draw.uniform(0.08, 0.14))
        self.mild_C = float(shop.uniform(17.0, 20.0))

    def _draw(self, *words: str | int) -> float:
        """A standard normal of its own for these words."""
        key = [self._seed, *(hash_of(str(w)) for w in words)]
        return float(np.random.default_rng(key).normal())

    def air(self, hour: float) -> tuple[float, float]:
        """Of the shop at an hour since the beginning: C, and humidity as a share."""
        day, clock = hour / 24.0, hour % 24.0
        season = -2.5 * math.cos(2 * math.pi * (day - 15) / 365.0)
        weather = 1.2 * self._draw("weather", int(day // 3))
        daily = 1.5 * math.sin(2 * math.pi * (clock - 9) / 24.0)
        wet = 0.5 + 0.06 * self._draw("wet", int(day // 2)) - 0.04 * math.sin(2 * math.pi * (day - 100) / 365.0)
        return self.mild_C + season + weather + daily, min(max(wet, 0.25), 0.85)

    def coat_um(self, of: str, nth: int, zone: str, nominal_um: float) -> float:
        """Dry film one coat really leaves on a zone, before the wood drinks of it."""
        habit = 0.07 * self._draw("zone", zone) + 0.09 * self._draw(of, "zone", zone)
        each = 0.07 * self._draw(of, "coat", nth) + 0.07 * self._draw(of, "coat", nth, zone)
        return nominal_um * self.gun * math.exp(0.08 * self._draw(of, "gun") + habit + each)

    def drunk_um(self, of: str, zone: str, said_um: float) -> float:
        """What bare wood really drinks of a coat that it is said to drink so much of."""
        return said_um * max(1.0 + 0.4 * self._draw(of, "drinks", zone), 0.0)

    def taken_um(self, of: str, nth: int, said_um: float) -> float:
        """What a sanding told as so much really takes off."""
        return said_um * self.cut * math.exp(0.15 * self._draw(of, "cut", nth))

    def gauge_um(self, of: str, zone: str, film_um: float) -> float:
        """What a gauge reads where so much is."""
        return max(film_um * math.exp(0.04 * self._draw(of, "gauge", zone)), 1.0)

    def wait_h(self, of: str, what: str, usual: Usual, film_um: float, finish: str) -> float:
        """Hours at 20 C from the last coat to the level or the case of a film of so much at its thickest."""
        rate = self.rates.get(finish, self.other_rate)
        level = what == "level"
        hours, at_um = (usual.level_h, usual.level_um) if level else (usual.case_h, usual.case_um)
        each = self.wait_sd * self._draw(of, "wait")
        return hours * (max(film_um, 1.0) / at_um) ** self.exponent / rate * math.exp(each)

    def speed(self, temp_C: float) -> float:
        """Hours at 20 C that an hour in this air is worth."""
        return math.exp(self.per_K * (temp_C - USUAL_C))

    def minutes(self, of: str, grade: str, nth: int, usual_min: float) -> float:
        """How long a rung really takes that usually takes so long."""
        return usual_min * self.pace * math.exp(0.1 * self._draw("grade", grade) + 0.22 * self._draw(of, "rung", nth))

    def late_min(self, of: str, nth: int) -> float:
        """How long after its planned minute a piece of work begins."""
        return abs(20.0 * self._draw(of, "late", nth))

    def errs(self, of: str, nth: int, chance: float) -> bool:
        """Whether something is done wrong here."""
        key = [self._seed, hash_of(of), nth, 5]
        return float(np.random.default_rng(key).random()) < chance


def hash_of(word: str) -> int:
    """The same number for the same word in every process."""
    out = 2166136261
    for byte in word.encode():
        out = (out ^ byte) * 16777619 % 2**32
    return out


def laws_from(told: str, seed: int) -> Laws:
    """By a number, or a class of a file from elsewhere."""
    if told.isdigit():
        return Laws(seed, int(told))
    spec = importlib.util.spec_from_file_location("laws_from_elsewhere", Path(told))
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    made = module.Laws(seed)
    return made  # type: ignore[no-any-return]
