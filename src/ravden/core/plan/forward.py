"""What is to come: the rest of the method, dated by the cure engine and the shop's hours."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ravden.core.cure.film import History, goes_on
from ravden.core.cure.light import full_dose
from ravden.core.cure.models import LightCure
from ravden.core.cure.windows import Windows, cut_hours, windows
from ravden.core.film.ledger import Ledger
from ravden.core.method.steps import SCUFF_UM, WORK_KINDS, Method, Stage, left, progress
from ravden.core.plan.aim import SANDED, coats_after
from ravden.core.plan.beside import Beside
from ravden.core.plan.history import LEAST_LEFT_UM, cure, drinks_of, film_events, scale_of, thickest
from ravden.core.plan.hours import HORIZON_H, PlannedStep, WorkHours, work
from ravden.core.plan.rubout import Sands
from ravden.core.record import Coat, Exposure, Project, Sanding, Zone

P90_Z = 1.2816


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowRange:
    """When a window opens [h]: likely, and the 10-90 % range from the material's rate and the film. None: not within
    the horizon. stage: what the wait is for."""

    name: str
    label: str
    early_h: float | None
    likely_h: float | None
    late_h: float | None
    shrink_left_um: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatIf:
    """A plan tried out: coats still to lay in the stage being built, and dry film of each [um]; None: as planned."""

    coats: int | None = None
    coat_um: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Forward:
    """The rest of the plan: every step of it, coats and sandings in nominal um, the light its coats want, and the
    windows waited for."""

    coats: tuple[Coat, ...]
    sandings: tuple[Sanding, ...]
    windows: tuple[WindowRange, ...]
    finished_h: float | None
    steps: tuple[PlannedStep, ...] = ()
    light: tuple[Exposure, ...] = ()

    @property
    def hands_h(self) -> float:
        """Hours of hands still to come."""
        return sum(s.hands_h for s in self.steps)

    @property
    def before_coats(self) -> bool:
        """Whether the next sanding comes before any coat of the body still planned."""
        body = [c for c in self.coats if c.zones is None]
        return bool(self.sandings) and (not body or self.sandings[0].at_h <= body[0].at_h)


def plan_forward(
    project: Project,
    method: Method,
    ledger: Ledger,
    now_h: float,
    hours: WorkHours,
    sands: Sands,
    past: History | None = None,
    change: WhatIf | None = None,
    ranges: bool = True,
) -> Forward:
    """Date the stages that are left, from now on, on the thickest zone.

    sands: film the ladders will take off the flats where the method does not say, and their hours; past: the thickest
    zone's cure up to now_h, where it has been solved already; change: another number or weight of coats; ranges:
    whether the early and late ends are wanted. Nothing planned is dated before now_h; a wait whose window is open
    already ends now.
    """
    change = change or WhatIf()
    zone = thickest(project, ledger)
    scale = scale_of(project, zone, ledger, now_h)
    laid, cuts = film_events(project, zone, scale, now_h)
    film_now = ledger.film(zone.name)
    relative_sd = film_now.sd_um / film_now.mean_um if film_now.mean_um > 1 else 0.25
    spread = math.hypot(project.rate_ln[1], 2 * min(relative_sd, 0.5))  # time goes with the square of the film
    done = progress(method, project.acts, now_h, project.body)
    coats: list[Coat] = []
    sandings: list[Sanding] = []
    found: list[WindowRange] = []
    t = now_h
    in_session, last = done.in_session, done.last_coat_h

    # The past is solved once; what is planned goes on from there, so that a month of waiting costs a few ms.
    base = past if past is not None or not laid else cure(project, laid, cuts, (now_h,), now_h)
    new_coats: list[Coat] = []
    new_cuts: list[Sanding] = []
    drinks = list(drinks_of(project, zone, now_h))
    lit: list[Exposure] = []
    stages = _stages_left(method, left(method, done), change.coats)

    def cut_samples(end: float) -> Sequence[float]:
        """Hours at which the depth of a level's cut will be asked about, where the plan has one with coats after it."""
        if not any(_cut_um(sands, method, at) for at, _ in stages):
            return ()
        found_from = now_h if base is None else float(base.end_state[0])
        asked = cut_hours(max(c.at_h for c in laid), end).tolist()
        return [found_from, *(h for h in asked if h > found_from)] if math.isfinite(found_from) else asked

    def ahead() -> History | None:
        if base is None and not new_coats:
            return None
        end = max(t, *(c.at_h for c in laid)) + HORIZON_H
        asked = cut_samples(end)
        if goes_on(project.models(""), new_coats, base):
            return cure(project, new_coats, new_cuts, asked, end, rough=not ranges, after=base, light=lit)
        return cure(project, laid, cuts, asked, end, rough=True, light=lit)

    def stretched(rate: float) -> History | None:
        end = max(t, *(c.at_h for c in laid)) + HORIZON_H
        return cure(project, laid, cuts, cut_samples(end), end, rate, rough=True, light=lit)

    def since() -> History:
        last = max(c.at_h for c in laid)
        return cure(project, laid, cuts, cut_hours(last, now_h + 1.0).tolist(), now_h + 1.0, rough=True)

    def open_at(history: History | None, cut_um: float | None) -> Windows | None:
        return None if history is None else windows(history, project.instrument.bench_C, cut_um)

    ends: tuple[History | None, ...] = ()
    opens: History | None = None
    solved_for = (-1, -1)  # how many planned coats and sandings the history at hand is for
    fresh = False  # whether a coat was laid that no wait has followed yet
    steps: list[PlannedStep] = []
    beside = Beside(project, now_h, hours)
    for place, stage in stages:
        began = t
        if stage.zones:
            beside.date(place, stage, t)
        elif stage.kind in WORK_KINDS:
            if fresh:
                # Hands leave prints in a coat just laid: the work waits until it takes a scuff.
                if solved_for != (len(new_coats), len(new_cuts)):
                    opens, solved_for = ahead(), (len(new_coats), len(new_cuts))
                dry = _window(open_at(opens, None), "scuff")
                t = max(t, dry[0]) if dry is not None else t
                fresh = False
            began, t = work(hours, t, stage.hours)
            steps.append(PlannedStep(index=place, from_h=began, to_h=t, hands_h=stage.hours))
            t += stage.rest_h
        elif stage.kind == "coats":
            other = project.layers.get(stage.finish)
            dry_um = project.dry_um(other or project.material, stage.by, stage.um)
            if other is None and change.coat_um is not None:
                dry_um = change.coat_um
            for nth in range(stage.count):
                same_session = last is not None and 0 < in_session < stage.per_session and t - last < 12.0
                if same_session and last is not None:
                    at = max(t, last + stage.between_h)
                    if at != hours.next_open(at):
                        same_session = False
                if not same_session:
                    fresh = last is None or hours.next_morning(last) <= t
                    at = hours.next_open(t if fresh or last is None else max(t, hours.next_morning(last)))
                    in_session = 0
                coats.append(Coat(at_h=at, dry_um=dry_um, bare=project.bare, finish=stage.finish))
                gone = drinks.pop(0) if drinks else 0.0
                own_um = max((dry_um * zone.k_mean - gone) * scale, LEAST_LEFT_UM)
                laid.append(Coat(at_h=at, dry_um=own_um, finish=stage.finish))
                new_coats.append(laid[-1])
                in_session, last, t = in_session + 1, at, at
                model = project.models("")[stage.finish]
                if isinstance(model, LightCure):
                    # It levels and loses vapour, then the lamp: nothing hardens before.
                    film_um = max(sum(c.dry_um for c in laid) - sum(s.um for s in cuts), 1.0)
                    t = at + model.rest_min / 60.0
                    lit.append(Exposure(at_h=t, dose_mJ_cm2=full_dose(model, film_um)))
                began = at if nth == 0 else began
            t += stage.hours  # of the last coat
            steps.append(PlannedStep(index=place, from_h=began, to_h=t, hands_h=stage.hours * stage.count))
            ends, fresh = (), True
        elif stage.kind == "wait":
            fresh = False
            if solved_for != (len(new_coats), len(new_cuts)):
                opens, solved_for = ahead(), (len(new_coats), len(new_cuts))
            cut_um = _next_cut_um(sands, method, place, zone) if stage.window == "level" else None
            likely = _window(open_at(opens, cut_um), stage.window)
            if cut_um is not None and likely is not None and likely[0] <= now_h:
                # Open already: since when, only the whole of its past can tell.
                likely = _window(open_at(since(), cut_um), stage.window)
            if likely is None:
                found.append(_range(stage, None, None, None, None))
                return Forward(
                    coats=(*coats, *beside.coats), sandings=tuple(sandings), windows=tuple(found), finished_h=None,
                    steps=tuple(sorted([*steps, *beside.steps], key=_begins)), light=tuple(lit),
                )  # fmt: skip
            if not ranges:
                found.append(_range(stage, None, likely[0], None, likely[1]))
                t = max(t, hours.next_open(likely[0]))
                steps.append(PlannedStep(index=place, from_h=began, to_h=t, hands_h=0.0))
                continue
            if not ends:
                ends = (stretched(math.exp(P90_Z * spread)), opens, stretched(math.exp(-P90_Z * spread)))
            told = tuple(open_at(e, cut_um) for e in ends)
            early, late = _ends(told, stage.window, likely[0], max(c.at_h for c in laid))
            found.append(_range(stage, early, likely[0], late, likely[1]))
            t = max(t, hours.next_open(likely[0]))
            steps.append(PlannedStep(index=place, from_h=began, to_h=t, hands_h=0.0))
        else:
            if stage.kind == "scuff":
                # Paper on a film that is still wet tears it: the scuff waits for its own window.
                if solved_for != (len(new_coats), len(new_cuts)):
                    opens, solved_for = ahead(), (len(new_coats), len(new_cuts))
                bears = _window(open_at(opens, None), "scuff")
                if bears is None:
                    found.append(_range(replace(stage, window="scuff"), None, None, None, None))
                    return Forward(
                        coats=(*coats, *beside.coats), sandings=tuple(sandings), windows=tuple(found),
                        finished_h=None, steps=tuple(sorted([*steps, *beside.steps], key=_begins)), light=tuple(lit),
                    )  # fmt: skip
                t = max(t, bears[0])
            planned, hands = _sanded(sands, method, place, stage)
            # Hands are on it for its hours, in the shop's hours and over as many days as it takes.
            began, t = work(hours, t, hands)
            steps.append(PlannedStep(index=place, from_h=began, to_h=t, hands_h=hands))
            um = stage.um if stage.um is not None else planned
            sandings.append(Sanding(at_h=began, um=um, purpose=stage.kind))
            share = min(um * zone.sanding, max(_dry(laid, cuts) - 0.5, 0.01))
            cuts.append(Sanding(at_h=began, um=share, purpose=stage.kind))
            new_cuts.append(cuts[-1])
    return Forward(
        coats=(*coats, *beside.coats), sandings=tuple(sandings), windows=tuple(found),
        finished_h=None if beside.unready else max(t, beside.t),
        steps=tuple(sorted([*steps, *beside.steps], key=_begins)), light=tuple(lit),
    )  # fmt: skip


