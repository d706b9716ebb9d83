"""What the film as it is may be used for, and when: every window with its range, its reason, and what would help.

The plan's own coats are left out: this is about what hands may do with what is there.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from msgspec import structs

from ravden.core.ahead.coming import P90_Z, air_spread
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import HORIZON_H
from ravden.core.climate.air import evaporation_factor
from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.before import windows_before
from ravden.core.cure.film import History, harden
from ravden.core.cure.light import HARD_DOSE
from ravden.core.cure.models import LightCure, Oxidation
from ravden.core.cure.windows import Windows, cut_hours, windows
from ravden.core.record import Air, Coat, CureModel, Exposure, Project, Sanding, Zone
from ravden.core.rubout.aim import SANDED
from ravden.core.state.history import air_at
from ravden.core.state.laid_film import laid_film

NAMES = ("next_coat", "scuff", "level", "buff", "case")
WARMER_K, FAN, THINNER, SPREAD = 5.0, 3.0, 0.8, 24.0
SESSION_GAP_H = 8.0  # coats closer than this were one session
DRAWS = 64  # points a range is told from
GOLDEN = (math.sqrt(5.0) - 1.0) / 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Wait:
    """One window: likely hour, 10 and 90 % hours; None: not within sight."""

    name: str
    likely_h: float | None
    early_h: float | None
    late_h: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Lever:
    """What would bring the next window forward, and by how many hours."""

    what: str
    window: str
    gained_h: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Why:
    """The softest place now: depth below the surface [um] of a film so thick [um], solvent or uncured share there [-],
    margin over the bench [K]; the session that put on most, in um and hours, beginning at an hour."""

    depth_um: float
    film_um: float
    share: float
    margin_K: float
    session_um: float
    session_h: float
    session_at_h: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Rushed:
    """A coat that went on so long after the last [h], which wanted so long [h]; coat: its number."""

    coat: int
    after_h: float
    wanted_h: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Now:
    """How the film stands now: least margin, that of the top and of what a wheel warms, over the bench [K], mean
    solvent [-], shrink still to come as a share of the film [-], and the degree of cure of the top of a reacting film
    [-]."""

    least_K: float
    top_K: float
    warmed_K: float
    solvent: float
    shrink: float
    cured: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Waits:
    """Every window of one zone's film, and why; recoat_until_h: last moment for a coat without a scuff; still_wet:
    coats whose water has not left; underlit: zones that light has not cured to the wood; flash_s: between passes now
    [s]; session_h: when the plan lays the next coat, full: because this session has all its coats; hindered: what of
    the air now keeps the film from drying, and that air; slower: how much longer the last coat takes than the first
    [-]; unlit: there is a coat light has not reached; unknown_h: hours since the first coat of which nobody knows the
    air; draws: how many samples the ranges are from; before: hours as they were reckoned once, where that was
    asked."""

    zone: str
    waits: tuple[Wait, ...]
    recoat_until_h: float | None
    why: Why | None
    levers: tuple[Lever, ...]
    still_wet: int
    underlit: tuple[str, ...]
    rushed: Rushed | None
    recoat_range_h: tuple[float, float] | None
    flash_s: float
    flash_range_s: tuple[float, float]
    now: Now | None
    session_h: float | None
    full: bool
    hindered: tuple[str, Air] | None
    slower: float
    unlit: bool
    unknown_h: float
    draws: int
    before: Mapping[str, float | None] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Film:
    """A zone's coats and cuts in its own um."""

    project: Project
    zone: str
    laid: tuple[Coat, ...]
    cuts: tuple[Sanding, ...]
    light: tuple[Exposure, ...]
    end_h: float
    cut_um: float | None = None  # of the level that coats follow, where one is next
    then: Mapping[str, CureModel] | None = None  # how finishes were reckoned to harden before

    def solve(
        self, *, rate: float = 1.0, thick: float = 1.0, rough: bool = True, air: tuple[Air, ...] | None = None,
        airflow: float = 1.0, laid: tuple[Coat, ...] | None = None, sample_h: tuple[float, ...] = (),
    ) -> History:  # fmt: skip
        coats = [structs.replace(c, dry_um=c.dry_um * thick) for c in (laid or self.laid)]
        cuts = [structs.replace(s, um=s.um * thick) for s in self.cuts]
        if self.cut_um is not None and not sample_h:
            sample_h = tuple(cut_hours(coats[-1].at_h, self.end_h).tolist())
        return harden(
            self.then or self.project.models(self.zone),
            coats,
            sandings=cuts,
            under=Conditions(
                air=air or self.project.dries_in,
                exposures=self.light,
                airflow=airflow,
                rate_factor=rate * self.project.rate,
            ),
            sampling=Sampling(sample_h=sample_h, until_h=self.end_h, rough=rough),
        )

    def windows(self, found: History) -> Windows:
        return windows(found, self.project.instrument.judged_C, self.cut_um)


