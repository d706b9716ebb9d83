"""What the record of one instrument says of the shop's own figures: hands, texture, pace, and zones."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ravden.core.abrasive.hands import seen
from ravden.core.abrasive.scratch import COVERAGE, TEXTURE_SHARE, rubbing_minutes
from ravden.core.film.filter import Priors
from ravden.core.record import Project
from ravden.core.record.word import CUT, FASTEST, MINUTES, POLISHING, SCRATCH, SLOWEST, TEXTURE, ZONE, Word, key_of
from ravden.core.rubout.hands import Worked, worked_on
from ravden.core.rubout.rub_out import Drawer
from ravden.core.state.history import cured_share, film_events

TOLD_LN_SD = 0.20  # [A] a peak-to-valley as read at the bench: dial, comparison, or eye
ONE_TIME_LN_SD = 0.25  # [A] one instrument's texture, and one rung's minutes, against the next
TEXTURE_LIMITS = 1.3  # [A] times its own pit that a first rung has to take before its depth speaks of the texture
MOST_SANDED = 0.5  # of what was laid: beyond, a reading says more of the paper than of the coats
USUAL = Priors()


def words_on(
    project: Project,
    drawer: Drawer,
    method: str,
    textures_um: Sequence[float],
    moment: Callable[[float], datetime],
    way: str,
) -> tuple[Word, ...]:
    """Everything one instrument says, in the order it happened. method, textures_um: as it was planned, those of each
    of its rounds of coats, so that a later level speaks of the same figure; moment: when an hour of its own was; way:
    how its finish is laid. The drawer carries the built-in constants."""
    worked = worked_on(project, drawer)
    found: list[tuple[float, str, float, float]] = []
    for one in worked:
        found += _hands(one)
    found += [*_textures(project, worked, key_of(TEXTURE, method), textures_um), *_paces(project, worked)]
    found += _zones(project, key_of(ZONE, project.instrument.measures.family, way))
    found.sort(key=lambda f: f[0])
    item = project.instrument.id
    return tuple(Word(key=key, ln=ln, sd=sd, at=moment(at_h), of=item) for at_h, key, ln, sd in found)


Found = tuple[float, str, float, float]


def _hands(one: Worked) -> Iterator[Found]:
    said = seen(one.timed, one.shone)
    for ln, sd in said.cut:
        yield one.sanding.at_h, CUT, ln, sd
    for ln, sd in said.scratch:
        yield one.sanding.at_h, SCRATCH, ln, sd


def _textures(project: Project, worked: tuple[Worked, ...], key: str, textures_um: Sequence[float]) -> Iterator[Found]:
    """Of every levelling one: as it was told, else from how much its first rung took where nothing was left to level
    below the texture, against what that round of coats was planned to have."""
    of = {w.sanding: w for w in worked}
    coats = [c.at_h for c in project.coats if not c.spot]
    levels = sorted((s for s in project.sandings if s.purpose == "level" and not s.spot), key=lambda s: s.at_h)
    since: set[float] = set()
    for sanding in levels:
        began = max((h for h in coats if h <= sanding.at_h), default=-math.inf)
        if began in since:
            continue
        texture_um = textures_um[min(len(since), len(textures_um) - 1)]
        if sanding.texture_um > 0:
            since.add(began)
            yield sanding.at_h, key, math.log(sanding.texture_um / texture_um), math.hypot(TOLD_LN_SD, ONE_TIME_LN_SD)
            continue
        since.add(began)
        flats = [z.name for z in project.zones if z.kind == "flat" and z.sanding >= 1.0]
        told = [
            (r.before_um - r.after_um, math.sqrt(2.0) * r.sd_um, of[sanding].rung)
            for zone, r in (of[sanding].rubbed if sanding in of else ())
            if zone in flats
        ]
        deep = [t for t in told if t[0] > TEXTURE_LIMITS * COVERAGE * t[2].pit_um]
        if deep:
            gone = sum(t[0] for t in deep) / len(deep)
            error = math.sqrt(sum(t[1] ** 2 for t in deep)) / len(deep) / gone
            peak = gone / (COVERAGE * TEXTURE_SHARE)
            yield sanding.at_h, key, math.log(peak / texture_um), math.hypot(error, ONE_TIME_LN_SD)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pace:
    """What a grade took on a day [min], and what the built-in rate says it takes; key: of the figure it speaks of;
    first: the number of its first entry, at_h: the hour of its last."""

    at_h: float
    first: int
    key: str
    grade: str
    took: float
    expected: float


def paces(project: Project, worked: tuple[Worked, ...]) -> tuple[Pace, ...]:
    """Of every grade on every day one, over the zones somebody timed."""
    days: dict[tuple[str, int], list[Pace]] = {}
    for one in worked:
        act, abrasive = one.sanding, one.rung.abrasive
        area = sum(z.area_cm2 for z in project.zones if z.kind != "edge" and act.share(z) > 0)
        if act.minutes <= 0 or area <= 0 or act.spot:
            continue
        expected = rubbing_minutes(one.rung, act.um, area, first=one.first)
        if FASTEST * expected <= act.minutes <= SLOWEST * expected:
            key = key_of(MINUTES if abrasive.coated else POLISHING, abrasive.id)
            told = Pace(at_h=act.at_h, first=act.id, key=key, grade=abrasive.name, took=act.minutes, expected=expected)
            days.setdefault((key, int(act.at_h // 24)), []).append(told)
    return tuple(
        replace(told[0], at_h=max(t.at_h for t in told), took=sum(t.took for t in told),
                expected=sum(t.expected for t in told))
        for told in days.values()
    )  # fmt: skip


def _paces(project: Project, worked: tuple[Worked, ...]) -> Iterator[Found]:
    for pace in paces(project, worked):
        yield pace.at_h, pace.key, math.log(pace.took / pace.expected), ONE_TIME_LN_SD


def _zones(project: Project, key: str) -> Iterator[Found]:
    """Of every zone one: its first gauge reading of a film that was mostly laid and little sanded, against what the
    built-in factors say was laid there."""
    seen_zones: set[str] = set()
    if any(c.count_odds or c.finish for c in project.coats) or any(s.bared for s in project.sandings):
        return  # nobody knows what was laid, or it is gone
    taken = math.hypot(USUAL.sanding_shared, USUAL.sanding_each)
    for read in sorted((r for r in project.readings if r.what == "gauge"), key=lambda r: r.at_h):
        zone = next((z for z in project.zones if z.name == read.zone), None)
        if zone is None or zone.name in seen_zones or zone.name in project.finishes:
            continue
        laid, cuts = film_events(project, zone, 1.0, read.at_h)
        um, gone = sum(c.dry_um for c in laid), sum(s.um for s in cuts)
        if um <= 0 or gone > MOST_SANDED * um:
            continue
        seen_zones.add(zone.name)
        dry = read.um * cured_share(project, read, zone.name)
        film = max(dry + gone, 0.1)
        noise = math.sqrt((USUAL.gauge_um**2 + (USUAL.spot * dry) ** 2) / read.n + (taken * gone) ** 2) / film
        coats = math.hypot(USUAL.coat_common, USUAL.coat_zone) / math.sqrt(len(laid))
        yield read.at_h, key_of(key, zone.name), math.log(film / um), math.hypot(noise, coats)