def _sanded(sands: Sands, method: Method, place: int, stage: Stage) -> tuple[float, float]:
    """Film [um] and hours a sanding will take."""
    if stage.kind == "scuff":
        return SCUFF_UM, stage.hours
    if stage.kind == "level":
        key = coats_after(method, place) is not None
        um, hours = (sands.key_um, sands.key_h) if key else (sands.level_um, sands.level_h)
    else:
        um, hours = sands.rubout_um, sands.rubout_h
    return um, stage.hours or hours


def _cut_um(sands: Sands, method: Method, at: int) -> float | None:
    """What a level takes off the flats that coats follow [um]; None: it is none."""
    stage = method.stage[at]
    if stage.kind != "level" or coats_after(method, at) is None:
        return None
    return stage.um if stage.um is not None else sands.key_um


def _next_cut_um(sands: Sands, method: Method, place: int, zone: Zone) -> float | None:
    """The cut of the level that a wait is for, on a zone [um]; None: it is the last one."""
    at = next((i for i in range(place, len(method.stage)) if method.stage[i].kind in SANDED), None)
    cut = None if at is None else _cut_um(sands, method, at)
    return None if cut is None else cut * max(zone.sanding, 0.1)


def _begins(step: PlannedStep) -> float:
    return step.from_h


def _stages_left(method: Method, ahead: list[tuple[int, Stage]], coats: int | None) -> list[tuple[int, Stage]]:
    """What is left with another number of coats of its own, where one is tried.

    Where the build is over, more coats take it back to the last stage of coats.
    """
    if coats is None:
        return ahead
    at = next((i for i, (_, s) in enumerate(ahead) if s.kind == "coats" and not s.finish), None)
    if at is None:
        if coats == 0:
            return ahead
        last = max(i for i, s in enumerate(method.stage) if s.kind == "coats" and not s.finish)
        return [(last, replace(method.stage[last], count=coats)), *list(enumerate(method.stage))[last + 1 :]]
    changed = [(ahead[at][0], replace(ahead[at][1], count=coats))] if coats else []
    return [*ahead[:at], *changed, *ahead[at + 1 :]]


