"""A ladder of grits worked out rung by rung: film, time, sheen and odds; and the ladder to propose."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ravden.core.abrasive import gloss, sandthrough
from ravden.core.abrasive.job import SLACK, Job, finishes, reachable, sheen_after
from ravden.core.abrasive.sandthrough import EXPOSURE, ZoneFilmLeft
from ravden.core.abrasive.scratch import (
    Rung,
    minutes,
    per_pass_um,
    pieces_of_paper,
    removal_um,
    residual_um,
)
from ravden.core.abrasive.sequence import Path, affordable, cheapest, more_film_um
from ravden.core.errors import InputError, need
from ravden.core.record import SHEENS

GAUGED_SD_UM = 3.0  # [A] what a few touches of a gauge leave unsure, with 5 % of the film


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One rung of a ladder.

    film_left_um: by zone, after it, edges counted as worked only once they are allowed; odds: by zone, of having gone
    below the floor if one stopped here; strokes: by zone, full strokes of this block that are still safe before it;
    pieces: faces of paper; sheen: words and figures, band: their ends.
    """

    rung: Rung
    remove_um: float
    minutes: float
    pieces: float
    gu20: float
    gu60: float
    sheen: str
    band: gloss.Band
    film_left_um: dict[str, float]
    odds: dict[str, float]
    strokes: dict[str, int]
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
    caps_um: dict[str, float]
    edges_from: str | None
    edges_kept_out: bool
    film_ok: bool
    verdict: str
    reason: str

    @property
    def rungs(self) -> Path:
        return tuple(s.rung for s in self.steps)


def plan(job: Job, drawer: Sequence[Rung], *, explain: bool = True) -> Ladder:
    """The ladder for a job from what is in the drawer. Raises InputError, with what to do, when there is none.

    Where the film cannot pay for any, the cheapest in film is worked out and refused with the reason; explain: and with
    what could be done instead, which takes longer.
    """
    if not drawer:
        raise InputError("owned", "the drawer is empty: add the papers and compounds you have")
    if job.flatted:
        raise InputError("target", flatted_words(job.target))
    tight = replace(job, slack=1.0)
    for attempt in (job, tight):
        rungs = affordable(attempt, drawer)
        if rungs is not None:
            return evaluate(job, rungs)
    rungs = cheapest(replace(tight, objective="film"), drawer)
    if rungs is None:
        raise InputError("owned", _why_not(tight, drawer))
    return evaluate(job, rungs, drawer if explain else ())


def flatted_words(target: str) -> str:
    """Why a film dulled by particles is never rubbed up."""
    if target in ("matte", "satin"):
        return (
            "this film is dulled by particles all the way through: its sheen comes from the gun, so leave it as it is; "
            "a nib is cut flat and the coat sprayed again, or the whole evened with light wool"
        )
    return (
        f"this film is dulled by particles all the way through; rubbing will not bring it to {target}. "
        "Put clear gloss over it"
    )


def _why_not(job: Job, drawer: Sequence[Rung]) -> str:
    """The nearest thing that can be done, where no ladder reaches the target. job: with no slack kept."""
    usable = [r for r in drawer if r.abrasive.on_film]
    if not usable:
        return "nothing in the drawer is for film: stones, loose grain and garnet are not; add papers or compounds"
    if job.after is not None and any(finishes(job, r, job.after) for r in usable):
        return (
            f"the grades in the drawer are too far from {job.after.abrasive.name} to reach {job.target}: "
            "add one in between"
        )
    starts = [r for r in usable if reachable(job, r, job.after, last=False) is not None]
    if not starts and job.after is None:
        need_um = max(0.8 * job.texture_um, 1.0) * 1.15 / 1.5
        return (
            f"nothing in the drawer can level {job.texture_um:.0f} um of texture: "
            f"a paper of about {need_um:.0f} um grain or coarser, on a firm block, is wanted first"
        )
    if not any(finishes(job, r, job.after or starts[0]) for r in usable):
        nearest = _nearest_sheen(job, drawer)
        near = f", or stop at {nearest}, which it can reach" if nearest else ""
        return f"nothing in the drawer ends at {job.target}; add a grade or compound that does{near}"
    nearest = _nearest_sheen(job, drawer)
    near = f", or stop at {nearest}" if nearest else ""
    return (
        f"the grades in the drawer are too far apart to get from {job.texture_um:.0f} um of texture to {job.target}: "
        f"add one in between{near}"
    )


