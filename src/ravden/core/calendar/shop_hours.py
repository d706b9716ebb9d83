"""The shop's hours for one instrument: its clock on the wall, summer time included, against hours counted from zero."""

from collections.abc import Callable, Iterable, Mapping
from datetime import date, datetime, timedelta

from ravden.core.calendar.hours import DAILY, Spans, Week, WorkHours

AHEAD = timedelta(days=500)  # how far the clock on the wall is followed
WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def work_hours(
    zero: datetime, local: Callable[[datetime], datetime], now: datetime, week: Mapping[str, Spans] | None = None,
    closed: Iterable[date] = (),
) -> WorkHours:  # fmt: skip
    """zero: the moment at_h is counted from; local: a moment on the shop's wall; week: hours by weekday, None for
    every day alike; closed: days nobody is in."""
    here = local(zero)
    days: Week = (DAILY,) * 7 if week is None else tuple(week.get(d, ()) for d in WEEKDAYS)  # type: ignore[assignment]
    return WorkHours(
        week=days, weekday_at_zero=here.weekday(), hour_at_zero=here.hour + here.minute / 60 + here.second / 3600,
        closed=frozenset((day - here.date()).days for day in closed), shifts=_shifts(zero, local, max(now, zero)),
    )  # fmt: skip


def _shifts(zero: datetime, local: Callable[[datetime], datetime], now: datetime) -> tuple[tuple[float, float], ...]:
    """When the clock on the wall was and will be put forward or back: hours from zero, and hours ahead of zero's."""

    def ahead(moment: datetime) -> float:
        there, here = local(moment).utcoffset(), local(zero).utcoffset()
        return 0.0 if there is None or here is None else (there - here).total_seconds() / 3600.0

    out, at, was = [], zero, 0.0
    while at < now + AHEAD:
        then = at + timedelta(days=7)
        if ahead(then) != was:
            low, high = at, then
            while high - low > timedelta(minutes=1):
                middle = low + (high - low) / 2
                low, high = (middle, high) if ahead(middle) == was else (low, middle)
            was = ahead(then)
            turned = high.replace(second=0, microsecond=0)
            out.append(((turned - zero).total_seconds() / 3600.0, was))
        at = then
    return tuple(out)