def _dry(laid: list[Coat], cuts: list[Sanding]) -> float:
    return sum(c.dry_um for c in laid) - sum(s.um for s in cuts)


def _window(found: Windows | None, name: str) -> tuple[float, float | None] | None:
    if found is None:
        return None
    at: Callable[[str], float | None] = found.at
    hour = at(name)
    return None if hour is None else (hour, found.shrink_left_um.get(name))


def _ends(
    ends: tuple[Windows | None, ...], name: str, likely_h: float, last_coat_h: float
) -> tuple[float | None, float | None]:
    """Early and late hour of a window: the likely wait stretched as the fast and the slow film stretch it.

    ends: windows of the fast, the middle and the slow film, all before any sanding still planned.
    """
    fast, middle, slow = (_window(e, name) for e in ends)
    if middle is None or middle[0] <= last_coat_h:
        return None, None
    wait, base = likely_h - last_coat_h, middle[0] - last_coat_h
    early = None if fast is None else last_coat_h + wait * (fast[0] - last_coat_h) / base
    late = None if slow is None else last_coat_h + wait * (slow[0] - last_coat_h) / base
    return early, late


def _range(
    stage: Stage, early_h: float | None, likely_h: float | None, late_h: float | None, shrink: float | None
) -> WindowRange:
    return WindowRange(
        name=stage.window, label=stage.label, early_h=early_h, likely_h=likely_h, late_h=late_h, shrink_left_um=shrink
    )