def _nearest_sheen(job: Job, drawer: Sequence[Rung]) -> str | None:
    """The next duller sheen the drawer can reach."""
    for name in reversed(SHEENS[: SHEENS.index(job.target)]):
        if cheapest(replace(job, target=name), drawer) is not None:
            return name
    return None


def totals(job: Job, rungs: Sequence[Rung]) -> tuple[float, float] | None:
    """Minutes and film of a sequence [min, um]; None where a step of it takes more than its grade can."""
    area, time, film = job.area_cm2, 0.0, 0.0
    for i, rung in enumerate(rungs):
        remove = removal_um(rung, rungs[i - 1] if i else job.after, job.texture_um, area, last=i == len(rungs) - 1)
        if remove > rung.d_max_um:
            return None
        time += minutes(rung, remove, area)
        film += remove
    return time, film + residual_um(rungs[-1], area)


def evaluate(job: Job, rungs: Sequence[Rung], drawer: Sequence[Rung] = ()) -> Ladder:
    """Work out a given sequence: film, time, sheen and odds, rung by rung. drawer: to look for what could be done
    instead, where the film cannot pay."""
    need(len(rungs) > 0, "sequence", "must name at least one grade")
    area = job.area_cm2
    removes = [
        removal_um(r, rungs[i - 1] if i else job.after, job.texture_um, area, last=i == len(rungs) - 1)
        for i, r in enumerate(rungs)
    ]
    residual = residual_um(rungs[-1], area)
    cv = max(r.backing.cv for r in rungs)
    caps = {z.name: most_um(job, z, cv) for z in job.zones}
    edges_from = 0 if job.edges_count else _edges_allowed_from(job, rungs, removes, residual, caps)
    spent = {z.name: 0.0 for z in job.zones}
    steps = []
    for i, (rung, remove) in enumerate(zip(rungs, removes, strict=True)):
        before = rungs[i - 1] if i else job.after
        last = i == len(rungs) - 1
        worked = [z for z in job.zones if z.kind != "edge" or (edges_from is not None and i >= edges_from)]
        strokes = {
            z.name: sandthrough.safe_passes(
                caps[z.name], spent[z.name], per_pass_um(rung), rung.backing.bears_on(z.kind) * EXPOSURE[z.kind]
            )
            for z in job.zones
        }
        for z in worked:
            spent[z.name] += remove * rung.backing.bears_on(z.kind) * EXPOSURE[z.kind]
        own = residual_um(rung, area)
        found = sheen_after(job, rung, before)
        steps.append(
            Step(
                rung=rung,
                remove_um=remove,
                minutes=minutes(rung, remove, area),
                pieces=pieces_of_paper(rung, remove, area) if rung.abrasive.coated else 0.0,
                gu20=found.gu20,
                gu60=found.gu60,
                sheen=found.name,
                band=gloss.band(
                    gloss.rq_um(rung.rz_um), gloss.rq_um(before.rz_um) if before is not None else None,
                    rung.abrasive.covered, job.refractive_index,
                ),
                film_left_um={z.name: z.film_um - spent[z.name] for z in job.zones},
                odds={z.name: _odds(job, z, spent[z.name] + own, cv) if z in worked else 0.0 for z in job.zones},
                strokes=strokes,
                why=_why(job, rung, before, remove),
                look_for=_look_for(rung, before, last),
                tight=remove > SLACK * rung.d_max_um,
            )
        )  # fmt: skip
    odds = {}
    for z in job.zones:
        untouched = z.kind == "edge" and edges_from is None
        odds[z.name] = 0.0 if untouched else _odds(job, z, spent[z.name] + residual, cv)
    bad = [z for z in job.zones if job.counts(z) and odds[z.name] > job.limit(z.kind) + 1e-9]
    reason = _refusal(job, bad, spent, residual, cv, odds, drawer) if bad else ""
    return Ladder(
        steps=tuple(steps),
        residual_um=residual,
        minutes=sum(s.minutes for s in steps),
        film_used_um=sum(removes) + residual,
        odds=odds,
        caps_um=caps,
        edges_from=None if edges_from is None else rungs[edges_from].abrasive.name,
        edges_kept_out=any(z.kind == "edge" for z in job.zones) and edges_from is None,
        film_ok=not bad,
        verdict="refused" if bad else "ok",
        reason=reason,
    )


