"""When the shop is open, and work put into it. Hours of a plan run on; the clock on the wall may be put forward."""

import bisect
import math
from dataclasses import dataclass

from ravden.core.calendar.week import need_week

LEAST_STINT_H = 0.25  # [A] nobody takes up a longer job for the last minutes of a day

Spans = tuple[tuple[float, float], ...]
Week = tuple[Spans, Spans, Spans, Spans, Spans, Spans, Spans]
DAILY: Spans = ((8.0, 20.0),)  # [A] until the shop says otherwise


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkHours:
    """When hands are in the shop.

    week: local hours of the day, Monday first; weekday_at_zero, hour_at_zero: local weekday (0 Monday) and hour of the
    day at at_h = 0; closed: days nobody is in, counted from the day of hour zero; shifts: from which hour on the clock
    on the wall is how many hours ahead of where it stood at hour zero.
    """

    week: Week = (DAILY,) * 7
    weekday_at_zero: int = 0
    hour_at_zero: float = 0.0
    closed: frozenset[int] = frozenset()
    shifts: tuple[tuple[float, float], ...] = ()

    def __post_init__(self) -> None:
        need_week(self.week)

    def local(self, at_h: float) -> tuple[int, float]:
        """The day, counted from that of hour zero, and the hour on the wall."""
        day, hour = divmod(at_h + self.hour_at_zero + self._shift(at_h), 24.0)
        return int(day), hour

    def _shift(self, at_h: float) -> float:
        at = bisect.bisect_right(self.shifts, (at_h, math.inf))
        return self.shifts[at - 1][1] if at else 0.0

    def at(self, day: int, hour: float) -> float:
        """When the wall shows an hour of a day; where it never does, when it has passed it."""
        plain = day * 24.0 + hour - self.hour_at_zero
        found = plain - self._shift(plain)
        return found if self.shifts and self._shift(found) == self._shift(plain) else plain - self._shift(found)

    def _spans(self, day: int) -> list[tuple[float, float]]:
        """When the shop opens and closes on a day [h]."""
        if day in self.closed:
            return []
        return [(self.at(day, a), self.at(day, b)) for a, b in self.week[(day + self.weekday_at_zero) % 7]]

    def span(self, at_h: float, least_h: float = 0.0) -> tuple[float, float]:
        """The first stretch of open hours from at_h on, cut to begin no sooner, that has least_h left; where no whole
        stretch is as long, one that begins with it."""
        longest = max(b - a for day in self.week for a, b in day)
        day = self.local(at_h)[0]
        while True:
            for opens, closes in self._spans(day):
                begins = max(opens, at_h)
                enough = closes - begins >= least_h - 1e-9 or (least_h > longest and begins <= opens + 1e-9)
                if begins <= closes and enough:
                    return begins, closes
            day += 1

    def next_open(self, at_h: float) -> float:
        """The first hour at or after at_h when the shop is open."""
        return self.span(at_h)[0]

    def fits(self, at_h: float, hands_h: float) -> float:
        """The first hour at or after at_h from which so much work can be done without a break."""
        return self.span(at_h, hands_h)[0]

    def closes(self, at_h: float) -> float:
        """When the shop shuts for the night on the day of an hour; that hour where it is shut all day."""
        return max([at_h, *(b for _, b in self._spans(self.local(at_h)[0]))])

    def next_morning(self, at_h: float) -> float:
        """Opening time of the first open day after at_h's day."""
        day = self.local(at_h)[0] + 1
        while not self._spans(day):
            day += 1
        return self._spans(day)[0][0]


def work(hours: WorkHours, at_h: float, hands_h: float) -> Spans:
    """The stretches in which work by hand is done: in the hours the shop is open, over as many days as it takes."""
    out: list[tuple[float, float]] = []
    t, left = at_h, hands_h
    while True:
        begins, closes = hours.span(t, min(left, LEAST_STINT_H))
        done = min(left, closes - begins)
        if done > 0 or left <= 0:
            out.append((begins, begins + done))
        left, t = left - done, math.nextafter(closes, math.inf)
        if left <= 1e-9:
            return tuple(out)
