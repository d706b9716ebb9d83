"""How a finish is laid and looked after while it rests: passes, turning, wiping over, light, pot life."""

from dataclasses import dataclass

from ravden.core.errors import need, need_above, need_in
from ravden.core.record import CARES

LAMP_MW_CM2 = 20.0  # [A] a hand lamp at the work, until its own rating is told


@dataclass(frozen=True, slots=True, kw_only=True)
class PassHabit:
    """One pass of a coat, laid ``way`` (spray, brush, pad, wipe): its name, and how long after the one before it
    [s]."""

    material: str
    way: str
    nth: int
    label: str
    wait_s: float
    how: str
    basis: str

    def __post_init__(self) -> None:
        need(self.nth >= 1, "nth", f"must be 1 or more (got {self.nth})")
        need_in(self.wait_s, 0, 86_400, "wait_s", "s")


@dataclass(frozen=True, slots=True, kw_only=True)
class CareHabit:
    """What a resting coat wants: first so long after the coat, then again and again until an end [min]."""

    material: str
    what: str
    label: str
    first_min: float
    every_min: float
    until_min: float
    how: str
    basis: str

    def __post_init__(self) -> None:
        need(self.what in CARES, "what", f"must be one of {', '.join(CARES)} (got {self.what})")
        need_above(self.first_min, 0, "first_min", 1e4)
        need_above(self.every_min, 0, "every_min", 1e4)
        need_in(self.until_min, self.first_min, 1e4, "until_min", "min")

    @property
    def times_h(self) -> tuple[float, ...]:
        """Hours after the coat at which it is wanted."""
        count = int((self.until_min - self.first_min) / self.every_min + 1e-9) + 1
        return tuple((self.first_min + i * self.every_min) / 60.0 for i in range(count))


@dataclass(frozen=True, slots=True, kw_only=True)
class LightHabit:
    """A round of curing light, face by face, so long after the coat or the round before [min]; full: the dose that
    cures to the wood, else the one that sets the skin."""

    material: str
    nth: int
    label: str
    after_min: float
    full: bool
    how: str
    basis: str

    def __post_init__(self) -> None:
        need_in(self.after_min, 0, 1e4, "after_min", "min")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pot:
    """How long a mix can be used at 20 C [min], and by how many K warmer that is halved."""

    material: str
    pot_min: float
    halves_K: float
    basis: str

    def __post_init__(self) -> None:
        need_above(self.pot_min, 0, "pot_min", 1e5)
        need_above(self.halves_K, 0, "halves_K", 100)

    def at(self, temp_C: float) -> float:
        """Minutes of use in air this warm, t = t20 2^((20-T)/K) [min].

        temp_C: air [C]. The rule of thumb for reaction rates [C]; the time at 20 C is [A] until the data sheet is read.

        >>> Pot(material="x", pot_min=30, halves_K=10, basis="").at(25) < 22
        True
        """
        need_in(temp_C, -20, 80, "temp_C", "C")
        return float(self.pot_min * 2.0 ** ((20.0 - temp_C) / self.halves_K))


@dataclass(frozen=True, slots=True, kw_only=True)
class AirLimits:
    """The air a family of finishes is laid in: from and up to [C], humidity up to [-], and what happens outside."""

    family: str
    low_C: float
    high_C: float
    high_rh: float
    cold: str
    hot: str
    damp: str
    basis: str

    def __post_init__(self) -> None:
        need_in(self.low_C, -10, 40, "low_C", "C")
        need_above(self.high_C, self.low_C, "high_C", 60)
        need_above(self.high_rh, 0, "high_rh", 1)

    def outside(self, temp_C: float, rh: float) -> tuple[str, ...]:
        """What this air is too much of, and what comes of it; empty within the limits. temp_C [C], rh [-]."""
        out = [f"too cold: {self.cold}"] if temp_C < self.low_C else []
        out += [f"too hot: {self.hot}"] if temp_C > self.high_C else []
        return (*out, f"too damp: {self.damp}") if rh > self.high_rh else tuple(out)


@dataclass(frozen=True, slots=True, kw_only=True)
class Habit:
    """All of it for one finish laid one way; no row for it: a coat is one pass and wants nothing more."""

    way: str
    passes: tuple[PassHabit, ...] = ()
    cares: tuple[CareHabit, ...] = ()
    lights: tuple[LightHabit, ...] = ()
    pot: Pot | None = None

    @property
    def count(self) -> int:
        """Passes to a coat."""
        return max(len(self.passes), 1)

    def nth(self, number: int) -> PassHabit | None:
        """A pass by its number from 1."""
        return self.passes[number - 1] if 1 <= number <= len(self.passes) else None
