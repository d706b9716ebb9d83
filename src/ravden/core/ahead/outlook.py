"""Everything the program shows of one instrument: its film through time on one zone, the windows, and the numbers."""

import math
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

from msgspec import structs

from ravden.core.abrasive.sandthrough import zone_odds
from ravden.core.ahead.dated import Forward, WindowRange
from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.refused import as_borne
from ravden.core.ahead.steps import Held
from ravden.core.ahead.timeline import FilmTimeline, Line, line_ahead, past_line, timeline
from ravden.core.calendar.hours import WorkHours
from ravden.core.climate.series import Cabinet
from ravden.core.cure.asked import Sampling
from ravden.core.cure.film import History
from ravden.core.film.filter import Priors
from ravden.core.film.ledger import Ledger, ZoneFilm
from ravden.core.method.steps import Method, Progress, progress, texture_at
from ravden.core.record import Act, Coat, Project, Sanding, Zone
from ravden.core.rubout.aim import SANDED, SHEEN, Aim, aim_at, aim_of, coats_after, next_sanding
from ravden.core.rubout.rub_out import Ask, Drawer, RubFilm, RubOut, Sands, rub_out, sands, zone_left
from ravden.core.state.history import (
    LEAST_LEFT_UM,
    Folded,
    Known,
    Memory,
    known,
    planned,
    thickest,
)
from ravden.core.state.laid_film import laid_film

if TYPE_CHECKING:
    from ravden.core.ahead.advice import Counsel

POLISHED_UM = 3.0  # [A] film the finer rungs and compounds reach below the texture


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneNow:
    """A zone's film now, the least wanted of its finish, and the odds of being below that."""

    name: str
    label: str
    kind: str
    area_cm2: float
    film: ZoneFilm
    below_floor: float
    floor_um: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FilmKnown:
    """What the acts say of the film: the ledger after each of them, every zone now, and where the method stands."""

    folded: Folded
    zones: tuple[ZoneNow, ...]
    progress: Progress

    @property
    def ledger(self) -> Ledger:
        return self.folded.ledger


@dataclass(frozen=True, slots=True, kw_only=True)
class Softness:
    """The thickest zone's cure, whose last sample is the moment asked for, and the bench it is judged against. sinks:
    how much more this finish was found to sink in this shop than is reckoned [-]."""

    found: History | None
    project: Project
    sinks: float = 1.0

    @property
    def least_K(self) -> float | None:
        """Least margin over the whole film [K]; None without film."""
        if self.found is None:
            return None
        return float(self.found.column("Tg_min_C")[-1]) - self.project.instrument.judged_C

    @property
    def warmed_K(self) -> float | None:
        """Least margin over what a wheel warms [K]; None without film."""
        if self.found is None:
            return None
        return float(self.found.column("Tg_warmed_C")[-1]) - self.project.instrument.judged_C

    @property
    def shrink_um(self) -> float:
        """Shrink still to come, by how much this finish was found to sink here [um]."""
        if self.found is None:
            return 0.0
        return self.sinks * float(self.found.column("film_um")[-1] - self.found.column("dry_um")[-1])

    def over_top_K(self, depth_um: float) -> float | None:
        """Least margin over the depth about to be removed [K]."""
        if self.found is None:
            return None
        least = self.found.least_Tg_over_top_C(-1, depth_um)
        return least - self.project.instrument.judged_C


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ZoneView:
    """One zone's film through time; past: what happened to it, None where nothing was laid there; timeline: with what
    is planned, None for bare wood that stays so, or where nobody asked."""

    zone: str
    past: Line | None
    timeline: FilmTimeline | None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Outlook:
    """One instrument at one moment, in parts: what is known of its film, how soft that is, what is to come, the ladder,
    one zone's view, and counsel where it was asked for. Turning to another zone needs another view alone. held: where
    the shop's plan has hands on it, by which what is to come is dated; stays: in the warm cabinet, as that plan
    has them; bare: the project without those, None where there are none."""

    project: Project
    method: Method
    now_h: float
    hours: WorkHours
    known: FilmKnown
    soft: Softness
    sands: Sands
    forward: Forward
    rub_out: RubOut
    view: ZoneView
    counsel: "Counsel | None" = None
    held: Held = field(default_factory=dict)
    stays: tuple[Cabinet, ...] = ()
    bare: Project | None = None

    @property
    def history(self) -> tuple[Known, ...]:
        return self.known.folded.history

    @property
    def ledger(self) -> Ledger:
        return self.known.ledger

    @property
    def zones(self) -> tuple[ZoneNow, ...]:
        return self.known.zones

    @property
    def progress(self) -> Progress:
        return self.known.progress

    @property
    def zone(self) -> str:
        return self.view.zone

    @property
    def past(self) -> Line | None:
        return self.view.past

    @property
    def timeline(self) -> FilmTimeline | None:
        return self.view.timeline

    @property
    def slowest_zone(self) -> str:
        """The zone the windows are waited for on: that of the thickest film; empty without film."""
        if self.soft.found is None:
            return ""
        return thickest(self.project, self.ledger).name

    @property
    def slowest(self) -> History | None:
        return self.soft.found

    @property
    def margin_now_K(self) -> float | None:
        return self.soft.least_K

    @property
    def shrink_left_um(self) -> float:
        return self.soft.shrink_um

    @property
    def windows(self) -> tuple[WindowRange, ...]:
        """What the film itself is waited for: without the waits of repairs, which are in forward."""
        return tuple(w for w in self.forward.windows if not w.mends)