def _film(found: Outlook) -> _Film | None:
    project, zone = found.project, found.project.zone(found.zone)
    film = laid_film(project, zone, found.ledger, found.now_h)
    if not film.laid:
        return None
    return _Film(
        project=project, zone=zone.name, laid=film.laid, cuts=film.cuts,
        light=tuple(e for e in project.light_on(zone.name) if e.at_h <= found.now_h),
        end_h=max(found.now_h, film.laid[-1].at_h) + HORIZON_H, cut_um=_cut(found, zone),
    )  # fmt: skip


def _cut(found: Outlook, zone: Zone) -> float | None:
    """What the next level takes off this zone, where coats follow it [um]."""
    if not found.rub_out.film.aim.key:
        return None
    at = next(i for i in range(found.progress.index, len(found.method.stage)) if found.method.stage[i].kind in SANDED)
    return (found.method.stage[at].um or found.sands.key_um) * max(zone.sanding, 0.1)


def waits(found: Outlook, draws: int = 0, seed: int = 1) -> Waits | None:
    """The windows of the zone looked at; None without film. draws 0: ranges from a fast and a slow film at once, as a
    first answer; otherwise from so many samples of the material's rate and of the film."""
    film = _film(found)
    if film is None:
        return None
    likely = film.windows(film.solve(rough=False))
    rate, spread = _spreads(found)
    air = air_spread(found.project, (likely.case_h or found.now_h) - found.now_h)
    if draws:
        drawn = _drawn(film, math.hypot(rate, air), spread, draws, seed)
    else:
        total = math.hypot(rate, 2 * spread, air)
        drawn = [film.windows(film.solve(rate=math.exp(z * total))) for z in (P90_Z, -P90_Z)]
    base = film.windows(film.solve())
    out = []
    for name in NAMES:
        at_h = likely.at(name)
        if at_h is not None and at_h > found.now_h and _hindered(found, film, at_h) is not None:
            at_h = None  # as the plan has it: what dries in such air is no sound film
        early, late = _range(at_h, base.at(name), [w.at(name) for w in drawn], draws, film.laid[-1].at_h)
        out.append(Wait(name=name, likely_h=at_h, early_h=early, late_h=late))
    now = film.solve(rough=False, sample_h=(found.now_h,))
    flash_s = found.project.material.flash_s / evaporation_factor(_air(found)) * _AT_20
    return Waits(
        zone=found.zone, waits=tuple(out), recoat_until_h=likely.recoat_until_h, why=_why(found, film, now),
        levers=_levers(found, film, base), still_wet=_still_wet(found, film), underlit=_underlit(found),
        rushed=_rushed(film, now), recoat_range_h=_recoat_range(drawn), flash_s=flash_s,
        flash_range_s=(flash_s * math.exp(-P90_Z * rate), flash_s * math.exp(P90_Z * rate)), now=_now(found, now),
        session_h=_session(found), full=_full(found), hindered=_hindered(found, film, found.now_h),
        slower=_slower(film), unlit=_unlit(found, film), unknown_h=_unknown(found, film),
        draws=draws,
    )  # fmt: skip


def before(found: Outlook, models: Mapping[str, CureModel]) -> dict[str, float | None]:
    """The windows of the zone looked at as they were reckoned before; models: of then, by the finish of a coat, for
    those that have changed since."""
    film = _film(found)
    if film is None:
        return {}
    then = replace(film, then={**film.project.models(film.zone), **models})
    return windows_before(then.solve(), found.project.instrument.bench_C)


def _spreads(found: Outlook) -> tuple[float, float]:
    """ln sd of the rate, and relative sd of the film's thickness."""
    film = found.ledger.film(found.zone)
    spread = film.sd_um / film.mean_um if film.mean_um > 1 else 0.25
    return found.project.rate_ln[1], min(spread, 0.5)


