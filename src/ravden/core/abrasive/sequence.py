"""Which grits, in which order: the ladder from this texture to that sheen (docs/maths.md).

What a rung costs depends only on it and the rung before, so the cheapest ladder is a shortest path over the drawer,
exact and instant. "Balanced" counts a micrometre of film as one minute of work.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ravden.core.abrasive import gloss, sandthrough
from ravden.core.abrasive.sandthrough import ZoneFilmLeft
from ravden.core.abrasive.scratch import Rung, minutes, removal_um, residual_um
from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.record import SHEENS

FINER = 0.97  # a rung must leave less than this share of the scratch before it
RATIO_MAX = 1.8  # [ENG] normal habit; 1.5 careful, 2.2 bold
SLACK = 0.8  # [ENG] plan with this share of what a grade can take off
LAST_RZ_UM = 4.5  # [ENG] coarser and single scratches show
SOFT_START_UM = 1.0  # a soft backing rides any texture rougher than this
WEIGHT = {"balanced": (1.0, 1.0), "time": (1.0, 0.0), "film": (0.001, 1.0)}  # minutes, micrometres
SAME_ENOUGH = 1e-9
GAUGED_SD_UM = 3.0  # [A] what a few touches of a gauge leave unsure, with 5 % of the film


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """What is to be rubbed out: texture [um], zones, floor [um], sheen, and how it will be worked."""

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

    def __post_init__(self) -> None:
        need_above(self.texture_um, 0, "texture_um", 1000)
        need(len(self.zones) > 0, "zones", "at least one zone is needed")
        need(self.target in SHEENS, "target", f"must be one of {', '.join(SHEENS)} (got {self.target})")
        need_above(self.hardness_MPa, 0, "hardness_MPa", 1e4)
        need(self.mode in ("wet", "dry", "machine"), "mode", f"must be wet, dry or machine (got {self.mode})")
        need_in(self.slack, 0.3, 1, "slack")
        need_in(self.ratio_max, 1.05, 5, "ratio_max")
        need(self.objective in WEIGHT, "objective", f"must be balanced, time or film (got {self.objective})")

    @property
    def area_cm2(self) -> float:
        """Area worked: every zone but the edges."""
        return sum(z.area_cm2 for z in self.zones if z.kind != "edge") or sum(z.area_cm2 for z in self.zones)


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One rung of a ladder. film_left_um: by zone, after it, edges counted as worked only once they are allowed."""

    rung: Rung
    remove_um: float
    minutes: float
    gu20: float
    gu60: float
    sheen: str
    film_left_um: dict[str, float]
    why: str
    look_for: str
    tight: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Ladder:
    """A whole rub-out. residual_um: depth of the last scratches, film one cannot count on."""

    steps: tuple[Step, ...]
    residual_um: float
    minutes: float
    film_used_um: float
    odds: dict[str, float]
    edges_from: str | None
    edges_kept_out: bool
    film_ok: bool
    verdict: str
    reason: str


def _reachable(job: Job, rung: Rung, before: Rung | None, *, last: bool) -> float | None:
    """Film the rung would take after ``before``, or None where that step is not workable."""
    a = rung.abrasive
    if before is None:
        soft = a.kind in ("foam", "polish", "wool") or rung.backing.id in ("foam", "finger", "orbital-foam")
        if soft and job.texture_um > SOFT_START_UM:
            return None
    else:
        if before.abrasive.kind == "wool":
            return None
        if a.kind != "wool" and not rung.rz_um < FINER * before.rz_um:
            return None
        coated = {"paper", "foam"}
        if {a.kind, before.abrasive.kind} <= coated and before.abrasive.d50_um > job.ratio_max * a.d50_um:
            return None
    if a.kind == "wool" and (before is None or not last):
        return None
    remove = removal_um(rung, before, job.texture_um, job.area_cm2, last)
    return remove if remove <= job.slack * rung.d_max_um else None


def finishes(job: Job, rung: Rung) -> bool:
    """Whether the job may stop at this rung: its sheen is the one asked for, and no single scratch shows."""
    found = gloss.sheen(rung.rz_um / 7.5 * 1.28, job.refractive_index)
    return gloss.meets(job.target, found, job.refractive_index) and rung.rz_um <= LAST_RZ_UM