def outlook(
    project: Project, method: Method, drawer: Drawer, now_h: float, hours: WorkHours, zone_name: str = "",
    memory: Memory | None = None, priors: Priors | None = None, whole: bool = True, ask: Ask | None = None,
    held: Held | None = None,
) -> Outlook:  # fmt: skip
    """Fold journal and method into what is shown. zone_name empty: the thickest zone; memory and priors as for
    known(); whole: with the ends of the windows' ranges and the film through time, which take most of the work; ask:
    how it will be sanded, wet by hand where nobody says; held: where the shop's plan has hands on it."""
    folded = known(project, now_h, memory, priors)
    ledger = folded.ledger
    slowest = thickest(project, ledger)
    zone = project.zone(zone_name) if zone_name else slowest
    past = past_line(project, folded, now_h, zone.name)
    # Mostly the zone looked at is the slowest one, whose cure need not be solved twice.
    soft = _softness_now(project, ledger, now_h, past if past is not None and slowest is zone else None)
    done = progress(method, project.acts, now_h, project.body)
    at = next_sanding(method, done.index)
    film = RubFilm(
        project=project, ledger=ledger, margin_K=lambda um: _told(soft.over_top_K(um + POLISHED_UM)),
        whole_K=_told(soft.least_K), warmed_K=_told(soft.warmed_K), texture_um=_texture(method, at), at_h=now_h,
        aim=aim_of(project, method, done.index), grades=() if at is None else method.stage[at].grades,
        mode="" if at is None else method.stage[at].mode,
    )  # fmt: skip
    first = rub_out(film, drawer, ask or Ask())
    taken = _sands(film, method, drawer, first)
    ahead = plan_forward(project, method, ledger, now_h, hours, taken, soft.found, ranges=whole, held=held)
    rub = first.on(*built(project, ledger, ahead, film.aim))
    ahead = as_borne(ahead, method, done.index, rub)
    line = line_ahead(project, ledger, ahead, now_h, zone.name, past) if whole else None
    return Outlook(
        project=project, method=method, now_h=now_h, hours=hours,
        known=FilmKnown(folded=folded, zones=_zones_now(project, ledger), progress=done),
        soft=soft, sands=taken, forward=ahead, rub_out=rub,
        view=ZoneView(zone=zone.name, past=past, timeline=timeline(past, line) if whole else None),
        held=held or {},
    )  # fmt: skip


def sinking(found: Outlook, times: float) -> Outlook:
    """The same where a finish was found to sink so many times as much as is reckoned."""
    if times == 1.0:
        return found
    windows = tuple(
        w if w.shrink_left_um is None else replace(w, shrink_left_um=times * w.shrink_left_um)
        for w in found.forward.windows
    )
    soft = replace(found.soft, sinks=times)
    return replace(found, soft=soft, forward=replace(found.forward, windows=windows))


def redated(found: Outlook, held: Held) -> Outlook:
    """The same instrument at the same moment with its work where another plan of the shop has it; counsel is left
    out."""
    ahead = plan_forward(
        found.project, found.method, found.ledger, found.now_h, found.hours, found.sands, found.soft.found, held=held
    )
    rub = found.rub_out.on(*built(found.project, found.ledger, ahead, found.rub_out.film.aim))
    ahead = as_borne(ahead, found.method, found.progress.index, rub)
    line = line_ahead(found.project, found.ledger, ahead, found.now_h, found.zone, found.past)
    view = replace(found.view, timeline=timeline(found.past, line))
    return sinking(replace(found, forward=ahead, rub_out=rub, view=view, counsel=None, held=held), found.soft.sinks)


