"""What a film says to a ladder: where to measure first, what is left alone, and why it does not pay."""

from collections.abc import Sequence

from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.job import Job
from ravden.core.abrasive.sandthrough import ZoneFilmLeft, odds_class
from ravden.core.fact import Fact, fact
from ravden.core.record import GAUGE

MOST_NAMED = 3  # zones to measure that are named: one gun laid them all
SETTLES = (GAUGE, "micrometer", "scale", "comb")  # what settles a film, best first


def left_um(ladder: Ladder, zone: ZoneFilmLeft) -> float:
    """Film that should be left on a zone, last scratches not counted [um]."""
    return ladder.steps[-1].film_left_um[zone.name] - ladder.residual_um


def to_measure(job: Job, ladder: Ladder, tools: Sequence[str] = (GAUGE,)) -> Fact | None:
    """Where to measure first, and why; None: nowhere. tools: what there is to measure with."""
    verdict = ladder.verdict
    if not verdict.measure:
        return None
    worst = next(z for z in job.zones if z.name == verdict.measure[0])
    left = left_um(ladder, worst)
    if worst.name in verdict.close:
        return fact(
            "close", zone=worst.name, left_um=left, floor_um=job.min_film_um * worst.floor,
            odds=odds_class(ladder.odds[worst.name]),
        )  # fmt: skip
    settles = next((tool for tool in SETTLES if tool in tools), "nothing")
    return fact(
        "measure-first", zones=verdict.measure[:MOST_NAMED], zone=worst.name, left_um=left, sd_um=worst.sd_um,
        settles=fact(f"settles-{settles}"),
    )  # fmt: skip


def kept_off(ladder: Ladder, name: str) -> Fact | None:
    """What to do with a small zone that cannot bear the whole ladder; None: it bears it."""
    joins = ladder.verdict.joins[name]
    if joins == 0:
        return None
    if joins is None:
        return fact("left-alone", zone=name)
    return fact("joins-late", zone=name, grade=ladder.steps[joins].rung.abrasive.name)


def shortage(job: Job, ladder: Ladder, instead: Fact | None = None) -> Fact:
    """Why the film does not pay, and what could be done."""
    worst = next(z for z in job.zones if z.name == ladder.verdict.short[0])
    return fact(
        "film-short", zone=worst.name, left_um=max(left_um(ladder, worst), 0.0), floor_um=job.min_film_um * worst.floor,
        odds=odds_class(ladder.odds[worst.name]), instead=instead,
    )  # fmt: skip
