"""Time across the Film timeline: stretched where things happen, so that three coats in an afternoon can be told apart
beside a month of waiting. No Qt."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from ravden.text import written
from ravden.text.written import DAYS

STRETCH, CALMS_AFTER_H = 11.0, 7.0  # how much wider an hour is drawn just after an event, and how fast that fades


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TimeWarp:
    """Hours and their places across, both rising; places run from 0 to 1."""

    hours: NDArray[np.float64]
    places: NDArray[np.float64]

    def place(self, hour: float) -> float:
        """Where an hour lies, 0 to 1."""
        return float(np.interp(hour, self.hours, self.places))

    def hour(self, place: float) -> float:
        """Which hour lies at a place."""
        return float(np.interp(place, self.places, self.hours))

    def columns(self, width: int) -> NDArray[np.float64]:
        """The hour at the middle of each of width columns."""
        out: NDArray[np.float64] = np.interp((np.arange(width) + 0.5) / width, self.places, self.hours)
        return out


def warp(events_h: Sequence[float], start_h: float, end_h: float) -> TimeWarp:
    """Stretch time after each event; between events an hour is an hour."""
    marks = np.unique(np.concatenate([np.asarray(events_h, dtype=float), [start_h, end_h]]))
    fine = [start_h, end_h]
    for a, b in itertools.pairwise(marks):
        fine.extend((a + (b - a) * np.linspace(0, 1, 14) ** 2).tolist())
    hours = np.unique(np.clip(np.array(fine), start_h, end_h))
    density = np.ones(len(hours))
    for event in events_h:
        after = hours - event
        density += np.where(after >= 0, STRETCH * np.exp(-np.maximum(after, 0) / CALMS_AFTER_H), 0.0) / (
            1 + 0.25 * max(len(events_h) - 4, 0)
        )
    steps = np.diff(hours) * 0.5 * (density[1:] + density[:-1])
    places = np.concatenate([[0.0], np.cumsum(steps)])
    return TimeWarp(hours=hours, places=places / places[-1])


def day_ticks(
    line: TimeWarp, zero: datetime, days: Sequence[datetime], width_px: float, least_px: float = 50.0
) -> tuple[tuple[float, str], ...]:
    """Midnights far enough apart to be labelled: place and text. days: from the one before the line begins."""
    out: list[tuple[float, str]] = []
    month = 0
    last = -1e9
    for i, day in enumerate(days):
        hour = (day - zero).total_seconds() / 3600
        place = line.place(hour) if hour > line.hours[0] else 0.0
        at = place * width_px
        if at - last >= least_px and (hour >= line.hours[0] or i == 0):
            text = f"{DAYS[day.weekday()]} {day.day}"
            if day.month != month:
                text = written.day(day, weekday=False)
                month = day.month
            out.append((place, text))
            last = at
    return tuple(out)
