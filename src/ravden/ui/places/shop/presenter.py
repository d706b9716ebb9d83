"""What the Shop place shows, as plain data. No Qt."""

from __future__ import annotations

import bisect
import itertools
import math
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.core.climate.air import dew_point_C
from ravden.text import words

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook

BACK, AHEAD = timedelta(days=49), timedelta(days=14)  # as long as a lacquer cures
YEAR, AHEAD_OF_YEAR = timedelta(days=365), timedelta(days=14)
SOURCES = {"told": "logged by hand", "log": "from a logger", "forecast": "forecast", "usual": "usual for the month",
           "own": "as in the last 14 days", "assumed": "assumed"}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class AirPoint:
    """The air from a moment on."""

    at: datetime
    temp_C: float
    rh: float
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShopShown:
    """The whole place. year: a year of it, by the day; days: where its axis is
    marked; gaps: hours nobody knows of; tools: what each finish and its applicator do here."""

    name: str
    points: tuple[AirPoint, ...]
    gaps: tuple[tuple[datetime, datetime], ...]
    start: datetime
    end: datetime
    now: datetime
    year: bool
    days: tuple[datetime, ...]
    heading: str
    detail: str
    tools: tuple[tuple[str, str], ...]


def show(session: ShopSession, found: Mapping[str, Outlook], *, year: bool = False) -> ShopShown:
    """The shop's air about now, or over the year that was, and what its materials and applicators were found to do."""
    now = session.local(session.now)
    back = YEAR if year else BACK
    start, end = now - back, now + (AHEAD_OF_YEAR if year else AHEAD)
    zero = session.now - back
    rows, gaps = session.shop.air.series(zero, session.now)
    points = [
        AirPoint(at=session.local(zero + timedelta(hours=max(a.at_h, 0.0))), temp_C=a.temp_C, rh=a.rh, source=a.source)
        for a in rows
        if a.at_h < (end - start).total_seconds() / 3600
    ]
    heading = "No shop air logged yet."
    detail = "Until it is, the air is taken to be as warm as each instrument's bench, and half humid (A)."
    if "hygrometer" not in session.tools:
        tool = session.catalogue.measuring["hygrometer"]
        detail += f" A {tool.label} ({tool.costs}) would tell it; every wait goes by the air."
    past = [p for p in points if p.at <= now]
    if past:
        last = past[-1]
        units = session.units
        heading = f"{units.temperature(last.temp_C)}, {100 * last.rh:.0f} % humidity now, {SOURCES[last.source]}"
        dew = dew_point_C(last.temp_C, max(last.rh, 0.01))
        detail = f"Dew point {units.temperature(dew)}."
        if gaps:
            longest = max(g.to_h - g.from_h for g in gaps)
            detail += (
                f" {words.plural(len(gaps), 'gap')} in the log, the longest {words.wait(longest)}: bridged, hatched."
            )

    if any(p.source == "own" for p in points):
        detail += (
            " No usual air is told (Log, The shop's usual air): what comes is reckoned as the last 14 days, the less "
            "sure the further off."
        )

    def at(hours: float) -> datetime:
        return session.local(zero + timedelta(hours=hours))

    midnights = session.shop.hours.midnights(start, end)
    if year:
        points = _by_day(points, [start, *midnights, end])
    return ShopShown(
        name=session.shop.name, points=tuple(points), gaps=tuple((at(g.from_h), at(g.to_h)) for g in gaps),
        start=start, end=end, now=now, year=year,
        days=tuple(at for at in midnights if at.day == 1 or not year), heading=heading, detail=detail,
        tools=_tools(session, found),
    )  # fmt: skip


def _by_day(points: list[AirPoint], edges: list[datetime]) -> list[AirPoint]:
    """What the air was by the day: the mean over the hours it held, with the source of the first of them."""
    out, index = [], 0
    for start, end in itertools.pairwise(edges):
        while index + 1 < len(points) and points[index + 1].at <= start:
            index += 1
        held = points[index : bisect.bisect_left(points, end, key=lambda p: p.at)]
        if not held:
            continue
        begins = [max(p.at, start) for p in held]
        hours = [(b - a).total_seconds() for a, b in itertools.pairwise([*begins, end])]
        whole = sum(hours) or 1.0
        temp = sum(p.temp_C * h for p, h in zip(held, hours, strict=True)) / whole
        rh = sum(p.rh * h for p, h in zip(held, hours, strict=True)) / whole
        out.append(AirPoint(at=begins[0], temp_C=temp, rh=rh, source=held[0].source))
    return out


def _tools(session: ShopSession, found: Mapping[str, Outlook]) -> tuple[tuple[str, str], ...]:
    """Each finish in use: how it dries here, and what its applicator lays down, from the newest instrument in it."""
    out: dict[str, tuple[str, str]] = {}
    for outlook in found.values():
        project = outlook.project
        material = project.material
        mean, sd = outlook.ledger.applicator()
        lays = 100 * (math.exp(mean) - 1)
        film = (
            "is not known yet"
            if sd > 0.2
            else f"lays down {abs(lays):.0f} % {'more' if lays > 0 else 'less'} than nominal"
        )
        known = f"{words.rate(project.rate_ln[0])} (±{100 * project.rate_ln[1]:.0f} %)"
        out[material.id] = (
            material.label,
            f"{known}; what applies it {film} (±{100 * sd:.0f} %)".replace(" %", "\u00a0%"),
        )
    return tuple(out.values())
