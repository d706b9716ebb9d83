"""The shop's hours, and steps put into them."""

import math
from dataclasses import dataclass

HORIZON_H = 24 * 240.0  # how far ahead a plan looks


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkHours:
    """When hands are in the shop: opening hours of a day; hour_at_zero is the local hour of the day at at_h = 0."""

    opens: float = 8.0
    closes: float = 20.0
    hour_at_zero: float = 0.0

    def next_open(self, at_h: float) -> float:
        """The first hour at or after at_h when the shop is open."""
        day, hour = divmod(at_h + self.hour_at_zero, 24.0)
        if hour < self.opens:
            return day * 24 + self.opens - self.hour_at_zero
        if hour <= self.closes:
            return at_h
        return (day + 1) * 24 + self.opens - self.hour_at_zero

    def next_morning(self, at_h: float) -> float:
        """Opening time of the day after at_h's day."""
        day = math.floor((at_h + self.hour_at_zero) / 24.0)
        return (day + 1) * 24 + self.opens - self.hour_at_zero


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedStep:
    """A step still to come: its place in the method, when hands begin and end, and hours of hands in between [h]."""

    index: int
    from_h: float
    to_h: float
    hands_h: float


def work(hours: WorkHours, at_h: float, hands_h: float) -> tuple[float, float]:
    """When work by hand begins and ends: in the hours the shop is open, over as many days as it takes."""
    t = began = hours.next_open(at_h)
    left = hands_h
    while left > 0:
        closes = t - (t + hours.hour_at_zero) % 24.0 + hours.closes
        done = min(left, max(closes - t, 0.0))
        left, t = left - done, t + done
        if left > 1e-9:
            t = hours.next_morning(t)
        else:
            break
    return began, t
