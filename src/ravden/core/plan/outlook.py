"""Everything the program shows of one instrument: its film through time on one zone, the windows, and the numbers."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.cure.evaporative import CureHistory, solve
from ravden.core.film.ledger import Ledger, ZoneFilm
from ravden.core.method.steps import Method, Progress, progress
from ravden.core.plan.forward import Forward, WindowRange, WorkHours, plan_forward
from ravden.core.plan.history import LEAST_LEFT_UM, Known, Memory, cure, film_events, known, scale_of, thickest
from ravden.core.plan.rubout import Drawer, RubOut, rub_out, split
from ravden.core.record import Act, Coat, Project, Sanding

Floats = NDArray[np.float64]

DEPTHS = 24  # shares of the film at which softness is told
AFTER_EVENT_H = (0.02, 0.3, 1.5, 5.0, 12.0, 26.0, 50.0, 100.0, 200.0)
LEAST_AHEAD_H = 24.0
POLISHED_UM = 3.0  # [A] film the finer rungs and compounds reach below the texture


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FilmTimeline:
    """One zone's film through time. hours (m,), film, dry, low and high [um] (m,), margin [K] (m, DEPTHS) from the
    wood up, nan where there is no film; low and high: 5-95 % as could be known at that moment, plan included."""

    hours: Floats
    film_um: Floats
    dry_um: Floats
    low_um: Floats
    high_um: Floats
    margin_K: Floats
    phi_mean: Floats

    def __post_init__(self) -> None:
        for name in self.__slots__:
            getattr(self, name).setflags(write=False)

    def index_at(self, at_h: float) -> int:
        """The sample at or just before an hour."""
        return int(np.clip(np.searchsorted(self.hours, at_h + 1e-9) - 1, 0, len(self.hours) - 1))


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneNow:
    """A zone's film now and the odds of going below its floor in the work ahead."""

    name: str
    label: str
    kind: str
    area_cm2: float
    film: ZoneFilm
    below_floor: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Outlook:
    """One instrument at one moment, seen on one zone."""

    project: Project
    method: Method
    now_h: float
    zone: str
    zones: tuple[ZoneNow, ...]
    ledger: Ledger
    timeline: FilmTimeline | None
    forward: Forward
    progress: Progress
    rub_out: RubOut
    margin_now_K: float | None
    shrink_left_um: float
    applicator: tuple[float, float]

    @property
    def windows(self) -> tuple[WindowRange, ...]:
        return self.forward.windows


def _sample_hours(events: Sequence[float], now_h: float, end_h: float) -> list[float]:
    start = min(events)
    marks = sorted({*events, now_h, end_h})
    out = set(marks)
    for a, b in itertools.pairwise(marks):
        out |= {a + d for d in AFTER_EVENT_H if a + d < b}
        if b - a > 200:
            out |= set(np.linspace(a + 200, b, 12).tolist())
    return sorted(h for h in out if h >= start)


