"""What a film says to a ladder, in the words of the bench. Film in um, for the window to turn into its own units."""

from collections.abc import Sequence

from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.job import Job
from ravden.core.abrasive.sandthrough import ZoneFilmLeft, odds_class
from ravden.core.record import GAUGE

MOST_NAMED = 3  # zones to measure that are named: one gun laid them all
# What settles a film, by what there is to measure with, best first.
SETTLES = {
    GAUGE: "A few touches of a gauge there settle it.",
    "micrometer": "A micrometer on the witness card settles most of it.",
    "scale": "A witness card weighed before and after a coat settles most of it.",
    "comb": "A comb in the next coat tells what a coat lays down, and settles most of it.",
}
NOTHING = "With nothing to measure by, look after the first paper: the colour of the dust and of the film tell."


def listed(names: Sequence[str]) -> str:
    """Names as one says them.

    >>> listed(["Sides", "Top", "Back"])
    'Sides, Top and Back'
    """
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def left_um(ladder: Ladder, zone: ZoneFilmLeft) -> float:
    """Film that should be left on a zone, last scratches not counted [um]."""
    return ladder.steps[-1].film_left_um[zone.name] - ladder.residual_um


def to_measure(job: Job, ladder: Ladder, tools: Sequence[str] = (GAUGE,)) -> str:
    """Where to measure first, and why; empty: nowhere. tools: what there is to measure with."""
    verdict = ladder.verdict
    if not verdict.measure:
        return ""
    worst = next(z for z in job.zones if z.name == verdict.measure[0])
    left = left_um(ladder, worst)
    if worst.name in verdict.close:
        floor, odds = job.min_film_um * worst.floor, odds_class(ladder.odds[worst.name])
        return (
            f"Tight on {worst.name}: about {left:.0f} um should be left over a floor of {floor:.0f} um; the odds of a "
            f"thinner place are {odds}. Measure there again after the first paper."
        )
    settles = next((words for tool, words in SETTLES.items() if tool in tools), NOTHING)
    return (
        f"Measure first, on {listed(verdict.measure[:MOST_NAMED])}: on {worst.name} about {left:.0f} um should be "
        f"left, but the film is known only to ±{worst.sd_um:.0f} um. {settles}"
    )


def kept_off(ladder: Ladder, name: str) -> str:
    """What to do with a small zone that cannot bear the whole ladder; empty: it bears it."""
    joins = ladder.verdict.joins[name]
    if joins == 0:
        return ""
    if joins is None:
        return f"{name}: too thin for the whole ladder; leave it alone."
    grade = ladder.steps[joins].rung.abrasive.name
    return f"{name}: too thin for the whole ladder; go over it lightly, from {grade} on only."


def shortage(job: Job, ladder: Ladder, instead: str = "") -> str:
    """Why the film does not pay, and what could be done."""
    worst = next(z for z in job.zones if z.name == ladder.verdict.short[0])
    left, floor = left_um(ladder, worst), job.min_film_um * worst.floor
    left_words = f"only about {left:.0f} um of sound film would be left" if left > 0 else "no sound film would be left"
    odds = odds_class(ladder.odds[worst.name])
    return f"{worst.name}: {left_words}, and the odds of going below {floor:.0f} um are {odds}. {instead}".strip()