def cheapest(job: Job, drawer: Sequence[Rung]) -> tuple[Rung, ...] | None:
    """The best sequence by the job's objective, or None where nothing in the drawer gets there."""
    order = sorted(drawer, key=lambda r: (r.abrasive.kind == "wool", -r.rz_um))
    time_weight, film_weight = WEIGHT[job.objective]
    best: list[tuple[float, tuple[Rung, ...]] | None] = [None] * len(order)
    answer: tuple[float, tuple[Rung, ...]] | None = None
    for j, rung in enumerate(order):
        wool = rung.abrasive.kind == "wool"
        for i in range(-1, j):
            so_far = (0.0, ()) if i < 0 else best[i]
            if so_far is None:
                continue
            remove = _reachable(job, rung, None if i < 0 else order[i], last=wool)
            if remove is None:
                continue
            cost = so_far[0] + time_weight * minutes(rung, remove, job.area_cm2) + film_weight * remove
            if best[j] is None or cost < best[j][0] - SAME_ENOUGH:  # type: ignore[index]
                best[j] = (cost, (*so_far[1], rung))
        here = best[j]
        if here is not None and finishes(job, rung):
            total = here[0] + film_weight * residual_um(rung, job.area_cm2)
            if answer is None or total < answer[0]:
                answer = (total, here[1])
    return None if answer is None else answer[1]


def plan(job: Job, drawer: Sequence[Rung]) -> Ladder:
    """The ladder for a job from what is in the drawer. Raises InputError, with what to do, when there is none."""
    if not drawer:
        raise InputError("owned", "the drawer is empty: add the papers and compounds you have")
    rungs = cheapest(job, drawer)
    if rungs is None and job.slack < 1.0:
        rungs = cheapest(_with_slack(job, 1.0), drawer)
    if rungs is None:
        raise InputError("owned", _why_not(job, drawer))
    return evaluate(job, rungs)


def _with_slack(job: Job, slack: float) -> Job:
    return replace(job, slack=slack)


def _why_not(job: Job, drawer: Sequence[Rung]) -> str:
    """The nearest thing that can be done, where no ladder reaches the target."""
    loose = _with_slack(job, 1.0)
    starts = [r for r in drawer if _reachable(loose, r, None, last=False) is not None]
    if not starts:
        need_um = max(0.8 * job.texture_um, 1.0) * 1.15 / 1.5
        return (
            f"nothing in the drawer can level {job.texture_um:.0f} um of texture: "
            f"a paper of about {need_um:.0f} um grain or coarser, on a firm block, is wanted first"
        )
    if not any(finishes(job, r) for r in drawer):
        return f"nothing in the drawer ends at {job.target}; add a grade or compound that does"
    return (
        f"the grades in the drawer are too far apart to get from {job.texture_um:.0f} um of texture to {job.target}: "
        "add one in between"
    )


def evaluate(job: Job, rungs: Sequence[Rung]) -> Ladder:
    """Work out a given sequence: film, time, sheen and odds, rung by rung."""
    need(len(rungs) > 0, "sequence", "must name at least one grade")
    area = job.area_cm2
    removes = [
        removal_um(r, rungs[i - 1] if i else None, job.texture_um, area, last=i == len(rungs) - 1)
        for i, r in enumerate(rungs)
    ]
    residual = residual_um(rungs[-1], area)
    cv = max(r.backing.cv for r in rungs)
    edges_from = _edges_allowed_from(job, rungs, removes, residual)
    film = {z.name: z.film_um for z in job.zones}
    spent = dict.fromkeys(film, 0.0)
    steps = []
    for i, (rung, remove) in enumerate(zip(rungs, removes, strict=True)):
        for z in job.zones:
            if z.kind == "edge" and (edges_from is None or i < edges_from):
                continue
            spent[z.name] += remove * rung.backing.bears_on(z.kind) * sandthrough.EXPOSURE[z.kind]
        found = gloss.sheen(rung.rz_um / 7.5 * 1.28, job.refractive_index)
        before = rungs[i - 1] if i else None
        steps.append(
            Step(
                rung=rung,
                remove_um=remove,
                minutes=minutes(rung, remove, area),
                gu20=found.gu20,
                gu60=found.gu60,
                sheen=found.name,
                film_left_um={name: film[name] - spent[name] for name in film},
                why=_why(job, rung, before, remove),
                look_for=_look_for(rung, before, i == len(rungs) - 1),
                tight=remove > SLACK * rung.d_max_um,
            )
        )
    odds = {}
    for z in job.zones:
        untouched = z.kind == "edge" and edges_from is None
        odds[z.name] = 0.0 if untouched else sandthrough.zone_odds(z, spent[z.name] + residual, cv, job.min_film_um)
    bad = [z for z in job.zones if odds[z.name] > sandthrough.ODDS_LIMIT[z.kind] and z.kind != "edge"]
    has_edges = any(z.kind == "edge" for z in job.zones)
    reason = _refusal(job, bad, spent, residual, cv, odds) if bad else ""
    return Ladder(
        steps=tuple(steps),
        residual_um=residual,
        minutes=sum(s.minutes for s in steps),
        film_used_um=sum(removes) + residual,
        odds=odds,
        edges_from=None if edges_from is None else rungs[edges_from].abrasive.name,
        edges_kept_out=has_edges and edges_from is None,
        film_ok=not bad,
        verdict="refused" if bad else "ok",
        reason=reason,
    )


