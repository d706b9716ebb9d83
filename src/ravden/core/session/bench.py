"""Sanding and rubbing out rung by rung and zone by zone: what is in the hand now, on what, how often over it, and when
to stop. Told by the journal and the ladder, so that a bench session goes on where it was."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from ravden.core.abrasive.climb import Step
from ravden.core.abrasive.ladder import most_um
from ravden.core.abrasive.sandthrough import safe_passes
from ravden.core.abrasive.scratch import Rung, per_pass_um, pieces_of_paper, rubbing_minutes
from ravden.core.abrasive.scuff import ScuffHabit, scuff
from ravden.core.abrasive.verdict import judged
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.fact import Fact, fact
from ravden.core.method.steps import SCUFF_UM
from ravden.core.record import Sanding, Zone
from ravden.core.rubout.rub_out import EDGES_WORKED_SHARE, RubOut, on_zones, zone_left

MOST_BEARING = 4.0  # [A] an edge is not reckoned to lose more than this against the flats
LEAST_SHARE = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchTurn:
    """One rung on one zone.

    um: film it is to take off the flats; strokes: times over every place that takes; most: times over after which the
    odds of thin film are no longer put up with; minutes: of rubbing; faces: of paper this zone uses up; rung, rungs and
    nth, zones: which of how many; every: all of them in their order, and done: those this rung has been over (names);
    kept_off: zones left alone; warning: why the film does not carry the ladder; measure: where to measure first, and
    why.
    """

    purpose: str
    rung: Rung
    um: float
    zone: Zone
    strokes: int
    most: int
    minutes: float
    faces: float
    nth_rung: int
    rungs: int
    nth: int
    zones: int
    look_for: Fact
    mode: str
    part: bool
    every: tuple[Zone, ...] = ()
    done: tuple[str, ...] = ()
    kept_off: tuple[str, ...] = ()
    warning: Fact | None = None
    after: str = ""
    measure: Fact | None = None

    @property
    def entry_um(self) -> float:
        """Film of the entry, which speaks of the flats [um]."""
        return zone_um(self.rung, self.um, self.zone)


def zone_um(rung: Rung, um: float, zone: Zone) -> float:
    """What an entry for one zone alone says was taken off the flats [um], so that the zone loses what it does."""
    if zone.kind != "edge":
        return um
    return um * min(rung.backing.bears_on(zone.kind), MOST_BEARING) / max(zone.sanding, LEAST_SHARE)


def worked_zones(found: Outlook, named: Sequence[str] = ()) -> tuple[Zone, ...]:
    """Zones that paper goes over: those named, in that order; else all in the instrument's own finish, and no edges."""
    if named:
        return tuple(found.project.zone(name) for name in named)
    return tuple(found.project.zone(name) for name in found.project.body)


def _all_of_it(found: Outlook, names: Collection[str]) -> bool:
    """Whether these are the whole job, so that the plan goes on once they are done."""
    return all(z.name in names for z in worked_zones(found))


def joined(rub: RubOut, rungs: Sequence[Rung], removes: Sequence[float]) -> frozenset[str]:
    """Zones (labels) whose film bears these rungs from the first on; the others wait for a finer one, or are left
    alone."""
    verdict = judged(rub.job, rungs, removes, max(r.backing.cv for r in rungs))
    return frozenset(name for name, k in verdict.joins.items() if k == 0)


def _kept_off(found: Outlook, rub: RubOut, every: Sequence[Zone], bears: Collection[str]) -> tuple[str, ...]:
    """Edges, until their film bears the rungs to come, and small zones that wait for a finer one."""
    waiting = _waiting(rub, bears)
    own = [z for z in found.project.zones if z.name not in found.project.bare and z not in every]
    return tuple(z.label for z in own if (z.label not in bears if z.kind == "edge" else z.label in waiting))


def _waiting(rub: RubOut, bears: Collection[str]) -> set[str]:
    """Labels of the zones in hand that do not bear the rungs to come."""
    return {z.name for z in rub.job.zones} - set(bears)


def ends_stage(rung: Rung, following: Sequence[Step]) -> bool:
    """Whether a rung is the last of the papers, or of all."""
    polish = rung.abrasive.kind == "polish"
    return not following or (not polish and following[0].rung.abrasive.kind == "polish")


def bench(found: Outlook, habit: ScuffHabit | None = None, zones: Sequence[str] = ()) -> BenchTurn:
    """What paper does now. habit: how this finish is scuffed between coats, where that is what is next; zones: only
    these, in this order.

    Raises InputError, with the reason, where nothing can be sanded: no ladder, or a film that is still too soft.
    """
    rub, project = found.rub_out, found.project
    every = worked_zones(found, zones)
    if not project.coats:
        raise InputError("", "there is no film to sand yet")
    if rub.at_cured and not rub.idle:
        raise InputError("", "the film is still too soft: paper would load, and the scratches close and open again")
    names = [z.name for z in every]
    if not _all_of_it(found, names):
        rub = on_zones(rub, names)
    if habit is not None:
        return _scuffing(found, rub, habit, every)
    steps = rub.ladder.steps if rub.ladder is not None else ()
    grades = list(dict.fromkeys(d.grade for d in rub.film.done))
    last = grades[-1] if grades else ""
    covered = {z for d in rub.film.done if d.grade == last for z in d.zones}
    begun = next((r for r in rub.drawer if last and last in (r.abrasive.id, r.abrasive.name)), None)
    following, rest = [s.rung for s in steps], [s.remove_um for s in steps]
    if begun is not None and covered:
        um = _taken(project.sandings, last)
        bears = joined(rub, [begun, *following], [um, *rest])
        now = _now(every, bears, zones)
        left = [z for z in now if z.name not in covered]
        if left and len(left) < len(now):
            return _turn(found, rub, begun, um, left[0], now, bears, nth_rung=len(grades), following=steps,
                         before=grades[:-1], done=tuple(z.name for z in now if z.name in covered))  # fmt: skip
    if not steps:
        raise InputError("", rub.refusal or fact("ladder-done"))
    bears = joined(rub, following, rest)
    now = _now(every, bears, zones)
    return _turn(
        found, rub, steps[0].rung, steps[0].remove_um, now[0], now, bears, nth_rung=len(grades) + 1,
        following=steps[1:], before=grades, look_for=steps[0].look_for,
    )  # fmt: skip


