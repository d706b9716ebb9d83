"""Hours of the days of a week: what they may be."""

import itertools
from collections.abc import Sequence

from ravden.core.errors import need


def need_week(week: Sequence[Sequence[tuple[float, float]]]) -> None:
    """Raise InputError unless these are hours of the day by weekday, a day without any being free, and not every day
    is."""
    need(any(week), "hours", "the shop is never open: give one day some hours")
    for day in week:
        edges = [h for span in day for h in span]
        fits = all(a < b for a, b in itertools.pairwise(edges)) and all(0 <= h <= 24 for h in edges)
        need(fits, "hours", "a day's hours must follow one another, within the day")