def _refusal(
    job: Job, bad: Sequence[ZoneFilmLeft], spent: dict[str, float], residual: float, cv: float, odds: dict[str, float]
) -> str:
    """Why the film cannot pay; told apart: too little of it, or too little known about it."""
    worst = max(bad, key=lambda z: odds[z.name])
    left = worst.film_um - spent[worst.name] - residual
    floor = job.min_film_um * sandthrough.FLOOR_SHARE[worst.kind]
    measured = replace(worst, sd_um=min(worst.sd_um, GAUGED_SD_UM + 0.05 * worst.film_um))
    enough = sandthrough.zone_odds(measured, spent[worst.name] + residual, cv, job.min_film_um)
    odds_words = sandthrough.odds_class(odds[worst.name])
    if enough <= sandthrough.ODDS_LIMIT[worst.kind]:
        return (
            f"{worst.name}: about {left:.0f} um should be left, but the film is known only to ±{worst.sd_um:.0f} um, "
            f"so the odds of going below {floor:.0f} um are {odds_words}. A gauge reading there would settle it."
        )
    return (
        f"{worst.name}: only about {left:.0f} um of sound film would be left, and the odds of going below "
        f"{floor:.0f} um are {odds_words}. Spray more first, stop at a lower sheen, or fill the low spots."
    )


def _edges_allowed_from(job: Job, rungs: Sequence[Rung], removes: Sequence[float], residual: float) -> int | None:
    """The coarsest rung from which on the edges can be worked too; None: keep off them altogether."""
    edges = [z for z in job.zones if z.kind == "edge"]
    cv = max(r.backing.cv for r in rungs)
    for k in range(len(rungs)):
        wear = sum(
            d * r.backing.f_edge * sandthrough.EXPOSURE["edge"]
            for d, r in zip(removes[k:], list(rungs)[k:], strict=True)
        )
        if all(wear + residual <= sandthrough.most_removal_um(z, cv, job.min_film_um) for z in edges):
            return k
    return None if edges else 0


def _why(job: Job, rung: Rung, before: Rung | None, remove: float) -> str:
    limit = rung.d_max_um
    if before is None:
        return (
            f"Levels {job.texture_um:.0f} um of texture: about {remove:.0f} um to take off, "
            f"where this grain can take {limit:.0f}."
        )
    share = remove / limit
    room = "little room to spare" if share > SLACK else "with room to spare"
    return (
        f"Takes out the {before.abrasive.name} scratch: about {remove:.2g} um where it can take {limit:.2g} um, {room}."
    )


def _look_for(rung: Rung, before: Rung | None, last: bool) -> str:
    """What to see before moving on."""
    kind = rung.abrasive.kind
    if before is None:
        return "Even and dull all over: a shiny spot in the dull field is a low spot. Film-coloured dust only."
    if kind == "polish":
        if last:
            return "The lamp's edge is crisp from every side, and no cobweb shows when you turn the work."
        return "No straight scratch is left under the lamp; a stray one means one grade back, just there."
    if rung.rz_um < 2.0:
        return "The lamp shows clearly at a low angle; hunt stray deep scratches now, not at the buffer."
    return "Only this grade's scratch is left, crossing the last one; wipe dry and look along the light."