def view_of(found: Outlook, zone_name: str) -> ZoneView:
    """Another zone's view of the same instrument at the same moment."""
    past = past_line(found.project, found.known.folded, found.now_h, zone_name)
    line = line_ahead(found.project, found.ledger, found.forward, found.now_h, zone_name, past)
    return ZoneView(zone=zone_name, past=past, timeline=timeline(past, line))


def built(project: Project, ledger: Ledger, ahead: Forward, aim: Aim) -> tuple[Project, Ledger]:
    """The instrument and the film a ladder will be climbed on: once the coats before it are laid."""
    sanded_h = next((s.at_h for s in ahead.sandings if s.purpose in SANDED), math.inf)
    scuffs = [s for s in ahead.sandings if s.purpose not in SANDED]
    laid: list[Act] = list(project.acts)
    coming: list[Coat | Sanding] = [*ahead.coats, *scuffs]
    for act in sorted(coming, key=lambda a: a.at_h):
        if act.at_h <= sanded_h or not aim.key:
            ledger = planned(project, ledger, act, laid)
            laid.append(act)
    return (project if len(laid) == len(project.acts) else structs.replace(project, acts=tuple(laid))), ledger


def _zones_now(project: Project, ledger: Ledger) -> tuple[ZoneNow, ...]:
    floor = project.instrument.min_film_um
    floors = {z.name: floor for z in project.zones} | {n: m.min_film_um for n, m in project.finishes.items()}
    return tuple(
        ZoneNow(
            name=z.name, label=z.label, kind=z.kind, area_cm2=z.area_cm2, film=ledger.film(z.name),
            below_floor=_thin(z, ledger, floors[z.name]), floor_um=floors[z.name] * z.floor,
        )
        for z in project.zones
    )  # fmt: skip


def _sands(film: RubFilm, method: Method, drawer: Drawer, first: RubOut) -> Sands:
    """What every sanding still to come will take: the ladder at hand, and the other one where the plan has both."""
    levels = [i for i, s in enumerate(method.stage) if s.kind in SANDED and not s.patch]
    keys = any(coats_after(method, i) is not None for i in levels)
    sheen_too = any(coats_after(method, i) is None for i in levels)
    key = sheen = None
    if keys:
        key = first
        if not film.aim.key:
            at = next(i for i in levels if coats_after(method, i) is not None)
            key = rub_out(_for_stage(film, method, at, aim_at(film.project, method, at)), drawer, first.ask)
    if sheen_too:
        plain = not film.aim.key and film.aim.left
        sheen = first
        if not plain:
            at = next(i for i in levels if coats_after(method, i) is None)
            sheen = rub_out(_for_stage(film, method, at, SHEEN), drawer, first.ask)
    rubs = any(method.stage[i].kind == "rub-out" for i in levels)
    last = any(method.stage[i].kind == "level" and coats_after(method, i) is None for i in levels)
    ladder, keyed = (None if found is None else found.ladder for found in (sheen, key))
    return sands(film.texture_um, ladder, keyed, last, rubs)


def _for_stage(film: RubFilm, method: Method, at: int, aim: Aim) -> RubFilm:
    """The same film as another sanding of the method will meet it."""
    stage = method.stage[at]
    return replace(film, aim=aim, texture_um=_texture(method, at), grades=stage.grades, mode=stage.mode)


def _texture(method: Method, at: int | None) -> float:
    return method.texture_um if at is None else texture_at(method, at)


def _thin(zone: Zone, ledger: Ledger, floor_um: float) -> float:
    """Odds that some place of a zone has less than it asks for: the rub-out's own question, nothing sanded."""
    return zone_odds(zone_left(zone, ledger), 0.0, 0.0, floor_um) if floor_um > 0 else 0.0


def _told(margin_K: float | None) -> float | None:
    """None where the film is so wet that it has no softening point yet."""
    return None if margin_K is None or math.isnan(margin_K) else margin_K


def _softness_now(project: Project, ledger: Ledger, now_h: float, solved: Line | None) -> Softness:
    zone = thickest(project, ledger)
    film = laid_film(project, zone, ledger, now_h)
    if film.left_um <= LEAST_LEFT_UM:
        return Softness(found=None, project=project)
    if solved is not None:
        return Softness(found=solved.found, project=project)
    return Softness(found=film.cure(Sampling(sample_h=(now_h,), until_h=now_h)), project=project)
