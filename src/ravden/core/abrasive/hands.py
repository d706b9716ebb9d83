"""What readings before and after a rung teach about this user's hands: removal and scratch (docs/maths.md)."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from ravden.core.abrasive.gloss import rq_um
from ravden.core.abrasive.scratch import Rung, duty, rate_um_s
from ravden.core.errors import need_above

CUT_LN_SD = 0.37  # [A] time is good to a factor of 1.6, 10 to 90 %
SCRATCH_LN_SD = 0.26  # [ENG] 40 % on Rz, 10 to 90 %
SHEEN_LN_SD = 0.30  # [A] roughness from a gloss reading: the correlation length is only assumed
UNEVEN_LN_SD = 0.20  # [ENG] one rung is not worked like the next


@dataclass(frozen=True, slots=True, kw_only=True)
class Belief:
    """Mean and sd of ln of a factor on a built-in constant, and how many readings it rests on."""

    ln_mean: float
    ln_sd: float
    readings: int = 0

    @property
    def factor(self) -> float:
        return math.exp(self.ln_mean)

    def range(self) -> tuple[float, float]:
        """The 10-90 % ends of the factor."""
        return math.exp(self.ln_mean - 1.2816 * self.ln_sd), math.exp(self.ln_mean + 1.2816 * self.ln_sd)

    def told(self, ln_seen: float, ln_sd: float) -> "Belief":
        """After one more reading: normal with normal."""
        weight, new = 1.0 / self.ln_sd**2, 1.0 / ln_sd**2
        return Belief(
            ln_mean=(weight * self.ln_mean + new * ln_seen) / (weight + new), ln_sd=(weight + new) ** -0.5,
            readings=self.readings + 1,
        )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Hands:
    """This user's removal and scratch against the built-in constants, and by grade how long a rung takes against the
    built-in rate."""

    cut: Belief = Belief(ln_mean=0.0, ln_sd=CUT_LN_SD)
    scratch: Belief = Belief(ln_mean=0.0, ln_sd=SCRATCH_LN_SD)
    pace: Mapping[str, Belief] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rubbed:
    """A rung with the film before and after it, each with its sd [um], and the time the paper was on it [min]; first:
    nothing but scuffs was at the film before it since the last coat."""

    rung: Rung
    before_um: float
    after_um: float
    sd_um: float
    minutes: float
    area_cm2: float
    first: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Shone:
    """A rung and the roughness Rq its gloss speaks of [um]."""

    rung: Rung
    rq_um: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """What readings say of the hands: ln of removal and of scratch against the built-in constants, each with its sd."""

    cut: tuple[tuple[float, float], ...] = ()
    scratch: tuple[tuple[float, float], ...] = ()


def learn(rubbed: Sequence[Rubbed], shone: Sequence[Shone], start: Hands | None = None) -> Hands:
    """The hands after these readings. The rungs carry the built-in constants (cut = scratch = 1)."""
    return believe([seen(rubbed, shone)], start)


def believe(told: Iterable[Seen], start: Hands | None = None) -> Hands:
    """The hands after all that was seen of them."""
    start = start or Hands()
    cut, scratch = start.cut, start.scratch
    for one in told:
        for pair in one.cut:
            cut = cut.told(*pair)
        for pair in one.scratch:
            scratch = scratch.told(*pair)
    return Hands(cut=cut, scratch=scratch, pace=start.pace)


def seen(rubbed: Sequence[Rubbed], shone: Sequence[Shone]) -> Seen:
    """What readings say by themselves. One that shows no film gone says only that little went: it is taken as half its
    own error."""
    cut, scratch = [], []
    for r in rubbed:
        need_above(r.minutes, 0, "minutes", 10_000)
        backing = r.rung.backing
        expected = rate_um_s(r.rung) * 60.0 * r.minutes * backing.contact_cm2 * duty(r.rung, first=r.first) / r.area_cm2
        error = math.sqrt(2.0) * max(r.sd_um, 0.1)
        gone = max(r.before_um - r.after_um, 0.5 * error)
        cut.append((math.log(gone / expected), math.hypot(error / gone, UNEVEN_LN_SD)))
    for s in shone:
        scratch.append((math.log(s.rq_um / rq_um(s.rung.rz_um)), SHEEN_LN_SD))
    return Seen(cut=tuple(cut), scratch=tuple(scratch))
