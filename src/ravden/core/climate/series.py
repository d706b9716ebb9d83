"""The air through time: what was told, what a logger wrote, a forecast, the usual for the month, and a warm cabinet."""

import bisect
import itertools
import math
from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.record import Air

GAP_H = 6.0  # [A] a logger silent for longer than this has left a gap
NOTICE_K, NOTICE_RH = 0.5, 0.03  # [A] changes smaller than these are not kept when a log is thinned
ASSUMED_C, ASSUMED_RH = 20.0, 0.5  # [A] where nobody said
COMING_H = 21 * 24.0  # [A] the air to come that a wait begun now mostly dries in
SPANS_H = (0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 24.0)
OWN_H, OWN_LEAST_H = 14 * 24, 48  # [A] of the shop's own record that stand for the air to come, and the least that may
OWN_STEP_H, OWN_AHEAD_H = 3, 7 * 24  # [C] steps of its course by the hour of the day, and for how long they are kept
WEEK_D, FAR_D, YEAR_SD_K = 7.0, 60.0, 2.5  # [A] how far the own record holds, and the spread of a heated shop's year
LONGEST_H = 3.0  # but a row is kept at least so often, so that a gap can be told from calm


class Cabinet(Struct, frozen=True, kw_only=True):
    """An instrument in a warm cabinet from an hour on, for so long [h]; light: in it, times that of a room [-]."""

    at_h: float
    hours: float
    temp_C: float
    rh: float
    light: float = 1.0


class Gap(Struct, frozen=True, kw_only=True):
    """Hours without a reading, bridged by the usual air."""

    from_h: float
    to_h: float


def mean_C(rows: Sequence[Air], from_h: float, to_h: float) -> float:
    """The mean temperature between two hours [C]; rows: in order, each in force until the next, the first also before
    it. Where nobody said: ASSUMED_C.

    >>> mean_C([Air(at_h=0.0, temp_C=20.0, rh=0.5), Air(at_h=6.0, temp_C=16.0, rh=0.5)], 0.0, 8.0)
    19.0
    """
    if not rows:
        return ASSUMED_C
    begins = [min(from_h, rows[0].at_h), *(r.at_h for r in rows[1:])]
    held = [
        (max(a, from_h), min(b, to_h), row.temp_C)
        for row, a, b in zip(rows, begins, [*begins[1:], math.inf], strict=True)
    ]
    spans = [(b - a, temp_C) for a, b, temp_C in held if b > a]
    whole = sum(h for h, _ in spans)
    return sum(h * temp_C for h, temp_C in spans) / whole if whole > 0 else rows[-1].temp_C


def thinned(rows: Sequence[Air]) -> list[Air]:
    """A log with the rows that say nothing new left out; the last is always kept."""
    out: list[Air] = []
    for i, row in enumerate(rows):
        last = out[-1] if out else None
        new = (
            last is None
            or i == len(rows) - 1
            or abs(row.temp_C - last.temp_C) >= NOTICE_K
            or abs(row.rh - last.rh) >= NOTICE_RH
            or row.at_h - last.at_h >= LONGEST_H
            or rows[i + 1].at_h - row.at_h > GAP_H
        )
        if new:
            out.append(row)
    return out


def fitted(rows: Sequence[Air], most: int) -> list[Air]:
    """A log thinned to so many rows: where the noise of a logger would keep more, the middle of ever longer spans
    stands for what was read in them."""
    out = thinned(rows)
    for span_h in SPANS_H:
        if len(out) <= most:
            break
        out = thinned(_middles(rows, span_h))
    return out


def _middles(rows: Sequence[Air], span_h: float) -> list[Air]:
    """The middle reading of every span that has any, at the first moment of it."""
    from statistics import median  # not needed before a log is read in

    out = []
    for _, group in itertools.groupby(rows, key=lambda r: math.floor(r.at_h / span_h)):
        some = list(group)
        temp, rh = median(r.temp_C for r in some), median(r.rh for r in some)
        out.append(replace(some[0], temp_C=temp, rh=rh))
    return out


def own_course(record: Sequence[Air], now_h: float) -> list[Air]:
    """The air to come as a logger has it of late, from now on: by the hour of the day for a week, then its mean.

    For each hour of the day the mean of what held then in the last 14 days, as far as whole days go back; hours in a
    gap do not count. Nothing where the last reading is no logger's, or two days of readings are not there. Hours of the
    day are counted from hour 0 of the rows, so that a change of clocks does not matter. Source: [A].
    """
    rows = [a for a in record if a.at_h <= now_h]
    if not rows or rows[-1].source != "log":
        return []
    rows.sort(key=lambda a: a.at_h)
    starts = [a.at_h for a in rows]
    by: dict[int, list[Air]] = {}
    end = math.floor(now_h)
    for h in range(end - OWN_H, end):
        n = bisect.bisect_right(starts, h) - 1
        if n >= 0 and rows[n].source == "log" and h - rows[n].at_h <= GAP_H:
            by.setdefault(h % 24, []).append(rows[n])
    days = min((len(by.get(h, ())) for h in range(24)), default=0)
    if days * 24 < OWN_LEAST_H:
        return []
    mean = {h: _mean([a for k in range(OWN_STEP_H) for a in by[(h + k) % 24][-days:]], 0.0) for h in range(24)}
    # What was read last holds until the next whole hour.
    hours = range(end + 1, end + 1 + OWN_AHEAD_H, OWN_STEP_H)
    all_of_it = _mean([a for some in by.values() for a in some[-days:]], float(hours.stop))
    return [*(replace(mean[h % 24], at_h=float(h)) for h in hours), all_of_it]


