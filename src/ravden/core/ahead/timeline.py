"""One zone's film through time: the past solved once, and what is planned going on from it."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.ahead.dated import Forward
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.evaporative import ROUGH_TOLERANCE
from ravden.core.cure.film import History, goes_on, harden
from ravden.core.errors import TINY
from ravden.core.film.ledger import Ledger
from ravden.core.film.then import FilmThen
from ravden.core.record import Coat, Exposure, Project, Sanding
from ravden.core.state.history import LEAST_LEFT_UM, Folded, absorbed_of, film_events, planned
from ravden.core.state.laid_film import laid_film

Floats = NDArray[np.float64]

DEPTHS = 24  # shares of the film at which softness is told
AFTER_EVENT_H = (0.02, 0.3, 1.5, 5.0, 12.0, 26.0, 50.0, 100.0, 200.0)
LEAST_AHEAD_H = 24.0


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


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Line:
    """A stretch of the timeline: the cure as solved, sampled at hours, with the interval there [um]; scale: how much
    thicker than nominal this zone's coats are taken to be [-]; end: the ledger at its end."""

    found: History
    hours: Floats
    low_um: Floats
    high_um: Floats
    margin_K: Floats
    scale: float
    end: Ledger


def past_line(project: Project, folded: Folded, now_h: float, zone_name: str) -> Line | None:
    """What happened to a zone; None where nothing has been laid on it."""
    zone = project.zone(zone_name)
    film = laid_film(project, zone, folded.ledger, now_h)
    laid, cuts, scale = film.laid, film.cuts, film.scale
    if not laid:
        return None
    marks = [c.at_h for c in laid] + [s.at_h for s in cuts]
    marks += [k.at_h for k in folded.history if k.act is not None and k.at_h >= laid[0].at_h]
    marks += [e.at_h for e in project.light_on(zone_name) if laid[0].at_h <= e.at_h <= now_h]
    states = [(k.at_h, k.film) for k in folded.history]
    hours = _sample_hours(marks, now_h)
    return _solved(project, zone_name, laid, cuts, states, folded.ledger, hours, now_h, scale, None)


def line_ahead(
    project: Project, ledger: Ledger, ahead: Forward, now_h: float, zone_name: str, past: Line | None,
    rough: bool = False,
) -> Line | None:  # fmt: skip
    """What is planned for a zone from now on; None where there is no film and none is meant. rough: for a drag."""
    zone = project.zone(zone_name)
    lays = ledger.lays(zone_name)
    scale = past.scale if past is not None else lays
    film = 0.0 if past is None else float(past.found.end_state[1])
    laid: list[Coat] = []
    cuts: list[Sanding] = []
    states = [(now_h - 1e-6, ledger.then)]
    acts: list[Coat | Sanding] = [*ahead.coats, *ahead.sandings]
    before, absorbs = list(project.acts), list(absorbed_of(project, zone, now_h))
    for act in sorted(acts, key=lambda a: a.at_h):
        um = act.share(zone) * (lays if isinstance(act, Coat) else 1.0)
        if isinstance(act, Coat) and um > 0:
            um = max(um - (absorbs.pop(0) if absorbs else 0.0), LEAST_LEFT_UM)
            laid.append(Coat(at_h=act.at_h, dry_um=um, finish=act.finish))
            film += um
        elif isinstance(act, Sanding) and (um := min(um, film - LEAST_LEFT_UM)) > TINY:
            cuts.append(Sanding(at_h=act.at_h, um=um, purpose=act.purpose))
            film -= um
        ledger = planned(project, ledger, act, before)
        before.append(act)
        states.append((act.at_h, ledger.then))
    if past is None and not laid:
        return None
    likely = [w.likely_h for w in ahead.windows if w.likely_h is not None and w.likely_h > now_h]
    marks = [c.at_h for c in laid] + [s.at_h for s in cuts] + likely
    start = now_h if past is not None else laid[0].at_h
    end = max([now_h + LEAST_AHEAD_H, *marks]) + 24.0
    hours = [h for h in _sample_hours([start, *marks], end) if past is None or h > now_h]
    return _solved(project, zone_name, laid, cuts, states, ledger, hours, end, scale, past, rough, ahead.light)


def timeline(past: Line | None, ahead: Line | None) -> FilmTimeline | None:
    """Both stretches as one; None: bare wood, and to stay so."""
    lines = [line for line in (past, ahead) if line is not None]
    if not lines:
        return None

    def column(name: str) -> Floats:
        return np.concatenate([line.found.column(name) for line in lines])

    return FilmTimeline(
        hours=np.concatenate([line.hours for line in lines]),
        film_um=column("film_um"),
        dry_um=column("dry_um"),
        low_um=np.concatenate([line.low_um for line in lines]),
        high_um=np.concatenate([line.high_um for line in lines]),
        margin_K=np.concatenate([line.margin_K for line in lines]),
        phi_mean=column("phi_mean"),
    )


def _solved(
    project: Project, zone_name: str, laid: Sequence[Coat], cuts: Sequence[Sanding],
    states: Sequence[tuple[float, FilmThen]], end: Ledger, hours: Sequence[float], end_h: float, scale: float,
    past: Line | None, rough: bool = False, light: Sequence[Exposure] = (),
) -> Line:  # fmt: skip
    start = -np.inf if past is None else float(past.found.end_state[0])
    models = project.models(zone_name)
    if past is not None and not goes_on(models, laid, past.found):
        # Another finish goes over it than the one it was solved in: the stack is solved from the first coat.
        zone = project.zone(zone_name)
        before, gone = film_events(project, zone, scale, float(past.found.end_state[0]))
        laid, cuts, past, start = [*before, *laid], [*gone, *cuts], None, -np.inf
    found = harden(
        models,
        laid,
        sandings=cuts,
        after=None if past is None else past.found,
        under=Conditions(
            air=project.dries_in,
            rate_factor=project.rate,
            exposures=[e for e in (*project.light_on(zone_name), *light) if start < e.at_h <= end_h],
        ),
        sampling=Sampling(sample_h=hours, until_h=end_h, tolerance=ROUGH_TOLERANCE if rough else None),
    )
    at = np.array(hours)
    dry, wet = found.column("dry_um"), found.column("film_um")
    swell = np.where(dry > 0, wet / np.maximum(dry, 1e-9), 1.0)
    low, high = np.zeros(len(at)), np.zeros(len(at))
    FilmThen.fill_quantiles([state for start, state in states if start > -1e8], zone_name, (0.05, 0.95))
    for i, (start, state) in enumerate(states):
        # A sample at an event's own hour is taken before it, so the state holds from just after its hour on.
        stop = states[i + 1][0] if i + 1 < len(states) else np.inf
        inside = (at > start) & (at <= stop)
        if inside.any() and start > -1e8:
            q05, q95 = state.quantiles(zone_name, (0.05, 0.95))
            low[inside], high[inside] = q05 * swell[inside], q95 * swell[inside]
    softness = found.softness_C(DEPTHS) - project.instrument.judged_C
    return Line(
        found=found, hours=at, low_um=low, high_um=high, margin_K=softness, scale=scale, end=end
    )  # fmt: skip


def _sample_hours(events: Sequence[float], end_h: float) -> list[float]:
    """Hours at which the film is drawn: dense after each event, from the first event to the end."""
    marks = sorted({*events, end_h})
    out = set(marks)
    for a, b in itertools.pairwise(marks):
        out |= {a + d for d in AFTER_EVENT_H if a + d < b}
        if b - a > 200:
            out |= set(np.linspace(a + 200, b, 12).tolist())
    return sorted(out)
