"""Repairs worked out on one instrument: the same plan, ledger and cure as everything else, with the repair's steps in
it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from msgspec import structs

from ravden.core.abrasive.sandthrough import zone_odds
from ravden.core.ahead.dated import Forward
from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.timeline import FilmTimeline, line_ahead, past_line, timeline
from ravden.core.fact import Fact, fact
from ravden.core.film.ledger import Ledger
from ravden.core.method.mending import put_in
from ravden.core.method.steps import Method, Stage, progress
from ravden.core.record import Act, Coat, Project, Sanding
from ravden.core.repair.case import Case, case_of
from ravden.core.repair.operations import ON_ALL, Steps, steps_of
from ravden.core.repair.table import Recipe, Tables
from ravden.core.rubout.rub_out import zone_left
from ravden.core.state.history import known, planned

MOST = 4
RISKY = 0.10  # odds of cutting into sound film, and of ending thin, that are worth saying
ALIKE_UM = 3.0  # less than a gauge can tell apart, so neither is said to end with more
STRIP = Recipe(
    defect="peeling", groups="*", stages="bhlf", only="", name="Strip that zone, build anew", aim="cleanest",
    ops="strip scuff rebuild wait-level flat rub?", risk="", basis="ENG",
)  # fmt: skip
Planned = Callable[[tuple[Stage, ...], bool], tuple[Project, Method]]


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneAfter:
    """A zone, or the spot (named so), when all is done: mean film [um], the least wanted there, the odds of less."""

    name: str
    film_um: float
    floor_um: float
    odds: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Repair:
    """One way of putting a defect right. method, project: with it in the plan; forward: that plan dated; hands_h: of
    the repair; ready_h: likely hour all is done before and after, None where it is not within sight; line: the spot's
    film through time; risks: what can go wrong; leaves: nothing is done; best: least work, most film, soonest, where
    it is that of those beside it; cleanest by the table."""

    name: str
    recipe: Recipe
    work: Steps
    method: Method
    project: Project
    forward: Forward
    zones: tuple[ZoneAfter, ...]
    hands_h: float
    ready_h: tuple[float | None, float | None]
    early_late_h: tuple[float | None, float | None]
    line: FilmTimeline | None
    risks: tuple[Fact, ...]
    best: tuple[str, ...] = ()

    @property
    def steps(self) -> tuple[Stage, ...]:
        return self.work.steps

    @property
    def leaves(self) -> bool:
        return self.recipe.leaves


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Repairs:
    """All there are for a defect; none: why there is none but stripping."""

    case: Case
    ways: tuple[Repair, ...]
    none_because: Fact | None = None


def recipes_for(case: Case, tables: Tables) -> tuple[Recipe, ...]:
    """The rows of the table that fit, in its order, at most four."""
    fits = [
        r for r in tables.recipes
        if r.defect == case.mishap.what and (r.groups == "*" or case.group in r.groups) and case.stage in r.stages
        and case.only(r.only)
    ]  # fmt: skip
    return tuple(fits[:MOST])


def repairs(case: Case, tables: Tables, plan: Planned, *, ranges: bool = True) -> Repairs:
    """Two to four repairs beside one another where there are, each worked out. plan: the instrument's project and
    method with these steps in its plan, as if they had been chosen; ranges: with early and late ends."""
    recipes = recipes_for(case, tables)
    because = None
    if not any(not r.leaves for r in recipes):
        because = fact("only-strip", what=case.mishap.what, group=case.group)
        recipes = (*recipes, STRIP)
    ways = [_worked(r, case, tables, plan, ranges) for r in recipes]
    found = _unlike([w for w in ways if w is not None])
    return Repairs(case=case, ways=_judged(found), none_because=because)


def _unlike(ways: Sequence[Repair]) -> list[Repair]:
    """Those that differ in what is done."""
    out: list[Repair] = []
    for way in ways:
        done = [(s.op, s.count) for s in way.steps]
        if not any(done == [(s.op, s.count) for s in w.steps] and w.work.later == way.work.later for w in out):
            out.append(way)
    return out


def _worked(recipe: Recipe, case: Case, tables: Tables, plan: Planned, ranges: bool) -> Repair | None:
    found = case.found
    work = steps_of(recipe, case, tables.mends)
    if not work.steps and not recipe.leaves:
        return None
    project, method = plan(work.steps, work.later) if work.steps else (found.project, found.method)
    done = progress(method, project.acts, found.now_h, project.body)
    ahead = found.forward
    if work.steps:
        ahead = plan_forward(
            project, method, found.ledger, found.now_h, found.hours, found.sands, found.soft.found, ranges=ranges,
            held={},
        )  # fmt: skip
    after = replace(found, project=project, method=method, forward=ahead,
                    known=replace(found.known, progress=done))  # fmt: skip
    zones = _zones_after(case, after)
    own = [s for s in (*ahead.steps, *ahead.between) if method.stage[s.index].mends == case.mishap.id]
    early, _, late = ahead.ready_h
    return Repair(
        name=recipe.name, recipe=recipe, work=work, method=method, project=project, forward=ahead, zones=zones,
        hands_h=sum(s.hands_h for s in own), ready_h=_not_sooner(before_h(found), ahead.finished_h),
        early_late_h=(early, late),
        line=spot_line(case, after), risks=_risks(recipe, case, work, zones, ahead),
    )  # fmt: skip


def _not_sooner(before: float | None, after: float | None) -> tuple[float | None, float | None]:
    """Ready before and after [h]. A scuff more leaves a film a little thinner, which cures by hours sooner and can so
    gain a working day; nobody believes a job done sooner for something having gone wrong, so it is told as no later."""
    return before, after if before is None or after is None else max(before, after)


def before_h(found: Outlook) -> float | None:
    """When all would be done if nothing had gone wrong [h], by the film and the hours alone."""
    if not found.held:
        return found.forward.finished_h
    free = plan_forward(
        found.project, found.method, found.ledger, found.now_h, found.hours, found.sands, found.soft.found, ranges=False
    )
    return free.finished_h


def _events(forward: Forward) -> list[Coat | Sanding]:
    return sorted([*forward.coats, *forward.sandings], key=lambda a: a.at_h)


def _zones_after(case: Case, after: Outlook) -> tuple[ZoneAfter, ...]:
    """The zone it is on, the spot, and then the others."""
    project, ledger = after.project, after.ledger
    laid: list[Act] = list(project.acts)
    for act in _events(after.forward):
        ledger = planned(project, ledger, act, laid)
        laid.append(act)
    whole = project.instrument.min_film_um
    out = []
    for zone in project.zones:
        if zone.name in project.masked:
            continue
        least = project.finishes[zone.name].min_film_um if zone.name in project.finishes else whole
        odds = zone_odds(zone_left(zone, ledger), 0.0, 0.0, least) if least > 0 else 0.0
        out.append(ZoneAfter(name=zone.name, film_um=ledger.mean_um(zone.name), floor_um=least * zone.floor, odds=odds))
    mine = [z for z in out if z.name == case.zone.name]
    spot = [_spot_after(case, after)] if case.spread == "spot" else []
    return (*mine, *spot, *(z for z in out if z not in mine))


def _spot_after(case: Case, after: Outlook) -> ZoneAfter:
    there = case.there
    ledger: Ledger = there.ledger
    laid: list[Act] = list(there.project.acts)
    for act in _events(after.forward):
        mine = on_spot(act, case)
        ledger = planned(there.project, ledger, mine, laid) if mine is not None else ledger
        laid.append(act if mine is None else mine)
    project = case.found.project
    finish = project.finishes.get(case.zone.name)
    least = (project.instrument.min_film_um if finish is None else finish.min_film_um) * there.zone.floor
    name = there.zone.name
    odds = ledger.odds_below(name, least) if least > 0 else 0.0
    return ZoneAfter(name=name, film_um=ledger.mean_um(name), floor_um=least, odds=odds)


def on_spot(act: Coat | Sanding, case: Case) -> Coat | Sanding | None:
    """What an act still to come does on the spot; None: nothing."""
    name, parent = case.there.zone.name, case.zone
    if act.spot:
        return structs.replace(act, spot=False, zones=(name,)) if act.mends == case.mishap.id else None
    if isinstance(act, Coat):
        return structs.replace(act, zones=(name,)) if act.covers(parent.name) else None
    return structs.replace(act, zones=(name,)) if act.share(parent) > 0 else None


def spot_line(case: Case, after: Outlook) -> FilmTimeline | None:
    """The film where it went wrong, through time, with all that is planned."""
    now_h = case.found.now_h
    if case.spread != "spot":
        past = past_line(after.project, after.known.folded, now_h, case.zone.name)
        ahead = line_ahead(after.project, after.ledger, after.forward, now_h, case.zone.name, past, rough=True)
        return timeline(past, ahead)
    there = case.there
    folded = known(there.project, now_h)
    past = past_line(there.project, folded, now_h, there.zone.name)
    acts = [m for a in _events(after.forward) if (m := on_spot(a, case)) is not None]
    coming = replace(
        after.forward,
        coats=tuple(a for a in acts if isinstance(a, Coat)),
        sandings=tuple(a for a in acts if isinstance(a, Sanding)),
    )
    project = structs.replace(there.project, layers={**there.project.layers, **after.project.layers})
    made = timeline(past, line_ahead(project, folded.ledger, coming, now_h, there.zone.name, past, rough=True))
    return _with_what_was(case, made) if case.through else made


def _with_what_was(case: Case, line: FilmTimeline | None) -> FilmTimeline | None:
    """A spot that starts from nothing, after the film its zone had until then."""
    found, at_h = case.found, case.mishap.at_h
    own = found.view.past if found.view.zone == case.zone.name else None
    past = own or past_line(found.project, found.known.folded, found.now_h, case.zone.name)
    before = timeline(past, None)
    keep = None if before is None else before.hours <= at_h
    if before is None or keep is None or not keep.any():
        return line
    begins = np.inf if line is None else float(line.hours[0])
    bare = np.array([h for h in (at_h + 0.01, min(begins, found.now_h + 24.0) - 0.01) if h > at_h])
    flat = np.zeros(len(bare))
    parts = [getattr(before, n)[keep] for n in ("hours", "film_um", "dry_um", "low_um", "high_um", "phi_mean")]
    rest = [bare, flat, flat, flat, flat, flat]
    joined = [np.concatenate([a, b]) for a, b in zip(parts, rest, strict=True)]
    soft = [before.margin_K[keep], np.full((len(bare), before.margin_K.shape[1]), np.nan)]
    if line is not None:
        names = ("hours", "film_um", "dry_um", "low_um", "high_um", "phi_mean")
        joined = [np.concatenate([a, getattr(line, n)]) for a, n in zip(joined, names, strict=True)]
        soft.append(line.margin_K)
    hours, film, dry, low, high, phi = joined
    return FilmTimeline(
        hours=hours, film_um=film, dry_um=dry, low_um=low, high_um=high, margin_K=np.concatenate(soft), phi_mean=phi
    )


def _risks(
    recipe: Recipe, case: Case, work: Steps, zones: Sequence[ZoneAfter], ahead: Forward
) -> tuple[Fact, ...]:  # fmt: skip
    out = []
    if work.overshot is not None and work.overshot > RISKY:
        out.append(fact("overshoot", odds=work.overshot, um=work.taken_um))
    mine = [z for z in zones if z.name in (case.zone.name, case.there.zone.name)]
    thin = max(mine, key=lambda z: z.odds, default=None)
    if thin is not None and thin.odds > RISKY and thin.floor_um > 0:
        out.append(fact("ends-thin", zone=thin.name, odds=thin.odds, floor_um=thin.floor_um))
    if ahead.stuck is not None:
        out.append(fact("never-ready"))
    if recipe.risk:
        out.append(fact("plain", text=recipe.risk))
    return tuple(out)


def _judged(ways: Sequence[Repair]) -> tuple[Repair, ...]:
    """With what each is best at among those beside it, from its own figures."""
    if len(ways) < 2:
        return tuple(ways)
    far = float("inf")
    work = min(w.hands_h for w in ways)
    soon = min((w.ready_h[1] if w.ready_h[1] is not None else far) for w in ways)
    film = max(w.zones[0].film_um for w in ways)
    out = []
    for way in ways:
        best = []
        if way.hands_h <= work + 1e-6 and sum(w.hands_h <= work + 1e-6 for w in ways) == 1:
            best.append("least work")
        ready = way.ready_h[1]
        if ready is not None and ready <= soon + 1e-6 and sum(w.ready_h[1] == ready for w in ways) == 1:
            best.append("soonest")
        if way.zones[0].film_um >= film - ALIKE_UM and sum(w.zones[0].film_um >= film - ALIKE_UM for w in ways) == 1:
            best.append("most film")
        if way.recipe.aim == "cleanest":
            best.append("cleanest")
        out.append(replace(way, best=tuple(best)))
    return tuple(out)


def chosen_plan(project: Project, method: Method, now_h: float) -> Planned:
    """The plan with a repair in it, where nothing but this instrument is known."""

    def plan(steps: tuple[Stage, ...], later: bool) -> tuple[Project, Method]:
        done = progress(method, project.acts, now_h, project.body)
        return project, structs.replace(method, stage=put_in(method.stage, done, steps, later=later))

    return plan


__all__ = ["ON_ALL", "Repair", "Repairs", "ZoneAfter", "case_of", "chosen_plan", "recipes_for", "repairs"]