def outlook(
    project: Project, method: Method, drawer: Drawer, now_h: float, hours: WorkHours, zone_name: str = "",
    texture_um: float | None = None, target: str | None = None, memory: Memory | None = None,
) -> Outlook:  # fmt: skip
    """Fold journal and method into what is shown. zone_name empty: the thickest zone; memory: as for known()."""
    history = known(project, now_h, memory)
    ledger = history[-1].ledger
    slowest = thickest(project, ledger)
    zone = project.zone(zone_name) if zone_name else slowest
    soft = _softness_now(project, ledger, now_h)
    texture, sheen = texture_um or method.texture_um, target or project.instrument.sheen

    cut = soft.over_top_K(texture + POLISHED_UM)
    first = rub_out(project, ledger, drawer, margin_K=cut, texture_um=texture, target=sheen)
    level_um, rubout_um = split(first.ladder, texture)
    ahead = plan_forward(project, method, ledger, now_h, hours, level_um, rubout_um, soft.found)
    # A ladder is climbed once the build is done, so it is judged on the film there will be then.
    built = ledger
    for coat in ahead.coats:
        built = built.coat(coat.dry_um)
    rub = first.on(project, built)
    floor = project.instrument.min_film_um
    zones = tuple(
        ZoneNow(
            name=z.name, label=z.label, kind=z.kind, area_cm2=z.area_cm2, film=ledger.film(z.name),
            below_floor=ledger.odds_below(z.name, floor),
        )
        for z in project.zones
    )  # fmt: skip
    return Outlook(
        project=project,
        method=method,
        now_h=now_h,
        zone=zone.name,
        zones=zones,
        ledger=ledger,
        timeline=_timeline(project, history, ahead, now_h, zone.name),
        forward=ahead,
        progress=progress(method, project.acts, now_h),
        rub_out=rub,
        margin_now_K=soft.least_K,
        shrink_left_um=soft.shrink_um,
        applicator=ledger.applicator(),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Softness:
    """The thickest zone at one moment: its cure, and the bench it is judged against."""

    found: CureHistory | None
    project: Project

    @property
    def least_K(self) -> float | None:
        """Least margin over the whole film [K]; None without film."""
        if self.found is None:
            return None
        return float(self.found.column("Tg_min_C")[0]) - self.project.instrument.bench_C

    @property
    def shrink_um(self) -> float:
        """Shrink still to come [um]."""
        if self.found is None:
            return 0.0
        return float(self.found.column("film_um")[0] - self.found.column("dry_um")[0])

    def over_top_K(self, depth_um: float) -> float | None:
        """Least margin over the depth about to be removed [K]."""
        if self.found is None:
            return None
        least = self.found.least_Tg_over_top_C(0, depth_um, self.project.material.cure)
        return least - self.project.instrument.bench_C


def _softness_now(project: Project, ledger: Ledger, now_h: float) -> _Softness:
    zone = thickest(project, ledger)
    laid, cuts = film_events(project, zone, scale_of(project, zone, ledger, now_h), now_h)
    if sum(c.dry_um for c in laid) - sum(s.um for s in cuts) <= LEAST_LEFT_UM:
        return _Softness(found=None, project=project)
    return _Softness(found=cure(project, laid, cuts, (now_h,), now_h), project=project)


def _timeline(
    project: Project, history: Sequence[Known], ahead: Forward, now_h: float, zone_name: str
) -> FilmTimeline | None:
    zone = project.zone(zone_name)
    ledger: Ledger = history[-1].ledger
    scale = scale_of(project, zone, ledger, now_h)
    laid, cuts = film_events(project, zone, scale, now_h)
    planned: list[Act] = sorted([*ahead.coats, *ahead.sandings], key=lambda a: a.at_h)
    states = [(k.at_h, k.ledger) for k in history]
    film = sum(c.dry_um for c in laid) - sum(s.um for s in cuts)
    for act in planned:
        if isinstance(act, Coat):
            laid.append(Coat(at_h=act.at_h, dry_um=act.dry_um * zone.k_mean * scale))
            film += act.dry_um * zone.k_mean * scale
            ledger = ledger.coat(act.dry_um)
        elif isinstance(act, Sanding):
            um = min(act.share(zone), film - 0.05)
            if um > 0:
                cuts.append(Sanding(at_h=act.at_h, um=um, purpose=act.purpose))
                film -= um
            ledger = ledger.sanding({z.name: act.share(z) for z in project.zones if act.share(z) > 0})
        states.append((act.at_h, ledger))
    if not laid:
        return None
    told = [k.at_h for k in history if k.act is not None and k.at_h >= laid[0].at_h]
    marks = [c.at_h for c in laid] + [s.at_h for s in cuts] + told
    likely = [w.likely_h for w in ahead.windows if w.likely_h is not None]
    end = max([now_h + LEAST_AHEAD_H, *marks, *likely]) + 24.0
    hours = _sample_hours([*marks, *[h for h in likely if h > now_h]], now_h, end)
    found = solve(project.material.cure, laid, sandings=cuts, air=project.air, sample_h=hours, until_h=end)
    at = np.array(hours)
    dry, wet = found.column("dry_um"), found.column("film_um")
    swell = np.where(dry > 0, wet / np.maximum(dry, 1e-9), 1.0)
    low, high = np.zeros(len(at)), np.zeros(len(at))
    for i, (start, state) in enumerate(states):
        # A sample at an event's own hour is taken before it, so the state holds from just after its hour on.
        stop = states[i + 1][0] if i + 1 < len(states) else np.inf
        inside = (at > start) & (at <= stop)
        if inside.any() and start > -1e8:
            q05, q95 = state.quantiles(zone_name, (0.05, 0.95))
            low[inside], high[inside] = q05 * swell[inside], q95 * swell[inside]
    softness = found.softness_C(DEPTHS, project.material.cure) - project.instrument.bench_C
    return FilmTimeline(
        hours=at, film_um=wet.copy(), dry_um=dry.copy(), low_um=low, high_um=high, margin_K=softness,
        phi_mean=found.column("phi_mean").copy(),
    )  # fmt: skip