def _drawn(film: _Film, rate: float, spread: float, draws: int, seed: int) -> list[Windows]:
    """The windows of films as fast and as thick as may be: points spread evenly over both, which tell a range as well
    as three times as many at random (benchmarks/waits.py). Equal parts of the one, steps of the golden ratio in the
    other [S] (a rank-1 lattice; Korobov 1959); seed: which of its shifts."""
    from scipy.special import ndtri

    n, s = np.arange(draws), math.sqrt(math.log1p(spread**2))
    fast, heavy = ndtri((n + 0.5) / draws), ndtri((0.5 + (n + seed) * GOLDEN) % 1.0)
    rates, thick = np.exp(rate * fast), np.exp(s * heavy - 0.5 * s * s)
    return [film.windows(film.solve(rate=float(r), thick=float(h))) for r, h in zip(rates, thick, strict=True)]


def _range(
    likely_h: float | None, base_h: float | None, ends: list[float | None], draws: int, last_coat_h: float
) -> tuple[float | None, float | None]:
    """10 and 90 % hours: the likely wait stretched as the quick solutions stretch their own middle one."""
    if likely_h is None:
        return None, None
    if base_h is None or base_h <= last_coat_h or likely_h <= last_coat_h:
        return likely_h, likely_h
    share = [math.inf if h is None else (h - last_coat_h) / (base_h - last_coat_h) for h in ends]
    low, high = (share[0], share[1]) if not draws else tuple(float(q) for q in _quantiles(share, (0.1, 0.9)))
    wait = likely_h - last_coat_h
    early = last_coat_h + wait * low
    return early, None if math.isinf(high) else last_coat_h + wait * high


def _quantiles(values: list[float], odds: tuple[float, float]) -> list[float]:
    """By order, so that a window out of sight in some samples still leaves the others their say."""
    ranked = sorted(values)
    return [ranked[min(int(p * len(ranked)), len(ranked) - 1)] for p in odds]


def _why(found: Outlook, film: _Film, now: History) -> Why | None:
    row = now.samples[-1]
    if row[1] <= 0:
        return None
    depth, share = now.softest(len(now.samples) - 1)
    um, hours, start = _heaviest(film.laid)
    return Why(
        depth_um=depth, film_um=float(row[2]), share=share,
        margin_K=float(row[5]) - found.project.instrument.judged_C, session_um=um, session_h=hours, session_at_h=start,
    )  # fmt: skip


def _now(found: Outlook, now: History) -> Now | None:
    row, bench = now.samples[-1], found.project.instrument.judged_C
    if row[1] <= 0:
        return None
    return Now(
        least_K=float(row[5]) - bench, top_K=float(row[6]) - bench, warmed_K=float(row[10]) - bench,
        solvent=float(row[3]),
        shrink=float(1.0 - row[1] / row[2]), cured=float(row[8]),
    )  # fmt: skip


def _recoat_range(drawn: list[Windows]) -> tuple[float, float] | None:
    """10 and 90 % hours of the last moment without a scuff, where it has one."""
    hours = [w.recoat_until_h for w in drawn if w.recoat_until_h is not None]
    if not hours:
        return None
    low, high = _quantiles(hours, (0.1, 0.9))
    return low, high


def _heaviest(laid: tuple[Coat, ...]) -> tuple[float, float, float]:
    """The session that put on most: its film [um], how long it took [h], and when it began [h]."""
    sessions: list[list[Coat]] = []
    for coat in laid:
        if sessions and coat.at_h - sessions[-1][-1].at_h < SESSION_GAP_H:
            sessions[-1].append(coat)
        else:
            sessions.append([coat])
    # Later ones count for more where two put on as much: they have had less time.
    most = max(reversed(sessions), key=lambda run: sum(c.dry_um for c in run))
    return sum(c.dry_um for c in most), most[-1].at_h - most[0].at_h, most[0].at_h


def _levers(found: Outlook, film: _Film, base: Windows) -> tuple[Lever, ...]:
    """What would have brought, or still brings, the next window forward: each worked out, not looked up."""
    name = next((n for n in ("scuff", "level", "buff", "case") if (base.at(n) or math.inf) > found.now_h), None)
    at = None if name is None else base.at(name)
    if name is None or at is None:
        return ()
    air = air_at(found.project, found.now_h)
    past = tuple(a for a in found.project.air if a.at_h < found.now_h)
    # Every hour to come so much warmer, as heating would have it: nights stay colder than days.
    coming = (structs.replace(air, at_h=found.now_h), *(a for a in found.project.air if a.at_h > found.now_h))
    warm = (*past, *(structs.replace(a, temp_C=max(a.temp_C, min(a.temp_C + WARMER_K, 45.0))) for a in coming))
    tries: dict[str, Callable[[], History]] = {
        "warmer": lambda: film.solve(air=warm), "fan": lambda: film.solve(airflow=FAN),
        "thinner": lambda: film.solve(thick=THINNER), "spread": lambda: film.solve(laid=_spread(film.laid)),
    }  # fmt: skip
    out = []
    for what, work in tries.items():
        # A film spread over more days ends later; only the wait after its last coat is compared.
        then = film.windows(work()).at(name)
        late = _spread(film.laid)[-1].at_h - film.laid[-1].at_h if what == "spread" else 0.0
        if then is not None and at - (then - late) > 1.0:
            out.append(Lever(what=what, window=name, gained_h=at - (then - late)))
    return tuple(sorted(out, key=lambda x: -x.gained_h))