def most_um(job: Job, zone: ZoneFilmLeft, cv: float) -> float:
    """The most that may come off a zone of a job [um]."""
    return sandthrough.most_removal_um(zone, cv, job.min_film_um, job.limit(zone.kind))


def _odds(job: Job, zone: ZoneFilmLeft, removed_um: float, cv: float) -> float:
    return sandthrough.zone_odds(zone, removed_um, cv, job.min_film_um)


def _refusal(
    job: Job, bad: Sequence[ZoneFilmLeft], spent: dict[str, float], residual: float, cv: float, odds: dict[str, float],
    drawer: Sequence[Rung],
) -> str:  # fmt: skip
    """Why the film cannot pay; told apart: too little of it, or too little known about it."""
    worst = max(bad, key=lambda z: odds[z.name])
    left = worst.film_um - spent[worst.name] - residual
    floor = job.min_film_um * sandthrough.FLOOR_SHARE[worst.kind]
    measured = replace(worst, sd_um=min(worst.sd_um, GAUGED_SD_UM + 0.05 * worst.film_um))
    enough = sandthrough.zone_odds(measured, spent[worst.name] + residual, cv, job.min_film_um)
    odds_words = sandthrough.odds_class(odds[worst.name])
    if enough <= job.limit(worst.kind):
        return (
            f"{worst.name}: about {left:.0f} um should be left, but the film is known only to ±{worst.sd_um:.0f} um, "
            f"so the odds of going below {floor:.0f} um are {odds_words}. A gauge reading there would settle it."
        )
    left_words = f"only about {left:.0f} um of sound film would be left" if left > 0 else "no sound film would be left"
    return (
        f"{worst.name}: {left_words}, and the odds of going below {floor:.0f} um are {odds_words}. "
        f"{instead(job, drawer)}"
    )


def instead(job: Job, drawer: Sequence[Rung]) -> str:
    """What else could be done where the film does not carry the ladder: more film, a duller sheen, or filling."""
    tight = replace(job, slack=1.0)
    more = more_film_um(tight, drawer) if drawer else None
    spray = f"Spray about {more:.0f} um more first" if more is not None else "Spray more first"
    duller = reversed(SHEENS[: SHEENS.index(job.target)]) if drawer else ()
    dull = next((n for n in duller if affordable(replace(tight, target=n), drawer) is not None), None)
    stop = f"stop at {dull}, which this film can pay for, " if dull else "" if drawer else "stop at a lower sheen, "
    return f"{spray}, {stop}or fill the low spots so that less has to come off."


def _edges_allowed_from(
    job: Job, rungs: Sequence[Rung], removes: Sequence[float], residual: float, caps: dict[str, float]
) -> int | None:
    """The coarsest rung from which on the edges can be worked too; None: keep off them altogether."""
    edges = [z for z in job.zones if z.kind == "edge"]
    for k in range(len(rungs)):
        wear = sum(d * r.backing.f_edge * EXPOSURE["edge"] for d, r in zip(removes[k:], list(rungs)[k:], strict=True))
        if all(wear + residual <= caps[z.name] for z in edges):
            return k
    return None if edges else 0


def _why(job: Job, rung: Rung, before: Rung | None, remove: float) -> str:
    limit = rung.d_max_um
    if before is None:
        return (
            f"Levels {job.texture_um:.0f} um of texture: about {remove:.0f} um to take off, "
            f"where this grain can take {limit:.0f}."
        )
    room = ", near its limit" if remove > SLACK * limit else ""
    return (
        f"Takes out the {before.abrasive.name} scratch: about {remove:.2g} um of the {limit:.2g} um it can take{room}."
    )


def _look_for(rung: Rung, before: Rung | None, last: bool) -> str:
    """What to see before moving on."""
    kind = rung.abrasive.kind
    if before is None:
        return "Even and dull all over: a shiny spot in the dull field is a low spot. Film-coloured dust only."
    if kind == "wool":
        return "The same soft sheen everywhere, strokes all one way; no dull patch beside a bright one."
    if kind == "polish":
        if last:
            return "The lamp's edge is crisp from every side, and no cobweb shows when you turn the work."
        return "No straight scratch is left under the lamp; a stray one means one grade back, just there."
    if rung.rz_um < 2.0:
        return "The lamp shows clearly at a low angle; hunt stray deep scratches now, not at the buffer."
    return "Only this grade's scratch is left, crossing the last one; wipe dry and look along the light."
