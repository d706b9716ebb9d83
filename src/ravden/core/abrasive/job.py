"""What is to be rubbed out, and what may follow what."""

import math
from dataclasses import dataclass

from ravden.core.abrasive import gloss
from ravden.core.abrasive.sandthrough import ODDS_LIMIT, ZoneFilmLeft
from ravden.core.abrasive.scratch import COVERAGE, DULL, DULL_SHARE, Rung, removal_um, residual_um
from ravden.core.errors import need, need_above, need_in
from ravden.core.record import SHEENS

FINER = 0.97  # a rung must leave less than this share of the scratch before it
RATIO_MAX = 1.8  # [ENG] normal habit; 1.5 careful, 2.2 bold
SLACK = 0.8  # [ENG] plan with this share of what a grade can take off
LAST_RZ_UM = 4.5  # [ENG] coarser and single scratches show
# The roughest texture that may be begun with what rides over bumps [um, A]: soft backings and discs, wool, the rest.
SOFT_START_UM, WOOL_START_UM, POLISH_START_UM, POWDER_START_UM = 4.0, 2.0, 1.0, 4.0
INTERFACE_START_UM = 8.0  # under a machine's soft interface
CURVED_START_UM, CURVED_INTERFACE_START_UM = 8.0, 12.0  # curved zones alone, where it follows the texture
SOFT_BACKINGS = ("foam", "foam-disc", "finger", "orbital-foam")
FOLLOWS_SHARE = 1.0  # [A] of a texture that a soft backing takes on curved zones alone
KEY = "key"  # the target of a level that coats follow: no sheen, but something for the next coat to hold on to
KEY_UM = (21.8, 25.8)  # [A] grain that leaves it, P800 to P600
BURIED_KEY_UM, BURIED_FILM_UM = (25.8, 46.2), 40.0  # [A] P600 to P320, where so much film is still to come over it
PADDED_KEY_UM, PADDED_COAT_UM = (15.3, 18.3), 5.0  # [A] the same under coats so thin: P1200 to P1000
KEY_SLACK = 0.03  # of the grain, at either end
SMALL_SHARE = 0.15  # [A] of the area: a zone that may join late or be left alone
MODES = ("wet", "dry", "machine")
SAME_GRADE = 1.12  # grains no further apart than this are one grade
WEIGHT = {"balanced": (1.0, 3.0), "time": (1.0, 0.0), "film": (0.001, 1.0)}  # minutes, micrometres
PER_CM2, LEAST_CM2 = 1000.0, 500.0  # [A] of a micrometre's price where both count: a large body is begun no coarser


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """What is to be rubbed out: texture [um], zones, floor [um], sheen, and how it will be worked.

    odds_limit: odds of going below the floor that are put up with, by kind of zone, where not as usual; flatted: the
    film is dulled by particles all through; after: the rung that was done last, where the work has begun; edges_count:
    the edges are worked with the rest from the first rung on; key_um: grain of the last paper where the target is a
    key; out: names of zones that need not bear the whole ladder.
    """

    texture_um: float
    zones: tuple[ZoneFilmLeft, ...]
    min_film_um: float
    target: str
    hardness_MPa: float
    refractive_index: float
    mode: str = "wet"
    slack: float = SLACK
    ratio_max: float = RATIO_MAX
    objective: str = "balanced"
    odds_limit: tuple[tuple[str, float], ...] = ()
    flatted: bool = False
    after: Rung | None = None
    edges_count: bool = False
    key_um: tuple[float, float] = KEY_UM
    out: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        need_above(self.texture_um, 0, "texture_um", 1000)
        need(len(self.zones) > 0, "zones", "at least one zone is needed")
        names = [z.name for z in self.zones]
        need(len(set(names)) == len(names), "zones", "two zones have the same name")
        need_in(self.min_film_um, 0, 5000, "min_film_um", "um")
        need(
            self.target in (*SHEENS, KEY), "target", f"must be {KEY} or one of {', '.join(SHEENS)} (got {self.target})"
        )
        need(0 < self.key_um[0] <= self.key_um[1] <= 1000, "key_um", "must be two grain sizes, the finer first")
        need_above(self.hardness_MPa, 0, "hardness_MPa", 1e4)
        need_in(self.refractive_index, 1.3, 2, "refractive_index")
        need(self.mode in MODES, "mode", f"must be wet, dry or machine (got {self.mode})")
        need_in(self.slack, 0.3, 1, "slack")
        need_in(self.ratio_max, 1.05, 5, "ratio_max")
        need(self.objective in WEIGHT, "objective", f"must be balanced, time or film (got {self.objective})")
        for kind, p in self.odds_limit:
            need(kind in ODDS_LIMIT, "odds_limit", f"{kind} is not a kind of zone")
            need(0 < p < 1, "odds_limit", f"must be between 0 and 1 (got {p:g})")

    @property
    def weight(self) -> tuple[float, float]:
        """What a minute and a micrometre count for: where both do, a micrometre by the area it is taken from."""
        time, film = WEIGHT[self.objective]
        return (time, film * max(self.area_cm2, LEAST_CM2) / PER_CM2) if self.objective == "balanced" else (time, film)

    @property
    def levels_um(self) -> float:
        """Texture that has to go [um]: a dull sheen hides its shallow end."""
        return self.texture_um * (DULL_SHARE if self.target in DULL else 1.0)

    @property
    def curved(self) -> bool:
        """Whether nothing flat is worked, and something curved is."""
        kinds = {z.kind for z in self.zones}
        return "flat" not in kinds and "contour" in kinds

    def removal_um(self, rung: Rung, before: Rung | None) -> float:
        """Film a rung takes off the flats [um]."""
        if before is None and self.curved and rides(rung):
            return COVERAGE * max(rung.pit_um, FOLLOWS_SHARE * self.levels_um)
        return removal_um(rung, before, self.levels_um)

    @property
    def area_cm2(self) -> float:
        """Area worked: every zone but the edges."""
        return sum(z.area_cm2 for z in self.zones if z.kind != "edge") or sum(z.area_cm2 for z in self.zones)

    def limit(self, kind: str) -> float:
        """Odds of going below the floor that are put up with on a kind of zone."""
        return dict(self.odds_limit).get(kind, ODDS_LIMIT[kind])

    def counts(self, zone: ZoneFilmLeft) -> bool:
        """Whether a zone has to bear the whole ladder: edges are kept off until a soft grade unless told otherwise."""
        return (zone.kind != "edge" or self.edges_count) and zone.name not in self.out

    def small(self, zone: ZoneFilmLeft) -> bool:
        """Whether a zone is so small that it may join late or be left alone."""
        return zone.kind != "edge" and zone.area_cm2 <= SMALL_SHARE * self.area_cm2

    def residual_um(self, last: Rung) -> float:
        """Depth of the last scratches, which no coat to come will fill [um]."""
        return 0.0 if self.target == KEY else residual_um(last)