def _spread(laid: tuple[Coat, ...]) -> tuple[Coat, ...]:
    """The same coats, one a day."""
    out, at = [], -math.inf
    for coat in laid:
        at = max(coat.at_h, at + SPREAD)
        out.append(structs.replace(coat, at_h=at))
    return tuple(out)


_AT_20 = evaporation_factor(20.0)


def _air(found: Outlook) -> float:
    return air_at(found.project, found.now_h).temp_C


def _session(found: Outlook) -> float | None:
    """When the plan lays the next coat of the body, where nothing but the film and the hours stand before it; None:
    something else comes first, or none is left."""
    stages, at = found.method.stage, found.progress.index
    if found.progress.last_coat_h is None or at >= len(stages) or stages[at].kind != "coats":
        return None
    return next((c.at_h for c in found.forward.coats if c.zones is None), None)


def _full(found: Outlook) -> bool:
    """Whether the session has all the coats that are usual in one."""
    stages, at = found.method.stage, found.progress.index
    return at < len(stages) and stages[at].kind == "coats" and found.progress.in_session >= stages[at].per_session


def _hindered(found: Outlook, film: _Film, at_h: float) -> tuple[str, Air] | None:
    """What of the air at an hour keeps the finish on top from drying to a sound film, and that air."""
    project, finish = found.project, film.laid[-1].finish
    air = air_at(project, at_h)
    material = project.layers.get(finish) or project.finishes.get(film.zone) or project.material
    what = material.hindered(air.temp_C, air.rh)
    return (what, air) if what else None


def _slower(film: _Film) -> float:
    """A coat of an oil that the wood no longer absorbs is thicker, and takes longer with the square of its own film."""
    model = film.project.models(film.zone)[film.laid[-1].finish]
    if not isinstance(model, Oxidation):
        return 1.0
    own_um = model.coat_um or model.thick_um
    first, last = (1 + (c.dry_um / own_um) ** 2 for c in (film.laid[0], film.laid[-1]))
    return last / first


def _unlit(found: Outlook, film: _Film) -> bool:
    model = film.project.models(film.zone)[film.laid[-1].finish]
    return isinstance(model, LightCure) and not any(e.at_h > film.laid[-1].at_h for e in film.light)


def _unknown(found: Outlook, film: _Film) -> float:
    start = film.laid[0].at_h
    spans = ((max(a, start), min(b, found.now_h)) for a, b in found.project.air_gaps)
    return sum(max(b - a, 0.0) for a, b in spans)


def _still_wet(found: Outlook, film: _Film) -> int:
    part = found.past.found if found.past is not None else None
    return len(getattr(part, "wet", ())) if part is not None else 0


def _rushed(film: _Film, now: History) -> Rushed | None:
    """The last coat that went on too soon, and how long the one under it wanted."""
    found = getattr(now, "buried", ())
    if not found:
        return None
    under = found[-1].coat
    laid, over = film.laid[under], film.laid[under + 1]
    ready = film.windows(film.solve(laid=film.laid[: under + 1])).next_coat_h
    return Rushed(coat=under + 2, after_h=over.at_h - laid.at_h, wanted_h=None if ready is None else ready - laid.at_h)


def _underlit(found: Outlook) -> tuple[str, ...]:
    """Zones of a light-cured finish that have had too little light to harden down to the wood."""
    from ravden.core.cure.layered import cure_depth_um

    out = []
    for zone in found.project.zones:
        model = found.project.finish(zone.name).cure
        film = found.ledger.mean_um(zone.name)
        if isinstance(model, LightCure) and film > 0:
            dose = sum(e.dose_mJ_cm2 for e in found.project.light_on(zone.name) if e.at_h <= found.now_h)
            if cure_depth_um(model, dose / HARD_DOSE) < film:
                out.append(zone.label)
    return tuple(out)