def own_spread_K(ahead_h: float) -> float:
    """The sd of the mean air to come, where the shop's own record alone stands for it [K]: 1 after a week, that of a
    heated shop's year after two months, even in between. Source: [A].

    >>> [round(own_spread_K(24.0 * d), 2) for d in (0, 3.5, 7, 60, 400)]
    [0.0, 0.5, 1.0, 2.5, 2.5]
    """
    days = max(ahead_h, 0.0) / 24.0
    if days <= WEEK_D:
        return days / WEEK_D
    return 1.0 + (YEAR_SD_K - 1.0) * (min(days, FAR_D) - WEEK_D) / (FAR_D - WEEK_D)


def _mean(rows: Sequence[Air], at_h: float) -> Air:
    temp, rh = (sum(values) / len(rows) for values in ([a.temp_C for a in rows], [a.rh for a in rows]))
    return replace(rows[-1], at_h=at_h, temp_C=temp, rh=rh, source="own")


def merged(
    told: Sequence[Air], usual: Sequence[Air], forecast: Sequence[Air], now_h: float, own: Sequence[Air] = ()
) -> tuple[tuple[Air, ...], tuple[Gap, ...]]:
    """The air as one piecewise constant series, and the gaps in it.

    told: by hand (holds until the next) and by logger (holds GAP_H); usual: by month, sorted; forecast: counts after
    now_h only, its last row for a day; own: the course of the shop's own record from now on. Where nothing else
    speaks, the usual does, or else the shop's own record, or what was told last; before the first reading, from hour 0
    on, the usual or 20 C.
    """
    out: list[Air] = []
    gaps: list[Gap] = []
    rows = sorted((a for a in told if a.at_h <= now_h), key=lambda a: a.at_h)
    if rows and rows[0].at_h > 0:
        # What is told now says nothing of the past: until then it was as usual, or as anyone would assume.
        out += _usual_between(usual, 0.0, rows[0].at_h, rows[0]) or [
            Air(at_h=0.0, temp_C=ASSUMED_C, rh=ASSUMED_RH, source="assumed")
        ]
    for i, row in enumerate(rows):
        out.append(row)
        if row.source != "log":
            continue
        until = rows[i + 1].at_h if i + 1 < len(rows) else now_h
        if until - row.at_h > GAP_H:
            gaps.append(Gap(from_h=row.at_h + GAP_H, to_h=until))
            out += _usual_between(usual, row.at_h + GAP_H, until, row)
    ahead = sorted((a for a in forecast if a.at_h > now_h), key=lambda a: a.at_h)
    if ahead:
        before = [a for a in forecast if a.at_h <= now_h]
        if before:
            out.append(replace(max(before, key=lambda a: a.at_h), at_h=now_h))
        out += ahead
        out += _usual_between(usual or own, ahead[-1].at_h + 24.0, float("inf"), ahead[-1])
    elif rows and rows[-1].source == "log" and own and not usual:
        out += own
    elif rows and rows[-1].source == "log":
        out += _usual_between(usual, max(now_h, rows[-1].at_h + GAP_H), float("inf"), rows[-1])
    elif not rows:
        out += list(usual)
    elif usual:
        out += _usual_between(usual, now_h + 24.0, float("inf"), rows[-1])
    return tuple(sorted(out, key=lambda a: a.at_h)), tuple(gaps)


def _usual_between(usual: Sequence[Air], from_h: float, to_h: float, held: Air) -> list[Air]:
    """The usual air from one hour to another; what was told last where there is no usual."""
    if not usual or from_h >= to_h:
        return []
    index = max(bisect.bisect_right([a.at_h for a in usual], from_h) - 1, 0)
    first = replace(usual[index], at_h=from_h)
    return [first, *(a for a in usual if from_h < a.at_h < to_h)]


def in_cabinets(air: Sequence[Air], cabinets: Sequence[Cabinet]) -> tuple[Air, ...]:
    """The air around one instrument: the cabinet's while it is in one."""
    out = list(air)
    for c in sorted(cabinets, key=lambda c: c.at_h):
        end = c.at_h + c.hours
        before = [a for a in out if a.at_h <= end]
        back = max(before, key=lambda a: a.at_h) if before else Air(at_h=end, temp_C=20.0)
        out = [a for a in out if not c.at_h <= a.at_h <= end]
        out.append(Air(at_h=c.at_h, temp_C=c.temp_C, rh=c.rh, source="cabinet", light=c.light))
        out.append(replace(back, at_h=end))
    return tuple(sorted(out, key=lambda a: a.at_h))