def _now(every: tuple[Zone, ...], bears: Collection[str], named: Sequence[str]) -> tuple[Zone, ...]:
    """The zones a rung goes over: those whose film bears it. Who named zones gets them."""
    return every if named else tuple(z for z in every if z.label in bears) or every


def _turn(
    found: Outlook, rub: RubOut, rung: Rung, um: float, zone: Zone, every: tuple[Zone, ...], bears: Collection[str],
    *, nth_rung: int, following: Sequence[Step], before: Sequence[str], look_for: Fact | None = None,
    done: tuple[str, ...] = (),
) -> BenchTurn:  # fmt: skip
    nth = every.index(zone) + 1
    name = rung.abrasive.name
    before_it = {z for d in found.rub_out.film.done if d.grade in (rung.abrasive.id, name) for z in d.zones}
    waiting = _waiting(rub, bears)
    after_it = {z.name for z in worked_zones(found) if z.label in waiting}
    last = ends_stage(rung, following) and _all_of_it(found, {*before_it, *after_it, zone.name})
    ladder = rub.ladder
    polish = rung.abrasive.kind == "polish"
    return BenchTurn(
        purpose="rub-out" if polish else "level", rung=rung, um=um, zone=zone, strokes=_strokes(rung, um, zone),
        most=_most(found, rub, rung, zone),
        minutes=rubbing_minutes(rung, um, zone.area_cm2, first=not before and rub.job.after is None),
        faces=pieces_of_paper(rung, um, zone.area_cm2) if rung.abrasive.coated else 0.0, nth_rung=nth_rung,
        rungs=nth_rung + len(following), nth=nth, zones=len(every), mode=rub.mode,
        look_for=look_for or fact("look-same"),
        part=not last, every=every, done=done,
        kept_off=_kept_off(found, rub, every, bears),
        warning=ladder.reason if ladder is not None and not ladder.film_ok else None,
        after=before[-1] if before else "",
        measure=ladder.reason if ladder is not None and zone.label in ladder.verdict.measure else None,
    )  # fmt: skip


def _scuffing(found: Outlook, rub: RubOut, habit: ScuffHabit, every: tuple[Zone, ...]) -> BenchTurn:
    """The scuff between coats, with the finest paper that still gives a key."""
    best = scuff(habit, rub.drawer, rub.job.area_cm2)[-1]
    coats = [c.at_h for c in found.project.coats if c.at_h <= found.now_h]
    since = max(coats, default=-1e18)
    done = {
        z
        for s in found.project.sandings
        if s.purpose == "scuff" and since < s.at_h <= found.now_h
        for z in (s.zones or [e.name for e in worked_zones(found)])
    }
    left = [z for z in every if z.name not in done]
    zone = left[0] if left else every[0]
    return BenchTurn(
        purpose="scuff", rung=best.rung, um=SCUFF_UM, zone=zone, strokes=_strokes(best.rung, SCUFF_UM, zone),
        most=_most(found, rub, best.rung, zone),
        minutes=rubbing_minutes(best.rung, SCUFF_UM, zone.area_cm2, first=True),
        faces=pieces_of_paper(best.rung, SCUFF_UM, zone.area_cm2), nth_rung=1, rungs=1, nth=every.index(zone) + 1,
        zones=len(every), mode=rub.mode, look_for=fact("look-scuff"),
        part=not _all_of_it(found, {*done, zone.name}), every=every,
        done=tuple(z.name for z in every if z.name in done),
        kept_off=_kept_off(found, rub, every, [z.label for z in every]),
    )  # fmt: skip


def _share(zone: Zone) -> float:
    return EDGES_WORKED_SHARE if zone.kind == "edge" else max(zone.sanding, LEAST_SHARE)


def _strokes(rung: Rung, um: float, zone: Zone) -> int:
    bears = rung.backing.bears_on(zone.kind) * _share(zone)
    return max(round(um / max(per_pass_um(rung) * bears, 1e-6)), 1)


def _most(found: Outlook, rub: RubOut, rung: Rung, zone: Zone) -> int:
    """Times over this zone that its film still bears, from the film there is now."""
    film = zone_left(zone, found.ledger, found.project)
    bears = rung.backing.bears_on(zone.kind) * _share(zone)
    return safe_passes(most_um(rub.job, film, rung.backing.cv), 0.0, per_pass_um(rung), bears)


def _taken(sandings: Sequence[Sanding], grade: str) -> float:
    """Film the rung under way was meant to take, as its last entry has it [um]."""
    return next(s.um for s in sorted(sandings, key=lambda s: -s.at_h) if s.grade == grade)
