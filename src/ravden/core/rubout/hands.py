"""What the journal teaches of the user's own hands: rungs with readings before and after them."""

from collections.abc import Iterable
from dataclasses import dataclass

from ravden.core.abrasive.gloss import roughness_of_gloss
from ravden.core.abrasive.hands import Hands, Rubbed, Seen, Shone, believe, seen
from ravden.core.abrasive.scratch import SOFTEST_K, Rung, hardness_from_margin_MPa
from ravden.core.cure.asked import Sampling
from ravden.core.errors import InputError
from ravden.core.record import Coat, Project, Sanding
from ravden.core.rubout.rub_out import Drawer
from ravden.core.state.history import LEAST_LEFT_UM, cure, film_events

GAUGE_SD_UM = 3.0  # [A] one touch against the next, as in the film ledger; its gain error is in both readings


def hands_of(projects: Iterable[Project], drawer: Drawer) -> Hands:
    """Removal and scratch as found on these instruments; the drawer carries the built-in constants."""
    return believe(seen_on(project, drawer) for project in projects)


def seen_on(project: Project, drawer: Drawer) -> Seen:
    """What the readings on one instrument say of the hands."""
    found = worked_on(project, drawer)
    return seen([r for w in found for r in w.timed], [s for w in found for s in w.shone])


@dataclass(frozen=True, slots=True, kw_only=True)
class Worked:
    """A rung as it was worked: what was logged, the paper in the hand, and what readings before and after it say, by
    zone; first: no other rung had been at the film since its last coat."""

    sanding: Sanding
    rung: Rung
    first: bool
    rubbed: tuple[tuple[str, Rubbed], ...]
    shone: tuple[Shone, ...]

    @property
    def timed(self) -> tuple[Rubbed, ...]:
        """Those of which somebody looked how long the paper was on them."""
        return tuple(r for _, r in self.rubbed if r.minutes > 0)


def worked_on(project: Project, drawer: Drawer) -> tuple[Worked, ...]:
    """Every rung that was logged on an instrument with a grade that is known."""
    out = []
    for sanding in project.sandings:
        rung = _rung(project, sanding, drawer)
        if rung is None:
            continue
        zones = sanding.zones or tuple(z.name for z in project.zones)
        zones = zones if rung.abrasive.ra_um is None else ()  # a compound's own scratch is known
        begins = _first(project, sanding)
        pairs = [(zone, _rubbed(project, sanding, rung, zone, first=begins)) for zone in zones]
        shone = tuple(s for zone in zones for s in _shone(project, sanding, rung, zone))
        rubbed = tuple((zone, r) for zone, r in pairs if r is not None)
        out.append(Worked(sanding=sanding, rung=rung, first=begins, rubbed=rubbed, shone=shone))
    return tuple(out)


def _rung(project: Project, sanding: Sanding, drawer: Drawer) -> Rung | None:
    """The paper as it was in the hand, on the film as hard as it was then."""
    grade = next((a for a in drawer.abrasives if sanding.grade in (a.id, a.name)), None)
    if grade is None:
        return None
    zone = project.zone((sanding.zones or (project.zones[0].name,))[0])
    laid, cuts = film_events(project, zone, 1.0, sanding.at_h)
    if sum(c.dry_um for c in laid) - sum(s.um for s in cuts) <= LEAST_LEFT_UM:
        return None
    found = cure(project, laid, cuts, Sampling(sample_h=(sanding.at_h,), until_h=sanding.at_h))
    margin = found.least_Tg_over_top_C(-1, max(sanding.um, 1.0)) - project.instrument.judged_C
    hardness = hardness_from_margin_MPa(min(max(margin, SOFTEST_K), 300.0))
    return drawer.rung(grade, sanding.mode or "wet", hardness)


def _first(project: Project, sanding: Sanding) -> bool:
    """Whether nothing but scuffs, and the same paper on other zones, was at the film since its last coat."""
    since = max((c.at_h for c in project.coats if c.at_h <= sanding.at_h and not c.spot), default=-1e18)
    before = [s for s in project.sandings if since < s.at_h <= sanding.at_h and s is not sanding and not s.spot]
    return all(s.purpose == "scuff" or s.grade == sanding.grade for s in before)


def _rubbed(project: Project, sanding: Sanding, rung: Rung, zone: str, *, first: bool) -> Rubbed | None:
    """The gauge readings on a zone just before and just after, with nothing else between."""
    others = [a for a in project.acts if isinstance(a, Coat | Sanding) and a is not sanding and _touches(a, zone)]
    low = max((a.at_h for a in others if a.at_h <= sanding.at_h), default=-1e18)
    high = min((a.at_h for a in others if a.at_h > sanding.at_h), default=1e18)
    gauges = [r for r in project.readings if r.what == "gauge" and r.zone == zone]
    before = [r for r in gauges if low <= r.at_h <= sanding.at_h]
    after = [r for r in gauges if sanding.at_h < r.at_h <= high]
    if not before or not after:
        return None
    was, then = max(before, key=lambda r: r.at_h), min(after, key=lambda r: r.at_h)
    worked = [z for z in project.zones if sanding.zones is None or z.name in sanding.zones]
    area = sum(z.area_cm2 for z in worked if z.kind != "edge" or len(worked) == 1)
    sd = GAUGE_SD_UM / min(was.n, then.n) ** 0.5
    return Rubbed(
        rung=rung, before_um=was.um, after_um=then.um, sd_um=sd, minutes=sanding.minutes, area_cm2=max(area, 1.0),
        first=first,
    )  # fmt: skip


def _shone(project: Project, sanding: Sanding, rung: Rung, zone: str) -> list[Shone]:
    """Gloss read on a zone after this rung and before the next."""
    later = [a.at_h for a in project.acts if isinstance(a, Coat | Sanding) and a.at_h > sanding.at_h]
    high = min(later, default=1e18)
    out = []
    for r in project.readings:
        if r.what == "gloss" and r.zone == zone and sanding.at_h <= r.at_h <= high:
            try:
                rough = roughness_of_gloss(r.gu60, project.material.refractive_index)
            except InputError:
                continue  # duller or brighter than any scratch of this kind: wax, dust, another angle
            out.append(Shone(rung=rung, rq_um=rough))
    return out


def _touches(act: Coat | Sanding, zone: str) -> bool:
    return act.covers(zone) if isinstance(act, Coat) else act.zones is None or zone in act.zones
