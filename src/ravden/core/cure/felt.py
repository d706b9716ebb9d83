"""The air as a film feels it: changes closer together than it can tell apart are averaged, so that what is told often
costs no more than what is told now and then."""

import bisect
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ravden.core.record import Air

Floats = NDArray[np.float64]

# [A] of the time since the last event, and at least and at most: closer changes of the air than this are averaged
AIR_STEP_SHARE, LEAST_AIR_STEP_H, AIR_STEP_H = 0.2, 0.25, 6.0


def air_hours(air: Sequence[Air], marks: Sequence[float], end: float) -> list[float]:
    """Hours at which a change of the air is a step of its own [h]; what changes closer together is averaged. A film
    feels changes the less closely the older its last event is. marks: its events."""
    events = sorted(marks)
    out: list[float] = []
    for row in air:
        before = events[max(bisect.bisect_right(events, row.at_h) - 1, 0)] if events else row.at_h
        apart = min(max(AIR_STEP_SHARE * (row.at_h - before), LEAST_AIR_STEP_H), AIR_STEP_H)
        if row.at_h < end and (not out or row.at_h - out[-1] >= apart):
            out.append(row.at_h)
    return out


def step_means(at_h: Floats, values: Floats, hours: Floats) -> Floats:
    """Means over the steps between hours of values that each hold from their own hour on, the first before it too.

    >>> step_means(np.array([0.0, 1.0]), np.array([20.0, 30.0]), np.array([0.0, 0.5, 1.5, 2.0])).tolist()
    [20.0, 25.0, 30.0]
    """
    if len(at_h) == 1:
        return np.full(len(hours) - 1, values[0])
    through = np.concatenate([[0.0], np.cumsum(values[:-1] * np.diff(at_h))])

    def up_to(h: Floats) -> Floats:
        i = np.maximum(np.searchsorted(at_h, h, side="right") - 1, 0)
        return np.asarray(through[i] + values[i] * (h - at_h[i]))

    width = np.diff(hours)
    now = values[np.maximum(np.searchsorted(at_h, hours[:-1] + 1e-9, side="right") - 1, 0)]
    return np.where(width > 1e-9, np.diff(up_to(hours)) / np.maximum(width, 1e-9), now)


def felt(air: Sequence[Air], marks: Sequence[float], end: float) -> tuple[Floats, Floats, Floats, Floats]:
    """Hours from which air holds, and its temperature [C], movement [-] and humidity [-] as means until the next; the
    last row stays as it is. Air told no closer than it is felt comes back unchanged."""
    at_h = np.array([a.at_h for a in air])
    temps, moves = np.array([a.temp_C for a in air]), np.array([a.moves for a in air])
    rh = np.array([a.rh for a in air])
    kept = sorted({*air_hours(air, marks, end), *(a.at_h for a in air if a.at_h >= end), air[-1].at_h})
    if len(kept) == len(set(at_h.tolist())) or len(air) < 2:
        return at_h, temps, moves, rh
    hours = np.array(kept)
    means = [np.append(step_means(at_h, values, hours), values[-1]) for values in (temps, moves, rh)]
    return hours, means[0], means[1], means[2]
