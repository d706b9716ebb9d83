"""Whether the film pays for a ladder, zone by zone: who joins late, who is left alone, where to measure first, and
where the film is short (docs/maths.md)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ravden.core.abrasive.job import Job, is_soft
from ravden.core.abrasive.sandthrough import ZoneFilmLeft, most_removal_um, zone_odds
from ravden.core.abrasive.scratch import Rung

GAUGED_SD_UM, GAUGED_SHARE = 3.0, 0.05  # [A] what a few touches of a gauge leave unsure, um and share of the film
STILL_WITHIN = 0.20  # [A] odds, as if gauged, up to which a film is measured rather than refused
OK, MEASURE, REFUSED = "ok", "measure", "refused"


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """What a film says to a ladder.

    joins: by zone, the rung it is worked from (0: all of it), None: left alone; measure: zones whose mean pays but
    which are not known well enough, worst first; short: large zones with too little film; close: of those to measure,
    the ones that have been measured already and are still close.
    """

    joins: dict[str, int | None]
    measure: tuple[str, ...] = ()
    short: tuple[str, ...] = ()
    close: tuple[str, ...] = ()

    @property
    def word(self) -> str:
        return REFUSED if self.short else MEASURE if self.measure else OK


def gauged(zone: ZoneFilmLeft) -> ZoneFilmLeft:
    """The zone as it would be known after a few touches of a gauge that find what is expected."""
    return replace(zone, sd_um=min(zone.sd_um, GAUGED_SD_UM + GAUGED_SHARE * zone.film_um))


def loss_um(zone: ZoneFilmLeft, rungs: Sequence[Rung], removes: Sequence[float], begin: int = 0) -> float:
    """What a zone loses from rung ``begin`` on [um]: strokes that cross it, and how the backing bears on it."""
    return sum(
        d * r.backing.bears_on(zone.kind) * zone.share for d, r in zip(removes[begin:], rungs[begin:], strict=True)
    )


def judged(job: Job, rungs: Sequence[Rung], removes: Sequence[float], cv: float) -> Verdict:
    """Every zone of a job on a ladder. removes: film each rung takes off the flats [um]; cv: largest unevenness."""
    residual = job.residual_um(rungs[-1])

    def odds(zone: ZoneFilmLeft) -> float:
        return zone_odds(zone, loss_um(zone, rungs, removes) + residual, cv, job.min_film_um)

    large = {z.name for z in job.zones if (job.edges_count if z.kind == "edge" else not job.small(z))}
    over = [z for z in job.zones if odds(z) > job.limit(z.kind) + 1e-9]
    measure = [z for z in over if z.name in large and odds(gauged(z)) <= STILL_WITHIN]
    short = [z for z in over if z.name in large and z not in measure]

    def first(zone: ZoneFilmLeft, begin: int) -> int | None:
        """The first rung from which on its film bears the rest."""
        # Never left alone for want of a reading that is wanted anyway.
        known = gauged(zone) if measure else zone
        most = most_removal_um(known, cv, job.min_film_um, job.limit(zone.kind))
        for k in range(begin, len(rungs)):
            if loss_um(zone, rungs, removes, k) + residual <= most:
                return k
        return None

    softest = next((i for i, r in enumerate(rungs) if is_soft(r)), len(rungs))
    joins = {z.name: 0 if z.name in large else first(z, softest if z.kind == "edge" else 0) for z in job.zones}
    if measure:
        # Small ones that bear it only if the gauge says so are measured with the rest.
        measure += [z for z in over if z.kind != "edge" and z.name not in large and joins[z.name] == 0]
    measure.sort(key=odds, reverse=True)
    short.sort(key=odds, reverse=True)
    return Verdict(
        joins=joins, measure=tuple(z.name for z in measure), short=tuple(z.name for z in short),
        close=tuple(z.name for z in measure if gauged(z) == z),
    )  # fmt: skip