def is_soft(rung: Rung) -> bool:
    """Whether it rides over bumps rather than levelling them."""
    return rung.abrasive.kind != "paper" or rung.backing.id in SOFT_BACKINGS


def rides(rung: Rung) -> bool:
    """Whether it is paper on a soft backing, which follows a curve and the texture on it."""
    return rung.abrasive.kind == "paper" and rung.backing.id in SOFT_BACKINGS


def roughest_start_um(rung: Rung, *, curved: bool = False) -> float:
    """The roughest texture a rung may be the first on [um]; no limit but its own for a paper on something firm. curved:
    nothing flat is worked."""
    if not is_soft(rung):
        return math.inf
    if rides(rung):
        interface = rung.backing.id == "orbital-foam"
        flat, bent = SOFT_START_UM, CURVED_START_UM
        if interface:
            flat, bent = INTERFACE_START_UM, CURVED_INTERFACE_START_UM
        return bent if curved else flat
    by_kind = {"wool": WOOL_START_UM, "polish": POLISH_START_UM, "powder": POWDER_START_UM}
    return by_kind.get(rung.abrasive.kind, SOFT_START_UM)


def may_follow(job: Job, rung: Rung, before: Rung | None) -> bool:
    """Whether a rung may come next at all, whatever film it takes."""
    a = rung.abrasive
    if before is None:
        return job.levels_um <= roughest_start_um(rung, curved=job.curved)
    if before.abrasive.kind == "wool" or (before.abrasive.kind == "powder" and a.kind == "paper"):
        return False
    if a.kind != "wool" and not rung.rz_um < FINER * before.rz_um:
        return False
    jump = before.abrasive.d50_um > job.ratio_max * a.d50_um
    return not (a.coated and before.abrasive.coated and jump)


def reachable(job: Job, rung: Rung, before: Rung | None, *, last: bool) -> float | None:
    """Film the rung would take after ``before`` [um], or None where that step is not workable. Wool only ends."""
    if not may_follow(job, rung, before) or (rung.abrasive.kind == "wool" and not last):
        return None
    remove = job.removal_um(rung, before)
    return remove if remove <= job.slack * rung.d_max_um else None


def finishes(job: Job, rung: Rung, before: Rung | None = None) -> bool:
    """Whether the job may stop at this rung: its sheen is the one asked for, and no single scratch shows; or it leaves
    the key that is asked for."""
    if job.target == KEY:
        low, high = job.key_um
        fits = low * (1.0 - KEY_SLACK) <= rung.abrasive.d50_um <= high * (1.0 + KEY_SLACK)
        return rung.abrasive.kind == "paper" and fits
    if rung.rz_um > LAST_RZ_UM:
        return False
    return gloss.meets(job.target, sheen_after(job, rung, before), job.refractive_index)


def sheen_after(job: Job, rung: Rung, before: Rung | None) -> gloss.Sheen:
    """The sheen a rung leaves; wool leaves some of the surface before it."""
    under = gloss.rq_um(before.rz_um) if before is not None else None
    return gloss.sheen_over(gloss.rq_um(rung.rz_um), under, rung.abrasive.covered, job.refractive_index)
